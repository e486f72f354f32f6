"""What a run shows beside its steps: its curve, what ends it, what goes wrong, what was foretold."""

from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from kumpan.actions.context import Context
from kumpan.actions.sheets.live import fitting_of, measures_of
from kumpan.core.clearup import tables as t
from kumpan.core.clearup.contact import Contact
from kumpan.core.clearup.course import Course, Criterion
from kumpan.core.clearup.dose import told
from kumpan.core.clearup.ending import criteria_of, over_at
from kumpan.core.clearup.follow import Followed
from kumpan.core.clearup.foretell import Foretold, in_words
from kumpan.core.clearup.incidents import span
from kumpan.core.clearup.prevention import Why, why_it_grew
from kumpan.core.clearup.propose import Fit, refused_school, schools_for
from kumpan.core.clearup.standing import SwimTonight, Warning, so_far, swim_tonight, warnings
from kumpan.core.phrasing import terms
from kumpan.core.work.sheet import Test
from kumpan.store.runs import past_of
from kumpan.store.stored_run import read_foretold, volume_then_l
from kumpan.store.tables.log import Event
from kumpan.store.tables.sheets import SheetRow


@dataclass(frozen=True)
class CurvePoint:
    """A reading or a pour on the curve. fc: ppm after it; low, high: a reading's 95 %. kind: read, doubtful
    or poured; before: ppm before a pour.
    """

    at: datetime
    fc: float
    kind: str
    label: str
    before: float | None = None
    low: float | None = None
    high: float | None = None


@dataclass(frozen=True)
class CurveView:
    """The run's free chlorine over the level it holds. nights: when the sun is off the water; days: noons
    and their names.
    """

    points: tuple[CurvePoint, ...]
    level_ppm: float
    level_words: str
    most_ppm: float
    begins: datetime
    ends: datetime
    now: datetime
    nights: tuple[tuple[datetime, datetime], ...]
    days: tuple[tuple[datetime, str], ...]


@dataclass(frozen=True)
class ContactLine:
    """Time between two readings after an incident, and what counts of it for the row that is aimed at."""

    when: str
    counts: str
    why: str


@dataclass(frozen=True)
class RunView:
    """A run beside its steps. method: the kit its chlorine is read by; over: whether the kill is; given_up:
    whether it was, though something is to be put back. foretold: (what, as foretold, so far), empty for a
    plain shock. kind: of algae, kinds: what it may be changed to; contact: after an incident, line by line.
    """

    aim: str
    school: str
    school_label: str
    method: str
    over: bool
    given_up: bool
    swim: SwimTonight
    warnings: tuple[Warning, ...]
    criteria: tuple[Criterion, ...]
    foretold: tuple[tuple[str, str, str], ...]
    curve: CurveView
    schools: tuple[Fit, ...]
    why: tuple[Why, ...]
    kind: str
    kind_label: str
    kinds: tuple[t.Kind, ...]
    contact: tuple[ContactLine, ...]
    changed: tuple[str, ...]


def run_view(context: Context, event: Event, run: Followed) -> RunView:
    """A run as it stands now."""
    assert isinstance(event.detail, SheetRow)
    foretold = read_foretold(event.detail.inputs)
    course = run.course
    swim = swim_tonight(run)
    changes = " ".join(filter(None, (swim.changes, _next_reading(run)))) if swim.allowed is not True else ""
    given_up = run.live.given_up_at is not None
    over, algae = over_at(course), course.run.aim == "algae"
    killing = algae and over is None and not given_up
    return RunView(
        aim=course.run.aim,
        school=course.school,
        school_label=_led_as(course),
        method=course.run.method,
        over=over is not None,
        given_up=given_up,
        swim=replace(swim, changes=changes),
        warnings=warnings(run, foretold),
        criteria=() if given_up else criteria_of(course),
        foretold=_foretold(context, course, foretold),
        curve=_curve(context, course),
        schools=_schools(course) if killing else (),
        why=_why(context, event, course) if algae and not killing else (),
        kind=course.kind.id if algae else "",
        kind_label=course.kind.label if algae else "",
        kinds=tuple(k for k in t.KINDS.values() if k is not course.kind) if killing else (),
        contact=_contact(course),
        changed=_changed(event, course),
    )


def _led_as(course: Course) -> str:
    """By which school, or what of."""
    if course.run.aim == "incident":
        return Contact(course).incident.label.lower()
    if course.run.aim == "demand":
        return "raised and read"
    return t.SCHOOLS[course.school].label if course.school in t.SCHOOLS else "one raise"


def _schools(course: Course) -> tuple[Fit, ...]:
    """Those that may be gone on with; the one it goes by too."""
    of = fitting_of(course)
    return tuple(
        f for f in schools_for(of) if f.school.id == course.school or not refused_school(of, f.school.id)
    )


def _next_reading(run: Followed) -> str:
    """When it is read next, in words; empty where no reading is to come."""
    tests = [b for b in run.progress.steps if isinstance(b.step.act, Test) and b.closed_at is None]
    if not tests:
        return ""
    here = run.course.run.local(run.course.now)
    due = run.course.run.local(tests[0].due_at)
    return "Read next: now." if due <= here else f"Read next: {terms.clock(here, due)}."


