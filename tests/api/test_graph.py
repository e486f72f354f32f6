"""The log as graphs: whiskers by method, the estimate between readings, marks, and ten years thinned without
losing what matters.
"""

from datetime import timedelta

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.store.tables.log import Event, ReadingRow
from support import NOW, a_test, problem


def graph(client: TestClient, pool: dict, days: float, **more: str) -> dict:
    window = {
        "start": (NOW - timedelta(days=days)).isoformat(),
        "end": (NOW + timedelta(hours=1)).isoformat(),
    } | more
    return client.get(f"/api/v1/pools/{pool['id']}/graph", params=window).json()


def test_a_winter_without_a_test_breaks_the_estimate(client: TestClient, pool: dict) -> None:
    # FC is drawn for 21 days after a reading, stabilizer for 180: twice what it may be carried.
    for days in (250, 247, 20, 3):
        client.post(
            f"/api/v1/pools/{pool['id']}/tests",
            json=a_test(at=NOW - timedelta(days=days), fc="0.5", ph="7.5", ta="100", ch="250", cya="40"),
        )
    by = {s["measure"]: s for s in graph(client, pool, 260)["series"]}
    ends = {m: [(run[0]["at"][:10], run[-1]["at"][:10]) for run in by[m]["estimate"]] for m in ("fc", "cya")}
    assert (by["fc"]["tested"], by["fc"]["tested_out"], by["cya"]["tested_out"]) == (4, 4, 0)
    assert len(ends["fc"]) == 2 and ends["fc"][0][1] <= "2025-12-02" and ends["fc"][1][0] >= "2026-06-23"
    assert ends["cya"][0][1] <= "2026-05-09" and len(ends["cya"]) == 2
    assert all(not ("2025-12-05" < o["start"] < "2026-06-20") for o in by["fc"]["out"])


def test_readings_estimate_and_marks_stand_on_one_axis(client: TestClient, pool: dict) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    for days, fc, ph in ((6, "4", "7.5"), (3, "1", "7.9"), (0, "4", "7.5")):
        client.post(
            f"{url}/tests",
            json=a_test(at=NOW - timedelta(days=days), fc=fc, ph=ph, ta="100", ch="250", cya="40", temp="81"),
        )
    client.post(
        f"{url}/doses",
        json={
            "id": str(uuid7()),
            "at": (NOW - timedelta(days=2.9)).isoformat(),
            "product_id": "liquid-chlorine-12.5",
            "amount": "40",
            "unit": "fl_oz",
        },
    )
    client.post(
        f"{url}/entries",
        json={
            "id": str(uuid7()),
            "at": NOW.isoformat(),
            "kind": "rain",
            "details": {"fell": {"text": "1", "unit": "in"}},
        },
    )
    found = graph(client, pool, 7)
    by = {s["measure"]: s for s in found["series"]}
    fc = by["fc"]
    assert [p["level"] for p in fc["readings"]] == ["fine", "act", "fine"] and (
        fc["readings"][0]["low"],
        fc["readings"][0]["high"],
    ) == (3.5, 4.5)  # drops: within 0.5
    assert (
        fc["band_low"] == pytest.approx(3.0, abs=0.5)
        and fc["out"]
        and all(s["low"] <= s["value"] <= s["high"] for run in fc["estimate"] for s in run)
    )
    poured = NOW - timedelta(days=2.9)
    before, after = (
        [s["value"] for run in fc["estimate"] for s in run if (s["at"] < poured.isoformat()) == early]
        for early in (True, False)
    )
    assert after[0] > before[-1] + 2  # 40 fl oz of 12.5 % in 15,000 gal: 2.6 ppm (check values)
    assert by["temp"]["unit"] == "°F" and by["temp"]["readings"][0]["value"] == pytest.approx(81)
    assert [m["kind"] for m in found["marks"]] == ["dose", "rain"] and found["marks"][0][
        "title"
    ] == "liquid chlorine, 40 fl oz"
    assert not found["thinned"] and found["first"].startswith("2026-07-08")
    client.put("/api/v1/account", json={"unit_system": "metric", "revision": 1})
    assert {s["measure"]: s for s in graph(client, pool, 7)["series"]}["temp"]["unit"] == "°C"


def test_ten_years_are_thinned_and_nothing_out_of_band_is_lost(
    client: TestClient, pool: dict, engine: Engine
) -> None:
    with Session(engine) as session:
        for i in range(1040):  # twice a week
            event = Event(
                id=uuid7(),
                pool_id=pool["id"],
                at=NOW - timedelta(days=3.5 * i),
                kind="water_test",
                performed_by="you",
                created_at=NOW,
                revision=1,
            )
            value = 9.0 + i % 3 if i % 97 == 0 else 7.3 + (i * 7 % 40) / 100
            event.readings = [
                ReadingRow(measure="ph", position=0, value=min(value, 8.9), text="", unit="", method="drops")
            ]
            session.add(event)
        session.commit()
    found = graph(client, pool, 3650)
    (ph,) = found["series"]
    assert (
        found["thinned"] and 300 < len(ph["readings"]) < 500 and ph["estimate"] == []
    )  # over more than a year only readings
    assert sum(p["level"] == "act" for p in ph["readings"]) == 11  # every one of 0, 97, ..., 970
    assert min(p["value"] for p in ph["readings"]) == 7.3
    near = graph(client, pool, 60)
    assert not near["thinned"] and near["series"][0]["estimate"]


def test_a_window_the_wrong_way_round_is_refused(client: TestClient, pool: dict) -> None:
    window = {"start": NOW.isoformat(), "end": (NOW - timedelta(days=1)).isoformat()}
    problem(client.get(f"/api/v1/pools/{pool['id']}/graph", params=window), 422, "out_of_range", "end")
    assert graph(client, pool, 7) == {**graph(client, pool, 7), "series": [], "marks": [], "first": None}


def test_absurd_entries_never_take_today_or_the_bench_away(client: TestClient, pool: dict) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    client.post(
        f"{url}/tests",
        json=a_test(
            at=NOW - timedelta(days=2),
            fc="100",
            ph="5",
            ta="1",
            ch="3000",
            cya="500",
            salt="50000",
            temp="30",
            borate="200",
        ),
    )
    for product, unit in (
        ("muriatic-31.45", "gal"),
        ("soda-ash", "lb"),
        ("liquid-chlorine-12.5", "gal"),
        ("thiosulfate", "lb"),
    ):
        body = {
            "id": str(uuid7()),
            "at": (NOW - timedelta(days=1)).isoformat(),
            "product_id": product,
            "amount": "5000",
            "unit": unit,
        }
        assert client.post(f"{url}/doses", json=body).status_code == 201
    assert (
        client.get(f"{url}/today").status_code == 200
        and graph(client, pool, 7)["series"]
        and client.get(f"{url}/volume-proofs").status_code == 200
    )
    assert (
        client.post(
            f"{url}/plan-previews", json={"readings": a_test(fc="1", ph="7.5")["readings"]}
        ).status_code
        == 200
    )
