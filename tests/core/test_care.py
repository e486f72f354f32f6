"""Recurring work: no task lost or doubled, by its own properties and against ical.js, an engine of others."""

import random
from dataclasses import replace
from datetime import date, datetime, time, timedelta
from itertools import islice, pairwise, takewhile
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ical import expanded
from kumpan.core.care.adaptive import RULES as ADAPTIVE
from kumpan.core.care.duties import parts, wanted
from kumpan.core.care.facts import Facts
from kumpan.core.care.findings import FINE, found_in
from kumpan.core.care.recur import (
    Every,
    Window,
    at_clock,
    check_opens,
    checked_days,
    checked_rule,
    checked_window,
    in_words,
    occurrences,
    rule_of,
)
from kumpan.core.care.rules import BY_ID, RULES
from kumpan.core.care.schedule import Due, Said, Task, foretold, next_due, stands
from kumpan.core.care.site import Care, Site
from kumpan.core.care.visit import Duty, fits, learned, lines
from kumpan.core.care.walk import Asked, steps_for
from kumpan.core.errors import InvalidInput
from kumpan.core.log.kinds import KINDS
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.records import PSI_KPA
from kumpan.core.work import sheet as w

DAY = date(2026, 7, 14)
YEAR_DAYS = st.dates(date(2022, 1, 1), date(2031, 12, 31))
month_days = st.tuples(st.integers(1, 12), st.integers(1, 28)) | st.sampled_from([(2, 29), (1, 31), (12, 31)])
windows = st.none() | st.builds(Window, month_days, month_days)
everies = st.one_of(
    st.builds(
        Every, st.just("week"), st.sets(st.integers(0, 6), min_size=1).map(tuple), interval=st.integers(1, 5)
    ),
    st.builds(Every, st.just("month"), day=st.integers(1, 31), interval=st.integers(1, 6)),
    st.builds(
        Every,
        st.just("year"),
        day=st.integers(1, 31),
        months=st.sets(st.integers(1, 12), min_size=1).map(tuple),
    ),
)


def noon(day: date) -> datetime:
    return datetime.combine(day, time(12))


# --- Recurrence, against ical.js (RFC 5545 by other hands).


def test_fixed_days_are_those_an_independent_engine_gives() -> None:
    dice = random.Random(17)
    asked = []
    for _ in range(80):
        unit = dice.choice(("week", "month", "year"))
        every = Every(
            unit,
            tuple(dice.sample(range(7), dice.randint(1, 4))),
            dice.choice((1, 13, 28, 29, 30, 31)),
            tuple(dice.sample(range(1, 13), dice.randint(1, 4))),
            1 if unit == "year" else dice.randint(1, 4),
        )
        # Begun on one of its own days, as every event of the feed is: their engine does not hold a first day
        # against BYMONTH. Nor does it take BYSETPOS right: the feed tells those day by day.
        rule, since = rule_of(every), date(2023, 1, 1) + timedelta(days=dice.randrange(1200))
        if "BYSETPOS" in rule:
            continue
        asked.append((rule, next(occurrences(rule, since, None, since))))
    theirs = expanded([(rule, since.isoformat(), "2032-01-01") for rule, since in asked])
    for (rule, since), days in zip(asked, theirs, strict=True):
        after = since - timedelta(days=1)
        ours = takewhile(lambda d: d <= date(2032, 1, 1), occurrences(rule, since, None, after))
        assert [d.isoformat() for d in ours] == days, (rule, since)
        assert len(days) >= 4
    assert len(asked) > 50 and any("BYMONTHDAY=-1" in rule for rule, _ in asked)  # it holds something


