"""Log entries in words."""

from collections.abc import Mapping
from typing import TYPE_CHECKING

from kumpan.core.log.entry import Details, Dose, LogEntry, Mark, Phrase, SheetBegun, StepDone
from kumpan.core.phrasing.terms import show_value
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.records import UNITS
from kumpan.core.units import UNIT_LABELS
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS

if TYPE_CHECKING:
    from kumpan.core.amounts import System
    from kumpan.core.log.kinds import EventKind


def test(kind: "EventKind", entry: LogEntry, system: "System") -> Phrase:
    """A test by its first method and what it read."""
    methods = list(dict.fromkeys(METHODS[r.method].label.lower() for r in entry.readings))
    point = entry.sampling_point
    title = ", ".join(filter(None, (kind.label, *methods[:1], point)))
    shown = ((r, show_value(r.measure, r.value, system).removesuffix(" ppm")) for r in entry.readings)
    detail = ", ".join(f"{MEASURES[r.measure].short} {text}" for r, text in shown)
    line = ", ".join(
        [*(f"{MEASURES[r.measure].short} {r.text}" for r in entry.readings), *filter(None, [point])]
    )
    return Phrase(title, detail, line, kind.label)


def dose(kind: "EventKind", entry: LogEntry, system: "System") -> Phrase:
    """A dose by its product and amount as typed."""
    poured = entry.payload
    assert isinstance(poured, Dose)
    product, unit = PRODUCTS[poured.product_id], UNIT_LABELS[poured.unit]
    title = f"{product.named(poured.strength)}, {poured.text} {unit}"
    return Phrase(title, "", title, f"{product.short}, {poured.text} {unit}")


def step_done(kind: "EventKind", entry: LogEntry, system: "System") -> Phrase:
    """A step of a plan that was no dose."""
    done = entry.payload
    assert isinstance(done, StepDone)
    title = {
        "wait": "Waited for chlorine to fall",
        "dilute": f"Replaced {done.fraction or 0.0:.0%} of the water",
    }.get(done.what, f"Aerated to pH {done.to_ph or 0.0:.1f}")
    return Phrase(title, "", title, kind.label.lower())


def plan(kind: "EventKind", entry: LogEntry, system: "System") -> Phrase:
    """A plan taken up, with its headline."""
    accepted = entry.payload
    assert isinstance(accepted, SheetBegun)
    count = f"{accepted.additions} addition{'s' if accepted.additions != 1 else ''}"
    return Phrase(kind.label, f"{count}. {accepted.headline}", kind.label, kind.label)


def guide(kind: "EventKind", entry: LogEntry, system: "System") -> Phrase:
    """A guide begun, by what it is about."""
    begun = entry.payload
    assert isinstance(begun, SheetBegun)
    return Phrase(kind.label, begun.headline, f"{kind.label}: {begun.headline}", kind.label)


def mark(kind: "EventKind", entry: LogEntry, system: "System") -> Phrase:
    """A mark on work under way: what was said of which step."""
    made = entry.payload
    assert isinstance(made, Mark)
    said = dict(kind.field("verb").choices).get(made.verb, made.verb)
    detail = ": ".join(filter(None, (made.key, f"{said} {made.value}".strip())))
    return Phrase(kind.label, detail, f"{kind.label}, {detail}", kind.label)


def details(kind: "EventKind", entry: LogEntry, system: "System") -> Phrase:
    """An entry of fields, as typed, and its note."""
    held = entry.payload
    assert isinstance(held, Details)
    said = typed_fields(kind, held.typed)
    detail = ". ".join(filter(None, (said, held.note)))
    return Phrase(kind.label, detail, ", ".join(filter(None, (kind.label, said, held.note))), kind.label)


def typed_fields(kind: "EventKind", typed: Mapping[str, Mapping[str, str]]) -> str:
    """An entry's fields as typed, in their order: ``3 min, 250 gal lost``.

    >>> from kumpan.core.log.kinds import KINDS
    >>> minutes, lost = {"text": "3", "unit": "min"}, {"text": "250", "unit": "gal"}
    >>> typed_fields(KINDS["backwash"], {"minutes": minutes, "lost": lost})
    '3 min, 250 gal lost'
    """
    parts = []
    for f in kind.fields:
        held = typed.get(f.id)
        if held and (text := held["text"].strip()):
            value = dict(f.choices)[text] if f.kind == "choice" else text
            unit = UNITS[f.quantity][held["unit"]][0] if f.kind == "number" else ""
            parts.append(" ".join(filter(None, (value, unit, kind.after.get(f.id, "")))))
    return ", ".join(parts)
