"""What a run is foretold to take when it begins, from the stated tables; it never changes afterwards."""

from dataclasses import dataclass

from kumpan.core.clearup import tables as t
from kumpan.core.clearup.dose import Measures, ppm_per_unit, told
from kumpan.core.clearup.run import Run, Site, can_tell
from kumpan.core.clearup.slow import takes_tablets
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
    carried = run.school == "every_other" and takes_tablets(site)
    clearing = how.clear_days * t.FILTER_PACE.get(site.filter_kind, 1.0)
    kill = how.kill_days * _pace(run, carried) * run.kind.pace
    if run.school == "bags":
        kill = max(kill, t.BAGS_LEAST_DAYS * (2 if run.looks == 1 else 1))
    days = kill + clearing + (t.PROVE_DAYS_STRIP if by_strip else t.PROVE_DAYS)
    days += run.kind.held_h / 24 * t.HOLDING_ON[run.looks]
    chlorine = _chlorine_ppm(run, site, fc_ppm, days)
    per = ppm_per_unit(run, site.traits.volume_l)
    poured = _span(chlorine, t.SPAN_CHLORINE)
    amount = Span(*(v / per for v in (poured.mean, poured.low, poured.high)))
    bags = None
    if run.bag_g is not None:
        bags = Span(*(round(4 * v / run.bag_g) / 4 for v in (amount.mean, amount.low, amount.high)))
    return Foretold(_span(days, t.SPAN_DAYS), poured, amount, bags)


def _chlorine_ppm(run: Run, site: Site, fc_ppm: float, days: float) -> float:
    """Free chlorine that goes in. fc_ppm: what is there; days: until the kill is over."""
    assert run.severity is not None
    takes = t.SEVERITIES[run.severity].takes_ppm
    if run.school == "every_other":
        each = 2 if takes_tablets(site) else 1
        return t.SLOW_ROUND_PPM * max(1.0, (days - 1) / each)
    if run.school == "bags" or (run.school == "same_day" and not can_tell(run.method, run.level_ppm)):
        left = t.STRIP_FC_PPM if not can_tell(run.method, t.STRIP_FC_PPM) else 0.0
        return t.ROUNDS * t.ROUND_PPM + max(0.0, takes - t.BAGS_SPARE_PPM) + left
    sun = t.SUN_SHARE.get(site.traits.sun, t.SUN_SHARE["part"])
    held = run.level_ppm * t.DAILY_SHARE[run.looks] * sun * max(0.5, days - 0.7)
    return max(0.0, run.level_ppm - fc_ppm) + takes + held


def _pace(run: Run, carried: bool) -> float:
    """How much longer the kill takes than where the level is held. carried: whether tablets carry it."""
    if carried:
        return t.PACE_TABLETS
    return t.PACE.get(run.school, t.PACE_ONCE if run.looks == 1 else 1.0)


def _span(mean: float, factors: tuple[float, float]) -> Span:
    return Span(mean, mean * factors[0], mean * factors[1])
