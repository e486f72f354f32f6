"""From readings to what to do now, until the next test that decides; and what is likely to follow.

A plan is closed-loop: the acts of one visit, each no larger than its reading can justify, then a test. It is
made again from that test, so nothing is dosed today against what a model foretells for next week.
"""

from dataclasses import replace

from kumpan.core.dosing.acts import Act
from kumpan.core.dosing.later import totals_of, what_follows
from kumpan.core.dosing.request import Alternative, DosePlan, PlanRequest, Step
from kumpan.core.dosing.simulate import drain, pour, swim, test_steps, wait_step
from kumpan.core.dosing.situation import Situation
from kumpan.core.dosing.supply import alternatives, lacking
from kumpan.core.dosing.visit import awake, choose, place, tests_after
from kumpan.core.phrasing import verdict
from kumpan.core.phrasing.rows import BLEACHED, retest_step, thinned_step
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import DAY_MIN
from kumpan.core.water.state import Change, WaterState, apply


def make_plan(request: PlanRequest) -> DosePlan:
    """Diagnose this water and plan the visit: at most three acts in the trade's order with their waits, then
    the test that decides the rest.

    Exact readings, volume and strength: pour, test and plan again settle every measure in its band. With
    uncertain ones an act passes the far edge of its band in fewer than 1 in 20 cases. A measure that is
    unknown is never guessed: what needs it is left out and named in ``needs_test``.

    Canonical units inside the plan; minutes from now. Sources stand with each rule
    (``guidance.reasons``).
    """
    s = Situation(request)
    chosen = choose(s)
    placed = place(s, chosen)
    steps, now, spent = pour(s, placed)
    steps = _supplied(steps, chosen, s)
    if s.drain_share:
        steps, now = drain(s)
        spent = now
    else:
        if s.too_much_chlorine and not chosen and not s.stopped:
            daily = retest_step(0, awake(s, DAY_MIN), ("fc",), {})
            steps = [
                wait_step(s),
                replace(daily, sentence="Read it daily; pH once, when it is at 10 or less."),
            ]
        steps += test_steps(tests_after(s, placed), placed, steps, s)
    if s.chlorine_in_doubt and not s.stopped:
        steps = [thinned_step("fc", BLEACHED), *steps]
    steps = sorted(steps, key=lambda x: (x.start_min, x.kind == "retest" and not s.chlorine_in_doubt))
    decided_min = max((x.start_min for x in steps), default=0)
    held = replace(spent, fc_ppm=now.fc_ppm)
    later = what_follows(s, chosen, held, decided_min)
    missing = verdict.needs_test(s, steps)
    acts = {act.role for act in chosen}
    return DosePlan(
        headline=verdict.headline(s, steps, missing),
        findings=s.findings,
        steps=tuple(steps),
        left_alone=verdict.left_alone(s, steps),
        needs_test=missing,
        swim=swim(s, placed),
        before=s.water,
        now=now,
        spent=spent,
        choices=s.supply.choices,
        refused=s.supply.refused,
        later=later,
        calcium_wish_ppm=None if s.drain_share or acts - {"raise_ch"} else s.calcium_wish_ppm,
        totals=totals_of(s.request, chosen, later, s.supply.at_hand),
    )


def _supplied(steps: list[Step], chosen: list[Act], s: Situation) -> list[Step]:
    """Each addition with what it costs, what the stock lacks, and other products that would do."""
    supplied = []
    for step in steps:
        if step.amount and step.product_id:
            entry, product = s.supply.at_hand.get(step.role), PRODUCTS[step.product_id]
            short = lacking(entry, product, step.amount.canonical, s.request)
            others: tuple[Alternative, ...] = ()
            if step.role != "lower_fc":
                wanted = next(act.wanted for act in chosen if act.role == step.role)
                base = _without(step.role, chosen, s)
                others = alternatives(
                    step.role,
                    min(wanted, step.amount.canonical),
                    s.supply.choices[step.role],
                    base,
                    s.request,
                )
            cost = entry.cost_minor(step.amount.canonical) if entry else None
            step = replace(step, cost_minor=cost, warnings=(short,) if short else (), alternatives=others)
        supplied.append(step)
    return supplied


def _without(role: str, chosen: list[Act], s: Situation) -> WaterState:
    """The water with every act of the visit in but this role's, its chlorine spent."""
    total = Change()
    for act in chosen:
        if act.product is not None and act.role != role:
            total += act.change(s.traits.volume_l)
    return apply(s.water, total.spent)
