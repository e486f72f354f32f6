"""Clear-up's other roads: mustard and black, every other day and same day, demand, incidents by the health
authority's table, and copper that was taken for algae; rule by rule, and lived to their end.
"""

from dataclasses import replace
from datetime import timedelta
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from clearup_runs import START, Story, begun, live, next_key
from kumpan.core.clearup import incidents as table
from kumpan.core.clearup import tables as t
from kumpan.core.clearup.contact import Contact
from kumpan.core.clearup.demand import BREAKPOINT_PER_N, eats
from kumpan.core.clearup.ending import criteria_of, over_at
from kumpan.core.clearup.foretell import foretell
from kumpan.core.clearup.incidents import INCIDENTS, Row
from kumpan.core.clearup.propose import Fitting, refused_kind, schools_for
from kumpan.core.clearup.run import Site, Told, level_of
from kumpan.core.clearup.slow import TABLET
from kumpan.core.clearup.standing import swim_tonight, warnings
from kumpan.core.guidance.targets import kill_level_ppm
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.simulation.priors import Nature
from kumpan.core.units import gal_to_l
from kumpan.core.work.sheet import Pour

DUSK = 3.0  # hours after a run of these begins: the sun is down


# ---- Levels and schools.


@pytest.mark.parametrize("cya", [40.0, 50.0, 60.0])
def test_mustard_asks_for_half_of_stabilizer_and_black_for_greens_level(cya: float) -> None:
    """0.5 ppm HOCl at pH 7.5 is 50 to 53 % of stabilizer (the practice of shocks); no level over 30."""
    mustard, site = begun("tint", cya=cya, kind="mustard")
    at_25 = kill_level_ppm(cya, None, mustard.kind.hocl_ppm)
    assert 0.495 * cya <= at_25 <= 0.53 * cya
    black, green = (
        level_of(begun("tint", kind=kind)[0], site, cya, None, None) for kind in ("black", "green")
    )
    assert black == green < level_of(mustard, site, cya, None, None) <= t.MOST_LEVEL_PPM
    # Above 60 ppm of stabilizer at 0.5 (75 at 0.3) water is exchanged first.
    assert kill_level_ppm(62, None, 0.5) > t.MOST_LEVEL_PPM > kill_level_ppm(59, None, 0.5)


def test_mustard_is_not_led_by_a_kit_that_cannot_read_its_level() -> None:
    for method, refused in (("strip", True), ("photometer", True), ("drops", False)):
        assert bool(refused_kind(method, 2, t.KINDS["mustard"], 20)) is refused
        assert not refused_kind(method, 1, t.KINDS["black"], 16)
    assert "morning and evening" in refused_kind(
        "drops", 1, t.KINDS["mustard"], 20
    )  # nobody holds it once a day


SMALL = Site(PoolTraits(gal_to_l(3_000), "vinyl", "liquid", "above_ground"), "cartridge")


@pytest.mark.parametrize(
    ("of", "every_other", "same_day"),
    [
        (Fitting(begun("steps")[1], "drops", 1, 16, severity="steps"), True, False),  # 15,850 gal of sand
        (Fitting(begun("steps")[1], "drops", 1, 16, severity="hidden"), False, False),
        (Fitting(SMALL, "strip", 4, 12, severity="tint"), True, True),
        (Fitting(SMALL, "strip", 1, 12, severity="tint"), True, False),  # nobody by it
        (Fitting(SMALL, "drops", 4, 12, severity="hidden"), False, False),
        (Fitting(SMALL, "drops", 4, 20, t.KINDS["mustard"], "tint"), False, False),
    ],
)
def test_the_slow_and_the_quick_school_say_where_they_fit(
    of: Fitting, every_other: bool, same_day: bool
) -> None:
    fits = {f.school.id: f for f in schools_for(of)}
    assert (fits["every_other"].fits, fits["same_day"].fits) == (every_other, same_day)
    assert all(f.why for f in fits.values()) and set(fits) == set(t.SCHOOLS)


# ---- Every other day.


