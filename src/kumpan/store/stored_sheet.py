"""A sheet as it is stored: a form of its own, so that what the API answers may change and what was stored is
still read. Every released form is kept as a file beside the tests and read by them.

Form 1 of a plan was the API's answer of its day, its two extra fields and clock times among the rest; form 2
a plan's step as here. Form 3 is any sheet's: beside what was shown it holds the act, what a rule needs of the
step. Steps of earlier forms were given theirs when they became steps of sheets.
"""

from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from typing import Any

from pydantic import TypeAdapter

from kumpan.core.amounts import Part
from kumpan.core.dosing.outcomes import SlotView
from kumpan.core.dosing.request import DosePlan, PlanRequest, Step, Swim
from kumpan.core.dosing.view import AlternativeView, AmountView, ChoiceView, PlanView, StepView, measured
from kumpan.core.work import sheet as w
from kumpan.store.tables.pools import Pool

FORM = 3


@dataclass(frozen=True)
class StoredAmount:
    """An amount as it was shown. parts: number and unit, largest first."""

    value: float
    unit: str
    text: str
    exact: str = ""
    parts: tuple[tuple[str, str], ...] = ()
    own: str = ""


@dataclass(frozen=True)
class StoredSlot:
    """A measure a step moved, as it was drawn."""

    measure: str
    label: str
    text: str
    scale_low: float
    scale_high: float
    before: float
    band_low: float | None = None
    band_high: float | None = None
    after: float | None = None
    u95: float = 0.0
    reason_id: str = ""
    spent: float | None = None


@dataclass(frozen=True)
class StoredAlternative:
    """Another product that would have done the same."""

    product_id: str
    strength: float | None
    name: str
    amount: str
    side: str = ""
    cost: str = ""
    at_hand: bool = False


@dataclass(frozen=True)
class StoredStep:
    """A step as it was shown, without its clock time: that is said anew from ``due_at``."""

    key: str
    kind: str
    title: str
    how: str = ""
    caution: str = ""
    sentence: str = ""
    reason_id: str = ""
    role: str = ""
    product_id: str | None = None
    strength: float | None = None
    amount: StoredAmount | None = None
    portion: str = ""
    gap: str = ""
    warnings: tuple[str, ...] = ()
    slots: tuple[StoredSlot, ...] = ()
    cost: str = ""
    alternatives: tuple[StoredAlternative, ...] = ()
    next_visit: bool = False


@dataclass(frozen=True)
class StoredFollows:
    """What was told of later visits (a sentence each, and when), and of the whole way (a line a product)."""

    later: tuple[tuple[datetime, str], ...] = ()
    totals: tuple[tuple[str, str], ...] = ()


_FOLLOWS: TypeAdapter[StoredFollows] = TypeAdapter(StoredFollows)
_STEP: TypeAdapter[StoredStep] = TypeAdapter(StoredStep)


@dataclass(frozen=True)
class StoredAct:
    """What a rule needs of a step. kind: add, dilute, aerate, wait or retest of a plan; do, look, timer or
    decide of a guide. amount: g or mL; measures: what a test reads, None where an earlier form did not say.
    claims, may_skip, only_if: as in ``core.work``; many: whether several choices may be named, text:
    whether any words; met_by: kinds of entry that close it unasked. timed: whether it waits for the instant
    it is due at, whatever came before; planned: whether its day is one that may be moved and come before.
    after: what it comes after, None for the step before it, with wait_min from the last of them.
    """

    kind: str
    product_id: str | None = None
    strength: float | None = None
    amount: float | None = None
    fraction: float | None = None
    to_ph: float | None = None
    measures: tuple[str, ...] | None = None
    question: str = ""
    choices: tuple[tuple[str, ...], ...] = ()
    unit: str = ""
    minutes: float = 0.0
    until: str = ""
    claims: tuple[str, ...] = ()
    may_skip: bool = True
    many: bool = False
    met_by: tuple[str, ...] = ()
    timed: bool = False
    text: bool = False
    planned: bool = False
    after: tuple[str, ...] | None = None
    wait_min: float = 0.0
    only_if: tuple[str, tuple[str, ...]] | None = None


