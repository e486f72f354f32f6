"""The water as known: an immutable state in which a measure may be unknown (None)."""

from dataclasses import dataclass, replace

from kumpan.core.chemistry import carbonate
from kumpan.core.chemistry import constants as k


@dataclass(frozen=True)
class WaterState:
    """Measures of one water. ppm = mg/L; FC and CC as Cl2, TA and CH as CaCO3, borate as B.

    None: not known. The core never puts a default in its place. TA and pH after an addition are
    those of the water once the added chlorine is spent. Borate alone counts as none until a
    test says otherwise: few pools hold it and the present forms do not ask.
    """

    fc_ppm: float | None = None
    cc_ppm: float | None = None
    ph: float | None = None
    ta_ppm: float | None = None
    ch_ppm: float | None = None
    cya_ppm: float | None = None
    salt_ppm: float | None = None
    temp_c: float | None = None
    borate_ppm: float = 0.0

    @property
    def has_ph_chemistry(self) -> bool:
        """Whether a pH change can be computed: pH, TA and stabilizer are all known."""
        return self.ph is not None and self.ta_ppm is not None and self.cya_ppm is not None


@dataclass(frozen=True)
class Change:
    """What an addition brings to one litre of pool, once its chlorine is spent.

    All mol/L (alk in eq/L); ``salt_ppm`` in mg/L as NaCl. Changes of several additions add up,
    whatever their order: that is what makes planning on totals exact in a closed water.
    """

    cl2: float = 0.0
    alk: float = 0.0
    carbon: float = 0.0
    cya: float = 0.0
    ca: float = 0.0
    b: float = 0.0
    salt_ppm: float = 0.0

    def __add__(self, other: "Change") -> "Change":
        return Change(
            self.cl2 + other.cl2, self.alk + other.alk, self.carbon + other.carbon, self.cya + other.cya,
            self.ca + other.ca, self.b + other.b, self.salt_ppm + other.salt_ppm,
        )  # fmt: skip


def carbonate_of(water: WaterState) -> float:
    """Total carbonate in mol/L. Needs pH, TA and stabilizer (``has_ph_chemistry``)."""
    assert water.ph is not None and water.ta_ppm is not None and water.cya_ppm is not None
    return carbonate.total_carbonate_mol_l(
        water.ta_ppm / k.TA_PPM_PER_EQ_L,
        water.cya_ppm / 1000 / k.CYANURIC,
        water.borate_ppm / 1000 / k.BORON,
        water.ph,
    )


def apply(water: WaterState, change: Change) -> WaterState:
    """The water after an addition has mixed and its chlorine is spent (FC shown as raised).

    Closed system, product volume ignored. Unknown measures stay unknown, and pH becomes unknown
    where something that moves it was added and it cannot be computed.
    """

    def plus(value: float | None, rise: float) -> float | None:
        return None if value is None else max(0.0, value + rise)

    ta = None if water.ta_ppm is None else water.ta_ppm + change.alk * k.TA_PPM_PER_EQ_L
    cya = plus(water.cya_ppm, change.cya * 1000 * k.CYANURIC)
    borate = water.borate_ppm + change.b * 1000 * k.BORON
    ph = water.ph
    if change.alk or change.carbon or change.cya or change.b:
        ph = None
        if water.has_ph_chemistry and ta is not None and cya is not None:
            ph = carbonate.solve_ph(
                ta / k.TA_PPM_PER_EQ_L,
                carbonate_of(water) + change.carbon,
                cya / 1000 / k.CYANURIC,
                borate / 1000 / k.BORON,
            )
    return replace(
        water,
        fc_ppm=plus(water.fc_ppm, change.cl2 * 1000 * k.CL2),
        ph=ph,
        ta_ppm=ta,
        ch_ppm=plus(water.ch_ppm, change.ca * k.CH_PPM_PER_MOL_L),
        cya_ppm=cya,
        salt_ppm=plus(water.salt_ppm, change.salt_ppm),
        borate_ppm=borate,
    )


def aerated(water: WaterState, to_ph: float) -> WaterState:
    """The water after CO2 has left until pH reads ``to_ph``: TA is unchanged (chemistry: aeration)."""
    return replace(water, ph=to_ph)


def exchanged(value_ppm: float, fraction: float, fill_ppm: float = 0.0) -> float:
    """A concentration after draining ``fraction`` (0 to 1) and refilling with water that holds ``fill_ppm``. Mass balance.

    >>> exchanged(100, 0.4)
    60.0
    """
    return value_ppm * (1 - fraction) + fill_ppm * fraction


def diluted(water: WaterState, fraction: float) -> WaterState:
    """The water after draining ``fraction`` (0 to 1) and refilling with tap water never tested.

    Stabilizer and salt fall by the fraction (tap water carries next to none); chlorine too. What
    the fill brings of pH, TA and calcium is unknown, so these become unknown until tested.
    """

    def share(value: float | None) -> float | None:
        return None if value is None else exchanged(value, fraction)

    return replace(
        water,
        fc_ppm=share(water.fc_ppm),
        cc_ppm=share(water.cc_ppm),
        cya_ppm=share(water.cya_ppm),
        salt_ppm=share(water.salt_ppm),
        borate_ppm=exchanged(water.borate_ppm, fraction),
        ph=None,
        ta_ppm=None,
        ch_ppm=None,
    )
