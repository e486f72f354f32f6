"""The present water: against PHREEQC on streams of events, against simulated pools for its spans, and its own
rules.
"""

import json
import random
from dataclasses import replace
from datetime import timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kumpan.core.forecast.ahead import make
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.water.air import aerated_for, surface_rate
from kumpan.core.water.estimate import priors
from kumpan.core.water.estimate.filter import Filter
from kumpan.core.water.estimate.kept import ESTIMATE_VERSION, as_data, from_data
from kumpan.core.water.estimate.present import Observation, Present
from kumpan.core.water.estimate.walk import estimates, present_water
from kumpan.core.water.estimate.worth import worth_most
from kumpan.core.water.evaporation import Air
from kumpan.core.water.measures import IN_STATE, MEASURES, Drift
from kumpan.core.water.readings import Reading
from kumpan.core.water.state import WaterState, value_of
from phreeqc import Phreeqc
from support import NOW
from waters import FORMULAS, in_phreeqc, possible_waters

POOL = PoolTraits(60_000, "plaster", "liquid", "in_ground")
FILL = WaterState(fc_ppm=0.5, cc_ppm=0.0, ph=7.9, ta_ppm=130, ch_ppm=180, cya_ppm=0, salt_ppm=150, temp_c=18)


def a_test(day: float, method: str = "drops_25", **values: float) -> Observation:
    readings = tuple(
        Reading(m, v, f"{v:g}", "", "thermometer" if m == "temp" else method) for m, v in values.items()
    )
    return Observation(NOW + timedelta(days=day), f"t{day}", readings)


def dose(day: float, product: str, amount: float, pool: PoolTraits = POOL) -> Observation:
    return Observation(
        NOW + timedelta(days=day),
        f"d{day}{product}",
        change=PRODUCTS[product].change_per_unit(pool.volume_l) * amount,
    )


def at(days: float, *log: Observation, pool: PoolTraits = POOL) -> Present:
    return present_water(pool, log, NOW + timedelta(days=days))


FULL = dict(fc=4.0, cc=0.2, ph=7.5, ta=100, ch=250, cya=40, salt=800, temp=27)


def test_it_ages_forgets_chlorine_and_says_what_is_too_old_to_dose_on() -> None:
    path = [at(d, a_test(0, **FULL)) for d in (0, 1, 3, 10, 60)]
    fc = [e.measures["fc"] for e in path]
    assert [e.value for e in fc] == sorted((e.value for e in fc), reverse=True) and fc[-1].value < 0.05
    assert (
        fc[-1].sigma < 0.1 and fc[1].sigma > fc[0].sigma
    )  # it runs to zero, and so does what it may be off by
    for m in ("ph", "ta", "ch", "cya", "salt"):
        sigmas = [e.measures[m].sigma for e in path]
        rising = sigmas[:-1] if m == "ph" else sigmas  # after two months pH is at rest with the air, about
        assert rising == sorted(rising) and sigmas[-1] > 1.3 * sigmas[0], m
    usable = {m: [e.measures[m].usable for e in path] for m in ("fc", "ta", "cya")}
    assert usable["fc"] == [True, False, False, False, False]  # chlorine belongs to today's test alone
    assert usable["ta"][:3] == [True, True, True] and not usable["ta"][-1] and usable["cya"][3]
    assert path[2].measures["cya"].age_days == pytest.approx(3) and "borate" not in path[0].measures


@pytest.mark.parametrize(
    ("every", "tests", "late", "usable"),
    [
        (40, 4, 35, True),  # tested every 40 days: 35 is in time, over the 30 that hold for everyone
        (40, 4, 49, True),  # a quarter late still is
        (40, 4, 51, False),
        (40, 3, 35, False),  # three tests are two gaps: no cadence yet
        (20, 4, 35, False),  # someone who tests every 20 days
        (90, 4, 61, False),  # twice the 30 days at most, whoever it is
    ],
)
def test_a_slow_measure_as_old_as_ones_own_cadence_may_still_be_dosed_on(
    every: int, tests: int, late: int, usable: bool
) -> None:
    log = [a_test(-every * i, ta=90) for i in range(tests)]
    twice = a_test(-0.1, ta=90)  # the same evening once more is no gap
    assert at(late, *log).measures["ta"].usable is usable
    assert at(late, *log, twice).measures["ta"].usable is usable


