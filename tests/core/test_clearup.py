"""Clear-up: levels and amounts against tables, what a look may and may not name, the run's rules one by one,
and whole runs on simulated pools, judged against what was foretold.
"""

import hashlib
import json
from collections import Counter
from dataclasses import replace
from datetime import timedelta
from pathlib import Path
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from clearup_runs import START, Lived, Story, begun, drawn, live, next_key
from kumpan.core.chemistry import constants as k
from kumpan.core.clearup import tables as t
from kumpan.core.clearup.compare import compare
from kumpan.core.clearup.dose import Measures, ppm_per_unit, raise_by
from kumpan.core.clearup.follow import Followed
from kumpan.core.clearup.foretell import foretell
from kumpan.core.clearup.identify import APART, KINDS, QUESTIONS, identify
from kumpan.core.clearup.prevention import Past, is_back, why_it_grew
from kumpan.core.clearup.propose import Fitting, other_means, schools_for
from kumpan.core.clearup.run import Site, Told, can_tell, level_of
from kumpan.core.clearup.shopping import Shelf, shopping
from kumpan.core.clearup.standing import swim_tonight, warnings
from kumpan.core.dosing.request import AtHand
from kumpan.core.guidance.targets import combined_asks_ppm, kill_level_ppm
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.simulation.priors import Nature
from kumpan.core.units import G_PER_LB, gal_to_l
from kumpan.core.water.state import WaterState, with_measures
from kumpan.core.work.sheet import Pour

DEEP = Path(__file__).parents[2] / "docs" / "clear-up-judged.json"
DECIDES = (
    "tables",
    "course",
    "build",
    "kill",
    "slow",
    "after",
    "around",
    "plain",
    "live",
    "follow",
    "foretell",
    "run",
    "dose",
)


# ---- Levels and amounts.


@pytest.mark.parametrize(
    ("cya", "low", "high"),
    # 38.5 to 41 % of stabilizer kills a bloom, never under 10 ppm (the practice of shocks); 30 at least counts.
    [(50, 19.5, 20.5), (60, 23.4, 24.6), (75, 28.9, 30.8), (0, 11.7, 12.3), (None, 11.7, 12.3)],
)
def test_the_level_is_two_fifths_of_stabilizer(cya: float | None, low: float, high: float) -> None:
    assert low <= kill_level_ppm(cya) <= high


def test_no_level_is_held_above_thirty_nor_taken_under_what_combined_chlorine_asks() -> None:
    run, site = begun("steps")
    assert level_of(run, site, 150, None, None) == t.MOST_LEVEL_PPM < kill_level_ppm(150)
    assert level_of(run, site, 20, 1.8, None) == 18  # ten times combined chlorine (common practice)
    assert combined_asks_ppm(0.4) == 0 and combined_asks_ppm(5) == 20  # at most 20
    # Breakpoint by theory, 7.6 g Cl2 per g ammonia-N: 0.5 more per ppm once bound. The margin is twentyfold.
    assert combined_asks_ppm(1.0) > 20 * 0.5 - 1e-9


def test_two_bags_in_fifteen_thousand_gallons_are_a_round() -> None:
    """Two 1-lb bags of 65 % at 15,000 gal are 10.4 ppm, a fifth of one is the most at 2,000 (check values)."""
    run, _ = begun("steps", product="cal-hypo-65")
    bags = replace(run, bag_g=G_PER_LB)
    rise = 2 * G_PER_LB * ppm_per_unit(bags, gal_to_l(15_000))
    assert rise == pytest.approx(10.4, abs=0.05)
    round_ = raise_by(bags, gal_to_l(15_000), t.ROUND_PPM, t.ROUND_MOST_PPM, Measures())
    assert round_ is not None and round_.amount.text == "2 bags" and round_.opened == ""
    small = raise_by(bags, gal_to_l(2_000), t.ROUND_PPM, t.ROUND_MOST_PPM, Measures())
    assert small is not None and small.amount.text == "¼ bag" and "not kept" in small.opened
    assert small.fc_ppm == pytest.approx(39 / 4, abs=0.2)  # one 1-lb bag is +39 ppm there


