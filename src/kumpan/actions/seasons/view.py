"""A pool's seasons on one page: when to open or close, what waiting means, the plan, the parts, last year."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.seasons.known import Known
from kumpan.actions.seasons.words import SCHEDULES, share_words
from kumpan.core.phrasing import terms
from kumpan.core.seasons.plan import ASKED_FOR, CHOICES, PARTS
from kumpan.core.seasons.sums import BORES_IN
from kumpan.core.seasons.warmth import Warm
from kumpan.core.seasons.when import GREEN_C, GROWS_C, LATE_C, Delay, Kind, When
from kumpan.core.units import c_to_f
from kumpan.store import queries
from kumpan.store.tables.log import Event
from kumpan.store.work import progress_of, sheet_of

_SHOWN_BACK, _SHOWN_AHEAD = timedelta(days=150), timedelta(days=240)


@dataclass(frozen=True)
class WarmPoint:
    """A day of the water's course: in the person's unit; how it is known; the day's lowest air."""

    day: date
    water: float
    low: float
    how: str


@dataclass(frozen=True)
class Line:
    """A temperature that decides: its value in the person's unit, and what it is."""

    value: float
    label: str


@dataclass(frozen=True)
class DelayView:
    """What a week sooner or later means. level: fine, watch or act."""

    when: str
    day: date
    day_words: str
    water: str
    means: str
    level: str
    chosen: bool


@dataclass(frozen=True)
class LastView:
    """An opening or closing of before, in words."""

    what: str
    day: str
    water: str
    looked: str


@dataclass(frozen=True)
class PartView:
    """A part and where it lies."""

    id: str
    label: str
    place: str
    said: str


@dataclass(frozen=True)
class Answer:
    """An answer to a question."""

    id: str
    label: str


@dataclass(frozen=True)
class QuestionView:
    """What a plan asks before it begins; of which plan. units: of a length typed."""

    id: str
    subject: str
    label: str
    choices: tuple[Answer, ...]
    units: tuple[str, ...] = ()
    asks_if: str = ""


@dataclass(frozen=True)
class PlanLink:
    """A plan, under way or done: how far, and for which day."""

    id: UUID
    subject: str
    name: str
    state: str
    day: str
    done: int
    steps: int
    next: str
    notes: str


@dataclass(frozen=True)
class SeasonView:
    """A pool's seasons. kind: what comes next; day: proposed, own: the person's, chosen: the one that counts,
    last_day: on which one may begin; late: from when an opening is late. asks: whether a temperature is to be
    read first; mild: whether it is not closed here; heated: whether what is read was left out.
    """

    pool_id: UUID
    kind: Kind
    headline: str
    lines: tuple[str, ...]
    state: str
    asks: bool
    mild: bool
    heated: bool
    today: date
    day: date | None
    own: date | None
    chosen: date | None
    late: date | None
    warmth: tuple[WarmPoint, ...]
    limits: tuple[Line, ...]
    delays: tuple[DelayView, ...]
    last: tuple[LastView, ...]
    parts: tuple[PartView, ...]
    plans: tuple[PlanLink, ...]
    questions: tuple[QuestionView, ...]
    drain: str


def season_view(context: Context, pool_id: UUID) -> SeasonView:
    """The seasons of one pool."""
    known = Known(context, queries.pool(context.session, context.account.id, pool_id))
    found = known.when
    return SeasonView(
        pool_id=pool_id,
        kind=found.kind,
        headline=headline(known),
        lines=tuple(_lines(known, found)),
        state=known.state,
        asks=found.says in ("ask", "reading"),
        mild=found.says == "mild",
        heated=known.heated,
        today=known.today,
        day=found.day,
        own=known.own_day,
        chosen=found.chosen,
        late=found.late,
        warmth=tuple(_warmth(known)),
        limits=tuple(Line(_unit(known, c), label) for c, label in _LIMITS),
        delays=tuple(_delay(known, found, one) for one in found.delays),
        last=tuple(_last(known)),
        parts=tuple(parts_of(known)),
        plans=tuple(_plan(context, sheet) for sheet in known.sheets),
        questions=tuple(_questions(known)),
        drain=share_words(known, False)[1],
    )


_LIMITS = ((GROWS_C, "algae begin"), (LATE_C, "late to open"), (GREEN_C, "green"))


def _unit(known: Known, temp_c: float) -> float:
    return round(temp_c if known.context.unit_system == "metric" else c_to_f(temp_c), 1)


def _temp(known: Known, temp_c: float | None) -> str:
    return "" if temp_c is None else terms.show_value("temp", temp_c, known.context.unit_system)


def _day(day: date) -> str:
    return f"{day:%a} {day.day} {day:%b}"


def headline(known: Known) -> str:
    """When the next opening or closing is, in one sentence."""
    found, word = known.when, {"opening": "Open", "closing": "Close"}[known.kind]
    under_way = next((s for s in known.sheets if sheet_of(s).ended_at is None), None)
    if under_way is not None:
        return f"{sheet_of(under_way).headline} is under way."
    if found.says == "mild":
        return "No closing here: it stays mild. The pump runs through any frost."
    if found.says == "ask":
        return "How warm is the water? Nothing is proposed before one reading."
    if found.says == "reading":
        return f"The water read {_temp(known, found.water_c)}. Read it again in a week."
    if found.says == "late":
        return f"Open now: the water is at {_temp(known, found.water_c)}, and 65 °F (18 °C) is late."
    if found.chosen is None:
        return "No day can be named yet."
    if found.chosen == known.own_day:
        return f"{word} on {_day(found.chosen)}, your own day."
    if found.says == "now" and found.chosen <= known.today:
        return f"{word} now: the water is at {_temp(known, found.water_c)}."
    return f"{word} about {_day(found.chosen)}."


