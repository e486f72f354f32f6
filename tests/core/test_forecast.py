"""Forecasts: what is assumed, what voids them, how they are scored, and what they mean in acts. Figures are
worked out beside them; nothing here is simulated (``test_forecast_lived``).
"""

import math
import random
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kumpan.core.dosing.uncertainty import SIGMAS_95
from kumpan.core.forecast.ahead import DAYS_AHEAD, Assumed, Forecast, habits, make, path_ahead
from kumpan.core.forecast.answers import lasts, leaves_band, next_test, times_ahead
from kumpan.core.forecast.coming import chlorine_need, days_ahead, reach
from kumpan.core.forecast.score import LEADS, Read, score, scored, void_by
from kumpan.core.guidance.targets import Band
from kumpan.core.phrasing import coming as phrase
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.water.air import aerated_for, in_air, rest_ph, risen
from kumpan.core.water.demand import usual_demand
from kumpan.core.water.estimate.chlorine import GAIN, LEVEL, STATES, Fit, Held, demand_at, stabilized_share
from kumpan.core.water.estimate.filter import Filter
from kumpan.core.water.estimate.present import SIGMAS_80, Estimate, Observation, Present
from kumpan.core.water.evaporation import Air
from kumpan.core.water.readings import Reading
from kumpan.core.water.state import Change, WaterState

T0 = datetime(2026, 7, 1, 14, tzinfo=UTC)
POOL = PoolTraits(60_000, "plaster", "liquid", "in_ground")
FULL = dict(fc=4.0, ph=7.5, ta=90, ch=250, cya=40, salt=1000, temp=27)


def on(day: float) -> datetime:
    return T0 + timedelta(days=day)


def a_test(day: float, **values: float) -> Observation:
    method = {"temp": "thermometer"}
    read = tuple(Reading(m, v, f"{v:g}", "", method.get(m, "photometer")) for m, v in values.items())
    return Observation(on(day), f"t{day}", read)


def dose(day: float, product: str, amount: float) -> Observation:
    return Observation(on(day), f"d{day}", change=PRODUCTS[product].change_per_unit(60_000) * amount)


def tablets(day: float, grams: float = 900.0) -> Observation:
    return Observation(on(day), f"f{day}", feeds=PRODUCTS["trichlor-90"].change_per_unit(60_000) * grams)


def walked(log: list[Observation], pool: PoolTraits = POOL) -> Filter:
    stands = Filter(pool)
    for entry in sorted(log, key=lambda e: (e.at, e.id)):
        stands.take(entry)
    return stands


# --- The fit, on waters whose losses are known because they were computed by its own equation by hand.


def known_loss(day: float, start: float, sun: float, dark: float, fed: float = 0.0) -> float:
    """dFC/dt = fed - sun FC - dark FC/(FC + 0.3), in thousandths of a day."""
    fc = start
    for _ in range(round(day * 1000)):
        fc += (fed - sun * fc - dark * fc / (fc + 0.3)) / 1000
    return fc


@pytest.mark.parametrize(("sun", "dark"), [(0.15, 0.5), (0.45, 1.6), (0.6, 0.6)])
def test_the_fit_learns_a_demand_unlike_the_usual_and_says_so(sun: float, dark: float) -> None:
    log, fc = [Observation(on(-1), balance_c=None, sun=1.0)], 5.0
    for day in range(0, 28, 2):
        log.append(a_test(day, fc=round(fc, 2), temp=27, cya=40, ph=7.5))
        added = 5.0 - fc
        log.append(dose(day + 0.01, "liquid-chlorine-12.5", added * 60_000 / 125))
        fc = known_loss(2, 5.0, sun, dark)
    fit = walked(log).at(on(27)).fit
    assert fit is not None and fit.enough and not fit.contradicts
    at_3 = fit.demand(3.0)
    truth = sun * 3 + dark * 3 / 3.3
    assert at_3.ppm_day == pytest.approx(truth, rel=0.12) and abs(at_3.ppm_day - truth) < at_3.u95
    # what the sun and what the rest takes together are the whole
    assert sum(d.ppm_day for d in fit.at_level(3.0).drivers()) == pytest.approx(at_3.ppm_day)