def slow(**how: object) -> Story:
    story = Story(school="every_other", looks=1, **how)
    return story.ready()


def test_nothing_is_poured_while_it_reads_ten() -> None:
    story = slow().poured(DUSK, 6.6)
    assert next_key(story.look(4)) != "round:2" and "round:2" not in {
        s.key for s in story.look(26).live.steps
    }
    assert "round:2" not in {s.key for s in story.read(26.6, fc=10.5).look(27).live.steps}
    again = story.read(50.6, fc=4.0).look(50.7)
    assert "round:2" in {s.key for s in again.live.steps}
    assert again.live.raises["round:2"].fc_ppm == pytest.approx(6.64, rel=0.1)  # 1 lb of dichlor, 10,000 gal


def with_tablets(**values: float) -> Story:
    traits = PoolTraits(gal_to_l(15_000), "vinyl", "tablets", "in_ground")
    story = Story(school="every_other", looks=1, traits=traits)
    story.site = replace(story.site, feeds="tablets", in_line=True)
    return story.ready(ta=90, cya=30, **values)


@pytest.mark.parametrize(
    ("more", "goes_in"),
    [({}, True), ({"cya": 45}, False), ({"ta": 70}, False), ({"ph": 7.1}, False), ({"fc": 10.0}, False)],
)
def test_six_tablets_go_in_only_at_little_stabilizer_and_enough_alkalinity_and_ph(
    more: dict, goes_in: bool
) -> None:
    story = with_tablets()
    story.read(0.3, "lab", **({"fc": 0.0, "cya": 30, "ta": 90, "ph": 7.5} | more))
    steps = {s.key: s for s in story.look(0.4).live.steps}
    assert ("batch:1" in steps) is goes_in and "feeds" not in steps
    if goes_in:
        act = steps["batch:1"].act
        assert isinstance(act, Pour) and act.product_id == TABLET
        assert act.amount == pytest.approx(6 * 226.8, rel=0.01)  # six of 8 oz at 15,000 gal (check values)


def test_no_more_than_two_batches_three_days_apart_and_out_they_come_for_the_night() -> None:
    story = with_tablets()
    batch = lambda at: Told(f"b{at}", story.at(at), "dose", {}, TABLET, 1360.8)  # noqa: E731
    story.told.append(batch(1))
    assert "tablets:2" not in {s.key for s in story.look(60).live.steps}
    assert "tablets:2" in {s.key for s in story.look(74).live.steps}
    story.told.append(batch(74))
    assert not {"tablets:3", "batch:3"} & {s.key for s in story.look(200).live.steps}
    story.poured(DUSK, 6.6).said(13, "look:2026-07-11", "clear")
    assert "feeds" in {s.key for s in story.look(14).live.steps}  # a night fed cannot tell
    floats = with_tablets()
    floats.site = replace(floats.site, in_line=False)
    assert not any(s.key.startswith(("batch", "tablets")) for s in floats.look(1).live.steps)


# ---- One day.


def test_in_one_day_it_goes_in_now_and_the_cartridge_is_changed_at_two_hours() -> None:
    story = Story(school="same_day", filter_kind="cartridge").ready()
    assert story.look(0.3).progress.by_key["raise:1"].state == "open"  # by day, not at dusk
    story.poured(0.5, 16)
    due = {b.step.key: b.due_at - story.at(0.5) for b in story.look(0.6).progress.steps}
    assert due["stir:1"] == timedelta() and due["look:soon"] == timedelta(minutes=30)
    assert due["filter:soon"] == timedelta(hours=2)
    answer = swim_tonight(story.said(1, "look:soon", "clear").look(4))
    assert answer.allowed is False and "algae" in answer.sentence


# ---- Mustard and black.


def night_of(story: Story, day: int, cc: float = 0.0) -> Story:
    """Clear, and a night that took nothing."""
    story.said(24 * day + 13, f"look:2026-07-{11 + day}", "clear")
    return story.read(24 * day + 27.4, fc=20, cc=cc).read(24 * day + 35.3, fc=19.6)


