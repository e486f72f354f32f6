"""What must hold of any water, whatever the constants: conservation, order, direction, and that every solve
agrees with its inverse.

No figures from outside here: those are in tests/published. Tolerances are the solver's own (pH to 2e-5).
"""

import math
from dataclasses import replace

import numpy
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from kumpan.core.chemistry import constants as k
from kumpan.core.chemistry.chlorine import fc_for_hocl, forms_of
from kumpan.core.chemistry.equilibria import at_temperature, conditional
from kumpan.core.chemistry.numeric import root
from kumpan.core.chemistry.solution import Totals, alkalinity_at, at_ph, equilibrate, in_air
from kumpan.core.errors import KumpanError
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.water.air import aerated_for, rain_water
from kumpan.core.water.air import in_air as water_in_air
from kumpan.core.water.conflicts import MOST_CO2_ATM, conflict_of
from kumpan.core.water.state import (
    Change,
    WaterState,
    amount_to_ph,
    apply,
    carbonate_of,
    chlorine_spent,
    evaporated,
    mixed,
    solution_of,
    totals_of,
)
from kumpan.core.water.untested import SPANS, allowing_for, standing_in, untested

waters = st.builds(
    WaterState,
    fc_ppm=st.floats(0, 20),
    cc_ppm=st.floats(0, 2),
    ph=st.floats(6.8, 8.3),
    ta_ppm=st.floats(40, 220),
    ch_ppm=st.floats(0, 900),
    cya_ppm=st.floats(0, 90),
    salt_ppm=st.floats(200, 6000),
    temp_c=st.floats(5, 38),
    borate_ppm=st.floats(0, 50),
    sulfate_ppm=st.none() | st.floats(0, 300),
).filter(lambda w: conflict_of(w) is None and carbonate_of(w) > 2e-4)
CHEMICAL = [p for p in PRODUCTS.values() if p.active and p.id != "thiosulfate"]
products = st.sampled_from(CHEMICAL)
small = st.floats(0.05, 1.0)
FIELDS = ("fc_ppm", "ta_ppm", "ch_ppm", "cya_ppm", "salt_ppm", "borate_ppm")


def dose(product, share: float) -> Change:  # type: ignore[no-untyped-def]
    """A modest dose: up to 0.2 mmol/L of the active."""
    return product.change_per_unit(1.0) * (share * 2e-4 / product.moles_per_unit())


def same(a: WaterState, b: WaterState, ph: float = 1e-4) -> None:
    assert a.ph == pytest.approx(b.ph, abs=ph)
    for field in FIELDS:
        assert getattr(a, field) == pytest.approx(getattr(b, field), rel=1e-9, abs=1e-9), field


# --- Additions
# ---------------------------------------------------------------------------------------------------------


@given(waters, products, products, small, small)
def test_additions_add_up_whatever_their_order(water, a, b, x, y) -> None:  # type: ignore[no-untyped-def]
    first, second = dose(a, x), dose(b, y)
    together = apply(water, first + second)
    same(apply(apply(water, first), second), together)
    same(apply(apply(water, second), first), together)


@given(waters, products, small)
def test_half_twice_is_the_whole_and_nothing_is_nothing(water, product, x) -> None:  # type: ignore[no-untyped-def]
    change = dose(product, x)
    same(apply(apply(water, change * 0.5), change * 0.5), apply(water, change))
    same(apply(water, change * 0.0), water)


@given(waters, products, small)
def test_what_goes_in_is_what_is_there(water, product, x) -> None:  # type: ignore[no-untyped-def]
    """Mass balance of every conserved total, and total carbonate moves by the carbon brought alone."""
    change = dose(product, x)
    after = apply(water, change)
    before_t, after_t = totals_of(water), totals_of(after)
    # At pH 6.8 and the most alkalinity carbonate moves by 3.2e-3 mol/kg a pH unit: pH to 2e-5, before and
    # after, is 1.3e-7.
    for total, part, within in (
        ("alk", "alk", 3e-8),
        ("ct", "carbon", 1.3e-7),
        ("cya", "cya", 3e-8),
        ("b", "b", 3e-8),
        ("cl2", "cl2", 3e-8),
        ("ca", "ca", 3e-8),
    ):
        assert getattr(after_t, total) - getattr(before_t, total) == pytest.approx(
            getattr(change, part), rel=2e-3, abs=within
        ), total


