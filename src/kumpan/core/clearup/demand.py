"""Chlorine that does not hold in clear water: raised in steps until it does, and what takes it."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from kumpan.core.clearup import tables as t
from kumpan.core.clearup import words
from kumpan.core.clearup.around import acid_step, drift, put_back
from kumpan.core.clearup.build import Walk, fc_of
from kumpan.core.clearup.course import Course, Criterion
from kumpan.core.clearup.run import Told
from kumpan.core.work.sheet import Words

# Half an hour after a pour: less than this share left is eaten at once, so much left is kept (our own).
_EATEN, _KEPT = 0.5, 0.8
_SOON = timedelta(minutes=75)
_READ_MIN = 30.0
# Theory from the start: 7.6 g Cl2 per g ammonia-N (breakpoint, published).
BREAKPOINT_PER_N = 7.6
AMMONIA = "ammonia"
# Under so much stabilizer the sun takes most of a day's chlorine (common practice 30; a tube's error less).
_LITTLE_CYA_PPM = 20.0
_LEAST_N = 0.2  # what an ammonia test can tell (our own)

_HOLDS_IT = Words(
    "Read it after half an hour",
    "Free and combined chlorine, elbow deep, the pump running all the while.",
    "Nobody in meanwhile.",
    "What is gone so soon is taken by ammonia or the like; algae and the sun are slower.",
)
_AMMONIA = Words(
    "Test ammonia",
    "By a strip or drops of the aquarium trade, or at a shop: as nitrogen. It comes with fertiliser,"
    " urine, some"
    " algae products, and from stabilizer that bacteria ate over the winter.",
    "",
    "It says how much chlorine it takes: 7.6 ppm for each ppm of nitrogen, by theory.",
)


# What a reading may be, and what it says: told before it begins.
SAYS = (
    ("Half of it gone in half an hour", "taken at once, by ammonia most of all: its test settles it"),
    ("It stays, and the night takes it", "something slow: algae before they show, leaves, a loaded filter"),
    ("It stays the night, and the day takes it", "the sun: a stabilizer test settles it"),
)


@dataclass(frozen=True)
class Eats:
    """What the readings say eats the chlorine. settles: the test that does, empty where it was made."""

    id: str
    what: str
    settles: str


def kept_shares(course: Course) -> list[tuple[Told, float]]:
    """Readings soon after a pour, and what share of the chlorine was left of what had stood and gone in."""
    found, stood, at = [], 0.0, None
    for one in sorted([*course.pours, *course.checks], key=lambda e: (e.at, e.id)):
        if one.fc_ppm > 0:
            stood, at = stood + one.fc_ppm, one.at
            continue
        value = one.readings["fc"].value
        if at is not None and one.at - at <= _SOON and stood > 0:
            found.append((one, value / stood))
        stood, at = value, None
    return found


def eats(course: Course) -> Eats | None:
    """What the readings so far say; None while they say nothing. No cause is named without its test."""
    kept, night = kept_shares(course), course.last_night
    ammonia = course.latest(AMMONIA, course.run.at)
    if ammonia is not None and ammonia[0] >= _LEAST_N:
        asks = BREAKPOINT_PER_N * ammonia[0]
        text = (
            f"Ammonia reads {ammonia[0]:g} ppm as nitrogen: it takes about {asks:.0f} ppm of chlorine in all."
        )
        return Eats("ammonia", text, "")
    if kept and kept[-1][1] < _EATEN:
        test = "An ammonia test." if ammonia is None else "Combined chlorine, as the level comes up."
        return Eats("at_once", "Half of it is gone within the hour: something takes it at once.", test)
    if night is not None and not night.holds:
        text = (
            f"It stands the first hour, and the night takes {night.loss_ppm:.1f} ppm: what eats it is slow."
        )
        return Eats("slow", text, "The floor, the filter and behind the fittings: algae before they show.")
    cya = course.known("cya")
    if night is not None and cya is None:
        return Eats("sun", "The night takes nothing: what goes, goes by day.", "A stabilizer test.")
    if night is not None and cya is not None and cya < _LITTLE_CYA_PPM:
        return Eats("sun", f"The night takes nothing: the sun does, with {cya:.0f} ppm of stabilizer.", "")
    return None


def criteria(course: Course) -> tuple[Criterion, ...]:
    """What tells that it holds."""
    kept, night, cc = kept_shares(course), course.last_night, course.latest("cc", course.run.at)
    stays = bool(kept) and kept[-1][1] >= _KEPT
    stays_words = "not read yet" if not kept else f"{min(1.0, kept[-1][1]):.0%} left"
    return (
        Criterion("kept", "Four fifths left half an hour after a pour", stays, stays_words),
        Criterion(
            "cc",
            "Combined chlorine 0.5 or less",
            cc is not None and cc[0] <= t.CC_END_PPM + 1e-9,
            "not read yet" if cc is None else f"{cc[0]:.1f} ppm",
        ),
        Criterion(
            "night",
            "A night takes 1 ppm or less",
            night is not None and night.holds,
            "no night read at both ends" if night is None else f"last night took {night.loss_ppm:.1f}",
        ),
    )


def holds_at(course: Course) -> datetime | None:
    """When it was first told to hold; None before."""
    for test in course.tests:
        then = Course(course.run, course.site, course.told, course.marks, test.at)
        if all(c.met for c in criteria(then)):
            return test.at
    return None


def demand(walk: Walk) -> None:
    """Pours of the level, each read half an hour later, until it stays; then a night read at both ends."""
    course, over = walk.course, holds_at(walk.course)
    first = next((e for e in course.tests if {"fc", "ph"} <= e.readings.keys()), None)
    acid_step(walk, first)
    until = walk.now if over is None else over
    pours = [p for p in course.pours if p.at <= until]
    for number, one in enumerate(pours, 1):
        walk.poured(f"raise:{number}", one, number, "level")
    begun = [e for e in course.tests if pours and pours[0].at < e.at <= until]
    for number, test in enumerate(begun, 1):
        walk.add(walk.test(f"check:{number}", _HOLDS_IT, test.at, ("fc", "cc")), test)
    if over is None and first is not None and not walk.read_again(len(begun) + 1):
        _next(walk, pours, begun)
        _ammonia(walk)
    if over is not None:
        put_back(walk, over)
        drift(walk, over)
        walk.add(walk.test("stabilizer", words.STABILIZER, over, ("cya",), skip=True), _read(walk, "cya"))


def _next(walk: Walk, pours: list[Told], begun: list[Told]) -> None:
    read = [e for e in begun if e.id not in walk.course.doubtful]
    last = read[-1] if read else walk.first_reading()
    number = len(begun) + 1
    if last is None or (pours and last.at <= pours[-1].at):
        at = pours[-1].at + timedelta(minutes=_READ_MIN) if pours else walk.run.at
        walk.add(walk.test(f"check:{number}", _HOLDS_IT, at, ("fc", "cc")))
    elif not _raised(walk, pours, last):
        at, kind = walk.next_time(last.at, (), dusks=False, proving=True)
        walk.add(walk.test(f"check:{number}", words.check(walk.level, kind), at, ("fc", "cc")))


def _raised(walk: Walk, pours: list[Told], last: Told) -> bool:
    """Another pour where the reading asks for one; none in an evening whose night may be read."""
    proven = bool(pours) and walk.is_evening(last.at) and _stays(walk.course)
    dose = None if proven else walk.raise_to(walk.level, last)
    if dose is None:
        return False
    at = last.at if pours else walk.first_at(last.at)
    said = words.pour(walk.level, fc_of(last), len(pours) + 1, dose.opened, "level")
    step = walk.pour(f"raise:{len(pours) + 1}", dose, at, said)
    walk.add(step if pours else walk.after(step, *walk.ready()))
    return True


def _stays(course: Course) -> bool:
    """Whether the last pour stayed, so that the night may be read."""
    kept = kept_shares(course)
    return bool(kept) and kept[-1][1] >= _KEPT


def _ammonia(walk: Walk) -> None:
    """The ammonia test, once something takes chlorine at once."""
    by = _read(walk, AMMONIA)
    found = eats(walk.course)
    if by is not None or (found is not None and found.id == "at_once"):
        at = by.at if by is not None else walk.now
        walk.add(walk.test("ammonia", _AMMONIA, at, (AMMONIA,), skip=True), by)


def _read(walk: Walk, measure: str) -> Told | None:
    told = walk.course.told
    return next((e for e in told if e.at >= walk.run.at and measure in e.readings), None)
