"""What is foretold of a pool: stored once a test and once a day by the worker, never by a look; scored by what was
stored alone; and said plainly where little is known.
"""

from datetime import datetime, timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, func, select
from sqlalchemy.orm import Session, sessionmaker
from uuid6 import uuid7

from kumpan.actions.forecast.make import Maker
from kumpan.demo.foretold import foretold_of
from kumpan.store.tables.forecasts import ForecastRow
from kumpan.store.tables.pools import Pool
from support import NOW, Clock, a_test, pool_body, readings


def a_reading(client: TestClient, pool: dict[str, Any], at: datetime, **values: str) -> dict[str, Any]:
    body = a_test(**values) | {"at": at.isoformat()}
    answer = client.post(f"/api/v1/pools/{pool['id']}/tests", json=body)
    assert answer.status_code == 201, answer.text
    return answer.json()


def poured(
    client: TestClient, pool: dict[str, Any], at: datetime, product: str, amount: str, unit: str
) -> None:
    body = {"id": str(uuid7()), "at": at.isoformat(), "product_id": product, "amount": amount, "unit": unit}
    answer = client.post(f"/api/v1/pools/{pool['id']}/doses", json=body)
    assert answer.status_code == 201, answer.text


def ahead(client: TestClient, pool: dict[str, Any]) -> dict[str, Any]:
    answer = client.get(f"/api/v1/pools/{pool['id']}/ahead")
    assert answer.status_code == 200, answer.text
    return answer.json()


def stored(engine: Engine) -> list[tuple[datetime, str, datetime]]:
    with Session(engine) as session:
        query = select(ForecastRow.made_at, ForecastRow.measure, ForecastRow.for_at)
        return [tuple(row) for row in session.execute(query.order_by(ForecastRow.made_at))]  # type: ignore[misc]


def makings(engine: Engine) -> list[datetime]:
    return sorted({made_at for made_at, _, _ in stored(engine)})


@pytest.fixture
def maker(engine: Engine) -> Maker:
    return Maker(sessionmaker(engine, expire_on_commit=False))


def test_one_a_test_and_one_a_day_and_none_at_a_look(
    client: TestClient, pool: dict, engine: Engine, clock: Clock, maker: Maker
) -> None:
    assert maker.make_due(NOW) == 0  # never tested
    a_reading(client, pool, NOW - timedelta(minutes=5), fc="4", ph="7.5")
    for _ in range(2):
        for path in ("ahead", "today"):
            assert client.get(f"/api/v1/pools/{pool['id']}/{path}").status_code == 200
    assert makings(engine) == []
    assert maker.make_due(NOW) == 1 and makings(engine) == [NOW]
    assert {m for _, m, _ in stored(engine)} == {"fc", "ph"}
    for later in (1, 60):  # nothing new
        assert maker.make_due(NOW + timedelta(minutes=later)) == 0
    clock.now = NOW + timedelta(hours=2)
    a_reading(client, pool, clock.now, fc="3.5", ph="7.5")
    assert maker.make_due(clock.now) == 1
    clock.now = NOW + timedelta(hours=12)  # the next day, by the pool's own midnight
    assert maker.make_due(clock.now) == 1 and maker.make_due(clock.now + timedelta(hours=3)) == 0
    # another worker, which remembers nothing, makes none either
    assert Maker(maker.sessions).make_due(clock.now + timedelta(hours=3)) == 0
    assert len(makings(engine)) == 3
    assert maker.make_due(NOW + timedelta(days=70)) == 0  # at rest: nobody tested for two months


def test_stored_ones_are_scored_and_void_where_something_else_was_done(
    client: TestClient, pool: dict, engine: Engine, clock: Clock, maker: Maker
) -> None:
    start = NOW - timedelta(days=20)
    levels = {0: "4.0", 3: "2.0", 6: "4.0", 9: "2.0", 12: "4.0"}
    for day in range(14):
        clock.now = start + timedelta(days=day)
        if day in levels:
            a_reading(client, pool, clock.now, fc=levels[day], ph="7.5", temp="80")
        if levels.get(day) == "2.0":
            poured(client, pool, clock.now + timedelta(minutes=1), "liquid-chlorine-12.5", "24", "fl_oz")
        maker.make_due(clock.now + timedelta(minutes=2))
    clock.now = start + timedelta(days=14)
    told = {s["label"]: s for s in ahead(client, pool)["scores"]}
    chlorine = told["Free chlorine"]
    assert "void" in chlorine["void"] and "something was poured" in chlorine["void"]
    assert chlorine["share"] is not None and "came out" in chlorine["shown"]
    ph = told["pH"]
    assert ph["void"] == "" and ph["share"] == 1.0  # liquid chlorine leaves pH where it was
    # Only what was stored counts: without it there is nothing to score, however much was read.
    with Session(engine) as session:
        session.execute(ForecastRow.__table__.delete())
        session.commit()
    assert ahead(client, pool)["scores"] == [] and "has come due" in ahead(client, pool)["score_note"]