def test_mustard_is_held_a_day_on_and_only_hours_at_the_level_count() -> None:
    story = night_of(Story(kind="mustard").ready().poured(2.8, 20), 0)
    run = story.look(36)
    held = {c.id: c for c in run.course.criteria()}["held"]
    assert run.course.killed_at is None and held.words == "0 of 24 h"
    assert "gear" in {s.key for s in run.live.steps}
    story.read(40, fc=14)  # 4.7 h at over half of 20
    story.read(51, fc=6).poured(51.1, 14).read(60, fc=19)  # the day's hours do not count, the night's do
    assert {c.id: c.words for c in story.look(60).course.criteria()}["held"] == "14 of 24 h"
    story.read(65, fc=12).read(70, fc=11)
    over = story.look(70)
    assert over.course.killed_at == story.at(70) and all(c.met for c in over.course.criteria())
    seen = story.said(61, "look:2026-07-13", "green").look(70)
    assert seen.course.killed_at is None  # it came back meanwhile


def test_black_stays_a_week_at_eight_at_most_and_until_no_head_is_left() -> None:
    story = night_of(Story(kind="black").ready().poured(2.8, 16), 0)
    over = story.look(36)
    assert over.course.killed_at and over.course.over_at is None and not over.start.holds_water
    story.said(36, "timer_back").said(37, "spots:2026-07-12", "heads").read(51, fc=4, ph=7.5)
    week = story.look(51.1)
    assert week.live.raises["up:1"].fc_ppm <= t.WEEK_TO_PPM - 4 + 1e-9
    answer = swim_tonight(story.read(52, fc=6.0, ph=7.5).look(52.1))
    assert answer.allowed is False and "above 4" in answer.sentence  # closed above the swim limit
    assert swim_tonight(story.read(75, fc=3.5, ph=7.5).look(75.1)).allowed  # and open by a reading
    for day in range(3, 8):
        story.said(24 * day + 13, f"spots:2026-07-{10 + day + 1}", "none" if day > 4 else "heads")
    assert story.look(24 * 7 + 14).course.over_at is None  # a week first
    stays = story.said(24 * 16 + 13, "spots:2026-07-26", "heads").look(24 * 16 + 14)
    assert "heads" in {w.id for w in warnings(stays, None)}
    done = story.said(24 * 17 + 13, "spots:2026-07-27", "none").look(24 * 17 + 14)
    assert done.course.over_at is not None and "prevent" in {s.key for s in done.live.steps}


def test_an_algaecide_waits_for_less_than_five_and_no_copper_on_copper() -> None:
    story = night_of(Story().ready().poured(2.8, 16), 0)
    assert "algaecide" not in {s.key for s in story.look(36).live.steps}
    assert "algaecide" not in {s.key for s in story.read(60, fc=6, ph=7.5).look(61).live.steps}
    steps = {s.key: s for s in story.read(84, fc=4, ph=7.5).look(85).live.steps}
    assert "bromide" in steps["algaecide"].words.how and "copper already" not in steps["algaecide"].words.how
    story.site = replace(story.site, copper_system=True)
    copper = {s.key: s for s in story.look(85).live.steps}
    assert "copper already" in copper["algaecide"].words.how


def test_green_that_a_night_does_not_touch_is_not_algae_and_copper_is_named_by_its_test_alone() -> None:
    story = Story().ready().poured(2.8, 16).said(13, "look:2026-07-11", "green")
    story.read(27.4, fc=16, cc=0).read(35.3, fc=15.7).said(37, "look:2026-07-12", "green")
    told = {w.id: w for w in warnings(story.look(38), None)}
    assert "not_algae" in told and "A copper test settles it" in told["not_algae"].next
    story.read(39, "photometer", copper=0.4)
    named = {w.id: w for w in warnings(story.look(40), None)}
    assert "copper" in named and "no more chlorine" in named["copper"].next and "not_algae" not in named
    ended = story.said(41, "", "", verb="give_up").said(41.5, "timer_back").look(42)
    assert ended.progress.state == "given_up"