def _lines(known: Known, found: When) -> Iterator[str]:
    """What the day rests on."""
    if found.says == "mild":
        yield "Less chlorine is needed while it is cool, and the cell may stop; the duties go on."
    if found.own_means is not None and known.own_day is not None:
        yield _own_words(known, found)
    elif found.day is not None and found.kind == "closing":
        yield f"From about {_day(found.day)} the water stays under 60 °F (16 °C): nothing grows then."
    elif found.day is not None and found.says == "course":
        grows = _day(found.day + timedelta(days=7))
        yield f"Water passes 60 °F (16 °C) about {grows}: opened before, it is clear."
    if found.late is not None:
        yield f"From about {_day(found.late)}, at 65 °F (18 °C), it is late: then it is often green."
    if found.frost is not None and known.state != "closed":
        yield f"It is foretold to freeze on {_day(found.frost)}: the pump runs through it."
    if known.heated:
        yield "A heater stands here: the day is reckoned as if it were off. Turn it off a week or two before."
    if found.says == "last_year":
        yield "No weather is known: this is last year's day. Read the water once a week until then."
    if not known.course and not known.site.indoor:
        yield "With the pool's place on the map and a weather source the day follows from the weather."


def _own_words(known: Known, found: When) -> str:
    """What the person's own day means."""
    means = _MEANS[found.kind][found.own_means or "in_time"][0]
    proposed = "" if found.day is None else f" Kumpan would have said {_day(found.day)}."
    return f"Your day counts. Then: {means}.{proposed}"


_MEANS: dict[Kind, dict[str, tuple[str, str]]] = {
    "opening": {
        "early": ("cold and clear, long before anything grows", "fine"),
        "in_time": ("clear, under 60 °F (16 °C)", "fine"),
        "late": ("algae grow already: shock and the overnight test", "watch"),
        "green": ("green under the cover: days of clearing up", "act"),
    },
    "closing": {
        "grows": ("algae still grow under the cover: green in spring", "watch"),
        "in_time": ("cold and before the frost", "fine"),
        "frost": ("frost may have burst lines, pump or filter", "act"),
        "cold": ("products dissolve slowly, hands freeze", "watch"),
    },
}


def _warmth(known: Known) -> Iterator[WarmPoint]:
    first, last = known.today - _SHOWN_BACK, known.today + _SHOWN_AHEAD
    for w in known.course:
        if first <= w.day <= last:
            yield _point(known, w)


def _point(known: Known, w: Warm) -> WarmPoint:
    return WarmPoint(w.day, _unit(known, w.smoothed_c), _unit(known, w.low_c), w.how)


def _delay(known: Known, found: When, one: Delay) -> DelayView:
    means, level = _MEANS[found.kind][one.means]
    weeks = abs(one.weeks)
    count = f"{weeks} week{'s' if weeks > 1 else ''}"
    when = "on the day" if not weeks else f"{count} {'sooner' if one.weeks < 0 else 'later'}"
    water = _temp(known, one.water_c)
    low = "" if one.low_c is None else f", nights to {_temp(known, one.low_c)}"
    return DelayView(when, one.day, _day(one.day), f"{water}{low}", means, level, one.weeks == 0)


def _last(known: Known) -> Iterator[LastView]:
    looked = {"clear": "the water was clear", "green": "the water was green"}
    for one in known.seasons[:6]:
        local = one.at.astimezone(known.zone)
        word = {"opened": "Opened", "closed": "Closed"}.get(one.what, one.what)
        yield LastView(
            word, f"{local.day} {local:%b %Y}", _temp(known, one.temp_c), looked.get(one.looked, "")
        )


def parts_of(known: Known) -> Iterator[PartView]:
    """The parts list: what was put away, where and when."""
    for part, placed in known.parts.items():
        local = placed.at.astimezone(known.zone)
        yield PartView(part, PARTS[part], placed.place, f"{placed.by}, {local.day} {local:%b %Y}")


def _plan(context: Context, sheet: Event) -> PlanLink:
    row, stands = sheet_of(sheet), progress_of(context.session, sheet, context.now)
    alive = stands.state in ("under_way", "paused")
    notes = stands.by_key.get("notes")
    day = stands.day or date.fromisoformat(str(row.inputs["day"]))
    return PlanLink(
        sheet.id,
        row.subject,
        row.headline,
        stands.state,
        f"{day:%a} {day.day} {day:%b %Y}",
        sum(b.closed_at is not None for b in stands.steps),
        len(stands.steps),
        stands.next.step.words.title if alive and stands.next else "",
        notes.value if notes is not None else "",
    )


def _questions(known: Known) -> Iterator[QuestionView]:
    above = known.site.traits.installation == "above_ground"
    for subject, names in ASKED_FOR.items():
        for name in names:
            if (name in _ABOVE and not above) or (name in _BELOW and above):
                continue
            label, choices = CHOICES[name]
            answers = tuple(Answer(id, text) for id, text in choices.items())
            yield QuestionView(name, subject, label, answers)
    if not above:
        lengths = ("m", "ft") if known.context.unit_system == "metric" else ("ft", "m")
        sizes = tuple(Answer(size, f"{size} in") for size in BORES_IN["40"])
        schedules = tuple(Answer(id, label) for id, label in SCHEDULES.items())
        yield QuestionView("pipe_length", "closing", "Lines in all", (), lengths, "antifreeze")
        yield QuestionView("pipe_size", "closing", "Nominal size", sizes, (), "antifreeze")
        yield QuestionView("pipe_schedule", "closing", "Pipe", schedules, (), "antifreeze")


_ABOVE, _BELOW = frozenset({"skimmer", "pillow"}), frozenset({"antifreeze"})
