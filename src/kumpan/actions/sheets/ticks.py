"""Tick steps of dose plans off, and say what there is to say of any sheet."""

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.sheets.answers import check_answer, refuse_unfit
from kumpan.actions.sheets.comes_to import write_down, write_lost
from kumpan.actions.sheets.live import CHANGED, follow_run, live_row, refuse_changed
from kumpan.actions.sheets.seasonal import refuse_pour, refuse_unsafe
from kumpan.actions.sheets.view import EARLIER_RULES, earlier
from kumpan.actions.sheets.walks import walked
from kumpan.actions.times import checked_time
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput, NotFound
from kumpan.core.log.entry import StepDone
from kumpan.core.log.poured import checked_dose
from kumpan.core.work.fold import refused
from kumpan.core.work.sheet import VERBS, Mark, Progress
from kumpan.store import queries
from kumpan.store.stored_sheet import StoredAct, read_act, read_step
from kumpan.store.tables.log import Detail, DoseRow, Event, MarkRow, StepDoneRow
from kumpan.store.tables.sheets import SheetStepRow, TickRow
from kumpan.store.work import keep, moved, progress_of, sheet_of


@dataclass(frozen=True)
class NewTick:
    """A step ticked off: the event's id, when, and what was poured where that differs from the plan."""

    id: UUID
    at: datetime
    text: str | None = None
    unit: str | None = None
    performed_by: str = ""


@dataclass(frozen=True)
class NewMark:
    """Something said of a sheet or its step: a verb of ``core.work`` and its value; key: empty of a sheet."""

    id: UUID
    at: datetime
    key: str
    verb: str
    value: str = ""
    performed_by: str = ""


def tick_step(context: Context, sheet_id: UUID, key: str, new: NewTick) -> Event:
    """Tick a step of an accepted plan off. What was poured may differ from what was planned. Sending it again
    returns the first result.
    """
    session, sheet = context.session, _locked(context, sheet_id)
    step = _row(context, sheet, key)
    act = read_act(step.shown)
    kind = "dose" if act.kind == "add" else "step_done"
    known = queries.repeated(session, sheet.pool, new.id, kind)
    if known:
        return known
    if earlier(sheet):
        raise Conflict("earlier_rules", EARLIER_RULES)
    progress = progress_of(session, sheet, context.now)
    _refuse_closed(progress, key)
    refuse_pour(context, sheet, progress, key)
    event = _event(context, sheet, kind, new)
    event.detail = _poured(sheet, step, act, new) if kind == "dose" else _done(act)
    event.ticks = [TickRow(sheet_id=sheet.id, key=key)]
    session.add(event)
    moved(session, sheet.pool_id, context.now, event.at, kind=kind)
    if event.at < sheet.at:  # told as earlier than the plan
        keep(session, sheet, context.now)
    return event


def _row(context: Context, sheet: Event, key: str) -> SheetStepRow:
    """A step of a sheet; of a run as it is shown now, to be kept so from here on."""
    kept = next((s for s in sheet_of(sheet).steps if s.key == key), None)
    if kept is not None and sheet.kind != "clear_up":
        return kept
    if sheet.kind == "clear_up":
        run = follow_run(context, sheet)
        step = next((s for s in run.live.steps if s.key == key), None)
        if step is not None:
            shown = live_row(run, step, sheet.id, len(sheet_of(sheet).steps))
            if kept is None:
                sheet_of(sheet).steps.append(shown)
                context.session.flush()
                return shown
            kept.shown, kept.due_at = shown.shown, shown.due_at
            return kept
    raise NotFound("step of this work")


# Steps of a run whose answer may be water that went to waste.
_TO_WASTE = ("vacuum", "settle")


def _locked(context: Context, sheet_id: UUID) -> Event:
    """A sheet, its pool's row locked first, so that a step is closed once."""
    pool_id = queries.pool_of_sheet(context.session, context.account.id, sheet_id)
    queries.pool(context.session, context.account.id, pool_id, lock=True)
    return queries.sheet(context.session, context.account.id, sheet_id, lock=True)


