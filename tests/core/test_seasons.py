"""Seasons: when, the sums, and plans for every kind of pool."""

import math
from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta
from itertools import product
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kumpan.core.care.site import Site
from kumpan.core.guidance.reasons import REASONS
from kumpan.core.pool.equipment import KINDS
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.seasons.plan import ASKED_FOR, CHOICES, PARTS, Asked, Planned
from kumpan.core.seasons.rows import ROWS, plan_for
from kumpan.core.seasons.sums import BORES_IN, hours_to_move, pipe_holds_l, salt_lost_g
from kumpan.core.seasons.warmth import course
from kumpan.core.seasons.when import Asked as AskedWhen
from kumpan.core.seasons.when import when
from kumpan.core.seasons.winter import must_pass, winter_aim, winter_index
from kumpan.core.simulation.climate import place_at
from kumpan.core.units import G_PER_LB, L_PER_GAL, f_to_c
from kumpan.core.water.state import WaterState, exchanged, mixed
from kumpan.core.weather import WeatherDay
from kumpan.core.work.fold import progress, refused
from kumpan.core.work.sheet import Decide, Entry, Look, Mark, Pour, Start, Wait
from kumpan.core.work.sheet import Test as Asks
from kumpan.standins.weather import days as told_days
from phreeqc import Phreeqc

ZONE = ZoneInfo("America/Chicago")
DAY = date(2026, 10, 18)
POURS = {
    "shock": Pour("liquid-chlorine-12.5", None, 2000.0),
    "oxidiser": Pour("non-chlorine-shock", None, 500.0),
}

# --- Sums.


def test_pipes_hold_what_the_check_values_say() -> None:
    """Check values: 0.106 gal/ft at nominal 1.5 in, 0.174 at 2 in (Schedule 40), 0.092 for a true bore of
    1.500 in: the closed form.
    """
    foot = 0.3048
    for size, schedule, gallons in (("1.5", "40", 0.106), ("2", "40", 0.174), ("1.5", "bore", 0.092)):
        assert pipe_holds_l(foot, size, schedule) / L_PER_GAL == pytest.approx(gallons, abs=5e-4)
    closed = math.pi * (1.5 * 0.0254) ** 2 / 4 * 1000 * foot
    assert pipe_holds_l(foot, "1.5", "bore") == pytest.approx(closed)
    assert all(BORES_IN["80"][s] < BORES_IN["40"][s] for s in BORES_IN["80"])  # thicker walls, same outside


def test_pumping_out_dilution_and_salt_are_the_water_cores() -> None:
    """20,000 gal at 40 gal a minute: 500 min. A third exchanged takes a third of the salt, as the water core
    mixes it; 120 -> 50 ppm in 15,000 gal by overflow is 13,132 gal (check values).
    """
    assert hours_to_move(20_000 * L_PER_GAL, 40 * 60 * L_PER_GAL) == pytest.approx(500 / 60)
    volume_l, share, salt = 15_000 * L_PER_GAL, 1 / 3, 3200.0
    left = exchanged(salt, share)
    assert salt_lost_g(salt, share * volume_l) == pytest.approx((salt - left) * volume_l / 1000)
    fresh = mixed(
        WaterState(2, 0, 7.5, 90, 250, 40, salt, 25), WaterState(0, 0, 7.8, 100, 140, 0, 60, 15), share
    )
    assert salt_lost_g(salt, share * volume_l, 60) == pytest.approx(
        (salt - fresh.salt_ppm) * volume_l / 1000, rel=1e-6
    )
    assert salt_lost_g(50, volume_l, 60) == 0
    assert 15_000 * math.log(120 / 50) == pytest.approx(13_132, abs=1)
    # 534 lb take 20,000 gal from 0 to 3,200 ppm (worked facts of the trade).
    assert salt_lost_g(3200, 20_000 * L_PER_GAL) / G_PER_LB == pytest.approx(534, abs=1)


# --- Water for the winter.

HANDBOOK = WaterState(1.0, 0.0, 7.5, 90, 250, 40, 1000, 15.0)


