"""Begin a guide on this pool's own equipment, and write down what it came to."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID, uuid5
from zoneinfo import ZoneInfo

from kumpan.actions.context import Context
from kumpan.actions.times import checked_time
from kumpan.core.care.walk import FINE
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput
from kumpan.core.log.kinds import checked_entry
from kumpan.core.machines.backwash import Filter, lost_l, rows_for, standing, steps_for
from kumpan.core.records import UNITS, TypedField
from kumpan.core.units import L_PER_GAL, parse_number
from kumpan.core.work.sheet import Progress, Wait
from kumpan.store import queries
from kumpan.store.stored_sheet import FORM, StoredAct, store_said
from kumpan.store.tables.log import EntryRow, Event
from kumpan.store.tables.pools import Pool
from kumpan.store.tables.sheets import SheetRow, SheetStepRow
from kumpan.store.work import moved, progress_of, sheet_of

GUIDE_VERSION = "2026-11-26.1"  # changes when a row, its words or its order does
SUBJECT = "filter"
_MEDIA, _VALVES = ("sand", "de", "cartridge"), ("multiport", "push_pull")


@dataclass(frozen=True)
class NewGuide:
    """A guide to begin. medium, valve: of the filter, empty as the pool's equipment says."""

    id: UUID
    at: datetime
    medium: str = ""
    valve: str = ""
    performed_by: str = ""


def begin_filter_guide(context: Context, pool_id: UUID, new: NewGuide) -> Event:
    """Begin cleaning the pool's filter, step by step. Sending it again returns the first result; one that is
    under way is gone on with.
    """
    session = context.session
    pool = queries.pool(session, context.account.id, pool_id, lock=True)
    known = queries.repeated(session, pool, new.id, "guide")
    if known:
        return known
    for begun in queries.sheets_alive(session, pool.id):
        # One that was left has ended by now, though nothing was written since that would say so on its row.
        alive = progress_of(session, begun, context.now).state in ("under_way", "paused")
        if alive and sheet_of(begun).subject == SUBJECT:
            return begun
    filter_ = _filter(pool, new)
    event = Event(
        id=new.id,
        pool=pool,
        at=checked_time(new.at, context.now),
        kind="guide",
        performed_by=new.performed_by or context.actor,
        created_at=context.now,
    )
    rows = rows_for(filter_)
    stands = standing(filter_, rows)
    event.detail = SheetRow(
        subject=SUBJECT,
        rule_version=GUIDE_VERSION,
        headline="Filter clean" if filter_.medium == "cartridge" else "Backwash",
        swim="",
        form=FORM,
        inputs={"filter": vars(filter_)},
        steps=[
            SheetStepRow(
                key=row.key,
                position=i,
                due_at=event.at,
                shown=store_said(step, pad.pump, pad.valve),
            )
            for i, (row, pad, step) in enumerate(zip(rows, stands, steps_for(filter_), strict=True))
        ],
    )
    session.add(event)
    moved(session, pool.id, context.now, event.at, kind="guide")
    return event


def _filter(pool: Pool, new: NewGuide) -> Filter:
    """The filter as the equipment or the person says. Raises InvalidInput where neither does."""
    held = next((e.details for e in pool.equipment if e.kind == "filter"), {})
    pump = next((e.details for e in pool.equipment if e.kind == "pump"), {})
    medium = new.medium or str(held.get("medium", ""))
    valve = new.valve or str(held.get("valve", ""))
    if medium not in _MEDIA:
        raise InvalidInput(
            FieldProblem("medium", "missing", "Say what it filters with: sand, DE or a cartridge.")
        )
    if medium != "cartridge" and valve not in _VALVES:
        raise InvalidInput(
            FieldProblem("valve", "missing", "Say which valve it has: a multiport or a push-pull.")
        )
    flow = pump.get("flow")
    below = held.get("below") == "yes"
    return Filter(medium, valve, pool.volume_l, below, None if flow is None else float(flow))


def check_answer(act: StoredAct, value: str) -> None:
    """Whether an answer is one to what a step asks: a choice, several of them, or a number with its unit
    (``18 psi``). Raises InvalidInput at ``value``.
    """
    if act.kind not in ("look", "decide"):
        return
    if act.unit:
        _, unit = _measured(value)
        if unit not in UNITS[act.unit]:
            raise InvalidInput(FieldProblem("value", "unknown_unit", "Choose the unit."))
        return
    named = set(value.split(",") if act.many else [value])
    if not named <= {choice[0] for choice in act.choices} or (FINE in named and len(named) > 1):
        raise InvalidInput(FieldProblem("value", "unknown_choice", "Choose one of the answers."))


