"""What a closed water of given totals is: its pH, its species, the parts of its alkalinity.

Total carbonate, boron, cyanurate, calcium, salt, sulfate, free chlorine and alkalinity are conserved on
mixing and dosing; pH follows from them. Every function takes floats, or numpy arrays with one element a
water.

Assumes: no gas exchange, no precipitation, chlorine and cyanurate at equilibrium, and the ion budget of the
trade's few tests (salt gives Na = Cl; calcium balances alkalinity, the rest made up by Na or Cl).
Stumm & Morgan, Aquatic Chemistry (3rd ed. 1996), chapter 4, with the constants of ``constants``.
"""

from collections.abc import Callable
from typing import NamedTuple

from kumpan.core.chemistry.chlorine import cyanurate_at, hocl_of
from kumpan.core.chemistry.equilibria import AtTemperature, Conditional, at_temperature, conditional
from kumpan.core.chemistry.numeric import Real, largest, log10, pick, root

PH_LOW, PH_HIGH = 0.0, 14.0
# Two rounds on the ionic strength: a third would move pH by less than 1e-5. The last secant step is far
# nearer than its length.
_TOLERANCES = (2e-2, 1e-4)
# A strength this near to what its medium was made for (mol/L) needs no other round: pH moves by less than
# 5e-5.
_SAME_STRENGTH = 5e-5


class Totals(NamedTuple):
    """The conserved totals of a water, mol/L (alk in eq/L, counting every part), and its temperature.

    cl2: free chlorine; salt: NaCl.
    """

    alk: Real
    ct: Real
    cya: Real
    b: Real
    cl2: Real
    ca: Real
    salt: Real
    so4: Real
    temp_c: Real


class Solution(NamedTuple):
    """One water at equilibrium. Concentrations mol/L; alkalinity parts eq/L and their sum the total.

    cyanurate_alk counts the chlorinated forms too; water_alk is OH - H. co2_atm: the pressure of CO2
    it stands in balance with. si_calcite: log10 of ion product over solubility product (minus infinity
    without calcium).
    """

    ph: Real
    alk: Real
    ct: Real
    ionic_strength: Real
    hocl: Real
    ocl: Real
    bound: Real
    carbonate_alk: Real
    cyanurate_alk: Real
    borate_alk: Real
    hypochlorite_alk: Real
    water_alk: Real
    calcium: Real
    carbonate: Real
    co2: Real
    co2_atm: Real
    si_calcite: Real


class _Medium(NamedTuple):
    """What the carbonate system stands in: conditional constants, sodium, free sulfate and its hold on
    calcium.
    """

    c: Conditional
    na: Real
    so4: Real
    so4_hold: Real


def _sodium(t: Totals, alk: Real) -> Real:
    short = alk - 2 * t.ca
    return t.salt + 2 * t.so4 + pick(short > 0, short, 0.0 * t.salt)


def _chloride(t: Totals, alk: Real) -> Real:
    over = 2 * t.ca - alk
    return t.salt + pick(over > 0, over, 0.0 * t.salt)


class _Ions(NamedTuple):
    """What a medium is made of: free calcium and ionic strength."""

    calcium: Real
    strength: Real


def _ions_of(t: Totals, alk: Real) -> _Ions:
    """By the totals alone, nothing of them paired."""
    return _Ions(t.ca, 0.5 * (_sodium(t, alk) + _chloride(t, alk) + 4 * (t.ca + t.so4) + abs(alk)))


def _medium(t: Totals, alk: Real, at: AtTemperature, ions: _Ions) -> _Medium:
    """The medium that these ions make."""
    na = _sodium(t, alk)
    calcium, strength = ions
    if isinstance(t.so4, float) and t.so4 == 0:
        return _Medium(conditional(at, strength, sulfate=False), na, 0.0, 0.0)
    c = conditional(at, strength)
    free = t.so4 / (1 + c.caso4 * calcium + c.naso4 * na)
    return _Medium(c, na, free, c.caso4 * free)


