"""What is due at a pool: each duty as it stands, in lines of one go, as much as fits the time there is."""

from dataclasses import dataclass
from datetime import date, timedelta
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.times import today_at
from kumpan.core.care.duties import parts
from kumpan.core.care.rule import Rule
from kumpan.core.care.rules import BY_ID
from kumpan.core.care.schedule import Due, stands
from kumpan.core.care.site import CLEAN_MINUTES, CLEAN_MINUTES_ROBOT, STOP_MINUTES, Care, Site
from kumpan.core.care.visit import Duty, Line, bring, fits, learned, lines
from kumpan.core.care.walk import WALKS
from kumpan.core.phrasing.terms import listed
from kumpan.store import queries
from kumpan.store.care import site_of, task_of
from kumpan.store.tables.care import TaskRow
from kumpan.store.tables.pools import Pool


@dataclass(frozen=True)
class DueTask:
    """A duty of a line. opens: where it is done (bench, weekly, stop, filter, clear-up, shelf, equipment,
    log), empty where one tick is all; ticks: whether one tick writes it down; looks: whether that tick says
    that all was well. why: of its day; late: what waiting does.
    """

    id: UUID
    title: str
    why: str
    late: str
    missed: int
    opens: str
    ticks: bool
    looks: bool
    minutes: int
    reason_id: str
    revision: int


@dataclass(frozen=True)
class DueLine:
    """Work of one kind that is due: its title, since when, how long it takes, what is part of it."""

    group: str
    title: str
    when: str
    on: date
    overdue: bool
    minutes: int
    harm: bool
    parts: str
    tasks: tuple[DueTask, ...]


@dataclass(frozen=True)
class Visit:
    """What is due: what fits the time there is, the worst to leave first, and what has to wait. bring: what
    it wants at hand; minutes: of what fits; has: what there is; put_off: days to put something off to;
    walk, walk_label: the walk of this cadence, due or not.
    """

    now: tuple[DueLine, ...]
    waits: tuple[DueLine, ...]
    minutes: int
    has: int
    bring: tuple[str, ...]
    sentence: str
    put_off: tuple[tuple[str, date], ...]
    walk: str
    walk_label: str


_PUT_OFF = (("tomorrow", 1), ("in three days", 3), ("next week", 7))


def minutes_of(rule: Rule, site: Site, logged: list[tuple[str, float]]) -> float:
    """What a duty takes here, minutes: as is said, drawn towards what it took."""
    said = rule.minutes
    if rule.opens == "weekly":
        said = CLEAN_MINUTES_ROBOT if site.has("cleaner") else CLEAN_MINUTES
    elif rule.opens == "stop":
        said = STOP_MINUTES
    key = next((keys[0] for keys in rule.met_by), "")
    return learned(said, [minutes for name, minutes in logged if name == key])


def has_minutes(care: Care) -> float:
    """The time a person has for a visit."""
    return care.minutes or (STOP_MINUTES + 5 if care.is_technician else CLEAN_MINUTES)


def title_of(row: TaskRow) -> str:
    """A task's title: the person's, the finding's, or its rule's."""
    return str(row.params.get("title") or BY_ID[row.rule_id].title)


@dataclass(frozen=True)
class Standing:
    """A pool's tasks as they stand today: each duty with its row, those turned off too."""

    site: Site
    today: date
    all: tuple[tuple[Duty, TaskRow], ...]

    @property
    def on(self) -> list[tuple[Duty, TaskRow]]:
        """Those not turned off."""
        return [(duty, row) for duty, row in self.all if row.off_at is None]


def standing_of(context: Context, pool: Pool) -> Standing:
    """A pool's tasks as they stand today."""
    today = today_at(pool, context.now)
    site, logged = site_of(context.session, pool), queries.minutes_logged(context.session, pool.id)
    pairs = []
    for row in queries.tasks(context.session, pool.id):
        task, rule = task_of(row), BY_ID[row.rule_id]
        due = Due(row.next_due, row.next_why, row.next_lapses)
        minutes = float(row.params.get("minutes") or minutes_of(rule, site, logged))
        pairs.append((Duty(task, rule, title_of(row), stands(task, due, today), minutes), row))
    return Standing(site, today, tuple(pairs))


def visit_of(standing: Standing, busy: frozenset[str] = frozenset()) -> Visit:
    """What is due at a pool today. busy: where work is under way already (``DueTask.opens``)."""
    rows = {str(row.id): row for _, row in standing.on}
    duties = [
        duty for duty, row in standing.on if (row.params.get("opens") or duty.rule.opens) not in busy - {""}
    ]
    site, today = standing.site, standing.today
    care = site.care
    has = has_minutes(care)
    now, waits = fits(lines(duties), has)
    shown = [[_line(line, rows, site, today) for line in some] for some in (now, waits)]
    minutes = round(sum(line.minutes for line in now))
    sentence = _sentence(tuple(shown[0]), minutes)
    put_off = tuple((label, today + timedelta(days=days)) for label, days in _PUT_OFF)
    walk = "stop" if care.is_technician else "weekly"
    return Visit(
        now=tuple(shown[0]),
        waits=tuple(shown[1]),
        minutes=minutes,
        has=round(has),
        bring=tuple(bring(now)),
        sentence=sentence,
        put_off=put_off,
        walk=walk,
        walk_label=WALKS[walk],
    )


def _sentence(now: tuple[DueLine, ...], minutes: int) -> str:
    """What is due in a line: the first of it, how much more, how long it takes."""
    if not now:
        return ""
    more = f" and {len(now) - 1} more" if len(now) > 1 else ""
    return f"Due: {_lower(now[0].title)}{more}, about {minutes} min."


def _lower(title: str) -> str:
    return title[:1].lower() + title[1:]


def _line(line: Line, rows: dict[str, TaskRow], site: Site, today: date) -> DueLine:
    whole = line.first.rule.opens in ("weekly", "stop")
    held = [_lower(rule.title) for rule in parts(site)] if whole else []
    return DueLine(
        line.group,
        line.title,
        when_words(line.on, today),
        line.on,
        line.on < today,
        max(1, round(line.minutes)),
        line.waits == 1,
        listed(held) if held else "",
        tuple(_task(d, rows[d.task.id]) for d in line.duties),
    )


def _task(duty: Duty, row: TaskRow) -> DueTask:
    rule = duty.rule
    return DueTask(
        row.id,
        duty.title,
        duty.stands.why,
        rule.if_late,
        duty.stands.missed,
        str(row.params.get("opens") or rule.opens),
        rule.writes is not None,
        rule.writes is not None and rule.writes[0] == "inspection",
        max(1, round(duty.minutes)),
        rule.reason_id,
        row.revision,
    )


def when_words(on: date, today: date) -> str:
    """A due day as said today: ``today``, ``3 days over``, ``Thu``, ``12 Jan``."""
    days = (on - today).days
    if days == 0:
        return "today"
    if days < 0:
        over = -days
        if over < 14:
            return f"{over} day{'s' if over > 1 else ''} over"
        return f"{over // 7} weeks over" if over < 60 else f"since {on.day} {on:%b}"
    if days == 1:
        return "tomorrow"
    if days < 7:
        return f"{on:%A}"
    return f"{on.day} {on:%b}" + ("" if on.year == today.year else f" {on.year}")