@given(everies, YEAR_DAYS)
def test_a_day_past_the_28th_is_the_months_last_and_no_month_is_left_out(every: Every, since: date) -> None:
    rule = checked_rule(rule_of(every))
    days = list(islice(occurrences(rule, since, None, since), 30))
    assert len(days) == 30 and days == sorted(set(days)) and days[0] > since
    if every.unit != "week":
        for day in days:
            last = (day.replace(day=28) + timedelta(days=4)).replace(day=1) - timedelta(days=1)
            assert day.day == min(every.day, last.day)
    if every.unit == "month":
        months = [d.year * 12 + d.month for d in days]
        assert {b - a for a, b in pairwise(months)} == {every.interval}
    assert in_words(rule)


@given(windows.filter(lambda w: w is not None), YEAR_DAYS)
def test_a_window_opens_once_a_year_on_either_half_of_the_earth(window: Window, day: date) -> None:
    first = window.first_in(day)
    assert window.holds(first) and first - day <= timedelta(days=366)
    assert first == day if window.holds(day) else not window.holds(first - timedelta(days=1)) or first == day
    if window.holds(day):
        assert window.opened(day) <= day <= window.closed(day)


@pytest.mark.parametrize(
    ("call", "field"),
    [
        (lambda: checked_days(0), "days"),
        (lambda: checked_days(-3), "days"),
        (lambda: checked_days(40_000), "days"),
        (lambda: checked_window("02-30", "10-01"), "season_from"),
        (lambda: checked_window("04-15", "spring"), "season_to"),
        (lambda: checked_window("04-15", ""), "season_to"),
        (lambda: rule_of(Every("week")), "weekdays"),
        (lambda: rule_of(Every("month", day=32)), "day"),
        (lambda: rule_of(Every("year", day=1)), "months"),
        (lambda: rule_of(Every("month", interval=0)), "interval"),
        (lambda: rule_of(Every("fortnight")), "unit"),
        (lambda: checked_rule("FREQ=MONTHLY;BYMONTH=2;BYMONTHDAY=30"), "rrule"),
        (lambda: checked_rule("FREQ=DAILY;COUNT=0"), "rrule"),
        (lambda: checked_rule("every so often"), "rrule"),
        (
            lambda: check_opens(rule_of(Every("year", day=1, months=(1,))), DAY, Window((4, 1), (10, 1))),
            "season_from",
        ),
    ],
)  # fmt: skip
def test_what_never_comes_round_is_refused_at_its_field(call, field: str) -> None:  # type: ignore[no-untyped-def]
    with pytest.raises(InvalidInput) as refused:
        call()
    assert [f.field for f in refused.value.fields] == [field] and len(refused.value.fields[0].message) > 15


@pytest.mark.parametrize(
    "zone",
    ["America/Chicago", "Europe/Berlin", "Australia/Adelaide", "Africa/Cairo", "America/Santiago",
    "Asia/Tokyo",
     "Pacific/Auckland", "Asia/Kathmandu", "Pacific/Honolulu"],
)  # fmt: skip
def test_a_clock_time_is_attached_to_every_day_of_a_year_also_where_the_clocks_change(zone: str) -> None:
    here, skipped = ZoneInfo(zone), 0
    for clock in (time(0, 30), time(2, 30), time(19)):
        before = None
        for n in range(366):
            day = date(2026, 1, 1) + timedelta(days=n)
            at = at_clock(day, clock, here)
            assert at.date() == day and at.tzinfo is here
            # An hour the clocks skip is read an hour later (RFC 5545, 3.3.5), and nothing comes twice.
            assert at.time() == clock or (at - at.replace(hour=0, minute=0)) >= timedelta()
            skipped += at.time() != clock
            assert before is None or timedelta(hours=22) < at.timestamp() * timedelta(seconds=1) - before
            before = at.timestamp() * timedelta(seconds=1)
    assert skipped <= 2


# --- Schedules.

tasks = st.one_of(
    st.builds(
        lambda days, since, window: Task("t", "own", "completion", since, days=days, window=window),
        st.integers(1, 400), YEAR_DAYS, windows,
    ),
    st.builds(
        lambda every, since: Task("t", "own", "calendar", since, rrule=rule_of(every)), everies, YEAR_DAYS
    ),
)  # fmt: skip