def test_the_closing_water_of_the_handbook_passes_and_its_neighbours_do_not() -> None:
    """pH 7.5, alkalinity 90, calcium 250, stabilizer 40 passes (practice 13)."""
    assert winter_index(HANDBOOK).passes
    soft, hard = replace(HANDBOOK, ch_ppm=120, ta_ppm=60), replace(HANDBOOK, ch_ppm=450, ta_ppm=130)
    assert winter_index(soft).low and winter_index(hard).high
    assert winter_index(replace(HANDBOOK, ph=7.9)).high
    assert winter_index(replace(HANDBOOK, salt_ppm=None, temp_c=None)).passes  # not read: as is usual
    with pytest.raises(ValueError, match="stabilizer"):
        winter_index(replace(HANDBOOK, cya_ppm=None))
    assert must_pass(PoolTraits(6e4, "plaster", "liquid", "in_ground"))
    assert not must_pass(PoolTraits(6e4, "vinyl", "liquid", "in_ground"))


@pytest.mark.parametrize(
    "water",
    [
        HANDBOOK,
        WaterState(1, 0, 7.2, 60, 150, 30, 600, 10.0),
        WaterState(1, 0, 7.7, 120, 350, 60, 3200, 18.0),
    ],
)
def test_the_winter_index_is_phreeqcs(water: WaterState, reference: Phreeqc) -> None:
    """Carried down closed, and in balance with the air: PHREEQC's index within 0.05, as chemistry states."""
    told, w = winter_index(water), water
    assert w.ph and w.ta_ppm and w.ch_ppm and w.cya_ppm and w.salt_ppm and w.temp_c
    start = reference.water(w.ph, w.ta_ppm, w.ch_ppm, w.cya_ppm, w.salt_ppm, temp_c=w.temp_c).number
    assert told.closed == pytest.approx(reference.cooled(start, 4.44).si, abs=0.05)
    assert told.open == pytest.approx(reference.cooled(start, 4.44, 420).si, abs=0.05)


@given(st.floats(6.9, 8.2), st.floats(40, 220), st.floats(60, 420), st.floats(0, 90), st.floats(0, 3500))
@settings(max_examples=15)
def test_what_is_aimed_at_passes_and_never_lowers_calcium(
    ph: float, ta: float, ch: float, cya: float, salt: float
) -> None:
    water = WaterState(1.0, 0.0, ph, ta, ch, cya, salt, 14.0)
    aim = winter_aim(water)
    if aim is None:
        return
    assert not winter_index(water).passes and aim.ch_ppm >= ch
    assert winter_index(replace(water, ph=aim.ph, ta_ppm=aim.ta_ppm, ch_ppm=aim.ch_ppm)).passes


# --- When.


def weather(latitude: float, longitude: float, today: date, zone: str = "UTC") -> list[WeatherDay]:
    """A year and the outlook, as the stand-in tells them."""
    now = datetime.combine(today, time(12), UTC)
    first, last = today - timedelta(days=379), today + timedelta(days=7)
    told = told_days(place_at(latitude, longitude), ZoneInfo(zone), first, last, now)
    return [WeatherDay(**(d | {"day": date.fromisoformat(d["day"])})) for d in told]


COLD, MILD, SOUTH, HOT = (41.5, -93.6), (34.0, -117.4), (-41.5, 172.0), (21.3, -157.9)


def asked(place: tuple[float, float], today: date, state: str, **more: object) -> AskedWhen:
    until = today + timedelta(days=300)
    return AskedWhen(today, state, course(weather(*place, today), {}, today, until), **more)  # type: ignore[arg-type]


def test_days_are_proposed_by_the_water_on_either_half_of_the_earth() -> None:
    """Opened while the water is under 60 F, late at 65; closed once it stays under 60 (check values)."""
    for place, spring, autumn in (
        (COLD, date(2026, 2, 1), date(2026, 8, 20)),
        (SOUTH, date(2026, 8, 1), date(2027, 2, 1)),
    ):
        opening = asked(place, spring, "closed")
        found = when(opening)
        by_day = {w.day: w.smoothed_c for w in opening.course}
        assert found.kind == "opening" and found.day is not None and found.late is not None
        grows = found.day + timedelta(days=7)
        assert by_day[grows] >= f_to_c(60) > by_day[grows - timedelta(days=1)]
        assert by_day[found.late] >= f_to_c(65) > by_day[found.late - timedelta(days=1)]
        closing = asked(place, autumn, "open")
        found = when(closing)
        by_day = {w.day: w.smoothed_c for w in closing.course}
        assert found.kind == "closing" and found.day is not None
        assert all(by_day[found.day + timedelta(days=n)] < f_to_c(60) for n in range(21))
        assert by_day[found.day - timedelta(days=1)] >= f_to_c(60)
        assert [d.weeks for d in found.delays] == [-2, -1, 0, 1, 2, 3]
        assert found.delays[0].means == "grows"
        assert (spring.month < 7) == (found.day.month > 7)  # the halves differ


