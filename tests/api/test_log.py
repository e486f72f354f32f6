"""The log beside tests and doses: everything that happens, back-dated, corrected with its history, found
again.
"""

import random
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, text
from sqlalchemy.orm import sessionmaker
from uuid6 import uuid7

from kumpan.actions.context import Context
from kumpan.actions.log.writing import Correction, reopen
from kumpan.core.errors import Conflict
from kumpan.core.log.kinds import entered_kinds
from kumpan.store import queries
from support import NOW, Clock, a_test, problem, readings


def field(text: str, unit: str = "") -> dict[str, str]:
    return {"text": text, "unit": unit}


def log(client: TestClient, pool: dict, kind: str, **more: Any) -> Any:
    return client.post(
        f"/api/v1/pools/{pool['id']}/entries",
        json={"id": str(uuid7()), "kind": kind, "at": NOW.isoformat(), **more},
    )


def entries(client: TestClient, pool: dict, **params: Any) -> list[dict[str, Any]]:
    return client.get(f"/api/v1/pools/{pool['id']}/events", params=params).json()["events"]


def test_every_kind_is_written_told_and_found(client: TestClient, pool: dict) -> None:
    for kind in entered_kinds():
        details = {
            f.id: (
                field(f.choices[0][0])
                if f.kind == "choice"
                else field(
                    "7",
                    {
                        "volume": "gal",
                        "pressure": "psi",
                        "rain": "in",
                        "minutes": "min",
                        "hours": "h",
                        "percent": "%",
                        "ppm": "ppm",
                        "count": "",
                        "flow": "gpm",
                        "temp": "c",
                    }[f.quantity],
                )
            )
            for f in kind.fields
            if f.kind != "id"
        }
        answer = log(client, pool, kind.id, details=details, note="by the gate" if kind.id == "note" else "")
        assert answer.status_code == 201, (kind.id, answer.text)
        assert answer.json()["title"] == kind.label and (answer.json()["detail"] or kind.id == "photo")
    assert {e["kind"] for e in entries(client, pool)} == {k.id for k in entered_kinds()}
    assert [e["kind"] for e in entries(client, pool, kind=["rain", "drain"])] in (
        ["rain", "drain"],
        ["drain", "rain"],
    )
    assert [e["kind"] for e in entries(client, pool, q="BY THE gate")] == ["note"]
    assert [e["kind"] for e in entries(client, pool, q="filter press")] == ["pressure"] and entries(
        client, pool, q="100%_"
    ) == []
    usual = client.get(f"/api/v1/pools/{pool['id']}/usual-entries").json()
    assert (
        usual["last"]["backwash"]["text"] == "7 min, 7 gal lost, 7 psi before, 7 psi after"
        and "note" not in usual["last"]
    )
    written = {kind: len(entries(client, pool, kind=kind)) for kind in usual["most"]}
    counts = [written[kind] for kind in usual["most"]]
    assert counts == sorted(counts, reverse=True) and counts[0] > 0  # what this pool uses most comes first
    assert set(usual["most"]) >= {"dose", "backwash", "rain", "note"}


def test_search_knows_products_and_tests(client: TestClient, pool: dict) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    client.post(f"{url}/tests", json=a_test(fc="2"))
    client.post(
        f"{url}/doses",
        json={
            "id": str(uuid7()),
            "at": NOW.isoformat(),
            "product_id": "muriatic-31.45",
            "amount": "12",
            "unit": "fl_oz",
        },
    )
    assert [e["kind"] for e in entries(client, pool, q="muriatic")] == ["dose"] and [
        e["kind"] for e in entries(client, pool, q="test")
    ] == ["water_test"]


def test_back_dating_and_times_that_did_not_exist(client: TestClient, pool: dict, clock: Clock) -> None:
    late = log(client, pool, "rain", details={"fell": field("1.5", "in")}, local="2026-07-10T18:30").json()
    assert late["local"] == "2026-07-10T18:30" and late["at"].startswith("2026-07-10T23:30")
    problem(
        log(client, pool, "note", note="x", local="2026-03-08T02:30"), 422, "no_such_time", "local"
    )  # the clocks went forward over it
    problem(log(client, pool, "note", note="x", local="2026-07-20T02:30"), 422, "in_future", "local")
    problem(log(client, pool, "note", note="x", local="last week"), 422, "not_a_time", "local")
    dose = {
        "id": str(uuid7()),
        "at": NOW.isoformat(),
        "product_id": "salt",
        "amount": "1",
        "unit": "lb",
        "local": "2026-07-09T08:00",
    }
    assert client.post(f"/api/v1/pools/{pool['id']}/doses", json=dose).json()["local"] == "2026-07-09T08:00"