@given(tasks, st.lists(st.integers(0, 500), max_size=8), st.data())
def test_no_task_is_lost_or_doubled(task: Task, gaps: list[int], data: st.DataObject) -> None:
    """Done early, late or never, skipped or put off: after each word exactly one next day, and of the fixed days none
    is passed over that nothing was done for.
    """
    day, done, said = task.since, None, list[Said]()
    for gap in gaps:
        day += timedelta(days=gap)
        what = data.draw(st.sampled_from(["done", "skip", "snooze"]))
        before = next_due(task, done, said).on
        if what == "done":
            done = noon(day)
        elif what == "skip":
            said.append(Said(noon(day), None, "rain"))
        else:
            said.append(Said(noon(day), day + timedelta(days=data.draw(st.integers(1, 60)))))
        due = next_due(task, done, said)
        assert due.on is not None and due.on >= task.since and due.why
        last = max([n for n in (done, *(s.at for s in said if s.until is None)) if n], default=None)
        put_off = [s.until for s in said if s.until and (last is None or s.at > last)]
        if put_off:
            assert due.on >= put_off[-1]
            continue
        if what == "snooze":
            assert before is not None and due.on >= before
        if task.window is not None:
            assert task.window.holds(due.on)
        if last is not None and task.anchor == "completion":
            wanted_on = max(task.since, last.date() + timedelta(days=task.days))
            assert due.on == (wanted_on if task.window is None else task.window.first_in(wanted_on))
        if task.anchor == "calendar":
            fixed = occurrences(task.rrule, task.since, None, task.since - timedelta(days=1))
            open_ = [d for d in islice(fixed, 400) if last is None or d > last.date()]
            if open_:  # else beyond what was listed
                assert due.on in open_[:2]
                early = due.on != open_[0]
                assert not early or (last is not None and (open_[0] - last.date()).days <= 7)


@given(tasks, st.integers(0, 900))
def test_what_was_missed_is_due_once_and_counted(task: Task, later: int) -> None:
    due = next_due(task, None, [])
    assert due.on is not None
    today = due.on + timedelta(days=later)
    stood = stands(task, due, today)
    if task.window is not None and not task.window.holds(today):
        assert stood.state == "coming" and stood.on is not None and stood.on > today
        return
    assert stood.state == ("due" if stood.on == today else "overdue") and stood.on is not None
    came = [d for d in foretold(task, stood.on, today + timedelta(days=1)) if d <= today]
    assert stood.missed == len(came) - 1 >= 0
    if task.window is not None:
        assert stood.on >= task.window.opened(today)  # last season's is not held against anybody


def test_fixed_days_do_not_move_when_done_late_and_intervals_do() -> None:
    monthly = Task("t", "own", "calendar", date(2026, 1, 1), rrule=rule_of(Every("month", day=1)))
    weekly = Task("t", "own", "completion", date(2026, 1, 1), days=7)
    late = noon(date(2026, 3, 20))
    assert next_due(monthly, late, []).on == date(2026, 4, 1)
    assert next_due(weekly, late, []).on == date(2026, 3, 27)
    just_before = noon(date(2026, 3, 28))
    assert next_due(monthly, just_before, []).on == date(2026, 5, 1)  # done a few days early, it counts


def test_the_29th_of_february_comes_every_year() -> None:
    task = Task("t", "own", "calendar", date(2023, 3, 1), rrule=rule_of(Every("year", day=29, months=(2,))))
    assert list(islice(foretold(task, date(2024, 2, 29), date(2029, 1, 1)), 9)) == [
        date(2024, 2, 29), date(2025, 2, 28), date(2026, 2, 28), date(2027, 2, 28), date(2028, 2, 29),
    ]  # fmt: skip
    assert Window((2, 29), (3, 10)).first_in(date(2026, 1, 1)) == date(2026, 2, 28)