@dataclass(frozen=True)
class StoredGuideStep:
    """A guide's step as it was shown. pump, valve: the pad once it is done; draws: another drawing.
    takes_min: minutes it takes; helper: whether by two people; part: what it takes off or puts back; opens:
    the page where it is done.
    """

    title: str
    how: str = ""
    caution: str = ""
    why: str = ""
    reason_id: str = ""
    pump: bool = True
    valve: str = "filter"
    draws: str = ""
    takes_min: float = 0.0
    helper: bool = False
    part: str = ""
    opens: str = ""
    place: str = ""


_ACT: TypeAdapter[StoredAct] = TypeAdapter(StoredAct)
_GUIDE_STEP: TypeAdapter[StoredGuideStep] = TypeAdapter(StoredGuideStep)


def read_act(shown: dict[str, Any]) -> StoredAct:
    """What a rule needs of a stored step, of whatever sheet. Raises pydantic's ValidationError."""
    return _ACT.validate_python(shown.get("act"))


def read_guide_step(shown: dict[str, Any]) -> StoredGuideStep:
    """A stored step of a guide. Raises pydantic's ValidationError."""
    return _GUIDE_STEP.validate_python({k: v for k, v in shown.items() if k != "act"})


def store_guide_step(step: StoredGuideStep, act: StoredAct) -> dict[str, Any]:
    """A guide's step in the newest form."""
    held: dict[str, Any] = _GUIDE_STEP.dump_python(step, mode="json")
    return held | {"act": _ACT.dump_python(act, mode="json")}


def guide_act(step: w.Step) -> StoredAct:
    """What a rule will need of a guide's, a walk's, a plan's or a run's step."""
    claims, act = tuple(sorted(step.claims)), step.act
    met_by = () if step.met_by is None else (step.met_by.kind,)
    usual: dict[str, Any] = {"claims": claims, "may_skip": step.may_skip, "met_by": met_by}
    usual |= {"timed": step.not_before is not None, "only_if": step.only_if}
    if step.planned is not None:
        usual |= {"planned": True, "after": step.after, "wait_min": step.wait_min}
    if isinstance(act, w.Look):
        question, choices = act.question, act.choices
        more: dict[str, Any] = {"unit": act.unit, "many": act.many, "text": act.text}
        return StoredAct("look", question=question, choices=choices, **more, **usual)
    if isinstance(act, w.Decide):
        return StoredAct("decide", question=act.question, choices=act.choices, **usual)
    if isinstance(act, w.Wait):
        return StoredAct("timer", minutes=act.minutes, until=act.until, **usual)
    if isinstance(act, w.Test):
        return StoredAct("retest", measures=act.measures, **usual)
    if isinstance(act, w.Pour):
        return StoredAct("add", act.product_id, act.strength, act.amount, **usual)
    return StoredAct("do", **usual)


def store_said(
    step: w.Step, pump: bool = True, valve: str = "filter", draws: str = "", **more: Any
) -> dict[str, Any]:
    """A step of a guide, walk, season or run that is no pour, as shown. pump, valve: the pad once it is done;
    draws: another drawing; more: of a season's (``StoredGuideStep``).
    """
    said = step.words
    if isinstance(step.act, w.Test):
        told = StoredStep(step.key, "retest", said.title, said.how, said.caution, said.why, step.reason_id)
        return store_live_step(told, guide_act(step))
    shown = StoredGuideStep(
        said.title, said.how, said.caution, said.why, step.reason_id, pump, valve, draws, **more
    )
    return store_guide_step(shown, guide_act(step))


def store_live_step(step: StoredStep, act: StoredAct) -> dict[str, Any]:
    """A run's pour or test as it is shown, in the newest form."""
    held: dict[str, Any] = _STEP.dump_python(step, mode="json")
    return held | {"act": _ACT.dump_python(act, mode="json")}


def act_of(step: Step) -> StoredAct:
    """What a rule will need of a plan's step."""
    return StoredAct(
        step.kind,
        step.product_id,
        step.strength,
        None if step.amount is None else step.amount.canonical,
        step.fraction,
        step.to_ph,
        step.measures if step.kind == "retest" else None,
    )


def store_step(view: StepView, act: StoredAct) -> dict[str, Any]:
    """A plan's step as shown, in the newest form."""
    words, amount = view.amount, None
    if words is not None:
        parts = tuple((p.number, p.unit) for p in words.parts)
        amount = StoredAmount(words.value, words.unit, words.text, words.exact, parts)
    kept = {
        n: getattr(view, n)
        for n in ("key", "kind", "title", "how", "caution", "sentence", "reason_id", "role")
    }
    kept |= {
        n: getattr(view, n)
        for n in ("product_id", "strength", "gap", "warnings", "cost", "portion", "next_visit")
    }
    step = StoredStep(
        **kept,
        amount=amount,
        slots=tuple(StoredSlot(**asdict(s)) for s in view.slots),
        alternatives=tuple(StoredAlternative(**asdict(a)) for a in view.alternatives),
    )
    dumped: dict[str, Any] = _STEP.dump_python(step, mode="json")
    return dumped | {"act": _ACT.dump_python(act, mode="json")}


