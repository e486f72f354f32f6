"""Terms every screen shares: lists, figures, clock times and days in words."""

from datetime import datetime

from kumpan.core.units import c_to_f
from kumpan.core.water.measures import MEASURES


def listed(names: list[str]) -> str:
    """Names in a row: ``a``, ``a and b``, ``a, b and c``."""
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " and " + names[-1]


def show(measure: str, value: float) -> str:
    """A value with the decimals of its measure: ``7.5``, ``2,700``."""
    return f"{value:,.{MEASURES[measure].decimals}f}"


def clock(now: datetime, then: datetime) -> str:
    """A time as said today: ``19:50``, ``Wed 09:00``, ``Tue 1 Dec 09:00``."""
    if then.date() == now.date():
        return f"{then:%H:%M}"
    if (then.date() - now.date()).days < 7:
        return f"{then:%a %H:%M}"
    return f"{then:%a} {then.day} {then:%b %H:%M}"


def swim_from(clock_words: str, least_fc_ppm: float, most_fc_ppm: float) -> str:
    """From when, and on what reading, people may swim."""
    return (
        f"Swim from {clock_words} if FC reads {least_fc_ppm:g} to {most_fc_ppm:g}, pH 7.2 to 7.8 and the"
        " floor"
        " is clear."
    )


def day(now: datetime, then: datetime) -> str:
    """A day as said today: ``Today``, ``Yesterday``, ``Sat 21 Nov``, with the year when it is another."""
    days = (now.date() - then.date()).days
    if days in (0, 1):
        return ("Today", "Yesterday")[days]
    year = f" {then.year}" if then.year != now.year else ""
    return f"{then:%a} {then.day} {then:%b}{year}"


def _sentence(text: str) -> str:
    return text if text.startswith("pH") else text[0].upper() + text[1:]


def show_value(measure: str, value: float, system: str) -> str:
    """A value with its unit in the person's measures: ``7.5``, ``81 °F``, ``2,700 ppm``."""
    if measure == "temp":
        return f"{c_to_f(value):.0f} °F" if system == "us" else f"{value:.0f} °C"
    unit = MEASURES[measure].unit
    return f"{show(measure, value)}{f' {unit}' if unit else ''}"


def money(minor: int, currency: str) -> str:
    """An amount of money: ``$7.90``, ``12.50 EUR``.

    >>> money(790, "USD")
    '$7.90'
    """
    return f"${minor / 100:,.2f}" if currency == "USD" else f"{minor / 100:,.2f} {currency}"