def test_a_mild_place_is_not_closed_and_unknown_heat_is_not_mild() -> None:
    hot = asked(HOT, date(2026, 9, 1), "open")
    assert when(hot).says == "mild" and when(hot).day is None
    assert when(replace(hot, climate="freezes")).says != "mild"  # the person knows better
    bare = AskedWhen(date(2026, 9, 1), "open")
    assert when(bare).says == "ask" and when(bare).chosen is None
    assert when(replace(bare, climate="mild")).says == "mild"
    month = replace(hot, course=hot.course[350:])  # a month of warmth is no year of it
    assert when(month).says != "mild"


def test_one_reading_says_what_it_can_and_no_more() -> None:
    today = date(2026, 4, 20)
    bare = AskedWhen(today, "closed")
    cold, warm = replace(bare, read=(today, f_to_c(52))), replace(bare, read=(today, f_to_c(66)))
    assert when(cold).says == "reading" and when(cold).chosen is None
    assert when(warm).says == "late" and when(warm).chosen == today
    assert when(replace(bare, read=(today, f_to_c(61)))).says == "now"
    last = replace(cold, last=date(2025, 5, 8))
    assert when(last).says == "last_year" and when(last).chosen == date(2026, 5, 7)
    own = replace(bare, own_day=date(2026, 5, 9))
    assert when(own).chosen == date(2026, 5, 9) and when(own).day is None


def test_the_owners_day_wins_and_what_it_means_is_told() -> None:
    opening = asked(COLD, date(2026, 2, 1), "closed")
    proposed = when(opening).day
    assert proposed is not None
    means = {
        weeks: when(replace(opening, own_day=proposed + timedelta(weeks=weeks))).own_means
        for weeks in (-5, 0, 3, 8)
    }
    assert means[-5] == "early" and means[0] is None and means[3] == "late" and means[8] == "green"
    assert when(replace(opening, own_day=proposed + timedelta(weeks=3))).day == proposed


def test_readings_move_the_water_and_heal_a_weather_that_is_off() -> None:
    today = date(2026, 4, 10)
    days = weather(*COLD, today)
    bare = {w.day: w.water_c for w in course(days, {}, today, today + timedelta(days=90))}
    read = {day: bare[day] + 3.0 for day in bare if day.day % 4 == 0 and day <= today}
    moved = {w.day: w for w in course(days, read, today, today + timedelta(days=90))}
    assert all(
        moved[day].water_c == pytest.approx(value) and moved[day].how == "read" for day, value in read.items()
    )
    later = today + timedelta(days=60)
    assert 2.0 < moved[later].water_c - bare[later] <= 3.01 and moved[later].how == "last_year"
    assert course([], {}, today, later) == ()


# --- Plans.

SURFACES, INSTALLED = ("plaster", "vinyl", "fibreglass", "soft"), ("in_ground", "above_ground", "unknown")
VARIANTS: dict[str, list[dict[str, str]]] = {
    "chlorinator": [{}],
    "feeder": [{"what": "feeder"}, {"what": "floater"}],
    "filter": [{"medium": m} for m in ("sand", "cartridge", "de")] + [{}],
    "pump": [{}],
    "heater": [{"what": "gas"}],
    "cleaner": [{"what": "robot"}, {"what": "pressure"}],
    "openings": [{}],
    "light": [{"what": "bulb"}, {"what": "fibre"}],
    "steps": [{"what": "ladder"}, {"what": "built_in"}],
    "mineral": [{"what": "copper"}],
    "leveller": [{}],
    "cover": [{"what": w} for w in ("bubble", "automatic", "mesh", "solid", "safety")],
    "barrier": [{"what": "fence"}],
}
# By hand: what each piece of equipment needs done when a pool is closed, and when it is opened: any of these.
NEEDS: dict[str, tuple[set[str], set[str]]] = {
    "chlorinator": ({"cell"}, {"cell", "dummy"}),
    "feeder": ({"feeder"}, {"feeder"}),
    "filter": ({"filter", "wash", "wash_element", "wash_any"}, {"filter", "clean_kpa"}),
    "pump": ({"pump", "power"}, {"pump", "prime"}),
    "heater": ({"heater", "heater_off"}, {"heater", "heater_on"}),
    "cleaner": ({"cleaner"}, {"cleaner"}),
    "openings": ({"openings"}, {"openings", "plugs"}),
    "light": ({"light", "light_fibre"}, {"light"}),
    "steps": ({"steps", "steps_built"}, {"steps"}),
    "mineral": ({"mineral"}, {"mineral"}),
    "leveller": ({"leveller_off"}, {"leveller"}),
    "cover": ({"cover", "cover_below", "blanket", "cover_away"}, {"cover", "blanket", "cover_back"}),
    "barrier": ({"shut"}, {"gate", "fence"}),
}
# What only a pool that has the piece may be asked for.
ONLY = {
    "chlorinator": {"cell", "dummy", "cell_light", "salt"},
    "feeder": {"feeder"},
    "heater": {"heater", "heater_off", "heater_on"},
    "cleaner": {"cleaner"},
    "light": {"light", "light_fibre"},
    "steps": {"steps", "steps_built"},
    "mineral": {"mineral"},
    "leveller": {"leveller", "leveller_off"},
    "filter": {"wash", "wash_element", "wash_any", "clean_kpa"},
}