def _others(t: Totals, m: _Medium, h: Real) -> tuple[Real, Real, Real, Real, Real]:
    """[HOCl] and the cyanurate, borate, hypochlorite and water parts of the alkalinity at H+
    activity ``h``.
    """
    c = m.c
    ocl_per = c.ocl / h
    y = cyanurate_at(c, h)
    x = hocl_of(t.cl2, t.cya, 1 + ocl_per, y)
    cyanurate = t.cya * (y.a0 + (y.a1 + y.a2 * x) * x) / (y.w0 + (y.w1 + y.w2 * x) * x)
    borate = t.b * c.borate / (c.borate + h)
    return x, cyanurate, borate, x * ocl_per, c.oh / h - c.proton * h


def _carbonate_terms(m: _Medium, h: Real) -> tuple[Real, Real, Real, Real]:
    """a, b, p, q: CT = a x + b x [Ca] and carbonate alkalinity = p x + q x [Ca], x = [CO3]."""
    c = m.c
    hco3 = c.hco3_co3 * h
    pair_na = m.na * (c.naco3 + c.nahco3 * hco3)
    a = 1 + hco3 * (1 + c.co2_hco3 * h) + pair_na
    b = c.caco3 + c.cahco3 * hco3
    p = 2 + hco3 + m.na * (2 * c.naco3 + c.nahco3 * hco3)
    return a, b, p, 2 * c.caco3 + c.cahco3 * hco3


def _carbonate_from_ct(t: Totals, m: _Medium, h: Real) -> tuple[Real, Real]:
    """[CO3] and the carbonate alkalinity from total carbonate."""
    a, b, p, q = _carbonate_terms(m, h)
    free = 1 + m.so4_hold
    x = _positive_root(a * b, a * free + b * (t.ca - t.ct), t.ct * free)
    return x, x * (p + q * t.ca / (free + b * x))


def _positive_root(square: Real, linear: Real, constant: Real) -> Real:
    """The positive x of square x^2 + linear x = constant, all but linear positive."""
    return 2 * constant / (linear + (linear * linear + 4 * square * constant) ** 0.5)


class _Trial(NamedTuple):
    """What a trial pH makes of the totals: alkalinity, total carbonate, [CO3], the carbonate part of the
    alkalinity, and the other parts (``_others``).
    """

    ph: Real
    alk: Real
    ct: Real
    x: Real
    carbonate_alk: Real
    others: tuple[Real, ...]


def _ions(t: Totals, m: _Medium, trial: _Trial) -> _Ions:
    """Those that the species at a trial pH make."""
    ph, alk, _, x, carbonate_alk, others = trial
    h, c = 10.0**-ph, m.c
    _, cyanurate, borate, ocl, _ = others
    _, b, p, _ = _carbonate_terms(m, h)
    calcium = t.ca / (1 + m.so4_hold + b * x)
    # HCO3 and CaHCO3, then the rest of what is charged once.
    single = c.hco3_co3 * h * x + (carbonate_alk - p * x - 2 * c.caco3 * x * calcium)
    single = single + m.na * c.naco3 * x + cyanurate + borate + ocl + c.oh / h + c.proton * h
    return _Ions(calcium, 0.5 * (m.na + _chloride(t, alk) + 4 * (calcium + x) + single) + 2 * m.so4)


def _solution(t: Totals, m: _Medium, trial: _Trial, ions: _Ions) -> Solution:
    """The species at a trial pH."""
    ph, alk, ct, x, carbonate_alk, others = trial
    h, c = 10.0**-ph, m.c
    hocl, cyanurate, borate, ocl, water = others
    calcium, strength = ions
    co2 = c.co2_hco3 * h * c.hco3_co3 * h * x
    product = x * calcium / c.ksp_conditional
    return Solution(
        ph=ph,
        alk=alk,
        ct=ct,
        ionic_strength=strength,
        hocl=hocl,
        ocl=ocl,
        bound=t.cl2 - hocl - ocl,
        carbonate_alk=carbonate_alk,
        cyanurate_alk=cyanurate,
        borate_alk=borate,
        hypochlorite_alk=ocl,
        water_alk=water,
        calcium=calcium,
        carbonate=x,
        co2=co2,
        co2_atm=co2 / c.gas,
        si_calcite=pick(product > 0, log10(pick(product > 0, product, 1.0)), float("-inf")),
    )


