"""Ten waters planned end to end, the expected steps written out with their reasons (common practice).

Amounts are checked against the dose table of the check values (per 10,000 US gal) where one applies, within
10 %: the plan counts what the table leaves out (what other products bring, the water's own curve).
"""

from datetime import UTC, datetime

import pytest

from kumpan.core.dosing.planner import make_plan
from kumpan.core.dosing.request import DosePlan, PlanRequest
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.units import G_PER_LB, G_PER_OZ, ML_PER_FL_OZ, f_to_c, gal_to_l
from kumpan.core.water.measures import IN_STATE
from kumpan.core.water.methods import METHODS
from kumpan.core.water.state import WaterState, value_of


def plan(
    gal: float,
    surface: str,
    source: str,
    water: WaterState,
    kit: str,
    school: str = "scaled_to_stabilizer",
    **traits,
) -> DosePlan:  # type: ignore[no-untyped-def]
    pool = PoolTraits(gal_to_l(gal), surface, source, "in_ground", school=school, **traits)
    read = [m for m in IN_STATE if m in METHODS[kit].reads and value_of(water, m) is not None]
    return make_plan(
        PlanRequest(
            pool,
            water,
            datetime(2026, 7, 14, 17, tzinfo=UTC),
            u95={m: METHODS[kit].u95(m, 0) for m in read},
            methods=dict.fromkeys(read, kit),
        )
    )


def done(made: DosePlan) -> list[str]:
    """What is done, in order, portions of one thing together; re-tests left out."""
    found: list[str] = []
    for step in made.steps:
        what = step.role if step.kind == "add" else step.kind
        if step.kind != "retest" and (not found or found[-1] != what):
            found.append(what)
    return found


def total(made: DosePlan, role: str) -> float:
    return sum(s.amount.canonical for s in made.steps if s.role == role and s.amount)


def words(made: DosePlan) -> dict[str, str]:
    return {f.measure: f.word for f in made.findings}


def test_too_much_stabilizer() -> None:
    """CYA 150: no product lowers it. FC 1.5 is far under the minimum there, so chlorine today all the same;
    then fresh water, nothing else before the new water is tested. 150 to 50 with water that holds none is 67
    % (mass balance); by overflow ln 3 = 110 % of the volume."""
    made = plan(
        15_000,
        "vinyl",
        "tablets",
        WaterState(1.5, 0.2, 7.4, 90, 180, 150, 600, f_to_c(82)),
        "drops",
        fill=WaterState(ph=7.8, ta_ppm=120, ch_ppm=140),
    )
    assert done(made) == ["raise_fc", "dilute"]
    step = next(s for s in made.steps if s.kind == "dilute")
    assert (
        step.fraction == pytest.approx(2 / 3, abs=0.001)
        and "10,000 gal" in step.how
        and "16,479 gal" in step.how
    )  # drained; overflow
    assert step.water is not None and step.water.ch_ppm == pytest.approx(
        180 / 3 + 140 * 2 / 3, abs=1
    )  # the fill water's own calcium
    assert made.choices["raise_fc"].product_id == "liquid-chlorine-12.5"  # not the tablets that made it
    assert "half and half with tap water" in made.needs_test[0]  # above the tube's scale
    poured = next(s.amount for s in made.steps if s.role == "raise_fc")
    assert poured is not None and poured.value == round(
        poured.value
    )  # whole ounces of a jug, as any other addition
    assert not made.swim.allowed