@given(
    rise=st.floats(1, 30),
    gal=st.floats(1_500, 60_000),
    product=st.sampled_from(["liquid-chlorine-12.5", "bleach-6", "cal-hypo-65", "dichlor-56"]),
    bag=st.sampled_from([None, 454.0, 680.0]),
)
def test_a_raise_is_never_over_its_most(rise: float, gal: float, product: str, bag: float | None) -> None:
    run = replace(begun("steps", product=product)[0], bag_g=bag)
    dose = raise_by(run, gal_to_l(gal), rise, rise * 1.15, Measures())
    if dose is not None:
        assert dose.fc_ppm <= rise * 1.15 + 1e-6
        per = PRODUCTS[product].change_per_unit(gal_to_l(gal)).cl2 * 1000 * k.CL2
        assert dose.fc_ppm == pytest.approx(dose.amount.canonical * per)


# ---- What grows.


@given(st.fixed_dictionaries({q.id: st.sampled_from(["", *(a for a, _ in q.choices)]) for q in QUESTIONS}))
def test_no_cause_is_named_while_another_is_within_a_factor_of_two(answers: dict[str, str]) -> None:
    found = identify({q: a for q, a in answers.items() if a})
    assert sum(o.share for o in found.ranked) == pytest.approx(1.0)
    first, second = found.ranked[0], found.ranked[1]
    if found.named is not None:
        assert found.named is first.kind and first.share >= APART * second.share
    if found.named is None and any(answers.values()):
        assert first.share < APART * second.share and len(found.settles) == 2
    assert all(found.settles)


@pytest.mark.parametrize(
    ("seen", "first"),
    [
        ({"where": "water", "colour": "green", "feel": "slimy", "clear": "dull"}, "green"),
        (
            {"where": "walls", "colour": "yellow", "brush": "easy", "returns": "same", "light": "shade"},
            "mustard",
        ),
        ({"where": "spots", "colour": "black", "brush": "hard", "returns": "same"}, "black"),
        ({"where": "surface", "colour": "yellow", "feel": "powder"}, "pollen"),
        ({"where": "floor", "feel": "grit", "brush": "sinks"}, "sand"),
        ({"where": "floor", "colour": "grey", "cloud": "pale"}, "dead"),
        ({"where": "water", "colour": "green", "clear": "clear", "brush": "none", "cloud": "none"}, "copper"),
    ],
)
def test_what_practitioners_know_a_cause_by_puts_it_first(seen: dict[str, str], first: str) -> None:
    assert identify(seen).ranked[0].kind.id == first


def test_tea_water_is_iron_or_tannin_and_a_test_decides() -> None:
    found = identify({"colour": "tea", "clear": "clear", "where": "water"})
    assert found.named is None and {o.kind.id for o in found.ranked[:2]} == {"iron", "tannin"}
    assert set(found.settles) == {KINDS["iron"].settles, KINDS["tannin"].settles}


# ---- Treat or drain, schools, what else would do, what to buy.


