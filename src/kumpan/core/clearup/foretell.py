"""What a run is foretold to take when it begins, from the stated tables; it never changes afterwards."""

from dataclasses import dataclass

from kumpan.core.clearup import tables as t
from kumpan.core.clearup.dose import ppm_per_unit
from kumpan.core.clearup.run import Run, Site, can_tell


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