def test_what_feeds_is_told_from_what_is_lost_only_where_it_is_written_down() -> None:
    cell = replace(POOL, chlorine_source="chlorinator")
    told = [Observation(on(-1), "c", cell_set=True, cell_ppm_day=2.5)]
    reads = [a_test(d, fc=3.0, temp=27, cya=40) for d in range(0, 22, 3)]
    with_setting, without = walked(told + reads, cell).at(on(21)).fit, walked(reads, cell).at(on(21)).fit
    assert with_setting is not None and with_setting.enough
    # The level stands still, so what is fed is what is lost.
    assert with_setting.demand().ppm_day == pytest.approx(2.5, rel=0.15)
    assert without is not None and not without.told and not without.enough
    assert demand_at(without, 3.0, 27.0) == usual_demand(27.0)


def test_little_is_told_by_little() -> None:
    one = walked([a_test(0, **FULL)]).at(on(1)).fit
    day = walked([a_test(i / 24, **FULL) for i in range(6)]).at(on(0.5)).fit
    odd = walked([a_test(d, fc=fc, temp=27) for d, fc in enumerate((3, 9, 0.5, 8, 0.5, 9))]).at(on(6)).fit
    assert one is not None and one.reads == 1 and not one.enough
    assert day is not None and day.days < 1 and not day.enough
    assert odd is not None and odd.contradicts  # chlorine that rises by itself, again and again


def test_the_season_bounds_what_was_learned_in_other_water() -> None:
    cov = tuple(
        tuple(0.0004 * (i == j and i not in (LEVEL, GAIN)) for j in range(STATES)) for i in range(STATES)
    )
    fit = Fit((0.0, 1.5, 1.5, 0, 0, 0, 0), cov, Held(4.0, 28.0, 40.0), 1.0, 30.0, True, reads=10)
    assert fit.enough and demand_at(fit, 4.0, 28.0).ppm_day > 2 * usual_demand(28.0).ppm_day
    assert demand_at(fit, 4.0, 12.0).ppm_day == pytest.approx(2 * usual_demand(12.0).ppm_day)
    assert stabilized_share(0) > 7 and stabilized_share(None) == pytest.approx(1.0)


@pytest.mark.parametrize(("ta", "start"), [(60.0, 7.2), (100.0, 7.2), (100.0, 7.8), (160.0, 7.5)])
def test_ph_goes_to_its_rest_as_first_order_exchange_takes_it(ta: float, start: float) -> None:
    """Against the whole chemistry (itself checked against PHREEQC) in water without stabilizer: dCT/dt = -k (CO2 -
    CO2 of the air). 0.05 is what a kit can tell.
    """
    water, rate_per_h = WaterState(0.0, 0.0, start, ta, 200, 0, 500, 26.0), 0.004
    rest = rest_ph(ta, 0)
    assert rest == pytest.approx(in_air(water).ph, abs=0.04)
    for days in (1, 3, 7, 14):
        closed = risen(start, 24 * rate_per_h / math.log(10), days, rest)[0]
        assert closed == pytest.approx(aerated_for(water, 24.0 * days, rate_per_h).ph, abs=0.05), days


@given(st.floats(6.8, 8.29), st.sampled_from((-0.1, -0.01, 0.001, 0.02, 0.08, 0.2)), st.floats(0.01, 200))
def test_ph_never_passes_its_rest_and_its_slopes_are_its_own(ph: float, pace: float, days: float) -> None:
    after, kept, lean = risen(ph, pace, days, 8.3)
    assert after <= 8.3 + 1e-9 and (after > ph) == (pace > 0)
    nudged, quicker = risen(ph + 1e-5, pace, days, 8.3)[0], risen(ph, pace + 1e-6, days, 8.3)[0]
    assert (nudged - after) / 1e-5 == pytest.approx(kept, rel=0.02, abs=1e-3)
    assert (quicker - after) / 1e-6 == pytest.approx(lean, rel=0.05, abs=0.01 * days)


# --- What is foretold.


def test_each_day_is_foretold_from_what_was_known_then_alone() -> None:
    log = [a_test(d, **FULL | {"fc": 4.0 - d % 3}) for d in range(0, 12, 3)]
    later = [a_test(13, **FULL | {"fc": 0.2}), dose(14, "muriatic-31.45", 800)]
    made = on(11)
    told = make(walked(log), [], log, made, {})
    assert told == make(walked([e for e in log + later if e.at <= made]), [], log + later, made, {})
    assert {(f.measure, round((f.for_at - made) / timedelta(days=1))) for f in told} == {
        (m, d) for m, days in DAYS_AHEAD.items() for d in days
    }
    assert all(0 <= f.low80 <= f.mean <= f.high80 for f in told)
    wide = make(walked(log), [], log, made, {"ph": 2.0})
    spans = [next(f for f in one if f.measure == "ph" and f.for_at == on(14)) for one in (told, wide)]
    assert spans[1].high80 - spans[1].mean == pytest.approx(2 * (spans[0].high80 - spans[0].mean))
    assert spans[1].assumed.widened == 2.0 and spans[0].mean == spans[1].mean


