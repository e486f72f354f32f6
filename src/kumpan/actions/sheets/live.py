"""A run's steps in the stored form: shown from the log at each look, kept as they were shown once ticked."""

from dataclasses import replace
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.core.amounts import Amount, about
from kumpan.core.clearup.course import Course
from kumpan.core.clearup.dose import Measures
from kumpan.core.clearup.follow import Followed
from kumpan.core.clearup.propose import Fitting, refused_kind, refused_school
from kumpan.core.clearup.run import Told
from kumpan.core.clearup.tables import KINDS, SCHOOLS
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.work.sheet import Pour, Step
from kumpan.store import queries
from kumpan.store.runs import followed
from kumpan.store.stored_sheet import (
    StoredAct,
    StoredAmount,
    StoredSlot,
    StoredStep,
    store_live_step,
    store_said,
)
from kumpan.store.tables.log import Event
from kumpan.store.tables.sheets import SheetStepRow

_LABEL = "Free chlorine"
SCHOOL = "school"  # what a run's change of school is said of


def fitting_of(course: Course) -> Fitting:
    """What a school has to fit for a run under way."""
    run = course.run
    return Fitting(course.site, run.method, run.looks, course.level_ppm, course.kind, run.severity or "")


CHANGED = {SCHOOL: frozenset(SCHOOLS), "cause": frozenset(KINDS)}


def refuse_changed(run: Followed, key: str, value: str) -> None:
    """Raise for a change of school or of the kind of algae that cannot be: no such one, a kit that cannot
    read it, or nothing left to kill.
    """
    if value not in CHANGED[key]:
        raise InvalidInput(FieldProblem("value", "unknown_choice", "Choose one of those named."))
    course = run.course
    began = course.run
    if key == "cause" and (why := refused_kind(began.method, began.looks, KINDS[value], course.level_ppm)):
        raise InvalidInput(FieldProblem("value", "not_here", why))
    of = fitting_of(course)
    of = replace(of, kind=KINDS[value]) if key == "cause" else of
    if why := refused_school(of, value if key == SCHOOL else course.school):
        raise InvalidInput(FieldProblem("value", "not_here", why))
    over = course.killed_at is not None or course.run.aim != "algae"
    if over or run.progress.state not in ("under_way", "paused") or run.live.given_up_at is not None:
        raise Conflict("not_now", "The kill is over: there is nothing of it to change.")


def follow_run(context: Context, event: Event) -> Followed:
    """A run now, its amounts in the person's measures."""
    return followed(context.session, event, context.now, measures_of(context))


def measures_of(context: Context) -> Measures:
    """What the person counts in."""
    return Measures(context.unit_system, context.own_measures)


def stock_of(context: Context, run: Followed) -> float | None:
    """What stands ready of the run's product, g or mL; None where nobody said."""
    shelf = queries.at_hand(context.session, context.account.id, context.now)
    if shelf is None:
        return None
    mine = [a.stock for a in shelf if a.product_id == run.course.run.product_id]
    return 0.0 if not mine else None if None in mine else sum(s for s in mine if s is not None)


def live_row(
    run: Followed, step: Step, event_id: UUID, position: int, stock: float | None = None
) -> SheetStepRow:
    """A step of a run as it is shown now, as a row that could be kept. stock: of its product, None where not
    known.
    """
    became = run.progress.by_key.get(step.key)
    due = became.due_at if became is not None else run.start.at
    shown = _shown(run, step, stock)
    return SheetStepRow(event_id=event_id, key=step.key, position=position, due_at=due, shown=shown)


def _shown(run: Followed, step: Step, stock: float | None) -> dict[str, object]:
    act = step.act
    claims = tuple(sorted(step.claims))
    if isinstance(act, Pour):
        return store_live_step(_pour(run, step, act, stock), StoredAct(
            "add", act.product_id, act.strength, act.amount, claims=claims, may_skip=step.may_skip
        ))  # fmt: skip
    return store_said(step)


def _pour(run: Followed, step: Step, act: Pour, stock: float | None) -> StoredStep:
    """What goes in, with the level it makes where that is known."""
    product, said = PRODUCTS[act.product_id], step.words
    dose = run.live.raises.get(step.key)
    words = dose.amount if dose is not None else _amount(run, act)
    parts = tuple((p.number, p.unit) for p in words.parts)
    amount = StoredAmount(words.value, words.unit, words.text, words.exact, parts)
    slots: tuple[StoredSlot, ...] = ()
    last = next((e for e in reversed(run.course.checks)), None)
    if dose is not None and dose.fc_ppm > 0 and last is not None:
        slots = (_slot(run, last, dose.fc_ppm),)
    return StoredStep(
        step.key, "add", product.named(act.strength), said.how, said.caution,
        f"{said.title}. {said.why}", step.reason_id, product_id=act.product_id, strength=act.strength,
        amount=amount, slots=slots, warnings=_lacks(run, act, stock),
    )  # fmt: skip


def _lacks(run: Followed, act: Pour, stock: float | None) -> tuple[str, ...]:
    """What the stock lacks for a pour."""
    if stock is None or act.product_id != run.course.run.product_id or stock >= act.amount:
        return ()
    if stock <= 0:
        return ("None of it stands on your Shelf: buy it first.",)
    return ("Your Shelf holds less than this: pour what there is, read it, and buy the rest.",)


def _amount(run: Followed, act: Pour) -> Amount:
    form = form_of(PRODUCTS[act.product_id])
    return about(act.amount, form, run.measures.system, run.course.site.traits.volume_l, run.measures.own)


def _slot(run: Followed, last: Told, rise_ppm: float) -> StoredSlot:
    level, reading = run.course.level_ppm, last.readings["fc"]
    after = reading.value + rise_ppm
    return StoredSlot(
        "fc", _LABEL, f"{reading.value:g} to {after:.0f} ppm", 0.0, max(level, after) * 1.25, reading.value,
        level * 0.95, level * 1.15, after, reading.u95("fc"), "shock",
    )  # fmt: skip