def test_small_soft_sided_pool() -> None:
    """1,500 gal, granules, FC and pH low, TA 60 of 100 to 150: chlorine today, from liquid, as dichlor's acid
    would take pH down further. Then alkalinity before pH, stabilizer once, and the base that makes up for its
    acid only after it has dissolved, a week later."""
    made = plan(1_500, "soft", "granules", WaterState(0.5, 0.2, 7.0, 60, 80, 20, 300, f_to_c(80)), "drops")
    order = done(made)
    assert (
        order[:3] == ["raise_fc", "raise_ta", "raise_ph"]
        and order[-1] == "raise_ph"
        and "raise_cya" in order
        and "raise_ch" not in order
    )
    assert made.choices["raise_fc"].product_id == "liquid-chlorine-12.5"
    assert total(made, "raise_fc") == pytest.approx(
        4.0 * 1.5 * 1.024 * ML_PER_FL_OZ, rel=0.1
    )  # 0.5 to 4.5: 10.24 fl oz a ppm in 10,000 gal
    late = [s for s in made.steps if s.role == "raise_ph"][-1]
    assert late.start_min > 7 * 24 * 60
    assert made.spent.ta_ppm == pytest.approx(112, abs=10) and made.spent.ph == pytest.approx(7.5, abs=0.1)
    assert "does not matter" in " ".join(made.left_alone)  # calcium 80 on a soft-sided pool


def test_chlorinator_with_high_ph() -> None:
    """A cell drives pH up: acid, in portions of at most 0.4 pH and 16 fl oz per 10,000 gal, half, re-test,
    the rest. FC 4.5 is over the minimum: the cell's setting makes up the difference, no jug."""
    made = plan(
        16_000, "plaster", "chlorinator", WaterState(4.5, 0.2, 8.1, 85, 300, 70, 3100, f_to_c(84)), "drops"
    )
    assert done(made) == ["lower_ph"]
    portions = [s for s in made.steps if s.role == "lower_ph"]
    assert len(portions) == 2 and portions[1].start_min - portions[0].start_min >= 60
    assert all(s.amount.canonical <= 1.6 * 16 * ML_PER_FL_OZ for s in portions)
    assert made.spent.ph == pytest.approx(7.5, abs=0.05)
    assert any("raise the chlorinator's setting" in t for t in made.left_alone)


def test_hard_fill_water() -> None:
    """CH 1,100 with fill water of 450: it cannot come to 400, but it can to the 1,000 where leaving alone
    begins: (1100 - 1000) / (1100 - 450) = 15 %. Acid and the rest wait for the new water; TA 150 would be
    left alone anyway."""
    hard = WaterState(ph=8.0, ta_ppm=220, ch_ppm=450)
    made = plan(
        18_000,
        "plaster",
        "liquid",
        WaterState(4, 0.2, 7.9, 150, 1100, 40, 900, f_to_c(80)),
        "photometer",
        fill=hard,
    )
    assert done(made) == ["dilute"]
    assert made.steps[0].fraction == pytest.approx(100 / 650, abs=0.001)
    at_900 = plan(
        18_000,
        "plaster",
        "liquid",
        WaterState(4, 0.2, 7.9, 150, 900, 40, 900, f_to_c(80)),
        "photometer",
        fill=hard,
    )
    assert done(at_900) == ["lower_ph", "raise_fc", "lower_ph"]  # left alone, and pH comes down
    assert any("only softer water" in t for t in at_900.left_alone)


def test_opening_water() -> None:
    """No chlorine left is normal, stabilizer gone with the winter: chlorine first, then the balance; calcium
    a day apart from the carbonate, stabilizer 20 ppm at a time with a week between, as it dissolves over
    days."""
    made = plan(20_000, "plaster", "liquid", WaterState(0, 0, 7.3, 70, 180, 0, 300, f_to_c(54)), "lab")
    assert done(made)[0] == "raise_fc"
    assert {s.role for s in made.steps} >= {"raise_fc", "raise_cya", "raise_ch"}
    cya = [s for s in made.steps if s.role == "raise_cya"]
    assert total(made, "raise_cya") == pytest.approx(
        4 * 2 * 13.35 * G_PER_OZ, rel=0.1
    )  # 13.35 oz for 10 ppm in 10,000 gal
    assert cya[1].start_min - cya[0].start_min >= 7 * 24 * 60
    carbonate = max(
        s.start_min for s in made.steps if s.role in ("raise_ph", "raise_ta") and s.start_min < 7 * 24 * 60
    )
    assert min(s.start_min for s in made.steps if s.role == "raise_ch") - carbonate >= 24 * 60
    assert total(made, "raise_ch") == pytest.approx(2 * 7 * 1.202 * G_PER_LB, rel=0.1)  # 180 to 250


