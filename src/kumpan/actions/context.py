"""What every use case is given: where to read and write, for whom, by whom, and when."""

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from kumpan.core.amounts import OwnMeasure, System, checked_measure
from kumpan.store.tables.accounts import Account


@dataclass(frozen=True)
class Context:
    """One request or one piece of long work.

    session: its transaction. account: whose data. actor: who is at it, in words; until people sign in, the
    name a device remembers. now: its instant, aware.
    """

    session: Session
    account: Account
    actor: str
    now: datetime

    @property
    def own_measures(self) -> tuple[OwnMeasure, ...]:
        """What the person counts in: their jugs, scoops, buckets and bags."""
        held = self.account.own_measures or []
        return tuple(checked_measure(m["name"], m["liquid"], m["amount"], m["unit"], "") for m in held)

    @property
    def unit_system(self) -> System:
        """The units the person reads and writes in."""
        return "metric" if self.account.unit_system == "metric" else "us"
