"""Free chlorine and stabilizer: how much of FC is HOCl, the part that kills.

Assumes equilibrium, and cyanurate constants known at 25 C only (their temperature dependence is not
published); HOCl's own pKa follows Morris. Trichlorinated cyanurate is left out: it does not
exist at pool strength.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

from kumpan.core.chemistry import constants as k
from kumpan.core.chemistry.equilibria import Conditional, at_temperature, conditional
from kumpan.core.chemistry.numeric import Real, largest


@dataclass(frozen=True)
class ChlorineForms:
    """Free chlorine split into its forms, each ppm as Cl2. Their sum is FC."""

    hocl_ppm: float
    ocl_ppm: float
    bound_ppm: float


class Cyanurate(NamedTuple):
    """All cyanurate relative to H2Cy- at one pH, as polynomials in [HOCl].

    w0 + w1 x + w2 x^2 is the sum of species holding no, one and two chlorines; a0, a1, a2 the same
    weighted with each species' share in the alkalinity (H2Cy 1, HCy 2, Cy 3; HClCy 1, ClCy 2; Cl2Cy 1).
    """

    w0: Real
    w1: Real
    w2: Real
    a0: Real
    a1: Real
    a2: Real


def cyanurate_at(c: Conditional, h: Real) -> Cyanurate:
    """The cyanurate polynomials at H+ activity ``h``. O'Brien, Morris & Butler (1974)."""
    hcy = c.hcy / h
    cy = hcy * c.cy / h
    clcy = c.clcy / h
    w1 = c.hclcy * (1 + c.h2clcy * h + clcy)
    cl2 = c.hclcy * c.cl2cy
    # Positional, as the class lists them: worked out at every trial of every solution.
    return Cyanurate(
        1 + c.h3cy * h + hcy + cy,
        w1,
        cl2 * (1 + c.hcl2cy * h),
        1 + 2 * hcy + 3 * cy,
        c.hclcy * (1 + 2 * clcy),
        cl2,
    )


def hocl_of(fc_mol_l: Real, cya_mol_l: Real, per_hocl: Real, y: Cyanurate) -> Real:
    """[HOCl] (mol/L) from the chlorine and cyanurate balances; ``per_hocl`` = 1 + [OCl]/[HOCl].

    FC rises with HOCl along a concave curve (the first chlorine binds hardest), so Newton's steps from below
    never overshoot.

    All concentrations mol/L, 0 or more. O'Brien, Morris & Butler (1974); Morris (1966).
    """
    one = isinstance(fc_mol_l, float) and isinstance(per_hocl, float)
    if one and fc_mol_l == 0:
        return 0.0
    w0, w1, w2 = y.w0, y.w1, y.w2
    x = fc_mol_l / (per_hocl + cya_mol_l * w1 / w0)
    for _ in range(60):
        two = w2 * x
        filled = w1 + two + two
        total = w0 + (w1 + two) * x
        slope = per_hocl + cya_mol_l * ((filled + two + two) * total - x * filled * filled) / (total * total)
        step = (fc_mol_l - per_hocl * x - cya_mol_l * x * filled / total) / slope
        x = x + step
        # Steps shrink with their square: the next would be far under a millionth of this one.
        if (abs(step) < 1e-5 * x) if one else largest(step / (x + 1e-30)) < 1e-5:
            break
    return x


@lru_cache(maxsize=256)
def _ideal(temp_c: float) -> Conditional:
    return conditional(at_temperature(temp_c), 0.0)


def fc_for_hocl(hocl_ppm: float, ph: float, cya_ppm: float, temp_c: float = 25.0) -> float:
    """Free chlorine (ppm as Cl2) at which HOCl is ``hocl_ppm``. Closed form, ideal solution.

    ph 6 to 9, cya_ppm 0 to 300, hocl_ppm above 0. O'Brien, Morris & Butler (1974); Morris (1966).

    >>> round(fc_for_hocl(0.025, 7.5, 50), 1)
    3.0
    """
    c, h, x = _ideal(float(temp_c)), 10.0**-ph, hocl_ppm / 1000 / k.CL2
    y = cyanurate_at(c, h)
    bound = (y.w1 + 2 * y.w2 * x) * x / (y.w0 + (y.w1 + y.w2 * x) * x)
    return float((x * (1 + c.ocl / h) + cya_ppm / 1000 / k.CYANURIC * bound) * 1000 * k.CL2)


def forms_of(fc_ppm: float, ph: float, cya_ppm: float, temp_c: float = 25.0) -> ChlorineForms:
    """Split free chlorine into HOCl, OCl- and the part bound on stabilizer, in an ideal solution.

    Activities equal concentrations: how the trade's tables and its HOCl levels are stated. fc_ppm and cya_ppm
    0 or more.

    pH 6 to 9, 0 to 45 C. O'Brien, Morris & Butler (1974); Morris (1966).

    >>> round(forms_of(3, 7.5, 30).hocl_ppm, 3)
    0.043
    """
    c, h = _ideal(float(temp_c)), 10.0**-ph
    per_hocl = 1 + c.ocl / h
    x = hocl_of(fc_ppm / 1000 / k.CL2, cya_ppm / 1000 / k.CYANURIC, per_hocl, cyanurate_at(c, h))
    hocl = x * 1000 * k.CL2
    ocl = hocl * c.ocl / h
    return ChlorineForms(hocl, ocl, max(0.0, fc_ppm - hocl - ocl))