@given(waters, products, small)
def test_chlorine_spent_at_once_or_later_is_the_same_water(water, product, x) -> None:  # type: ignore[no-untyped-def]
    assume(product.active.cl2 > 0)
    change = dose(product, x)
    poured = apply(water, change)
    brought = poured.fc_ppm - water.fc_ppm
    later = chlorine_spent(poured, brought)
    spent = apply(water, change.spent)
    assert later.ph == pytest.approx(
        spent.ph, abs=5e-3
    )  # the salt that is left counts a little in the ionic strength
    assert later.ta_ppm == pytest.approx(spent.ta_ppm, abs=1e-6) and later.fc_ppm == pytest.approx(
        spent.fc_ppm, abs=1e-6
    )
    assert change.spent.spent == change.spent


# Which way each product moves pH at once and once its chlorine is spent; 0: back where it was.
SIGNS = {
    "liquid-chlorine-12.5": (1, 0),
    "bleach-6": (1, 0),
    "cal-hypo-65": (1, 0),
    "dichlor-56": (None, -1),
    "trichlor-90": (-1, -1),
    "muriatic-31.45": (-1, -1),
    "dry-acid-93.2": (-1, -1),
    "soda-ash": (1, 1),
    "borax": (1, 1),
    "borax-pentahydrate": (1, 1),
    "boric-acid": (-1, -1),
    "stabilizer": (-1, -1),
}


@pytest.mark.parametrize("product", SIGNS)
@given(waters, st.floats(0.3, 1.0))
def test_the_sign_of_every_product(product, water, x) -> None:  # type: ignore[no-untyped-def]
    now, later = SIGNS[product]
    if product == "borax" or product == "borax-pentahydrate":
        assume(water.ph < 8.2)  # borax is a buffer near its own pH of 9.2
    if product == "stabilizer":
        water = replace(
            water, fc_ppm=min(water.fc_ppm, 1.0)
        )  # it is an acid, but binding much chlorine lifts pH
        assume(water.ph > 7)
    change = dose(PRODUCTS[product], x)
    moved_now, moved_later = apply(water, change).ph - water.ph, apply(water, change.spent).ph - water.ph
    if now is not None:
        assert moved_now * now > 0
    if later == 0:
        assert abs(moved_later) < 0.06  # calcium and salt left behind shift the equilibria a little
    else:
        assert moved_later * later > 0


@given(waters, st.floats(0.05, 0.4))
def test_more_neutraliser_than_chlorine_is_refused_and_less_takes_just_that(water, x) -> None:  # type: ignore[no-untyped-def]
    assume(water.fc_ppm > 1)
    per = PRODUCTS["thiosulfate"].change_per_unit(1.0)
    fits = per * (x * water.fc_ppm / 1000 / k.CL2 / -per.cl2)
    assert apply(water, fits).fc_ppm == pytest.approx(water.fc_ppm * (1 - x))
    with pytest.raises(KumpanError, match="neutralises more"):
        apply(water, fits * (1.2 / x))


# --- Solving in every direction
# ---------------------------------------------------------------------------------------------


@given(
    waters,
    st.sampled_from(["muriatic-31.45", "dry-acid-93.2", "soda-ash", "borax", "trichlor-90"]),
    st.floats(0.05, 0.6),
)
def test_dose_to_ph_and_its_effect_agree(water, product, by) -> None:  # type: ignore[no-untyped-def]
    per = PRODUCTS[product].change_per_unit(1.0).spent
    to = water.ph + (by if per.alk > 0 else -by)
    amount = amount_to_ph(water, per, to)
    assume(amount is not None)
    assert amount >= 0 and apply(water, per * amount).ph == pytest.approx(to, abs=2e-4)
    wrong_way = amount_to_ph(water, per, water.ph + (-by if per.alk > 0 else by))
    assert wrong_way is None  # never a negative dose