def test_what_was_not_read_of_late_is_not_foretold() -> None:
    told = make(walked([a_test(0, **FULL), a_test(40, ph=7.4, fc=2.0)]), [], [], on(41), {})
    assert {f.measure for f in told} == {"fc", "ph", "ta", "ch", "cya", "salt"}
    told = make(walked([a_test(0, fc=3, salt=900, ph=7.5), a_test(70, ph=7.4)]), [], [], on(71), {})
    assert {f.measure for f in told} == {"ph"}  # chlorine not for 21 days, salt not for twice its 30
    assert make(walked([]), [], [], on(1), {}) == []


def test_tablets_that_come_round_are_a_habit_and_others_are_not() -> None:
    weekly = [tablets(d) for d in (0, 7, 14, 21)]
    found = habits(weekly, on(23))
    assert [e.at for e in found] == [on(28)] and found[0].feeds is not None
    assert found[0].feeds.cl2 == pytest.approx(weekly[0].feeds.cl2)  # type: ignore[union-attr]
    assert [e.at for e in habits([tablets(d) for d in (0, 3, 6)], on(7))] == [on(9), on(12)]
    for none in (
        weekly[:2],
        [tablets(d) for d in (0, 7, 14)],
    ):  # two are no habit; nor what stopped weeks ago
        assert habits(none, on(26)) == []
    fed = replace(POOL, chlorine_source="tablets")
    stands = walked([a_test(20, **FULL), *weekly], fed)
    with_habit = make(stands, [], weekly, on(22), {})
    seven = next(f for f in with_habit if f.measure == "cya" and f.for_at == on(29))
    assert seven.assumed.loads_ppm > 5
    bare = next(f for f in make(stands, [], [], on(22), {}) if f.measure == "cya" and f.for_at == on(29))
    assert seven.mean > bare.mean and bare.assumed.loads_ppm == 0


def test_bathers_who_come_daily_are_expected_and_counted_in_demand() -> None:
    swims = [Observation(on(d + 0.2), f"b{d}", bathers=20) for d in range(8, 14)]
    log = [a_test(d, fc=4.0, temp=27, cya=40, ph=7.5) for d in range(0, 14, 3)] + swims
    log.append(a_test(13.9, fc=6.0))
    coming = habits(log, on(14))
    assert len(coming) == 7 and all(e.bathers == pytest.approx(120 / 14) for e in coming)  # 6 x 20 in 14 days
    assert habits(swims[:2], on(14)) == [] and habits(swims, on(40)) == []
    fit = walked(log).at(on(14)).fit
    assert fit is not None
    drivers = {d.id: d.ppm_day for d in fit.drivers()}
    # Half a ppm or so of 4 g a head in 60 m3, by the mean of two weeks that ended just now: 8 heads a day.
    assert drivers["bathers"] == pytest.approx(8 * 4 / 60, rel=0.35)
    assert sum(drivers.values()) == pytest.approx(fit.demand().ppm_day)
    alone, together = (
        path_ahead(walked(log), [e for e in coming if some], [on(15)])[0] for some in (False, True)
    )
    assert together.measures["fc"].value < alone.measures["fc"].value


def test_weather_to_come_moves_it_as_weather_does() -> None:
    stands = walked([a_test(0, **FULL)])
    hot, wet = (
        [
            Observation(on(d), f"weather {d}", rained=r, balance_c=t, sun=s, evaporates=Air(30, 0.4, 3))
            for d in (1, 2)
        ]
        for t, s, r in ((34.0, 1.3, 0.0), (18.0, 0.3, 0.05))
    )
    [dry], [rainy] = (path_ahead(stands, weather, [on(3)]) for weather in (hot, wet))
    assert dry.measures["fc"].value < rainy.measures["fc"].value
    assert dry.measures["temp"].value > 27 > rainy.measures["temp"].value
    assert (
        dry.measures["ch"].value > 250 > 231 > rainy.measures["ch"].value
    )  # two days of 5 %: 250 x 0.95^2 = 226
    assert rainy.measures["salt"].value == pytest.approx(1000 * 0.95**2, rel=0.02)
    days = days_ahead([dry], hot[:1], stands.at(on(0)), 4.0)
    assert days[0].demand_ppm > 0 and days[0].diluted == {}
    assert set(days_ahead([rainy], wet[:1], stands.at(on(0)), 4.0)[0].diluted) == {"salt", "cya", "ta", "ch"}


