"""Which test tells most now."""

from kumpan.core.dosing.uncertainty import odds
from kumpan.core.guidance.targets import bands_for
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.estimate.present import Present
from kumpan.core.water.measures import IN_STATE, MEASURES


def worth_most(traits: PoolTraits, present: Present) -> str | None:
    """The one measure whose test tells most now: where the verdict is least sure and matters most. None where
    all is sure.

    How likely the verdict is wrong, times a weight of our own; a measure never tested counts as even odds.
    """
    cya = present.measures.get("cya")
    bands = bands_for(traits, None if cya is None else cya.value)
    scores = {}
    for m in IN_STATE:
        weight = MEASURES[m].worth
        band = bands.get(m)
        if band is None or (band.low is None and band.high is None):
            continue
        estimate = present.measures.get(m)
        if estimate is None:
            scores[m] = 0.5 * weight if m != "cc" else 0.0
            continue
        chances = odds(estimate.value, estimate.u95, band)
        scores[m] = weight * (1 - max(chances.low, chances.fine, chances.high))
    best = max(scores, key=lambda m: (scores[m], -IN_STATE.index(m)), default=None)
    return best if best is not None and scores[best] >= 0.05 else None
