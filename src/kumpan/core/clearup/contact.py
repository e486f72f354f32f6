"""Contact time after an incident: what of the readings counts against the table's rows."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property
from itertools import pairwise

from kumpan.core.clearup import incidents as table
from kumpan.core.clearup import tables as t
from kumpan.core.clearup.course import Course, Criterion
from kumpan.core.clearup.incidents import INCIDENTS, Incident, Row
from kumpan.core.clearup.run import Told
from kumpan.core.products.catalogue import is_acid
from kumpan.core.water.methods import METHODS

# Only these tell stabilizer under what a turbidity tube reads (common practice).
_READS_LITTLE = ("lab",)
_WARMTH_LASTS = timedelta(minutes=table.GAP_MOST_MIN)
_NONE_PPM = 0.5


@dataclass(frozen=True)
class Interval:
    """Time between two readings. minutes: of it that count; why: why none, empty where they do."""

    begins: datetime
    ends: datetime
    minutes: float
    why: str


class Contact:
    """What a run after an incident has come to."""

    def __init__(self, course: Course) -> None:
        self.course = course
        self.incident: Incident = INCIDENTS.get(course.run.cause, INCIDENTS["formed"])

    @cached_property
    def stabilizer(self) -> str:
        """``none``, ``some`` or ``much`` by the last reading that can tell, ``unknown`` where none can and it
        matters. A tube that reads none counts as some.
        """
        latest, most = self._read("cya"), self.incident.most_cya_ppm
        if latest is None:
            known = self.course.known("cya")
            if most is None:
                return "some"
            return "much" if known is not None and known > 2 * most else "unknown"
        value, test = latest
        exact = test.readings["cya"].method in _READS_LITTLE
        if most is None:
            brings = self.course.site.traits.chlorine_source in ("tablets", "granules")
            return "none" if exact and value < _NONE_PPM and not brings else "some"
        if not exact:
            return "much" if value > 2 * most else "unknown"
        return "none" if value < _NONE_PPM else "some" if value <= most else "much"

    @property
    def rows(self) -> tuple[Row, ...]:
        """The table's rows that this water may go by; none while stabilizer is too much or not known."""
        held = self.stabilizer
        if held in ("much", "unknown"):
            return ()
        return self.incident.bare if held == "none" else self.incident.bound

    @property
    def aim(self) -> Row | None:
        """The row that is aimed at: the one chosen, else the lowest."""
        told = [m.value for m in self.course.marks if m.key == "row" and m.verb in ("answer", "decide")]
        chosen = next((r for r in self.rows if told and r.id == told[-1]), None)
        return chosen or next(iter(self.rows), None)

    @cached_property
    def readings(self) -> list[Told]:
        """Every test since that read free chlorine, in order; one too soon after a pour, or that bleached,
        tells nothing.
        """
        since = [e for e in self.course.told if "fc" in e.readings and e.at >= self.course.run.at]
        return [e for e in since if self.course.mixed(e) and e.id not in self.course.doubtful]

    @cached_property
    def ph_set(self) -> bool:
        """Whether pH was last read in range, at chlorine that lets it be read, and no acid went in since."""
        last = next(
            (
                e
                for e in reversed(self.readings)
                if "ph" in e.readings and e.readings["fc"].value <= t.PH_UNREAD_OVER_PPM
            ),
            None,
        )
        acids = [e.at for e in self.course.told if e.at >= self.course.run.at and is_acid(e.product_id)]
        if last is None or any(at > last.at for at in acids):
            return False
        return last.readings["ph"].value <= table.PH_MOST + 1e-9

    def fails(self, test: Told, row: Row) -> str:
        """Why a reading does not bear a row; empty where it does."""
        fc = test.readings["fc"]
        worth = METHODS[fc.method].reads.get("fc") if fc.method in METHODS else None
        if fc.value < row.fc_ppm - 1e-9:
            top = worth.scale[1] if worth is not None and worth.scale is not None else None
            short = top is not None and top < row.fc_ppm and fc.at_top("fc")
            return f"this kit ends at {top:g} ppm" if short else f"chlorine under {row.fc_ppm:g}"
        ph = self._ph(test)
        if ph is None:
            return "pH not read at 10 ppm or less"
        if ph > table.PH_MOST + 1e-9:
            return f"pH over {table.PH_MOST:g}"
        temp = self._temp_c(test)
        if temp is None:
            return "temperature not read"
        return "colder than 77 °F (25 °C)" if temp < table.TEMP_LEAST_C - 0.05 else ""

    def intervals(self, row: Row) -> list[Interval]:
        """Time between each two readings, and whether it counts for a row: both bear it, and they are no more
        than four hours apart. After the last reading nothing counts.
        """
        found, failed = [], {e.id: self.fails(e, row) for e in self.readings}
        for one, then in pairwise(self.readings):
            minutes = (then.at - one.at).total_seconds() / 60
            why = failed[one.id] or failed[then.id]
            if not why and minutes > table.GAP_MOST_MIN + 1e-9:
                why = "more than four hours apart"
            found.append(Interval(one.at, then.at, 0.0 if why else minutes, why))
        return found

    def counted_min(self, row: Row) -> float:
        """Minutes counted for a row."""
        return sum(i.minutes for i in self.intervals(row))

    @cached_property
    def met_at(self) -> datetime | None:
        """When the first of the rows was met; None before. Rows are not added up: each stands alone."""
        ends = []
        for row in self.rows:
            done = 0.0
            for interval in self.intervals(row):
                done += interval.minutes
                if done >= row.minutes - 1e-6:
                    ends.append(interval.ends)
                    break
        return min(ends, default=None)

    def criteria(self) -> tuple[Criterion, ...]:
        """Each row, and what counts for it so far."""
        return tuple(
            Criterion(
                f"row {row.id}",
                row.words,
                self.counted_min(row) >= row.minutes - 1e-6,
                f"{table.span(self.counted_min(row))} counted",
            )
            for row in self.rows
        )

    def _read(self, measure: str) -> tuple[float, Told] | None:
        return self.course.latest(measure, self.course.run.at - timedelta(hours=2))

    def _ph(self, test: Told) -> float | None:
        """pH at a reading: its own where chlorine lets it be read, else the last that could be."""
        able = [
            e
            for e in self.readings
            if e.at <= test.at and "ph" in e.readings and e.readings["fc"].value <= t.PH_UNREAD_OVER_PPM
        ]
        own = test.readings.get("ph")
        if own is not None and test.readings["fc"].value <= t.PH_UNREAD_OVER_PPM:
            return own.value
        over = test.readings["fc"].value > t.PH_UNREAD_OVER_PPM
        return able[-1].readings["ph"].value if able and over else None

    def _temp_c(self, test: Told) -> float | None:
        told = [
            e.readings["temp"].value
            for e in self.course.told
            if "temp" in e.readings and test.at - _WARMTH_LASTS <= e.at <= test.at
        ]
        return told[-1] if told else None
