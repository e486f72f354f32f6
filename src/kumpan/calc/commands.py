"""The calculators: one function each, from a checked document to the answer. All chemistry is the core's."""

import math
from typing import Any

from kumpan.calc.documents import (
    Addition,
    Aerate,
    Dilute,
    Dose,
    Effect,
    ProductSpec,
    Saturation,
    Speciation,
    Water,
)
from kumpan.core.chemistry import constants as k
from kumpan.core.chemistry.chlorine import forms_of
from kumpan.core.chemistry.saturation import dissolved_solids_ppm, langelier_index, other_alkalinity_ppm
from kumpan.core.errors import FieldProblem, InvalidInput, KumpanError
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.products.product import Basis, Product
from kumpan.core.units import G_PER_UNIT, ML_PER_UNIT, UNIT_LABELS, c_to_f, f_to_c, gal_to_l
from kumpan.core.water.air import in_air
from kumpan.core.water.conflicts import conflict_of
from kumpan.core.water.state import (
    Change,
    WaterState,
    amount_to_ph,
    apply,
    exchanged,
    largest_amount,
    mixed,
    solution_of,
)

Answer = dict[str, Any]
_LINEAR = {
    "fc_ppm": ("cl2", 1000 * k.CL2),
    "ta_ppm": ("alk", k.TA_PPM_PER_EQ_L),
    "ch_ppm": ("ca", k.CH_PPM_PER_MOL_L),
    "cya_ppm": ("cya", 1000 * k.CYANURIC),
    "borate_ppm": ("b", 1000 * k.BORON),
    "salt_ppm": ("salt_ppm", 1.0),
}
NOT_COMPUTED = "effect not computed: this product is dosed by its label"


def refuse(field: str, code: str, message: str) -> InvalidInput:
    """The error to raise for one wrong field."""
    return InvalidInput(FieldProblem(field, code, message))


def _state(water: Water, path: str) -> WaterState:
    """The core's water; refuses one that cannot be, naming the reading to take again."""
    state = WaterState(
        fc_ppm=water.fc_ppm,
        cc_ppm=water.cc_ppm,
        ph=water.ph,
        ta_ppm=water.ta_ppm,
        ch_ppm=water.ch_ppm,
        cya_ppm=water.cya_ppm,
        salt_ppm=water.salt_ppm,
        temp_c=f_to_c(water.temp_f),
        borate_ppm=water.borate_ppm,
        sulfate_ppm=0.0,
    )
    if state.has_ph_chemistry and (conflict := conflict_of(state)):
        first = conflict.retest
        others = [f for f in conflict.fields if f != first]
        raise InvalidInput(
            FieldProblem(f"{path}{first}", conflict.code, conflict.message),
            *(FieldProblem(f"{path}{f}", conflict.code, "Conflicts with the others.") for f in others),
        )
    return state


def _required(water: Water, path: str) -> WaterState:
    for field in ("ph", "ta_ppm"):
        if getattr(water, field) is None:
            raise refuse(f"{path}{field}", "missing", "The answer depends on it: give this reading.")
    return _state(water, path)


def shown(state: WaterState) -> Answer:
    """A water as documents spell it. pH null: it cannot be had from what was given."""
    return {
        "ph": state.ph,
        "ta_ppm": state.ta_ppm,
        "fc_ppm": state.fc_ppm,
        "cc_ppm": state.cc_ppm,
        "ch_ppm": state.ch_ppm,
        "cya_ppm": state.cya_ppm,
        "salt_ppm": state.salt_ppm,
        "borate_ppm": state.borate_ppm,
        "temp_f": None if state.temp_c is None else c_to_f(state.temp_c),
    }