@pytest.mark.parametrize(
    ("cya", "severity", "surface", "gal", "advised"),
    [
        (40, "steps", "vinyl", 15_000, "treat"),
        (40, "hidden", "vinyl", 15_000, "treat"),
        (150, "hidden", "vinyl", 15_000, "drain"),  # cannot see the floor, and far over 30 ppm
        (150, "tint", "vinyl", 15_000, "part"),  # no level over 30, floor visible or not
        (80, "steps", "plaster", 15_000, "part"),
        (40, "tint", "soft", 2_000, "drain"),  # a small soft-sided pool is emptied first of all
    ],
)
def test_treat_or_drain(cya: float, severity: str, surface: str, gal: float, advised: str) -> None:
    traits = PoolTraits(
        gal_to_l(gal), surface, "liquid", "above_ground" if surface == "soft" else "in_ground"
    )
    run, site = begun(severity, cya=cya, traits=traits)
    found = compare(run, site, foretell(run, site, 0.0), ())
    assert found.advised == advised and found.ways[0].id == advised and found.reasons
    assert {w.id for w in found.ways} == {"treat", "part", "drain"}
    drain = next(w for w in found.ways if w.id == "drain")
    assert drain.share == 1.0 and (surface == "soft") is not any("at once" in r for r in drain.risks)
    for way in found.ways:
        assert way.days > 0 and (way.water_l > 0) == (way.share > 0) and way.risks
    if found.level_ppm > t.MOST_LEVEL_PPM and surface != "soft":
        part = next(w for w in found.ways if w.id == "part")
        assert kill_level_ppm(cya * (1 - part.share)) <= t.MOST_LEVEL_PPM * 1.03


def test_a_drain_is_costed_where_prices_are_known() -> None:
    run, site = begun("hidden", cya=150)
    shelf = (
        AtHand("liquid-chlorine-12.5", None, None, 3785.4, 700),
        AtHand("stabilizer", None, None, G_PER_LB, 400),
    )
    priced = {w.id: w.cost_minor for w in compare(run, site, foretell(run, site, 0.0), shelf).ways}
    assert all(cost is not None and cost > 0 for cost in priced.values())
    ways = {w.id: w for w in compare(run, site, foretell(run, site, 0.0), shelf).ways}
    assert ways["part"].days > ways["treat"].days  # what is left is treated too
    assert compare(run, site, None, ()).ways[0].cost_minor is None


@pytest.mark.parametrize(
    ("method", "looks", "proposed", "hold_fits"),
    [("drops", 4, "hold", True), ("drops_25", 2, "hold", True), ("drops", 1, "bags", True), ("strip", 4, "bags", False),
     ("photometer", 4, "bags", False), ("comparator", 2, "bags", False)],
)  # fmt: skip
def test_the_school_follows_the_kit_and_the_person(
    method: str, looks: int, proposed: str, hold_fits: bool
) -> None:
    """A strip cannot follow a held level; a photometer ends at 10 ppm (practice of the schools)."""
    fits = schools_for(Fitting(begun("steps")[1], method, looks, 16.0))
    assert fits[0].school.id == proposed and fits[0].fits
    assert {f.school.id: f.fits for f in fits}["hold"] is hold_fits


def test_which_kits_can_tell_a_ppm() -> None:
    assert can_tell("drops", 16) and can_tell("photometer", 8) and not can_tell("photometer", 16)
    assert not can_tell("strip", 3) and not can_tell("comparator", 3)


def test_a_cells_boost_says_whether_it_reaches_the_level() -> None:
    """600 g a day full time into 15,000 gal make 10.57 ppm a day (check value), less what the day uses."""
    traits = PoolTraits(gal_to_l(15_000), "vinyl", "chlorinator", "in_ground", cell_g_day=600)
    water = WaterState(3, 0, 7.5, 80, 250, 40, 3200, 27)
    reached, short = (
        next(a for a in other_means(Site(traits), water, level, 2.0) if a.means == "boost")
        for level in (10.0, 20.0)
    )
    assert reached.can and "About 20 hours" in reached.why  # (10 - 3) / (10.57 - 2) days
    assert not short.can and "about 12 ppm" in short.why
    cold = other_means(Site(traits), with_measures(water, {"temp": 10}), 10.0, 2.0)[1]
    unknown = other_means(Site(replace(traits, cell_g_day=None)), water, 10.0, 2.0)[1]
    assert not cold.can and not unknown.can


def test_an_oxidiser_waits_until_the_water_is_in_range() -> None:
    site = begun("steps")[1]
    fine, off = WaterState(3, 0.6, 7.5, 90), WaterState(0.2, 0.6, 8.1, 40)
    assert other_means(site, fine, 10, 2)[0].can
    told = other_means(site, off, 10, 2)[0]
    assert not told.can and all(
        word in told.why for word in ("pH (8.1)", "alkalinity (40)", "free chlorine (0.2)")
    )


