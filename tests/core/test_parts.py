"""The parts the planner stands on: numbers as typed, amounts as poured, bands, chemistry in both directions,
the log.
"""

from dataclasses import replace
from datetime import UTC, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kumpan.core.amounts import OwnMeasure, describe, in_own, parse_amount, rounded_down, tool_for, units_for
from kumpan.core.chemistry.chlorine import fc_for_hocl, forms_of
from kumpan.core.dosing.findings import diagnose
from kumpan.core.errors import InvalidInput
from kumpan.core.guidance.reasons import REASONS
from kumpan.core.guidance.swimming import swim_status
from kumpan.core.guidance.targets import bands_for, bands_of, chlorine_band
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import (
    G_PER_LB,
    G_PER_OZ,
    ML_PER_FL_OZ,
    c_to_f,
    f_to_c,
    gal_to_l,
    l_to_gal,
    parse_number,
)
from kumpan.core.water.readings import parse_reading
from kumpan.core.water.state import Change, WaterState, apply

NOW = datetime(2026, 7, 14, tzinfo=UTC)


def pool(source: str = "liquid", surface: str = "vinyl") -> PoolTraits:
    return PoolTraits(gal_to_l(15_000), surface, source, "in_ground")


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("7.4", 7.4),
        ("7,4", 7.4),
        (" 2,700 ", 2700),
        ("1,234,567", 1_234_567),
        ("1 200", 1200),
        ("0,125", 0.125),
        ("1,200.5", 1200.5),
        (".5", 0.5),
        ("+3", 3),
    ],
)
def test_numbers_as_people_type_them(text: str, value: float) -> None:
    assert parse_number(text, "x") == pytest.approx(value)


@pytest.mark.parametrize(
    "text", ["", "x", "7.4.1", "1,2,3", "nan", "inf", "1e999", "1_000", "٣", "0x10", "--1", "7,4,", "9" * 41]
)
def test_what_is_no_number(text: str) -> None:
    with pytest.raises(InvalidInput) as refused:
        parse_number(text, "here")
    assert refused.value.fields[0].field == "here" and refused.value.fields[0].code == "not_a_number"


@given(st.text(max_size=60))
def test_no_text_escapes_as_another_error(text: str) -> None:
    try:
        parse_reading("ph", text, "", "drops")
    except InvalidInput as refused:
        assert refused.fields[0].field == "readings.ph"


@given(st.floats(-1e6, 1e6))
def test_units_go_both_ways(x: float) -> None:
    assert l_to_gal(gal_to_l(x)) == pytest.approx(x)
    assert c_to_f(f_to_c(x)) == pytest.approx(x, abs=1e-6)


# Sizes: definitions of the units; a bag is 40 lb or 20 kg, a 3-inch tablet 8 oz (check values).
@pytest.mark.parametrize(
    ("amount", "form", "system", "gallons", "text"),
    [
        (14.2 * ML_PER_FL_OZ, "liquid", "us", 15_000, "14 fl oz"),
        (157 * ML_PER_FL_OZ, "liquid", "us", 15_000, "1 gal 16 fl oz"),
        (111 * ML_PER_FL_OZ, "liquid", "us", 15_000, "¾ gal"),
        (128 * ML_PER_FL_OZ, "liquid", "us", 15_000, "1 gal"),
        (20, "liquid", "us", 300, "0.5 fl oz"),
        (8, "liquid", "us", 300, "0.25 fl oz"),
        (37.4 * G_PER_OZ, "dry", "us", 15_000, "2 lb 4 oz"),
        (3.3 * G_PER_OZ, "dry", "us", 15_000, "3.25 oz"),
        (77.7 * G_PER_LB, "dry", "us", 15_000, "77 lb"),
        (290 * G_PER_LB, "salt_bag", "us", 15_000, "7 bags of 40 lb"),
        (41 * G_PER_LB, "salt_bag", "us", 15_000, "1 bag of 40 lb"),
        (45_000, "salt_bag", "metric", 15_000, "2 bags of 20 kg"),
        (20 * G_PER_OZ, "tablet", "us", 15_000, "2 3-inch tablets"),
        (20 * G_PER_OZ, "tablet", "us", 5_000, "40 1-inch tablets"),
        (1_234, "liquid", "metric", 15_000, "1.2 L"),
        (1_234, "dry", "metric", 15_000, "1.2 kg"),
    ],
)
def test_amounts_in_measures_a_hand_can_use(amount, form, system, gallons, text) -> None:  # type: ignore[no-untyped-def]
    tool = tool_for(amount, form, system, gal_to_l(gallons))
    assert describe(rounded_down(amount, tool), tool, form).text == text


