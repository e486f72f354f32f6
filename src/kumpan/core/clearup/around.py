"""What lies round the kill: what comes before it, the looks of each day, and what follows it."""

from dataclasses import replace
from datetime import date, datetime, timedelta

from kumpan.core.clearup import tables as t
from kumpan.core.clearup import words
from kumpan.core.clearup.after import heads
from kumpan.core.clearup.build import FILTERED, MORNING_H, WATER, Walk, answered, closed
from kumpan.core.clearup.course import LOOKS, Course
from kumpan.core.clearup.dose import Raise
from kumpan.core.clearup.prevention import PHOSPHATE
from kumpan.core.clearup.run import Told, reads
from kumpan.core.clearup.slow import takes_tablets
from kumpan.core.products.catalogue import is_acid
from kumpan.core.products.label import label_dose
from kumpan.core.work.sheet import Look, Pour, Step, Words

_COPPER_MOST_PPM = 0.2  # with more no copper algaecide goes in (common practice)
_CLEANED_LATELY, _SAME_VISIT = timedelta(hours=24), timedelta(hours=2)


Due = tuple[Step, Told | None]


def before(walk: Walk) -> None:
    """What comes before any chlorine. Once some went in, what was left of it is past."""
    course, run = walk.course, walk.run
    tested = next((e for e in course.tests if {"fc", "ph"} <= e.readings.keys()), None)
    read = (walk.test("test:0", words.first_test(), run.at, _first_measures(walk)), tested)
    first = _before_algae(walk, read) if run.aim == "algae" else _before_shock(walk, read)
    for step, by in first:
        lasts = step.key in ("timer", "feeds", "gear") or not course.pours
        if lasts or by is not None or closed(course, step.key):
            walk.add(step, by)
    if run.aim != "demand":
        acid_step(walk, tested)


def _before_shock(walk: Walk, read: Due) -> list[Due]:
    at, due = walk.run.at, [(walk.do("out", words.CLEANER_OUT, walk.run.at), None)]
    if walk.run.means == "chlorine":
        due.append((walk.do("timer", words.TIMER, at), None))
    if walk.run.aim == "demand" and walk.site.feeds:
        due.append((walk.do("feeds", words.feeds_off(walk.site.feeds), at), None))
    return [*due, read]


def _before_algae(walk: Walk, read: Due) -> list[Due]:
    """Debris, filter, timer, what feeds off, the test, brushing; phosphate first where it is back."""
    run, site = walk.run, walk.site
    cleaned = walk.first_entry(run.at - _CLEANED_LATELY, FILTERED)
    due: list[Due] = [
        (walk.do("debris", words.DEBRIS, run.at), None),
        (walk.do("filter:0", words.filter_clean(site.filter_kind, False), run.at), cleaned),
        (walk.do("timer", words.TIMER, run.at), None),
    ]
    # Tablets may carry every other day's rounds; they come out for the night that is to end it.
    carry = walk.course.school == "every_other" and takes_tablets(site)
    if site.feeds and (not carry or walk.course.look == "clear" or answered(walk.course, "feeds")):
        due.append((walk.do("feeds", words.feeds_off(site.feeds), run.at), None))
    if run.back:
        by = next(
            (e for e in walk.course.told if e.at >= run.at - _SAME_VISIT and PHOSPHATE in e.readings), None
        )
        due.append((walk.test("phosphate:0", words.BACK_PHOSPHATE, run.at, (PHOSPHATE,), skip=True), by))
    due += [read, (walk.do("brush:0", words.HIDDEN if run.back else words.BRUSH, run.at), None)]
    if walk.course.kind.id == "mustard":
        due.append((walk.do("gear", words.GEAR, run.at), None))
    return due


def _first_measures(walk: Walk) -> tuple[str, ...]:
    wanted = ["fc", "ph"]
    wanted += ["ta"] if walk.run.means == "oxidiser" else []
    wanted += ["cc"] if reads(walk.run.method, "cc") and walk.run.method != "strip" else []
    wanted += ["cya"] if walk.course.known("cya") is None and walk.run.means == "chlorine" else []
    return tuple(wanted)


