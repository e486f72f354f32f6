"""What a run is foretold to take when it begins, from the stated tables; it never changes afterwards."""

from dataclasses import dataclass

from kumpan.core.clearup import tables as t
from kumpan.core.clearup.dose import Measures, ppm_per_unit, told
from kumpan.core.clearup.run import Run, Site, can_tell
from kumpan.core.products.catalogue import PRODUCTS


@dataclass(frozen=True)
class Span:
    """A figure foretold, and from and to: in four of five such pools it lies between."""

    mean: float
    low: float
    high: float


@dataclass(frozen=True)
class Foretold:
    """What a run takes: days from the first pour until the kill is over; free chlorine, ppm; the product, g
    or mL; bags of it, where bags are at hand.
    """

    days: Span
    chlorine_ppm: Span
    amount: Span
    bags: Span | None


def in_words(foretold: Foretold, run: Run, site: Site, measures: Measures) -> tuple[tuple[str, str], ...]:
    """What is foretold, from and to: days, free chlorine, the product in bags or the person's measures."""
    low, high = (
        told(run.product_id, v, site.traits.volume_l, measures)
        for v in (foretold.amount.low, foretold.amount.high)
    )
    if foretold.bags is not None:
        low, high = f"{foretold.bags.low:g}", f"{foretold.bags.high:g} bags"
    ppm = foretold.chlorine_ppm
    return (
        ("Days", days_in_words(foretold.days)),
        ("Chlorine", f"{ppm.low:.0f} to {ppm.high:.0f} ppm"),
        (PRODUCTS[run.product_id].named(run.strength), f"{low} to {high}"),
    )


def days_in_words(span: Span) -> str:
    """Days, whole ones.

    >>> days_in_words(Span(3.4, 2.4, 5.4)), days_in_words(Span(0.9, 0.6, 1.4))
    ('2 to 5 days', '1 to 2 days')
    """
    low, high = max(1, round(span.low)), max(1, round(span.high))
    return f"{low} to {max(high, low + 1)} days"


def foretell(run: Run, site: Site, fc_ppm: float) -> Foretold | None:
    """What this run takes. fc_ppm: what is in the water now. None for a plain shock: that is one raise.

    Our own tables (``clearup.tables``), within what common practice says of a light bloom and of a swamp.
    """
    if run.severity is None or run.aim == "shock":
        return None
    how = t.SEVERITIES[run.severity]
    by_strip = not can_tell(run.method, t.STRIP_FC_PPM)
    pace = t.PACE_BAGS if run.school == "bags" else t.PACE_ONCE if run.looks == 1 else 1.0
    clearing = how.clear_days * t.FILTER_PACE.get(site.filter_kind, 1.0)
    kill = how.kill_days * pace
    if run.school == "bags":
        kill = max(kill, t.BAGS_LEAST_DAYS * (2 if run.looks == 1 else 1))
    days = kill + clearing + (t.PROVE_DAYS_STRIP if by_strip else t.PROVE_DAYS)
    if run.school == "bags":
        rest = max(0.0, how.takes_ppm - t.BAGS_SPARE_PPM)
        chlorine = t.ROUNDS * t.ROUND_PPM + rest + (t.STRIP_FC_PPM if by_strip else 0.0)
    else:
        sun = t.SUN_SHARE.get(site.traits.sun, t.SUN_SHARE["part"])
        held = run.level_ppm * t.DAILY_SHARE[run.looks] * sun * max(0.5, days - 0.7)
        chlorine = max(0.0, run.level_ppm - fc_ppm) + how.takes_ppm + held
    per = ppm_per_unit(run, site.traits.volume_l)
    poured = _span(chlorine, t.SPAN_CHLORINE)
    amount = Span(*(v / per for v in (poured.mean, poured.low, poured.high)))
    bags = None
    if run.bag_g is not None:
        bags = Span(*(round(4 * v / run.bag_g) / 4 for v in (amount.mean, amount.low, amount.high)))
    return Foretold(_span(days, t.SPAN_DAYS), poured, amount, bags)


def _span(mean: float, factors: tuple[float, float]) -> Span:
    return Span(mean, mean * factors[0], mean * factors[1])
