"""Begin a guide on this pool's own machines."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

from kumpan.actions.context import Context
from kumpan.actions.sheets.start import NewSheet, start_sheet
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput
from kumpan.core.machines import cell_guides, feeder_rows, mineral_rows
from kumpan.core.machines.backwash import Filter, cleaning, lowering_level
from kumpan.core.machines.bath import ACIDS, PARTS, bath, in_words
from kumpan.core.machines.cell_rows import Nights
from kumpan.core.machines.guide import Guide, standing, steps_of
from kumpan.core.phrasing import terms
from kumpan.core.pool.sun import sunrise_at, sunset_at
from kumpan.core.pool.traits import CELL_STOPS_C
from kumpan.core.records import UNITS
from kumpan.core.units import parse_number
from kumpan.store.machines import baths, cell_setting
from kumpan.store.stored_sheet import FORM, store_said
from kumpan.store.tables.log import Event
from kumpan.store.tables.pools import Pool
from kumpan.store.tables.sheets import SheetRow, SheetStepRow

GUIDE_VERSION = "2026-11-26.2"  # changes when a row, its words or its order does
_MEDIA, _VALVES = ("sand", "de", "cartridge"), ("multiport", "push_pull")


@dataclass(frozen=True)
class NewGuide(NewSheet):
    """A guide to begin. given: what the pool's equipment does not say (``GIVEN``)."""

    given: Mapping[str, str] = field(default_factory=dict)


Made = tuple[Guide, dict[str, Any]]
Maker = Callable[[Context, Pool, Mapping[str, str]], Made]


def begin_guide(context: Context, pool_id: UUID, new: NewGuide) -> Event:
    """Begin a guide made for this pool, or go on with the one that is under way."""

    def made(pool: Pool, at: datetime) -> SheetRow:
        maker = MAKERS.get(new.subject)
        if maker is None:
            raise InvalidInput(FieldProblem("subject", "unknown_choice", "There is no such guide."))
        guide, inputs = maker(context, pool, new.given)
        return SheetRow(
            subject=guide.subject,
            rule_version=GUIDE_VERSION,
            headline=guide.name,
            swim="",
            form=FORM,
            inputs={"idle_min": guide.idle_min} | inputs,
            steps=_rows(guide, at),
        )

    return start_sheet(context, pool_id, new, made)


def _rows(guide: Guide, begun: datetime) -> list[SheetStepRow]:
    """The guide's steps as they are stored, each due at its instant or so long after the one before."""
    rows, due = [], begun
    for i, (row, pad, step) in enumerate(zip(guide.rows, standing(guide), steps_of(guide), strict=True)):
        due = row.at if row.at is not None else due + timedelta(minutes=row.wait_min)
        shown = store_said(step, pad.pump, pad.valve, row.draws)
        rows.append(SheetStepRow(key=row.key, position=i, due_at=due, shown=shown))
    return rows


def _filter(context: Context, pool: Pool, given: Mapping[str, str]) -> Filter:
    """The filter as the equipment or the person says. Raises InvalidInput where neither does."""
    held, pump, cell = pool.known("filter"), pool.known("pump"), pool.known("chlorinator")
    medium = given.get("medium") or str(held.get("medium", ""))
    valve = given.get("valve") or str(held.get("valve", ""))
    if medium not in _MEDIA:
        raise InvalidInput(
            FieldProblem("medium", "missing", "Say what it filters with: sand, DE or a cartridge.")
        )
    if medium != "cartridge" and valve not in _VALVES:
        raise InvalidInput(
            FieldProblem("valve", "missing", "Say which valve it has: a multiport or a push-pull.")
        )
    flow, area = pump.get("flow"), held.get("area")
    return Filter(
        medium,
        valve,
        pool.volume_l,
        below_water=held.get("below") == "yes",
        flow_l_h=None if flow is None else float(flow),
        # A cell whose flow switch nobody has seen is not trusted to stop by itself.
        cell_by_hand=pool.chlorine_source == "chlorinator" and cell.get("flow_switch") != "yes",
        waste=valve == "multiport" and held.get("waste") == "yes",
        area_m2=None if area is None else float(area),
        metric=context.unit_system == "metric",
    )


def _clean_filter(context: Context, pool: Pool, given: Mapping[str, str]) -> Made:
    filter_ = _filter(context, pool, given)
    return cleaning(filter_), {"filter": vars(filter_)}


def _lower(context: Context, pool: Pool, given: Mapping[str, str]) -> Made:
    filter_ = _filter(context, pool, given)
    if filter_.medium == "cartridge":
        text = "A cartridge filter has no valve that sends water out: lower the level by its drain or a pump."
        raise Conflict("no_valve", text)
    return lowering_level(filter_), {"filter": vars(filter_)}


def _with_cell(make: Maker) -> Maker:
    """A guide of a cell, refused plainly where there is none."""

    def made(context: Context, pool: Pool, given: Mapping[str, str]) -> Made:
        if pool.chlorine_source != "chlorinator":
            raise Conflict("no_chlorinator_here", "This pool is not chlorinated by a salt chlorinator.")
        return make(context, pool, given)

    return made