def acid_step(walk: Walk, tested: Told | None) -> None:
    """Acid before chlorine, where pH asks for it and nothing of either went in yet."""
    course, act = walk.course, walk.live.acid
    poured = next((e for e in course.told if e.at >= walk.run.at and is_acid(e.product_id)), None)
    if poured is not None:
        asked = Pour(poured.product_id, None, poured.amount)
        at, said = poured.at, words.acid("")
    elif tested is not None and act is not None and act.product is not None and not course.pours:
        asked = Pour(act.product.id, act.strength, act.amount)
        at, said = tested.at, words.acid(act.note)
    else:
        return
    walk.add(Step("acid", asked, said, not_before=at, claims=WATER, reason_id="ph_band"), poured)


# --- Day by day.


def daily(walk: Walk) -> None:
    """A look and the filter each morning from the day after the first pour, as far as they were answered, and
    the next to come; what was missed is past.
    """
    course, over = walk.course, walk.course.killed_at
    if course.begun_at is None:
        return
    first = walk.run.local(course.begun_at).date() + timedelta(days=1)
    here = walk.run.local(walk.now if over is None else over)
    days = (here.date() - first).days + 1
    for day in (first + timedelta(days=n) for n in range(days)):
        _morning(walk, day, coming=over is None and day == here.date())
    asked = any(
        s.key == f"look:{here.date().isoformat()}" and not closed(course, s.key) for s in walk.live.steps
    )
    if over is None and not asked:
        _morning(walk, max(first, here.date() + timedelta(days=1)), coming=True)


def _morning(walk: Walk, day: date, coming: bool) -> None:
    """Look and filter of one day, and what settled where it is grey."""
    course, at, name = walk.course, walk.run.at_hour(day, MORNING_H), day.isoformat()
    if coming or closed(course, f"look:{name}"):
        act = Look("How does the water look?", LOOKS)
        walk.add(Step(f"look:{name}", act, words.LOOK, not_before=at, reason_id="clear_up"))
    cleaned = next(
        (e for e in course.told if e.kind in FILTERED and walk.run.local(e.at).date() == day), None
    )
    if coming or cleaned is not None or closed(course, f"filter:{name}"):
        act = Look("The filter?", (("cleaned", "Cleaned it"), ("fine", "Gauge and jets are fine")))
        said = words.filter_look(walk.site.filter_kind, walk.site.clean_kpa, walk.measures.system)
        walk.add(Step(f"filter:{name}", act, said, not_before=at, reason_id="filter_wash"), cleaned)
    heads(walk, day, coming)
    if closed(course, f"settle:{name}") or (coming and course.look == "grey"):
        walk.add(vacuum(walk, f"settle:{name}", at))
        if course.look == "grey" and coming:
            walk.add(walk.do(f"clarify:{name}", words.CLARIFY, at))


def vacuum(walk: Walk, key: str, at: datetime) -> Step:
    """Vacuuming: to waste where the valve can, and how much water went; else through the filter."""
    said, can = words.VACUUM, walk.site.can_waste
    where = (
        "To waste where the valve has that position."
        if can is None
        else "Valve to waste, pump off at each move of it; then fill up again, and make salt good."
        if can
        else "Through the filter, which is cleaned right after."
    )
    said = replace(said, how=f"{said.how} {where}")
    if not can:
        return walk.do(key, said, at)
    return Step(key, Look("Water that went", unit="volume"), said, not_before=at, reason_id="clear_up")


# --- After it.


def soon(walk: Walk) -> None:
    """Of one day: stir, look at half an hour, a fresh cartridge at two hours."""
    course = walk.course
    if course.pours:
        at = course.pours[0].at
        walk.add(walk.do("stir:1", words.STIR, at))
        act = Look("How does the water look?", LOOKS)
        half = at + timedelta(minutes=30)
        walk.add(Step("look:soon", act, words.SOON, not_before=half, reason_id="clear_up"))
        fresh = walk.first_entry(at + timedelta(hours=1), FILTERED)
        walk.add(walk.do("filter:soon", words.FRESH, at + timedelta(hours=2)), fresh)


