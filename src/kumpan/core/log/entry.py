"""One entry of a pool's log as the core sees it: when, what kind, and what that kind holds."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime

from kumpan.core.records import Value
from kumpan.core.water.readings import Reading
from kumpan.core.water.state import Change


@dataclass(frozen=True)
class Dose:
    """What was poured. amount: g, or mL of liquids; text and unit: as typed."""

    product_id: str
    strength: float | None
    amount: float
    text: str
    unit: str


@dataclass(frozen=True)
class StepDone:
    """A step of a plan done that is no dose. what: dilute (fraction of the water), aerate (to_ph) or wait."""

    what: str
    fraction: float | None
    to_ph: float | None


@dataclass(frozen=True)
class SheetBegun:
    """Ordered work taken up. subject: what it is about; its headline; how many additions it holds."""

    subject: str
    headline: str
    additions: int


@dataclass(frozen=True)
class Mark:
    """A mark on ordered work under way. sheet_id or task_id: whose; key: the step's; verb, value: what was
    said.
    """

    sheet_id: str | None
    task_id: str | None
    key: str
    verb: str
    value: str


@dataclass(frozen=True)
class Details:
    """What a kind described by fields holds. values: canonical, by field; typed: the same as typed."""

    values: Mapping[str, Value] = field(default_factory=dict)
    typed: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    note: str = ""

    def number(self, name: str) -> float:
        """A number among the values, 0 where it was left open."""
        return float(self.values.get(name) or 0.0)


@dataclass(frozen=True)
class LogEntry:
    """One entry. payload: what its kind's detail holds; readings: a test's."""

    id: str
    at: datetime
    kind: str
    payload: object = Details()
    readings: tuple[Reading, ...] = ()
    sampling_point: str = ""


@dataclass(frozen=True)
class Effect:
    """What an entry does to the water of its pool.

    change: an addition, per litre; feeds: one that a feeder gives off over days. replaced: share of the
    water that is fill afterwards. lost_l: litres that left, 0 of unknown size, None for none; added_l:
    litres of fill that came. rain_mm: on the surface. bathers: heads. covered: put on or taken off.
    cell_set: the chlorinator's setting changed; cell_ppm_day: what it makes at that, where that is known.
    """

    change: Change | None = None
    feeds: Change | None = None
    replaced: float = 0.0
    lost_l: float | None = None
    added_l: float = 0.0
    rain_mm: float = 0.0
    bathers: float = 0.0
    covered: bool | None = None
    cell_set: bool = False
    cell_ppm_day: float | None = None


@dataclass(frozen=True)
class Phrase:
    """An entry in words. title and detail: as the log shows it; line: all of it in one line, as typed; mark:
    a label on a time axis.
    """

    title: str
    detail: str
    line: str
    mark: str
