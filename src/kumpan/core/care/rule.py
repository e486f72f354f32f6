"""What a rule of recurring work says: for whom, how often, what tells that it was done."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from kumpan.core.care.facts import Key, Met
from kumpan.core.care.site import CADENCES, Site

# What waiting does, worst first (our own): people hurt, water turns, a guard is not looked at, machines wear,
# looks, papers.
HURTS, TURNS, GUARDS, WEARS, LOOKS, KEEPS = range(1, 7)


@dataclass(frozen=True)
class Rule:
    """A row. group: the line it shares on a visit; title: as an order. days: by cadence, 0 or missing none.
    monthly: instead of an interval, months in which it is due on the 1st, by cadence. weekdays: instead,
    fixed days of the week. adaptive: instead, a rule of ``care.adaptive`` and its params.

    met_by: what of the log says it was done; writes: the entry that one tick writes (kind and fields), empty
    where it is done elsewhere; opens: the place where it is done. waits: what waiting does, and in words.
    first_days: from when it is taken up to when it is first due, None: its interval. in_season: only while
    the pool is in use. in_winter: only while it is closed. reads: measures a test of it reads. part_of: the
    duty that does it too, and takes it over where it comes no more often than that.
    """

    id: str
    group: str
    title: str
    met_by: Met = ()
    days: Mapping[str, int] = field(default_factory=dict)
    monthly: Mapping[str, tuple[int, ...]] = field(default_factory=dict)
    weekdays: tuple[int, ...] = ()
    adaptive: str = ""
    params: Mapping[str, Any] = field(default_factory=dict)
    applies: Callable[[Site], bool] = lambda site: True
    every: Callable[[Site], int] | None = None
    writes: tuple[str, Mapping[str, str]] | None = None
    opens: str = ""
    minutes: float = 5.0
    waits: int = LOOKS
    if_late: str = ""
    bring: tuple[str, ...] = ()
    first_days: int | None = None
    in_season: bool = True
    in_winter: bool = False
    reads: tuple[str, ...] = ()
    part_of: str = ""
    school: str = "All schools"
    reason_id: str = "care"

    @property
    def keys(self) -> frozenset[Key]:
        """All that may tell that it was done."""
        return frozenset(key for keys in self.met_by for key in keys)


def per(*days: int) -> dict[str, int]:
    """Days by cadence, in the order of ``CADENCES``."""
    return dict(zip(CADENCES, days, strict=True))


def owners(days: int) -> dict[str, int]:
    """The same for everybody who comes out every week themselves."""
    return per(days, days, days, days, 0, 0)


def every_cadence(days: int) -> dict[str, int]:
    """The same for everybody."""
    return per(days, days, days, days, days, days)