# ---- Chlorine that does not hold.


def thirsty(**first: float) -> Story:
    story = Story()
    story.run = replace(story.run, aim="demand", school="once", cause="", severity=None, level_ppm=10.0)
    for key in ("out", "timer"):
        story.said(0.1, key)
    return story.read(0.2, **({"fc": 0.0, "cc": 0.3, "ph": 7.5} | first))


def test_what_eats_it_is_told_by_readings_and_each_cause_has_its_test() -> None:
    assert eats(thirsty().look(1).course) is None
    fast = thirsty().poured(DUSK, 10).read(3.6, fc=1.0, cc=8.0).look(3.7)
    found = eats(fast.course)
    assert found is not None and found.id == "at_once" and "ammonia" in found.settles
    assert "ammonia" in {s.key for s in fast.live.steps}
    known = thirsty().poured(DUSK, 10).read(3.6, fc=1.0, cc=8.0).read(4, "strip", ammonia=2.0).look(4.1)
    named = eats(known.course)
    assert named is not None and named.id == "ammonia" and f"{2 * BREAKPOINT_PER_N:.0f} ppm" in named.what
    slow_ = thirsty().poured(DUSK, 10).read(3.6, fc=9.5, cc=0.2).read(11.4, fc=6.0, cc=0.2).look(11.5)
    assert eats(slow_.course).id == "slow"  # type: ignore[union-attr]
    unread = thirsty()
    unread.run = replace(unread.run, water=replace(unread.run.water, cya_ppm=None))
    by_day = eats(
        unread.poured(DUSK, 10).read(3.6, fc=9.5, cc=0.2).read(11.4, fc=9.2, cc=0.2).look(11.5).course
    )
    assert by_day is not None and by_day.id == "sun" and "stabilizer" not in by_day.what and by_day.settles
    sun = thirsty(cya=10).poured(DUSK, 10).read(3.6, fc=9.5, cc=0.2).read(11.4, fc=9.2, cc=0.2).look(11.5)
    assert over_at(sun.course) == thirsty().at(11.4)
    assert {c.id for c in criteria_of(sun.course) if c.met} == {"kept", "cc", "night"}


def test_two_pounds_of_ammonium_sulfate_ask_for_what_theory_says() -> None:
    """2 lb at 15,000 gal are 3.4 ppm N, breakpoint 26 ppm (calc)."""
    n_ppm = 2 * 453.592 * 2 * 14.007 / 132.14 / gal_to_l(15_000) * 1000
    assert n_ppm == pytest.approx(3.4, abs=0.05) and BREAKPOINT_PER_N * n_ppm == pytest.approx(26, abs=0.5)


# ---- Incidents.


def test_the_table_is_the_health_authoritys() -> None:
    """CDC, from memory: a formed stool or vomit 2 ppm, 25 to 30 min without stabilizer and 50 with any;
    diarrhoea CT 15,300 without, with 1 to 15 ppm 20 for 28 h, 30 for 18, 40 for 8.5; pH 7.5 or less, 77 F.
    """
    for id in ("formed", "vomit", "animal"):
        assert [(r.fc_ppm, r.minutes) for r in INCIDENTS[id].bare] == [(2, 30)]
        assert [(r.fc_ppm, r.minutes) for r in INCIDENTS[id].bound] == [(2, 50)]
    loose = INCIDENTS["loose"]
    assert [r.fc_ppm * r.minutes for r in loose.bare] == [15_300]
    assert [(r.fc_ppm, r.minutes / 60) for r in loose.bound] == [(20, 28), (30, 18), (40, 8.5)]
    assert table.PH_MOST == 7.5 and pytest.approx((77 - 32) / 1.8) == table.TEMP_LEAST_C
    assert loose.most_cya_ppm == 15