CLEAN = 10 * PSI_KPA


@pytest.mark.parametrize(
    ("rule", "params", "facts", "done", "on"),
    [
        # 8 to 10 psi over clean (common practice), by its own reading after the last clean.
        ("by_gauge", {}, Facts(gauge=(18.1 * PSI_KPA, noon(DAY)), clean_kpa=CLEAN), None, DAY),
        ("by_gauge", {}, Facts(gauge=(17.5 * PSI_KPA, noon(DAY)), clean_kpa=CLEAN), None, None),
        ("by_gauge", {}, Facts(gauge=(19 * PSI_KPA, noon(DAY)), clean_kpa=CLEAN), DAY + timedelta(1), None),
        ("by_gauge", {"days": 28}, Facts(), DAY, DAY + timedelta(28)),
        ("after_event", {"events": ["rain"]}, Facts(events={"rain": noon(DAY)}), None, DAY + timedelta(1)),
        ("after_event", {"events": ["rain"]}, Facts(events={"rain": noon(DAY)}), DAY + timedelta(1), None),
        ("after_event", {"events": ["rain"]}, Facts(events={"storm": noon(DAY)}), None, None),
        ("by_paper", {"paper": "w", "before": 60, "says": "{day}"}, Facts(papers={"w": DAY}), None,
        DAY - timedelta(60)),
        ("by_paper", {"paper": "w", "before": 60, "says": "{day}"}, Facts(papers={"w": DAY}),
        DAY - timedelta(9), None),
        ("by_paper", {"paper": "w", "says": "{day}"}, Facts(), None, None),
        ("after_paper", {"paper": "m", "days": 1461, "says": "{day}"}, Facts(papers={"m": DAY}), None,
        date(2030, 7, 14)),
        ("by_run_hours", {"hours": 90}, Facts(pump_hours_day=8), DAY, DAY + timedelta(11)),
        ("by_run_hours", {"hours": 90}, Facts(), DAY, None),
    ],
)  # fmt: skip
def test_adaptive_rules(rule: str, params: dict, facts: Facts, done: date | None, on: date | None) -> None:
    task = Task("t", "own", "adaptive", date(2020, 1, 1), params=params)
    told = ADAPTIVE[rule](task, noon(done) if done else None, facts)
    assert told.on == on and told.why
    if on is not None and rule == "after_event":
        # Two weeks on the ordinary tests have told it: it lapses by itself.
        assert stands(task, told, on + timedelta(15)).state == "none"
        assert stands(task, told, on + timedelta(5)).state == "overdue"


def test_done_is_the_oldest_of_what_is_needed_and_the_newest_of_what_may_be() -> None:
    facts = Facts(last={"read.fc": noon(DAY), "read.ph": noon(DAY - timedelta(3)), "read.tc": noon(DAY)})
    assert facts.done((("read.fc", "read.ph"), ("read.tc", "read.ph"))) == noon(DAY - timedelta(3))
    assert facts.done((("read.ta",),)) is None and facts.done(()) is None


# --- What a pool is given to do.

TRAITS = PoolTraits(75_000, "vinyl", "liquid", "in_ground")
SAND = {"filter": {"medium": "sand", "clean": CLEAN}, "pump": {"run_by": "timer", "hours": 8.0}}


def site(
    cadence: str = "twice_week", *, equipment: dict | None = None, setting: str = "open", **traits: object
) -> Site:
    return Site(replace(TRAITS, **traits), Care(cadence), equipment or {}, setting=setting)  # type: ignore[arg-type]


def ids(of: Site) -> set[str]:
    return {one.rule.id for one in wanted(of)}


