"""What the answers of several nouns show: log entries and photos."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from uuid import UUID
from zoneinfo import ZoneInfo

from kumpan.actions.context import Context
from kumpan.actions.times import shown_local
from kumpan.core.dosing.findings import diagnose
from kumpan.core.log.entry import Details, Dose, LogEntry
from kumpan.core.log.kinds import phrase_of
from kumpan.core.phrasing import terms
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.readings import Reading
from kumpan.core.water.state import WaterState, with_measures
from kumpan.store.stored_sheet import read_act
from kumpan.store.tables.files import PaperRow, PhotoRow
from kumpan.store.tables.log import CorrectionRow, DoseRow, Event
from kumpan.store.water import traits_of


@dataclass(frozen=True)
class PhotoView:
    """A photo and where its picture is."""

    id: UUID
    url: str
    width: int
    height: int


@dataclass(frozen=True)
class PaperView:
    """A paper of a piece of equipment and where it can be fetched."""

    id: UUID
    name: str
    url: str


@dataclass(frozen=True, kw_only=True)
class ReadingView(Reading):
    """A reading with its words."""

    label: str
    short: str
    shown: str
    level: str
    word: str


@dataclass(frozen=True)
class LogEntryView:
    """One entry of the Log. title and detail are its words; the rest is what a form needs to correct it."""

    id: UUID
    pool_id: UUID
    kind: str
    at: datetime
    clock: str
    day: str
    local: str
    performed_by: str
    sampling_point: str
    revision: int
    deleted: bool
    title: str
    detail: str
    level: str
    readings: tuple[ReadingView, ...] = ()
    product_id: str | None = None
    strength: float | None = None
    amount_text: str | None = None
    unit: str | None = None
    sheet_id: UUID | None = None
    details: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    note: str = ""
    history: tuple[str, ...] = ()
    photos: tuple[PhotoView, ...] = ()


def show_photo(row: PhotoRow) -> PhotoView:
    """A photo as a page shows it."""
    return PhotoView(row.id, f"/api/v1/photos/{row.id}/picture", row.width, row.height)


def show_paper(row: PaperRow) -> PaperView:
    """A paper as a page names it."""
    return PaperView(row.id, row.name, f"/api/v1/papers/{row.id}/file")


def show_event(context: Context, event: Event) -> LogEntryView:
    """An event in the pool's own time and the person's units."""
    entry, system = event.entry, context.unit_system
    here = context.now.astimezone(ZoneInfo(event.pool.time_zone))
    local = event.at.astimezone(here.tzinfo)
    phrase = phrase_of(entry, system)
    readings = _readings(context, event, entry)
    levels = [r.level for r in readings]
    level = next((word for word in ("act", "watch") if word in levels), "fine") if readings else "none"
    dose = entry.payload if isinstance(entry.payload, Dose) else None
    held = entry.payload if isinstance(entry.payload, Details) else Details()
    return LogEntryView(
        id=event.id,
        pool_id=event.pool_id,
        kind=event.kind,
        at=event.at,
        clock=f"{local:%H:%M}",
        day=terms.day(here, local),
        local=shown_local(event),
        performed_by=event.performed_by,
        sampling_point=event.sampling_point,
        revision=event.revision,
        deleted=event.deleted_at is not None,
        title=phrase.title,
        detail=_against_plan(event) if dose else phrase.detail,
        level=level,
        readings=readings,
        product_id=dose.product_id if dose else None,
        strength=dose.strength if dose else None,
        amount_text=dose.text if dose else None,
        unit=dose.unit if dose else None,
        sheet_id=event.ticks[0].sheet_id if event.ticks else None,
        details=held.typed,
        note=held.note,
        history=tuple(_history(c, here) for c in event.corrections),
        photos=tuple(map(show_photo, event.photos)),
    )


def _history(row: CorrectionRow, here: datetime) -> str:
    """One correction in words: when, by whom, and what stood there before."""
    at, was_at = row.at.astimezone(here.tzinfo), row.was_at.astimezone(here.tzinfo)
    when = f"{terms.day(here, at)} {at:%H:%M}"
    return f"{when}, {row.actor}: was {row.was} ({terms.day(here, was_at).lower()} {was_at:%H:%M})"


def _readings(context: Context, event: Event, entry: LogEntry) -> tuple[ReadingView, ...]:
    if not entry.readings:
        return ()
    water = with_measures(WaterState(), {r.measure: r.value for r in entry.readings})
    errors = {r.measure: r.u95 for r in entry.readings}
    methods = {r.measure: r.method for r in entry.readings}
    judged = {f.measure: f for f in diagnose(water, traits_of(event.pool), errors, methods)}
    views = []
    for r in entry.readings:
        measure, finding = MEASURES[r.measure], judged.get(r.measure)
        views.append(
            ReadingView(
                **vars(r),
                label=measure.label,
                short=measure.short,
                shown=terms.show_value(r.measure, r.value, context.unit_system).removesuffix(" ppm"),
                level=finding.level if finding else "none",
                word=finding.verdict if finding else "",
            )
        )
    return tuple(views)


def _against_plan(event: Event) -> str:
    """How a dose stands against the step it ticked."""
    dose = event.detail
    assert isinstance(dose, DoseRow)
    if not event.ticks:
        return "not from a plan"
    shown = event.ticks[0].step.shown
    planned = read_act(shown).amount
    if planned is None:
        return ""
    if abs(planned - dose.amount) <= 0.005 * planned:
        return "as planned"
    return f"planned {shown['amount']['text']}"