def fouled(cause: str = "formed", source: str = "liquid", **known: float) -> Story:
    story = Story(traits=PoolTraits(60_000, "plaster", source, "in_ground"))
    water = replace(story.run.water, cya_ppm=known.get("cya"))
    story.run = replace(story.run, aim="incident", school="once", cause=cause, severity=None, water=water)
    return story


def counted(story: Story, hours: float, row: int = 0) -> float:
    contact = Contact(story.look(hours).course)
    return contact.counted_min(contact.rows[row])


@pytest.mark.parametrize(
    ("one", "then", "hours", "minutes"),
    [
        ({"fc": 2.0, "ph": 7.5, "temp": 25.0}, {"fc": 2.0, "ph": 7.5, "temp": 25.0}, 1.0, 60),
        ({"fc": 3.0, "ph": 7.4, "temp": 28.0}, {"fc": 2.0, "ph": 7.4, "temp": 28.0}, 4.0, 240),
        ({"fc": 3.0, "ph": 7.4, "temp": 28.0}, {"fc": 3.0, "ph": 7.4, "temp": 28.0}, 4.1, 0),  # too far apart
        ({"fc": 1.9, "ph": 7.4, "temp": 28.0}, {"fc": 3.0, "ph": 7.4, "temp": 28.0}, 1.0, 0),
        ({"fc": 3.0, "ph": 7.4, "temp": 28.0}, {"fc": 1.9, "ph": 7.4, "temp": 28.0}, 1.0, 0),
        ({"fc": 3.0, "ph": 7.6, "temp": 28.0}, {"fc": 3.0, "ph": 7.4, "temp": 28.0}, 1.0, 0),
        ({"fc": 3.0, "temp": 28.0}, {"fc": 3.0, "ph": 7.4, "temp": 28.0}, 1.0, 0),  # pH not read
        ({"fc": 3.0, "ph": 7.4, "temp": 24.0}, {"fc": 3.0, "ph": 7.4, "temp": 28.0}, 1.0, 0),
        ({"fc": 3.0, "ph": 7.4}, {"fc": 3.0, "ph": 7.4, "temp": 28.0}, 1.0, 0),  # temperature not read
        (
            {"fc": 3.0, "ph": 7.4, "temp": 28.0},
            {"fc": 3.0, "ph": 7.4},
            1.0,
            60,
        ),  # its warmth lasts four hours
    ],
)
def test_time_counts_between_two_readings_that_bear_the_row(
    one: dict, then: dict, hours: float, minutes: float
) -> None:
    story = fouled().read(0.5, **one).read(0.5 + hours, **then)
    assert counted(story, 10) == pytest.approx(minutes)  # and nothing after the last reading


@given(
    fc=st.lists(st.floats(0, 6), min_size=2, max_size=7),
    gaps=st.lists(st.floats(0.1, 6), min_size=7, max_size=7),
)
def test_no_more_is_counted_than_went_by_at_the_row(fc: list[float], gaps: list[float]) -> None:
    story, at = fouled(), 0.1
    for value, gap in zip(fc, gaps, strict=False):
        story.read(at, fc=value, ph=7.4, temp=27)
        at += gap
    contact = Contact(story.look(60).course)
    row = contact.rows[0]
    inner = zip(fc, fc[1:], gaps, strict=False)
    assert contact.counted_min(row) <= sum(60 * g for a, b, g in inner if min(a, b) >= 2 and g <= 4) + 1e-6
    assert (contact.met_at is not None) is (contact.counted_min(row) >= row.minutes - 1e-6)


def test_any_stabilizer_asks_for_fifty_minutes_and_a_tube_cannot_say_none() -> None:
    for story, row in (
        (fouled().read(0.1, "drops", cya=0), 50),
        (fouled().read(0.1, "lab", cya=0), 30),
        (fouled(source="tablets").read(0.1, "lab", cya=0), 50),  # tablets bring it
        (fouled(), 50),
    ):
        assert Contact(story.look(1).course).rows == (Row(2.0, row),)


