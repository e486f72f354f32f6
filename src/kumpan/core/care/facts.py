"""What a pool's log and papers say, as far as schedules need it."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, datetime

from kumpan.core.care.deposits import CellLog
from kumpan.core.weather import WeatherDay

# A key names a thing done: a kind of entry, where it has one its ``what``, a measure read, a product poured.
# ``clean.whole``, ``inspection.cell``, ``read.fc``, ``dose.trichlor-90``, ``backwash``.
Key = str
Met = tuple[tuple[Key, ...], ...]  # alternatives; of each, all are needed


@dataclass(frozen=True)
class Facts:
    """last: when each thing was last done, on the pool's clock. gauge: the newest reading of the filter's
    gauge, kPa, and when; clean_kpa: what it reads when clean at that speed; flow: the newest flow read, as a
    share of the pump's own, and when. cell: what the log knows of a cell's plates. papers: days named by
    records, by their key (``warranty:<id>``, ``drain_cover``, ``media``, ``reagents``). done_by_task: of
    duties that no other kind of entry tells, when each was last done. events: of what calls for a look, when
    it last was. weather: its last days and its outlook.
    """

    last: Mapping[Key, datetime] = field(default_factory=dict)
    gauge: tuple[float, datetime] | None = None
    clean_kpa: float | None = None
    flow: tuple[float, datetime] | None = None
    cell: CellLog = field(default_factory=CellLog)
    papers: Mapping[str, date] = field(default_factory=dict)
    done_by_task: Mapping[str, datetime] = field(default_factory=dict)
    events: Mapping[str, datetime] = field(default_factory=dict)
    pump_hours_day: float | None = None
    weather: tuple[WeatherDay, ...] = ()

    def done(self, met: Met) -> datetime | None:
        """When all of an alternative was last done: the oldest of each, the newest of these."""
        each = [[self.last.get(key) for key in keys] for keys in met]
        whole = [min(at for at in times if at) for times in each if times and all(times)]
        return max(whole, default=None)