def test_the_list_is_the_most_foretold_less_what_stands_there() -> None:
    run, site = begun("steps")
    told = foretell(run, site, 0.0)
    assert told is not None
    none = shopping(Shelf(run, site, (), Measures()), told)[0]
    some = shopping(
        Shelf(run, site, (AtHand(run.product_id, None, told.amount.high / 2),), Measures()), told
    )[0]
    enough = shopping(Shelf(run, site, (AtHand(run.product_id, None, told.amount.high),), Measures()), told)[
        0
    ]
    assert none.buy == none.amount and some.buy and some.buy != some.amount and enough.buy == ""
    assert enough.have == "enough"


def test_what_is_foretold_spans_a_factor_of_three_at_most_and_grows_with_the_bloom() -> None:
    for school, method in (("hold", "drops"), ("bags", "strip")):
        spans = [foretell(*begun(s, school=school, method=method), 0.0) for s in ("tint", "steps", "hidden")]
        for told in spans:
            assert told is not None
            for span in (told.days, told.chlorine_ppm, told.amount):
                assert 0 < span.low < span.mean < span.high <= 3 * span.low
        days = [s.days.mean for s in spans if s]
        assert days == sorted(days) and days[0] >= 1 and days[2] <= 14  # three to fourteen (common practice)


# ---- A run's rules, one by one.


def test_chlorine_waits_for_dusk_and_for_what_comes_before_it() -> None:
    story = Story()
    assert next_key(story.look(0.1)) == "debris"
    story.ready()
    waits = story.look(1)
    assert next_key(waits) == "raise:1" and waits.progress.by_key["raise:1"].state == "later"
    sunset = story.run.dusk(START.date())
    assert waits.progress.by_key["raise:1"].due_at == sunset
    open_ = story.look((sunset - START).total_seconds() / 3600 + 0.1)
    act = open_.progress.by_key["raise:1"].step.act
    assert open_.progress.by_key["raise:1"].state == "open" and isinstance(act, Pour)
    rise = act.amount * ppm_per_unit(story.run, story.site.traits.volume_l)
    assert rise == pytest.approx(story.run.level_ppm, rel=0.08)


def test_acid_comes_first_above_seven_six_and_chlorine_half_an_hour_after_it() -> None:
    story = Story().ready(ph=8.0)
    assert next_key(story.look(0.5)) == "acid"
    assert next_key(Story().ready(ph=7.6).look(0.5)) == "raise:1"  # 7.6 or less: none
    late = 4.0  # after dusk
    story.told.append(Told("acid", story.at(late), "dose", {}, "muriatic-31.45", 500.0))
    raise_ = story.look(late + 0.1).progress.by_key["raise:1"]
    assert raise_.state == "later" and raise_.due_at == story.at(late + 0.5)


def test_a_top_up_follows_from_the_newest_reading() -> None:
    story = Story().ready().poured(3, 16).read(4, fc=9.0)
    run = story.look(4.1)
    assert next_key(run) == "raise:2"
    assert run.live.raises["raise:2"].fc_ppm == pytest.approx(run.course.level_ppm - 9, rel=0.1)
    story.read(4.2, fc=12.0)  # read again within minutes: one check, the last counts
    again = story.look(4.3)
    assert again.live.raises["raise:2"].fc_ppm == pytest.approx(again.course.level_ppm - 12, rel=0.15)
    assert sum(s.key.startswith("check") and s.key in again.live.met for s in again.live.steps) == 1


def test_a_reading_before_the_pour_has_mixed_is_no_check() -> None:
    run = Story().ready().poured(3, 16).read(3.2, fc=4.0).look(3.3)
    assert next_key(run) == "check:1" and "unmixed" in {w.id for w in warnings(run, None)}