SCOOP, BUCKET = OwnMeasure("scoop", False, 227.0), OwnMeasure("bucket", False, 4000.0)
JUG = OwnMeasure("jug", True, 3785.4)


@pytest.mark.parametrize(
    ("amount", "form", "words"),
    [
        (700, "dry", ("3", "× scoop")),  # 3.08 scoops
        (7_300, "dry", None),  # over twenty scoops, and a quarter of the bucket is too coarse
        (8_300, "dry", ("2", "× bucket")),
        (2_900, "liquid", None),  # a quarter of the jug would be off by up to a third
        (8_300, "liquid", ("2", "× jug")),
        (100, "dry", None),
        (700, "tablet", None),
    ],
)
def test_an_amount_is_counted_in_the_largest_own_measure_that_is_fine_enough(amount, form, words) -> None:  # type: ignore[no-untyped-def]
    own = (SCOOP, BUCKET, JUG)
    tool = tool_for(amount, form, "us", gal_to_l(15_000), own)
    poured = rounded_down(amount, tool)
    told = in_own(poured, form, own)
    assert (told and (told.number, told.unit)) == words
    assert poured >= amount * (1 - 0.125)


@given(
    st.floats(50, 1e6),
    st.sampled_from(["liquid", "dry", "tablet", "salt_bag"]),
    st.sampled_from(["us", "metric"]),
    st.floats(500, 1e6),
)
def test_rounding_never_passes_the_amount_and_what_is_shown_reads_back(amount, form, system, litres) -> None:  # type: ignore[no-untyped-def]
    tool = tool_for(amount, form, system, litres)
    down = rounded_down(amount, tool)
    assert amount - tool.step * 1.001 <= down <= amount + tool.step * 1e-5
    if down:
        shown = describe(down, tool, form)
        assert parse_amount(f"{shown.value:f}", shown.unit, form) == pytest.approx(down, rel=1e-3)
    assert form == "liquid" or "cup" not in units_for(form, system)


# Common practice: about 7.5 % of stabilizer at least, 5 % with a chlorinator; floors at
# 30 ppm; cap 10.
@pytest.mark.parametrize(
    ("cya", "source", "low"),
    [(50, "liquid", 3.75), (80, "liquid", 6.0), (80, "chlorinator", 4.0), (60, "chlorinator", 3.0)],
)
def test_the_scaled_minimum_is_near_the_share_of_the_trade(cya: float, source: str, low: float) -> None:
    assert chlorine_band(cya, replace(pool(source), label_fc_ppm=10.0)).low == pytest.approx(low, rel=0.08)


@pytest.mark.parametrize("source", ["liquid", "chlorinator"])
def test_floors_and_cap_of_the_school(source: str) -> None:
    wide, usual = replace(pool(source), label_fc_ppm=10.0), pool(source)
    at = {cya: chlorine_band(cya, wide) for cya in (None, 0, 10, 30, 200)}
    assert at[0].aim == at[10].aim == at[30].aim == at[None].aim
    assert at[0].low >= 1 and at[10].low >= 2
    assert at[200].low == at[200].aim == 8 and chlorine_band(200, usual).aim == 4  # no label on record: 4
    # A cell aims at 7 % of stabilizer while it feeds; off, it is dosed like any pool (common practice).
    assert chlorine_band(40, PoolTraits(60_000, "vinyl", "chlorinator", "in_ground")).aim == pytest.approx(
        2.8
    )
    cold = WaterState(cya_ppm=40, salt_ppm=3200, temp_c=12)
    assert bands_of(pool("chlorinator"), cold)["fc"].aim == pytest.approx(4.0, abs=0.01)


@pytest.mark.parametrize(
    ("water", "measure", "level", "word"),
    [
        ({"fc_ppm": 1}, "fc", "act", "low"), ({"fc_ppm": 12}, "fc", "act", "high"), ({"fc_ppm": 8}, "fc", "watch", "high"),
        ({"cc_ppm": 0.5}, "cc", "act", "high"), ({"cc_ppm": 0.4}, "cc", "fine", "fine"), ({"ph": 7.8}, "ph", "fine", "fine"),
        ({"ph": 7.9}, "ph", "act", "high"), ({"ta_ppm": 150}, "ta", "watch", "high"), ({"ta_ppm": 200}, "ta", "watch", "high"),
        ({"ch_ppm": 20}, "ch", "fine", "fine"), ({"cya_ppm": 70}, "cya", "watch", "high"), ({"cya_ppm": 91}, "cya", "act", "high"),
        ({"salt_ppm": 900}, "salt", "none", "no target"),
    ],
)  # fmt: skip
def test_what_a_reading_means(water: dict, measure: str, level: str, word: str) -> None:
    found = next(f for f in diagnose(WaterState(**water), pool()) if f.measure == measure)
    assert (found.level, found.verdict) == (level, word)
    assert found.reason_id in REASONS