def test_after_a_storm() -> None:
    """Rain took chlorine, alkalinity, stabilizer and salt. Chlorine now; pH reads 7.2, which a drop kit
    cannot tell from fine, yet the stabilizer to come would lower it: soda ash lifts alkalinity and pH
    together. Salt in bags, no more at first than the reading of +-200 bears."""
    made = plan(
        14_000, "vinyl", "chlorinator", WaterState(0.5, 0.4, 7.2, 50, 150, 45, 2300, f_to_c(76)), "drops"
    )
    assert done(made)[0] == "raise_fc" and words(made)["ph"] == "edge" and words(made)["salt"] == "low"
    assert total(made, "raise_salt") <= 1.4 * 9 * 8.345 * G_PER_LB  # 2,300 to 3,200 would be 105 lb
    assert "raise_ta" not in done(made) and "raise_ph" in done(made)
    assert made.spent.ta_ppm >= 60


def test_high_chlorine() -> None:
    """FC 18: nothing is added, sun takes it down (half-life 6 to 10 h with stabilizer: 18 to 10 is about 0.85
    of one). pH and TA tests bleach there and wait.
    """
    made = plan(12_000, "plaster", "liquid", WaterState(18, 0.2, 8.0, 95, 280, 40, 800, f_to_c(82)), "drops")
    assert (
        done(made) == ["wait"]
        and made.steps[0].wait_min == 24 * 60
        and "5 to 8 hours of sun" in made.steps[0].how
    )
    assert set(made.steps[1].measures) == {"fc", "ph", "ta"}
    assert (
        "no acid or base until then" in made.needs_test[0]
        and made.swim.allowed is False
        and made.swim.from_min == 24 * 60
    )


def test_low_everything() -> None:
    """Chlorine today; alkalinity, then pH, then stabilizer; calcium by itself a day later; each in portions."""
    made = plan(10_000, "plaster", "liquid", WaterState(0, 0, 6.9, 40, 90, 0, 200, f_to_c(78)), "drops")
    order = done(made)
    assert (
        order.index("raise_fc") < order.index("raise_ta") < order.index("raise_ph") < order.index("raise_cya")
    )
    first = {s.role: s.start_min for s in reversed(made.steps) if s.kind == "add"}
    assert first["raise_fc"] == 0 and first["raise_ch"] >= 24 * 60
    assert (
        7.2 <= made.spent.ph <= 7.6
        and made.spent.ta_ppm >= 80
        and made.spent.cya_ppm == pytest.approx(40, abs=1)
    )
    assert any("flashed pink" in t for t in made.needs_test)  # zero may be bleached out


def test_strip_readings_alone() -> None:
    """A strip reads FC within 1, pH within 0.3, CYA within 25: chlorine is low whatever, the rest cannot be
    told, and no acid is poured on it.
    """
    made = plan(13_000, "vinyl", "liquid", WaterState(2, None, 7.8, 100, None, 50, None, None), "strip")
    assert done(made) == ["raise_fc"]
    assert words(made) == {"fc": "low", "ph": "cannot tell", "ta": "fine", "cya": "cannot tell"}
    assert sum("Use a drop test" in t for t in made.needs_test) == 2


def test_public_pool() -> None:
    """The code: FC at least 2 with stabilizer, pH to 7.8, CC under 0.4. Acid and chlorine the same evening,
    half an hour apart; closed until then.
    """
    made = plan(
        42_000,
        "tile",
        "liquid",
        WaterState(1.2, 0.8, 7.9, 95, 310, 30, 700, f_to_c(84)),
        "photometer",
        school="public_code",
    )
    assert done(made) == ["lower_ph", "raise_fc"] and words(made)["cc"] == "high"
    assert made.steps[-1].kind == "retest" and total(made, "raise_fc") == pytest.approx(
        1.8 * 4.2 * 10.24 * ML_PER_FL_OZ, rel=0.05
    )
    assert "combined chlorine above the code's 0.4 ppm" in made.swim.sentence
