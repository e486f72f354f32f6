"""How a run stands: whether people may swim tonight, what goes wrong and what to try, what was against what
was foretold.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import pairwise

from kumpan.core.clearup import tables as t
from kumpan.core.clearup.course import Course
from kumpan.core.clearup.demand import eats
from kumpan.core.clearup.ending import over_at
from kumpan.core.clearup.follow import Followed
from kumpan.core.clearup.foretell import Foretold
from kumpan.core.guidance.swimming import swim_limits, swim_status
from kumpan.core.guidance.targets import kill_level_ppm
from kumpan.core.water.state import WaterState
from kumpan.core.work.sheet import Test

_LATE = timedelta(hours=4)
# Level lost between two readings without sun that says more than algae that die (our own): share, hours.
_LOSES_SHARE, _LOSES_H = 0.6, 12.0
# Copper that a kit tells from none; mornings of green after which strips alone call it in question (our own).
_COPPER_PPM, _GREEN_MORNINGS = 0.1, 4
_HEADS_DAYS = 14  # after which black's heads ask for more than the week (our own)


@dataclass(frozen=True)
class Warning:
    """Something that goes wrong: what it is, and what to try next."""

    id: str
    what: str
    next: str


@dataclass(frozen=True)
class SwimTonight:
    """May we swim tonight? allowed: None where a reading decides; changes: what would change it."""

    allowed: bool | None
    sentence: str
    changes: str


def swim_tonight(followed: Followed) -> SwimTonight:
    """The evening's question, with the condition that would change it. Never yes without a reading since the
    last pour, a floor that was seen, and chlorine and pH in range.
    """
    course = followed.course
    least, most = swim_limits(course.site.traits, course.known("cya"))
    reading = f"free chlorine reads {least:g} to {most:g} ppm and pH 7.2 to 7.8"
    given_up = followed.live.given_up_at is not None
    if course.run.aim == "incident" and over_at(course) is None:
        return SwimTonight(
            False,
            "No swimming: nobody goes in after an incident before the table is met.",
            f"It changes when a row of the health authority's table is met, the filter is cleaned,"
            f" {reading}.",
        )
    filtered = followed.progress.by_key.get("filter:after")
    if course.run.aim == "incident" and filtered is not None and filtered.closed_at is None:
        return SwimTonight(
            False,
            "No swimming before the filter is cleaned.",
            f"It changes when it is, and {reading}.",
        )
    if course.run.aim == "demand" and over_at(course) is None and not given_up:
        return SwimTonight(
            False,
            "No swimming tonight: the chlorine does not hold.",
            f"It changes when it holds for a night, {reading}.",
        )
    if course.run.aim == "algae" and course.killed_at is None and not given_up:
        hidden = course.look == "hidden" or (course.look == "" and course.run.severity == "hidden")
        why = "the floor cannot be seen" if hidden else "algae are being killed"
        return SwimTonight(
            False,
            f"No swimming tonight: {why}.",
            f"It changes when the run's end is met, the floor is plain to see, {reading}.",
        )
    return _by_reading(course, reading)


def _by_reading(course: Course, reading: str) -> SwimTonight:
    """By the last reading of free chlorine and pH since the last pour, a day old at most."""
    last = next((e for e in reversed(course.checks) if e.value("ph") is not None), None)
    since = max([p.at for p in course.pours] + [course.now - timedelta(hours=24)])
    if last is None or last.at <= since:
        return SwimTonight(
            None, "Swimming waits for a reading.", f"It opens when {reading}, the floor plain to see."
        )
    water = WaterState(last.value("fc"), last.value("cc"), last.value("ph"), cya_ppm=course.known("cya"))
    status = swim_status(water, course.site.traits)
    if status.allowed and course.run.aim == "algae" and course.look not in ("clear", "off"):
        return SwimTonight(
            None, "Swimming waits for a look at the floor.", "It opens when the floor is plain to see."
        )
    return SwimTonight(
        status.allowed, status.sentence, "" if status.allowed else f"It changes when {reading}."
    )


def warnings(followed: Followed, foretold: Foretold | None) -> tuple[Warning, ...]:
    """What goes wrong, each with the next thing to try."""
    course = followed.course
    if followed.progress.state not in ("under_way", "paused") or followed.live.given_up_at is not None:
        return ()
    found = [
        _in_doubt(course),
        _stabilizer(course),
        _kit(course),
        _early(course),
        _late(followed),
        _not_holding(course),
        _losing(course),
        _heads_stay(course),
        _not_algae(course),
        _eats(course),
        _too_long(course, foretold),
        _after_sunrise(course),
    ]
    return tuple(one for one in found if one is not None)


def _in_doubt(course: Course) -> Warning | None:
    if not course.tests or course.tests[-1].id not in course.doubtful:
        return None
    return Warning(
        "bleached",
        "That reading says next to none where much went in: over 10 ppm the dye bleaches.",
        "Read it again, thinned. Pour nothing on it.",
    )


def _stabilizer(course: Course) -> Warning | None:
    if course.run.aim != "algae":
        return None
    level = kill_level_ppm(course.known("cya"), None, course.kind.hocl_ppm)
    if level <= t.MOST_LEVEL_PPM + 0.5:
        return None
    return Warning(
        "stabilizer",
        f"With this stabilizer the kill asks for {level:.0f} ppm; more than {t.MOST_LEVEL_PPM:.0f} is"
        " not held.",
        "Exchange water first, read stabilizer again, then go on.",
    )


def _kit(course: Course) -> Warning | None:
    last = course.tests[-1] if course.tests else None
    if last is None or not last.readings["fc"].at_top("fc") or not course.follows_level:
        return None
    return Warning(
        "kit",
        "It stands at the top of what this kit can read: the true level may be higher.",
        "Thin the sample (one part pool, one part bottled water, times two), use drops, or go on by"
        " timed bags.",
    )


def _early(course: Course) -> Warning | None:
    last = course.tests[-1] if course.tests else None
    if last is None or course.mixed(last) or any(p.at > last.at for p in course.pours):
        return None
    return Warning(
        "unmixed",
        "That was read before the last pour had mixed: it does not count as a check.",
        "Read it again an hour after the pour.",
    )


def _late(followed: Followed) -> Warning | None:
    course = followed.course
    tests = [b for b in followed.progress.at_hand if isinstance(b.step.act, Test) and ":" in b.step.key]
    if course.killed_at is not None or not tests or course.now - tests[0].due_at < _LATE:
        return None
    hours = (course.now - tests[0].due_at).total_seconds() / 3600
    return Warning(
        "missed",
        f"The check was due {hours:.0f} hours ago: what the level did meanwhile is not known.",
        "Read it now; the next amount follows from that reading, not from the missed one.",
    )


def _not_holding(course: Course) -> Warning | None:
    """Two nights or readings in the dark in a row that lost most of the level."""
    if course.killed_at is not None or len(course.pours) < 3:
        return None
    losses = []
    events = course.checks
    for one, then in pairwise(events):
        hours = (then.at - one.at).total_seconds() / 3600
        dark = course.run.local(one.at).hour >= 18 or course.run.local(then.at).hour <= 9
        if hours <= _LOSES_H and dark and not any(one.at < p.at <= then.at for p in course.pours):
            before, after = one.readings["fc"].value, then.readings["fc"].value
            losses.append(before >= 5 and after <= (1 - _LOSES_SHARE) * before)
    if len(losses) < 2 or not all(losses[-2:]):
        return None
    return Warning(
        "not_holding",
        "The level does not hold, two nights in a row.",
        "Look where algae hide: behind lights and ladders, in the skimmer, under steps, in the filter."
        " Brush there."
        " If chlorine is gone within half an hour of a pour, it is ammonia or other demand, not algae.",
    )


def _not_algae(course: Course) -> Warning | None:
    """Green that chlorine does not touch: a night took nothing and it is green all the same; or, where the
    kit cannot tell a night, it is green on morning after morning.
    """
    if course.run.aim != "algae" or course.killed_at is not None or course.look != "green":
        return None
    night = course.last_night
    held = night is not None and night.holds and course.looks[-1].at >= night.evening.at
    if not held and not (course.by_strip and course.green_looks >= _GREEN_MORNINGS):
        return None
    copper = course.latest("copper")
    if copper is not None and copper[0] >= _COPPER_PPM:
        return Warning(
            "copper",
            f"Copper reads {copper[0]:g} ppm, and chlorine does nothing to the green: it is dissolved copper,"
            " not algae.",
            "Pour no more chlorine: it stains. Give this run up; sequestrant by its label, and find where the"
            " copper comes from.",
        )
    return Warning(
        "not_algae",
        "It is still green, and a night took no chlorine: nothing alive is left to kill."
        if held
        else "It is green on morning after morning, whatever goes in: is it algae at all?",
        "A copper test settles it. A white bucket of it that is clear and green is copper too.",
    )


def _eats(course: Course) -> Warning | None:
    """What takes the chlorine, as far as readings tell."""
    found = eats(course) if course.run.aim == "demand" and over_at(course) is None else None
    if found is None:
        return None
    if course.poured_ppm > t.DEMAND_MOST_PPM:
        return Warning(found.id, found.what, "So much went in that exchanging water may be cheaper: compare.")
    settles = f" Settles it: {found.settles}" if found.settles else ""
    return Warning(found.id, found.what, f"Go on in steps until it holds.{settles}")


def _losing(course: Course) -> Warning | None:
    """Rounds that the bloom outgrows."""
    hidden = course.look == "hidden" and course.run.severity != "hidden"
    if course.school != "every_other" or len(course.pours) < 2 or not hidden or course.killed_at is not None:
        return None
    return Warning(
        "losing",
        "It grows faster than these rounds kill.",
        "Change the school: hold the level, or three rounds of timed bags.",
    )


def _heads_stay(course: Course) -> Warning | None:
    """Black that the week after does not get rid of."""
    over = course.killed_at
    if course.kind.id != "black" or over is None or course.over_at is not None:
        return None
    if course.now - over < timedelta(days=_HEADS_DAYS):
        return None
    return Warning(
        "heads",
        "Two weeks of brushing, and heads are still there.",
        "Another kill: give this run up and begin one more, the brush harder and twice a day. An"
        " algaecide for black"
        " by its label is a school. Rooted in the plaster it asks for a drain and trained hands.",
    )


def _too_long(course: Course, foretold: Foretold | None) -> Warning | None:
    if foretold is None or course.begun_at is None or course.killed_at is not None:
        return None
    days = (course.now - course.begun_at).total_seconds() / 86400
    if days <= foretold.days.high:
        return None
    return Warning(
        "too_long",
        f"It takes longer than foretold: day {days:.0f}, and up to {foretold.days.high:.0f} was expected.",
        "Test phosphate and stabilizer, clean the filter, look behind every fitting; consider"
        " exchanging water.",
    )


def _after_sunrise(course: Course) -> Warning | None:
    last = course.checks[-1] if course.checks else None
    if last is None or course.killed_at is not None or course.look != "clear":
        return None
    here = course.run.local(last.at)
    dawn = course.run.dawn(here.date())
    if not dawn + timedelta(minutes=30) < here < dawn + timedelta(hours=5):
        return None
    return Warning(
        "sunrise",
        "The morning's reading came after sunrise: the sun had its share, so this night does not count.",
        "Read it before sunrise tomorrow, and this evening after sunset.",
    )


@dataclass(frozen=True)
class SoFar:
    """What the run came to: days since its first pour, free chlorine and product poured; ended: whether the
    kill is over.
    """

    days: float
    chlorine_ppm: float
    amount: float
    ended: bool


def so_far(course: Course) -> SoFar:
    """What was done, to stand beside what was foretold."""
    until: datetime = course.killed_at or course.now
    pours = [p for p in course.pours if p.at <= until]
    days = (until - pours[0].at).total_seconds() / 86400 if pours else 0.0
    mine = sum(p.amount for p in pours if p.product_id == course.run.product_id)
    return SoFar(days, sum(p.fc_ppm for p in pours), mine, course.killed_at is not None)
