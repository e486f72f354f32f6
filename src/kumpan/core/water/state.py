"""The water as known, and what happens to it: additions, mixing, air, chlorine spent.

A measure may be unknown (None). What is conserved (alkalinity, total carbonate, boron, stabilizer, calcium,
salt, chlorine) is added up; pH follows from it by ``chemistry.solution``.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

from kumpan.core.chemistry import constants as k
from kumpan.core.chemistry.numeric import Real, root
from kumpan.core.chemistry.solution import Solution, Totals, alkalinity_at, at_ph, equilibrate
from kumpan.core.errors import KumpanError
from kumpan.core.water.measures import MEASURES

# The most an addition may bring to a litre, mol, for the activity model to hold (our own limit).
MOST_MOL_L = 0.05


@dataclass(frozen=True)
class AllowedFor:
    """Values that pH chemistry leans on where a measure was not tested: the ends that ask for the smallest
    dose.

    They are never shown, judged or dosed on; ``uncertain.allowing_for`` chooses them.
    """

    fc_ppm: float
    ch_ppm: float
    salt_ppm: float
    temp_c: float


@dataclass(frozen=True)
class WaterState:
    """Measures of one water. ppm = mg/L; FC and CC as Cl2, TA and CH as CaCO3, borate as B, salt as NaCl.

    TA counts every part of the alkalinity: carbonate, cyanurate, borate, chlorine's. None: not known; the
    core never puts a default in its place. Borate alone counts as none until a test says otherwise: few pools
    hold it. Sulfate (as SO4) is counted where known. traces: measures that are only carried along, by id,
    sorted.
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
    sulfate_ppm: float | None = None
    traces: tuple[tuple[str, float], ...] = ()
    allowed_for: AllowedFor | None = None

    @property
    def has_ph_chemistry(self) -> bool:
        """Whether pH can be computed: pH, TA and stabilizer known, the rest known or allowed for."""
        if self.ph is None or self.ta_ppm is None or self.cya_ppm is None:
            return False
        rest = (self.fc_ppm, self.ch_ppm, self.salt_ppm, self.temp_c)
        return self.allowed_for is not None or all(v is not None for v in rest)


def changed(water: WaterState, **fields: Any) -> WaterState:
    """The water with these fields otherwise: as ``dataclasses.replace``, in a fifth of its time."""
    new = object.__new__(WaterState)
    new.__dict__.update(water.__dict__, **fields)
    return new


def with_fields(water: WaterState, values: Mapping[str, float | None]) -> WaterState:
    """The water with some fields replaced."""
    return changed(water, **values)


def value_of(water: WaterState, measure: str) -> float | None:
    """The value of a measure in its canonical unit, None where unknown. Raises KeyError for one no
    water has.
    """
    name = MEASURES[measure].field
    value: float | None = getattr(water, name) if name else dict(water.traces).get(measure)
    return value


def with_measures(water: WaterState, values: Mapping[str, float | None]) -> WaterState:
    """The water with some measures, by id, set to a value or made unknown. What no water has is left out."""
    known = {m: v for m, v in values.items() if m in MEASURES and MEASURES[m].in_state}
    fields: dict[str, float | None] = {MEASURES[m].field: v for m, v in known.items() if MEASURES[m].field}
    carried = dict(water.traces) | {m: v for m, v in known.items() if not MEASURES[m].field}
    traces = tuple(sorted((m, v) for m, v in carried.items() if v is not None))
    return changed(with_fields(water, fields), traces=traces)


# Measures that mix and dilute in proportion, whatever else is in the water.
MIXING = ("fc_ppm", "cc_ppm", "ta_ppm", "ch_ppm", "cya_ppm", "salt_ppm", "temp_c", "sulfate_ppm")