def test_a_correction_of_a_reading_corrects_the_score_and_never_what_was_foretold(
    client: TestClient, pool: dict, engine: Engine, clock: Clock, maker: Maker
) -> None:
    clock.now = NOW - timedelta(days=5)
    a_reading(client, pool, clock.now, ph="7.5", fc="4")
    maker.make_due(clock.now)
    before = stored(engine)
    clock.now = NOW
    later = a_reading(client, pool, NOW - timedelta(days=2) + timedelta(minutes=10), ph="7.6")
    assert [s["share"] for s in ahead(client, pool)["scores"]] == [1.0]
    body = {"revision": later["revision"], "readings": readings(ph="8.4"), "sampling_point": ""}
    assert client.put(f"/api/v1/tests/{later['id']}", json=body).status_code == 200
    assert [s["share"] for s in ahead(client, pool)["scores"]] == [0.0]
    assert stored(engine) == before


def test_what_cannot_be_known_is_said(client: TestClient, pool: dict, clock: Clock) -> None:
    nothing = ahead(client, pool)
    assert "never read" in nothing["coming"]["sentence"] and nothing["demand"] is None
    assert nothing["unknown"] == ["Chlorine was never read here: there is nothing to foretell from."]
    a_reading(client, pool, NOW - timedelta(hours=3), fc="4", ph="7.5")
    one = ahead(client, pool)
    assert any("One reading of chlorine" in line for line in one["unknown"])
    assert "season" in one["demand"]["told_by"] and one["demand"]["drivers"] == []
    for hours in (2, 1):
        a_reading(client, pool, NOW - timedelta(hours=hours), fc="4", ph="7.5")
    assert any("of one day" in line for line in ahead(client, pool)["unknown"])
    for day, level in enumerate(("3", "9", "0.5", "8", "0.5", "9")):
        clock.now = NOW + timedelta(days=day + 1)
        a_reading(client, pool, clock.now, fc=level, ph="7.5")
    assert any("contradict" in line for line in ahead(client, pool)["unknown"])


def test_what_feeds_it_unwritten_is_said_and_what_is_written_is_told(
    client: TestClient, clock: Clock
) -> None:
    salt = client.post("/api/v1/pools", json=pool_body(chlorine_source="chlorinator")).json()
    clock.now = NOW - timedelta(days=21)
    for day in range(0, 22, 3):
        clock.now = NOW - timedelta(days=21 - day)
        a_reading(client, salt, clock.now, fc="3", ph="7.5", salt="3200", temp="81", cya="40")
    unknown = ahead(client, salt)["unknown"]
    assert any("cell's setting and its rated output" in line for line in unknown)
    rated = {"output": {"text": "1.4", "unit": "lb_day"}, "hours_day": {"text": "10", "unit": "h"}}
    piece = {"id": str(uuid7()), "kind": "chlorinator", "details": rated}
    assert client.post(f"/api/v1/pools/{salt['id']}/equipment", json=piece).status_code == 201
    at = (NOW - timedelta(days=25)).isoformat()
    half = {"setting": {"text": "50", "unit": "%"}, "hours": {"text": "10", "unit": "h"}}
    entry = {"id": str(uuid7()), "kind": "cell", "at": at, "details": half}
    assert client.post(f"/api/v1/pools/{salt['id']}/entries", json=entry).status_code == 201
    told = ahead(client, salt)
    assert not any("not written down" in line for line in told["unknown"])
    # 635 g a day at 50 % for 10 of 24 h into 56,781 L is 2.33 ppm a day, and the level stood still.
    assert "own log" in told["demand"]["told_by"]
    assert float(told["demand"]["shown"].split()[0]) == pytest.approx(2.33, rel=0.25)


