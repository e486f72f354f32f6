"""Readings that practice re-tests before anything is poured (common practice)."""

from datetime import UTC, datetime

import pytest

from kumpan.core.dosing.planner import make_plan
from kumpan.core.dosing.request import PlanRequest
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.implausible import Read, doubtful_readings
from kumpan.core.water.state import WaterState, value_of


def read(water: WaterState, methods: dict[str, str], u95: dict[str, float]) -> dict[str, Read]:
    return {m: Read(value_of(water, m) or 0.0, by, u95.get(m, 0.0)) for m, by in methods.items()}


@pytest.mark.parametrize(
    ("water", "methods", "expected", "measure", "told"),
    [
        # FC above about 10 makes pH and TA unreliable; a pink flash that goes clear is very high, not zero;
        # the tube ends at 100 and starts near 30.
        (WaterState(fc_ppm=14, ph=7.6), {}, {}, "ph", "no acid or base"),
        (WaterState(fc_ppm=0.0), {"fc": "comparator"}, {}, "fc", "flashed pink"),
        (WaterState(cya_ppm=100), {"cya": "drops"}, {}, "cya", "half and half with tap water"),
        (WaterState(cya_ppm=20), {"cya": "drops"}, {}, "cya", "cannot tell below 30"),
        (WaterState(ph=8.4), {"ph": "strip"}, {}, "ph", "at the top"),
        (WaterState(ph=6.8), {"ph": "comparator"}, {}, "ph", "may be lower"),
        (WaterState(fc_ppm=5), {"fc": "comparator"}, {}, "fc", "may be more"),
        # Panel against measured salt further apart than 500: recalibrate or clean, not pour; on the panel
        # alone never.
        (WaterState(salt_ppm=2500), {"salt": "panel"}, {"salt": (3200, 200)}, "salt", "Recalibrate or clean"),
        (WaterState(salt_ppm=2900), {"salt": "panel"}, {"salt": (3000, 200)}, "salt", "only estimates"),
        # A change no dose or weather explains.
        (WaterState(ch_ppm=450), {"ch": "drops"}, {"ch": (250, 25)}, "ch", "near 250"),
        (WaterState(salt_ppm=1500), {"salt": "drops"}, {"salt": (3200, 200)}, "salt", "near 3,200"),
    ],
)
def test_what_is_tested_again_and_why(
    water: WaterState, methods: dict, expected: dict, measure: str, told: str
) -> None:
    found = [
        d
        for d in doubtful_readings(water, read(water, methods, {"ch": 25, "salt": 200}), expected)
        if d.measure == measure
    ]
    assert found and told in found[0].message


@pytest.mark.parametrize(
    ("water", "methods", "expected"),
    [
        (WaterState(fc_ppm=3, ph=7.6, cya_ppm=50), {"fc": "drops", "ph": "drops", "cya": "drops"}, {}),
        (WaterState(ch_ppm=270), {"ch": "drops"}, {"ch": (250, 25)}),
        (WaterState(fc_ppm=0.0), {"fc": "strip"}, {}),  # no dye to bleach
        (WaterState(salt_ppm=3100), {"salt": "salt_meter"}, {"salt": (3200, 200)}),
    ],
)
def test_sound_readings_pass(water: WaterState, methods: dict, expected: dict) -> None:
    assert doubtful_readings(water, read(water, methods, {"ch": 25, "salt": 100}), expected) == []


def test_what_is_doubtful_is_not_poured_on() -> None:
    pool = PoolTraits(60_000, "plaster", "chlorinator", "in_ground")
    now = datetime(2026, 7, 14, 9, tzinfo=UTC)
    panel = make_plan(
        PlanRequest(
            pool,
            WaterState(5, 0, 7.5, 80, 280, 70, 2000, 27),
            now,
            methods={"salt": "panel"},
            u95={"salt": 400},
        )
    )
    assert not any(s.role == "raise_salt" for s in panel.steps) and "panel only estimates" in " ".join(
        panel.needs_test
    )
    bleached = make_plan(PlanRequest(pool, WaterState(14, 0, 8.2, 80, 280, 70, 3100, 27), now))
    assert not any(s.role == "lower_ph" for s in bleached.steps)
    odd = make_plan(
        PlanRequest(pool, WaterState(5, 0, 7.5, 80, 100, 70, 3100, 27), now, expected={"ch": (280, 25)})
    )
    assert not any(s.role == "raise_ch" for s in odd.steps)
    algae = make_plan(
        PlanRequest(pool, WaterState(5, 0, 7.5, 80, 280, 20, 3100, 27), now, seen=frozenset({"algae"}))
    )
    assert not any(s.role == "raise_cya" for s in algae.steps) and "until the water is clear" in " ".join(
        algae.left_alone
    )
