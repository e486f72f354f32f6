"""Complaints: every guide walked for every answer, no dead end, no cause named without its test; the bucket's
sum.
"""

from collections.abc import Iterator
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kumpan.core.complaints.bucket import TELLS_MM, lost
from kumpan.core.complaints.guide import IDLE_MIN, LAST, Complaint, named_key, steps_of
from kumpan.core.complaints.rows import COMPLAINTS
from kumpan.core.guidance.reasons import REASONS
from kumpan.core.water.measures import MEASURES
from kumpan.core.work import sheet as w
from kumpan.core.work.fold import progress
from kumpan.core.work.sheet import Decide, Entry, Mark, Progress, Start

BEGUN = datetime(2026, 7, 10, 18, tzinfo=UTC)


def walked(complaint: Complaint, answers: dict[str, str]) -> Progress:
    """The guide gone through with these answers, none of the suspects where nothing is said."""
    steps = steps_of(complaint)
    start = Start("g", "guide", complaint.id, BEGUN, steps, idle_min=IDLE_MIN)
    none = {s.id: next(a for a, _ in reversed(s.answers) if a not in s.shows) for s in complaint.suspects}
    marks, entries, now = list[Mark](), list[Entry](), BEGUN
    for n in range(len(steps) + 1):
        now += timedelta(hours=1)
        stands = progress(start, entries, marks, now)
        if stands.state != "under_way" or stands.next is None:
            break
        step = stands.next.step
        if isinstance(step.act, w.Test):
            entries.append(Entry(f"t{n}", now, "water_test", frozenset(step.act.measures)))
        else:
            usual = none.get(step.key, "on") if isinstance(step.act, Decide) else "done"
            marks.append(Mark(f"m{n}", now, step.key, "answer", answers.get(step.key, usual)))
    return progress(start, entries, marks, now)


def ways(complaint: Complaint) -> Iterator[tuple[str, dict[str, str]]]:
    """Every answer to every question, the others none; and each that is the cause both helped and not."""
    for suspect in complaint.suspects:
        for answer, _ in suspect.answers:
            for after in ("was", "on") if answer in suspect.shows else ("",):
                yield suspect.id, {suspect.id: answer} | ({named_key(suspect): after} if after else {})
    all_of_it = {s.id: s.shows[0] for s in complaint.suspects}
    yield "", all_of_it


@pytest.mark.parametrize("id", COMPLAINTS)
def test_every_answer_leads_on_and_no_cause_is_named_without_its_test(id: str) -> None:
    complaint = COMPLAINTS[id]
    named = {named_key(s): s for s in complaint.suspects}
    seen = set()
    for asked, answers in ways(complaint):
        stands = walked(complaint, answers)
        assert stands.state == "done", (asked, answers, stands.next)
        done = {b.step.key: b for b in stands.steps if b.state == "done"}
        told = [key for key in named if key in done]
        seen |= set(told)
        for key in told:
            suspect = named[key]
            tests = [done[f"{suspect.id}_{row.key}"] for row in suspect.tests]
            assert tests and all(t.closed_at < done[key].closed_at for t in tests)  # type: ignore[operator]
            assert done[suspect.id].value in suspect.shows
        helped = answers.get(f"{asked}_is") == "was"
        assert (LAST in done) is not helped  # found, or somebody who can see it
        if helped:
            assert told == [f"{asked}_is"]
    assert seen == set(named)  # each can be named


@pytest.mark.parametrize("id", COMPLAINTS)
def test_a_complaint_is_whole(id: str) -> None:
    complaint = COMPLAINTS[id]
    assert complaint.label and complaint.sees
    for suspect in complaint.suspects:
        answers = [a for a, _ in suspect.answers]
        assert set(suspect.shows) < set(answers) and len(set(answers)) == len(answers)
        assert suspect.tests and suspect.named.title and suspect.named.how
    steps = steps_of(complaint)
    assert len({s.key for s in steps}) == len(steps) and all(len(s.key) <= 60 for s in steps)
    assert all(s.reason_id in REASONS for s in steps)
    assert all(m in MEASURES for s in steps if isinstance(s.act, w.Test) for m in s.act.measures)
    assert not any(s.claims for s in steps)  # it holds up nobody else's pump or water


def test_the_bucket_tells_a_leak_from_evaporation() -> None:
    """A mm on a square metre is a litre: 14 mm over 400 sq ft (37.16 sq m) are 520 L, 137 gal (calc)."""
    found = lost(20, 6, 24, 37.161)
    assert found.leaks and found.leak_l_day == pytest.approx(520.3, abs=0.1)
    assert found.leak_l_day / 3.785411784 == pytest.approx(137.4, abs=0.1)
    assert lost(20, 6, 48, None).leak_mm == pytest.approx(7) and lost(20, 6, 48, None).leak_l_day is None
    with pytest.raises(ValueError, match="time"):
        lost(1, 1, 0, None)


@given(pool=st.floats(0, 100), bucket=st.floats(0, 100), hours=st.floats(1, 96))
def test_no_leak_is_told_where_the_bucket_fell_as_far(pool: float, bucket: float, hours: float) -> None:
    found = lost(pool, bucket, hours, 40.0)
    assert found.leaks is ((pool - bucket) * 24 / hours > TELLS_MM)
    assert found.leak_l_day is not None and found.leak_l_day >= 0