# Common practice: FC at least the minimum and at most 10, pH in range.
@pytest.mark.parametrize(
    ("fc", "ph", "allowed"),
    [
        (3, 7.5, True),
        (1, 7.5, False),
        (10.5, 7.5, False),
        (3, 8.0, False),
        (3, 7.0, False),
        (None, 7.5, None),
        (3, None, None),
    ],
)
def test_swimming(fc: float | None, ph: float | None, allowed: bool | None) -> None:
    assert swim_status(WaterState(fc_ppm=fc, ph=ph, cya_ppm=30), pool()).allowed is allowed


@given(st.floats(0.001, 5), st.floats(6.6, 8.4), st.floats(0, 200), st.floats(4, 40))
def test_chlorine_solves_in_both_directions(hocl: float, ph: float, cya: float, temp_c: float) -> None:
    forms = forms_of(fc_for_hocl(hocl, ph, cya, temp_c), ph, cya, temp_c)
    assert forms.hocl_ppm == pytest.approx(hocl, rel=1e-6)
    assert forms.bound_ppm >= -1e-9


@pytest.mark.parametrize(
    ("product", "up", "down"),
    [  # signs of the trade (common practice)
        ("muriatic-31.45", "", "ph ta_ppm"), ("dry-acid-93.2", "", "ph ta_ppm"), ("soda-ash", "ph ta_ppm", ""), ("baking-soda", "ta_ppm", ""),
        ("borax", "ph ta_ppm borate_ppm", ""), ("stabilizer", "cya_ppm", "ph"), ("trichlor-90", "fc_ppm cya_ppm", "ph ta_ppm"),
        ("dichlor-56", "fc_ppm cya_ppm", "ph ta_ppm"), ("cal-hypo-65", "fc_ppm ch_ppm", ""), ("liquid-chlorine-10", "fc_ppm salt_ppm", ""),
        ("calcium-chloride-77", "ch_ppm", ""), ("salt", "salt_ppm", ""), ("thiosulfate", "", "fc_ppm ta_ppm ph"),
    ],
)  # fmt: skip
def test_signs_of_every_product_and_what_it_leaves_alone(product: str, up: str, down: str) -> None:
    """pH and alkalinity as they settle once the chlorine is spent; the rest as poured."""
    water = WaterState(5, 0.2, 7.5, 100, 250, 40, 1000, 25)
    change = PRODUCTS[product].change_per_unit(60_000) * (100 if product == "thiosulfate" else 500)
    now, spent = apply(water, change), apply(water, change.spent)
    for name in ("fc_ppm", "ph", "ta_ppm", "ch_ppm", "cya_ppm", "salt_ppm", "borate_ppm"):
        if name == "ph" and product == "baking-soda":
            continue  # pulls pH towards about 8.3 from either side
        moved = getattr(spent if name in ("ph", "ta_ppm") else now, name) - getattr(water, name)
        wanted = 1 if name in up.split() else -1 if name in down.split() else 0
        least = (
            0.02 if name == "ph" else 1e-6
        )  # salt and calcium move pH a little through activities and ion pairs
        assert (moved > least) - (moved < -least) == wanted, (name, moved)


def test_unknown_stays_unknown_and_label_products_refuse() -> None:
    after = apply(WaterState(fc_ppm=1, ph=7.5), Change(cl2=1e-5, alk=-1e-5))
    assert (after.ph, after.ta_ppm, after.cya_ppm) == (None, None, None) and after.fc_ppm > 1
    for product in PRODUCTS.values():
        if product.active is None:
            with pytest.raises(ValueError, match="not computed"):
                product.change_per_unit(1000)


def test_every_reason_names_its_source_and_every_band_its_reason() -> None:
    for reason in REASONS.values():
        assert reason.source and reason.school and reason.text
    for source in ("liquid", "chlorinator"):
        for surface in ("plaster", "soft", "vinyl"):
            for band in bands_for(pool(source, surface), 40).values():
                assert band.reason_id in REASONS and (band.high_reason_id or band.reason_id) in REASONS
                assert band.low is None or band.low <= band.aim <= band.high
