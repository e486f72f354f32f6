"""The weather as Today shows it."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from kumpan.actions.context import Context
from kumpan.core.phrasing import terms
from kumpan.core.weather import outlook_line
from kumpan.store import queries
from kumpan.store.tables.pools import Pool

_STALE = timedelta(hours=6)


@dataclass(frozen=True)
class WeatherView:
    """The days ahead in a line. label: where it is from, with *simulated* where it is; problem: what is wrong
    with the source, or that there is none, in plain words.
    """

    line: str
    label: str
    problem: str


def weather_view(context: Context, pool: Pool, here: datetime) -> WeatherView:
    """What is known of the weather at a pool's place. here: now, on the pool's clock."""
    fetched = queries.weather_fetch(context.session, pool.id)
    if fetched is None:
        text = "No weather source: temperature and rain are taken by hand."
        return WeatherView("", "", text)
    today = here.date()
    days = queries.weather_days(context.session, pool.id, today, today + timedelta(days=7))
    line = outlook_line(days, today, context.unit_system)
    label = f"{fetched.source}, simulated" if fetched.simulated else fetched.source
    if not fetched.problem:
        return WeatherView(line, label, "")
    told = fetched.told_at
    if told is None or context.now - told > _STALE:
        since = "" if told is None else f" since {terms.day(here, told.astimezone(here.tzinfo)).lower()}"
        return WeatherView(line, label, f"{fetched.problem[:1].upper()}{fetched.problem[1:]}{since}.")
    return WeatherView(line, label, "")
