"""The kinds of entry a log may hold: one row a kind, with its fields, what it does to the water and how it is
told.

Every field may be left open: a line quickly written beats a form not filled in. Limits of the fields are our
own: typing slips.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date

from kumpan.core.amounts import System
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.log import effects
from kumpan.core.log.entry import Effect, LogEntry, Phrase
from kumpan.core.phrasing import entries
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.records import Field, TypedField, Value, checked_fields, choice, identifier, number, text


@dataclass(frozen=True)
class EventKind:
    """A kind of entry.

    detail: the table that holds what is particular to it; ``entry`` serves every kind described by fields
    alone. needs: a field without which it says nothing. after: words behind a field's value when it is told.
    effect: what it does to the water; None where it tells the estimate nothing. moves_water: whether it
    brings water in or takes it out, which spoils a proof of the volume between two readings. entered: whether
    the log's own form writes it; listed: whether the log shows it among the rest, unasked.
    """

    id: str
    label: str
    fields: tuple[Field, ...] = ()
    needs: str = ""
    after: Mapping[str, str] = field(default_factory=dict)
    detail: str = "entry"
    effect: Callable[[LogEntry, PoolTraits], Effect] | None = None
    phrase: Callable[["EventKind", LogEntry, System], Phrase] = entries.details
    moves_water: bool = False
    entered: bool = True
    listed: bool = True

    @property
    def has_fields(self) -> bool:
        """Whether fields and a note say all of it, in whatever table they are kept."""
        return bool(self.fields) or self.detail == "entry"

    def field(self, id: str) -> Field:
        """One of its fields. Raises KeyError for any other."""
        return {f.id: f for f in self.fields}[id]


_WATER = ("volume", (0.5, 2_000_000))
_GAUGES = (
    number("before", "Gauge before", "pressure", (0, 500)),
    number("clean", "Gauge after", "pressure", (0, 500)),
)
_CLEANED = choice(
    "what", "What", whole="the weekly clean", skimmed="skimmed", brushed="brushed", vacuumed="vacuumed",
    baskets="emptied baskets", line="water line", rinsed="rinsed the salt off",
)  # fmt: skip
_LOOKED_AT = choice(
    "what", "What", cell="cell", filter="filter", drain="drain covers", gate="gate and fence",
    breaker="residual-current device", equipment="equipment pad", water="the water", cover="winter cover",
)  # fmt: skip
_SAW_TO = choice(
    "what", "What", tablets="tablets topped up", orings="O-rings greased", timer="timer checked",
    gauge="gauge checked", soak="cartridge soaked", media="filter's medium renewed",
    cell_hand="cell cleaned by hand", cell_bath="cell bathed in acid", repair="repaired",
    cover_water="water pumped off the cover", cover_leaves="leaves off the cover",
    freeze="pump left on through a freeze", other="something else",
)  # fmt: skip
_STORM = choice("what", "What", wind="wind", dust="dust", thunder="thunderstorm", hail="hail")
_SEASON = choice("what", "What", opened="opened", closed="closed for winter")
_LOOKED = choice("looked", "Water was", clear="clear", green="green or cloudy")
_VERBS = choice(
    "verb", "What", answer="answered", decide="decided", skip="skipped", pause="paused", resume="resumed",
    give_up="given up", timer="timer set", add="added", move="moved", snooze="put off",
)  # fmt: skip

_ROWS = (
    EventKind(
        "water_test", "Test", detail="reading", effect=effects.none, phrase=entries.test, entered=False
    ),
    EventKind("plan", "Plan accepted", detail="sheet", phrase=entries.plan, entered=False),
    EventKind("guide", "Guide begun", detail="sheet", phrase=entries.guide, entered=False, listed=False),
    EventKind("clear_up", "Clear-up begun", detail="sheet", phrase=entries.guide, entered=False),
    EventKind("dose", "Dose", detail="dose", effect=effects.dose, phrase=entries.dose, entered=False),
    EventKind(
        "step_done",
        "Fresh water or air",
        detail="step_done",
        effect=effects.step_done,
        phrase=entries.step_done,
        entered=False,
    ),
    EventKind("clean", "Cleaned", (_CLEANED, number("minutes", "Took", "minutes", (1, 1440)))),
    EventKind(
        "backwash",
        "Backwash",
        (
            number("minutes", "Ran", "minutes", (0.1, 240)),
            number("lost", "Water lost", *_WATER),
            *_GAUGES,
        ),
        after={"lost": "lost", "before": "before", "clean": "after"},
        effect=effects.lost,
        moves_water=True,
    ),
    EventKind("filter_clean", "Filter cleaned", _GAUGES, after={"before": "before", "clean": "after"}),
    EventKind(
        "pressure",
        "Filter pressure",
        (
            number("pressure", "Gauge", "pressure", (0, 500)),
            choice("speed", "Pump at", usual="its usual speed", second="its second speed"),
            number("flow", "Flow", "flow", (0, 300_000)),
        ),
        needs="pressure",
        after={"flow": "flow"},
    ),
    EventKind(
        "refill",
        "Water added",
        (number("added", "Added", *_WATER),),
        needs="added",
        effect=effects.refill,
        moves_water=True,
    ),
    EventKind(
        "drain",
        "Water drained",
        (number("lost", "Drained", *_WATER),),
        needs="lost",
        effect=effects.lost,
        moves_water=True,
    ),
    EventKind(
        "rain",
        "Rain",
        (number("fell", "Fell", "rain", (0.1, 1000)),),
        needs="fell",
        effect=effects.rain,
        moves_water=True,
    ),
    EventKind(
        "bathers",
        "Heavy use",
        (number("people", "Bathers", "count", (1, 2000)), number("hours", "For", "hours", (0.1, 24))),
        after={"people": "bathers"},
        effect=effects.bathers,
    ),
    EventKind(
        "cover", "Cover", (choice("state", "Now", on="on", off="off"),), needs="state", effect=effects.cover
    ),
    EventKind(
        "cell",
        "Chlorinator set",
        (number("setting", "Setting", "percent", (0, 100)), number("hours", "Runs a day", "hours", (0, 24))),
        needs="setting",
        after={"hours": "a day"},
        effect=effects.cell,
    ),
    EventKind("storm", "Storm", (_STORM,)),
    EventKind(
        "upkeep",
        "Upkeep",
        (_SAW_TO, number("minutes", "Took", "minutes", (1, 1440)), identifier("task_id", "Task")),
        needs="what",
    ),
    EventKind("shock", "Shock", (number("to", "Raised to", "ppm", (1, 100)),), after={"to": "aimed at"}),
    EventKind(
        "inspection",
        "Inspected",
        (
            _LOOKED_AT,
            choice(
                "found",
                "Found",
                fine="fine",
                odd="not right",
                light="a thin film",
                heavy="heavy deposits",
                deposits="deposits",
                worn="worn",
                broken="broken",
            ),
        ),
        needs="what",
    ),
    EventKind(
        "season", "Season", (_SEASON, number("temp", "Water", "temp", (-5, 45)), _LOOKED), needs="what"
    ),
    EventKind("note", "Note"),
    EventKind("photo", "Photo"),
    EventKind(
        "mark",
        "Mark",
        (
            identifier("sheet_id", "Sheet"),
            identifier("task_id", "Task"),
            text("key", "Step", 60),
            _VERBS,
            text("value", "Value", 400),
        ),
        needs="verb",
        detail="mark",
        phrase=entries.mark,
        entered=False,
        listed=False,
    ),
)

KINDS: dict[str, EventKind] = {k.id: k for k in _ROWS}


def entered_kinds() -> list[EventKind]:
    """The kinds that the log's own form writes, in its order."""
    return [k for k in KINDS.values() if k.entered]


