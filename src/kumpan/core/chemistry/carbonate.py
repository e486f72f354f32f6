"""pH and alkalinity of a closed pool water. PROVISIONAL: the full model replaces this module.

Assumes 25 C, ionic strength 0.02, no ion pairs, no chlorine share in the alkalinity (the water
is taken once its added chlorine is spent), no gas exchange. Carbonate, cyanurate and borate
shares are counted: leaving cyanurate out puts an acid dose wrong by a third.
"""

from kumpan.core.chemistry import constants as k

_H2O = 10**-k.PK_WATER
_GAMMA_1 = 10**-0.060  # Davies (1962) at I = 0.02, for the bare H+ in the alkalinity sum


def alkalinity_eq_l(ct_mol_l: float, cya_mol_l: float, b_mol_l: float, ph: float) -> float:
    """Total alkalinity in eq/L of water with these totals (mol/L) at this pH.

    Rises with pH. Sum of carbonate, cyanurate and borate parts + OH - H; see the module for
    what is left out. Stumm & Morgan, Aquatic Chemistry (3rd ed. 1996), chapter 4.
    """
    h: float = 10.0**-ph
    r1 = 10**-k.PK1_CARBONIC / h
    r2 = r1 * 10**-k.PK2_CARBONIC / h
    c1 = 10**-k.PK1_CYANURIC / h
    c2 = c1 * 10**-k.PK2_CYANURIC / h
    b1 = 10**-k.PK_BORIC / h
    charge: float = (
        ct_mol_l * (r1 + 2 * r2) / (1 + r1 + r2)
        + cya_mol_l * (c1 + 2 * c2) / (1 + c1 + c2)
        + b_mol_l * b1 / (1 + b1)
        + _H2O / h
        - h / _GAMMA_1
    )
    return charge


def total_carbonate_mol_l(alk_eq_l: float, cya_mol_l: float, b_mol_l: float, ph: float) -> float:
    """Total carbonate that makes this alkalinity at this pH. Negative means the readings conflict.

    >>> ct = total_carbonate_mol_l(0.002, 0.0003, 0, 7.5)
    >>> round(solve_ph(0.002, ct, 0.0003, 0), 6)
    7.5
    """
    rest = alkalinity_eq_l(0.0, cya_mol_l, b_mol_l, ph)
    per_mol = alkalinity_eq_l(1.0, 0.0, 0.0, ph) - alkalinity_eq_l(0.0, 0.0, 0.0, ph)
    return (alk_eq_l - rest) / per_mol


def solve_ph(alk_eq_l: float, ct_mol_l: float, cya_mol_l: float, b_mol_l: float) -> float:
    """pH (2 to 12) of water with this alkalinity and these totals, by bisection to 1e-9."""
    low, high = 2.0, 12.0
    for _ in range(36):
        middle = (low + high) / 2
        if alkalinity_eq_l(ct_mol_l, cya_mol_l, b_mol_l, middle) < alk_eq_l:
            low = middle
        else:
            high = middle
    return (low + high) / 2