def test_every_kind_of_equipment_has_its_list() -> None:
    assert set(NEEDS) == set(VARIANTS) == set(KINDS)


@st.composite
def pools(draw: st.DrawFn) -> Asked:
    kinds = draw(st.sets(st.sampled_from(sorted(KINDS))))
    equipment = {kind: draw(st.sampled_from(VARIANTS[kind])) for kind in kinds}
    source = (
        "chlorinator" if "chlorinator" in kinds else draw(st.sampled_from(["liquid", "tablets", "granules"]))
    )
    traits = PoolTraits(
        draw(st.sampled_from([9e3, 6e4])),
        draw(st.sampled_from(SURFACES)),
        source,
        draw(st.sampled_from(INSTALLED)),
    )
    chosen = {n: draw(st.sampled_from(sorted(CHOICES[n][1]))) for names in ASKED_FOR.values() for n in names}
    return Asked(Site(traits, equipment=equipment), DAY, ZONE, chosen=chosen, pours=POURS)


def keys_of(subject: str, of: Asked) -> list[str]:
    return [p.step.key for p in plan_for(subject, of)]


@given(pools())
def test_a_plan_has_all_its_pool_needs_in_order_and_nothing_for_what_it_lacks(of: Asked) -> None:
    for subject in ROWS:
        steps = [p.step for p in plan_for(subject, of)]
        place = {s.key: i for i, s in enumerate(steps)}
        assert len(place) == len(steps)
        for s in steps:
            assert s.planned is not None and s.reason_id in REASONS and "{" not in s.words.title + s.words.how
            assert all(key in place and place[key] < place[s.key] for key in s.after), s.key
            assert all(steps[place[key]].planned <= s.planned for key in s.after), s.key  # type: ignore[operator]
            assert s.only_if is None or place[s.only_if[0]] < place[s.key]
        for kind in of.site.equipment if subject != "drain" else ():
            assert NEEDS[kind][subject == "opening"] & set(place), (subject, kind)
        for kind in set(ONLY) - set(of.site.equipment):
            assert subject == "drain" or not ONLY[kind] & set(place) - {"salt"}, (subject, kind)
    # Everything that is taken off is asked for, and what a closing puts away an opening puts back.
    away = {p.part for p in plan_for("closing", of)} - {""}
    back = {p.part for p in plan_for("opening", of)} - {""}
    assert away <= set(PARTS) and away <= back


def waits(steps: list[Planned], key: str) -> set[str]:
    """All that a step comes after."""
    by_key, found, left = {p.step.key: p.step for p in steps}, set[str](), [key]
    while left:
        for before in by_key[left.pop()].after:
            if before not in found:
                found.add(before)
                left.append(before)
    return found


