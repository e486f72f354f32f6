"""Volume proved by a dose: what was added, over what the water rose by, is the gallons it went into.

Salt, calcium and stabilizer stay where they are put, so a rise tells the volume (common practice). All on
a logarithmic scale: volumes are wrong by shares, and shares are what readings and strengths are uncertain by.
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise

from kumpan.core.log.entry import Dose, LogEntry, StepDone
from kumpan.core.log.kinds import KINDS
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.products.product import Product
from kumpan.core.units import UNIT_LABELS
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import at_scale_end
from kumpan.core.water.readings import Reading
from kumpan.core.water.state import WaterState, apply

PROVING = tuple(m.id for m in MEASURES.values() if m.proves)
LEAST_TIMES = 3.0  # a rise tells only from three times its combined error on
# Our own assumptions. Within so many days topping up for evaporation moves less than a reading is worth; a
# share of the level a day, 95 %.
MOST_DAYS, DRIFT_A_DAY_95 = 14.0, 0.004
STRENGTH_95 = 0.05  # common practice


@dataclass(frozen=True)
class Poured:
    """A dose as logged: g, or mL of a liquid; words: the same in words."""

    product: Product
    strength: float | None
    amount: float
    words: str = ""


@dataclass(frozen=True)
class Logged:
    """One thing of the log that a proof looks at. water_moved: some was drained, replaced or added."""

    id: str
    at: datetime
    readings: tuple[Reading, ...] = ()
    poured: Poured | None = None
    water_moved: bool = False


@dataclass(frozen=True)
class Estimate:
    """A volume in litres and how far off it may be, as a fraction, 95 %."""

    litres: float
    within: float

    @property
    def span(self) -> tuple[float, float]:
        """From and to, litres, 95 %."""
        factor = math.exp(self.within)
        return self.litres / factor, self.litres * factor


@dataclass(frozen=True)
class Proof:
    """What one rise says. before, after: the two tests; rise in ppm with its combined 95 % error; poured:
    what was added between.
    """

    measure: str
    before: str
    after: str
    at: datetime
    rise: float
    error: float
    poured: tuple[Poured, ...]
    implied: Estimate


def combined(estimates: Iterable[Estimate]) -> Estimate:
    """The volume that several independent estimates tell together, each weighed by its precision. At least
    one.

    The usual inverse-variance mean (for example ISO/IEC Guide 98-3, from memory), on the logarithm.

    >>> both = combined([Estimate(50_000, 0.10), Estimate(60_000, 0.10)])
    >>> round(both.litres), round(both.within, 3)
    (54772, 0.071)
    """
    weighed = [(1 / e.within**2, math.log(e.litres)) for e in estimates]
    total = sum(w for w, _ in weighed)
    return Estimate(math.exp(sum(w * log for w, log in weighed) / total), 1 / math.sqrt(total))


def agree(one: Estimate, other: Estimate) -> bool:
    """Whether two estimates can both be right: no further apart than their combined 95 % error."""
    return abs(math.log(one.litres / other.litres)) <= math.hypot(one.within, other.within)


def logged(entry: LogEntry) -> Logged:
    """An entry of the log as a proof looks at it."""
    poured, held = None, entry.payload
    if isinstance(held, Dose) and held.product_id in PRODUCTS:
        product = PRODUCTS[held.product_id]
        words = f"{held.text} {UNIT_LABELS[held.unit]} of {product.short}"
        poured = Poured(product, held.strength, held.amount, words)
    replaced = isinstance(held, StepDone) and held.what == "dilute"
    return Logged(entry.id, entry.at, entry.readings, poured, KINDS[entry.kind].moves_water or replaced)


def proofs(log: list[Logged]) -> list[Proof]:
    """Every proof the log holds, oldest first. log: oldest first.

    Between two readings of the same measure something that raises it was poured and had its time to mix, no
    water moved, and the rise is at least three times its combined error. A reading at an end of its method's
    scale tells nothing.
    """
    usable = []
    for measure in PROVING:
        tests = [
            (i, r)
            for i, entry in enumerate(log)
            for r in entry.readings
            if r.measure == measure and _on_scale(r)
        ]
        for (i, first), (j, second) in pairwise(tests):
            proof = _proof(log[i : j + 1], first, second)
            if proof is not None:
                usable.append(proof)
    return sorted(usable, key=lambda p: (p.at, p.measure))


def _proof(stretch: list[Logged], first: Reading, second: Reading) -> Proof | None:
    """What a stretch of the log from one reading to the next proves, if anything."""
    begin, *between, end = stretch if len(stretch) > 1 else [*stretch, *stretch]
    name = MEASURES[first.measure].field
    days = (end.at - begin.at).total_seconds() / 86400
    doses = [(e, e.poured) for e in between if e.poured and _brings(e.poured, name) > 0]
    if not doses or days > MOST_DAYS or any(e.water_moved for e in between):
        return None
    if any((end.at - e.at).total_seconds() < 60 * p.product.retest_min for e, p in doses):
        return None
    rise, drift = second.value - first.value, DRIFT_A_DAY_95 * days * max(first.value, second.value)
    error = math.sqrt(first.u95**2 + second.u95**2 + drift**2)
    if error <= 0 or rise < LEAST_TIMES * error:
        return None
    # ppm litres: what one litre would have risen by
    total = sum(_brings(p, name) for _, p in doses)
    # The wider side of the span, for both: a volume goes as one over the rise, and rises read too high are
    # offered more often.
    implied = Estimate(total / rise, math.hypot(-math.log(1 - error / rise), STRENGTH_95))
    poured = tuple(p for _, p in doses)
    return Proof(first.measure, begin.id, end.id, end.at, rise, error, poured, implied)


def raises_a_proving_measure(product: Product) -> bool:
    """Whether a product is of those whose dose can prove a volume: one made to raise salt, calcium or
    stabilizer.

    Others raise them too, a little; alone they seldom reach three times the error.
    """
    return bool({f"raise_{m}" for m in PROVING} & set(product.roles))


def _brings(poured: Poured, name: str) -> float:
    """What a dose raises a measure by in one litre of water, ppm, its chlorine spent."""
    if poured.product.active is None:
        return 0.0
    zero = WaterState(fc_ppm=0, ta_ppm=0, ch_ppm=0, cya_ppm=0, salt_ppm=0)
    per_gram = apply(zero, poured.product.change_per_unit(1000.0, poured.strength).spent)
    return float(getattr(per_gram, name)) * 1000.0 * poured.amount


def _on_scale(reading: Reading) -> bool:
    return reading.u95 > 0 and not at_scale_end(reading.method, reading.measure, reading.value)
