"""A run after a bodily-waste incident: out, lifted, chlorine to the table's row, its time counted.

It defers to the health authority.
"""

from datetime import datetime, timedelta

from kumpan.core.clearup import incidents as table
from kumpan.core.clearup import tables as t
from kumpan.core.clearup import words
from kumpan.core.clearup.around import drift, put_back
from kumpan.core.clearup.build import FILTERED, WATER, Walk, fc_of
from kumpan.core.clearup.contact import Contact
from kumpan.core.clearup.dose import Measures, Raise, raise_by
from kumpan.core.clearup.incidents import Row
from kumpan.core.clearup.run import Run, Told
from kumpan.core.products.catalogue import is_acid
from kumpan.core.work.sheet import Decide, Pour, Step, Test, Words

# Raised over the row, so that it stands at the next reading (our own): this share, and at least so much.
_OVER_SHARE, _OVER_PPM = 0.2, 1.0
# Between two readings of a long row (our own): under the four hours that count.
_READ_EVERY_MIN = 180.0
_MIXED = timedelta(minutes=t.CHECK_MIN / 2)

_OUT = Words(
    "Everyone out, the pool closed",
    "All of it: spas and other pools on the same filter too. A sign at the gate. A public pool asks its"
    " health"
    " authority now; local rules come before all that stands here.",
    "",
    "What was let go spreads within minutes.",
)
_TEST = Words(
    "Test: chlorine, pH, temperature",
    f"pH {table.PH_MOST:g} or less and 77 °F (25 °C) or warmer, before chlorine is raised: over 10 ppm pH"
    f" cannot"
    " be read.",
    "",
    "The table holds for such water alone.",
)
_BALANCE = Words(
    "Test what the acid depends on",
    f"pH has to come down to {table.PH_MOST:g}: how much acid that takes follows from these.",
    "",
    "Without alkalinity the same acid moves pH by a little or by a great deal.",
)
_ROW = Words(
    "Which row of the table",
    "More chlorine, less time. Any row that is met ends it; rows are not added up. The lowest is easiest"
    " to keep.",
    "",
    "Each row stands by itself.",
)
_LAB = Words(
    "Stabilizer, by a laboratory",
    "A tube reads nothing under 20 to 30 ppm: take a sample to a shop that reads it by photometer, or"
    " send it in.",
    "",
    f"The table has rows for none and for {table.CYA_MOST_PPM:g} ppm at most.",
)
_DILUTE = Words(
    "Exchange water until stabilizer is 15 or less",
    "By local rules, as much as the shell allows at once; or drain and fill. The pool stays closed.",
    "Its own water is fouled: where it may go is the authority's to say.",
    "Stabilizer binds the chlorine that kills here.",
)
_FILTER = Words(
    "Backwash, or wash the cartridge, before anyone is in",
    "To waste and not back into the pool, the effluent by local rules; the medium changed where the authority"
    " asks for it.",
    "Pump off at its breaker, pressure off. Gloves.",
    "The filter holds what the chlorine had no time to reach.",
)
_RECORD = Words(
    "Keep the record",
    "The readings, the hours and who did what stand in the log of this run: print it for the authority.",
    "",
    "A public pool has to show it.",
)


_PH = Words(
    "Read pH again before chlorine is raised",
    f"It has to read {table.PH_MOST:g} or less now: over 10 ppm it cannot be read, and time then counts for"
    " nothing.",
    "",
    "The table holds at such a pH alone.",
)


def _said(row: Row, why: str = "") -> Words:
    failed = f"The last did not count: {why}. " if why else ""
    return Words(
        "Read it again",
        f"{failed}Chlorine and warmth, far from the returns, within four hours of the last reading.",
        "Nobody in.",
        f"The row: {row.words}. Time counts between two readings that bear it; after the last none does.",
    )


def incident(walk: Walk) -> None:
    """The steps after an incident."""
    contact = Contact(walk.course)
    over = contact.met_at
    at = walk.run.at
    for key, said in (
        ("out", _OUT),
        ("lift", Words("Lift it out", contact.incident.how, "Gloves, and hands washed after.")),
        ("timer", words.TIMER),
    ):
        walk.add(walk.do(key, said, at, skip=key == "timer"))
    first = next((e for e in walk.course.tests if {"fc", "ph"} <= e.readings.keys()), None)
    walk.add(walk.test("test:0", _TEST, at, ("fc", "ph", "temp")), first)
    if first is None:
        return
    _acids(walk, over)
    if over is None and not _stabilizer(walk, contact):
        return
    if len(contact.rows) > 1:
        choices = tuple((row.id, row.words, "") for row in contact.rows)
        walk.add(walk.asked("row", Decide("Which row?", choices), _ROW, at))
    _raises(walk, contact, over)
    walk.in_order()
    if over is not None:
        walk.add(walk.do("filter:after", _FILTER, over, skip=False), walk.first_entry(over, FILTERED))
        drift(walk, over)
        put_back(walk, over)
        walk.add(walk.do("record", _RECORD, over))


def _acids(walk: Walk, over: datetime | None) -> None:
    """Acid as it went in, and what the last reading of pH asks for."""
    course, act = walk.course, walk.live.acid
    poured = [e for e in course.told if e.at >= walk.run.at and is_acid(e.product_id)]
    for number, one in enumerate(poured, 1):
        asked = Pour(one.product_id, None, one.amount)
        walk.add(_acid(f"acid:{number}", asked, one.at, ""), one)
    if act is not None and act.product is not None and over is None:
        asked = Pour(act.product.id, act.strength, act.amount)
        walk.add(_acid(f"acid:{len(poured) + 1}", asked, course.tests[-1].at, act.note))
    lacks = tuple(m for m in ("ta", "cya") if course.known(m) is None)
    high = course.latest("ph", walk.run.at)
    if over is None and act is None and lacks and high is not None and high[0] > table.PH_MOST:
        walk.add(walk.test("balance:0", _BALANCE, high[1].at, lacks, skip=True))