def runs_at(context: Context, pool: Pool) -> str:
    """What the cell runs at, in words: ``60 %, 10 h a day``; empty where nothing says it."""
    held = cell_setting(context.session, pool)
    return "" if held is None else f"{held.percent:g} %, {held.hours:g} h a day"


def _light(context: Context, pool: Pool, given: Mapping[str, str]) -> Made:
    held = pool.known("chlorinator")
    stops = terms.show_value("temp", float(held.get("cutout") or CELL_STOPS_C), context.unit_system)
    low, high = held.get("salt_low"), held.get("salt_high")
    salt = f"{low:,.0f} to {high:,.0f} ppm" if low and high else "about 2,700 to 3,400 ppm, by its maker"
    return cell_guides.light(stops, salt), {}


def _bath(context: Context, pool: Pool, given: Mapping[str, str]) -> Made:
    """The bath for the person's container. Raises InvalidInput at what was not given."""
    had = baths(context.session, pool)
    lately = [at for at in had if at > context.now - timedelta(days=1)]
    if len(lately) >= cell_guides.MOST_BATHS_A_DAY:
        text = (
            f"{len(lately)} baths since yesterday: no more now, the coating goes with the scale. Refit"
            f" it, and"
            " look again in a week."
        )
        raise Conflict("too_many_baths", text)
    typed = given.get("container", "").strip()
    if not typed:
        raise InvalidInput(FieldProblem("container", "missing", "Say how much covers the plates."))
    text, _, unit = typed.rpartition(" ")
    if unit not in UNITS["bath"]:
        raise InvalidInput(FieldProblem("container", "unknown_unit", "Choose the unit."))
    litres = parse_number(text, "container") * UNITS["bath"][unit][1]
    parts = parse_number(given.get("parts") or "5", "parts")
    if parts not in PARTS:
        raise InvalidInput(FieldProblem("parts", "unknown_choice", "Four or five parts of water."))
    acid = given.get("acid") or ACIDS[0]
    if acid not in ACIDS:
        raise InvalidInput(FieldProblem("acid", "unknown_choice", "Choose the acid."))
    told = in_words(bath(litres, parts, acid), context.unit_system)
    return cell_guides.acid_bath(told, parts, len(had)), {
        "bath": {"litres": litres, "parts": parts, "acid": acid}
    }


def _output(context: Context, pool: Pool, given: Mapping[str, str]) -> Made:
    """Tonight and tomorrow night, by the sun of the place; by the clock where that is not known."""
    here = context.now.astimezone(ZoneInfo(pool.time_zone))
    evening = _sun(pool, here, dusk=True)
    first = evening if here < evening else _sun(pool, here + timedelta(days=1), dusk=True)
    next_day = first + timedelta(days=1)
    nights = Nights(
        first, _sun(pool, next_day, dusk=False), _sun(pool, next_day, dusk=True),
        _sun(pool, next_day + timedelta(days=1), dusk=False),
    )  # fmt: skip
    return cell_guides.output_test(nights, runs_at(context, pool)), {}


# Where the sun of the place is not known (our own).
_DUSK_H, _DAWN_H = 20, 6


def _sun(pool: Pool, day: datetime, dusk: bool) -> datetime:
    known = None
    if pool.latitude is not None and pool.longitude is not None:
        at = sunset_at if dusk else sunrise_at
        known = at(pool.latitude, pool.longitude, day.date(), ZoneInfo(pool.time_zone))
    by_clock = day.replace(hour=_DUSK_H if dusk else _DAWN_H, minute=0, second=0, microsecond=0)
    return by_clock if known is None else known


def _feeder(context: Context, pool: Pool, given: Mapping[str, str]) -> Made:
    held = pool.known("feeder")
    if pool.chlorine_source != "tablets":
        raise Conflict("no_feeder_here", "This pool is not chlorinated by tablets.")
    if held.get("holds", "trichlor") != "trichlor":
        text = "It has held another product: no trichlor in it, ever. Its maker's way, or a new feeder."
        raise Conflict("another_product", text)
    floats, below = held.get("what") == "floater", pool.known("filter").get("below") == "yes"
    return feeder_rows.top_up(floats, below), {}


def _mineral(context: Context, pool: Pool, given: Mapping[str, str]) -> Made:
    if pool.known("mineral").get("what") != "copper":
        raise Conflict("no_copper_here", "No copper system is recorded at this pool.")
    return mineral_rows.starting("40 lb" if context.unit_system == "us" else "20 kg"), {}


MAKERS: dict[str, Maker] = {
    "filter": _clean_filter,
    "lower": _lower,
    "cell": _with_cell(lambda c, p, g: (cell_guides.look(), {"before": runs_at(c, p)})),
    "cell_hand": _with_cell(lambda c, p, g: (cell_guides.by_hand(), {})),
    "cell_bath": _with_cell(_bath),
    "cell_light": _with_cell(_light),
    "cell_output": _with_cell(_output),
    "boost": _with_cell(lambda c, p, g: (cell_guides.boost(runs_at(c, p)), {"before": runs_at(c, p)})),
    "spots": lambda c, p, g: (cell_guides.spots(), {}),
    "feeder": _feeder,
    "mineral": _mineral,
}