@pytest.mark.parametrize(
    ("body", "name", "code"),
    [
        ({"kind": "party"}, "kind", "unknown_choice"), ({"kind": "note"}, "note", "empty"), ({"kind": "rain"}, "details.fell", "empty"),
        ({"kind": "rain", "details": {"fell": field("90", "in")}}, "details.fell", "out_of_range"), ({"kind": "rain", "details": {"fell": field("lots", "in")}}, "details.fell", "not_a_number"),
        ({"kind": "cover", "details": {"state": field("half")}}, "details.state", "unknown_choice"), ({"kind": "cover", "details": {"fell": field("1", "in")}}, "details.fell", "unknown_field"),
        ({"kind": "cell", "details": {"setting": field("140", "%")}}, "details.setting", "out_of_range"),
    ],
)  # fmt: skip
def test_what_is_wrong_is_named_and_nothing_is_written(
    client: TestClient, pool: dict, body: dict, name: str, code: str
) -> None:
    problem(log(client, pool, **body), 422, code, name)
    assert entries(client, pool) == []


def test_corrections_keep_what_was_there(client: TestClient, pool: dict, clock: Clock) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    test = client.post(f"{url}/tests", json=a_test(fc="2", ph="7.4")).json()
    rain = log(client, pool, "rain", details={"fell": field("1", "in")}).json()
    clock.now = NOW + timedelta(minutes=20)
    body = {
        "local": test["local"],
        "revision": 1,
        "readings": [{"measure": "fc", "text": "3", "unit": "ppm", "method": "drops"}],
    }
    corrected = client.put(f"/api/v1/tests/{test['id']}", json=body).json()
    assert (
        corrected["history"] == ["Today 18:00, you: was FC 2, pH 7.4 (today 17:40)"]
        and corrected["detail"] == "FC 3.0"
    )
    changed = {
        "kind": "rain",
        "details": {"fell": field("2", "in")},
        "note": "hail too",
        "local": "2026-07-13T20:00",
        "performed_by": "Mara",
        "revision": 1,
    }
    by_mara = {"Kumpan-Actor": "M%C3%A4ra"}  # percent-encoded: headers are not for every letter
    twice = client.put(f"/api/v1/entries/{rain['id']}", json=changed, headers=by_mara).json()
    assert twice["detail"] == "2 in. hail too" and twice["history"] == [
        "Today 18:00, Mära: was Rain, 1 in (today 17:40)"
    ]
    problem(client.put(f"/api/v1/entries/{rain['id']}", json=changed), 409, "changed_meanwhile")
    problem(
        client.put(f"/api/v1/entries/{rain['id']}", json={**changed, "kind": "drain", "revision": 2}),
        422,
        "fixed",
        "kind",
    )
    problem(client.put(f"/api/v1/entries/{test['id']}", json={**changed, "revision": 2}), 409, "other_kind")
    client.delete(f"/api/v1/events/{rain['id']}")
    problem(client.put(f"/api/v1/entries/{rain['id']}", json={**changed, "revision": 3}), 409, "deleted")
    assert (
        client.post(f"/api/v1/events/{rain['id']}/restore").json()["detail"] == "2 in. hail too"
    )  # undo restores exactly


def test_a_test_says_where_its_sample_came_from_and_who_took_it(client: TestClient, pool: dict) -> None:
    test = a_test(fc="3", ph="7.5") | {"sampling_point": " deep end ", "performed_by": "Robin"}
    first = client.post(f"/api/v1/pools/{pool['id']}/tests", json=test).json()
    assert (first["title"], first["sampling_point"], first["performed_by"]) == (
        "Test, drop kit, deep end",
        "deep end",
        "Robin",
    )
    found = client.get(f"/api/v1/pools/{pool['id']}/events?q=deep").json()["events"]
    assert [e["id"] for e in found] == [test["id"]]
    body = {"local": first["local"], "readings": test["readings"], "revision": 1}
    same = client.put(f"/api/v1/tests/{test['id']}", json=body).json()
    assert (same["sampling_point"], same["performed_by"]) == (
        "deep end",
        "Robin",
    )  # left alone where not given
    moved = client.put(
        f"/api/v1/tests/{test['id']}",
        json=body | {"revision": 2, "sampling_point": "by the steps", "performed_by": "Kim"},
    ).json()
    assert (
        moved["title"] == "Test, drop kit, by the steps"
        and moved["performed_by"] == "Kim"
        and "deep end" in moved["history"][-1]
    )
    problem(
        client.post(f"/api/v1/pools/{pool['id']}/tests", json=a_test(fc="3") | {"sampling_point": "x" * 41}),
        422,
        "string_too_long",
        "sampling_point",
    )