@pytest.mark.parametrize("rate_per_h", [0.004, 0.010])
def test_how_fast_ph_rises_by_itself_is_told_once_the_log_knows(rate_per_h: float) -> None:
    """A water that gives off CO2 at a known rate, by the chemistry (checked against PHREEQC elsewhere), read every
    third day: what is told is a day's rise from where it stands, and the rate of exchange it means.
    """
    start = WaterState(0.0, 0.0, 7.3, 100, 200, 0, 800, 25.0)
    risen = [aerated_for(start, 24.0 * day, rate_per_h) for day in range(23)]
    log = [a_test(day, "photometer", ph=risen[day].ph, ta=100.0) for day in range(0, 22, 3)]
    assert at(3, *log[:1]).ph_rise_a_day is None
    told = at(21, *log).ph_rise_a_day
    assert told == pytest.approx((risen[22].ph or 0) - (risen[21].ph or 0), abs=0.012)
    assert surface_rate(risen[21], told) == pytest.approx(rate_per_h, rel=0.6)


def test_doses_fresh_water_rain_and_bathers_move_it_as_they_move_water() -> None:
    start = a_test(0, **FULL)
    # 13.35 oz of stabilizer raise 10,000 gal by 10 ppm (check values): 60,000 L take 10 x 600 g.
    assert at(0.1, start, dose(0.05, "stabilizer", 600)).measures["cya"].value == pytest.approx(50, abs=0.3)
    replaced = replace(a_test(0.05), readings=(), replaced=0.4)
    tested, blind = at(0.1, start, replaced, pool=replace(POOL, fill=FILL)), at(0.1, start, replaced)
    assert tested.measures["cya"].value == pytest.approx(24, abs=0.3) and tested.measures[
        "ta"
    ].value == pytest.approx(112, abs=1.5)
    assert (
        blind.measures["ta"].sigma > 20 > tested.measures["ta"].sigma and not blind.measures["ta"].usable
    )  # tap water never tested
    assert at(0.1, start, replace(replaced, replaced=0.0, rained=0.1)).measures[
        "salt"
    ].value == pytest.approx(720, abs=2)
    topped = at(
        0.1, start, replace(replaced, replaced=0.0, topped=0.05), pool=replace(POOL, fill=FILL)
    ).measures
    # 3,000 gal of 140 ppm fill into 15,000 take CH 250 to 278 (check values): CH gains fill x share, salt is
    # not diluted.
    assert topped["ch"].value == pytest.approx(250 + 180 * 0.05, abs=0.5) and topped[
        "salt"
    ].value == pytest.approx(800 + 150 * 0.05, abs=1)
    assert topped["cya"].value == pytest.approx(40, abs=0.2)
    fifth = at(
        0.1,
        start,
        replace(replaced, replaced=0.0, topped=0.2),
        pool=replace(POOL, fill=replace(FILL, ch_ppm=140)),
    ).measures["ch"]
    assert fifth.value == pytest.approx(278, abs=0.5)
    party = at(0.1, start, replace(replaced, replaced=0.0, bathers=30))
    assert party.measures["fc"].value == pytest.approx(4.0 - 2.0, abs=0.35)  # 30 x 4 g in 60 m3
    covered = at(2, start, Observation(NOW + timedelta(minutes=1), "c", covered=True)).measures["fc"].value
    assert covered > at(2, start).measures["fc"].value + 0.5
    assert at(0.1, start, dose(0.05, "thiosulfate", 100_000)).measures["fc"].value == 0.0


def test_a_reading_joins_by_what_its_method_is_worth() -> None:
    for method, near in (("strip", 0.25), ("lab", 0.75)):
        log = [a_test(0, "drops_25", **FULL), a_test(2, method, ta=140)]
        moved = (at(2, *log).measures["ta"].value - 100) / 40
        assert (moved > near) == (method == "lab"), (method, moved)
    # The rate at which this pool loses chlorine is learned from its own readings.
    thirsty = [a_test(d, "photometer", fc=4.0 if d % 1 == 0 else 1.0) for d in (0, 0.9)]
    log = [
        *thirsty,
        dose(0.95, "liquid-chlorine-12.5", 1440),
        a_test(1.9, "photometer", fc=1.0),
        dose(1.95, "liquid-chlorine-12.5", 1440),
    ]
    assert (
        at(2.9, *log).measures["fc"].value
        < at(0.95, a_test(0, "photometer", fc=4.0)).measures["fc"].value - 0.5
    )
    # Far from all that was expected: something nobody logged. The reading is believed, and doubt grows.
    surprised = at(1, a_test(0, **FULL), a_test(1, "salt_meter", salt=400)).measures["salt"]
    assert surprised.value == pytest.approx(400, abs=20)


@given(st.randoms(use_true_random=False))
def test_any_order_of_entering_gives_the_same_answer(rng: random.Random) -> None:
    log = [
        a_test(0, **FULL),
        dose(0.5, "muriatic-31.45", 500),
        a_test(2, ph=7.7, fc=2.0),
        dose(2.1, "liquid-chlorine-12.5", 900),
        a_test(5, cya=45, ta=90),
        Observation(NOW + timedelta(days=3), "r", rained=0.02),
        Observation(NOW + timedelta(days=4), "b", bathers=10),
    ]
    shuffled = rng.sample(log, len(log))
    assert present_water(POOL, shuffled, NOW + timedelta(days=6)) == present_water(
        POOL, log, NOW + timedelta(days=6)
    )
    # and a series of instants is each of them alone
    times = [NOW + timedelta(days=d) for d in (1, 2.5, 6)]
    assert estimates(POOL, shuffled, times) == [
        present_water(POOL, [e for e in log if e.at <= t], t) for t in times
    ]


