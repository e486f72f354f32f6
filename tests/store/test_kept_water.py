"""The filter that is kept between looks gives what one made anew gives, whatever is written, corrected, deleted and
brought back meanwhile, in any order.
"""

import random
from datetime import timedelta
from typing import Any
from uuid import UUID

import pytest
from sqlalchemy import Engine
from sqlalchemy.orm import Session, sessionmaker
from uuid6 import uuid7

from kumpan.actions.weather.refresh import refresh
from kumpan.actions.weather.source import Answer, Asked
from kumpan.core.water.estimate.present import Present
from kumpan.core.water.estimate.walk import present_water
from kumpan.core.weather import WeatherDay
from kumpan.store import queries, water
from kumpan.store.tables.pools import Pool
from support import NOW, Clock, a_test, app_on, client_on, pool_body

DOSES = (("liquid-chlorine-12.5", "30", "fl_oz"), ("muriatic-31.45", "10", "fl_oz"), ("salt", "40", "lb"))
KINDS = (
    ("backwash", {"lost": ("200", "gal")}), ("refill", {"added": ("180", "gal")}), ("rain", {"fell": ("1", "in")}),
    ("bathers", {"people": ("8", "")}), ("cover", {"state": ("on", "")}), ("drain", {"lost": ("900", "gal")}),
)  # fmt: skip


def anew(session: Session, pool: Pool, clock: Clock) -> Present:
    """As the core alone makes it of the whole log and the weather."""
    traits = water.traits_of(pool)
    since = water._begins(pool, clock.now)
    seen = [o for o in water.observed(session, pool, traits, since, clock.now) if o.at >= since]
    return present_water(traits, seen, clock.now)


@pytest.mark.parametrize("seed", range(2))
def test_kept_equals_made_anew(engine: Engine, seed: int) -> None:
    clock, rng, sessions = Clock(), random.Random(seed), sessionmaker(engine)
    entries: list[tuple[str, dict[str, Any]]] = []

    def weather(asked: Asked) -> Answer:
        days, day = [], asked.first
        while day <= asked.last:
            rain = 25.0 if rng.random() < 0.2 else 0.0
            days.append(WeatherDay(day, 15.0, 30.0, rain, 20.0, 2.0, 0.6, day >= clock.now.date()))
            day += timedelta(days=1)
        return Answer("Made-up", True, tuple(days))

    with client_on(app_on(engine, clock)) as client:
        pool = client.post("/api/v1/pools", json=pool_body(latitude=41.5, longitude=-93.6)).json()
        url = f"/api/v1/pools/{pool['id']}"

        def write() -> None:
            at = clock.now - timedelta(days=rng.choice([0, 0, 0.2, 1, 3, 8, 20]) * rng.random())
            body = {"id": str(uuid7()), "at": at.isoformat()}
            what = rng.random()
            if what < 0.4:
                values = {
                    "fc": f"{rng.uniform(0, 5):.1f}",
                    "ph": "7.6",
                    "ta": "90",
                    "cya": "40",
                    "temp": "78",
                }
                answer = client.post(f"{url}/tests", json=a_test(at, **values))
            elif what < 0.65:
                product, amount, unit = rng.choice(DOSES)
                dose = {"product_id": product, "amount": amount, "unit": unit}
                answer = client.post(f"{url}/doses", json=body | dose)
            else:
                kind, fields = rng.choice(KINDS)
                details = {name: {"text": text, "unit": unit} for name, (text, unit) in fields.items()}
                answer = client.post(f"{url}/entries", json=body | {"kind": kind, "details": details})
            assert answer.status_code == 201, answer.text
            entries.append((answer.json()["id"], answer.json()))

        hits = moved_on = 0
        for _ in range(45):
            act = rng.random()
            if act < 0.55 or not entries:
                write()
            elif act < 0.7:
                client.delete(f"/api/v1/events/{rng.choice(entries)[0]}")
            elif act < 0.8:
                client.post(f"/api/v1/events/{rng.choice(entries)[0]}/restore")
            elif act < 0.88:
                refresh(sessions, weather, clock.now)
            clock.now += timedelta(hours=rng.choice([0, 1, 5, 20]))
            with sessions() as session:
                held = session.get(Pool, UUID(pool["id"]))
                before = queries.estimate_kept(session, held.id)
                kept = water.present_of(session, held, clock.now)
                after = queries.estimate_kept(session, held.id)
                hits += before is not None and after == before
                moved_on += before is not None and after is not None and after["upto_at"] > before["upto_at"]
                fresh = anew(session, held, clock)
                session.commit()
            assert kept.measures.keys() == fresh.measures.keys()
            for m, estimate in kept.measures.items():
                assert (estimate.value, estimate.sigma) == (
                    fresh.measures[m].value,
                    fresh.measures[m].sigma,
                ), m
        assert hits > 8 and moved_on > 3  # it is kept indeed, and goes on
    clock.now = NOW
