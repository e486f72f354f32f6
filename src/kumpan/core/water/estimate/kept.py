"""A filter as data, to be kept and gone on with later: the same to the last digit."""

from dataclasses import asdict, fields
from datetime import datetime
from typing import Any

import numpy

from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.estimate.chlorine import Chlorine
from kumpan.core.water.estimate.filter import Filter
from kumpan.core.water.estimate.tracks import Around, Track
from kumpan.core.water.state import Change, WaterState

# Of the rules by which the log makes the estimate: one kept by others is made anew. Another wherever the
# filter, its priors, the effects of entries or the chemistry beneath them give other figures
# (``tests/core/test_present.py`` says when).
ESTIMATE_VERSION = "2026-11-27.6"


def as_data(stands: Filter) -> dict[str, Any]:
    """Where a filter stands, for JSON; not its pool."""
    around, c = stands.around, stands.chlorine
    return {
        "water": {f.name: getattr(stands.water, f.name) for f in fields(WaterState)},
        "tracks": {m: asdict(t) | {"read_at": t.read_at.isoformat()} for m, t in stands.tracks.items()},
        "around": asdict(around) | {n: _text(getattr(around, n)) for n in _INSTANTS},
        "chlorine": None
        if c is None
        else vars(c)
        | {"cov": c.cov.tolist(), "read_at": c.read_at.isoformat(), "began_at": c.began_at.isoformat()},
        "now": _text(stands.now),
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
    held, feeder = data["around"], data["around"]["feeder"]
    around = Around(
        **held
        | {n: _instant(held[n]) for n in _INSTANTS}
        | {"feeder": None if feeder is None else Change(**feeder)}
    )
    c, chlorine = data["chlorine"], None
    if c is not None:
        times = {n: datetime.fromisoformat(c[n]) for n in ("read_at", "began_at")}
        chlorine = Chlorine(
            **c
            | times
            | {
                "cov": numpy.array(c["cov"]),
                "gaps_days": tuple(c["gaps_days"]),
                "surprised": tuple(c["surprised"]),
            }
        )
    water = WaterState(**data["water"] | {"traces": traces})
    return Filter.standing(traits, water, tracks, (around, chlorine, _instant(data["now"])))


_INSTANTS = ("fed_at", "sun_at")


def _text(at: datetime | None) -> str | None:
    return None if at is None else at.isoformat()


def _instant(text: str | None) -> datetime | None:
    return None if text is None else datetime.fromisoformat(text)
