"""The bucket test: what a pool loses over what evaporates beside it."""

from dataclasses import dataclass

# What two marks read by eye can tell in a day (our own).
TELLS_MM = 3.0


@dataclass(frozen=True)
class Lost:
    """What came of a bucket test. leak_mm: over the bucket's fall, a day; leak_l_day: of it, None where the
    surface is not known; leaks: whether that is more than marks can be off by.
    """

    leak_mm: float
    leak_l_day: float | None
    leaks: bool


def lost(pool_mm: float, bucket_mm: float, hours: float, surface_m2: float | None) -> Lost:
    """What a pool lost over what evaporated from a bucket on its step. Fall in mm over ``hours`` (over 0);
    0 or more. A mm on a square metre is a litre. Raises ValueError for no time.

    >>> lost(20.0, 6.0, 24.0, 50.0)
    Lost(leak_mm=14.0, leak_l_day=700.0, leaks=True)
    >>> lost(7.0, 6.0, 24.0, 50.0).leaks
    False
    """
    if hours <= 0:
        raise ValueError("a bucket test takes time")
    leak = (pool_mm - bucket_mm) * 24 / hours
    return Lost(leak, None if surface_m2 is None else max(0.0, leak) * surface_m2, leak > TELLS_MM)
