"""The planner's promises, over random pools and readings, and on waters whose plan is reasoned by hand."""

from dataclasses import replace
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from kumpan.core.amounts import tool_for
from kumpan.core.guidance.bands import PoolTraits, bands_for
from kumpan.core.planning.diagnosis import is_low, must_dilute
from kumpan.core.planning.model import Choice, Plan, PlanRequest
from kumpan.core.planning.needs import ROLE_LABELS, SINGLE_MOVE
from kumpan.core.planning.planner import form_of, make_plan, ta_far_too_high
from kumpan.core.planning.view import show_plan
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import gal_to_l
from kumpan.core.water.state import WaterState, aerated, apply, carbonate_of

NOW = datetime(2026, 7, 14, 17, 40, tzinfo=ZoneInfo("America/Chicago"))

pools = st.builds(
    PoolTraits,
    volume_l=st.floats(gal_to_l(600), gal_to_l(120_000)),
    surface=st.sampled_from(["plaster", "tile", "vinyl", "fibreglass", "soft"]),
    chlorine_source=st.sampled_from(["liquid", "granules", "tablets", "chlorinator"]),
    installation=st.sampled_from(["in_ground", "above_ground"]),
)
waters = st.builds(
    WaterState,
    fc_ppm=st.floats(0, 15), cc_ppm=st.floats(0, 2), ph=st.floats(6.6, 8.4), ta_ppm=st.floats(20, 250), ch_ppm=st.floats(0, 1200),
    cya_ppm=st.floats(0, 150), salt_ppm=st.floats(200, 7000), temp_c=st.floats(4, 40),
)  # fmt: skip
some = st.sets(st.sampled_from(["fc_ppm", "cc_ppm", "ph", "ta_ppm", "ch_ppm", "cya_ppm", "salt_ppm"]), max_size=7)
choices = st.fixed_dictionaries(
    {},
    optional={
        role: st.sampled_from([p.id for p in PRODUCTS.values() if role in p.roles]).map(Choice) for role in ROLE_LABELS
    },
)
systems = st.sampled_from(["us", "metric"])
times = st.integers(0, 1439).map(lambda m: NOW.replace(hour=m // 60, minute=m % 60))


def pour(plan: Plan, water: WaterState, traits: PoolTraits, limit: int | None = None) -> WaterState:
    """The water after the plan, its chlorine kept up by the daily feed while what it did to pH has gone (the state a plan steers to)."""
    fc = 0.0
    for step in plan.steps[:limit]:
        if step.kind == "add" and step.product_id and step.amount:
            change = PRODUCTS[step.product_id].change_per_unit(traits.volume_l, step.strength) * step.amount.canonical
            poured, water = apply(water, change), apply(water, change.spent)
            fc += (poured.fc_ppm or 0) - (water.fc_ppm or 0)
        elif step.kind == "aerate" and step.to_ph:
            water = aerated(water, step.to_ph)
    return replace(water, fc_ppm=(water.fc_ppm or 0) + fc)


def told(plan: Plan) -> str:
    return "\n".join(f"{s.start_min} {s.title} {s.amount and s.amount.text} {[(m.measure, round(m.before, 2), round(m.after, 2)) for m in s.moves]}" for s in plan.steps)


def adds(plan: Plan):  # type: ignore[no-untyped-def]
    return [s for s in plan.steps if s.kind == "add"]


def makes_sense(water: WaterState) -> bool:
    return not water.has_ph_chemistry or carbonate_of(water) > 0.0002


@given(pools, waters, choices, systems, times)
def test_a_poured_plan_asks_for_nothing_more(traits, water, chosen, system, now) -> None:  # type: ignore[no-untyped-def]
    bands = bands_for(traits, water.cya_ppm)
    assume(makes_sense(water))
    assume(not any(must_dilute(getattr(water, f), bands[m]) for m, f in (("cya", "cya_ppm"), ("ch", "ch_ppm"), ("salt", "salt_ppm"))))
    assume(not ta_far_too_high(water, traits))  # plans alkalinity alone: see the test of it below
    first = make_plan(PlanRequest(traits, water, now, chosen, system=system))
    after = pour(first, water, traits)
    assume(after.cya_ppm <= 90)  # stabilized chlorine may carry it past the dilution limit: then fresh water is rightly asked for
    # It does not end by doing nothing: pH and alkalinity are in their bands, but for what the tools cannot measure out.
    if after.ta_ppm <= bands["ta"].high:
        assert 7.15 <= after.ph <= 7.85 and after.ta_ppm >= bands["ta"].low - 3, f"{after}\n" + told(first)
    again = make_plan(PlanRequest(traits, after, now, chosen, system=system))
    for step in adds(again):
        if step.role in ("lower_ta", "lower_ph", "raise_ph", "raise_ta"):
            # Rounding to the tool may leave a small pool a hair outside its band: less than any test can tell.
            if 7.15 <= after.ph <= 7.85 and after.ta_ppm >= bands["ta"].low - 3:
                continue
            pytest.fail(f"asks again: {step.title} {step.amount.text}\n{traits}\n{water}\n{chosen}\n{after}\n" + told(first))
        # What is left must be less than one tool step of the first plan, per portion.
        same = [s for s in adds(first) if s.role == step.role]
        form = form_of(PRODUCTS[step.product_id])
        total = sum(s.amount.canonical for s in same)
        largest = max([s.amount.canonical for s in same], default=0)
        grain = tool_for(max(largest, step.amount.canonical), form, system, traits.volume_l).step
        assert step.amount.canonical <= grain * 1.01 + 0.002 * total, (step.title, step.amount, after)
    assert not [s for s in again.steps if s.kind == "dilute" or (s.kind == "aerate" and after.ph < 7.15)], f"\n{traits}\n{water}\n{chosen}\n{after}\n" + told(first)


@given(pools, waters, choices, systems, times)
def test_alkalinity_far_too_high_comes_down_and_ph_ends_in_its_band(traits, water, chosen, system, now) -> None:  # type: ignore[no-untyped-def]
    water = replace(water, ta_ppm=180 + water.ta_ppm / 2, cya_ppm=water.cya_ppm * 0.6, ch_ppm=water.ch_ppm * 0.8, salt_ppm=3000)
    assume(makes_sense(water))
    plan = make_plan(PlanRequest(traits, water, now, chosen, system=system))
    after = pour(plan, water, traits)
    assert after.ta_ppm <= 180
    assert 7.2 <= after.ph <= 7.8, told(plan)
    assert {s.role for s in adds(plan)} <= {"raise_fc", "lower_ta"}


@given(pools, waters, some, choices, systems, times)
def test_what_no_plan_may_do(traits, water, unknown, chosen, system, now) -> None:  # type: ignore[no-untyped-def]
    water = WaterState(**{**water.__dict__, **dict.fromkeys(unknown)})
    plan = make_plan(PlanRequest(traits, water, now, chosen, system=system))
    steps = adds(plan)
    for step in steps:
        product = PRODUCTS[step.product_id]
        assert step.role in product.roles or step.role == "lower_ta"
        assert step.amount.canonical > 0
        assert not (form_of(product) != "liquid" and step.amount.unit in ("cup", "fl_oz", "ml"))
        for move in step.moves:
            if move.measure in SINGLE_MOVE and move.after > move.before:
                assert move.after - move.before <= SINGLE_MOVE[move.measure] * 1.01 + 1, (step.title, move)
            if move.measure == "ph" and product.group == "acid":
                assert move.after >= 7.19, (step.title, move)
                assert move.before - move.after <= 0.45, (step.title, move)
        if product.max_single is not None and step.strength is None:
            assert step.amount.canonical <= product.max_single * traits.volume_l / gal_to_l(10_000) * 1.001 + 1
    for earlier, later in zip(steps, steps[1:], strict=False):  # never two at once
        assert later.start_min - earlier.start_min >= PRODUCTS[earlier.product_id].mix_min
    for a in steps:
        for b in steps:
            pa, pb = PRODUCTS[a.product_id], PRODUCTS[b.product_id]
            if a.start_min < b.start_min and pb.group in pa.apart:
                assert b.start_min - a.start_min >= pa.apart[pb.group]
    bands = bands_for(traits, water.cya_ppm)
    if water.fc_ppm is not None and is_low(water.fc_ppm, bands["fc"]):
        chlorine = [s for s in steps if s.role == "raise_fc"]
        # Unless one whole tablet or jug step is already more than is missing.
        if chlorine:
            assert chlorine[0].start_min <= 60
    view = show_plan(plan, PlanRequest(traits, water, now, chosen, system=system))
    assert len(view.steps) == len(plan.steps)
    assert view.headline


@given(pools, waters, choices)
def test_units_change_no_amount_beyond_rounding(traits, water, chosen) -> None:  # type: ignore[no-untyped-def]
    assume(makes_sense(water))
    us, metric = (make_plan(PlanRequest(traits, water, NOW, chosen, system=s)) for s in ("us", "metric"))
    for role in ROLE_LABELS:
        totals = []
        for plan, system in ((us, "us"), (metric, "metric")):
            mine = [s for s in adds(plan) if s.role == role]
            grain = sum(tool_for(s.amount.canonical, form_of(PRODUCTS[s.product_id]), system, traits.volume_l).step for s in mine)
            totals.append((sum(s.amount.canonical for s in mine), grain))
        (a, grain_a), (b, grain_b) = totals
        floor = 0.02 * max(a, b) + grain_a + grain_b + 60  # 60 g or mL: the coarsest step near nothing
        assert abs(a - b) <= floor or not (a and b)


def plan_for(traits: PoolTraits, **water: float) -> Plan:
    return make_plan(PlanRequest(traits, WaterState(**water), NOW))


PLASTER_CELL = PoolTraits(gal_to_l(16_000), "plaster", "chlorinator", "in_ground")
VINYL = PoolTraits(gal_to_l(15_000), "vinyl", "liquid", "in_ground")


def roles(plan: Plan) -> list[str]:
    return [s.role for s in plan.steps if s.kind != "retest"]


def test_high_ph_and_low_chlorine_pours_acid_first_then_chlorine_the_same_evening() -> None:
    # High pH weakens chlorine, so one acid portion goes first; 30 min keeps acid and chlorine apart (practice 6).
    plan = plan_for(PLASTER_CELL, fc_ppm=1, cc_ppm=0.4, ph=7.9, ta_ppm=95, ch_ppm=280, cya_ppm=65, salt_ppm=3000, temp_c=27)
    assert roles(plan) == ["lower_ph", "raise_fc"]
    assert [s.start_min for s in adds(plan)] == [0, 30]
    assert plan.spent.ph == pytest.approx(7.5, abs=0.03)
    assert plan.swim.from_min == 60


def test_high_ph_gets_acid_today_though_stabilizer_will_lower_it_later() -> None:
    # Stabilizer is an acid but dissolves over days: pH 8.0 may not wait for it, nor be pushed under 7.2 when it is in.
    plan = plan_for(PLASTER_CELL, fc_ppm=5, ph=8.0, ta_ppm=110, ch_ppm=280, cya_ppm=45, salt_ppm=3000)
    acid = next(s for s in adds(plan) if s.role == "lower_ph")
    assert acid.start_min == 0
    assert 7.2 <= plan.spent.ph <= 7.6
    assert min(m.after for s in plan.steps if s.role == "lower_ph" for m in s.moves if m.measure == "ph") <= 7.8


def test_order_is_ta_then_stabilizer_then_chlorine_and_calcium_a_day_from_soda() -> None:
    # Practice 6: TA, pH, CYA, sanitizer; bicarbonate and calcium about 24 h apart. FC is in its band: no hurry.
    traits = PoolTraits(gal_to_l(15_000), "plaster", "liquid", "in_ground")
    plan = plan_for(traits, fc_ppm=2.5, ph=7.4, ta_ppm=60, ch_ppm=150, cya_ppm=20)
    first = {s.role: s.start_min for s in reversed(adds(plan))}
    assert first["raise_ta"] < first["raise_cya"] < first["raise_fc"]
    last_soda = max(s.start_min for s in adds(plan) if s.role == "raise_ta")
    assert first["raise_ch"] - last_soda >= 24 * 60


def test_too_much_stabilizer_gets_chlorine_now_and_fresh_water() -> None:
    # CYA 150 to 50 with clean water is 67 % (mass balance); FC under its minimum is not left for the refill.
    plan = plan_for(VINYL, fc_ppm=1, ph=7.5, ta_ppm=100, ch_ppm=200, cya_ppm=150)
    assert roles(plan) == ["raise_fc", ""]
    dilute = next(s for s in plan.steps if s.kind == "dilute")
    assert dilute.fraction == pytest.approx(1 - 50 / 150)
    assert "67%" in dilute.title


@pytest.mark.parametrize(
    ("water", "told"),
    [
        ({"fc_ppm": 0, "ph": 8.2}, "total alkalinity and stabilizer"),
        ({"ph": 7.5, "ta_ppm": 100}, "Test free chlorine"),
        ({"fc_ppm": 5, "ph": 8.0, "ta_ppm": 20, "cya_ppm": 140}, "cannot all be right"),
    ],
)
def test_missing_and_conflicting_readings_name_the_test(water: dict, told: str) -> None:
    plan = plan_for(VINYL, **water)
    assert told in " ".join(plan.needs_test)
    assert "lower_ph" not in roles(plan)


def test_low_calcium_on_vinyl_is_left_alone_and_fine_water_needs_nothing() -> None:
    plan = plan_for(VINYL, fc_ppm=5, cc_ppm=0, ph=7.5, ta_ppm=100, ch_ppm=60, cya_ppm=40)
    assert plan.steps == ()
    assert "does not matter" in " ".join(plan.left_alone)
    assert plan.swim.allowed is True


def test_nothing_but_chlorine_is_poured_at_night() -> None:
    late = NOW.replace(hour=21, minute=50)
    water = WaterState(fc_ppm=0, ph=7.5, ta_ppm=50, ch_ppm=100, cya_ppm=20, salt_ppm=1000)
    plan = make_plan(PlanRequest(PLASTER_CELL, water, late))
    for step in plan.steps:
        at = late + timedelta(minutes=step.start_min)
        assert step.role == "raise_fc" or step.start_min == 0 or 8 <= at.hour < 22


def test_salt_of_the_trade() -> None:
    # Check values: 20,000 gal from 0 to 3,200 ppm is 534 lb, 13.4 bags of 40 lb (cp); at most 1,000 ppm at once.
    traits = PoolTraits(gal_to_l(20_000), "plaster", "chlorinator", "in_ground")
    salt = [s for s in adds(plan_for(traits, salt_ppm=0)) if s.role == "raise_salt"]
    assert sum(s.amount.value for s in salt) == pytest.approx(13.25)  # rounded down to quarter bags
    assert len(salt) == 4
