"""The kill by its school: every pour and reading as it came, then the next one."""

from datetime import datetime, timedelta

from kumpan.core.clearup import tables as t
from kumpan.core.clearup import words
from kumpan.core.clearup.build import EVENING_MIN, MORNING_H, Walk, fc_of
from kumpan.core.clearup.course import GREEN
from kumpan.core.clearup.dose import Raise, raise_by
from kumpan.core.clearup.run import Told

# Hours at which somebody looks by day, by how often; dusk besides (our own).
_HOURS = {4: (7.0, 11.0, 15.0, 19.0), 2: (7.0,), 1: ()}
# Strips and clear water: under the first it is brought to the second at dusk, so that 3 is left next morning
# (our own).
_STRIP_UNDER_PPM, _STRIP_TO_PPM = 5.0, 8.0
# Rounds are 12 hours apart (common practice), give or take what morning and dusk make of it (our own).
_ROUND_LEAST = timedelta(hours=8)
_LATE_DAY = timedelta(hours=4)  # a pour so late in the day is read next after sunset (our own)
_KIT_END_PPM = 9.5  # a strip's or a photometer's last step
_GROWN_AFTER = timedelta(hours=6)  # a look this long after a round tells what it did (our own)


def hold(walk: Walk) -> None:
    """Hold the level: raise, read, top up."""
    course, over = walk.course, walk.course.killed_at
    pours = checks = 0
    poured_at, last = None, walk.first_reading()
    since = course.begun_at
    begun = [e for e in course.tests if since is not None and e.at > since]
    for one in sorted([*course.pours, *begun], key=lambda e: (e.at, e.id)):
        if over is not None and one.at > over:
            break
        if one.fc_ppm > 0:
            pours, poured_at = pours + 1, one.at
            walk.poured(f"raise:{pours}", one, pours, by="level")
        elif course.mixed(one):
            checks += 1
            walk.checked(checks, one, walk.kind_of(one.at, poured_at))
            last = last if one.id in course.doubtful else one
    if over is None and not walk.read_again(checks + 1):
        _next(walk, (pours, checks), poured_at, last)


def _next(walk: Walk, done: tuple[int, int], poured_at: datetime | None, last: Told | None) -> None:
    """The next pour or reading. done: how many of each there were."""
    pours, checks = done
    if poured_at is not None and (last is None or last.at <= poured_at):
        _read_it(walk, pours, checks + 1, poured_at)
        return
    known = last is not None and not last.readings["fc"].at_top("fc")
    dose = walk.raise_to(walk.level, last) if known else None
    if last is None:
        return
    if dose is None or (poured_at is not None and _night_kept(walk, last)):
        walk.add(walk.check(checks + 1, *walk.next_time(last.at, _HOURS[walk.run.looks], dusks=True)))
        return
    at = last.at if pours else walk.first_at(last.at)
    key = f"raise:{pours + 1}"
    step = walk.pour(key, dose, at, words.pour(walk.level, fc_of(last), pours + 1, dose.opened, "level"))
    walk.add(step if pours else walk.after(step, *walk.ready()))
    check = walk.check(checks + 1, at + timedelta(minutes=t.CHECK_MIN), "first")
    walk.add(walk.after(check, key, wait_min=t.CHECK_MIN))


def _read_it(walk: Walk, pours: int, number: int, poured_at: datetime) -> None:
    """The reading after a pour: an hour later after the first, and where the night to come may end it; else
    at the next look.
    """
    at = poured_at + timedelta(minutes=t.CHECK_MIN)
    dusk = walk.run.dusk(walk.run.local(at).date())
    if walk.proving and (walk.is_evening(at) or at > dusk - _LATE_DAY):
        at = at if walk.is_evening(at) else dusk + timedelta(minutes=EVENING_MIN)
        walk.add(walk.check(number, at, "evening"))
    elif pours == 1:
        walk.add(walk.check(number, at, "first"))
    else:
        walk.add(walk.check(number, *walk.next_time(at, _HOURS[walk.run.looks], dusks=True)))


def _night_kept(walk: Walk, last: Told) -> bool:
    """Whether nothing more goes in, as the evening of a night that may end it was read at enough."""
    enough = last.readings["fc"].value >= t.NIGHT_SHARE * walk.level + 0.5
    return walk.proving and walk.is_evening(last.at) and enough


def bags(walk: Walk) -> None:
    """Timed bags: rounds by the clock, then by what is seen and read each morning."""
    over = walk.course.killed_at
    pours, begun = rounds(walk, walk.now if over is None else over, "bag")
    if over is not None or walk.read_again(len(begun) + 1):
        return
    if not pours:
        _first_round(walk)
        return
    read = [e for e in begun if e.id not in walk.course.doubtful and e.at > pours[-1].at]
    _next_round(walk, pours, read[-1] if read else None)
    last = max([pours[-1].at, *(e.at for e in begun)])
    walk.add(walk.check(len(begun) + 1, *next_read(walk, last, unread=not read)))


