"""From readings to the right next actions, in order, with waits: water + additions -> water."""

from dataclasses import dataclass, replace

from kumpan.core.amounts import System, describe, rounded_down, tool_for
from kumpan.core.dosing import sizing as n
from kumpan.core.dosing.findings import diagnose, dilution_goal, dilution_share, is_low, must_dilute
from kumpan.core.dosing.request import Alternative, DosePlan, PlanRequest, Step
from kumpan.core.dosing.schedule import Portion, Stay, place
from kumpan.core.dosing.simulate import dilution_step, pour, swim, wait_step, with_retests
from kumpan.core.dosing.supply import Supply, alternatives, lacking, supply_for
from kumpan.core.dosing.uncertainty import Doubts, low_side, sure_margin
from kumpan.core.guidance.conditions import tells_of_growth
from kumpan.core.guidance.schools import FC_CAP
from kumpan.core.guidance.targets import Band, bands_for, chlorine_band
from kumpan.core.phrasing import rows, verdict
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.water.conflicts import conflict_of
from kumpan.core.water.implausible import PH_WORK, doubtful_readings
from kumpan.core.water.measures import MEASURE_OF_ROLE, MEASURES
from kumpan.core.water.state import Change, WaterState, aerated, amount_to_ph, apply, value_of
from kumpan.core.water.untested import allowing_for

# pH in a single addition: moved by at most, and never predicted under (common practice: our own rule;
# common practice).
SINGLE_PH, LEAST_PH = 0.4, 7.2
# Less than this to go before the least pH is not worth a round of acid: air first (our own).
_ROUND_PH = 0.1
_MOST_PORTIONS, _MOST_ROUNDS = 60, 60


def make_plan(request: PlanRequest) -> DosePlan:
    """Diagnose this water and plan what to add, in the trade's order with its waits.

    Exact readings, volume and strength: applying every step and planning again asks for nothing beyond
    rounding. With uncertain ones the first addition of each product passes the far edge of its band in fewer
    than 1 in 20 cases, and the re-test decides the rest. A measure that is unknown is never guessed: what
    needs it is left out and named in ``needs_test``.
    """
    request = replace(request, water=allowing_for(request.water))
    water, traits = request.water, request.traits
    findings = diagnose(water, traits, request.u95, request.methods)
    conflict = conflict_of(water) if water.has_ph_chemistry else None
    doubtful = doubtful_readings(water, request.read, request.expected)
    held = frozenset().union(*(d.holds_back for d in doubtful), PH_WORK if conflict else ())
    if tells_of_growth(request.seen):
        held |= {"raise_cya"}
    supply = supply_for(traits, water, request.choices, request.at_hand)
    bands = bands_for(traits, water.cya_ppm)
    fc_urgent = water.fc_ppm is not None and is_low(water.fc_ppm, bands["fc"])
    sizing = _Sizing(request, supply, held)
    share = _dilution(request, bands)
    portions = (sizing.first_aid() if fc_urgent else []) if share else sizing.portions()
    local_min = request.now.hour * 60 + request.now.minute
    stay = Stay(local_min, request.stay_min, request.next_visit_min)
    placed = place(portions, fc_urgent, stay)
    steps, now, spent = pour(water, placed, request, stay)
    steps = _supplied(steps, sizing, request, supply)
    if share:
        step, now, spent = dilution_step(steps, now, spent, share, findings, request, stay)
        steps = [*steps, step]
    elif water.fc_ppm is not None and water.fc_ppm > FC_CAP and "lower_fc" not in request.choices:
        steps = [wait_step(water.fc_ppm, water, traits), *steps]
    steps = with_retests(steps, placed, sizing.rests(), stay)
    needs_test = verdict.needs_test(water, conflict, steps, doubtful, sizing.too_coarse, findings)
    return DosePlan(
        headline=verdict.headline(findings, steps, needs_test, water),
        findings=findings,
        steps=tuple(steps),
        left_alone=(
            *(why for role, why in supply.refused.items() if any(s.role == role for s in steps)),
            *verdict.left_alone(findings, traits, share, tuple(steps), sizing.ta_first, request.seen),
        ),
        needs_test=needs_test,
        swim=swim(water, traits, steps, request),
        before=water,
        now=now,
        spent=spent,
        choices=supply.choices,
        refused=supply.refused,
        remainder={role: left.amount for role, left in sizing.left.items()},
    )