@given(waters)
def test_ph_alkalinity_and_carbonate_determine_each_other(water) -> None:  # type: ignore[no-untyped-def]
    totals = totals_of(water)
    # Solved to 1e-5 at activities that three passes leave a few 1e-5 off.
    assert equilibrate(totals).ph == pytest.approx(water.ph, abs=6e-5)
    assert alkalinity_at(totals, water.ph) == pytest.approx(totals.alk, rel=1e-5)
    s = at_ph(totals, water.ph)
    parts = s.carbonate_alk + s.cyanurate_alk + s.borate_alk + s.hypochlorite_alk + s.water_alk
    assert parts == pytest.approx(totals.alk, rel=1e-9) and s.ct == pytest.approx(totals.ct, rel=1e-9)
    assert s.hocl >= 0 and s.ocl >= 0 and s.bound >= -1e-15 and s.calcium <= totals.ca * (1 + 1e-12)
    # More alkalinity at the same carbonate is a higher pH; more carbonate at the same alkalinity a lower one.
    assert (
        equilibrate(totals._replace(alk=totals.alk * 1.02)).ph
        > water.ph
        > equilibrate(totals._replace(ct=totals.ct * 1.02)).ph
    )


@given(st.floats(0.005, 0.5), st.floats(6.8, 8.2), st.floats(0, 150), st.floats(10, 35))
def test_chlorine_for_an_hocl_and_the_hocl_of_that_chlorine_agree(hocl, ph, cya, temp_c) -> None:  # type: ignore[no-untyped-def]
    fc = fc_for_hocl(hocl, ph, cya, temp_c)
    forms = forms_of(fc, ph, cya, temp_c)
    assert forms.hocl_ppm == pytest.approx(hocl, rel=1e-4)
    assert forms.hocl_ppm + forms.ocl_ppm + forms.bound_ppm == pytest.approx(fc, rel=1e-9)
    assert fc_for_hocl(hocl, ph, cya + 10, temp_c) > fc  # stabilizer binds: the same HOCl takes more
    assert fc_for_hocl(hocl * 1.1, ph, cya, temp_c) > fc


# --- Mixing, air, evaporation
# ------------------------------------------------------------------------------------------------


@given(waters, waters, st.floats(0.05, 0.95))
def test_mixing_is_symmetric_and_lies_between(a, b, share) -> None:  # type: ignore[no-untyped-def]
    one, other = mixed(a, b, share), mixed(b, a, 1 - share)
    same(one, other)
    for field in (*FIELDS, "temp_c"):
        low, high = sorted((getattr(a, field), getattr(b, field)))
        assert low - 1e-9 <= getattr(one, field) <= high + 1e-9
    same(mixed(a, a, share), a, ph=1e-3)
    assert (one.sulfate_ppm is None) == (
        a.sulfate_ppm is None or b.sulfate_ppm is None
    )  # what is unknown stays unknown


@given(waters, st.floats(0.02, 0.5))
def test_evaporation_and_pure_water_undo_each_other(water, fraction) -> None:  # type: ignore[no-untyped-def]
    # Pure water without the air's CO2: no carbonate, pH by its own dissociation; mixed in, its carbonate is
    # none.
    pure = replace(rain_water(water.temp_c), ph=7.0 + 1e-9)
    back = mixed(evaporated(water, fraction), pure, fraction)
    for field in FIELDS:
        assert getattr(back, field) == pytest.approx(getattr(water, field), rel=1e-6, abs=1e-6)
    assert back.ph == pytest.approx(water.ph, abs=0.02)


@given(waters, st.floats(0.3, 60))
def test_air_leads_to_its_own_balance_and_no_further(water, hours) -> None:  # type: ignore[no-untyped-def]
    end = water_in_air(water)
    assert (
        solution_of(end).co2_atm == pytest.approx(k.AIR_CO2_UATM * 1e-6, rel=1e-3)
        and end.ta_ppm == water.ta_ppm
    )
    later = aerated_for(water, hours, 0.15)
    low, high = sorted((water.ph, end.ph))
    assert low - 1e-3 <= later.ph <= high + 1e-3
    if end.ph > water.ph + 0.3:
        # Twice the pace for half the time is the same; CO2 has left, alkalinity stayed.
        assert aerated_for(water, hours / 2, 0.30).ph == pytest.approx(later.ph, abs=0.015)
        assert carbonate_of(later) < carbonate_of(water) and later.ta_ppm == water.ta_ppm
    assert in_air(totals_of(water), k.AIR_CO2_UATM * 1e-6).ph == pytest.approx(end.ph, abs=1e-6)


# --- What is not known, and what cannot be
# ------------------------------------------------------------------------------------