def at_ph(t: Totals, ph: Real) -> Solution:
    """The water that has this pH and alkalinity; ``t.ct`` is not read: total carbonate is what they ask for.

    The answer's ``ct`` (and ``carbonate_alk``) is negative where the totals leave no alkalinity to carbonate:
    such water cannot be.

    pH 0 to 14. Stumm & Morgan (1996), chapter 4, with Plummer & Busenberg (1982) for carbonate and
    calcium.
    """
    at, h = at_temperature(t.temp_c), 10.0**-ph
    ions = _ions_of(t, t.alk)
    for _ in _TOLERANCES:
        m = _medium(t, t.alk, at, ions)
        others = _others(t, m, h)
        carbonate_alk = t.alk - others[1] - others[2] - others[3] - others[4]
        a, b, p, q = _carbonate_terms(m, h)
        free = 1 + m.so4_hold
        # A water that cannot be has a negative rest: solved as its mirror image, so that the sign stays told.
        size = abs(carbonate_alk)
        x = _positive_root(p * b, p * free + q * t.ca - size * b, size * free)
        ct = x * (a + b * t.ca / (free + b * x)) * pick(carbonate_alk < 0, -1.0, 1.0)
        trial = _Trial(ph, t.alk, ct, x, carbonate_alk, others)
        ions = _ions(t, m, trial)
    return _solution(t, m, trial, ions)


def alkalinity_at(t: Totals, ph: Real) -> Real:
    """Alkalinity (eq/L) the totals would need for this pH; ``t.alk`` is only a first guess.

    pH 0 to 14; ``t.ct`` mol/L, 0 or more. Stumm & Morgan (1996), chapter 4.
    """
    at, h, alk = at_temperature(t.temp_c), 10.0**-ph, t.alk
    ions = _ions_of(t, alk)
    for _ in _TOLERANCES:
        m = _medium(t, alk, at, ions)
        x, carbonate_alk = _carbonate_from_ct(t, m, h)
        others = _others(t, m, h)
        alk = carbonate_alk + others[1] + others[2] + others[3] + others[4]
        ions = _ions(t, m, _Trial(ph, alk, t.ct, x, carbonate_alk, others))
    return alk


def equilibrate(t: Totals, guess_ph: Real = 7.5, near: tuple[Totals, Solution] | None = None) -> Solution:
    """The water these totals make: pH from the alkalinity balance, to 1e-5 at its
    activities, which three passes leave within 5e-5 of pH.

    Total carbonate must be zero or more. pH 0 to 14; ``guess_ph`` and ``near``, a like water with its
    solution, only save time.

    Stumm & Morgan (1996), chapter 4; within 0.015 pH of PHREEQC over pool waters (tests/published).
    """
    ions = _ions_of(t, t.alk)
    if near is not None:  # what its ions are off from those of its totals, ours are too
        like, s = near
        ions = _Ions(
            s.calcium + t.ca - like.ca, ions.strength + s.ionic_strength - _ions_of(like, like.alk).strength
        )
    tolerances = _TOLERANCES if near is None else _TOLERANCES[1:]
    return _solve(
        t,
        (guess_ph, ions, tolerances),
        _carbonate_from_ct,
        lambda m, h, x: t.ct,
        lambda m, h: _buffer(t, m, h),
    )


