"""Begin a complaint's guide, and what its readings say beside its questions."""

from collections.abc import Iterable, Sequence
from dataclasses import fields
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.sheets.start import NewSheet, start_sheet
from kumpan.core.complaints.bucket import lost
from kumpan.core.complaints.guide import IDLE_MIN, Complaint, Suspect, steps_of
from kumpan.core.complaints.rows import COMPLAINTS
from kumpan.core.dosing.findings import is_high, is_low
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.guidance.targets import bands_of
from kumpan.core.phrasing import terms
from kumpan.core.pool.geometry import area_m2
from kumpan.core.pool.volume import VolumeInput, volume_of
from kumpan.core.records import UNITS
from kumpan.core.units import L_PER_GAL, parse_number
from kumpan.core.water.measures import MEASURES
from kumpan.core.work.sheet import Became, Progress, Test
from kumpan.store import queries
from kumpan.store.stored_sheet import FORM, store_said
from kumpan.store.tables.log import Event
from kumpan.store.tables.pools import Pool
from kumpan.store.tables.sheets import SheetRow, SheetStepRow
from kumpan.store.water import present_of, traits_of
from kumpan.store.work import sheet_of

COMPLAINT_VERSION = "2026-11-27.1"  # changes when a row, its words or its order does


def begin_complaint(context: Context, pool_id: UUID, new: NewSheet) -> Event:
    """Begin a complaint's guide, or go on with the one that is under way."""
    complaint = COMPLAINTS.get(new.subject)
    if complaint is None:
        raise InvalidInput(FieldProblem("kind", "unknown_choice", "There is no such guide."))
    return start_sheet(
        context,
        pool_id,
        new,
        lambda pool, at: SheetRow(
            subject=complaint.id,
            rule_version=COMPLAINT_VERSION,
            headline=complaint.label,
            swim="",
            form=FORM,
            inputs={"complaint": complaint.id, "idle_min": IDLE_MIN},
            steps=[
                SheetStepRow(key=step.key, position=i, due_at=at, shown=store_said(step))
                for i, step in enumerate(steps_of(complaint))
            ],
        ),
    )


def said(sheet: SheetRow, steps: Iterable[tuple[SheetStepRow, Became]]) -> list[tuple[SheetStepRow, Became]]:
    """A sheet's steps without those that name a complaint's cause before an answer has shown it."""
    if "complaint" not in sheet.inputs:
        return list(steps)
    return [(row, b) for row, b in steps if b.step.only_if is None or b.state in ("open", "done")]


def judged(context: Context, sheet: Event, progress: Progress, key: str) -> str:
    """What was read for a question, against this pool's bands; of the bucket test, its sum."""
    complaint = COMPLAINTS.get(str(sheet_of(sheet).inputs.get("complaint", "")))
    suspect = None if complaint is None else _asked(complaint, key)
    if suspect is None:
        return ""
    if suspect.id == "bucket":
        return _bucket(context, sheet, progress)
    measures = [m for row in suspect.tests if isinstance(row.act, Test) for m in row.act.measures]
    return _readings(context, sheet, list(dict.fromkeys(measures)))


def _asked(complaint: Complaint, key: str) -> Suspect | None:
    return next((s for s in complaint.suspects if s.id == key), None)


def _readings(context: Context, sheet: Event, measures: Sequence[str]) -> str:
    """Each as it stands by the log, with the side of its band it lies on."""
    present = present_of(context.session, sheet.pool, context.now)
    bands, said = bands_of(traits_of(sheet.pool), present.water), []
    for measure in measures:
        newest = queries.newest_reading(context.session, sheet.pool_id, measure, panel=False)
        if newest is None:
            continue
        value, band = newest[0], bands.get(measure)
        shown = terms.show_value(measure, value, context.unit_system)
        word = "in its band"
        if band is not None and is_high(value, band):
            word = "high"
        elif band is not None and is_low(value, band):
            word = "low"
        said.append(f"{MEASURES[measure].name} {shown}, {word}")
    text = "; ".join(said)
    return f"{text[:1].upper()}{text[1:]}." if text else ""


def _bucket(context: Context, sheet: Event, progress: Progress) -> str:
    """The bucket's sum: what the pool lost over what evaporated, a day."""
    fell = {key: _mm(progress, f"bucket_{key}") for key in ("pool", "inside")}
    pool, inside = fell["pool"], fell["inside"]
    begun, ended = (progress.by_key[f"bucket_{key}"].closed_at for key in ("set", "pool"))
    if pool is None or inside is None or begun is None or ended is None or ended <= begun:
        return ""
    found = lost(pool, inside, (ended - begun).total_seconds() / 3600, surface_m2(sheet.pool))
    metric = context.unit_system == "metric"
    high = f"{found.leak_mm:.0f} mm" if metric else f"{found.leak_mm / 25.4:.2f} in"
    if not found.leaks:
        return f"The pool fell {high} a day more than the bucket: no more than marks can be off by."
    litres = found.leak_l_day
    much = ""
    if litres is not None:
        much = f", about {litres:,.0f} L" if metric else f", about {litres / L_PER_GAL:,.0f} gal"
    return f"The pool fell {high} a day more than the bucket{much}: that is a leak."


def _mm(progress: Progress, key: str) -> float | None:
    became = progress.by_key.get(key)
    if became is None or became.state != "done" or not became.value:
        return None
    text, _, unit = became.value.strip().rpartition(" ")
    return parse_number(text, "value") * UNITS["rain"][unit][1]


def surface_m2(pool: Pool) -> float | None:
    """The water's surface where the pool's shape is recorded."""
    known = {f.name for f in fields(VolumeInput)}
    given = {k: v for k, v in pool.volume_input.items() if k in known}
    if given.get("how") != "shape":
        return None
    outline = volume_of(VolumeInput(**given)).outline
    return None if outline is None else area_m2(outline)