class Poured:
    """A product as a document names it: known, at a strength its chemistry allows."""

    def __init__(self, spec: ProductSpec, field: str) -> None:
        known = PRODUCTS.get(spec.id)
        if known is None:
            raise refuse(field, "unknown_product", f"“{spec.id[:40]}” is not a product Kumpan knows.")
        self.product: Product = known
        self.bulk_density = spec.bulk_density_kg_l
        self.strength: float | None = spec.strength
        self.basis: Basis | None = spec.basis
        if known.active is None:
            return
        try:
            weight = known.moles_per_unit(spec.strength, spec.basis) * known.active.molar_mass
        except ValueError as error:
            raise refuse(f"{field}.basis", "wrong_basis", f"{known.name}: {error}.") from None
        if known.form != "liquid" and weight > 1.001:
            raise refuse(
                f"{field}.strength",
                "too_strong",
                f"{known.name} cannot be that strong: it would be more than pure.",
            )
        if known.form == "liquid" and spec.strength is not None and spec.strength > known.most_strength:
            most = f"{known.most_strength * 100:g} %"
            raise refuse(
                f"{field}.strength", "too_strong", f"{known.name} is not sold or stable above {most}."
            )

    @property
    def computed(self) -> bool:
        """Whether its effect is computed; a product dosed by its label has none."""
        return self.product.active is not None

    def per_unit(self, volume_gal: float) -> Change:
        """What 1 g or mL of it brings to this pool."""
        return self.product.change_per_unit(gal_to_l(volume_gal), self.strength, self.basis)

    def size_of(self, unit: str, field: str) -> float:
        """Grams (dry) or millilitres (liquid) in one unit."""
        liquid = self.product.form == "liquid"
        if unit.startswith("tablet") and self.product.form != "tablet":
            raise refuse(field, "wrong_unit", f"{self.product.name} does not come as tablets.")
        if unit.startswith("bag") and liquid:
            raise refuse(field, "wrong_unit", f"{self.product.name} does not come in bags.")
        if liquid and unit in G_PER_UNIT:
            return G_PER_UNIT[unit] / self.product.grams_per_ml(self.strength, self.basis)
        if not liquid and unit in ML_PER_UNIT:
            if self.bulk_density is None:
                text = (
                    f"{self.product.name} is dry: {UNIT_LABELS[unit]} need its bulk density"
                    " (bulk_density_kg_l), or weigh it."
                )
                raise refuse(field, "needs_bulk_density", text)
            return ML_PER_UNIT[unit] * self.bulk_density
        return ML_PER_UNIT[unit] if liquid else G_PER_UNIT[unit]

    def natural_unit(self, amount: float) -> str:
        """The unit an amount (g or mL) is told in when none is asked for."""
        if self.product.form == "liquid":
            return "fl_oz"
        return "oz" if amount < G_PER_UNIT["lb"] else "lb"


def speciation(d: Speciation) -> Answer:
    """HOCl, OCl- and chlorine bound on stabilizer, ideal solution, ppm as Cl2."""
    forms = forms_of(d.fc_ppm, d.ph, d.cya_ppm, f_to_c(d.temp_f))
    return {"hocl_ppm": forms.hocl_ppm, "ocl_ppm": forms.ocl_ppm, "bound_ppm": forms.bound_ppm}


def saturation(d: Saturation) -> Answer:
    """The calcite saturation index from the equilibrium, and Langelier's beside it."""
    water = Water(**{f: getattr(d, f) for f in Water.model_fields})
    state = _required(water, "")
    temp_c = f_to_c(d.temp_f)
    tds = d.tds_ppm
    if tds is None:
        tds = dissolved_solids_ppm(d.ta_ppm, d.ch_ppm, d.cya_ppm, d.salt_ppm, d.borate_ppm)
    corrected = d.ta_ppm - other_alkalinity_ppm(d.ph, temp_c, d.cya_ppm, d.borate_ppm, d.fc_ppm)
    s = solution_of(state)
    ppm = k.TA_PPM_PER_EQ_L
    return {
        "si": s.si_calcite,
        "langelier": langelier_index(d.ph, temp_c, d.ch_ppm, corrected, tds) if corrected > 0 else None,
        "carbonate_alkalinity_ppm": corrected,
        "tds_ppm": tds,
        "pco2_uatm": s.co2_atm * 1e6,
        "ionic_strength": s.ionic_strength,
        "alkalinity_parts_ppm": {
            "carbonate": s.carbonate_alk * ppm,
            "cyanurate": s.cyanurate_alk * ppm,
            "borate": s.borate_alk * ppm,
            "hypochlorite": s.hypochlorite_alk * ppm,
            "hydroxide": s.water_alk * ppm,
        },
    }