@pytest.mark.parametrize(
    ("of", "has", "lacks"),
    [
        (site(), {"test_fc", "weekly_clean", "barrier"}, {"cell", "test_salt", "filter", "tablets", "timer",
        "rcd", "skim"}),
        (site(equipment=SAND), {"filter", "timer", "o_rings", "rcd"}, {"soak", "cell", "cartridge_new",
        "de_teardown", "sand_new"}),
        (site(chlorine_source="chlorinator"), {"cell", "test_salt"}, {"tablets"}),
        (site(chlorine_source="tablets"), {"tablets"}, {"tablets_visit", "cell"}),
        (site(setting="trees"), {"skim", "baskets"}, {"brush", "line", "vacuum"}),
        (site(setting="trees", sun="indoor"), set(), {"skim", "after_storm", "test_cya"}),
        (site(school="flat_band"), {"shock"}, set()),
        (site(equipment={"mineral": {"what": "copper"}}), {"test_copper", "copper_granules",
        "copper_enzyme"}, set()),
        (
            site("technician", chlorine_source="tablets", equipment=SAND),
            {"stop", "test_fc", "test_ta", "test_cya_season", "filter_round", "filter_full", "tablets_visit"},
            {"weekly_clean", "skim", "tablets", "test_cya", "filter", "timer", "shock"},
        ),
        (
            site("quarterly", equipment=SAND, chlorine_source="chlorinator"),
            {"shop_sample", "quarter_clean", "filter", "after_storm", "test_after", "cell"},
            {"test_fc", "test_ta", "test_salt", "weekly_clean", "skim", "shock", "tablets"},
        ),
        (
            site(surface="soft", volume_l=9_000, equipment={"filter": {"medium": "cartridge"}}),
            {"oxidiser", "skim", "brush", "soak", "cartridge_new", "filter"},
            {"shock", "test_ch", "tablets"},
        ),
    ],
)  # fmt: skip
def test_a_pool_is_given_what_it_has_and_nothing_for_what_it_lacks(
    of: Site, has: set[str], lacks: set[str]
) -> None:
    got = ids(of)
    assert has <= got and not lacks & got, (has - got, lacks & got)


def test_the_soft_sided_pool_has_its_own_rhythm() -> None:
    """Tests twice a week, oxidiser and cartridge weekly, soak monthly, skim and brush every other day (common
    practice).
    """
    small = site("weekly", surface="soft", volume_l=9_000, equipment={"filter": {"medium": "cartridge"}})
    days = {one.rule.id: one.days or one.params.get("days") for one in wanted(small)}
    assert {id: days[id] for id in ("test_fc", "oxidiser", "filter", "soak", "skim", "brush")} == {
        "test_fc": 3, "oxidiser": 7, "filter": 7, "soak": 28, "skim": 2, "brush": 2,
    }  # fmt: skip
    assert [s.key for s in steps_for("weekly", Asked(small))][-1] == "cover"


def test_every_rule_can_be_done_and_is_told_by_the_log_it_writes() -> None:
    """A task that one tick writes down is met by that very entry, by a kind the log knows, and no key is misspelled."""
    for rule in BY_ID.values():
        for keys in rule.met_by:
            for key in keys:
                kind, _, what = key.partition(".")
                if kind not in ("read", "dose"):
                    choices = dict(KINDS[kind].field("what").choices) if what else {what: ""}
                    assert what in choices, key
        if rule.writes is not None and rule.met_by:
            kind, fields = rule.writes
            assert any(keys == (f"{kind}.{fields['what']}",) for keys in rule.met_by), rule.id
        assert rule.writes is not None or rule.opens, rule.id
    assert {rule.part_of for rule in RULES.values()} == {"", "weekly_clean"}
    assert len(parts(site(chlorine_source="chlorinator"))) == 6


# --- A year lived.


