"""What follows from equipment, what an unknown costs, and what may stand beside what."""

from datetime import date
from itertools import combinations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kumpan.core.errors import InvalidInput
from kumpan.core.machines.output import cell_ppm_day
from kumpan.core.pool.equipment import KINDS, checked
from kumpan.core.pool.equipment_facts import expired_cover, facts, unknowns, warranty
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.products.label import USUAL_RATES, label_dose
from kumpan.core.products.storage import clash, family_of, storage_plan
from kumpan.core.records import UNITS, TypedField
from kumpan.core.units import G_PER_LB, L_PER_GAL, gal_to_l

TODAY = date(2026, 7, 14)
VOLUME = gal_to_l(15_000)


def told(kind: str, metric: bool = False, **typed: tuple[str, str] | str) -> str:
    fields = {n: TypedField(*t) if isinstance(t, tuple) else TypedField(t) for n, t in typed.items()}
    return " ".join(f.text for f in facts(kind, checked(kind, fields, TODAY), VOLUME, metric, TODAY))


def test_a_chlorinators_output_over_the_water() -> None:
    """600 g/day full time into 15,000 gal: 10.57 ppm/day (check values); half the hours, half of it; 1 to 4
    ppm a day in season (common practice).
    """
    assert cell_ppm_day(600, 100, 24, VOLUME) == pytest.approx(10.57, abs=0.005)
    assert "makes 10.6 ppm a day here" in told("chlorinator", output=("600", "g_day"))
    assert "10.6 ppm a day here. A season's day takes 1 to 4 ppm: 9 to 38 %" in told(
        "chlorinator", output=("600", "g_day"), hours_day=("24", "h")
    )
    assert "19 to 76 %" in told(
        "chlorinator", output=(f"{600 / G_PER_LB:.6f}", "lb_day"), hours_day=("12", "h")
    )
    assert "4 ppm is more than it makes" in told(
        "chlorinator", output=("150", "g_day"), hours_day=("12", "h")
    )
    assert "cannot make even 1 ppm" in told("chlorinator", output=("60", "g_day"), hours_day=("8", "h"))
    assert "below 60 °F" in told("chlorinator", cutout=("60", "f")) and "below 16 °C" in told(
        "chlorinator", metric=True, cutout=("60", "f")
    )
    assert (
        "hydrogen" in told("chlorinator", flow_switch="no") and told("chlorinator", flow_switch="yes") == ""
    )


def test_filter_pump_and_drains() -> None:
    """Over clean by 8 to 10 psi; DE 1 lb per 10 sq ft, 80 % after a backwash; sand 4 to 5 years; a turnover a
    day (common practice).
    """
    assert told("filter", medium="sand", clean=("12", "psi")).startswith("Backwash at 20 to 22 psi")
    assert "138 to 152 kPa" in told(
        "filter", True, medium="sand", clean=("12", "psi")
    ) and "Hose it at 20" in told("filter", medium="cartridge", clean=("12", "psi"))
    assert "3.6 lb of DE, 2.9 lb after" in told(
        "filter", medium="de", area=("36", "ft2")
    ) and "1.6 kg of DE" in told("filter", True, medium="de", area=("36", "ft2"))
    assert "due in 2025 or 2026" in told("filter", medium="sand", media="2021-05-01")
    # 50 gpm for 8 h is 24,000 gal: 1.6 turnovers of 15,000; with 20 gpm for 10 h more 12,000: 2.4.
    assert told("pump", flow=("50", "gpm"), hours=("8", "h")) == "1.6 turnovers a day."
    assert told(
        "pump", flow=("50", "gpm"), hours=("8", "h"), flow_2=("20", "gpm"), hours_2=("10", "h")
    ).startswith("2.4 turnovers")
    assert "at least one" in told(
        "pump", flow=("20", "gpm"), hours=("6", "h")
    ) and "8 are the usual least" in told("pump", flow=("20", "gpm"), hours=("6", "h"))
    assert "takes 5.0 hours" in told("pump", flow=("50", "gpm"))
    assert "expired" in told("openings", cover_until="2026-07-13") and "expires in 0 days" in told(
        "openings", cover_until="2026-07-14"
    )
    assert (
        told("openings", cover_until="2027-07-14") == ""
        and "licensed" in told("openings", drains="1")
        and told("openings", drains="2") == ""
    )
    assert (
        expired_cover({"cover_until": "2026-07-13"}, TODAY)
        and not expired_cover({"cover_until": "2026-07-14"}, TODAY)
        and not expired_cover({}, TODAY)
    )
    assert "for life" in told("feeder", holds="trichlor") and told("cleaner", what="robot") == ""
    ends = [warranty(d, TODAY) for d in (None, date(2026, 7, 13), date(2026, 9, 12), date(2027, 1, 1))]
    assert ends[0] is None and [e.level for e in ends[1:]] == ["none", "watch", "none"]


