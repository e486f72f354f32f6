"""What fouled the water, and the health authority's table: chlorine for a time, as discrete rows.

CDC, fecal incident response and hyperchlorination (from memory). The authority decides; nothing here does.
"""

from dataclasses import dataclass

# In range for a row to count: pH and warmth (77 F); readings so far apart at most (our own).
PH_MOST, TEMP_LEAST_C, GAP_MOST_MIN = 7.5, 25.0, 240.0
# Over so much stabilizer the table has no row for diarrhoea: lower it first.
CYA_MOST_PPM = 15.0


@dataclass(frozen=True)
class Row:
    """Free chlorine (ppm) that stands for so many minutes."""

    fc_ppm: float
    minutes: float

    @property
    def id(self) -> str:
        """Its name in marks and views."""
        return f"{self.fc_ppm:g}"

    @property
    def words(self) -> str:
        """
        >>> Row(20, 765).words, Row(2, 50).words
        ('20 ppm for 12 h 45 min', '2 ppm for 50 min')
        """
        return f"{self.fc_ppm:g} ppm for {span(self.minutes)}"


def span(minutes: float) -> str:
    """Minutes in words.

    >>> span(765), span(1680), span(50.4)
    ('12 h 45 min', '28 h', '50 min')
    """
    hours, rest = divmod(int(minutes), 60)
    return " ".join(([f"{hours} h"] if hours else []) + ([f"{rest} min"] if rest or not hours else []))


@dataclass(frozen=True)
class Incident:
    """What happened. how: how it is lifted out; bare: rows without stabilizer; bound: with some, any of which
    will do; most_cya_ppm: with more there is no row, None where any amount has one.
    """

    id: str
    label: str
    how: str
    bare: tuple[Row, ...]
    bound: tuple[Row, ...]
    most_cya_ppm: float | None = None


_LIFT = (
    "With a net or a scoop and gloves, into the toilet or a bag; never vacuum it. Net and scoop stay in"
    " the pool"
    " while the chlorine stands."
)
_FORMED = ((Row(2.0, 30.0),), (Row(2.0, 50.0),))
INCIDENTS: dict[str, Incident] = {
    i.id: i
    for i in (
        Incident("formed", "A formed stool", _LIFT, *_FORMED),
        Incident("vomit", "Vomit", _LIFT, *_FORMED),
        Incident(
            "loose",
            "Diarrhoea",
            "As much as can be, with a net or a scoop and gloves; never vacuum it. Net and scoop stay in"
            " the pool"
            " while the chlorine stands.",
            (Row(20.0, 765.0),),
            (Row(20.0, 1680.0), Row(30.0, 1080.0), Row(40.0, 510.0)),
            CYA_MOST_PPM,
        ),
        Incident(
            "animal",
            "A dead animal",
            "With gloves and a net, into two bags, hands washed. Ask the authority where it was sick, a"
            " bat or a"
            " raccoon.",
            *_FORMED,
        ),
    )
}
# What no table of ours decides.
DROPPINGS = (
    "Droppings of wild animals: close the pool and ask the health authority. A raccoon's may hold what"
    " chlorine"
    " does not kill."
)