FED = PoolTraits(60_000, "plaster", "tablets", "in_ground", fill=FILL)
EVERYTHING = [
    a_test(0, **FULL),
    dose(0.5, "muriatic-31.45", 500),
    Observation(
        NOW + timedelta(days=1), "feeder", feeds=PRODUCTS["trichlor-90"].change_per_unit(60_000) * 900
    ),
    a_test(2, ph=7.7, fc=2.0, borate=30),
    dose(2.1, "liquid-chlorine-12.5", 900),
    Observation(
        NOW + timedelta(days=3), "weather", rained=0.02, balance_c=24.0, sun=0.8, evaporates=Air(24, 0.5, 2)
    ),
    Observation(NOW + timedelta(days=4), "swim", bathers=10, covered=True),
    a_test(5, "drops", cya=45, ta=90, fc=1.5),
    Observation(NOW + timedelta(days=6), "fill", replaced=0.1, topped=0.02),
    Observation(NOW + timedelta(days=7), "cell", cell_set=True, covered=False),
]


@pytest.mark.parametrize("pool", [POOL, FED])
def test_a_filter_kept_as_data_goes_on_as_if_it_had_never_stopped(pool: PoolTraits) -> None:
    whole, kept = Filter(pool), Filter(pool)
    for entry in EVERYTHING:
        whole.take(entry)
        kept = from_data(pool, json.loads(json.dumps(as_data(kept))))
        kept.take(entry)
        assert (kept.water, kept.tracks, kept.priors) == (whole.water, whole.tracks, whole.priors), entry.id
        assert kept.at(NOW + timedelta(days=9)) == whole.at(NOW + timedelta(days=9))


def test_other_figures_are_another_version() -> None:
    """Pinned against regression alone: where these figures change, so does what stands kept in databases, and
    ``ESTIMATE_VERSION`` must, or they go on from what other rules made.
    """
    found = at(8, *EVERYTHING, pool=FED).measures
    told = {m: f"{e.value:.4g} {e.sigma:.3g}" for m, e in found.items()}
    assert {ESTIMATE_VERSION: told} == {
        "2026-11-27.6": {
            "fc": "0.6994 0.455",
            "cc": "0.1764 0.312",
            "ph": "7.54 0.147",
            "ta": "94.1 5.88",
            "ch": "243.8 7.7",
            "cya": "41.02 4.38",
            "salt": "719.9 92.4",
            "temp": "25.04 2.14",
            "borate": "26.46 4.42",
        }
    }


def test_no_log_however_absurd_breaks_it() -> None:
    """Readings at the ends of what a form takes, truckloads of product, the pool emptied: an answer, finite
    and not below zero.
    """
    rng = random.Random(1)
    plain = dict(fc=3, ph=7.5, ta=90, ch=250, cya=50, salt=1000, temp=25, cc=0.2, borate=0)
    for _ in range(300):
        log = []
        for i in range(rng.randint(1, 8)):
            day, kind = rng.uniform(0, 60), rng.random()
            if kind < 0.5:
                named = rng.sample(list(plain), rng.randint(1, 9))
                log.append(
                    a_test(
                        day,
                        "drops",
                        **{
                            m: rng.choice(
                                [
                                    plain[m],
                                    MEASURES[m].least,
                                    MEASURES[m].most,
                                    rng.uniform(MEASURES[m].least, MEASURES[m].most),
                                ]
                            )
                            for m in named
                        },
                    )
                )
            elif kind < 0.85:
                log.append(
                    dose(
                        day,
                        rng.choice([q for q in PRODUCTS if PRODUCTS[q].active]),
                        10 ** rng.uniform(0, 7.3),
                    )
                )
            else:
                log.append(
                    Observation(
                        NOW + timedelta(days=day),
                        f"z{i}",
                        replaced=rng.choice([0, 0.5, 1]),
                        rained=rng.choice([0, 0.3, 1]),
                        bathers=rng.choice([0, 2000]),
                        feeds=rng.choice([None, PRODUCTS["trichlor-90"].change_per_unit(60_000) * 1e6]),
                        cell_set=rng.random() < 0.3,
                        cell_ppm_day=rng.choice([None, 0.0, 900.0]),
                    )
                )
            if rng.random() < 0.3:
                air, lit = (
                    Air(rng.uniform(-40, 55), rng.choice([0, 1]), rng.choice([0, 60])),
                    rng.choice([0, 3]),
                )
                when = NOW + timedelta(days=rng.uniform(0, 60))
                log.append(
                    Observation(when, f"weather{i}", balance_c=rng.uniform(0.5, 60), sun=lit, evaporates=air)
                )
        pool = replace(POOL, chlorine_source=rng.choice(["liquid", "tablets", "chlorinator", "unknown"]))
        found = at(90, *log, pool=pool)
        worth_most(pool, found)
        assert found.fit is None or 0 <= found.fit.demand(4.0, 27.0).ppm_day < 1e4
        stands = Filter(pool)
        for entry in sorted(log, key=lambda e: (e.at, e.id)):
            stands.take(entry)
        told = make(stands, [], log, NOW + timedelta(days=60), {})
        assert all(0 <= f.low80 <= f.mean <= f.high80 < 1e9 or f.measure == "ta" for f in told)
        assert all(0 <= abs(e.value) < 1e9 and 0 <= e.sigma < 1e9 for e in found.measures.values())
        assert all(
            e.value >= 0 for m, e in found.measures.items() if m not in ("temp", "ta")
        )  # acid past all alkalinity leaves less than none