def test_water_moved_spoils_a_proof(client: TestClient, pool: dict) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    for at, salt in ((NOW - timedelta(days=3), "400"), (NOW, "2400")):
        client.post(f"{url}/tests", json=a_test(at=at, salt=salt))
    client.post(
        f"{url}/doses",
        json={
            "id": str(uuid7()),
            "at": (NOW - timedelta(days=2, hours=20)).isoformat(),
            "product_id": "salt",
            "amount": "250",
            "unit": "lb",
        },
    )
    assert len(client.get(f"{url}/volume-proofs").json()) == 1
    log(client, pool, "backwash", details={"minutes": field("3", "min")}, local="2026-07-13T10:00")
    assert client.get(f"{url}/volume-proofs").json() == []


def test_tests_and_doses_as_csv_open_in_a_spreadsheet_and_run_nothing(client: TestClient, pool: dict) -> None:
    """RFC 4180: commas, CRLF, doubled quotes, one head; UTF-8 with a mark. A cell that would be a formula is
    kept text by an apostrophe.
    """
    url = f"/api/v1/pools/{pool['id']}"
    evil = '=HYPERLINK("http://x","y")'
    client.post(
        f"{url}/tests",
        json={**a_test(at=NOW - timedelta(days=1), fc="2,5", ph="7.4", temp="81"), "performed_by": evil},
    )
    client.post(f"{url}/tests", json=a_test(fc="3", ta="90"))
    for who in ('Mara, "the second"', "@SUM(A1)"):
        body = {
            "id": str(uuid7()),
            "at": NOW.isoformat(),
            "performed_by": who,
            "product_id": "liquid-chlorine-12.5",
            "strength": 0.1,
            "amount": "40",
            "unit": "fl_oz",
        }
        assert client.post(f"{url}/doses", json=body).status_code == 201
    answer = client.get(f"{url}/tests.csv")
    assert (
        answer.headers["content-type"] == "text/csv; charset=utf-8"
        and "attachment" in answer.headers["content-disposition"]
    )
    head, first, second, rest = answer.content.decode("utf-8-sig").split("\r\n")
    assert (
        head
        == "when,when_utc,performed_by,sampling_point,fc_ppm,cc_ppm,tc_ppm,ph,ta_ppm,ch_ppm,cya_ppm,salt_ppm,temp_c,borate_ppm,phosphate_ppb,copper_ppm,iron_ppm,ammonia_ppm,methods"
        and rest == ""
    )
    assert (
        first
        == """2026-07-13 17:40,2026-07-13T22:40:00Z,"'=HYPERLINK(""http://x"",""y"")",,2.5,,,7.4,,,,,27.2222,,,,,,Drop kit; Thermometer"""
    )
    assert second.startswith("2026-07-14 17:40,2026-07-14T22:40:00Z,you,,3.0,,,,90.0,")
    doses = client.get(f"{url}/doses.csv").content.decode("utf-8-sig").split("\r\n")
    assert (
        doses[1] == '2026-07-14 17:40,2026-07-14T22:40:00Z,"Mara, ""the second""",Liquid chlorine 10 %,40,fl'
        " oz,,1182.941"
    )
    assert ",'@SUM(A1),Liquid" in doses[2]


def test_water_added_dilutes_only_what_was_lost(client: TestClient, pool: dict, clock: Clock) -> None:
    """15,000 gal at 3,000 ppm. Evaporation takes no salt along (common practice), a backwash does,
    whenever its water comes back.
    """
    url = f"/api/v1/pools/{pool['id']}"
    client.post(
        f"{url}/tests",
        json=a_test(
            at=NOW - timedelta(days=1), fc="3", ph="7.5", ta="100", ch="250", cya="40", salt="3000", temp="80"
        ),
    )
    client.put(
        f"{url}/settings",
        json={
            "school": "scaled_to_stabilizer",
            "fill": {"ph": "7.6", "ta": "90", "ch": "150", "salt": "0"},
            "revision": 1,
        },
    )

    def salt() -> float:
        return float(
            next(
                m["shown"] for m in client.get(f"{url}/today").json()["water_now"] if m["measure"] == "salt"
            ).replace(",", "")
        )

    still = salt()
    log(
        client, pool, "refill", details={"added": field("1500", "gal")}
    )  # a tenth of the pool, all of it evaporated
    assert salt() == pytest.approx(still, abs=12)
    lost = log(
        client, pool, "backwash", details={"lost": field("1500", "gal")}, local="2026-07-14T10:00"
    ).json()
    assert salt() == pytest.approx(
        0.9 * still, abs=12
    )  # the same water now makes up for what was lost: diluted once, not twice
    client.delete(f"/api/v1/events/{lost['id']}")
    assert salt() == pytest.approx(still, abs=12)
    log(
        client, pool, "backwash", details={"minutes": field("3", "min")}, local="2026-07-14T10:00"
    )  # nobody knows how much
    assert salt() == pytest.approx(0.9 * still, abs=12)