def test_diarrhoea_waits_for_a_laboratory_and_for_little_stabilizer() -> None:
    for known, held in (({}, "unknown"), ({"cya": 20.0}, "unknown"), ({"cya": 45.0}, "much")):
        assert Contact(fouled("loose", **known).look(1).course).stabilizer == held
    high = fouled("loose").read(0.1, fc=1, ph=7.4, temp=27).read(0.2, "lab", cya=24)
    keys = [s.key for s in high.look(1).live.steps]
    assert "dilute:1" in keys and "stabilizer:2" in keys and not any(k.startswith("raise") for k in keys)
    some = high.read(5, "lab", cya=12).look(5.1)
    assert [r.minutes for r in Contact(some.course).rows] == [1680, 1080, 510]


def test_ph_is_read_before_the_raise_and_carries_over_ten() -> None:
    story = fouled("loose").read(0.1, fc=1, ph=7.4, temp=27).read(0.2, "lab", cya=0)
    story.read(0.5, fc=1, ph=7.4, temp=27)
    first = next(s for s in story.look(0.6).live.steps if s.key == "raise:1")
    assert first.not_before == story.run.dusk(START.date())  # without stabilizer the sun takes it by day
    story.poured(DUSK, 23).read(4, fc=23, temp=27).read(7, fc=22, temp=27)
    assert counted(story, 8) == pytest.approx(180)
    acid = Told("acid", story.at(7.1), "dose", {}, "muriatic-31.45", 300.0)
    story.told.append(acid)
    assert not Contact(story.look(8).course).ph_set
    never = fouled("loose").read(0.1, "lab", cya=0).read(0.3, fc=1, ph=7.8, temp=27)
    keys = {s.key for s in never.look(0.4).live.steps}
    assert "acid:1" in keys and "raise:1" not in keys


def test_rows_are_not_added_up_and_a_kit_that_ends_below_counts_nothing() -> None:
    story = fouled("loose").read(0.1, "lab", cya=10).read(0.2, fc=1, ph=7.4, temp=27)
    for n, fc in enumerate((41.0, 41.0, 31.0, 31.0)):
        story.read(1 + 4 * n, fc=fc, temp=27)
    contact = Contact(story.look(14).course)
    assert [contact.counted_min(row) for row in contact.rows] == [720, 720, 240]  # 20, 30 and 40 ppm
    assert contact.met_at is None
    strips = fouled("loose").read(0.1, "lab", cya=0).read(0.2, fc=1, ph=7.4, temp=27)
    strips.read(1, "strip", fc=10).read(2, "strip", fc=10)
    ends = Contact(strips.look(3).course)
    assert "this kit ends at 10" in ends.fails(ends.readings[-1], ends.rows[0])


def test_nobody_swims_before_a_row_is_met_the_filter_cleaned_and_a_reading() -> None:
    story = fouled().said(0.1, "out").said(0.1, "lift").said(0.1, "timer").read(0.2, fc=3, ph=7.4, temp=27)
    assert swim_tonight(story.look(0.9)).allowed is False
    met = story.read(1.1, fc=3, ph=7.4, temp=27).look(1.2)
    assert over_at(met.course) == story.at(1.1) and not met.start.holds_water
    assert next_key(met) == "filter:after" and swim_tonight(met).allowed is False
    assert (
        swim_tonight(story.said(1.3, "filter:after").look(1.4)).allowed is True
    )  # 3 ppm and pH 7.4 were read
    waits = fouled().read(0.2, fc=0, ph=7.4, temp=27).look(0.3)
    assert waits.progress.by_key["raise:1"].state == "later"  # everyone out and it lifted out, first
    given_up = fouled().said(0.1, "out").read(0.2, fc=3, ph=7.4, temp=27).said(0.3, "", "", verb="give_up")
    assert swim_tonight(given_up.look(0.4)).allowed is False


# ---- Lived to their end on simulated pools.

PLASTER = PoolTraits(60_000, "plaster", "liquid", "in_ground")
FED = PoolTraits(60_000, "vinyl", "tablets", "in_ground")
LITTLE = PoolTraits(15_000, "vinyl", "liquid", "above_ground")


