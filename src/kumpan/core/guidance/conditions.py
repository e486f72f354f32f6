"""What a person may see at the pool beside what a test reads."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Condition:
    """Something seen. closes: it keeps people out whatever the water reads, in these words; empty: it does
    not. growth: it tells of algae, so that stabilizer waits until the water is clear.
    """

    id: str
    label: str
    closes: str = ""
    growth: bool = False


def _closing(id: str, text: str, growth: bool = False) -> Condition:
    return Condition(id, text, text, growth)


# What closes a pool: common practice.
SEEN: dict[str, Condition] = {
    c.id: c
    for c in (
        Condition("algae", "algae or cloudy water", growth=True),
        _closing("floor_hidden", "the floor cannot be seen", growth=True),
        _closing("faecal", "a faecal accident: follow the health authority's table"),
        _closing("drain_cover", "a drain cover is missing, broken or expired"),
        _closing("cover_on", "a cover is part-on"),
        _closing("thunder", "thunder"),
        _closing("tingle", "an electrical tingle: everyone out, power off, call an electrician"),
    )
}


def tells_of_growth(seen: frozenset[str]) -> bool:
    """Whether what is seen tells of algae."""
    return any(SEEN[c].growth for c in seen if c in SEEN)
