"""What a person may see at the pool beside what a test reads."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Condition:
    """Something seen. closes: it keeps people out whatever the water reads, in these words. headline: what it
    makes of the plan's first sentence, the plan's own following; empty where it only closes. growth: it tells
    of algae, so that stabilizer waits until the water is clear. stops_work: nothing is poured while it lasts.
    """

    id: str
    label: str
    closes: str
    headline: str
    growth: bool = False
    stops_work: bool = False


# What closes a pool, and what is done: common practice. A formed stool: FC 2 ppm, pH 7.5 or less, 77 F or
# warmer, 25 to 30 min closed without stabilizer and 50 with any (CDC incident response, from memory).
SEEN: dict[str, Condition] = {
    c.id: c
    for c in (
        Condition(
            "tingle",
            "an electrical tingle",
            "an electrical tingle: everyone out, power off, call an electrician",
            "Electrical tingle: everyone out and away from metal, power off at the breaker, call an"
            " electrician. Touch nothing, pour nothing",
            stops_work=True,
        ),
        Condition(
            "thunder",
            "thunder",
            "thunder",
            "Thunder: everyone out, and no work at the water",
            stops_work=True,
        ),
        Condition(
            "faecal",
            "a faecal accident",
            "a faecal accident: follow the health authority's table",
            "Faecal accident: everyone out, lift it out with gloves. Formed: FC 2 or more and pH 7.5 or"
            " less, closed 30 min, 50 with stabilizer. Loose: the health authority's table",
        ),
        Condition(
            "drain_cover",
            "a drain cover is missing, broken or expired",
            "a drain cover is missing, broken or expired",
            "Drain cover missing, broken or expired: closed until a sound one is screwed down",
        ),
        Condition(
            "cover_on",
            "a cover is part-on",
            "a cover is part-on",
            "A cover is part-on: fully off before anyone enters",
        ),
        Condition(
            "floor_hidden",
            "the floor cannot be seen",
            "the floor cannot be seen",
            "The floor cannot be seen: closed",
            growth=True,
        ),
        Condition("algae", "algae or cloudy water", "algae", "Algae, nobody in", growth=True),
    )
}


def stops_work(seen: frozenset[str]) -> bool:
    """Whether nothing is to be poured while what is seen lasts."""
    return any(SEEN[c].stops_work for c in seen if c in SEEN)


def tells_of_growth(seen: frozenset[str]) -> bool:
    """Whether what is seen tells of algae."""
    return any(SEEN[c].growth for c in seen if c in SEEN)
