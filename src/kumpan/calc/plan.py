"""``kumpan calc plan``: the application's own planner, on one document."""

from datetime import UTC, datetime
from typing import Any

from kumpan.calc.commands import Answer, Poured, refuse, shown
from kumpan.calc.documents import KnownWater, Plan, ProductSpec, Ready
from kumpan.core.dosing.planner import make_plan
from kumpan.core.dosing.request import AtHand, Choice, Finding, Later, PlanRequest, Step, Total
from kumpan.core.dosing.supply import ROLE_LABELS
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.guidance.conditions import SEEN
from kumpan.core.guidance.own_targets import checked_override
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import DAY_MIN, G_PER_UNIT, f_to_c, gal_to_l
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.core.water.state import WaterState, value_of, with_measures

# A measure by its key in a document, and the key by the measure.
_MEASURE_OF = {m.calc_key: m.id for m in MEASURES.values()}
_KEY_OF = {name: key for key, name in _MEASURE_OF.items()}
_KINDS = {"aerate": "wait"}


def plan(d: Plan) -> Answer:
    """Ordered steps, the diagnosis and the swim status: what the application shows for the same pool and
    readings.
    """
    made = make_plan(_request(d))
    return {
        "headline": made.headline,
        "steps": [_step(s) for s in made.steps],
        "diagnosis": [_finding(f) for f in made.findings],
        "swim": {
            "allowed": made.swim.allowed,
            "from": made.swim.from_min,
            "reasons": list(made.swim.reasons),
            "sentence": made.swim.sentence,
        },
        "needs_test": list(made.needs_test),
        "left_alone": list(made.left_alone),
        "refused": made.refused,
        "later": [_later(one) for one in made.later],
        "totals": [_total(one) for one in made.totals],
        "remainder": {
            one.role: {_size_of(one.product_id): one.nominal}
            for one in made.later
            if one.product_id and one.nominal
        },
    }


def _later(one: Later) -> Answer:
    answer: Answer = {
        "measure": _KEY_OF[one.measure],
        "sentence": one.sentence,
        "test": [_KEY_OF[m] for m in one.test],
        "at_min": one.at_min,
        "product": one.product_id,
    }
    if one.product_id is not None:
        size, least, most = _size_of(one.product_id), one.least, one.most
        answer |= {
            "least": {size: least.canonical if least else 0.0},
            "most": {size: most.canonical if most else 0.0},
        }
    return answer


def _total(one: Total) -> Answer:
    size = _size_of(one.product_id)
    return {
        "product": one.product_id,
        "strength": one.strength,
        "least": {size: one.least.canonical},
        "most": {size: one.most.canonical},
        "missing": one.missing,
    }


def _request(d: Plan) -> PlanRequest:
    unknown = [c for c in d.seen if c not in SEEN]
    if unknown:
        raise refuse(
            "seen",
            "unknown_choice",
            f"Kumpan does not know “{unknown[0][:40]}”. It knows: {', '.join(SEEN)}.",
        )
    if d.next_visits_days != sorted(set(d.next_visits_days)):
        raise refuse("next_visits_days", "not_ascending", "Name the visits in their order.")
    try:
        at = datetime.fromisoformat(d.at)
    except ValueError:
        raise refuse("at", "not_a_time", "A date and time such as 2026-07-01T12:00.") from None
    water, methods = _water(d.water), _methods(d)
    return PlanRequest(
        _traits(d),
        water,
        at if at.tzinfo else at.replace(tzinfo=UTC),
        _chosen(d.choose),
        {m: METHODS[by].u95(m, _value(d, water, m)) for m, by in methods.items()},
        system=d.measures,
        methods=methods,
        at_hand=None if d.products is None else tuple(_ready(r, i) for i, r in enumerate(d.products)),
        strength_95=d.strength_within,
        seen=frozenset(d.seen),
        stay_min=d.stay_min,
        visits_min=tuple(round(days * DAY_MIN) for days in d.next_visits_days),
        hold_days=d.hold_days,
        closed_pool=d.closed_pool,
        drain_later=d.drain_later,
        raise_calcium=d.raise_calcium,
        season_temp_c=None if d.season_temp_f is None else f_to_c(d.season_temp_f),
        trichlor_g_day=d.pool.tablets_3in_week and d.pool.tablets_3in_week * G_PER_UNIT["tablet_3in"] / 7,
        tc_ppm=d.water.tc_ppm,
    )


def _value(d: Plan, water: WaterState, measure: str) -> float:
    value = value_of(water, measure) if MEASURES[measure].in_state else d.water.tc_ppm
    return value or 0.0


def _methods(d: Plan) -> dict[str, str]:
    """By which method each measure was read, where that method reads it; one that was named for it must."""
    if not isinstance(d.methods, dict):
        said = dict.fromkeys(_given(d.water), d.methods)
        by_measure = {_MEASURE_OF[m]: by for m, by in said.items() if by != "exact"}
        return {m: by for m, by in by_measure.items() if m in METHODS[by].reads}
    methods = {_MEASURE_OF[m]: by for m, by in d.methods.items() if by != "exact"}
    for measure, by in methods.items():
        if measure not in METHODS[by].reads and measure != "temp":
            text = f"{METHODS[by].label} does not read this measure."
            raise refuse(f"methods.{_KEY_OF[measure]}", "method_cannot", text)
    return {m: by for m, by in methods.items() if m in METHODS[by].reads}


