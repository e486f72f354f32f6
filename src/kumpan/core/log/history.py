"""A run of log entries as the estimate takes it: each with what it does to the water, losses made up by
refills.
"""

from collections.abc import Sequence
from dataclasses import replace
from datetime import timedelta

from kumpan.core.log.entry import Effect, LogEntry
from kumpan.core.log.kinds import KINDS
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.estimate.present import Observation
from kumpan.core.water.evaporation import MEAN_DEPTH_M

# How long a loss waits for the refill that makes it up; after that the leveller or rain did: our own.
REFILLED_WITHIN = timedelta(days=3)


def observations(log: Sequence[LogEntry], traits: PoolTraits) -> list[Observation]:
    """Entries, oldest first, as the estimate takes them.

    Water lost comes back as fill: when it was added, if that was logged within three days, else at once.
    Water added beyond what was lost makes up for evaporation, which takes nothing dissolved along.
    """
    effects = [_effect(entry, traits) for entry in log]
    seen = [_observation(entry, effect, traits) for entry, effect in zip(log, effects, strict=True)]
    missing: list[tuple[int, float]] = []  # lost and not yet added: which entry, litres
    for i, (entry, effect) in enumerate(zip(log, effects, strict=True)):
        missing = [(j, litres) for j, litres in missing if entry.at - log[j].at <= REFILLED_WITHIN]
        if effect.lost_l is not None:
            missing.append((i, effect.lost_l))
        if effect.added_l:
            for j, _ in missing:
                seen[j] = replace(seen[j], replaced=0.0)
            # A loss of unknown size is taken to be all that was added.
            unknown = any(litres == 0 for _, litres in missing)
            made_up = effect.added_l if unknown else min(effect.added_l, sum(litres for _, litres in missing))
            seen[i] = replace(
                seen[i],
                replaced=min(1.0, made_up / traits.volume_l),
                topped=min(1.0, (effect.added_l - made_up) / traits.volume_l),
            )
            missing = []
    return seen


def _effect(entry: LogEntry, traits: PoolTraits) -> Effect:
    effect = KINDS[entry.kind].effect
    return Effect() if effect is None else effect(entry, traits)


def _observation(entry: LogEntry, effect: Effect, traits: PoolTraits) -> Observation:
    return Observation(
        entry.at,
        entry.id,
        entry.readings,
        effect.change,
        effect.feeds,
        replaced=min(1.0, effect.replaced + (effect.lost_l or 0.0) / traits.volume_l),
        rained=min(1.0, effect.rain_mm / 1000 / MEAN_DEPTH_M),
        bathers=effect.bathers,
        covered=effect.covered,
        cell_set=effect.cell_set,
        cell_ppm_day=effect.cell_ppm_day,
    )