def unlisted_kinds() -> tuple[str, ...]:
    """The kinds that the log shows only when asked for: what was said of work under way."""
    return tuple(k.id for k in KINDS.values() if not k.listed)


def water_kinds() -> tuple[str, ...]:
    """The kinds that tell the estimate of the water something."""
    return tuple(k.id for k in KINDS.values() if k.effect is not None)


def losing_kinds() -> tuple[str, ...]:
    """The kinds that tell of water lost, which a refill may make up."""
    return tuple(k.id for k in KINDS.values() if k.effect is effects.lost)


def kinds_that_move_water() -> tuple[str, ...]:
    """The kinds that bring water in or take it out."""
    return tuple(k.id for k in KINDS.values() if k.moves_water)


def phrase_of(entry: LogEntry, system: System = "us") -> Phrase:
    """An entry in words, in the person's units."""
    kind = KINDS[entry.kind]
    return kind.phrase(kind, entry, system)


def checked_entry(kind_id: str, typed: Mapping[str, TypedField], note: str, today: date) -> dict[str, Value]:
    """Canonical values of an entry as typed. Raises InvalidInput at ``details.<field>``, ``note`` or
    ``kind``.
    """
    kind = KINDS.get(kind_id)
    if kind is None or not kind.has_fields:
        raise InvalidInput(FieldProblem("kind", "unknown_choice", "Choose what happened."))
    values, problems = checked_fields(kind.fields, f"“{kind.label.lower()}”", typed, today, "details")
    if kind.needs and not problems and kind.needs not in values and not note.strip():
        problems.append(FieldProblem(f"details.{kind.needs}", "empty", "Say this, or write a note."))
    if kind.id == "note" and not note.strip():
        problems.append(FieldProblem("note", "empty", "Write the note."))
    if problems:
        raise InvalidInput(*problems)
    return values