def _acid(key: str, act: Pour, at: datetime, note: str) -> Step:
    return Step(key, act, words.acid(note), not_before=at, claims=WATER, reason_id="incident")


def _stabilizer(walk: Walk, contact: Contact) -> bool:
    """Whether the table has a row for the stabilizer in the water; else what is to be done first."""
    held = contact.stabilizer
    told = [e for e in walk.course.told if "cya" in e.readings and e.at >= walk.run.at]
    for number, test in enumerate(told, 1):
        walk.add(walk.test(f"stabilizer:{number}", _LAB, test.at, ("cya",)), test)
    if held == "much":
        walk.add(walk.do(f"dilute:{len(told)}", _DILUTE, told[-1].at if told else walk.run.at))
    if held in ("much", "unknown"):
        at = told[-1].at if told else walk.run.at
        walk.add(walk.test(f"stabilizer:{len(told) + 1}", _LAB, at, ("cya",)))
    return held not in ("much", "unknown")


def _raises(walk: Walk, contact: Contact, over: datetime | None) -> None:
    """Every pour and reading as it came, then the next one."""
    row = contact.aim
    if row is None:
        return
    until = walk.now if over is None else over
    pours = [p for p in walk.course.pours if p.at <= until]
    for number, one in enumerate(pours, 1):
        walk.poured(f"raise:{number}", one, number, "level")
    begun = [e for e in contact.readings if e.at <= until]
    for number, test in enumerate(begun, 1):
        if test.id != walk.live.met.get("test:0"):
            walk.add(walk.test(f"count:{number}", _said(row), test.at, ("fc",)), test)
    if over is None and not walk.read_again(len(begun) + 1):
        _next(walk, contact, row, begun[-1] if begun else walk.first_reading())


def _next(walk: Walk, contact: Contact, row: Row, last: Told | None) -> None:
    """The next pour or reading. last: the last reading, None before any."""
    number, pours = len(contact.readings) + 1, walk.course.pours
    at = walk.run.at if last is None else last.at
    if pours and at <= pours[-1].at:
        walk.add(_count(row, number, pours[-1].at + _MIXED))
    elif row.fc_ppm > t.PH_UNREAD_OVER_PPM and not contact.ph_set:
        ready = max(walk.acid_over(), at)
        walk.add(walk.test(f"count:{number}", _PH, ready, ("fc", "ph", "temp")))
    elif last is not None and (dose := _dose(walk, row, last)) is not None:
        ready = max(at, walk.acid_over())
        ready = walk.run.next_dusk(ready) if _sun_takes_it(contact, row) else ready
        said = words.pour(row.fc_ppm, fc_of(last), len(pours) + 1, dose.opened, "level")
        # Nobody is in it, and as much as can be lifted is out, before anything is poured.
        walk.add(walk.after(walk.pour(f"raise:{len(pours) + 1}", dose, ready, said), "out", "lift"))
    else:
        walk.add(_wait(contact, row, number, at))


def _wait(contact: Contact, row: Row, number: int, at: datetime) -> Step:
    """The reading that ends the row or comes within its four hours; half an hour on where the last failed."""
    if not contact.readings:
        return _count(row, number, at)
    why = contact.fails(contact.readings[-1], row)
    left = max(1.0, row.minutes - contact.counted_min(row))
    wait = t.CHECK_MIN / 2 if why else min(left, _READ_EVERY_MIN)
    return _count(row, number, at + timedelta(minutes=wait), why)


def _sun_takes_it(contact: Contact, row: Row) -> bool:
    """Whether a long row is kept by night alone: without stabilizer the sun halves chlorine within the hour
    (Nowell & Hoigne 1992, brought to a pool's depth by common practice).
    """
    sunny = contact.course.site.traits.sun in ("full", "part")
    return sunny and contact.stabilizer == "none" and row.minutes > table.GAP_MOST_MIN


def _count(row: Row, number: int, at: datetime, why: str = "") -> Step:
    measures = ("fc", "temp") if row.fc_ppm > t.PH_UNREAD_OVER_PPM else ("fc", "ph", "temp")
    said = _said(row, why)
    return Step(f"count:{number}", Test(measures), said, not_before=at, may_skip=False, reason_id="incident")


def _dose(walk: Walk, row: Row, last: Told) -> Raise | None:
    """What brings it over the row; None where it stands there by more than a reading's step."""
    fc = last.readings["fc"].value
    if fc >= row.fc_ppm + min(_OVER_PPM, 0.1 * row.fc_ppm) / 2:
        return None
    return raise_over(walk.run, walk.site.traits.volume_l, row, fc, walk.measures)


def raise_over(run: Run, volume_l: float, row: Row, fc_ppm: float, measures: Measures) -> Raise | None:
    """What brings free chlorine over a row; None for nothing."""
    short = max(row.fc_ppm * (1 + _OVER_SHARE), row.fc_ppm + _OVER_PPM) - fc_ppm
    return raise_by(run, volume_l, short, 1.15 * short, measures) if short > 0 else None


def waits_for(contact: Contact) -> str:
    """What keeps the table from being used, in words; empty where nothing does."""
    most = f"{table.CYA_MOST_PPM:g}"
    return {
        "much": f"Over {most} ppm of stabilizer the table has no row: exchange water first, or ask the"
        f" authority.",
        "unknown": f"Stabilizer of {most} ppm or less is read by a laboratory alone: take a sample first.",
    }.get(contact.stabilizer, "")