def test_none_where_much_went_in_is_read_again_thinned_before_anything_is_poured() -> None:
    """A pink flash that goes clear is very high, not none (practice of testing)."""
    story = Story().ready().poured(3, 16).read(4.2, fc=0.0)
    run = story.look(4.3)
    assert next_key(run) == "check:2" and "thinned" in run.progress.next.step.words.title  # type: ignore[union-attr]
    assert "bleached" in {w.id for w in warnings(run, None)}
    assert next_key(story.read(4.6, fc=15.0).look(4.7)) == "check:3"  # believed: it holds
    low = Story().ready().poured(3, 16).read(4.2, fc=0.0).read(4.6, fc=0.5).look(4.7)
    assert next_key(low) == "raise:2"  # read twice it is believed, thinned


def test_a_doubt_that_was_answered_does_not_answer_the_next() -> None:
    story = Story().ready().poured(3, 16).read(4.2, fc=0.0).read(4.4, fc=12.0).poured(4.6, 4)
    run = story.read(6.0, fc=0.0).look(6.1)  # within hours of the first, and a pour between
    assert "thinned" in run.progress.next.step.words.title  # type: ignore[union-attr]
    assert not any(s.key.startswith("raise:3") for s in run.live.steps)


NIGHT = (3.4, 11.3)  # 21:24 and 05:18: after sunset, before sunrise


def ending(
    evening: float, dawn: float, cc: float = 0.0, method: str = "drops", look: str = "clear"
) -> Followed:
    story = Story().ready().poured(2.8, 16).said(13, "look:2026-07-11", look)
    day = 24.0
    story.poured(day + 2.2, 10)
    story.read(day + NIGHT[0], method, fc=evening, cc=cc).read(day + NIGHT[1], method, fc=dawn)
    return story.look(day + 14)


@pytest.mark.parametrize(
    ("evening", "dawn", "more", "over"),
    [
        (16, 15, {}, True),
        (16, 14.5, {}, False),  # more than 1 ppm in a night
        (16, 15, {"cc": 1.0}, False),
        (16, 15, {"look": "off"}, False),
        (16, 15, {"method": "strip"}, False),  # cannot tell 1 ppm
        (9, 8.5, {}, False),  # nowhere near the level
    ],
)
def test_the_kill_is_over_on_clear_water_little_combined_chlorine_and_a_night(
    evening: float, dawn: float, more: dict, over: bool
) -> None:
    run = ending(evening, dawn, **more)
    assert (run.course.killed_at is not None) is over
    assert (next_key(run) == "timer_back") is over  # and the timer is the first thing after it


def test_a_level_that_stands_without_a_pour_is_read_on_and_can_end_it() -> None:
    story = Story().ready(fc=18.0)
    assert next_key(story.look(1)) == "check:1"
    story.said(13, "look:2026-07-11", "clear").read(27.4, fc=17, cc=0).read(35.3, fc=16.5)
    assert story.look(36).course.killed_at is not None


def test_a_night_does_not_count_with_a_pour_in_it_or_read_after_sunrise() -> None:
    story = Story().ready().poured(2.8, 16).said(13, "look:2026-07-11", "clear").read(27.4, fc=16, cc=0)
    assert story.poured(28, 2).read(35.3, fc=17).look(36).course.killed_at is None
    late = Story().ready().poured(2.8, 16).said(13, "look:2026-07-11", "clear").read(27.4, fc=16, cc=0)
    run = late.read(37.5, fc=15.5).look(38)  # 07:30
    assert run.course.killed_at is None and "sunrise" in {w.id for w in warnings(run, None)}


def test_strips_pour_thirty_ppm_blind_and_no_more_before_a_finer_reading() -> None:
    story = Story(school="bags", method="strip").ready()
    for n, hours in enumerate((3, 13.2, 27)):
        assert f"bag:{n + 1}" in {s.key for s in story.look(hours).live.steps}
        story.poured(hours, 10)
    story.said(38, "look:2026-07-12", "green").read(37.5, "strip", fc=2)
    run = story.look(39)
    keys = {s.key for s in run.live.steps}
    assert "shop" in keys and "bag:4" not in keys
    assert "bag:4" in {s.key for s in story.read(40, "lab", fc=2.0).look(41).live.steps}