def lived(of: Site, share: float, seed: int) -> list[tuple[date, list]]:
    """A year of somebody who does a share of what is due, each day's lines as they stood in the morning."""
    dice, first = random.Random(seed), date(2026, 1, 1)
    season = of.care.season
    duties = []
    for one in wanted(of):
        id, window = one.rule.id, season if one.in_season else None
        task = Task(id, id, one.anchor, first, one.first_days, one.days, one.rrule, None, one.params, window)
        duties.append((one.rule, task))
    last: dict[str, datetime] = {}
    events: dict[str, datetime] = {}
    days = []
    for n in range(365):
        today = first + timedelta(days=n)
        if dice.random() < 0.02:
            events[dice.choice(["rain", "bathers", "storm"])] = noon(today - timedelta(days=1))
        facts = Facts(last=last, events=events, pump_hours_day=8)
        standing = []
        for rule, task in duties:
            done = facts.done(rule.met_by)
            told = ADAPTIVE[rule.adaptive](task, done, facts) if task.anchor == "adaptive" else None
            standing.append(
                Duty(task, rule, rule.title, stands(task, next_due(task, done, [], told), today), 10)
            )
        open_ = lines(standing)
        days.append((today, open_))
        for line in open_:
            if dice.random() < share:
                for duty in line.duties:
                    last |= {key: noon(today) for key in duty.rule.met_by[0]} if duty.rule.met_by else {}
    return days


FULL = SAND | {"openings": {"drains": 2.0}, "cleaner": {"what": "robot"}}


@pytest.mark.parametrize("seed", range(4))
@pytest.mark.parametrize(
    "of",
    [
        site(equipment=FULL, chlorine_source="chlorinator"),
        site("weekly", equipment=FULL, chlorine_source="tablets", setting="trees", school="flat_band"),
        site(surface="soft", volume_l=9_000, equipment={"filter": {"medium": "cartridge"}}),
    ],
)
def test_an_owner_who_does_half_is_never_shown_more_than_seven_lines(of: Site, seed: int) -> None:
    """What they leave stays one line a kind of work, and what they do goes: the list does not grow."""
    for share in (0.5, 0.07):
        for today, open_ in lived(of, share, seed):
            assert len(open_) <= 7, (today, [line.title for line in open_])
            assert len({line.group for line in open_}) == len(open_)
            assert [line.waits for line in open_] == sorted(line.waits for line in open_)


def test_the_quarterly_owner_hears_nothing_between() -> None:
    of = site("quarterly", equipment=FULL, chlorine_source="chlorinator")
    quiet = replace(of, traits=replace(of.traits, sun="full"))
    days = lived(quiet, 1.0, 3)
    spoken = [
        today
        for today, open_ in days
        if any(d.rule.adaptive != "after_event" for line in open_ for d in line.duties)
    ]
    # Visits cluster: what comes round quarterly comes together, what comes yearly with it.
    assert 4 <= len(spoken) <= 12 and len(spoken) / 365 < 0.04


def test_a_season_is_silent_outside_itself() -> None:
    for window in (Window((4, 15), (10, 10)), Window((10, 15), (4, 20))):  # north and south
        of = replace(site(equipment=SAND), care=Care("twice_week", season=window))
        for today, open_ in lived(of, 0.9, 5):
            assert window.holds(today) or not [d for line in open_ for d in line.duties if d.task.window]


# --- A visit.


def test_a_visit_holds_the_hour_there_is_the_worst_to_leave_first() -> None:
    def duty(id: str, minutes: float, over: int) -> Duty:
        rule = BY_ID[id]
        task = Task(id, id, "completion", DAY, days=7)
        return Duty(task, rule, rule.title, stands(task, Due(DAY - timedelta(over)), DAY), minutes)

    found = lines(
        [
            duty("weekly_clean", 60, 1),
            duty("test_fc", 3, 9),
            duty("o_rings", 5, 30),
            duty("cell", 15, 2),
            duty("rcd", 1, 2),
        ]
    )
    assert [line.group for line in found] == ["test", "safety", "gear", "cell", "clean"]
    now, later = fits(found, 60)
    assert [line.group for line in now] == ["test", "safety", "gear", "cell"] and [
        line.group for line in later
    ] == ["clean"]
    assert [line.group for line in fits(found, 90)[0]] == ["test", "safety", "gear", "cell", "clean"]
    assert [line.group for line in fits(found, 0)[0]] == ["test"]  # somebody with no time does one thing
    tests = lines([duty("test_fc", 3, 1), duty("test_ta", 3, 1), duty("test_after", 3, 1)])
    assert [line.title for line in tests] == ["Test chlorine, pH and alkalinity"] and tests[0].minutes == 6
    whole = lines([duty("weekly_clean", 60, 1), duty("skim", 10, 1)])
    assert [(line.title, line.minutes) for line in whole] == [("The weekly clean", 60)]