def _dilution(request: PlanRequest, bands: dict[str, Band]) -> float:
    """Share to replace so that everything only dilution lowers is back in its band; 0 for none."""
    share = 0.0
    for measure in (m.id for m in MEASURES.values() if m.dilutes):
        value, band = value_of(request.water, measure), bands[measure]
        if (
            value is not None
            and band.high is not None
            and must_dilute(value, band, request.u95.get(measure, 0.0))
        ):
            fill = value_of(request.traits.fill, measure) or 0.0
            goal = dilution_goal(band, fill)
            share = max(
                share, dilution_share(value, goal, fill) if goal is not None and goal < value else 0.0
            )
    return share


def _supplied(steps: list[Step], sizing: "_Sizing", request: PlanRequest, supply: Supply) -> list[Step]:
    """Each addition with what it costs and what the stock lacks; other products beside the first of each
    role.
    """
    told: list[Step] = []
    used: dict[str, float] = {}
    for step in steps:
        if step.amount and step.product_id:
            role = "lower_ph" if step.role == "lower_ta" else step.role
            entry, product, first = supply.at_hand.get(role), PRODUCTS[step.product_id], role not in used
            used[role] = used.get(role, 0.0) + step.amount.canonical
            short = lacking(
                entry,
                request.at_hand is not None,
                product,
                used[role],
                request.system,
                request.traits.volume_l,
            )
            others: tuple[Alternative, ...] = ()
            if first and step.role in sizing.wanted.needs:
                amount, base = sizing.wanted.needs[step.role].amount, sizing.without(step.role)
                others = alternatives(role, amount, supply.choices[role], base, request)
            cost = entry.cost_minor(step.amount.canonical) if entry else None
            step = replace(step, cost_minor=cost, warnings=(short,) if short else (), alternatives=others)
        told.append(step)
    return told


@dataclass(frozen=True)
class _Left:
    """What of a need waits for the re-test: an amount (g or mL) of a product, to what aim."""

    need: n.Need
    amount: float


