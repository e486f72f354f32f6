"""What a machine's guide comes to in the log: written as its steps are said, or once it is done."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import timedelta
from uuid import uuid5

from kumpan.actions.context import Context
from kumpan.actions.sheets.writing import take_back, write_dose, write_entry
from kumpan.core.machines.backwash import Filter, lost_l
from kumpan.core.machines.feeder import tablet_unit
from kumpan.core.records import UNITS
from kumpan.core.seasons.opening_rows import GREEN
from kumpan.core.units import L_PER_GAL
from kumpan.core.work.sheet import Progress, Wait
from kumpan.store import queries
from kumpan.store.tables.log import Event, MarkRow
from kumpan.store.work import WRITTEN_FOR_MARKS, sheet_of

Fields = dict[str, tuple[str, str]]


@dataclass(frozen=True)
class _Writes:
    """What a word of a step writes: the name beside its mark's id, the kind of entry, and its fields from the
    word's value and the sheet's inputs (answers so far among them); no fields, no entry.
    """

    name: str
    kind: str
    fields: Callable[[str, dict[str, object]], Fields]


def _cell_back(value: str, inputs: dict[str, object]) -> Fields:
    """The setting of before: ``60 %, 10 h a day``."""
    percent, _, rest = str(inputs.get("before", "")).partition(" %, ")
    hours = rest.partition(" h")[0]
    return {"setting": (percent, "%"), "hours": (hours, "h")} if percent and hours else {}


def _looked(what: str) -> Callable[[str, dict[str, object]], Fields]:
    """Looked at and well, unless the answer says otherwise."""
    return lambda value, _: {"what": (what, ""), "found": (value if value == "broken" else "fine", "")}


def _measured(field: str) -> Callable[[str, dict[str, object]], Fields]:
    """A number with its unit."""

    def fields(value: str, inputs: dict[str, object]) -> Fields:
        text, _, unit = value.strip().rpartition(" ")
        return {field: (text, unit)} if text and text != "0" else {}

    return fields


def _opened(value: str, inputs: dict[str, object]) -> Fields:
    """An opening: how the water looked, and how warm it was where that was answered."""
    looked = "green" if value == GREEN else "clear"
    answers = inputs["answers"]
    temp = answers.get("temp", "") if isinstance(answers, dict) else ""
    text, _, unit = str(temp).rpartition(" ")
    return {"what": ("opened", ""), "looked": (looked, "")} | ({"temp": (text, unit)} if text else {})


_WRITES: dict[tuple[str, str], _Writes] = {
    ("cell", "look"): _Writes(
        "grade", "inspection", lambda value, _: {"what": ("cell", ""), "found": (value, "")}
    ),
    ("cell_hand", "again"): _Writes("cleaned", "upkeep", lambda *_: {"what": ("cell_hand", "")}),
    ("cell_bath", "lift"): _Writes("cleaned", "upkeep", lambda *_: {"what": ("cell_bath", "")}),
    ("boost", "on"): _Writes("cell", "cell", lambda *_: {"setting": ("100", "%"), "hours": ("24", "h")}),
    ("boost", "back"): _Writes("cell", "cell", _cell_back),
    ("opening", "gate"): _Writes("found:gate", "inspection", _looked("gate")),
    ("opening", "drains"): _Writes("found:drain", "inspection", _looked("drain")),
    ("opening", "electric"): _Writes("grade", "inspection", _looked("breaker")),
    ("opening", "cover"): _Writes("cover", "cover", lambda *_: {"state": ("off", "")}),
    ("opening", "fill"): _Writes("water", "refill", _measured("added")),
    ("opening", "fill_above"): _Writes("water", "refill", _measured("added")),
    ("opening", "clean_kpa"): _Writes("gauge", "pressure", _measured("pressure")),
    ("opening", "look"): _Writes("season", "season", _opened),
    ("closing", "cover"): _Writes("cover", "cover", lambda *_: {"state": ("on", "")}),
    ("closing", "cover_below"): _Writes("cover", "cover", lambda *_: {"state": ("on", "")}),
    ("closing", "shut"): _Writes("season", "season", lambda *_: {"what": ("closed", "")}),
    ("drain", "went"): _Writes("water", "drain", _measured("lost")),
    ("drain", "fill"): _Writes("water", "refill", _measured("added")),
}


def write_down(context: Context, sheet: Event, progress: Progress, mark: Event) -> None:
    """Write what a word of a guide comes to: its own entry, and the one a guide done comes to."""
    if sheet.kind != "guide" or not isinstance(mark.detail, MarkRow):
        return
    said, subject = mark.detail, sheet_of(sheet).subject
    if said.verb in ("answer", "decide"):
        _take_back_earlier(context, sheet, mark, said.key)
        answers = {key: b.value for key, b in progress.by_key.items() if b.value}
        _write_word(context, sheet, mark, answers)
    if subject in ("filter", "lower") and progress.state == "done":
        _write_done(context, sheet, progress)


def _take_back_earlier(context: Context, sheet: Event, mark: Event, key: str) -> None:
    """What an earlier answer to the same question wrote goes."""
    for id, _, said, _ in queries.marks_of(context.session, sheet.id):
        if id != mark.id and said.key == key:
            for name in WRITTEN_FOR_MARKS:
                take_back(context, uuid5(id, name))


def _write_word(context: Context, sheet: Event, mark: Event, answers: dict[str, str]) -> None:
    said, subject = mark.detail, sheet_of(sheet).subject
    assert isinstance(said, MarkRow)
    if (subject, said.key) == ("feeder", "tablets"):
        unit = tablet_unit(sheet.pool.volume_l)
        write_dose(
            context, sheet, (uuid5(mark.id, "tablets"), mark.at), ("trichlor-90", said.value.strip(), unit)
        )
        return
    writes = _WRITES.get((subject, said.key))
    inputs = {**sheet_of(sheet).inputs, "answers": answers}
    fields = {} if writes is None else writes.fields(said.value, inputs)
    if writes is not None and fields:
        write_entry(context, sheet, (uuid5(mark.id, writes.name), writes.kind, mark.at), fields)


def _write_done(context: Context, sheet: Event, progress: Progress) -> None:
    """The one entry that a filter's guide comes to: minutes, pressures and the water that went. Done again
    after an undo, the same entry is written anew.
    """
    assert progress.ended_at is not None
    kind, fields = _came_to(sheet, progress)
    if fields or kind != "drain":
        write_entry(context, sheet, (uuid5(sheet.id, "entry"), kind, progress.ended_at), fields)


def _came_to(sheet: Event, progress: Progress) -> tuple[str, Fields]:
    """The kind of entry and its fields as typed."""
    typed: Fields = {}
    for key, name in (("before", "before"), ("after", "clean"), ("lost", "lost")):
        became = progress.by_key.get(key)
        if became is not None and became.state == "done" and became.value:
            text, _, unit = became.value.rpartition(" ")
            typed[name] = (text, unit)
    if sheet_of(sheet).subject == "lower":
        return "drain", {"lost": typed["lost"]} if "lost" in typed else {}
    if sheet_of(sheet).inputs["filter"]["medium"] == "cartridge":
        return "filter_clean", typed
    return "backwash", typed | {"minutes": (f"{minutes_to_waste(progress):.1f}", "min")}


def write_lost(context: Context, sheet: Event, mark: Event, value: str) -> None:
    """Write the entry of water that a run's vacuuming sent to waste: ``90 gal``; nothing for a plain done."""
    text, _, unit = value.strip().rpartition(" ")
    if unit in UNITS["volume"]:
        write_entry(context, sheet, (uuid5(mark.id, "lost"), "drain", mark.at), {"lost": (text, unit)})


def minutes_to_waste(progress: Progress) -> float:
    """How long the water ran to waste: from each wash's and rinse's tap to the word that ended it."""
    ran = timedelta()
    for b in progress.steps:
        if isinstance(b.step.act, Wait) and b.state == "done" and b.closed_at is not None:
            begun = b.until - timedelta(minutes=b.step.act.minutes) if b.until else None
            ran += b.closed_at - begun if begun is not None else timedelta(minutes=b.step.act.minutes)
    return max(0.1, ran.total_seconds() / 60)


def lost_by_flow_l(sheet: Event, progress: Progress) -> float | None:
    """About how many litres went, by the pump's flow and the minutes; None where the flow is not known."""
    held = sheet_of(sheet).inputs.get("filter")
    return lost_l(Filter(**held), minutes_to_waste(progress)) if held else None


def suggested_lost(sheet: Event, progress: Progress, system: str) -> str:
    """The same as one would type it: ``120 gal``; empty where the flow is not known."""
    litres = lost_by_flow_l(sheet, progress)
    if litres is None:
        return ""
    return f"{litres / L_PER_GAL:.0f} gal" if system == "us" else f"{litres:.0f} l"