@dataclass(frozen=True)
class Change:
    """What an addition brings to one litre of pool, its chlorine not yet spent.

    All mol/L (alk in eq/L); ``salt_ppm``, ``salt_later_ppm`` in mg/L as NaCl, the latter once the chlorine is
    spent. Changes of several additions add up, whatever their order: that is what makes planning on totals
    exact in a closed water.
    """

    cl2: float = 0.0
    alk: float = 0.0
    carbon: float = 0.0
    cya: float = 0.0
    ca: float = 0.0
    b: float = 0.0
    so4: float = 0.0
    salt_ppm: float = 0.0
    salt_later_ppm: float = 0.0

    def __add__(self, other: "Change") -> "Change":
        return Change(*(getattr(self, f) + getattr(other, f) for f in _CHANGE_FIELDS))

    def __mul__(self, amount: float) -> "Change":
        return Change(*(getattr(self, f) * amount for f in _CHANGE_FIELDS))

    @property
    def spent(self) -> "Change":
        """The same once the free chlorine it brought is used up: HOCl -> H+ + Cl- + 1/2 O2, one equivalent of
        acid a Cl2.

        Nothing comes back where chlorine was taken out.
        """
        gone = max(0.0, self.cl2)
        return replace(
            self,
            cl2=self.cl2 - gone,
            alk=self.alk - gone,
            salt_ppm=self.salt_ppm + self.salt_later_ppm,
            salt_later_ppm=0.0,
        )


_CHANGE_FIELDS = tuple(Change.__dataclass_fields__)


def totals_of(water: WaterState) -> Totals:
    """The conserved totals, total carbonate from pH and alkalinity. Needs ``has_ph_chemistry``.

    mol/L, alkalinity in eq/L. Molar masses: ``constants``.
    """
    return totals_but_carbonate(water)._replace(ct=solution_of(water).ct)


def totals_but_carbonate(water: WaterState) -> Totals:
    """The conserved totals with total carbonate left at 0: eq/L and mol/L. Raises ValueError where a reading
    that pH chemistry needs is missing.
    """
    ta, cya, lean = water.ta_ppm, water.cya_ppm, water.allowed_for
    fc, ch, salt, temp = water.fc_ppm, water.ch_ppm, water.salt_ppm, water.temp_c
    if lean is not None:
        fc, ch = lean.fc_ppm if fc is None else fc, lean.ch_ppm if ch is None else ch
        salt, temp = lean.salt_ppm if salt is None else salt, lean.temp_c if temp is None else temp
    if ta is None or cya is None or fc is None or ch is None or salt is None or temp is None:
        raise ValueError("pH chemistry needs TA, stabilizer, chlorine, calcium, salt and temperature")
    return Totals(
        alk=ta / k.TA_PPM_PER_EQ_L,
        ct=0.0,
        cya=cya / 1000 / k.CYANURIC,
        b=water.borate_ppm / 1000 / k.BORON,
        cl2=fc / 1000 / k.CL2,
        ca=ch / k.CH_PPM_PER_MOL_L,
        salt=salt / 1000 / k.NACL,
        so4=(water.sulfate_ppm or 0.0) / 1000 / k.SULFATE,
        temp_c=float(temp),
    )


@lru_cache(maxsize=1024)
def solution_of(water: WaterState) -> Solution:
    """The water's species at equilibrium. Needs ``has_ph_chemistry``.

    ``ct`` zero or less: the readings conflict (``conflicts``).

    Concentrations mol/L. Stumm & Morgan (1996), chapter 4.
    """
    assert water.ph is not None
    return at_ph(totals_but_carbonate(water), float(water.ph))


def carbonate_of(water: WaterState) -> float:
    """Total carbonate in mol/L. Needs ``has_ph_chemistry``.

    From pH and alkalinity by the equilibria (``solution_of``).
    """
    return float(solution_of(water).ct)