def test_what_is_poured_instead_is_told_where_a_cell_is_cold_and_tablets_are_to_stop(
    client: TestClient,
) -> None:
    def acts(**more: str) -> list[str]:
        pool = client.post("/api/v1/pools", json=pool_body(name=str(more), **more)).json()
        values = dict(fc="3", ph="7.5", ta="90", ch="250", cya="80", salt="3200", temp="52")
        a_reading(client, pool, NOW - timedelta(hours=1), **values)
        return [act["title"] for act in ahead(client, pool)["acts"]]

    assert acts(chlorine_source="chlorinator") == ["The cell", "Liquid chlorine until tomorrow"]
    assert acts(chlorine_source="tablets") == ["Tablets", "Stabilizer", "Liquid chlorine until tomorrow"]
    assert acts(chlorine_source="liquid") == ["Liquid chlorine until tomorrow"]


def test_the_graph_goes_on_past_now_and_ends_there_where_nothing_is_asked_beyond(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    a_reading(client, pool, NOW - timedelta(days=1), fc="4", ph="7.5", ta="90", ch="250", cya="40", temp="80")

    def graph(start: timedelta, end: timedelta) -> dict[str, Any]:
        span = {"start": (NOW + start).isoformat(), "end": (NOW + end).isoformat()}
        return client.get(f"/api/v1/pools/{pool['id']}/graph", params=span).json()

    fc = next(s for s in graph(timedelta(days=-3), timedelta(days=4))["series"] if s["measure"] == "fc")
    values = [s["value"] for s in fc["ahead"]]
    assert values == sorted(values, reverse=True) and fc["ahead"][0]["at"] == fc["estimate"][-1][-1]["at"]
    assert all(s["low"] <= s["value"] <= s["high"] for s in fc["ahead"])
    assert datetime.fromisoformat(fc["ahead"][-1]["at"]) == NOW + timedelta(days=4)
    ph = next(s for s in graph(timedelta(days=-3), timedelta(days=9))["series"] if s["measure"] == "ph")
    assert datetime.fromisoformat(ph["ahead"][-1]["at"]) == NOW + timedelta(days=7)  # a week at most
    assert all(s["ahead"] == [] for s in graph(timedelta(days=-3), timedelta(days=-1))["series"])


def test_today_says_it_in_one_sentence_unless_doses_are_planned(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    def today() -> dict[str, Any]:
        return client.get(f"/api/v1/pools/{pool['id']}/today").json()

    assert today()["coming"] is None
    a_reading(
        client, pool, NOW - timedelta(hours=1), fc="4", ph="7.5", ta="100", ch="250", cya="40", temp="80"
    )
    told = today()["coming"]
    assert told["sentence"].startswith("Chlorine lasts until ") and "; test " in told["sentence"]
    assert told["sentence"] == ahead(client, pool)["coming"]["sentence"]
    a_reading(client, pool, NOW - timedelta(minutes=1), fc="0.5", ph="7.5")
    assert "dose it today" in today()["coming"]["sentence"]
    plan = {"id": str(uuid7()), "test": a_test(fc="0.5", ph="8.0", ta="100", ch="250", cya="40", temp="80")}
    assert client.post(f"/api/v1/pools/{pool['id']}/plans", json=plan).status_code == 201
    assert today()["coming"] is None


def test_the_demos_forecasts_come_from_the_past_alone(demo_engine: Engine) -> None:
    """Replayed up to an earlier instant they are the same: nothing of what came later went into them."""
    with Session(demo_engine) as session:
        pools = list(session.scalars(select(Pool)))
        whole = {p.id: foretold_of(session, p, NOW) for p in pools}
        early = NOW - timedelta(days=5)
        for p in pools:
            # the same days are replayed: those that both spans hold
            told = [f for f in foretold_of(session, p, early) if f.made_at > NOW - timedelta(days=42)]
            first = min((f.made_at for f in told), default=None)
            known = [f for f in whole[p.id] if f.made_at <= early and first and f.made_at >= first]
            assert [(f.measure, f.for_at, round(f.mean, 6)) for f in told] == [
                (f.measure, f.for_at, round(f.mean, 6)) for f in known
            ], p.name
        assert sum(len(f) for f in whole.values()) > 200
        assert (
            session.scalar(select(func.count()).select_from(ForecastRow)) == 0
        )  # the tests' sample stores none