def _traits(d: Plan) -> PoolTraits:
    p = d.pool
    return PoolTraits(
        gal_to_l(p.volume_gal),
        p.surface,
        p.chlorine_source,
        p.installation,
        school=d.school,
        sun=p.sun,
        overrides=_overrides(d),
        borate_allowed=p.borate_allowed,
        volume_95=p.volume_within,
        fill=_water(p.fill),
        hose_l_h=p.hose_gal_h and gal_to_l(p.hose_gal_h),
        label_fc_ppm=p.label_fc_ppm,
        heater=p.heater,
        low_ground_water=p.ground_water == "low",
        cell_g_day=p.cell_g_day,
        feeder_dial=None if p.feeder_dial is None else (p.feeder_dial, p.feeder_dial_most),
        cell_setting=None
        if p.cell_percent is None or p.cell_hours is None
        else (p.cell_percent, p.cell_hours),
    )


def _given(water: KnownWater) -> list[str]:
    return [f for f in type(water).model_fields if getattr(water, f) is not None]


def _water(water: KnownWater) -> WaterState:
    values = {_MEASURE_OF[f]: getattr(water, f) for f in _given(water)}
    if "temp" in values:
        values["temp"] = f_to_c(values["temp"])
    return with_measures(WaterState(), values)


def _overrides(d: Plan) -> tuple[tuple[str, Any], ...]:
    owned: list[tuple[str, Any]] = []
    problems: list[FieldProblem] = []
    for key, target in d.pool.targets.items():
        try:
            figures = (target.low, target.aim, target.high)
            own = checked_override(_MEASURE_OF[key], figures, target.why, f"pool.targets.{key}")
            owned.append((_MEASURE_OF[key], own))
        except InvalidInput as error:
            problems += error.fields
    if problems:
        raise InvalidInput(*problems)
    return tuple(sorted(owned, key=lambda f: f[0]))


def _chosen(choose: dict[str, ProductSpec]) -> dict[str, Choice]:
    for role, spec in choose.items():
        if role not in ROLE_LABELS:
            raise refuse(f"choose.{role}", "unknown_role", f"A role is one of {', '.join(ROLE_LABELS)}.")
        Poured(spec, f"choose.{role}")
        if spec.basis not in (None, PRODUCTS[spec.id].basis):
            raise refuse(
                f"choose.{role}.basis",
                "wrong_basis",
                f"A plan takes its strength by {PRODUCTS[spec.id].basis}.",
            )
        if role not in PRODUCTS[spec.id].roles:
            raise refuse(f"choose.{role}.id", "wrong_role", f"{PRODUCTS[spec.id].name} does not do this.")
    return {role: Choice(spec.id, spec.strength) for role, spec in choose.items()}


def _ready(r: Ready, index: int) -> AtHand:
    field = f"products.{index}"
    poured = Poured(ProductSpec(id=r.id, strength=r.strength), field)
    if (r.stock is not None or r.pack is not None) and r.unit is None:
        raise refuse(f"{field}.unit", "missing", "Say in which unit stock and pack are.")
    if r.price is not None and r.pack is None:
        raise InvalidInput(
            FieldProblem(
                f"{field}.pack", "price_without_pack", "Say how much one package at this price holds."
            )
        )
    if not poured.computed:
        return AtHand(r.id)
    size = 1.0 if r.unit is None else poured.size_of(r.unit, f"{field}.unit")
    stock, pack = (None if v is None else v * size for v in (r.stock, r.pack))
    return AtHand(r.id, r.strength, stock, pack, None if r.price is None else round(r.price * 100))


def _size_of(product_id: str) -> str:
    return "volume_ml" if PRODUCTS[product_id].form == "liquid" else "mass_g"


def _step(step: Step) -> Answer:
    answer: Answer = {
        "kind": _KINDS.get(step.kind, step.kind),
        "start_min": step.start_min,
        "title": step.title,
        "product": step.product_id,
        "strength": step.strength,
        "amount": None,
        "unit": None,
        "wait_min": step.wait_min,
        "reason_id": step.reason_id,
        "sentence": step.sentence,
        "next_visit": False,
        "water": None if step.water is None else shown(step.water),
        "spent": None if step.spent is None else shown(step.spent),
    }
    if step.amount is not None and step.product_id is not None:
        answer |= {
            "amount": step.amount.value,
            "unit": step.amount.unit,
            _size_of(step.product_id): step.amount.canonical,
        }
        answer |= {
            "cost": None if step.cost_minor is None else step.cost_minor / 100,
            "warnings": list(step.warnings),
        }
    if step.to_ph is not None:
        answer["to_ph"] = step.to_ph
    if step.fraction is not None:
        answer["fraction"] = step.fraction
    if step.measures:
        answer["measures"] = [_KEY_OF[m] for m in step.measures]
    return answer


def _finding(f: Finding) -> Answer:
    band = f.band
    return {
        "measure": _KEY_OF[f.measure],
        "value": f.value,
        "plus_minus": f.u95,
        "word": f.verdict,
        "level": f.level,
        "sentence": f.sentence,
        "low": band and band.low,
        "aim": band and band.aim,
        "high": band and band.high,
        "reason_id": f.reason_id,
    }