def in_air(t: Totals, co2_atm: Real, guess_ph: Real = 8.2) -> Solution:
    """The water once its CO2 is in balance with ``co2_atm`` (above 0): alkalinity stays, total carbonate
    follows.

    Henry's law with Plummer & Busenberg (1982); Stumm & Morgan (1996), chapter 4.
    """

    def carbonate(t: Totals, m: _Medium, h: Real) -> tuple[Real, Real]:
        x = m.c.gas * co2_atm / (m.c.co2_hco3 * m.c.hco3_co3 * h * h)
        _, b, p, q = _carbonate_terms(m, h)
        return x, x * (p + q * t.ca / (1 + m.so4_hold + b * x))

    def ct(m: _Medium, h: Real, x: Real) -> Real:
        a, b, _, _ = _carbonate_terms(m, h)
        return x * (a + b * t.ca / (1 + m.so4_hold + b * x))

    # At a CO2 held, bicarbonate rises tenfold a pH.
    start = guess_ph, _ions_of(t, t.alk), _TOLERANCES
    return _solve(t, start, carbonate, ct, lambda m, h: 2.3 * abs(t.alk) + 1e-7)


def _buffer(t: Totals, m: _Medium, h: Real) -> Real:
    """About how much alkalinity (eq/L) a unit of pH takes: each weak acid's C r / (1 + r)^2 ln 10, pairs and
    chlorine left out.

    Van Slyke (1922), J. Biol. Chem. 52, 525. A first step for the solver, nothing more.
    """
    carbonic, cyanuric, boric = m.c.co2_hco3 * h, m.c.h3cy * h, m.c.borate / h
    weak = (
        t.ct * carbonic / (1 + carbonic) ** 2
        + t.cya * cyanuric / (1 + cyanuric) ** 2
        + t.b * boric / (1 + boric) ** 2
    )
    return 2.3 * (abs(weak) + h + m.c.oh / h) + 1e-7


def _solve(
    t: Totals,
    start: tuple[Real, _Ions, tuple[float, ...]],
    carbonate: Callable[[Totals, _Medium, Real], tuple[Real, Real]],
    ct_of: Callable[[_Medium, Real, Real], Real],
    buffer: Callable[[_Medium, Real], Real],
) -> Solution:
    """pH at which the parts of the alkalinity add up to ``t.alk``.

    ``start``: a pH, the ions of the first medium, and how near each round is to come; another follows where
    the last one's ions turned out otherwise. ``carbonate`` gives [CO3] and its share at a trial pH, ``ct_of``
    total carbonate, ``buffer`` a first slope.
    """
    at, zero = at_temperature(t.temp_c), 0.0 * t.alk
    guess_ph, ions, tolerances = start
    last: tuple[Real, Real, Real, tuple[Real, ...]] = (zero, zero, zero, ())
    ph, slope = guess_ph + zero, None
    for tolerance in (*tolerances, _TOLERANCES[-1]):
        m = _medium(t, t.alk, at, ions)

        def excess(trial: Real, m: _Medium = m) -> Real:
            nonlocal last
            h = 10.0**-trial
            last = (h, *carbonate(t, m, h), _others(t, m, h))
            return last[2] + sum(last[3][1:]) - t.alk

        def model(trial: Real, m: _Medium = m) -> Real:
            return buffer(m, 10.0**-trial)

        known = model if slope is None else slope
        ph, slope = root(excess, (PH_LOW + zero, PH_HIGH + zero), ph, known, tolerance)
        fine = tolerance == _TOLERANCES[-1]
        if fine:  # the answer itself; for a first round's medium the last trial is near enough
            excess(ph)
        h, x, carbonate_alk, others = last
        trial = _Trial(ph, t.alk, ct_of(m, h, x), x, carbonate_alk, others)
        before, ions = ions, _ions(t, m, trial)
        if fine and (len(tolerances) > 1 or largest(ions.strength - before.strength) <= _SAME_STRENGTH):
            break
    return _solution(t, m, trial, ions)
