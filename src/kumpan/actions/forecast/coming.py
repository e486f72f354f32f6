"""How long chlorine lasts and when to test next, as Today and the page ahead tell it."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from zoneinfo import ZoneInfo

from kumpan.actions.context import Context
from kumpan.core.forecast.ahead import MOST_DAYS
from kumpan.core.forecast.answers import Lasts, NextTest, lasts, leaves_band, next_test, times_ahead
from kumpan.core.guidance.targets import bands_of, health_minimum_ppm
from kumpan.core.phrasing import coming as phrase
from kumpan.core.water.estimate.filter import Filter
from kumpan.core.water.estimate.present import Observation, Present
from kumpan.store.forecasts import way_ahead
from kumpan.store.tables.pools import Pool
from kumpan.store.water import traits_of


@dataclass(frozen=True)
class ComingView:
    """One sentence of what is to come, the day of the test it asks for, what to test, and by what it is
    told.
    """

    sentence: str
    test_on: date
    test_words: str
    told_by: str


@dataclass(frozen=True)
class Coming:
    """The way ahead, what it means, and what of the weather it goes by; the instants are on the pool's
    clock.
    """

    path: Sequence[Present]
    outlook: list[Observation]
    chlorine: Lasts | None
    test: NextTest
    view: ComingView


def coming_of(context: Context, pool: Pool, stands: Filter, by: date | None) -> Coming:
    """What is to come of a pool, from where its filter stands now. by: the day on which the person tests
    anyway.
    """
    here = context.now.astimezone(ZoneInfo(pool.time_zone))
    times = times_ahead(here, MOST_DAYS)
    path, outlook = way_ahead(context.session, pool, stands, times)
    bands = bands_of(traits_of(pool), path[0].water)
    minimum = max(health_minimum_ppm(path[0].water.cya_ppm), bands["fc"].low or 0.0)
    chlorine, ph = lasts(path, minimum), leaves_band(path, "ph", bands.get("ph"))
    test = next_test(path, chlorine, bands, by)
    fit = path[0].fit
    view = ComingView(
        sentence=phrase.sentence(here, chlorine, test, ph if test.because == "ph" else None),
        test_on=test.on,
        test_words=phrase.measures_to_test(test.measures),
        told_by=phrase.told_by(fit.days if fit is not None and fit.enough else None),
    )
    return Coming(path, outlook, chlorine, test, view)
