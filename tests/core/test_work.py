"""Work under way: the fold, the merge, and the guides' steps against a model of the pad."""

import random
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kumpan.core.machines.backwash import Filter, cleaning
from kumpan.core.machines.guide import steps_of
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.work.fold import progress, refused
from kumpan.core.work.merge import Poured, UnderWay, apart_min, lines_shown, merge
from kumpan.core.work.sheet import (
    Do,
    Entry,
    Mark,
    MetBy,
    Pour,
    Progress,
    Start,
    Step,
    Wait,
    Words,
)
from kumpan.core.work.sheet import (
    Test as Asked,
)

T0 = datetime(2026, 7, 14, 9, tzinfo=UTC)


def at(minutes: float) -> datetime:
    return T0 + timedelta(minutes=minutes)


def pour(key: str, product: str, after: tuple[str, ...] = (), wait: float = 0.0) -> Step:
    act = Pour(product, None, 1000.0)
    return Step(key, act, Words(product), after, wait, claims=frozenset({"water", "pump_on"}))


def reads(key: str, measures: str, after: tuple[str, ...], wait: float) -> Step:
    asked = tuple(measures.split())
    return Step(key, Asked(asked), Words(key), after, wait, met_by=MetBy("water_test", frozenset(asked)))


# Bicarbonate, then chlorine after half an hour, then a swim reading and the test that decides.
PLAN = Start(
    "plan",
    "plan",
    "dose",
    T0,
    (
        pour("soda", "baking-soda"),
        pour("chlorine", "liquid-chlorine-12.5", ("soda",), 30),
        reads("swim", "fc ph", ("chlorine",), 30),
        reads("decide", "ph ta", ("swim",), 1380),
    ),
    (MetBy("water_test", frozenset({"fc", "ph", "ta"})), MetBy("plan")),
    at(9 * 1440),
)


def ticked(key: str, minute: float) -> Entry:
    return Entry(f"tick-{key}", at(minute), "dose", ticks=frozenset({key}))


def read_at(minute: float, measures: str) -> Entry:
    return Entry(f"test-{minute}", at(minute), "water_test", frozenset(measures.split()))


def states(found: Progress) -> list[str]:
    return [b.state for b in found.steps]


SODA, CHLORINE = ticked("soda", 10), ticked("chlorine", 50)


@pytest.mark.parametrize(
    ("entries", "now", "state", "expected"),
    [
        ([], 5, "under_way", "open later later later"),
        ([SODA], 20, "under_way", "done later later later"),  # its half hour is not over
        ([SODA], 40, "under_way", "done open later later"),
        ([CHLORINE], 60, "under_way", "open done later later"),  # out of order is as told
        (
            [SODA, CHLORINE, read_at(60, "fc ph")],
            61,
            "under_way",
            "done done later later",
        ),  # too early to count
        ([SODA, CHLORINE, read_at(81, "fc ph")], 82, "under_way", "done done done later"),
        # One entry may tick several steps.
        (
            [Entry("both", at(50), "dose", ticks=frozenset({"soda", "chlorine"}))],
            60,
            "under_way",
            "done done later later",
        ),
        # A swim reading that reads all the plan asked for goes on with it; the day's test is still to come.
        ([SODA, CHLORINE, read_at(81, "fc ph ta")], 82, "under_way", "done done done later"),
        ([SODA, CHLORINE, read_at(81, "fc ph"), read_at(1500, "ph ta")], 1501, "done", "done done done done"),
        # A test that reads less than a plan asked for does not end it; one that reads all, before it was due, does.
        ([SODA, read_at(30, "tc ph")], 31, "under_way", "done later later later"),
        ([SODA, read_at(30, "fc ph ta ch")], 31, "superseded", "done missed missed missed"),
        ([SODA, Entry("newer", at(30), "plan")], 31, "superseded", "done missed missed missed"),
        # Nothing left but to read when a newer plan came: done.
        ([SODA, CHLORINE, Entry("newer", at(60), "plan")], 61, "done", "done done missed missed"),
        ([SODA], 20 * 1440, "given_up", "done missed missed missed"),  # left for more than its term
    ],
)
def test_what_becomes_of_a_dose_plan(entries: list[Entry], now: float, state: str, expected: str) -> None:
    found = progress(PLAN, entries, [], at(now))
    assert (found.state, states(found)) == (state, expected.split())