def apply(water: WaterState, change: Change) -> WaterState:
    """The water after an addition has mixed in, none of its chlorine spent. ``apply(water, change.spent)`` is
    it later.

    Closed system, no precipitation, product volume ignored. Unknown measures stay unknown, and pH becomes
    unknown where something that moves it was added and it cannot be computed. Raises ``KumpanError`` where
    more neutraliser goes in than there is chlorine: what is left over would eat the next.

    Conservation of totals, pH by ``chemistry.solution.equilibrate``. ppm and pH; within 0.015 pH of
    PHREEQC (tests/published).
    """

    def plus(value: float | None, rise: float) -> float | None:
        return None if value is None else max(0.0, value + rise)

    if water.fc_ppm is not None and water.fc_ppm + change.cl2 * 1000 * k.CL2 < -1e-9:
        text = "That neutralises more free chlorine than there is; the rest would eat the next chlorine."
        raise KumpanError("too_much_neutraliser", text)
    after = changed(
        water,
        fc_ppm=plus(water.fc_ppm, change.cl2 * 1000 * k.CL2),
        ta_ppm=None if water.ta_ppm is None else water.ta_ppm + change.alk * k.TA_PPM_PER_EQ_L,
        ch_ppm=plus(water.ch_ppm, change.ca * k.CH_PPM_PER_MOL_L),
        cya_ppm=plus(water.cya_ppm, change.cya * 1000 * k.CYANURIC),
        salt_ppm=plus(water.salt_ppm, change.salt_ppm),
        borate_ppm=water.borate_ppm + change.b * 1000 * k.BORON,
        sulfate_ppm=plus(water.sulfate_ppm, change.so4 * 1000 * k.SULFATE),
    )
    if water.has_ph_chemistry:
        return _at_equilibrium(after, carbonate_of(water) + change.carbon, water)
    moves_ph = change.alk or change.carbon or change.cya or change.b or change.cl2
    return changed(after, ph=None) if moves_ph else after


def _at_equilibrium(water: WaterState, ct: float, before: WaterState) -> WaterState:
    """The water at the pH its totals make, with this total carbonate (mol/L, 0 or more). before: what it was,
    whose pH chemistry is known.
    """
    near = totals_but_carbonate(before), solution_of(before)
    found = equilibrate(totals_but_carbonate(water)._replace(ct=ct), before.ph, near)
    return changed(water, ph=float(found.ph))


def aerated(water: WaterState, to_ph: float) -> WaterState:
    """The water after CO2 has left until pH reads ``to_ph``: TA is unchanged (chemistry: aeration).

    By definition: CO2 carries no alkalinity (Stumm & Morgan 1996, chapter 4). pH 6 to 9.
    """
    return changed(water, ph=to_ph)


def mixed(water: WaterState, other: WaterState, share: float) -> WaterState:
    """The mixture holding ``share`` (0 to 1) of the other water. Mass balance of the totals; temperature is
    weighted.

    A measure unknown in either is unknown in the mixture; pH is known where both waters' chemistry is.
    """
    if share == 0:
        return water

    def weighted(a: float | None, b: float | None) -> float | None:
        return None if a is None or b is None else a * (1 - share) + b * share

    mix = {f: weighted(getattr(water, f), getattr(other, f)) for f in MIXING}
    borate = exchanged(water.borate_ppm, share, other.borate_ppm)
    ours, theirs = dict(water.traces), dict(other.traces)
    traces = tuple((m, exchanged(ours[m], share, theirs[m])) for m in sorted(ours.keys() & theirs.keys()))
    after = changed(with_fields(water, mix), ph=None, borate_ppm=borate, traces=traces)
    if not (water.has_ph_chemistry and other.has_ph_chemistry):
        return after
    ct = exchanged(carbonate_of(water), share, carbonate_of(other))
    return _at_equilibrium(after, ct, water)


def evaporated(water: WaterState, fraction: float) -> WaterState:
    """The water after ``fraction`` (0 up to 1) of it has evaporated: what was dissolved stays. No gas
    exchange.

    Mass balance: concentrations grow by 1/(1 - fraction).
    """
    rise = 1 / (1 - fraction)
    kept = [f for f in MIXING if f != "temp_c" and getattr(water, f) is not None]
    after = changed(
        with_fields(water, {f: getattr(water, f) * rise for f in kept}),
        borate_ppm=water.borate_ppm * rise,
        traces=tuple((m, v * rise) for m, v in water.traces),
    )
    return _at_equilibrium(after, carbonate_of(water) * rise, water) if water.has_ph_chemistry else after