def test_a_clock_a_little_fast_writes_now(client: TestClient, pool: dict) -> None:
    """Else Today would not know of a test just logged until the server's clock caught up."""
    url = f"/api/v1/pools/{pool['id']}"
    made = client.post(f"{url}/tests", json=a_test(at=NOW + timedelta(minutes=3), fc="2", ph="7.5")).json()
    assert datetime.fromisoformat(made["at"]) == NOW
    assert {m["measure"] for m in client.get(f"{url}/today").json()["water_now"]} >= {"fc", "ph"}


def test_today_says_when_a_reading_is_too_old_to_dose_on(client: TestClient, pool: dict) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    client.post(f"{url}/tests", json=a_test(at=NOW - timedelta(days=40), fc="3", ta="100", cya="40"))
    client.post(f"{url}/tests", json=a_test(at=NOW - timedelta(hours=2), ph="7.5"))
    read = {m["measure"]: m["read"] for m in client.get(f"{url}/today").json()["water_now"]}
    assert read == {
        "fc": "read on Thu 4 Jun: too old to dose on",
        "ph": "read today",
        "ta": "read on Thu 4 Jun: too old to dose on",
        "cya": "read on Thu 4 Jun",
    }


@pytest.mark.parametrize("seed", range(3))
def test_any_order_of_writing_the_same_down_gives_the_same_log_and_water(
    client: TestClient, pool: dict, engine: Engine, seed: int
) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    ago = lambda days: (NOW - timedelta(days=days)).isoformat()  # noqa: E731
    local = lambda days: f"{NOW - timedelta(days=days, hours=5):%Y-%m-%dT%H:%M}"  # noqa: E731
    written: list[tuple[str, dict]] = [
        (
            "tests",
            a_test(
                at=NOW - timedelta(days=9),
                fc="3",
                ph="7.5",
                ta="90",
                ch="250",
                cya="40",
                salt="3000",
                temp="80",
            ),
        ),
        ("tests", a_test(at=NOW - timedelta(days=4), fc="1", ph="7.9")),
        ("tests", a_test(at=NOW - timedelta(days=4), ta="95", salt="2900")),
        (
            "doses",
            {
                "id": str(uuid7()),
                "at": ago(3),
                "product_id": "muriatic-31.45",
                "amount": "20",
                "unit": "fl_oz",
            },
        ),
        (
            "doses",
            {
                "id": str(uuid7()),
                "at": ago(3),
                "product_id": "liquid-chlorine-12.5",
                "amount": "60",
                "unit": "fl_oz",
            },
        ),
        (
            "entries",
            {
                "id": str(uuid7()),
                "at": ago(0),
                "kind": "rain",
                "details": {"fell": field("2", "in")},
                "local": local(2),
            },
        ),
        (
            "entries",
            {
                "id": str(uuid7()),
                "at": ago(0),
                "kind": "drain",
                "details": {"lost": field("900", "gal")},
                "local": local(6),
            },
        ),
        ("entries", {"id": str(uuid7()), "at": ago(0), "kind": "note", "note": "cloudy", "local": local(4)}),
    ]

    def told(order: list[tuple[str, dict]]) -> tuple:
        for path, body in order:
            assert client.post(f"{url}/{path}", json=body).status_code == 201
        found = client.get(f"{url}/events").json()["events"], client.get(f"{url}/today").json()["water_now"]
        with engine.begin() as connection:
            connection.execute(text("SET foreign_key_checks = 0"))
            for table in ("reading", "dose", "entry", "event"):
                connection.execute(text(f"DELETE FROM {table}"))
            connection.execute(text("SET foreign_key_checks = 1"))
        return found

    assert told(random.Random(seed).sample(written, len(written))) == told(written)


def test_a_correction_that_waited_for_anothers_is_refused(
    client: TestClient, pool: dict[str, Any], engine: Engine
) -> None:
    """It read the entry, waited for the pool, and is told what became of it meanwhile."""
    made = client.post(f"/api/v1/pools/{pool['id']}/tests", json=a_test(fc="3")).json()
    with sessionmaker(engine)() as session:
        account = queries.first_account(session)
        assert account is not None
        held = queries.event(
            session, account.id, UUID(made["id"])
        )  # as reopening does before it has the lock
        body = {"revision": 1, "local": "", "readings": readings(fc="4")}
        assert client.put(f"/api/v1/tests/{made['id']}", json=body).status_code == 200
        with pytest.raises(Conflict):
            reopen(Context(session, account, "Mara", NOW), "water_test", Correction(held.id, 1))