def test_a_late_pour_pushes_what_waits_for_it_and_an_undone_one_takes_it_back() -> None:
    foretold = [b.due_at for b in progress(PLAN, [], [], at(0)).steps]
    late = progress(PLAN, [ticked("soda", 100)], [], at(101)).steps
    assert [b.due_at - then for b, then in zip(late[1:], foretold[1:], strict=True)] == [
        timedelta(minutes=100)
    ] * 3
    assert progress(PLAN, [], [], at(101)).steps[1].due_at == at(131)  # not poured yet: from now on
    assert states(progress(PLAN, [], [], at(101))) == ["open", "later", "later", "later"]  # undone


BATH = Start(
    "bath",
    "guide",
    "bath",
    T0,
    (
        Step("off", Do(), Words("Pump off"), claims=frozenset({"pump_off"}), may_skip=False),
        Step("soak", Wait(10.0), Words("Soak"), ("off",), claims=frozenset({"pump_off"})),
        Step("look", Wait(2.0, "it is clear"), Words("Look"), ("soak",), claims=frozenset({"pump_off"})),
        Step("on", Do(), Words("Pump on"), ("look",), claims=frozenset({"pump_off"}), may_skip=False),
    ),
    idle_min=12 * 60,
)


def said(minute: float, key: str, verb: str, value: str = "") -> Mark:
    return Mark(f"{minute}-{key}-{verb}", at(minute), key, verb, value)


OFF, SOAK = said(1, "off", "answer", "done"), said(2, "soak", "timer")


@pytest.mark.parametrize(
    ("marks", "now", "state", "expected"),
    [
        ([OFF], 2, "under_way", "done open later later"),
        ([OFF, SOAK], 11, "under_way", "done running later later"),
        ([OFF, SOAK], 13, "under_way", "done done open later"),  # the time alone ends it
        ([OFF, SOAK, said(13, "look", "timer")], 14, "under_way", "done done running later"),
        (
            [OFF, SOAK, said(13, "look", "timer")],
            30,
            "under_way",
            "done done open later",
        ),  # it is not clear yet
        (
            [OFF, SOAK, said(13, "look", "timer"), said(30, "look", "answer")],
            31,
            "under_way",
            "done done done open",
        ),
        ([OFF, said(2, "soak", "skip")], 3, "under_way", "done skipped open later"),
        ([OFF, said(2, "", "pause")], 3, "paused", "done open later later"),
        ([OFF, said(2, "", "pause"), said(9, "", "resume")], 10, "under_way", "done open later later"),
        ([OFF, said(2, "", "give_up")], 3, "given_up", "done missed missed missed"),
        ([OFF], 721, "given_up", "done missed missed missed"),  # nothing said of it for twelve hours
        ([OFF, said(720, "soak", "timer")], 722, "under_way", "done running later later"),
    ],
)
def test_what_becomes_of_a_guide(marks: list[Mark], now: float, state: str, expected: str) -> None:
    found = progress(BATH, [], marks, at(now))
    assert (found.state, states(found)) == (state, expected.split())


@pytest.mark.parametrize(
    ("mark", "why"),
    [
        (said(2, "look", "answer"), "not open yet"),
        (said(2, "nothing", "answer"), "no such step"),
        (said(2, "off", "skip"), "cannot be skipped"),
        (said(2, "soak", "answer"), ""),
        (said(2, "off", "answer"), ""),  # said again: the last word counts
        (said(2, "", "pause"), ""),
    ],
)
def test_a_mark_that_cannot_be_is_refused_in_plain_words(mark: Mark, why: str) -> None:
    found = refused(progress(BATH, [], [OFF], at(2)), mark)
    assert (why in found) if why else found == ""
    assert "ended" in refused(progress(BATH, [], [OFF], at(800)), mark)


marks = st.lists(
    st.builds(
        said,
        st.integers(0, 900),
        st.sampled_from(["off", "soak", "look", "on", "", "other"]),
        st.sampled_from(["answer", "skip", "timer", "pause", "resume", "give_up", "decide"]),
    ),
    max_size=12,
    unique_by=lambda m: m.id,
)
entries = st.lists(
    st.one_of(
        st.builds(ticked, st.sampled_from(["soda", "chlorine", "swim"]), st.integers(0, 3000)),
        st.builds(
            read_at, st.integers(0, 3000), st.sampled_from(["fc", "fc ph", "ph ta", "fc ph ta", "tc ph"])
        ),
        st.builds(lambda m: Entry(f"plan-{m}", at(m), "plan"), st.integers(2000, 3000)),
    ),
    max_size=8,
    unique_by=lambda e: e.id,
)