def _measured(value: str) -> tuple[float, str]:
    text, _, unit = value.strip().rpartition(" ")
    number = parse_number(text, "value")
    if not 0 <= number <= 1_000_000:
        raise InvalidInput(FieldProblem("value", "out_of_range", "That is more than there can be."))
    return number, unit


def write_down(context: Context, sheet: Event, filter_: Progress) -> None:
    """Write the one entry that a guide done comes to: minutes, pressures and the water that went. Done again
    after an undo, the same entry is written anew.
    """
    cleans = sheet.kind == "guide" and sheet_of(sheet).subject == SUBJECT
    if not cleans or filter_.state != "done" or filter_.ended_at is None:
        return
    kind, typed = _came_to(sheet, filter_)
    here = context.now.astimezone(ZoneInfo(sheet.pool.time_zone))
    details = checked_entry(kind, typed, "", here.date())
    id = uuid5(sheet.id, "entry")
    event = context.session.get(Event, id)
    if event is None:
        event = Event(id=id, pool=sheet.pool, kind=kind, performed_by=context.actor, created_at=context.now)
        event.detail = EntryRow(note="")
        context.session.add(event)
    else:
        event.revision += 1
    row = event.detail
    assert isinstance(row, EntryRow)
    row.details, row.typed = details, {name: vars(one) for name, one in typed.items()}
    event.at, event.deleted_at = filter_.ended_at, None
    moved(context.session, sheet.pool_id, context.now, event.at, kind=kind)


def write_lost(context: Context, mark: Event, value: str) -> None:
    """Write the entry of water that a run's vacuuming sent to waste: ``90 gal``; nothing for a plain done."""
    text, _, unit = value.strip().rpartition(" ")
    if unit not in UNITS["volume"]:
        return
    typed = {"lost": TypedField(text, unit)}
    today = context.now.astimezone(ZoneInfo(mark.pool.time_zone)).date()
    row = EntryRow(
        note="", details=checked_entry("drain", typed, "", today), typed={"lost": vars(typed["lost"])}
    )
    event = Event(
        id=uuid5(mark.id, "lost"),
        pool=mark.pool,
        at=mark.at,
        kind="drain",
        performed_by=mark.performed_by,
        created_at=context.now,
    )
    event.detail = row
    context.session.add(event)
    moved(context.session, mark.pool_id, context.now, event.at, kind="drain")


def _came_to(sheet: Event, filter_: Progress) -> tuple[str, dict[str, TypedField]]:
    """The kind of entry and its fields as typed."""
    typed = {}
    for key, name in (("before", "before"), ("after", "clean"), ("lost", "lost")):
        became = filter_.by_key.get(key)
        if became is not None and became.state == "done" and became.value:
            text, _, unit = became.value.rpartition(" ")
            typed[name] = TypedField(text, unit)
    medium = sheet_of(sheet).inputs["filter"]["medium"]
    if medium == "cartridge":
        return "filter_clean", typed
    return "backwash", typed | {"minutes": TypedField(f"{minutes_to_waste(filter_):.1f}", "min")}


def minutes_to_waste(filter_: Progress) -> float:
    """How long the water ran to waste: from each wash's and rinse's tap to the word that ended it."""
    ran = timedelta()
    for b in filter_.steps:
        if isinstance(b.step.act, Wait) and b.state == "done" and b.closed_at is not None:
            begun = b.until - timedelta(minutes=b.step.act.minutes) if b.until else None
            ran += b.closed_at - begun if begun is not None else timedelta(minutes=b.step.act.minutes)
    return max(0.1, ran.total_seconds() / 60)


def suggested_lost(sheet: Event, filter_: Progress, system: str) -> str:
    """About how much water went, by the pump's flow: ``120 gal``; empty where the flow is not known."""
    held = sheet_of(sheet).inputs.get("filter")
    litres = lost_l(Filter(**held), minutes_to_waste(filter_)) if held else None
    if litres is None:
        return ""
    return f"{litres / L_PER_GAL:.0f} gal" if system == "us" else f"{litres:.0f} l"


def refuse_unfit(act: StoredAct | None, verb: str) -> None:
    """Raise Conflict for a word that a pour, a test or another step of a plan is not closed by."""
    closed_by_words = act is None or act.kind in ("do", "look", "timer", "decide")
    if not closed_by_words and verb in ("answer", "decide", "timer"):
        raise Conflict("tick_by_pouring", "This step is closed by pouring or testing, or skipped.")
