"""Log doses and correct them."""

from dataclasses import dataclass
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.log.writing import Correction, NewEvent, begin, keep, kept, reopen
from kumpan.core.log.entry import Dose
from kumpan.core.log.poured import checked_dose
from kumpan.store.tables.log import DoseRow, Event


@dataclass(frozen=True)
class TypedDose:
    """What was poured, as typed. strength: a fraction, None for the product's usual one."""

    product_id: str
    strength: float | None
    text: str
    unit: str

    def checked(self) -> Dose:
        """As the core holds it. Raises InvalidInput at the field that is wrong."""
        return checked_dose(self.product_id, self.strength, self.text, self.unit)


def log_dose(context: Context, pool_id: UUID, new: NewEvent, typed: TypedDose) -> Event:
    """Store a dose poured outside a plan. Sending it again returns the first result."""
    event, known = begin(context, pool_id, "dose", new)
    if known:
        return event
    event.detail = DoseRow.of(typed.checked())
    return keep(context, event)


def correct_dose(context: Context, correction: Correction, typed: TypedDose) -> Event:
    """Correct what was poured or when, if nobody changed it since."""
    poured = typed.checked()
    event, was_at = reopen(context, "dose", correction)
    for name, value in vars(poured).items():
        setattr(event.detail, name, value)
    return kept(context, event, was_at)
