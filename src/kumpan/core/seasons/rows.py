"""The rows of each season's plan."""

from kumpan.core.seasons.closing_rows import CLOSING
from kumpan.core.seasons.drain_rows import DRAIN
from kumpan.core.seasons.opening_rows import OPENING
from kumpan.core.seasons.plan import Asked, Planned, Row, Subject, planned
from kumpan.core.seasons.soft_rows import SOFT_CLOSING, SOFT_OPENING

ROWS: dict[Subject, tuple[Row, ...]] = {"opening": OPENING, "closing": CLOSING, "drain": DRAIN}
_SOFT: dict[Subject, tuple[Row, ...]] = {"opening": SOFT_OPENING, "closing": SOFT_CLOSING}


def plan_for(subject: Subject, asked: Asked) -> tuple[Planned, ...]:
    """The plan of a subject for one pool: a small soft-sided one is put up and away, not wintered."""
    soft = _SOFT.get(subject) if asked.site.traits.is_small_soft else None
    return planned(soft or ROWS[subject], asked)