def test_which_test_is_worth_most() -> None:
    assert worth_most(POOL, Present(NOW, {})) == "fc"
    fresh = at(0, a_test(0, "lab", **FULL | {"fc": 5.0, "ta": 100}))
    assert worth_most(POOL, fresh) != "ph"
    assert worth_most(POOL, at(2, a_test(0, "lab", **FULL | {"fc": 5.0}))) == "fc"
    cell = replace(POOL, chlorine_source="chlorinator")
    low_salt = at(0, a_test(0, "lab", fc=4.0, ph=7.5, ta=80, ch=300, cya=70, salt=2700), pool=cell)
    assert worth_most(cell, low_salt) in ("salt", "cya")


# Nothing drifts: what is left is the chemistry, the same in PHREEQC. Tolerances: those asked for in the check
# values after a dose (pH 0.03, TA 1 ppm) grown a little over a stream of up to six steps.
def test_streams_of_events_carry_forward_as_in_phreeqc(
    reference: Phreeqc, monkeypatch: pytest.MonkeyPatch
) -> None:
    for m in IN_STATE:  # nothing drifts
        still = replace(MEASURES[m], drift=Drift(0.0, 1e-6, 1e-6), drift_by_source={})
        monkeypatch.setitem(MEASURES, m, still)
    for name in ("SUN_A_DAY", "DARK_PPM_DAY"):  # nor is chlorine lost
        monkeypatch.setattr(priors, name, 0.0)
    rng = random.Random(6)
    amounts = {
        "liquid-chlorine-12.5": 1000.0,
        "muriatic-31.45": 400.0,
        "soda-ash": 300.0,
        "baking-soda": 1500.0,
        "calcium-chloride-77": 800.0,
        "stabilizer": 400.0,
        "salt": 5000.0,
        "dichlor-56": 300.0,
        "borax": 500.0,
    }
    fill = in_phreeqc(reference, FILL)
    for water in possible_waters(
        61,
        25,
        fc_ppm=(1, 5),
        borate_ppm=(0, 0),
        temp_c=(18, 32),
        ta_ppm=(60, 160),
        ph=(7.1, 7.9),
        cya_ppm=(0, 90),
    ):
        water = replace(water, sulfate_ppm=None, cc_ppm=0.0)
        pool = replace(POOL, fill=FILL)
        readings = {m: value_of(water, m) for m in ("fc", "cc", "ph", "ta", "ch", "cya", "salt", "temp")}
        log, there = [a_test(0, "lab", **readings)], in_phreeqc(reference, water)
        for step in range(rng.randint(2, 6)):
            when = 0.01 * (step + 1)
            if rng.random() < 0.25:
                share = rng.uniform(0.02, 0.4)
                log.append(Observation(NOW + timedelta(days=when), f"x{step}", replaced=share))
                there = reference.mix(there.number, fill.number, share)
            else:
                name = rng.choice(list(amounts))
                product, amount = PRODUCTS[name], amounts[name] * rng.uniform(0.3, 1.0)
                moles = product.moles_per_unit() * amount / POOL.volume_l
                log.append(dose(when, name, amount, pool))
                there = reference.react(there.number, {f: n * moles for f, n in FORMULAS[name].items()})
        found = present_water(pool, log, NOW + timedelta(days=0.2)).measures
        assert found["ph"].value == pytest.approx(there.ph, abs=0.05), (water, log)
        for m, value, tolerance in (
            ("ta", there.ta_ppm, 2.5),
            ("ch", there.ch_ppm, 3),
            ("cya", there.cya_ppm, 1),
            ("fc", there.fc_ppm, 0.1),
        ):
            assert found[m].value == pytest.approx(value, abs=tolerance), m
