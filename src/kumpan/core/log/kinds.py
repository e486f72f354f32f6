"""What happens to a pool beside tests and doses: kinds with their fields, as data, and what they say.

Every field may be left open: a line quickly written beats a form not filled in.
"""

from dataclasses import dataclass, field
from datetime import date

from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.records import UNITS, Field, TypedField, Value, checked_fields, choice, number

# Kinds that bring water in or take it out: between two readings they spoil a proof of the volume.
MOVES_WATER = ("backwash", "refill", "drain", "rain")


@dataclass(frozen=True)
class HappeningKind:
    """A kind of entry. needs: a field without which it says nothing. after: words behind a field's value when
    it is told.
    """

    id: str
    label: str
    fields: tuple[Field, ...] = ()
    needs: str = ""
    after: dict[str, str] = field(default_factory=dict)


_WATER = ("volume", 0.5, 2_000_000)
# Limits are our own: typing slips.
HAPPENINGS: dict[str, HappeningKind] = {
    k.id: k
    for k in (
        HappeningKind(
            "clean",
            "Cleaned",
            (
                choice(
                    "what",
                    "What",
                    whole="the weekly clean",
                    skimmed="skimmed",
                    brushed="brushed",
                    vacuumed="vacuumed",
                    baskets="emptied baskets",
                    line="water line",
                ),
                number("minutes", "Took", "minutes", 1, 1440),
            ),
        ),
        HappeningKind(
            "backwash",
            "Backwash",
            (
                number("minutes", "Ran", "minutes", 0.25, 240),
                number("lost", "Water lost", *_WATER),
            ),
            after={"lost": "lost"},
        ),
        HappeningKind(
            "pressure",
            "Filter pressure",
            (number("pressure", "Gauge", "pressure", 0, 500),),
            needs="pressure",
        ),
        HappeningKind("refill", "Water added", (number("added", "Added", *_WATER),), needs="added"),
        HappeningKind("drain", "Water drained", (number("lost", "Drained", *_WATER),), needs="lost"),
        HappeningKind("rain", "Rain", (number("fell", "Fell", "rain", 0.1, 1000),), needs="fell"),
        HappeningKind(
            "bathers",
            "Heavy use",
            (number("people", "Bathers", "count", 1, 2000), number("hours", "For", "hours", 0.1, 24)),
            after={"people": "bathers"},
        ),
        HappeningKind("cover", "Cover", (choice("state", "Now", on="on", off="off"),), needs="state"),
        HappeningKind(
            "cell",
            "Chlorinator set",
            (number("setting", "Setting", "percent", 0, 100), number("hours", "Runs a day", "hours", 0, 24)),
            needs="setting",
            after={"hours": "a day"},
        ),
        HappeningKind(
            "shock", "Shock", (number("to", "Raised to", "ppm", 1, 100),), after={"to": "aimed at"}
        ),
        HappeningKind(
            "inspection",
            "Inspected",
            (
                choice(
                    "what",
                    "What",
                    cell="cell",
                    filter="filter",
                    drain="drain covers",
                    gate="gate and fence",
                    breaker="residual-current device",
                    equipment="equipment pad",
                ),
                choice("found", "Found", fine="fine", deposits="deposits", worn="worn", broken="broken"),
            ),
            needs="what",
        ),
        HappeningKind("note", "Note"),
        HappeningKind("photo", "Photo"),
    )
}


def checked_happening(kind_id: str, given: dict[str, TypedField], note: str, today: date) -> dict[str, Value]:
    """Canonical values of an entry as typed. Raises InvalidInput at ``details.<field>``, ``note`` or
    ``kind``.
    """
    kind = HAPPENINGS.get(kind_id)
    if kind is None:
        raise InvalidInput(FieldProblem("kind", "unknown_choice", "Choose what happened."))
    values, problems = checked_fields(kind.fields, f"“{kind.label.lower()}”", given, today, "details")
    if kind.needs and not problems and kind.needs not in values and not note.strip():
        problems.append(FieldProblem(f"details.{kind.needs}", "empty", "Say this, or write a note."))
    if kind.id == "note" and not note.strip():
        problems.append(FieldProblem("note", "empty", "Write the note."))
    if problems:
        raise InvalidInput(*problems)
    return values


def told(kind_id: str, typed: dict[str, dict[str, str]]) -> str:
    """What an entry says, from its fields as typed, in their order: ``3 min, 250 gal lost``.

    >>> told("backwash", {"minutes": {"text": "3", "unit": "min"}, "lost": {"text": "250", "unit": "gal"}})
    '3 min, 250 gal lost'
    """
    kind, parts = HAPPENINGS[kind_id], []
    for f in kind.fields:
        given = typed.get(f.id)
        if given and given["text"].strip():
            value = (
                dict(f.choices)[given["text"]]
                if f.kind == "choice"
                else f"{given['text'].strip()} {UNITS[f.quantity][given['unit']][0]}".strip()
            )
            parts.append(f"{value} {kind.after.get(f.id, '')}".strip())
    return ", ".join(parts)