@settings(max_examples=200)
@given(entries, marks, st.integers(0, 4000), st.integers(0, 4000), st.randoms())
def test_any_order_gives_the_same_the_future_is_not_seen_and_what_closed_stays(
    log: list[Entry], words: list[Mark], one: int, other: int, rng: random.Random
) -> None:
    early, late = sorted((one, other))
    for start, heard in ((PLAN, []), (BATH, words)):
        shuffled, mixed = rng.sample(log, len(log)), rng.sample(heard, len(heard))
        then, now = progress(start, log, heard, at(early)), progress(start, log, heard, at(late))
        assert progress(start, shuffled, mixed, at(early)) == then
        assert progress(start, [e for e in log if e.at <= at(early)], heard, at(early)) == then
        if then.ended_at:  # what has ended stays as it ended
            assert (now.state, now.ended_at, now.ended_by) == (then.state, then.ended_at, then.ended_by)
        for before, after in zip(then.steps, now.steps, strict=True):
            assert before.closed_at is None or before.closed_at <= at(early)
            if before.closed_at and not heard:
                assert after.closed_at == before.closed_at
        # Nothing opens before what it comes after is closed, and its wait is over.
        for step, b in ((b.step, b) for b in now.steps if b.state in ("open", "running")):
            closed = [now.by_key[key].closed_at for key in step.after]
            assert all(closed) and b.due_at >= max(filter(None, closed), default=T0) + timedelta(
                minutes=step.wait_min
            )
        assert (now.ended_at is None) == (now.state in ("under_way", "paused"))


# --- Several sheets in one order.


def under_way(start: Start, log: list[Entry], heard: list[Mark], minute: float, name: str) -> UnderWay:
    return UnderWay(start, progress(start, log, heard, at(minute)), name)


GUIDE = replace(BATH, steps=steps_of(cleaning(Filter("sand", "multiport", 60_000))), subject="backwash")


def test_a_backwash_comes_before_a_dose_and_says_why() -> None:
    sheets = [under_way(PLAN, [], [], 5, "Dose plan"), under_way(GUIDE, [], [], 5, "Backwash")]
    first, second = merge(sheets, [], at(5))
    assert (first.sheet.name, first.became.step.key, first.held) == ("Backwash", "before", "")
    assert second.became.step.key == "soda" and second.held.startswith("Backwash first")
    # Its pump work done, the dose goes on though the guide is not over.
    rows = [s.key for s in GUIDE.steps]
    done = [said(i / 10, key, "answer") for i, key in enumerate(rows[: rows.index("on") + 1])]
    lines = merge([sheets[0], under_way(GUIDE, [], done, 5, "Backwash")], [], at(5))
    assert [line.became.step.key for line in lines if line.free] == ["soda", "after"]


def test_a_backwash_laid_aside_holds_doses_only_once_it_has_stopped_the_pump() -> None:
    plan, put_by = under_way(PLAN, [], [], 5, "Dose plan"), said(4, "", "pause")
    for stopped, held in (([], False), ([said(3, "off", "answer")], True)):
        begun = [said(1, "before", "skip"), said(2, "hose", "answer"), *stopped, put_by]
        (line,) = merge([plan, under_way(GUIDE, [], begun, 5, "Backwash")], [], at(5))
        assert bool(line.held) is held


def test_a_product_that_mixes_keeps_the_pump_on() -> None:
    done = [said(1, "before", "skip"), said(2, "hose", "answer")]
    guide = under_way(GUIDE, [], done, 20, "Backwash")
    (off,) = merge([guide], [Poured("muriatic-31.45", at(0))], at(20))
    assert off.became.step.key == "off" and "mixing" in off.held and off.until == at(30)
    assert merge([guide], [Poured("muriatic-31.45", at(0))], at(31))[0].free


