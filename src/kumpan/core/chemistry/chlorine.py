"""Free chlorine and stabilizer: how much of FC is HOCl, the part that kills.

Assumes equilibrium, activities equal to concentrations, and cyanurate constants known at
25 C only (their temperature dependence is not published); HOCl's own pKa follows Morris.
Trichlorinated cyanurate is left out: it does not exist at pool strength.
"""

from dataclasses import dataclass

from kumpan.core.chemistry import constants as k


@dataclass(frozen=True)
class ChlorineForms:
    """Free chlorine split into its forms, each ppm as Cl2. Their sum is FC."""

    hocl_ppm: float
    ocl_ppm: float
    bound_ppm: float


def hocl_pka(temp_c: float) -> float:
    """pKa of hypochlorous acid, 0 to 45 C: 3000/T - 10.0686 + 0.0253 T.

    Morris (1966), J. Phys. Chem. 70, 3798.

    >>> round(hocl_pka(25), 2)
    7.54
    """
    t_k = temp_c + 273.15
    return 3000 / t_k - 10.0686 + 0.0253 * t_k


def _cyanurate_weights(hocl_mol_l: float, ph: float) -> tuple[float, float]:
    """(sum of all cyanurate species, sum of chlorine bound on them), relative to H2ClCy = 1."""
    h = 10.0**-ph
    h2clcy = 1.0
    hclcy = 10**-k.PK_H2CLCY / h
    clcy = hclcy * 10**-k.PK_HCLCY / h
    h3cy = 10**-k.PK_H2CLCY_RELEASE / hocl_mol_l
    h2cy = h3cy * 10**-k.PK_H3CY / h
    hcy = h2cy * 10**-k.PK_H2CY / h
    cy = hcy * 10**-k.PK_HCY / h
    cl2cy = hclcy * hocl_mol_l / 10**-k.PK_CL2CY_RELEASE
    hcl2cy = cl2cy * h / 10**-k.PK_HCL2CY
    total = h3cy + h2cy + hcy + cy + h2clcy + hclcy + clcy + cl2cy + hcl2cy
    bound = h2clcy + hclcy + clcy + 2 * (cl2cy + hcl2cy)
    return total, bound


def fc_for_hocl(hocl_ppm: float, ph: float, cya_ppm: float, temp_c: float = 25.0) -> float:
    """Free chlorine (ppm as Cl2) at which HOCl is ``hocl_ppm``. Closed form.

    ph 6 to 9, cya_ppm 0 to 300, hocl_ppm above 0. O'Brien, Morris & Butler (1974); Morris (1966).

    >>> round(fc_for_hocl(0.025, 7.5, 50), 1)
    3.0
    """
    hocl = hocl_ppm / 1000 / k.CL2
    ocl = hocl * 10 ** (ph - hocl_pka(temp_c))
    total, bound = _cyanurate_weights(hocl, ph)
    bound_mol = cya_ppm / 1000 / k.CYANURIC * bound / total
    return (hocl + ocl + bound_mol) * 1000 * k.CL2


def forms_of(fc_ppm: float, ph: float, cya_ppm: float, temp_c: float = 25.0) -> ChlorineForms:
    """Split free chlorine into HOCl, OCl- and the part bound on stabilizer.

    fc_ppm 0 or more; FC rises with HOCl at fixed pH, so bisection on ``fc_for_hocl`` finds it.

    >>> round(forms_of(3, 7.5, 30).hocl_ppm, 3)
    0.043
    """
    if fc_ppm < 1e-6:  # nothing: below any test, and near the smallest number there is
        return ChlorineForms(0.0, 0.0, 0.0)
    low, high = 0.0, fc_ppm
    for _ in range(60):
        middle = (low + high) / 2
        if fc_for_hocl(middle, ph, cya_ppm, temp_c) > fc_ppm:
            high = middle
        else:
            low = middle
    hocl = (low + high) / 2
    ocl = hocl * 10 ** (ph - hocl_pka(temp_c))
    return ChlorineForms(hocl, ocl, fc_ppm - hocl - ocl)
