"""The test methods and what each one's reading is worth."""

from dataclasses import dataclass, field


@dataclass(frozen=True)
class Method:
    """A way to read a measure. plus_minus: the 95 % uncertainty per measure, canonical unit.

    steps: what one press of an arrow key moves a reading by (the method's resolution). per_drop: ppm a drop,
    of measures that are titrated. scale: from and to where it can read at all; at an end the true value may
    lie beyond. Values: practice section 4, Kumpan's working assumption from common practice; scales from
    memory.
    """

    id: str
    label: str
    plus_minus: dict[str, float]
    steps: dict[str, float]
    per_drop: dict[str, float] = field(default_factory=dict)
    scale: dict[str, tuple[float, float]] = field(default_factory=dict)


# Phenol red turns between these; the stabilizer tube clouds over between those (practice section 4: floor 20
# to 30).
_PHENOL_RED, _TURBIDITY = {"ph": (6.8, 8.2)}, {"cya": (30.0, 100.0)}


_KIT = ("fc", "tc", "cc", "ph", "ta", "ch", "cya", "salt")


def _by(names: tuple[str, ...], *values: float) -> dict[str, float]:
    return {name: value for name, value in zip(names, values, strict=True) if value}


METHODS: dict[str, Method] = {
    m.id: m
    for m in (
        Method(
            "drops",
            "Drop kit",
            _by(_KIT, 0.5, 0.7, 0.5, 0.2, 10, 25, 10, 200),
            _by(_KIT, 0.5, 0.5, 0.5, 0.1, 10, 25, 10, 200),
            {"fc": 0.5, "cc": 0.5, "ta": 10, "ch": 25, "salt": 200},
            _PHENOL_RED | _TURBIDITY,
        ),
        Method(
            "drops_25",
            "Drop kit, 25 mL sample",
            _by(_KIT, 0.2, 0.3, 0.2, 0.2, 10, 10, 10, 200),
            _by(_KIT, 0.2, 0.2, 0.2, 0.1, 10, 10, 10, 200),
            {"fc": 0.2, "cc": 0.2, "ta": 10, "ch": 10, "salt": 200},
            _PHENOL_RED | _TURBIDITY,
        ),
        Method(
            "strip",
            "Test strip",
            _by(_KIT, 1, 1, 1.4, 0.3, 30, 50, 25, 400),
            _by(_KIT, 0.5, 0.5, 0.5, 0.2, 20, 50, 10, 100),
            {},
            {"fc": (0, 10), "ph": (6.2, 8.4), "ta": (0, 240)},
        ),
        Method(
            "comparator",
            "Colour comparator",
            _by(_KIT, 0.75, 0.75, 1.0, 0.2, 0, 0, 0, 0),
            _by(_KIT, 0.5, 0.5, 0.5, 0.2, 0, 0, 0, 0),
            {},
            _PHENOL_RED | {"fc": (0, 5), "tc": (0, 5)},
        ),
        Method(
            "photometer",
            "Photometer",
            _by(_KIT, 0.2, 0.3, 0.3, 0.1, 10, 20, 10, 200),
            _by(_KIT, 0.1, 0.1, 0.1, 0.1, 1, 1, 1, 10),
            {},
            {"fc": (0, 10)},
        ),
        Method(
            "lab",
            "Shop laboratory",
            _by(_KIT, 0.2, 0.3, 0.3, 0.1, 10, 20, 10, 200),
            _by(_KIT, 0.1, 0.1, 0.1, 0.1, 1, 1, 1, 10),
        ),
        Method("salt_meter", "Salinity meter", {"salt": 100}, {"salt": 10}),
        Method("panel", "Chlorinator panel", {"salt": 400, "temp": 2}, {"salt": 100, "temp": 1}),
        Method("thermometer", "Thermometer", {"temp": 1}, {"temp": 1}),
    )
}