def test_strips_end_on_two_clear_days_and_a_morning() -> None:
    story = Story(school="bags", method="strip").ready().poured(3, 10).poured(13.2, 10).poured(27, 10)
    for day in (11, 12, 13):
        story.said(24 * (day - 10) + 13, f"look:2026-07-{day}", "clear")
    assert story.look(85.5).course.killed_at is None
    run = story.read(85.2, "strip", fc=3.5, tc=3.5).look(85.5)
    assert run.course.by_strip and run.course.killed_at is not None
    assert "shop" not in {s.key for s in run.live.steps}


def test_green_again_after_clear_starts_the_two_days_anew() -> None:
    story = Story(school="bags", method="strip").ready().poured(3, 10).poured(13.2, 10).poured(27, 10)
    for day, seen in ((11, "clear"), (12, "green"), (13, "clear")):
        story.said(24 * (day - 10) + 13, f"look:2026-07-{day}", seen)
    assert story.read(85.2, "strip", fc=3.5, tc=3.5).look(85.5).course.killed_at is None


def test_the_school_may_be_changed_on_the_way() -> None:
    story = Story().ready().poured(3, 16).read(4, fc=9.0)
    assert next_key(story.look(4.1)) == "raise:2"
    run = story.said(4.2, "school", "bags", verb="decide").look(4.3)
    assert run.course.school == "bags" and "bag:2" in {s.key for s in run.live.steps}


def test_given_up_only_the_timer_is_left_until_it_is_back() -> None:
    story = Story().ready().poured(3, 16).said(5, "", "", verb="give_up")
    run = story.look(6)
    assert run.progress.state == "under_way" and next_key(run) == "timer_back" and not run.start.holds_water
    over = story.said(7, "timer_back").look(8)
    assert over.progress.state == "given_up" and over.progress.ended_at == story.at(7)
    never = Story().read(0.1, fc=0, ph=7.5).said(1, "", "", verb="give_up").look(2)
    assert never.progress.state == "given_up"  # nothing was changed at the pad


def test_given_up_with_the_cell_off_it_is_asked_back_too() -> None:
    traits = PoolTraits(60_000, "vinyl", "chlorinator", "in_ground")
    story = Story(traits=traits)
    story.site = replace(story.site, feeds="cell")
    story.said(0.1, "feeds").ready().poured(3, 16).said(5, "", "", verb="give_up")
    owed = story.look(6)
    assert [b.step.key for b in owed.progress.at_hand] == ["timer_back", "feeds_back"]
    assert story.said(7, "timer_back").look(7.5).progress.state == "under_way"
    over = story.said(8, "feeds_back").look(9).progress
    assert over.state == "given_up" and over.ended_at == story.at(8)


def test_the_gauge_is_told_for_this_filter_in_the_persons_unit() -> None:
    story = Story().ready().poured(3, 16)
    story.site = replace(story.site, clean_kpa=69.0)  # 10 psi: cleaned at 18 (8 psi over, the practice)
    steps = {s.key: s for s in story.look(14).live.steps}
    assert "(18 psi here)" in steps["filter:2026-07-11"].words.how


def test_a_plain_shock_ends_when_people_may_swim() -> None:
    story = Story()
    story.run = replace(story.run, aim="shock", school="once", severity=None)
    for key in ("out", "timer"):
        story.said(0.1, key)
    story.read(0.2, fc=2.0, cc=0.8, ph=7.5)
    run = story.look(0.3)
    assert next_key(run) == "raise:1"
    story.poured(3, 14).read(14, fc=12.0, cc=0.0)
    assert next_key(story.look(14.1)) == "timer_back"
    story.said(14.2, "timer_back").read(38, fc=3.5, ph=7.5)
    done = story.look(39)
    assert done.progress.state == "done" and swim_tonight(done).allowed is True
    smells = Story()
    smells.run = story.run
    smells.read(0.2, fc=2.0, cc=0.8, ph=7.5).poured(3, 14).read(14, fc=9.0, cc=0.8)
    assert "raise:2" in {s.key for s in smells.look(14.1).live.steps}  # never ends with it high


