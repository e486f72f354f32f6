"""What a season's views and plans are worked out from, read once."""

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from functools import cached_property
from itertools import pairwise
from zoneinfo import ZoneInfo

from kumpan.actions.context import Context
from kumpan.core.care.site import Site
from kumpan.core.seasons.plan import PARTS
from kumpan.core.seasons.warmth import Warm, course
from kumpan.core.seasons.when import Asked, Kind, State, When, when
from kumpan.core.water.state import WaterState
from kumpan.core.work.sheet import Progress
from kumpan.store import queries
from kumpan.store.care import care_of, site_of
from kumpan.store.queries.seasons import Season
from kumpan.store.tables.log import Event, MarkRow
from kumpan.store.tables.pools import Pool
from kumpan.store.water import present_of
from kumpan.store.work import progress_of, sheet_of

BACK_DAYS, AHEAD_DAYS = 380, 300
_READ_LATELY = timedelta(days=21)  # an older temperature says nothing of today (our own)
_LEAST_MIN, _MOST_MIN = 1.0, 180.0  # what a step is taken to have taken (our own)
_JUST_PAST = timedelta(days=21)  # a day of the year that is just past is still this year's (our own)


@dataclass(frozen=True)
class Placed:
    """Where a part lies: as said, when and by whom."""

    part: str
    place: str
    at: datetime
    by: str


class Known:
    """A pool with its seasons so far, its water's warmth and its parts."""

    def __init__(self, context: Context, pool: Pool) -> None:
        self.context, self.pool = context, pool

    @cached_property
    def zone(self) -> ZoneInfo:
        """The pool's zone."""
        return ZoneInfo(self.pool.time_zone)

    @property
    def today(self) -> date:
        """The day it is at the pool."""
        return self.context.now.astimezone(self.zone).date()

    @cached_property
    def site(self) -> Site:
        """The pool as its work sees it."""
        return site_of(self.context.session, self.pool)

    @cached_property
    def water(self) -> WaterState:
        """Its water now."""
        return present_of(self.context.session, self.pool, self.context.now).water

    @cached_property
    def seasons(self) -> list[Season]:
        """Openings and closings so far, newest first."""
        return queries.seasons(self.context.session, self.pool.id)

    @property
    def state(self) -> State:
        """Whether it is open: by the log, else by the person's own dates, else not known."""
        if self.seasons:
            return "closed" if self.seasons[0].what == "closed" else "open"
        window = care_of(self.pool).season
        return "unknown" if window is None else "open" if window.holds(self.today) else "closed"

    @property
    def kind(self) -> Kind:
        """What comes next."""
        return "opening" if self.state == "closed" else "closing"

    @cached_property
    def temperatures(self) -> list[tuple[datetime, float]]:
        """The water's temperature as read in the last year, oldest first."""
        since = self.context.now - timedelta(days=BACK_DAYS)
        return queries.temperatures(self.context.session, self.pool.id, since)

    @cached_property
    def course(self) -> tuple[Warm, ...]:
        """The water's course over last year and the coming seasons; empty without weather, and indoors."""
        if self.site.indoor:
            return ()
        first, last = self.today - timedelta(days=BACK_DAYS), self.today + timedelta(days=AHEAD_DAYS)
        days = queries.weather_days(self.context.session, self.pool.id, first, last)
        read = {at.astimezone(self.zone).date(): value for at, value in self.temperatures}
        return course(days, {} if self.heated else read, self.today, last)

    @property
    def heated(self) -> bool:
        """Whether a heater holds the water: what is read is then not the season's."""
        return self.site.has("heater")

    @property
    def own_day(self) -> date | None:
        """The person's own day for what comes next."""
        window = care_of(self.pool).season
        if window is None:
            return None
        return _next(self.today, *(window.opens if self.kind == "opening" else window.closes))

    @cached_property
    def when(self) -> When:
        """What is proposed."""
        newest = self.temperatures[-1] if self.temperatures else None
        lately = newest is not None and self.context.now - newest[0] <= _READ_LATELY and not self.heated
        read = (newest[0].astimezone(self.zone).date(), newest[1]) if newest and lately else None
        last = self.last
        return when(
            Asked(
                self.today,
                self.state,
                self.course,
                read,
                str((self.pool.settings or {}).get("climate", "unknown")),
                self.own_day,
                None if last is None else last.at.astimezone(self.zone).date(),
            )
        )

    @property
    def last(self) -> Season | None:
        """The newest of what comes next: the last opening, or the last closing."""
        what = "opened" if self.kind == "opening" else "closed"
        return next((one for one in self.seasons if one.what == what), None)

    @cached_property
    def sheets(self) -> list[Event]:
        """The newest plans of seasons, newest first."""
        return queries.season_sheets(self.context.session, self.pool.id, "opening", "closing", "drain")

    @cached_property
    def parts(self) -> dict[str, Placed]:
        """Where each part lies, by the newest plan that put it away."""
        found: dict[str, Placed] = {}
        for sheet in self.sheets:
            found = self._said_in(sheet) | found
        return {part: found[part] for part in PARTS if part in found}

    def times_of(self, subject: str) -> dict[str, float]:
        """Minutes that each step took when a plan of this subject was last done: from the word before it on
        the same day, where that is no longer than a step takes.
        """
        done = self._last_done(subject)
        if done is None:
            return {}
        closed = sorted((b.closed_at, b.step.key) for b in done.steps if b.closed_at and b.state == "done")
        gaps = ((key, (at - before).total_seconds() / 60) for (before, _), (at, key) in pairwise(closed))
        return {key: gap for key, gap in gaps if _LEAST_MIN <= gap <= _MOST_MIN}

    def notes_for(self, subject: str) -> str:
        """What was noted last for next time: autumn's notes are for spring, and spring's for autumn."""
        mine = [s for s in self.sheets if (sheet_of(s).subject == "drain") == (subject == "drain")]
        for sheet in mine:
            notes = progress_of(self.context.session, sheet, self.context.now).by_key.get("notes")
            if notes is not None and notes.state == "done" and notes.value:
                return notes.value
        return ""

    def _last_done(self, subject: str) -> Progress | None:
        sheet = next((s for s in self.sheets if sheet_of(s).subject == subject), None)
        return None if sheet is None else progress_of(self.context.session, sheet, self.context.now)

    def _said_in(self, sheet: Event) -> dict[str, Placed]:
        steps = {s.key: s.shown for s in sheet_of(sheet).steps}
        marks = sorted(queries.marks_of(self.context.session, sheet.id), key=lambda one: one[1])
        said = {}
        for _, at, mark, by in marks:
            shown = steps.get(mark.key, {})
            if shown.get("part") in PARTS and _places(mark, bool(shown.get("act", {}).get("text"))):
                said[shown["part"]] = Placed(shown["part"], mark.value, at, by)
        return said


def _places(mark: MarkRow, asks: bool) -> bool:
    """Whether a word says where a part lies: an answer in one's own words."""
    return asks and mark.verb == "answer" and mark.value != ""


def _next(today: date, month: int, day: int) -> date:
    """The next such day of the year."""
    days = [_in_year(year, month, day) for year in (today.year - 1, today.year, today.year + 1)]
    return next(on for on in days if on >= today - _JUST_PAST)


def _in_year(year: int, month: int, day: int) -> date:
    try:
        return date(year, month, day)
    except ValueError:
        return date(year, 2, 28)