def effect(d: Effect) -> Answer:
    """The water once these products are in, and once the chlorine they brought is spent."""
    state = _required(d.water, "water.")
    total, left = Change(), []
    for index, addition in enumerate(d.additions):
        field = f"additions.{index}"
        poured = Poured(addition.product, f"{field}.product")
        if not poured.computed:
            left.append({"product": poured.product.id, "reason": NOT_COMPUTED})
            continue
        total += _change(addition, poured, d.volume_gal, field)
        _fits(total, f"{field}.amount")
    answer = _now_and_spent(state, total, f"additions.{len(d.additions) - 1}.amount")
    return answer | ({"not_computed": left} if left else {})


def _change(addition: Addition, poured: Poured, volume_gal: float, field: str) -> Change:
    amount = addition.amount * poured.size_of(addition.unit, f"{field}.unit")
    return poured.per_unit(volume_gal) * amount


def _fits(change: Change, field: str) -> None:
    if largest_amount(change) < 1:
        text = (
            "That is more than the chemistry holds for (2,500 ppm of alkalinity, or as much of anything"
            " else)."
        )
        raise refuse(field, "out_of_range", text)


def _now_and_spent(state: WaterState, change: Change, field: str) -> Answer:
    try:
        now = apply(state, change)
    except KumpanError as error:
        raise refuse(field, error.code, error.message) from None
    spent = apply(state, change.spent) if change.cl2 > 0 else now
    return {"water": shown(now), "spent": shown(spent)}


def dose(d: Dose) -> Answer:
    """How much of a product brings a measure to a target, and the water after it."""
    poured = Poured(d.product, "product")
    if not poured.computed:
        raise refuse("product", "effect_not_computed", f"{poured.product.name}: {NOT_COMPUTED}.")
    state = _required(d.water, "water.") if d.measure == "ph" else _state(d.water, "water.")
    per_unit = poured.per_unit(d.volume_gal)
    amount = (
        _to_ph(d, state, per_unit, poured) if d.measure == "ph" else _to_level(d, state, per_unit, poured)
    )
    unit = d.unit or poured.natural_unit(amount)
    answer = _now_and_spent(state, per_unit * amount, "to")
    size = "volume_ml" if poured.product.form == "liquid" else "mass_g"
    return {"amount": amount / poured.size_of(unit, "unit"), "unit": unit, size: amount, **answer}


def _to_ph(d: Dose, state: WaterState, per_unit: Change, poured: Poured) -> float:
    low, high = 4.0, 11.0
    if not low <= d.to <= high:
        raise refuse("to", "out_of_range", f"A pH between {low:g} and {high:g}.")
    amount = amount_to_ph(state, per_unit, d.to)
    if amount is None:
        text = f"{poured.product.name} does not bring pH from {state.ph:.2f} to {d.to:g}."
        raise refuse("to", "unreachable", text)
    return amount


def _to_level(d: Dose, state: WaterState, per_unit: Change, poured: Poured) -> float:
    name = poured.product.name
    if d.measure not in _LINEAR:
        raise refuse("measure", "not_dosed", "No product doses this measure.")
    have = getattr(state, d.measure)
    if have is None:
        raise refuse(f"water.{d.measure}", "missing", "The answer depends on it: give this reading.")
    part, ppm = _LINEAR[d.measure]
    rise = getattr(per_unit, part) * ppm
    if not rise:
        raise refuse("measure", "not_moved", f"{name} does not move this measure.")
    amount = float((d.to - have) / rise)
    if d.to < 0 and d.measure != "ta_ppm":
        raise refuse("to", "out_of_range", "There is no less than none.")
    if amount < 0:
        verb = "raises" if rise > 0 else "lowers"
        raise refuse("to", "unreachable", f"{name} only {verb} this measure; it stands at {have:g}.")
    _fits(per_unit * amount, "to")
    return amount