def rounds(walk: Walk, until: datetime, by: words.By) -> tuple[list[Told], list[Told]]:
    """Rounds and readings as they came. by: bags or rounds of every other day."""
    course = walk.course
    pours = [p for p in course.pours if p.at <= until]
    for number, one in enumerate(pours, 1):
        walk.poured(f"{by}:{number}", one, number, by)
    begun = [e for e in course.tests if pours and pours[0].at < e.at <= until]
    for number, test in enumerate(begun, 1):
        walk.checked(number, test, walk.kind_of(test.at, None))
    return pours, begun


def next_read(walk: Walk, last: datetime, unread: bool) -> tuple[datetime, str]:
    """When rounds are read next: in the morning, or where the night may end it an hour after its pour."""
    mixed = last + timedelta(minutes=t.CHECK_MIN)
    if unread and walk.proving and walk.is_evening(mixed):
        return mixed, "evening"
    by_strip = walk.course.by_strip and walk.course.look == "clear"
    hours = (MORNING_H,) if (walk.run.looks > 1 or by_strip) and not walk.proving else ()
    at, kind = walk.next_time(last, hours, dusks=walk.run.looks == 1 and not by_strip)
    return at, "morning" if by_strip else kind


def _first_round(walk: Walk) -> None:
    at = walk.first_at(walk.run.at)
    dose = round_of(walk, t.ROUND_PPM, t.ROUND_MOST_PPM)
    if dose is not None:
        step = walk.pour("bag:1", dose, at, words.pour(walk.level, None, 1, dose.opened, "bag"))
        walk.add(walk.after(step, *walk.ready()))


def _next_round(walk: Walk, pours: list[Told], read: Told | None) -> None:
    """The next round: three by the clock, then as long as green is seen, or a little where clear water falls
    too low. read: the last reading since the last pour.
    """
    number, fc = len(pours) + 1, fc_of(read)
    looks = [s for s in walk.course.looks if s.at > pours[-1].at + _GROWN_AFTER]
    if number <= t.ROUNDS:
        dose, at = _by_clock(walk, fc), _round_at(walk, pours[-1].at)
    elif looks and looks[-1].value in GREEN:
        dose, at = _while_green(walk, pours, fc), max(_round_at(walk, pours[-1].at), looks[-1].at)
    elif read is not None and walk.course.look != "hidden":
        dose, at = top_up(walk, read), walk.run.next_dusk(read.at)
    else:
        return
    if dose is not None:
        said = words.pour(walk.level, fc, number, dose.opened, "bag")
        walk.add(walk.pour(f"bag:{number}", dose, at, said))


def _by_clock(walk: Walk, fc: float | None) -> Raise | None:
    """A round of the first three, unless the level stands without it."""
    stands = fc is not None and fc >= walk.level
    return None if stands else round_of(walk, t.ROUND_PPM, t.ROUND_MOST_PPM)


def _while_green(walk: Walk, pours: list[Told], fc: float | None) -> Raise | None:
    """A round more, unless chlorine stands at the level or at the end of what the kit reads; a finer reading
    first where strips have put in all they may.
    """
    if fc is not None and fc >= min(walk.level, _KIT_END_PPM):
        return None
    if blind(walk, pours):
        walk.add(walk.test("shop", words.SHOP, walk.course.looks[-1].at, ("fc",)))
        return None
    return round_of(walk, t.ROUND_PPM, t.ROUND_MOST_PPM)


def top_up(walk: Walk, read: Told) -> Raise | None:
    """A little where clear water falls too low to prove anything."""
    fc = read.readings["fc"].value
    return round_of(walk, _STRIP_TO_PPM - fc, _STRIP_TO_PPM) if fc < _STRIP_UNDER_PPM else None


def _round_at(walk: Walk, last: datetime) -> datetime:
    """Twelve hours after the last round, as morning and dusk fall; a day after it where somebody looks once a
    day.
    """
    if walk.run.looks == 1:
        return last + timedelta(hours=2 * t.ROUND_H)
    first = walk.run.local(last).date()
    days = [first + timedelta(days=n) for n in range(2)]
    times = [at for day in days for at in (walk.run.at_hour(day, MORNING_H), walk.run.dusk(day))]
    return min(at for at in times if at >= last + _ROUND_LEAST)


def round_of(walk: Walk, rise_ppm: float, most_ppm: float) -> Raise | None:
    """A round of so much."""
    return raise_by(walk.run, walk.site.traits.volume_l, rise_ppm, most_ppm, walk.measures)


def blind(walk: Walk, pours: list[Told]) -> bool:
    """Whether strips have put in all they may since something finer read the water."""
    if not walk.course.by_strip:
        return False
    coarse = ("strip", "comparator")
    finer = [e.at for e in walk.course.tests if e.readings["fc"].method not in coarse]
    since = max(finer, default=walk.run.at)
    return sum(p.fc_ppm for p in pours if p.at > since) + t.ROUND_PPM > t.BLIND_MOST_PPM