@given(pools())
def test_what_would_hurt_cannot_be_done_out_of_its_order(of: Asked) -> None:
    closing, opening = list(plan_for("closing", of)), list(plan_for("opening", of))
    if of.site.traits.is_small_soft:  # it is emptied and put away
        assert {"empty", "dry", "fold", "floater", "apart", "power"} <= waits(closing, "shut")
        assert "fc_none" in waits(closing, "empty") and "fill" in waits(opening, "prime")
        assert not {"cover", "blow_suction", "shock", "plate"} & {p.step.key for p in closing}
        return
    shut, keys = waits(closing, "shut"), {p.step.key for p in closing}
    # Balanced water, no floater, chemicals apart, before the cover goes on and the pool is shut.
    assert {"floater", "apart"} <= shut and shut & {"balance", "balance_kit"} and "power" in shut
    assert "fc_read" in waits(closing, "algaecide") and waits(closing, "algaecide") & {
        "balance",
        "balance_kit",
    }
    pours = [p.step for p in closing if p.step.key in ("shock", "oxidiser", "sequestrant", "algaecide")]
    for one, other in product(pours, pours):
        first = one.key in waits(closing, other.key)
        assert one is other or first or other.key in waits(closing, one.key)  # never two together
    kit = any(s.key == "oxidiser" for s in pours)
    assert all(s.wait_min >= 30 for s in pours if s.key == "algaecide" or (kit and s.key == "sequestrant"))
    if "antifreeze" in keys:
        assert {"blow_suction", "returns_below"} <= waits(closing, "antifreeze")
    for key in keys & {"pump", "filter", "cell", "returns", "blow_suction", "heater"}:
        assert "power" in waits(closing, key), key
    start = waits(opening, "prime")
    assert start & {"fill", "fill_above"} and "small" in start
    assert {"full", "look"} <= waits(opening, "stabilizer")
    if of.site.has("chlorinator"):
        assert {"salt", "balance", "full"} <= waits(opening, "cell")
    drain = list(plan_for("drain", of))
    assert {"dechlorinate", "may", "ground", "off"} <= waits(drain, "pump_out")
    assert "first_fill" in waits(drain, "start_up")
    assert not any(
        p.step.may_skip for p in drain if p.step.key in ("ground", "may", "off", "first_fill", "fence")
    )


def test_draining_is_not_guided_where_it_is_trained_peoples() -> None:
    whole = Asked(
        Site(PoolTraits(6e4, "plaster", "liquid", "in_ground")),
        DAY,
        ZONE,
        chosen={"empty": "all", "wash": "trained"},
    )
    steps = {p.step.key: p.step for p in plan_for("drain", whole)}
    assert {"pro", "wash", "fence", "wet"} <= set(steps)
    assert "trained" in steps["wash"].words.title and not steps["wash"].may_skip
    part = {p.step.key for p in plan_for("drain", replace(whole, chosen={}))}
    assert not {"pro", "wash", "fence", "wet"} & part


# --- Days that move, steps of one's own.


def begun(of: Asked, subject: str = "closing") -> Start:
    steps = tuple(p.step for p in plan_for(subject, of))
    return Start("s", "guide", subject, datetime(2026, 9, 1, tzinfo=UTC), steps, day=of.day)


ABOVE = Asked(
    Site(
        PoolTraits(6e4, "vinyl", "liquid", "above_ground"),
        equipment={"pump": {}, "filter": {"medium": "cartridge"}, "cover": {"what": "solid"},
        "steps": {"what": "ladder"}},
    ),
    DAY, ZONE, pours=POURS,
)  # fmt: skip


def local(day: int, hour: int = 12, month: int = 10) -> datetime:
    return datetime(2026, month, day, hour, tzinfo=ZONE)


def said(key: str, verb: str, at: datetime, value: str = "") -> Mark:
    return Mark(f"{key}-{verb}-{at:%m%d%H}", at, key, verb, value)


def test_a_moved_day_moves_what_is_not_done_and_keeps_the_clock() -> None:
    """Over the end of summer time, too: the day's first hour stays six."""
    start = begun(ABOVE)
    full = Entry("t", local(13, 9), "water_test", frozenset({"fc", "ph", "ta", "ch", "cya"}))
    move = said("", "move", local(14), "2026-11-07")
    found = progress(start, [full], [move], local(15))
    assert found.day == date(2026, 11, 7) and found.by_key["test"].closed_at == full.at
    balance = found.by_key["balance"].step.planned
    assert balance is not None and balance.astimezone(ZONE).isoformat() == "2026-11-02T06:00:00-06:00"
    assert found.by_key["cover"].step.planned.date() == date(2026, 11, 7)  # type: ignore[union-attr]
    assert progress(start, [full], [move], local(13, 10)).day == DAY  # an earlier look is what it was then