def dilute(d: Dilute) -> Answer:
    """Water replaced by fill water: drained and refilled, or run through while it overflows."""
    pool, fill = _state(d.water, "water."), _state(d.fill, "fill.")
    _one_question(d)
    share = _share_for(d, pool, fill) if d.fraction is None else d.fraction
    if d.fraction is not None and d.method == "overflow":
        share = -math.expm1(-d.fraction)
    elif share > 1:
        raise refuse("fraction", "out_of_range", "By draining, at most all of the water is replaced: 1.")
    fraction = d.fraction
    if fraction is None:
        fraction = share if d.method == "drain" else -math.log1p(-share)
    answer = {
        "replace_gal": fraction * d.volume_gal,
        "fraction": fraction,
        "exchanged": share,
        "water": shown(mixed(pool, fill, share)),
    }
    missing = _untested(pool, fill)
    return answer | ({"ph_needs": missing} if missing else {})


def _untested(pool: WaterState, fill: WaterState) -> list[str]:
    """What pH of the mixture would need and nobody gave."""
    return [
        f"{path}.{name}"
        for path, water in (("water", pool), ("fill", fill))
        for name in ("ph", "ta_ppm")
        if getattr(water, name) is None
    ]


def _one_question(d: Dilute) -> None:
    """Either how much is replaced, or what it should come to."""
    if (d.fraction is None) == (d.measure is None):
        raise refuse("fraction", "one_of", "Give either fraction, or measure and to.")
    if d.measure is not None and d.to is None:
        raise refuse("to", "missing", "Say what the measure should come to.")
    if d.measure is None and d.to is not None:
        raise refuse("measure", "missing", "Say which measure should come to that.")


def _share_for(d: Dilute, pool: WaterState, fill: WaterState) -> float:
    """The share of pool water that must be fill water for the measure to come to its target."""
    assert d.measure is not None and d.to is not None
    if d.measure == "ph":
        for missing in _untested(pool, fill):
            raise refuse(missing, "missing", "The answer depends on it: give this reading.")
        return _share_for_ph(d, pool, fill)
    field, to = ("temp_c", f_to_c(d.to)) if d.measure == "temp_f" else (d.measure, d.to)
    have, brings = getattr(pool, field), getattr(fill, field)
    for path, value in (("water", have), ("fill", brings)):
        if value is None:
            raise refuse(f"{path}.{d.measure}", "missing", "The answer depends on it: give this reading.")
    share = 0.0 if have == to else (have - to) / (have - brings) if have != brings else -1.0
    most = 1.0 if d.method == "drain" else math.nextafter(1.0, 0.0)
    if not 0 <= share <= most or (d.method == "overflow" and share > 1 - 1e-9):
        shown = c_to_f(brings) if d.measure == "temp_f" else brings
        raise refuse("to", "unreachable", f"Fill water at {shown:g} does not bring it there.")
    return float(share)


def _share_for_ph(d: Dilute, pool: WaterState, fill: WaterState) -> float:
    """The least share at which pH passes its target: pH need not run straight between the two waters."""
    assert d.to is not None and pool.ph is not None
    if abs(pool.ph - d.to) < 1e-9:
        return 0.0
    grid = [i / 200 for i in range(201 if d.method == "drain" else 200)]
    above = pool.ph > d.to

    def passed(share: float) -> bool:
        return ((mixed(pool, fill, share).ph or 0.0) > d.to) != above  # type: ignore[operator]

    first = next((g for g in grid if passed(g)), None)
    if first is None:
        raise refuse("to", "unreachable", "This fill water does not bring pH there.")
    low, high = max(0.0, first - 1 / 200), first
    for _ in range(40):
        middle = exchanged(low, 0.5, high)
        low, high = (low, middle) if passed(middle) else (middle, high)
    return high


def aerate(d: Aerate) -> Answer:
    """The water once its CO2 is in balance with this air."""
    state = _required(d.water, "water.")
    after = in_air(state, d.pco2_uatm)
    return {"water": shown(after), "pco2_uatm_before": solution_of(state).co2_atm * 1e6}
