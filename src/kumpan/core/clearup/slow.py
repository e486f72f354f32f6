"""Every other day: a round each second dusk on a reading under ten, tablets in their feeder besides, or by
liquid each dusk.
"""

from datetime import datetime, timedelta

from kumpan.core.clearup import tables as t
from kumpan.core.clearup import words
from kumpan.core.clearup.build import WATER, Walk, fc_of
from kumpan.core.clearup.course import GREEN, Course
from kumpan.core.clearup.dose import Raise
from kumpan.core.clearup.kill import blind, next_read, round_of, rounds, top_up
from kumpan.core.clearup.run import Site, Told
from kumpan.core.units import G_PER_OZ
from kumpan.core.work.sheet import Pour, Step

TABLET = "trichlor-90"
_TABLET_G = 8 * G_PER_OZ  # a 3-inch tablet (common practice)
# Pools under 10,000 gal take no 3-inch tablets (common practice).
_LEAST_L = 37_854.0
_BATCH_READS = ("cya", "ta", "ph")
_SAME_EVENING = timedelta(hours=3)  # a reading so long before a pour is that evening's (our own)
_EACH_DUSK = timedelta(hours=16)  # from one dusk to the next, as they shift (our own)


def every_other(walk: Walk) -> None:
    """Rounds by dusk while green is seen, then as little as keeps some chlorine until the end shows."""
    course, over = walk.course, walk.course.killed_at
    pours, begun = rounds(walk, walk.now if over is None else over, "round")
    carried = _batches(walk)
    if over is not None or walk.read_again(len(begun) + 1):
        return
    last = [e for e in begun if e.id not in course.doubtful]
    reading = last[-1] if last else walk.first_reading()
    if reading is None:
        return
    if not pours or ((course.look in GREEN or not course.look) and not walk.proving):
        _while_green(walk, pours, reading, len(begun) + 1, carried)
        return
    unread = reading.at <= pours[-1].at
    if not unread:
        _pour(walk, len(pours) + 1, top_up(walk, reading), walk.run.next_dusk(reading.at), reading)
    walk.add(walk.check(len(begun) + 1, *next_read(walk, max(reading.at, pours[-1].at), unread=unread)))


def _while_green(walk: Walk, pours: list[Told], reading: Told, check: int, carried: bool) -> None:
    """The next round, on that evening's reading. check: the number of the next one; carried: whether tablets
    carry the water meanwhile.
    """
    if pours and blind(walk, pours):
        walk.add(walk.test("shop", words.SHOP, reading.at, ("fc",)))
        return
    wait = timedelta(hours=t.SLOW_APART_H) if carried else _EACH_DUSK
    due = walk.run.next_dusk(pours[-1].at + wait if pours else max(walk.acid_over(), walk.run.at))
    fc = reading.readings["fc"]
    tonight = not pours or reading.at >= due - _SAME_EVENING
    if tonight and fc.value < t.SLOW_UNDER_PPM and not fc.at_top("fc"):
        dose = round_of(walk, t.SLOW_ROUND_PPM, 1.1 * t.SLOW_ROUND_PPM)
        _pour(walk, len(pours) + 1, dose, max(due, reading.at), reading)
    else:
        walk.add(walk.check(check, walk.run.next_dusk(reading.at + _EACH_DUSK) if tonight else due, "day"))


def _pour(walk: Walk, number: int, dose: Raise | None, at: datetime, reading: Told) -> None:
    if dose is not None:
        said = words.pour(walk.level, fc_of(reading), number, dose.opened, "round")
        step = walk.pour(f"round:{number}", dose, at, said)
        walk.add(walk.after(step, *walk.ready()) if number == 1 else step)


# --- Tablets besides.


def takes_tablets(site: Site) -> bool:
    """Whether tablets may carry a run here: in a feeder in the line, in a pool that 3-inch ones do not
    overwhelm, and not with a cell.
    """
    return site.feeds == "tablets" and site.in_line and site.traits.volume_l >= _LEAST_L


def _batches(walk: Walk) -> bool:
    """Batches of tablets as they went in, and the next one; whether one still carries the water."""
    course = walk.course
    if not takes_tablets(walk.site):
        return False
    done = [e for e in course.told if e.product_id == TABLET and e.at >= walk.run.at]
    for number, one in enumerate(done, 1):
        act = Pour(TABLET, None, one.amount)
        walk.add(Step(f"batch:{number}", act, words.BATCH, not_before=one.at, claims=WATER), one)
    apart = timedelta(hours=t.BATCH_APART_H)
    carried = bool(done) and walk.now < done[-1].at + apart
    green = not course.look or course.look in GREEN
    if course.killed_at is None and green and not carried and len(done) < t.BATCHES:
        _next_batch(walk, len(done) + 1, done[-1].at + apart if done else walk.run.at)
    return carried


def _next_batch(walk: Walk, number: int, at: datetime) -> None:
    """A batch, once what it asks for was read since the last."""
    since = at if number > 1 else walk.run.at - timedelta(hours=2)
    read = next((e for e in reversed(walk.course.told) if e.at >= since and _reads_all(e)), None)
    tablets = int(t.BATCH_TABLETS * walk.site.traits.volume_l / t.BATCH_PER_L + 1e-6)
    if read is None:
        walk.add(walk.test(f"tablets:{number}", words.BEFORE_BATCH, at, _BATCH_READS, skip=True))
    elif batch_may(walk.course, read):
        act = Pour(TABLET, None, tablets * _TABLET_G)
        walk.add(Step(f"batch:{number}", act, words.BATCH, not_before=max(at, read.at), claims=WATER))


def _reads_all(test: Told) -> bool:
    return all(m in test.readings for m in _BATCH_READS)


def batch_may(course: Course, read: Told) -> bool:
    """Whether a batch may go in by a reading: stabilizer 40 or less, alkalinity 80 and pH 7.2 or more, and
    free chlorine last read under ten (common practice).
    """
    fc = course.latest("fc")
    return (
        read.readings["cya"].value <= t.BATCH_CYA_MOST
        and read.readings["ta"].value >= t.BATCH_TA_LEAST
        and read.readings["ph"].value >= t.BATCH_PH_LEAST - 1e-9
        and fc is not None
        and fc[0] < t.SLOW_UNDER_PPM
    )