def store_swim(swim: Swim) -> dict[str, Any]:
    """When people may swim again by a plan, and at what chlorine, beside what it followed from."""
    return {
        "swim_from_min": swim.from_min,
        "swim_least_fc_ppm": swim.least_fc_ppm,
        "swim_most_fc_ppm": swim.most_fc_ppm,
    }


def store_follows(view: PlanView, request: PlanRequest, plan: DosePlan) -> dict[str, Any]:
    """What follows the plan's steps, as told."""
    later = tuple((request.now + timedelta(minutes=one.at_min), one.sentence) for one in plan.later)
    totals = tuple((line.name, line.amount) for line in view.totals)
    dumped: dict[str, Any] = _FOLLOWS.dump_python(StoredFollows(later, totals), mode="json")
    return dumped


def read_follows(held: dict[str, Any] | None) -> StoredFollows:
    """What was told to follow; nothing in plans of earlier rules. Raises pydantic's ValidationError."""
    return StoredFollows() if held is None else _FOLLOWS.validate_python(held)


def read_step(form: int, shown: dict[str, Any]) -> StoredStep:
    """A plan's stored step of any form. Raises pydantic's ValidationError where it is none, ValueError for a
    newer form.
    """
    shown = {k: v for k, v in shown.items() if k != "act"}
    if form == 1:
        shown = _from_form_1(shown)
    elif form not in (2, FORM):
        raise ValueError(f"form {form} of a stored plan is not known here")
    return _STEP.validate_python(shown)


def _from_form_1(shown: dict[str, Any]) -> dict[str, Any]:
    """Form 1 held clock times, a step's fraction and pH, parts as objects, and plus_minus for u95."""
    kept = {k: v for k, v in shown.items() if k not in ("at", "clock", "fraction", "to_ph")}
    if kept.get("amount"):
        parts = tuple((p["number"], p["unit"]) for p in kept["amount"].get("parts", ()))
        kept["amount"] = kept["amount"] | {"parts": parts}
    kept["slots"] = [
        {("u95" if name == "plus_minus" else name): value for name, value in slot.items()}
        for slot in kept.get("slots", ())
    ]
    return kept


def shown_step(step: StoredStep, at: datetime, clock: str) -> StepView:
    """A stored step as the API answers it, with its time as said now."""
    held, amount = step.amount, None
    if held is not None:
        parts = tuple(Part(number, unit) for number, unit in held.parts)
        exact = " · ".join(filter(None, (held.own, held.exact)))
        amount = AmountView(held.value, held.unit, held.text, exact, parts)
    names = (
        "key",
        "kind",
        "title",
        "how",
        "caution",
        "sentence",
        "reason_id",
        "role",
        "product_id",
        "strength",
    )
    return StepView(
        **{n: getattr(step, n) for n in (*names, "gap", "warnings", "cost", "portion", "next_visit")},
        at=at,
        clock=clock,
        amount=amount,
        slots=tuple(SlotView(**asdict(s)) for s in step.slots),
        alternatives=tuple(AlternativeView(**asdict(a)) for a in step.alternatives),
    )


def store_inputs(pool: Pool, request: PlanRequest, choices: tuple[ChoiceView, ...]) -> dict[str, Any]:
    """Everything a plan followed from, so that it can be told years later. Only ``products`` is
    read again.
    """
    return {
        "volume_l": pool.volume_l,
        "surface": pool.surface,
        "chlorine_source": pool.chlorine_source,
        "installation": pool.installation,
        "school": request.traits.school,
        "settings": pool.settings,
        "water": measured(request.water),
        "age_days": request.age_days,
        "u95": request.u95,
        "methods": request.methods,
        "seen": sorted(request.seen),
        "stay_min": request.stay_min,
        "at_hand": None if request.at_hand is None else [asdict(a) for a in request.at_hand],
        "products": {c.role: {k: v for k, v in asdict(c).items() if k != "role"} for c in choices},
    }
