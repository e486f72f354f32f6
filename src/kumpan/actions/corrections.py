"""What an entry said before it was corrected: kept word for word, with who and when."""

from datetime import datetime

from uuid6 import uuid7

from kumpan.core.log.kinds import HAPPENINGS, told
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import UNIT_LABELS
from kumpan.core.water.measures import MEASURES
from kumpan.store.tables import CorrectionRow, Event


def keep_correction(event: Event, who: str, now: datetime) -> None:
    """Keep what an entry says now; to be called before it is changed."""
    event.corrections.append(
        CorrectionRow(id=uuid7(), at=now, who=who, was_at=event.at, was=_says(event), before=_before(event))
    )


def _says(event: Event) -> str:
    """The entry in one line, its values as typed."""
    if event.kind == "water_test":
        return ", ".join(
            [*(f"{MEASURES[r.measure].short} {r.text}" for r in event.readings), *filter(None, [event.spot])]
        )
    if event.dose is not None:
        return (
            f"{PRODUCTS[event.dose.product_id].named(event.dose.strength)}, {event.dose.text}"
            f" {UNIT_LABELS[event.dose.unit]}"
        )
    if event.happening is not None:
        parts = [HAPPENINGS[event.kind].label, told(event.kind, event.happening.typed), event.happening.note]
        return ", ".join(p for p in parts if p)
    return event.kind


def _before(event: Event) -> dict[str, object]:
    """The same as data, so that nothing typed is lost."""
    if event.dose is not None:
        return {n: getattr(event.dose, n) for n in ("product_id", "strength", "amount", "text", "unit")}
    if event.happening is not None:
        return {"typed": event.happening.typed, "note": event.happening.note}
    names = ("measure", "value", "text", "unit", "method", "drop_count")
    return {
        "who": event.who,
        "spot": event.spot,
        "readings": [{n: getattr(r, n) for n in names} for r in event.readings],
    }