def test_what_an_unknown_costs_is_said_until_it_is_known() -> None:
    for kind in KINDS.values():
        empty = unknowns(kind.id, {})
        assert len(empty) == len(set(empty)) and all(text.endswith((".", "?")) for text in empty)
        assert not facts(kind.id, {}, VOLUME, False, TODAY) or kind.id == "leveller"
    assert "Cannot size the setting: rated output missing." in unknowns("chlorinator", {})
    assert "Cannot size the setting: rated output missing." not in unknowns("chlorinator", {"output": 600.0})
    assert any("DE charge" in t for t in unknowns("filter", {"medium": "de"})) and not any(
        "DE charge" in t for t in unknowns("filter", {"medium": "sand"})
    )


@given(
    st.sampled_from([f for k in KINDS.values() for f in k.fields if f.kind == "number"]),
    st.floats(0, 1),
    st.data(),
)
def test_a_number_means_the_same_in_every_unit(field, share: float, data) -> None:  # type: ignore[no-untyped-def]
    """What is typed in one unit and what it is in the canonical one agree; past the limits it is refused in
    that unit.
    """
    kind = next(k for k in KINDS.values() if field in k.fields)
    unit = data.draw(st.sampled_from(sorted(UNITS[field.quantity])))
    value, factor = field.least + share * (field.most - field.least), UNITS[field.quantity][unit][1]

    def typed(canonical: float) -> dict[str, TypedField]:
        shown = canonical * 1.8 + 32 if unit == "f" else canonical / factor
        return {field.id: TypedField(repr(shown), unit)}

    assert checked(kind.id, typed(value), TODAY)[field.id] == pytest.approx(value, rel=1e-9, abs=1e-9)
    with pytest.raises(InvalidInput) as caught:
        checked(kind.id, typed(field.most * 1.5 + 1), TODAY)
    assert caught.value.fields[0].code == "out_of_range"


def test_what_clashes_is_what_the_practice_names() -> None:
    """Section 18: acid and chlorine, gas; calcium hypochlorite and trichlor, explosion; anything organic and
    an oxidiser, fire.
    """
    chlorines = [p.id for p in PRODUCTS.values() if p.group == "chlorine"]
    assert len(chlorines) == 8
    for acid in ("muriatic-31.45", "muriatic-14.5", "dry-acid-93.2"):
        assert all(clash(acid, c).harm == "chlorine gas" for c in chlorines)
    for cal_hypo in ("cal-hypo-65", "cal-hypo-73"):
        assert all(clash(cal_hypo, c).harm == "explosion and gas" for c in ("trichlor-90", "dichlor-56"))
    for organic in ("algaecide-polyquat-60", "clarifier", "enzyme", "stabilizer"):
        assert all(clash(organic, c).harm == "fire" for c in (*chlorines, "non-chlorine-shock"))
    for plain in ("salt", "calcium-chloride-77", "borax"):
        assert not any(clash(plain, p) for p in PRODUCTS)
    assert (
        all(clash(a, b) == clash(b, a) for a, b in combinations(PRODUCTS, 2))
        and clash("cal-hypo-65", "cal-hypo-73") is None
    )


@given(st.lists(st.sampled_from(sorted(PRODUCTS)), max_size=12))
def test_the_storage_plan_places_everything_once_and_nothing_beside_what_it_harms(ids: list[str]) -> None:
    places, apart = storage_plan(tuple(ids))
    standing = [p.id for place in places for p in (*place.above, *place.below)]
    assert sorted(standing) == sorted(set(ids))
    for place in places:
        assert not any(clash(a.id, b.id) for a, b in combinations((*place.above, *place.below), 2))
        assert all(p.form != "liquid" for p in place.above) and all(
            p.form == "liquid" for p in place.below
        )  # liquids under dry goods
    families = {family_of(i) for i in ids}
    named = {frozenset((family_of(x.one[0].id), family_of(x.other[0].id))) for x in apart}
    assert named == {
        frozenset((family_of(a), family_of(b))) for a, b in combinations(set(ids), 2) if clash(a, b)
    } and len(named) == len(apart)
    # As few as will do: no two places could be one, as families of either would clash.
    for one, other in combinations(places, 2):
        both = [(*one.above, *one.below), (*other.above, *other.below)]
        assert any(clash(a.id, b.id) for a in both[0] for b in both[1]) or "plain" in families
    assert storage_plan(tuple(reversed(ids))) == (places, apart)


def test_label_rates_scale_with_the_water_and_never_exceed_the_label() -> None:
    for product_id, rate in USUAL_RATES.items():
        for volume_l in (5_000.0, 57_000.0, 400_000.0):
            for system in ("us", "metric"):
                dose = label_dose(product_id, None, volume_l, system)  # type: ignore[arg-type]
                exact = rate * volume_l / (10_000 * L_PER_GAL)
                assert (
                    dose is not None
                    and not dose.own
                    and 0.8 * exact < dose.amount.canonical <= exact * (1 + 1e-9)
                )
    assert label_dose("clarifier", None, VOLUME, "us") is None
    with pytest.raises(ValueError, match="computed"):
        label_dose("salt", None, VOLUME, "us")