def test_minutes_are_learned_from_what_it_took() -> None:
    """An hour a week, half with an automatic cleaner (common practice), counts like two done ones (our own)."""
    assert learned(60, []) == 60 and learned(60, [40]) == pytest.approx(160 / 3)
    assert learned(60, [30] * 50) == pytest.approx((120 + 240) / 10)


# --- The walk.

walks = [
    ("weekly", site(equipment=FULL, chlorine_source="chlorinator")),
    ("weekly", site(equipment={})),
    ("weekly", site(sun="indoor", equipment=SAND)),
    ("stop", site("technician", equipment=FULL, chlorine_source="chlorinator")),
    ("stop", site("technician", equipment={}, chlorine_source="tablets")),
    ("away", site(equipment=FULL | {"cover": {"what": "bubble"}}, chlorine_source="chlorinator")),
    ("away", site(chlorine_source="liquid")),
]


@pytest.mark.parametrize(("kind", "of"), walks)
@pytest.mark.parametrize("test_when", ["", "first", "after"])
@pytest.mark.parametrize("order", ["", "brush_first", "vacuum_first"])
def test_a_walk_is_short_ends_with_chemicals_and_asks_for_nothing_the_pool_lacks(
    kind: str, of: Site, test_when: str, order: str
) -> None:
    of = replace(of, care=replace(of.care, test_when=test_when, order=order))
    steps = steps_for(kind, Asked(of, ("ta",), clean_kpa=CLEAN))  # type: ignore[arg-type]
    keys = [s.key for s in steps]
    assert keys[0] == "look" and len(keys) <= 11 and len(set(keys)) == len(keys)
    assert [s.after for s in steps] == [(), *((key,) for key in keys[:-1])]
    # Looked at, cleaned and tested first; whatever is poured is poured after the pump was last stopped.
    stops = max((i for i, s in enumerate(steps) if "pump_off" in s.claims), default=0)
    assert keys.index("doses") > keys.index("test") and keys.index("doses") > stops
    tests_first = of.care.tests_first and kind != "away"
    assert (keys.index("test") < keys.index("clean")) == tests_first
    if kind == "stop":
        assert keys.index("last") > keys.index("clean")  # chlorine is the last act
    cleaning = next(s for s in steps if s.key == "clean").words.how
    brush, vacuum = (
        cleaning.lower().index("brush"),
        min(cleaning.lower().find(w) % 999 for w in ("vacuum", "robot in")),
    )
    assert (brush < vacuum) == of.care.brushes_first
    assert ("filter" in keys) == (bool(of.medium) and kind != "away") and ("gauge" in keys) <= of.has(
        "filter"
    )
    assert ("skim" in cleaning.lower()) == (not of.indoor)
    assert ("salt" in cleaning) == of.traits.has_chlorinator
    for step in steps:
        assert isinstance(step.act, w.Do | w.Look | w.Test | w.Decide) and step.words.title and step.words.how


def test_findings_name_what_follows() -> None:
    assert found_in(FINE) == [] and [f.id for f in found_in("drain,low,unicorn")] == ["drain", "low"]
    drain = found_in("drain")[0]
    assert drain.is_hazard and drain.due_days == 0 and "swims" in drain.caution