def test_a_missed_check_is_told_and_nothing_is_made_up() -> None:
    story = Story().ready().poured(3, 16)
    run = story.look(12)
    missed = [w for w in warnings(run, None) if w.id == "missed"]
    assert missed and "not known" in missed[0].what and next_key(run) == "check:1"


def test_stabilizer_too_high_and_a_kit_at_its_end_are_told_with_the_next_thing_to_try() -> None:
    high = Story(cya=120.0).ready().look(1)
    assert {w.id for w in warnings(high, None)} == {"stabilizer"} and high.course.level_ppm == 30
    top = Story(method="photometer").ready().poured(3, 16).read(4.2, "photometer", fc=10).look(4.3)
    told = {w.id: w.next for w in warnings(top, None)}
    assert "Thin the sample" in told["kit"] and not next_key(top).startswith("raise")


def test_twelve_that_falls_to_two_two_nights_running_is_not_held() -> None:
    story = Story().ready().poured(3, 16)
    for night in (0, 1):
        story.read(24 * night + 4.2, fc=15).read(24 * night + 13, fc=2).poured(24 * night + 13.2, 13)
    story.poured(27, 10)
    told = [w for w in warnings(story.look(40), None) if w.id == "not_holding"]
    assert told and "ladders" in told[0].next and "ammonia" in told[0].next


# ---- Why it grew.


def test_why_is_told_from_the_log_alone() -> None:
    begun_at = START
    fc = [(begun_at - timedelta(days=d), v) for d, v in ((12, 4.0), (8, 1.0), (5, 0.5))]
    past = Past(begun_at, fc, 60.0, 5.0, 30.0, 250.0, True, begun_at - timedelta(days=5))
    traits = PoolTraits(60_000, "vinyl", "liquid", "in_ground")
    found = [w.id for w in why_it_grew(past, traits)]
    assert found == ["back", "under", "pump", "storm", "phosphate", "ph"] and is_back(past)
    under = next(w for w in why_it_grew(past, traits) if w.id == "under")
    assert under.found.startswith("3 of 3 readings before it were under 4.3")  # the minimum at 60
    assert [w.id for w in why_it_grew(Past(begun_at), traits)] == ["untested"]


# ---- Swimming, and whole runs on simulated pools.


@given(
    fc=st.floats(0, 20), ph=st.floats(6.8, 8.6), seen=st.sampled_from(["", "hidden", "green", "grey", "off", "clear"]),
    hours=st.floats(0.1, 60), over=st.booleans(),
)  # fmt: skip
def test_it_never_says_swim_under_the_floor_and_chlorine_rules(
    fc: float, ph: float, seen: str, hours: float, over: bool
) -> None:
    story = Story().ready().poured(2.8, 16)
    if over:
        story.said(13, "look:2026-07-11", "clear").poured(26.2, 10).read(27.4, fc=16, cc=0).read(
            35.3, fc=15.5
        )
    start = 36.0
    if seen:
        story.said(start, "look:2026-07-12", seen)
    run = story.read(start + hours, fc=fc, ph=ph, cc=0).look(start + hours + 0.1)
    answer = swim_tonight(run)
    if answer.allowed:
        assert run.course.killed_at is not None and run.course.look in ("clear", "off")
        assert 1.9 <= fc <= 4.1 and 7.1 <= ph <= 7.9
    assert answer.sentence and (answer.allowed or answer.changes)