def chlorine_spent(water: WaterState, fc_ppm: float) -> WaterState:
    """The water after ``fc_ppm`` of its free chlorine was used up or burnt off by sun.

    HOCl -> H+ + Cl- + 1/2 O2: each Cl2 spent takes one equivalent of alkalinity. At most the free chlorine
    there is.

    fc_ppm as Cl2. Stoichiometry of the reaction above.
    """
    cl2 = fc_ppm / 1000 / k.CL2
    return apply(water, Change(cl2=-cl2, alk=-cl2))


def exchanged(value_ppm: float, fraction: float, fill_ppm: float = 0.0) -> float:
    """A concentration after draining ``fraction`` (0 to 1) and refilling with water that holds ``fill_ppm``.
    Mass balance.

    >>> exchanged(100, 0.4)
    60.0
    """
    return value_ppm * (1 - fraction) + fill_ppm * fraction


def diluted(water: WaterState, fraction: float) -> WaterState:
    """The water after draining ``fraction`` (0 to 1) and refilling with tap water never tested.

    Stabilizer and salt fall by the fraction (tap water carries next to none); chlorine too. What
    the fill brings of pH, TA, calcium and the rest is unknown, so these become unknown until tested.

    Mass balance.
    """
    tap = WaterState(fc_ppm=0.0, cc_ppm=0.0, cya_ppm=0.0, salt_ppm=0.0, temp_c=water.temp_c)
    return mixed(water, tap, fraction)


def largest_amount(per_unit: Change) -> float:
    """Units of an addition up to which the activity model is sound: 0.05 mol/L of anything (2,500 ppm of
    alkalinity).
    """
    moles = max(abs(getattr(per_unit, f)) for f in _CHANGE_FIELDS if not f.startswith("salt"))
    return float(MOST_MOL_L / max(moles, per_unit.salt_ppm / 1000 / k.NACL / 10, 1e-300))


def amount_to_ph(water: WaterState, per_unit: Change, to_ph: float) -> float | None:
    """Units of an addition that bring pH to ``to_ph``; None where it does not get there (within
    ``largest_amount``).

    At the pH wanted, the alkalinity the totals ask for and the alkalinity that the addition leaves must meet:
    one equation in the amount, far cheaper than solving for pH again and again. Needs ``has_ph_chemistry``.

    g or mL, whatever a unit of ``per_unit`` is; pH 6 to 9. Deffeyes (1965) for the picture, the
    equilibria for the numbers.
    """
    totals = totals_of(water)
    salt = per_unit.salt_ppm / 1000 / k.NACL
    so4 = 0.0 if water.sulfate_ppm is None else per_unit.so4  # unknown stays unknown, as in ``apply``

    def short(amount: Real) -> float:
        dosed = totals._replace(
            alk=totals.alk + amount * per_unit.alk,
            ct=totals.ct + amount * per_unit.carbon,
            cya=totals.cya + amount * per_unit.cya,
            b=totals.b + amount * per_unit.b,
            ca=totals.ca + amount * per_unit.ca,
            cl2=totals.cl2 + amount * per_unit.cl2,
            salt=totals.salt + amount * salt,
            so4=totals.so4 + amount * so4,
        )
        return float(alkalinity_at(dosed, to_ph) - dosed.alk)

    most = largest_amount(per_unit)
    for there, taken in (
        (0.999 * totals.ct, per_unit.carbon),
        (totals.cl2, per_unit.cl2),
        (totals.cya, per_unit.cya),
        (totals.b, per_unit.b),
        (totals.ca, per_unit.ca),
        (totals.salt, salt),
        (totals.so4, so4),
    ):
        if taken < 0:  # no more can be taken out than there is
            most = min(most, there / -taken)
    start = short(0.0)
    if abs(start) < 1e-12:
        return 0.0
    if most <= 0:
        return None
    sign = 1.0 if start < 0 else -1.0  # root() looks for an increasing function
    trial = min(most, abs(start) * largest_amount(per_unit) / MOST_MOL_L)  # an amount of the right size
    slope = sign * (short(trial) - start) / trial
    if slope <= 0:  # it starts the wrong way, or not at all
        return None
    amount, _ = root(
        lambda a: sign * short(a), (0.0, most), min(most, abs(start) / slope), slope, trial * 1e-6
    )
    return float(amount) if amount < 0.999 * most else None