@given(waters, st.sets(st.sampled_from(sorted(SPANS)), min_size=1))
def test_untested_measures_are_allowed_for_and_never_filled_in(water, gone) -> None:  # type: ignore[no-untyped-def]
    bare = replace(water, **dict.fromkeys(gone))
    assert set(untested(bare)) == gone and not bare.has_ph_chemistry
    leaning = allowing_for(bare)
    assert leaning.has_ph_chemistry and all(getattr(leaning, f) is None for f in gone)
    assert len(standing_in(bare)) == 2 ** len(gone) and standing_in(water) == [water]
    # The corner chosen asks for no more acid or base than the water as it really is, if that lies in the
    # spans.
    if all(SPANS[f][0] <= getattr(water, f) <= SPANS[f][1] for f in gone) and abs(water.ph - 7.5) > 0.2:
        per = Change(alk=-1.0 if water.ph > 7.5 else 1.0)
        least, true = amount_to_ph(leaning, per, 7.5), amount_to_ph(water, per, 7.5)
        if least is not None and true is not None:
            assert least <= true * 1.08 + 1e-6  # the least lies at a corner, but for the curve between two


@given(st.floats(6.2, 8.6), st.floats(0, 260), st.floats(0, 200), st.floats(0, 60))
def test_conflicts_are_just_the_waters_that_leave_no_carbonate_or_would_fizz(ph, ta, cya, borate) -> None:  # type: ignore[no-untyped-def]
    water = WaterState(0.0, 0.0, ph, ta, 200.0, cya, 1000.0, 25.0, borate)
    found, s = conflict_of(water), solution_of(water)
    assert (found is not None) == (s.ct <= 0 or s.co2_atm > MOST_CO2_ATM)
    if found is not None:
        assert found.retest in found.fields or found.retest in ("ph", "ta_ppm")
        assert found.message.endswith(".") and "ta_ppm" in found.fields


# --- The solver's own parts
# -----------------------------------------------------------------------------------------------


@given(st.floats(-5, 5), st.floats(0.1, 4), st.floats(-9, 9), st.floats(1e-3, 1e3))
def test_root_finds_any_increasing_functions_zero_from_anywhere(zero, steep, guess, slope) -> None:  # type: ignore[no-untyped-def]
    x, _ = root(lambda v: math.sinh(steep * (v - zero)), (-10.0, 10.0), guess, slope, 1e-7)
    assert x == pytest.approx(zero, abs=1e-5)
    xs, _ = root(
        lambda v: numpy.sinh(steep * (v - zero)),
        (numpy.full(3, -10.0), numpy.full(3, 10.0)),
        numpy.array([guess, zero, -guess]),
        slope,
        1e-7,
    )
    assert xs == pytest.approx([zero] * 3, abs=1e-5)


def test_ideal_solution_has_no_activities_and_salt_draws_ions_together() -> None:
    at = at_temperature(25.0)
    ideal, salty = conditional(at, 0.0), conditional(at, 0.1)
    assert (
        ideal.co2_hco3 == pytest.approx(1 / at.k1)
        and ideal.ksp_conditional == pytest.approx(at.ksp_calcite)
        and ideal.proton == ideal.caso4 / at.caso4 == 1
    )
    assert (
        salty.ksp_conditional > ideal.ksp_conditional
        and salty.hco3_co3 < ideal.hco3_co3
        and salty.naco3 < ideal.naco3
    )  # calcite dissolves more in salt water
    bare = conditional(at, 0.1, sulfate=False)
    assert bare.caso4 == 0 and bare._replace(caso4=salty.caso4, naso4=salty.naso4) == salty


def test_sulfate_takes_calcium_and_acid_with_sulfate_is_acid_all_the_same() -> None:
    water = WaterState(0.0, 0.0, 7.5, 100.0, 300.0, 30.0, 1000.0, 25.0, 0.0, 0.0)
    gypsum = replace(water, sulfate_ppm=600.0)
    assert solution_of(gypsum).si_calcite < solution_of(water).si_calcite - 0.05
    hydrochloric, dry = Change(alk=-2e-4), Change(alk=-2e-4, so4=2e-4)
    assert apply(water, dry).ph == pytest.approx(apply(water, hydrochloric).ph, abs=0.005)
    t = totals_of(water)
    assert isinstance(t, Totals) and t.so4 == 0