# --- How it came out.


def forecast(
    measure: str = "fc", day: float = 3, mean: float = 3.0, sigma: float = 0.5, **given: object
) -> Forecast:
    off = SIGMAS_80 * sigma
    assumed = Assumed(**given)  # type: ignore[arg-type]
    return Forecast(measure, T0, on(day), mean, max(0, mean - off), mean + off, assumed, "v")


def test_a_reading_is_held_against_what_was_stored_between_and_nothing_else() -> None:
    rows = [forecast(day=d, mean=4.0 - d / 2) for d in (1, 2, 3, 5, 7)]
    for day, lead in ((1.5, 1), (3.0, 3), (3.5, 3), (6.5, 7), (7.0, 7)):
        [one] = scored(rows, [Read("fc", on(day), 3.0, 0.2)], [])
        assert one.days == lead and one.mean == pytest.approx(4.0 - day / 2), day
    for day in (0.5, 2.5, 5.0, 7.5):  # between the leads that are told, and past what was stored
        assert scored(rows, [Read("fc", on(day), 3.0, 0.2)], []) == [], day
    assert scored(rows, [Read("ph", on(3), 7.5, 0.1)], []) == []
    newer = [replace(f, made_at=on(0.5), for_at=f.for_at + timedelta(days=0.5), mean=1.0) for f in rows]
    [one] = scored([*rows, *newer], [Read("fc", on(3.6), 1.0, 0.2)], [])
    assert one.made_at == on(0.5)  # the newest that foretold it so far ahead
    assert set(LEADS) == {1, 3, 7}


def test_a_hit_allows_for_the_kits_own_error_and_the_lower_end_may_be_cut_off() -> None:
    # The span of 3.0 with sigma 0.5 and a kit of 95 % 1.0: sigma of both is sqrt(0.5^2 + 0.51^2) = 0.714.
    both = (0.5**2 + (1.0 / SIGMAS_95) ** 2) ** 0.5
    for value, hit in ((3.0 + 1.27 * both, True), (3.0 - 1.27 * both, True), (3.0 + 1.30 * both, False)):
        [one] = scored([forecast()], [Read("fc", on(3), value, 1.0)], [])
        assert one.hit is hit and one.squares == pytest.approx(((value - 3) / both) ** 2)
    low = forecast(mean=0.1, sigma=0.5)
    assert low.low80 == 0 and scored([low], [Read("fc", on(3), 0.0, 0.2)], [])[0].hit
    wide = scored([forecast(sigma=1.0, widened=2.0)], [Read("fc", on(3), 4.0, 0.0)], [])[0]
    assert wide.squares == pytest.approx(4.0)  # in sigmas that no score had widened: 1.0 off of 0.5


NOTHING = Observation(on(1))


@pytest.mark.parametrize(
    ("measure", "happened", "given", "void"),
    [
        ("fc", dose(1, "liquid-chlorine-12.5", 480), {}, "poured"),  # 1 ppm
        ("fc", dose(1, "liquid-chlorine-12.5", 48), {}, ""),  # 0.1 ppm
        ("ph", dose(1, "liquid-chlorine-12.5", 480), {}, ""),  # neutral once spent
        ("ph", dose(1, "muriatic-31.45", 400), {}, "poured"),
        ("ta", dose(1, "baking-soda", 1000), {}, "poured"),
        ("cya", dose(1, "baking-soda", 1000), {}, ""),
        ("cya", dose(1, "dichlor-56", 500), {}, "poured"),  # 4.6 ppm of chlorine bring 4 of stabilizer
        ("cya", dose(1, "stabilizer", 600), {}, "poured"),
        ("ch", dose(1, "calcium-chloride-77", 1000), {}, "poured"),
        ("salt", dose(1, "salt", 18_000), {}, "poured"),
        ("salt", Observation(on(1), replaced=0.05), {}, "exchanged"),
        ("salt", Observation(on(1), rained=0.05), {}, ""),  # weather is no act
        ("fc", Observation(on(1), bathers=20), {}, ""),
        ("fc", Observation(on(1), covered=True), {}, "cover"),
        ("ph", Observation(on(1), covered=True), {}, ""),
        ("fc", Observation(on(1), cell_set=True, cell_ppm_day=3.0), {"cell_ppm_day": 2.0}, "cell"),
        ("fc", Observation(on(1), cell_set=True, cell_ppm_day=2.1), {"cell_ppm_day": 2.0}, ""),
        ("fc", Observation(on(1), cell_set=True), {"cell_ppm_day": 2.0}, "cell"),
        ("fc", tablets(1), {}, "tablets"),
        ("fc", tablets(1), {"loads_ppm": 13.7}, ""),  # 900 g of 91.5 % in 60,000 L is 13.7 ppm
        ("cya", NOTHING, {"loads_ppm": 13.7}, "tablets"),  # what was assumed and not done
        ("ch", tablets(1), {}, ""),
        ("ch", NOTHING, {}, ""),
    ],
)
def test_what_voids_a_forecast(measure: str, happened: Observation, given: dict, void: str) -> None:
    assert void_by(measure, Assumed(**given), [happened]) == void