def judged(lives: list[Lived]) -> dict[str, object]:
    """Shares of runs: cleared by severity, and whose days and chlorine lay in the span foretold."""
    cleared: Counter[str] = Counter()
    all_of: Counter[str] = Counter()
    inside = {"days": 0, "chlorine": 0}
    for one in lives:
        told = foretell(one.run, one.last.course.site, 0.0)
        assert told is not None and one.run.severity is not None
        all_of[one.run.severity] += 1
        cleared[one.run.severity] += one.ended and one.true_algae < 0.3
        if one.days is not None:
            inside["days"] += told.days.low <= one.days <= told.days.high
            inside["chlorine"] += told.chlorine_ppm.low <= one.poured_ppm <= told.chlorine_ppm.high
    return {
        "pools": len(lives),
        "cleared": {s: round(cleared[s] / n, 3) for s, n in sorted(all_of.items())},
        "in_span": {name: round(n / len(lives), 3) for name, n in inside.items()},
        "unsafe": sum(len(one.unsafe) for one in lives),
    }


@pytest.mark.parametrize("part", range(4))
def test_simulated_green_pools_are_led_to_clear(part: int) -> None:
    """Twenty-four pools in four parts, every severity, school, kit and rhythm; kill and demand drawn 50 %
    round.
    """
    lives = [live(*drawn(n, f"usual {digest()[:8]}")) for n in range(part * 6, part * 6 + 6)]
    found = judged(lives)
    assert found["unsafe"] == 0, [one.unsafe for one in lives]
    # About one swamp in fifty does not yield to blind bags within three weeks: of the two hundred 95 % must.
    assert sum(one.ended for one in lives) >= 5, [one.trace[-3:] for one in lives if not one.ended]
    assert all(one.true_algae < 0.3 for one in lives if one.ended)  # it is over, not only called so
    inside = found["in_span"]
    assert isinstance(inside, dict) and all(share >= 0.33 for share in inside.values()), found  # 200 judge it


@pytest.mark.parametrize(
    ("severity", "how"),
    [
        ("tint", {"school": "hold", "looks": 4}),
        ("steps", {"school": "hold", "looks": 2}),
        ("hidden", {"school": "hold", "looks": 4}),
        ("steps", {"school": "bags", "method": "strip", "looks": 2}),
        ("hidden", {"school": "bags", "method": "strip", "looks": 1}),
    ],
)
def test_each_kind_of_run_reaches_its_end(severity: str, how: dict) -> None:
    lived = live(*begun(severity, **how), Nature(), Random(5))
    assert lived.ended and not lived.unsafe and lived.true_algae < 0.3, lived.trace[-20:]
    last = lived.last
    assert "timer_back" in {b.step.key for b in last.progress.steps if b.state == "done"}
    cc = [v for e in last.course.told if (v := e.value("cc")) is not None]
    assert not cc or cc[-1] <= t.CC_END_PPM


def digest() -> str:
    """A mark of the rules that decide a run: judged anew when one changes."""
    folder = Path(__file__).parents[2] / "src" / "kumpan" / "core" / "clearup"
    text = "".join((folder / f"{name}.py").read_text() for name in DECIDES)
    return hashlib.sha256(text.encode()).hexdigest()


def test_what_was_foretold_was_judged_on_two_hundred_pools_by_these_rules(
    request: pytest.FixtureRequest,
) -> None:
    """``--deep`` lives them and writes what came of it; the usual run refuses what other rules wrote."""
    if request.config.getoption("--deep"):
        found = judged([live(*drawn(n, f"deep {digest()[:8]}")) for n in range(200)])
        DEEP.write_text(json.dumps({"rules": digest()} | found, indent=1) + "\n")
    held = json.loads(DEEP.read_text())
    assert held["rules"] == digest(), (
        "A rule of clear-up changed: run ./kumpan test --deep and commit its file."
    )
    assert held["pools"] == 200 and held["unsafe"] == 0
    assert all(share >= 0.95 for share in held["cleared"].values())
    assert all(0.70 <= share <= 0.90 for share in held["in_span"].values())