def _refuse_closed(progress: Progress, key: str) -> None:
    if progress.by_key[key].closed_at is not None:
        raise Conflict("already_done", "This step was already ticked off.")
    if progress.state not in ("under_way", "paused"):
        raise Conflict("ended", "This work has ended: nothing of it is left to do.")


def _event(context: Context, sheet: Event, kind: str, new: NewTick | NewMark) -> Event:
    return Event(
        id=new.id,
        pool=sheet.pool,
        at=checked_time(new.at, context.now),
        kind=kind,
        performed_by=new.performed_by or context.actor,
        created_at=context.now,
    )


def _poured(sheet: Event, step: SheetStepRow, act: StoredAct, new: NewTick) -> Detail:
    """The dose a step asked for, or as much of it as was poured."""
    text, unit = new.text, new.unit
    if text is None or unit is None:
        amount = read_step(sheet_of(sheet).form, step.shown).amount
        assert amount is not None
        text, unit = f"{amount.value:g}", amount.unit
    return DoseRow.of(checked_dose(act.product_id or "", act.strength, text, unit))


def _done(act: StoredAct) -> Detail:
    if act.kind == "retest":
        raise Conflict("tick_by_testing", "A re-test is done by typing the new test on the Bench.")
    if act.kind not in ("dilute", "aerate", "wait"):
        raise Conflict("tick_by_saying", "This step is closed by saying that it is done.")
    return StepDoneRow.of(StepDone(act.kind, act.fraction, act.to_ph))


def _check_word(context: Context, sheet: Event, mark: Mark) -> None:
    """Refuse a word that cannot be said of the sheet as it stands."""
    if sheet.kind == "clear_up" and mark.verb == "decide" and mark.key in CHANGED:
        refuse_changed(follow_run(context, sheet), mark.key, mark.value)
        return
    act, progress = _act(context, sheet, mark.key), progress_of(context.session, sheet, context.now)
    refuse_unfit(act, mark.verb)
    why = refused(progress, mark)
    if why and mark.verb in ("add", "move"):
        raise InvalidInput(FieldProblem("value", "not_so", why))
    if why:
        raise Conflict("not_now", why)
    if mark.verb in ("answer", "decide") and act is not None:
        check_answer(act, mark.value)
    refuse_unsafe(context, sheet, progress, mark)


def _act(context: Context, sheet: Event, key: str) -> StoredAct | None:
    """What a step asks for; None where the sheet has no such step."""
    if sheet.kind == "clear_up":
        run = follow_run(context, sheet)
        live = next((s for s in run.live.steps if s.key == key), None)
        return None if live is None else read_act(live_row(run, live, sheet.id, 0).shown)
    row = next((s for s in sheet_of(sheet).steps if s.key == key), None)
    return None if row is None else read_act(row.shown)


def say(context: Context, sheet_id: UUID, new: NewMark) -> Event:
    """Say something of a sheet or its step. Sending it again returns the first result."""
    session, sheet = context.session, _locked(context, sheet_id)
    known = queries.repeated(session, sheet.pool, new.id, "mark")
    if known:
        return known
    if new.verb not in VERBS:
        raise InvalidInput(FieldProblem("verb", "unknown_choice", "There is no such word for it."))
    if earlier(sheet):
        raise Conflict("earlier_rules", EARLIER_RULES)
    event = _event(context, sheet, "mark", new)
    mark = Mark(str(event.id), event.at, new.key, new.verb, new.value)
    _check_word(context, sheet, mark)
    event.detail = MarkRow(
        sheet_id=str(sheet.id), task_id=None, key=new.key, verb=new.verb, value=new.value[:400]
    )
    session.add(event)
    moved(session, sheet.pool_id, context.now, event.at, kind="")
    progress = progress_of(session, sheet, context.now)
    write_down(context, sheet, progress, event)
    walked(context, sheet, progress, event)
    if sheet.kind == "clear_up" and new.verb == "answer" and new.key.startswith(_TO_WASTE):
        write_lost(context, sheet, event, new.value)
    return event