def test_acts_outside_its_time_do_not_void_it_and_small_ones_add_up() -> None:
    read = [Read("fc", on(3), 3.0, 0.2)]
    for day, void in ((-0.1, ""), (1.0, "poured"), (3.1, "")):
        assert scored([forecast()], read, [dose(day, "liquid-chlorine-12.5", 480)])[0].void == void
    many = [dose(0.5 + i / 10, "liquid-chlorine-12.5", 48) for i in range(6)]  # 0.1 ppm each
    assert scored([forecast()], read, many)[0].void == "poured"


@given(st.integers(0, 10_000), st.floats(0.5, 4.0))
def test_spans_widen_by_how_far_off_they_were_and_never_narrow(seed: int, true_sigma: float) -> None:
    rng = random.Random(seed)
    results = [
        scored([replace(forecast(sigma=1.0), made_at=on(7 * i), for_at=on(7 * i + 3))],
               [Read("fc", on(7 * i + 3), 3.0 + rng.gauss(0, true_sigma), 0.0)], [])[0]
        for i in range(60)
    ]  # fmt: skip
    told = score(results)
    assert told.counted == 60 and told.void == 0 and 1.0 <= told.widened <= 3.0
    if true_sigma <= 0.8:
        assert told.widened < 1.1 and (told.share or 0) > 0.75
    if true_sigma >= 1.8:
        assert told.widened > 1.3
    assert score([]).share is None and score([]).widened == 1.0
    void = score([replace(one, void="poured", hit=False, squares=9.0) for one in results])
    assert void.share is None and void.void_share == 1.0 and void.widened == 1.0


# --- What it means in acts.


def path(
    fc: list[tuple[float, float]], ph: float = 7.5, step: float = 0.0, usable: bool = True
) -> list[Present]:
    """Chlorine and its sigma, each half day; pH going so far each time."""
    return [
        Present(
            on(i / 2),
            {
                "fc": Estimate(value, sigma, i / 2, True),
                "ph": Estimate(ph + i * step, 0.05, i / 2, True),
                "ta": Estimate(90.0, 5.0, 20.0 + i / 2, usable),
            },
        )
        for i, (value, sigma) in enumerate(fc)
    ]


BANDS = {"ph": Band("ph", 7.2, 7.5, 7.8, ""), "ta": Band("ta", 80, 100, 120, "")}


def test_chlorine_lasts_until_its_course_passes_the_minimum() -> None:
    falling = path([(8 * 0.5 ** (i / 2), 0.4) for i in range(11)])  # half is gone a day, from 8
    told = lasts(falling, 1.5)
    assert told is not None and not told.under_now and told.until is not None and told.sure_until is not None
    # 8 x 2^-t = 1.5 at t = log2(8/1.5), though no instant of the path lies there
    assert (told.until - T0) / timedelta(days=1) == pytest.approx(math.log2(8 / 1.5), abs=1e-6)
    # four in five begin SIGMAS_80 sigmas under the mean, 0.51 ppm: where the mean is 2.01, by and by
    assert (told.sure_until - T0) / timedelta(days=1) == pytest.approx(math.log2(8 / 2.0126), abs=0.03)
    assert lasts(path([(4.0, 0.1)] * 8), 2.0).until is None  # type: ignore[union-attr]
    assert lasts(path([(1.0, 0.1)] * 3), 2.0).under_now  # type: ignore[union-attr]
    assert lasts([Present(T0, {})], 2.0) is None
    assert leaves_band(path([(3, 0.1)] * 9, ph=7.6, step=0.05), "ph", BANDS["ph"]) == (on(2.0), 7.8)
    assert (
        leaves_band(path([(3, 0.1)] * 9, ph=7.9, step=0.05), "ph", BANDS["ph"]) is None
    )  # it is out already


