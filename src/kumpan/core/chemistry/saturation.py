"""The Langelier index as people know it, and the ion budget it takes. The equilibrium index is
``solution.Solution.si_calcite``.
"""

import math

from kumpan.core.chemistry import constants as k
from kumpan.core.chemistry.chlorine import cyanurate_at, hocl_of
from kumpan.core.chemistry.equilibria import at_temperature, conditional


def langelier_index(
    ph: float, temp_c: float, ch_ppm: float, carbonate_alkalinity_ppm: float, tds_ppm: float
) -> float:
    """pH - pHs in its closed form: (9.3 + A + B) - (C + D). ch and alkalinity as CaCO3, all above 0.

    Langelier (1936), J. AWWA 28, 1500; the closed form is the one handbooks print. Against the equilibrium
    over 5 to 40 C and 0 to 6,000 ppm salt it differs by -0.06 in the mean, from -0.34 (cold, fresh) to +0.22
    (hot, salty).

    >>> round(langelier_index(7.6, 28.33, 320, 78.6, 1536), 2)
    0.06
    """
    a = (math.log10(tds_ppm) - 1) / 10
    b = -13.12 * math.log10(temp_c + 273.15) + 34.55
    c = math.log10(ch_ppm) - 0.4
    d = math.log10(carbonate_alkalinity_ppm)
    return ph - ((9.3 + a + b) - (c + d))


def dissolved_solids_ppm(
    ta_ppm: float, ch_ppm: float, cya_ppm: float, salt_ppm: float, borate_ppm: float
) -> float:
    """Total dissolved solids from the ion budget, mg/L: salt, calcium, alkalinity as bicarbonate, the
    chloride or sodium that balances them, stabilizer, boric acid.

    Mass and charge balance of what the tests name; anything untested (sulfate, say) is not in it.

    Alkalinity and calcium in ppm as CaCO3, borate as B, salt as NaCl. Molar masses: ``constants``.
    """
    alk, ca = ta_ppm / k.TA_PPM_PER_EQ_L, ch_ppm / k.CH_PPM_PER_MOL_L
    over = 2 * ca - alk
    balance = over * k.CHLORIDE if over > 0 else -over * k.SODIUM
    boric = borate_ppm * k.BORIC_ACID / k.BORON
    return salt_ppm + 1000 * (ca * k.CALCIUM + alk * k.BICARBONATE_ION + balance) + cya_ppm + boric


def other_alkalinity_ppm(ph: float, temp_c: float, cya_ppm: float, borate_ppm: float, fc_ppm: float) -> float:
    """What of the alkalinity (ppm as CaCO3) stabilizer, borate and chlorine make, in an ideal solution: the
    trade's correction. pH 6 to 9, 0 to 50 C.

    Total alkalinity less this is what the Langelier form takes; where it is negative the readings conflict.
    The equilibrium model, which counts activities, takes a little more off in salty water. Constants:
    ``constants``.

    >>> round(90 - other_alkalinity_ppm(7.6, 28.33, 35, 0, 0), 1)
    78.6
    """
    c, h = conditional(at_temperature(float(temp_c)), 0.0), 10.0**-ph
    y, ocl_per = cyanurate_at(c, h), c.ocl / h
    cya = cya_ppm / 1000 / k.CYANURIC
    x = hocl_of(fc_ppm / 1000 / k.CL2, cya, 1 + ocl_per, y)
    others = cya * (y.a0 + (y.a1 + y.a2 * x) * x) / (y.w0 + (y.w1 + y.w2 * x) * x)
    others += borate_ppm / 1000 / k.BORON * c.borate / (c.borate + h) + x * ocl_per + c.oh / h - c.proton * h
    return float(others * k.TA_PPM_PER_EQ_L)