def _changed(event: Event, course: Course) -> tuple[str, ...]:
    """What changed since the run began, so that what is ahead differs from what was told."""
    assert isinstance(event.detail, SheetRow)
    found, volume = [], volume_then_l(event.detail.inputs)
    if abs(event.pool.volume_l / volume - 1) > 0.01:
        found.append("Changed since: the pool's volume. Amounts ahead follow the new one.")
    if course.run.aim in ("algae", "shock") and abs(course.level_ppm - course.run.level_ppm) > 1:
        found.append(
            f"Changed since: the level is {course.level_ppm:.0f} ppm now, {course.run.level_ppm:.0f} when"
            " it began; stabilizer was read anew."
        )
    return tuple(found)


# --- What was foretold.


def _foretold(
    context: Context, course: Course, foretold: Foretold | None
) -> tuple[tuple[str, str, str], ...]:
    """What was foretold at the start beside what it came to, in words: (what, foretold, so far); empty where
    nothing was.
    """
    if foretold is None:
        return ()
    run, done, measures = course.run, so_far(course), measures_of(context)
    poured = (
        told(run.product_id, done.amount, course.site.traits.volume_l, measures) if done.amount else "none"
    )
    if foretold.bags is not None and run.bag_g:
        poured = f"{done.amount / run.bag_g:g} bags"
    days = "not begun" if not course.pours else f"{done.days:.1f} days{'' if done.ended else ' so far'}"
    came = (days, f"{done.chlorine_ppm:.0f} ppm", poured)
    lines = in_words(foretold, run, course.site, measures)
    return tuple((*line, here) for line, here in zip(lines, came, strict=True))


# --- The curve.


def _curve(context: Context, course: Course) -> CurveView:
    run, here = course.run, course.run.local(course.now)
    begins = min([run.at, *(e.at for e in course.tests)])
    ends = course.now + timedelta(hours=12)
    level = _level(course)
    points = _points(context, course)
    most = max([level, *(p.high or p.fc for p in points)]) * 1.15
    first = run.local(begins).date() - timedelta(days=1)
    days = [first + timedelta(days=n) for n in range((run.local(ends).date() - first).days + 1)]
    nights = tuple((run.dusk(d), run.dawn(d + timedelta(days=1))) for d in days)
    noons = tuple((run.at_hour(d, 12), f"{d:%a} {d.day}") for d in days)
    return CurveView(
        points,
        level,
        _level_words(course, level),
        most,
        begins,
        ends,
        here,
        nights,
        noons,
    )


def _level(course: Course) -> float:
    """The level its curve stands over: after an incident the row that is aimed at; every other day what
    nothing is poured from.
    """
    if course.school == "every_other":
        return t.SLOW_UNDER_PPM
    row = Contact(course).aim if course.run.aim == "incident" else None
    return course.level_ppm if row is None else row.fc_ppm


def _level_words(course: Course, level: float) -> str:
    if course.school == "every_other":
        return f"pour only under {level:.0f} ppm"
    return f"raise to {level:.0f} ppm" if course.run.aim == "demand" else f"hold {level:.0f} ppm"


def _contact(course: Course) -> tuple[ContactLine, ...]:
    """What the readings come to for the row that is aimed at; empty but for an incident."""
    contact = Contact(course)
    row = contact.aim
    if row is None or course.run.aim != "incident":
        return ()
    here = course.run.local(course.now)
    lines = []
    for one in contact.intervals(row):
        begins, ends = (terms.clock(here, course.run.local(at)) for at in (one.begins, one.ends))
        lines.append(
            ContactLine(f"{begins} to {ends}", span(one.minutes) if one.minutes else "none", one.why)
        )
    return tuple(lines)


def _points(context: Context, course: Course) -> tuple[CurvePoint, ...]:
    points, known = [], 0.0
    events = sorted([*course.tests, *course.pours], key=lambda e: (e.at, e.id))
    for one in events:
        clock = terms.clock(course.run.local(course.now), course.run.local(one.at))
        if one.fc_ppm > 0:
            text = told(one.product_id, one.amount, course.site.traits.volume_l, measures_of(context))
            points.append(CurvePoint(one.at, known + one.fc_ppm, "poured", f"{clock}: {text}", known))
            known += one.fc_ppm
            continue
        reading = one.readings["fc"]
        off = reading.u95("fc")
        kind = "read" if one.id not in course.doubtful and course.mixed(one) else "doubtful"
        points.append(
            CurvePoint(
                one.at, reading.value, kind, f"{clock}: read {reading.value:g}", None,
                max(0.0, reading.value - off), reading.value + off,
            )
        )  # fmt: skip
        known = reading.value if kind == "read" else known
    return tuple(points)


# --- Why it grew.


def _why(context: Context, event: Event, course: Course) -> tuple[Why, ...]:
    past = past_of(context.session, event.pool, course.run.at, context.now)
    return why_it_grew(past, course.site.traits)