@pytest.mark.parametrize(
    ("severity", "how"),
    [
        ("tint", {"kind": "mustard", "looks": 4, "method": "drops_25"}),
        ("tint", {"kind": "mustard", "looks": 2}),
        ("tint", {"kind": "black", "looks": 2, "traits": PLASTER}),
        ("tint", {"school": "every_other", "looks": 1}),
        ("steps", {"school": "every_other", "looks": 1, "method": "strip"}),
        ("steps", {"school": "every_other", "looks": 1, "product": "dichlor-56", "cya": 25.0, "traits": FED}),
        ("tint", {"school": "same_day", "filter_kind": "cartridge", "traits": LITTLE}),
        ("steps", {"school": "same_day", "filter_kind": "cartridge", "method": "strip", "traits": LITTLE}),
    ],
)
def test_each_road_reaches_its_end(severity: str, how: dict) -> None:
    run, site = begun(severity, **how)
    if how.get("traits") is FED:
        site = replace(site, feeds="tablets", in_line=True)
    for seed in (5, 6):
        lived = live(run, site, Nature(), Random(seed), most_days=30)
        assert lived.ended and not lived.unsafe and lived.true_algae < 0.3, lived.trace[-20:]
        told = foretell(run, site, 0.0)
        assert told is not None and lived.days is not None
        assert told.days.low * 0.8 <= lived.days <= told.days.high * 1.3, (told.days, lived.days)
    if run.cause == "black":
        week = [p.fc_ppm for p in lived.last.course.pours if p.at > lived.last.course.killed_at]  # type: ignore[operator]
        assert week and max(week) <= t.WEEK_TO_PPM
        assert lived.last.course.over_at - lived.last.course.killed_at >= timedelta(days=6)  # type: ignore[operator]


def test_ammonia_is_broken_and_the_water_holds() -> None:
    """Theory asks for 7.6 per ppm of nitrogen; the days' use comes on top."""
    run, site = begun("tint", looks=4)
    run = replace(run, aim="demand", school="once", cause="", severity=None, level_ppm=10.0)
    lived = live(run, site, Nature(), Random(3), most_days=10, ammonia_ppm=2.5)
    assert lived.ended and not lived.unsafe and lived.days is not None and lived.days < 4
    assert BREAKPOINT_PER_N * 2.5 <= lived.poured_ppm <= 3 * BREAKPOINT_PER_N * 2.5


@pytest.mark.parametrize(
    "how",
    [
        {"looks": 2},
        {"looks": 1, "school": "bags"},
        {"looks": 1, "school": "every_other"},
        {"looks": 2, "school": "bags", "method": "strip"},
    ],
)
def test_it_was_copper_all_along(how: dict) -> None:
    """A clear green pool begun as algae: a night takes nothing, the copper test is asked for, and it is given
    up with the pad as it was; little chlorine was wasted on it.
    """
    run, site = begun("tint", **how)
    lived = live(run, site, Nature(), Random(3), most_days=12, copper_ppm=0.5)
    assert lived.last.progress.state == "given_up" and not lived.unsafe
    assert [m.key for m in lived.marks if m.key == "timer_back"] == ["timer_back"]
    assert sum(e.fc_ppm for e in lived.told) < 105 and lived.last.course.now - START < timedelta(days=9)


@pytest.mark.parametrize(("cause", "cya", "days"), [("formed", 40.0, 0.5), ("loose", 0.0, 3.0)])
def test_an_incident_is_led_to_its_row(cause: str, cya: float, days: float) -> None:
    run, site = begun("tint", looks=4, traits=PLASTER)
    water = replace(run.water, cya_ppm=cya)
    run = replace(run, aim="incident", school="once", cause=cause, severity=None, water=water)
    lived = live(run, site, Nature(), Random(3), most_days=8)
    contact = Contact(lived.last.course)
    assert lived.ended and not lived.unsafe and lived.days is not None and lived.days <= days
    assert any(contact.counted_min(row) >= row.minutes for row in contact.rows)
