"""A plain shock: one dusk's raise, an oxidiser, or the cell's boost; then readings until people may swim."""

from datetime import timedelta

from kumpan.core.clearup import tables as t
from kumpan.core.clearup import words
from kumpan.core.clearup.around import drift, labelled, put_back
from kumpan.core.clearup.build import Walk, fc_of
from kumpan.core.work.sheet import Words

_DUSKS_MOST = 3  # dusks at which a shock is repeated for combined chlorine (our own)
_NEXT_MORNING_MIN = 10 * 60.0


def shock(walk: Walk) -> None:
    """The shock by its means."""
    {"chlorine": _once, "oxidiser": _oxidiser, "boost": _boost}[walk.run.means](walk)


def _once(walk: Walk) -> None:
    course = walk.course
    for number, one in enumerate(course.pours, 1):
        walk.poured(f"raise:{number}", one, number, by="level")
    if not course.pours:
        last = walk.first_reading()
        dose = walk.raise_to(walk.level, last)
        if dose is None:
            if last is not None:  # the level stands already
                drift(walk, last.at)
            return
        at = walk.run.next_dusk(max(walk.acid_over(), walk.run.at))
        step = walk.pour("raise:1", dose, at, words.pour(walk.level, fc_of(last), 1, dose.opened, "level"))
        walk.add(walk.after(step, *walk.ready()))
        read = walk.test("drift:1", words.drift(walk.site.swim_most_ppm), at, ("fc", "ph"))
        walk.add(walk.after(read, "raise:1", wait_min=_NEXT_MORNING_MIN))
        return
    poured = course.pours[-1].at
    after = [e for e in course.checks if e.at > poured]
    if not walk.read_again(0):
        _repeat(walk)
    drift(walk, poured)
    if after:
        put_back(walk, after[-1].at)


def _repeat(walk: Walk) -> None:
    """Another dusk where combined chlorine stays: told by the last reading since the pour."""
    course = walk.course
    after = [e for e in course.checks if e.at > course.pours[-1].at]
    cc = next((v for e in reversed(after) if (v := e.value("cc")) is not None), None)
    if cc is None or cc < t.CC_END_PPM or len(course.pours) >= _DUSKS_MOST:
        return
    dose = walk.raise_to(walk.level, after[-1])
    if dose is not None:
        number = len(course.pours) + 1
        said = words.pour(walk.level, fc_of(after[-1]), number, dose.opened, "level")
        walk.add(walk.pour(f"raise:{number}", dose, walk.run.next_dusk(after[-1].at), said))


def _oxidiser(walk: Walk) -> None:
    by = next(
        (e for e in walk.course.told if e.product_id == "non-chlorine-shock" and e.at > walk.run.at), None
    )
    said = Words(
        "Non-chlorine oxidiser",
        "",
        "Not within a day of a chlorine shock; it does not kill algae.",
        "It burns off what bathers left. For two days it reads as combined chlorine on many tests.",
    )
    labelled(walk, ("oxidise", "non-chlorine-shock"), said, walk.run.at, by)
    read = walk.test("drift:1", words.drift(walk.site.swim_most_ppm), walk.run.at, ("fc", "ph"))
    tested = next((e for e in walk.course.tests if by is not None and e.at > by.at), None)
    walk.add(walk.after(read, "oxidise", wait_min=t.CHECK_MIN), tested)
    walk.add(walk.after(walk.do("regain", words.REGAIN, walk.run.at), "drift:1"))


def _boost(walk: Walk) -> None:
    walk.add(walk.after(walk.do("boost", words.BOOST, walk.run.at), *walk.ready()))
    on = next((m.at for m in walk.course.marks if m.key == "boost" and m.verb == "answer"), None)
    read = walk.test("drift:1", words.drift(walk.site.swim_most_ppm), walk.run.at, ("fc", "ph"))
    later = [e for e in walk.course.tests if on is not None and e.at > on + timedelta(hours=12)]
    walk.add(walk.after(read, "boost", wait_min=24 * 60.0), later[0] if later else None)