def test_acid_by_hand_holds_the_chlorine_of_a_plan() -> None:
    plan = replace(PLAN, steps=(pour("chlorine", "liquid-chlorine-12.5"),))
    by_hand, of_it = Poured("muriatic-31.45", at(0)), Poured("muriatic-31.45", at(0), "plan")
    (held,) = merge([under_way(plan, [], [], 10, "Dose plan")], [by_hand], at(10))
    assert "keep them apart" in held.held and held.until == at(30)
    assert merge([under_way(plan, [], [], 10, "Dose plan")], [of_it], at(10))[
        0
    ].free  # its own waits are its steps'


def test_today_shows_seven_lines_and_says_how_many_more() -> None:
    many = [under_way(replace(PLAN, id=f"p{i}"), [], [], 5, f"Plan {i}") for i in range(9)]
    shown, more = lines_shown(merge(many, [], at(5)))
    assert (len(shown), more) == (7, 2)
    assert sum(line.free for line in merge(many, [], at(5))) == 1  # one product at a time


POURED_IDS = ("muriatic-31.45", "liquid-chlorine-12.5", "cal-hypo-65", "baking-soda", "calcium-chloride-77")
sheets = st.lists(
    st.one_of(
        st.tuples(st.lists(st.sampled_from(POURED_IDS), min_size=1, max_size=3), st.integers(0, 60)).map(
            lambda held: ("plan", *held)
        ),
        st.tuples(
            st.sampled_from(["multiport", "push_pull", "cartridge"]), st.integers(0, 22), st.booleans()
        ).map(lambda held: ("guide", *held)),
    ),
    min_size=1,
    max_size=5,
)


def _made(i: int, kind: str, what: object, far: int, more: bool = False) -> UnderWay:
    """A drawn sheet: a plan of some products, or a guide so many steps on, perhaps with a timer running."""
    if kind == "plan":
        steps = tuple(pour(str(n), product) for n, product in enumerate(what))  # type: ignore[arg-type]
        steps = tuple(replace(s, after=(str(n - 1),) if n else ()) for n, s in enumerate(steps))
        return under_way(replace(PLAN, id=f"s{i}", at=at(-far), steps=steps), [], [], 60, f"Plan {i}")
    medium = "cartridge" if what == "cartridge" else "sand"
    start = replace(GUIDE, id=f"s{i}", steps=steps_of(cleaning(Filter(medium, str(what), 60_000))))
    done = [said(n / 10, s.key, "answer") for n, s in enumerate(start.steps[:far])]
    waits = [s.key for s in start.steps[far : far + 1] if isinstance(s.act, Wait)]
    done += [said(59.5, key, "timer") for key in waits if more]
    return under_way(start, [], done, 60, f"Guide {i}")


@settings(max_examples=250)
@given(sheets, st.lists(st.tuples(st.sampled_from(POURED_IDS), st.integers(0, 59)), max_size=3))
def test_no_merged_set_has_the_pump_on_and_off_or_two_products_together(
    drawn: list[tuple], went_in: list[tuple[str, int]]
) -> None:
    poured = [Poured(product, at(minute)) for product, minute in went_in]
    lines = merge([_made(i, *one) for i, one in enumerate(drawn)], poured, at(60))
    free = [line for line in lines if line.free and line.became.state == "open"]
    running = [line for line in lines if line.became.state == "running"]
    needs = [(line.sheet.start.id, claim) for line in (*free, *running) for claim in line.became.step.claims]
    for mine, claim in ((line.sheet.start.id, c) for line in free for c in line.became.step.claims):
        clash = {"pump_on": "pump_off", "pump_off": "pump_on"}.get(claim)
        assert not any(theirs != mine and other == clash for theirs, other in needs)
    pours = [line.became.step.act for line in free if isinstance(line.became.step.act, Pour)]
    assert len(pours) <= 1
    for act in pours:
        assert isinstance(act, Pour)
        for one in poured:
            assert at(60) - one.at >= timedelta(minutes=apart_min(one.product_id, act.product_id))
            if {PRODUCTS[one.product_id].group, PRODUCTS[act.product_id].group} == {"acid", "chlorine"}:
                assert at(60) - one.at >= timedelta(minutes=30)  # common practice
    for line in free:
        if "pump_off" in line.became.step.claims:
            assert all(at(60) - p.at >= timedelta(minutes=PRODUCTS[p.product_id].mix_min) for p in poured)
    assert all(line.held for line in lines if line.became.state == "open" and not line.free)