def test_a_move_that_breaks_the_order_is_refused_with_its_reason() -> None:
    start, now = begun(ABOVE), local(1)
    found = progress(start, [], [], now)

    def why(key: str, day: str, verb: str = "move") -> str:
        return refused(found, Mark("m", now, key, verb, day))

    assert "waits for it and is planned for 17 Oct" not in why("pillow_test", "2026-10-18")
    assert "Cover on” waits for it" in why("pillow", "2026-10-20") or "Cover on” waits for it" in why(
        "steps", "2026-10-20"
    )
    assert "comes after" in why("cover", "2026-10-16") and "planned for 18 Oct" in why("cover", "2026-10-16")
    assert why("cover", "2026-09-30") == "That day is past." and why("cover", "soon") == "Choose a day."
    assert why("nothing", "2026-10-20") == "This work has no such step."
    assert why("cover", "", "add") == "Say what your step is." and why("cover", "x" * 81, "add")
    assert why("", "2026-10-25") == why("cover", "Wash the bags", "add") == ""
    guide = Start("g", "guide", "filter", now, (replace(start.steps[0], planned=None),))
    assert refused(progress(guide, [], [], now), Mark("m", now, "", "add", "Mine"))


def test_an_own_step_stands_in_its_place_and_is_ticked_like_any() -> None:
    start = begun(ABOVE)
    own = said("clean", "add", local(2), "Lift the dog's ramp out")
    found = progress(start, [], [own], local(3))
    keys = [b.step.key for b in found.steps]
    assert keys[keys.index("clean") + 1] == own.id and found.by_key[own.id].ready
    done = progress(start, [], [own, said(own.id, "answer", local(4))], local(5))
    assert done.by_key[own.id].state == "done"


def test_a_step_may_come_before_its_day_a_test_may_not() -> None:
    """A test of August says nothing of October's water."""
    start = begun(ABOVE)
    early = Entry("t", local(1, month=9), "water_test", frozenset({"fc", "ph", "ta", "ch", "cya"}))
    found = progress(start, [early], [], local(2, month=9))
    assert found.by_key["test"].state == "later" and not found.by_key["test"].ready
    assert found.by_key["clean"].ready and not refused(found, Mark("m", local(2, month=9), "clean", "answer"))
    assert refused(found, Mark("m", local(2, month=9), "cover", "answer"))
    assert "bleaches" in refused(found, Mark("m", local(2, month=9), "floater", "skip"))
    assert found.next is not None and found.next.step.key == "test"  # the earliest day, not the first row


def answer(step, key: str) -> str:  # type: ignore[no-untyped-def]
    act = step.act
    if isinstance(act, Decide):
        ids = [c[0] for c in act.choices]
        return next((c for c in ("done", key, "low", "held", "out") if c in ids), ids[0])
    if isinstance(act, Look):
        return act.choices[0][0] if act.choices else "shed" if act.text else "20 gal"
    return ""


@given(pools(), st.sampled_from(["clear_cold", "clear_warm", "green"]), st.randoms(use_true_random=False))
@settings(max_examples=25)
def test_every_plan_can_be_walked_to_its_end_in_any_safe_order(of: Asked, seen: str, dice) -> None:  # type: ignore[no-untyped-def]
    for subject in ROWS:
        start, marks, entries = begun(of, subject), list[Mark](), list[Entry]()
        now = local(12)
        for _ in range(400):
            found = progress(start, entries, marks, now)
            if found.state == "done":
                break
            may = [b for b in found.steps if b.state == "open" or b.ready]
            if not may:
                now += timedelta(hours=6)
                continue
            step = dice.choice(may).step
            now += timedelta(minutes=5)
            if isinstance(step.act, Asks):
                entries.append(Entry(f"t{now}", now, "water_test", frozenset(step.act.measures)))
            elif isinstance(step.act, Pour):
                entries.append(Entry(f"d{now}", now, "dose", ticks=frozenset({step.key})))
            elif isinstance(step.act, Wait):
                marks.append(said(step.key, "timer", now))
                now += timedelta(minutes=step.act.minutes)
            else:
                marks.append(
                    said(
                        step.key,
                        "decide" if isinstance(step.act, Decide) else "answer",
                        now,
                        answer(step, seen),
                    )
                )
        assert found.state == "done", (subject, [b.step.key for b in found.steps if not b.closed_at])
        if subject == "opening":
            run, dusk = found.by_key.get("run"), found.by_key.get("dusk")  # none where filled from the hose
            assert run is None or (run.state == "done") == (seen == "green")
            assert dusk is None or dusk.state == ("done" if seen == "clear_warm" else "skipped")