def afterwards(walk: Walk, over: datetime) -> None:
    """What follows the kill: the water brought down, and what let the algae in."""
    course = walk.course
    walk.add(vacuum(walk, "vacuum", over))
    said = words.filter_clean(walk.site.filter_kind, True)
    walk.add(walk.do("filter:after", said, over), walk.first_entry(over, FILTERED))
    drift(walk, over)
    phosphate = next((e for e in course.told if e.at > walk.run.at and PHOSPHATE in e.readings), None)
    walk.add(walk.test(PHOSPHATE, words.PHOSPHATE, over, (PHOSPHATE,), skip=True), phosphate)
    if phosphate is not None and phosphate.readings[PHOSPHATE].value > t.PHOSPHATE_PPB:
        _remover(walk, phosphate.at)
    stabilizer = next((e for e in course.told if e.at > over and "cya" in e.readings), None)
    walk.add(walk.test("stabilizer", words.STABILIZER, over, ("cya",), skip=True), stabilizer)
    _algaecide(walk, over)
    walk.add(walk.do("prevent", words.PREVENT, over))


def _algaecide(walk: Walk, over: datetime) -> None:
    """An algaecide that prevents, once free chlorine reads little enough for it."""
    course = walk.course
    by = next((e for e in course.told if e.at > over and e.product_id.startswith("algaecide")), None)
    last = course.checks[-1] if course.checks else None
    low = last is not None and last.at > over and last.readings["fc"].value < t.ALGAECIDE_UNDER_PPM
    if low or by is not None or closed(course, "algaecide"):
        copper, said = course.known("copper") or 0.0, words.ALGAECIDE
        if copper > _COPPER_MOST_PPM or walk.site.copper_system:
            said = replace(said, how=said.how + words.ALGAECIDE_COPPER_TOO_MUCH)
        walk.add(walk.do("algaecide", said, over), by)


BACK = ("timer_back", "feeds_back")


def owing(course: Course) -> tuple[str, ...]:
    """Steps that put back what the run changed at the pad: the timer, and what feeds the pool by itself."""
    changed = [answered(course, "timer"), bool(course.site.feeds) and answered(course, "feeds")]
    return tuple(key for key, was in zip(BACK, changed, strict=True) if was)


def put_back(walk: Walk, at: datetime) -> None:
    """The timer, and what feeds the pool, as they were. Never skipped."""
    for key in owing(walk.course):
        said = words.TIMER_BACK if key == "timer_back" else words.feeds_back(walk.site.feeds)
        walk.add(walk.do(key, said, at, skip=False))


def drift(walk: Walk, since: datetime) -> None:
    """Readings until people may swim: each not yet low enough is followed by the next morning's."""
    most, number, at = walk.site.swim_most_ppm, 1, since
    said = words.drift(most)
    for test in (e for e in walk.course.checks if e.at > since):
        walk.add(walk.test(f"drift:{number}", said, test.at, ("fc", "ph")), test)
        number, at = number + 1, test.at
        if test.readings["fc"].value <= most + 1e-9 and "ph" in test.readings:
            return
    here = walk.run.local(at)
    day = here.date() + timedelta(days=0 if here.hour < MORNING_H else 1)
    walk.add(walk.test(f"drift:{number}", said, walk.run.at_hour(day, MORNING_H + 1), ("fc", "ph")))


def _remover(walk: Walk, at: datetime) -> None:
    by = next((e for e in walk.course.told if e.product_id == "phosphate-remover" and e.at > at), None)
    labelled(
        walk,
        ("remover", "phosphate-remover"),
        Words(
            "Phosphate remover",
            "It clouds the water and loads the filter: watch the gauge, clean it after.",
            "By its label; not on the day of a shock.",
            "Phosphate reads over 100 ppb.",
        ),
        at,
        by,
    )


def labelled(walk: Walk, of: tuple[str, str], said: Words, at: datetime, by: Told | None) -> None:
    """A product poured by its label's rate. of: the step's key and the product."""
    key, product_id = of
    dose = label_dose(product_id, None, walk.site.traits.volume_l, walk.measures.system)
    assert dose is not None  # only products of a usual rate are asked for
    walk.live.raises[key] = Raise(dose.amount, 0.0)
    act = Pour(product_id, None, dose.amount.canonical)
    said = replace(said, how=f"{dose.text} {said.how}".strip())
    walk.add(Step(key, act, said, not_before=at, claims=WATER, reason_id="clear_up"), by)