class _Sizing:
    """How much of everything: what the water needs, no more of it at first than the tests can justify, in
    additions within their limits.
    """

    def __init__(self, request: PlanRequest, supply: Supply, held: frozenset[str]) -> None:
        self.request, self.traits, self.held = request, request.traits, held
        self.wanted = n.Wanted(request.water, request.traits, supply.choices, request.u95)
        self.doubts = Doubts(request.water, request.u95, request.traits.volume_95, request.strength_95)
        self.ta_first = ta_far_too_high(request) and not (held & PH_WORK)
        self.left: dict[str, _Left] = {}
        self.too_coarse: list[str] = []

    def first_aid(self) -> list[Portion]:
        """Chlorine to the present minimum only: most of the water is about to be replaced."""
        w, water = self.wanted, self.request.water
        low = min(FC_CAP, chlorine_band(water.cya_ppm, self.traits).low or 0.0)
        w.put("raise_fc", (low - (water.fc_ppm or 0.0)) / w.per_unit("raise_fc", "fc_ppm"))
        return [portion for need in w.needs.values() for portion in self._portions(need)]

    def portions(self) -> list[Portion]:
        """Every addition of this plan, unplaced."""
        w = self.wanted
        ta_first = self.ta_first
        n.chlorine_and_stabilizer(w, stabilizer_waits=ta_first or "raise_cya" in self.held)
        if "lower_fc" in self.request.choices:
            n.neutralise(w)
        if not ta_first:
            n.simple_rises(w, self.held)
        for role in list(w.needs):  # acid and base are sized on what is poured before the next test
            self._cap(role)
        if not ta_first and not self.held & PH_WORK:
            n.balance(w)
            for role in ("raise_ta", "lower_ph", "raise_ph"):
                if role in w.needs:
                    self._cap(role)
            n.base_after_stabilizer(w)
        portions: list[Portion] = []
        for need in w.needs.values():
            if need.product is None:
                portions.append(Portion(need, 0.0, (1, 1)))
            elif need.amount > 0:
                portions += self._now_and_late(need)
        return portions + self._ta_rounds(self.request.system) if ta_first else portions

    def _now_and_late(self, need: n.Need) -> list[Portion]:
        """The portions of a need, those that wait for stabilizer last."""
        if not need.late:
            return self._portions(need)
        now = self._portions(replace(need, amount=need.amount - need.late))
        poured = sum(t.amount for t in now)
        late = [replace(t, late=True) for t in self._portions(replace(need, amount=need.amount - poured))]
        both = [*now, *late]
        return [replace(t, need=need, part=(i + 1, len(both))) for i, t in enumerate(both)]

    def without(self, role: str) -> WaterState:
        """The water with everything of the plan in but this role's product, its chlorine spent."""
        total = Change()
        for need in self.wanted.needs.values():
            if need.product is not None and need.role != role:
                total += need.change(need.amount, self.traits.volume_l)
        return apply(self.request.water, total.spent)

    def _cap(self, role: str) -> None:
        """Leave of a need what may be poured before the next test; remember the rest."""
        w = self.wanted
        need = w.needs[role]
        if need.product is None or need.amount <= 0:
            return
        total = need.amount
        first = total if self.doubts.exact else min(total, self._justified(need))
        tablet = need.product.form == "tablet"
        if first == total and not tablet:
            return
        poured = sum(t.amount for t in self._portions(replace(need, amount=first)))
        # Sized on what is poured where rounding is coarse; else unrounded, so that ounces or grams decide
        # nothing.
        w.put(role, poured if tablet else first)
        tool = tool_for(total - first, form_of(need.product), self.request.system, self.traits.volume_l)
        if first < total and total - poured >= tool.step:
            self.left[role] = _Left(need, total - poured)
            if poured == 0:
                self.too_coarse.append(role)

    def _justified(self, need: n.Need) -> float:
        """Units (g or mL) that pass the far edge of their band in fewer than 1 in 20 cases."""
        w, water = self.wanted, self.request.water
        bands = bands_for(self.traits, w.after.cya_ppm)
        role = need.role
        if role == "lower_fc":  # by full oxidation it can take no more than this; in practice less
            return need.amount
        if role in ("lower_ph", "raise_ph"):
            edge = bands["ph"].low if role == "lower_ph" else bands["ph"].high
            if edge is None or not water.has_ph_chemistry:
                return need.amount
            others = Change()
            for other in w.needs.values():
                if other.product is not None and other.role != role:
                    others += other.change(other.amount, self.traits.volume_l).spent
                elif other.product is None:
                    others += Change(carbon=other.carbon)
            return self.doubts.most_to_ph(
                others,
                need.change(1.0, self.traits.volume_l).spent,
                max(edge, LEAST_PH) if role == "lower_ph" else edge,
            )
        measure = role.removeprefix("raise_")
        value, edge = value_of(water, measure), bands[measure].high if measure in bands else None
        if value is None or edge is None:
            return need.amount
        if measure == "ta":
            edge = max(edge, value)
        per_unit = w.per_unit(role, MEASURES[measure].field)
        before = value
        if measure in ("cya", "ch"):  # what chlorine brings of it counts too
            before = value_of(self.without(role), measure) or value
        return self.doubts.most_to_level(measure, before, per_unit, edge)

    def rests(self) -> dict[str, str]:
        """Measure -> what its re-test will probably still ask for."""
        told = {}
        for role, left in self.left.items():
            assert left.need.product is not None
            form = form_of(left.need.product)
            tool = tool_for(left.amount, form, self.request.system, self.traits.volume_l)
            amount = describe(rounded_down(left.amount, tool), tool, form)
            measure = MEASURE_OF_ROLE[role]
            aim = bands_for(self.traits, self.wanted.after.cya_ppm)[measure].aim
            told[measure] = rows.rest(measure, role, aim, amount, left.need.product.short)
        return told

    def _portions(self, need: n.Need) -> list[Portion]:
        """Split a need into additions that each stay within the largest single one, in whole tool steps."""
        assert need.product is not None
        most = self._most_at_once(need)
        count = max(1, -(-need.amount // most)) if most < need.amount else 1
        form = form_of(need.product)
        tool = tool_for(need.amount / count, form, self.request.system, self.traits.volume_l)
        total = round(rounded_down(need.amount, tool) / tool.step)
        room = max(1, int(most / tool.step + 1e-6))
        pieces = min(_MOST_PORTIONS, -(-total // room))
        portions = []
        for i in range(pieces):
            whole = total * (i + 1) // pieces - total * i // pieces
            portions.append(Portion(need, whole * tool.step, (i + 1, pieces)))
        return portions

    def _most_at_once(self, need: n.Need) -> float:
        """Largest single addition of a product here, in g or mL: the product's own and the mixed water's."""
        product, traits, reference = need.product, self.traits, self.wanted.after
        assert product is not None
        most = min(need.amount, n.most_at_once(product, need.strength, traits.volume_l))
        if reference.ph is None or product.group not in ("acid", "carbonate", "borate", "chlorine"):
            return most
        # pH moves most per gram at one end of the way or the other: judged from the water before and after
        # all additions.
        per_unit = need.change(1.0, traits.volume_l).spent
        if not (per_unit.alk or per_unit.carbon or per_unit.cya):  # liquid chlorine gives back what it took
            return most
        for edge, way in ((self.request.water, per_unit), (reference, per_unit * -1.0)):
            for far in (-SINGLE_PH, SINGLE_PH):
                if edge.ph is not None and edge.has_ph_chemistry:
                    most = min(most, amount_to_ph(edge, way, edge.ph + far) or most)
        return most

    def _ta_rounds(self, system: System) -> list[Portion]:
        """Acid down, air back up, for alkalinity beyond leaving alone (common practice)."""
        w = self.wanted
        band = bands_for(w.traits, w.water.cya_ppm)["ta"]
        water = w.after
        assert band.act_above is not None
        choice = w.choices["lower_ph"]
        acid = n.Need("lower_ta", PRODUCTS[choice.product_id], choice.strength, 1e9)
        assert acid.product is not None
        volume_l = w.traits.volume_l
        limit = n.most_at_once(acid.product, acid.strength, volume_l)
        air = n.Need("lower_ta", None, None, to_ph=n.AERATE_BACK_PH)
        portions: list[Portion] = []
        top = bands_for(w.traits, w.water.cya_ppm)["ph"].high or 0.0
        # As far above the least pH as the reading may be wrong: no first addition may pass it but in 1 case
        # in 20.
        least = LEAST_PH + low_side(self.request.u95.get("ph", 0.0))
        while ((water.ta_ppm or 0) > band.act_above - 1 or (water.ph or 0) > top) and len(
            portions
        ) < 2 * _MOST_ROUNDS:
            if (water.ph or 0) < least + _ROUND_PH:
                portions.append(Portion(air, 0.0, (len(portions) + 1, 0)))
                water = aerated(water, n.AERATE_BACK_PH)
            base = water
            goal = max(least, (base.ph or 0.0) - SINGLE_PH)
            dose = min(limit, amount_to_ph(base, acid.change(1.0, volume_l), goal) or 0.0)
            tool = tool_for(dose, form_of(acid.product), system, volume_l)
            dose = rounded_down(dose, tool)
            if dose <= 0:
                break
            portions.append(Portion(acid, dose, (len(portions) + 1, 0)))
            water = apply(water, acid.change(dose, volume_l))
        if (water.ph or 8) < LEAST_PH + 0.2:
            portions.append(Portion(air, 0.0, (len(portions) + 1, 0)))
        return [Portion(t.need, t.amount, (t.part[0], len(portions))) for t in portions]


def ta_far_too_high(request: PlanRequest) -> bool:
    """Whether alkalinity is beyond leaving alone. It is then set before all but chlorine, as the trade's
    order has it.
    """
    water = request.water
    band = bands_for(request.traits, water.cya_ppm)["ta"]
    if band.act_above is None or not water.has_ph_chemistry:
        return False
    return (water.ta_ppm or 0.0) > band.act_above + sure_margin(request.u95.get("ta", 0.0))
