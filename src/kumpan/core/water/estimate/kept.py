"""A filter as data, to be kept and gone on with later: the same to the last digit."""

from dataclasses import asdict, fields
from datetime import datetime
from typing import Any

from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.estimate.filter import Filter, Track
from kumpan.core.water.state import Change, WaterState

# Of the rules by which the log makes the estimate: one kept by others is made anew. Another wherever the
# filter, its priors, the effects of entries or the chemistry beneath them give other figures
# (``tests/core/test_present.py`` says when).
ESTIMATE_VERSION = "2026-11-27.1"


def as_data(stands: Filter) -> dict[str, Any]:
    """Where a filter stands, for JSON; not its pool."""
    return {
        "water": {f.name: getattr(stands.water, f.name) for f in fields(WaterState)},
        "tracks": {m: asdict(t) | {"read_at": t.read_at.isoformat()} for m, t in stands.tracks.items()},
        "covered": stands.covered,
        "now": None if stands.now is None else stands.now.isoformat(),
        "feeder": None if stands.feeder is None else asdict(stands.feeder),
    }


def from_data(traits: PoolTraits, data: dict[str, Any]) -> Filter:
    """The filter of a pool that stood so.

    >>> traits = PoolTraits(50_000, "plaster", "liquid", "in_ground")
    >>> from_data(traits, as_data(Filter(traits))).tracks
    {}
    """
    traces = tuple((str(m), float(value)) for m, value in data["water"]["traces"])
    tracks = {
        m: Track(**t | {"read_at": datetime.fromisoformat(t["read_at"]), "gaps_days": tuple(t["gaps_days"])})
        for m, t in data["tracks"].items()
    }
    now = None if data["now"] is None else datetime.fromisoformat(data["now"])
    feeder = None if data["feeder"] is None else Change(**data["feeder"])
    water = WaterState(**data["water"] | {"traces": traces})
    return Filter.standing(traits, water, tracks, (data["covered"], now, feeder))