def test_the_next_test_comes_before_what_may_go_wrong_and_no_later_than_ones_own_day() -> None:
    falling = path([(5 - 0.5 * i, 0.4) for i in range(11)])
    told = next_test(falling, lasts(falling, 2.0), BANDS, None)
    assert told.because == "chlorine" and told.on <= on(2.5).date()
    assert next_test(falling, lasts(falling, 2.0), BANDS, on(1).date()).because == "cadence"
    rising = path([(4.0, 0.1)] * 11, ph=7.7, step=0.025)
    assert next_test(rising, lasts(rising, 2.0), BANDS, None).because == "ph"
    stale = [
        replace(p, measures=p.measures | {"fc": replace(p.measures["fc"], age_days=11.0)}) for p in rising
    ]
    assert next_test(stale, lasts(stale, 2.0), BANDS, None).on == T0.date()
    old = path([(4.0, 0.1)] * 11, usable=False)
    assert next_test(old, lasts(old, 2.0), BANDS, on(3).date()).measures == ("fc", "ph", "ta")
    assert len(times_ahead(T0, 7)) == 8 and times_ahead(T0, 7, a_day=2)[-1] == on(7)


def test_a_month_of_chlorine_and_where_tablets_lead() -> None:
    need = chlorine_need(None, 4.0, [(27.0, None)] * 30)
    assert need.ppm == pytest.approx(60) and need.u95 == pytest.approx(30)  # 2 a day, give or take half
    assert chlorine_need(None, 4.0, [(17.0, 0.2)] * 30).ppm == pytest.approx(30)
    fit = walked([a_test(d, fc=3.0, temp=27, cya=40) for d in range(0, 9, 2)]).at(on(9)).fit
    sure = replace(fit, cov=tuple((0.0,) * STATES for _ in range(STATES)))  # type: ignore[type-var]
    dark, lit = (chlorine_need(sure, 4.0, [(27.0, sun)] * 10).ppm for sun in (0.0, 1.0))
    assert 0 < dark < lit  # in winter's light the sun takes less
    # 100 -> 60 with clean water: replace 40 % drained (check values).
    far = reach(60, 5, 50, 100, 60)
    assert far.stop_weeks == 0.0 and far.limit_weeks == 8.0 and far.drain_share == pytest.approx(0.4)
    assert reach(40, 0.0, 50, 90, 45).stop_weeks is None


def test_it_is_said_plainly() -> None:
    falling = path([(5 - 0.5 * i, 0.05) for i in range(11)])  # T0 is a Wednesday, at 14
    told = lasts(falling, 2.4)
    test = next_test(falling, told, BANDS, None)
    assert phrase.sentence(T0, told, test, None) == "Chlorine lasts until Saturday; test Friday evening."
    fresh = path([(1.0, 0.05)] * 5)
    low = lasts(fresh, 2.4)
    assert "dose it today" in phrase.sentence(T0, low, next_test(fresh, low, BANDS, None), None)
    older = [replace(p, measures={m: replace(e, age_days=3.0) for m, e in p.measures.items()}) for p in fresh]
    assert "probably under 2.4" in phrase.sentence(
        T0, lasts(older, 2.4), next_test(older, low, BANDS, None), None
    )
    assert phrase.measures_to_test(("fc", "ph", "ta")).startswith("Test free chlorine and pH; alkalinity too")
    assert [phrase.day_name(date(2026, 7, 1), date(2026, 7, d)) for d in (1, 2, 4, 9)] == [
        "today", "tomorrow", "Saturday", "Thu 9 Jul",
    ]  # fmt: skip
    assert phrase.a_day("ph", 0.031) == "rises 0.03 a day" and phrase.a_day("ta", -0.2) == "stays where it is"


def test_a_change_of_nothing_moves_nothing() -> None:
    assert void_by("fc", Assumed(), [Observation(on(1), change=Change())]) == ""
