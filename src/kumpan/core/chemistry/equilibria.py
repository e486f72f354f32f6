"""Equilibrium constants at a temperature, and what they become at an ionic strength.

Valid 0 to 50 C and ionic strengths up to about 0.2 (12,000 ppm salt). pH is an activity, every
other quantity a concentration in mol/L (taken equal to mol/kg: pool water is that dilute).
"""

from functools import lru_cache
from typing import NamedTuple

from kumpan.core.chemistry import constants as k
from kumpan.core.chemistry.numeric import Real, log10


class AtTemperature(NamedTuple):
    """Thermodynamic constants at one temperature. a, b: the Debye-Hückel coefficients."""

    a: Real
    b: Real
    k1: Real
    k2: Real
    henry: Real
    ksp_calcite: Real
    caco3: Real
    cahco3: Real
    water: Real
    boric: Real
    naco3: Real
    nahco3: Real
    caso4: Real
    naso4: Real
    hocl: Real


def hocl_pka(temp_c: Real) -> Real:
    """pKa of hypochlorous acid, 0 to 45 C: 3000/T - 10.0686 + 0.0253 T.

    Morris (1966), J. Phys. Chem. 70, 3798.

    >>> round(hocl_pka(25), 2)
    7.54
    """
    t_k = temp_c + 273.15
    return 3000 / t_k - 10.0686 + 0.0253 * t_k


def debye_hueckel(temp_c: Real) -> tuple[Real, Real]:
    """Coefficients A and B (1/angstrom) of the activity model at a temperature.

    Permittivity: Malmberg & Maryott (1956), J. Res. NBS 56, 1. Density of water: the same closed form as
    PHREEQC's older versions (from memory); it differs from 1 by 0.8 % at most here.

    >>> a, b = debye_hueckel(25.0)
    >>> round(a, 3), round(b, 3)
    (0.511, 0.329)
    """
    t_k = temp_c + 273.15
    permittivity = 87.740 - 0.40008 * temp_c + 9.398e-4 * temp_c**2 - 1.410e-6 * temp_c**3
    density = 1 - (temp_c - 3.9863) ** 2 * (temp_c + 288.9414) / (508929.2 * (temp_c + 68.12963))
    et = permittivity * t_k
    return 1.82483e6 * density**0.5 / et**1.5, 50.2916 * (density / et) ** 0.5


def at_temperature(temp_c: Real) -> AtTemperature:
    """Every temperature-dependent constant at ``temp_c`` (0 to 50 C); sources in ``constants``."""
    return _cached(temp_c) if isinstance(temp_c, float) else _at_temperature(temp_c)


def _at_temperature(temp_c: Real) -> AtTemperature:
    t = temp_c + 273.15
    log_t = log10(t)

    def fitted(c: tuple[float, ...]) -> Real:
        return 10 ** (c[0] + c[1] * t + c[2] / t + c[3] * log_t + c[4] / (t * t) + c[5] * t * t)

    # d ln K / d(1/T) = -dH/R, as log10 from 25 C.
    hoff = (1 / t - 1 / 298.15) / (k.GAS_CONSTANT_KCAL * 2.302585092994046)

    def van_t_hoff(c: tuple[float, float]) -> Real:
        return 10 ** (c[0] - c[1] * hoff)

    a, b = debye_hueckel(temp_c)
    return AtTemperature(
        a=a,
        b=b,
        k1=fitted(k.LOG_K1),
        k2=fitted(k.LOG_K2),
        henry=fitted(k.LOG_KH),
        ksp_calcite=fitted(k.LOG_KSP_CALCITE),
        caco3=fitted(k.LOG_K_CACO3),
        cahco3=fitted(k.LOG_K_CAHCO3),
        water=fitted(k.LOG_KW),
        boric=van_t_hoff(k.BORIC_ACIDITY),
        naco3=van_t_hoff(k.PAIR_NACO3),
        nahco3=van_t_hoff(k.PAIR_NAHCO3),
        caso4=van_t_hoff(k.PAIR_CASO4),
        naso4=van_t_hoff(k.PAIR_NASO4),
        hocl=10 ** -hocl_pka(temp_c),
    )


_cached = lru_cache(maxsize=256)(_at_temperature)


class Conditional(NamedTuple):
    """Concentration ratios at one temperature and ionic strength; ``h`` is the activity of H+, 10^-pH.

    co2_hco3: [CO2]/[HCO3] = co2_hco3 h. hco3_co3: [HCO3]/[CO3] = hco3_co3 h. oh: [OH] = oh/h.
    proton: [H] = proton h. borate: [H2BO3]/[H3BO3] = borate/h. ocl: [OCl]/[HOCl] = ocl/h.
    h3cy: [H3Cy]/[H2Cy] = h3cy h; hcy: [HCy]/[H2Cy] = hcy/h; cy: [Cy]/[HCy] = cy/h.
    hclcy: [HClCy]/([H2Cy][HOCl]); h2clcy: [H2ClCy]/[HClCy] = h2clcy h; clcy: [ClCy]/[HClCy] = clcy/h.
    cl2cy: [Cl2Cy]/([HClCy][HOCl]); hcl2cy: [HCl2Cy]/[Cl2Cy] = hcl2cy h.
    Pair constants: caco3, cahco3 (of Ca), naco3, nahco3 (of Na), caso4, naso4.
    ksp_conditional: [Ca][CO3] at saturation. gas: [CO2] over the pressure of CO2 in atm.
    """

    co2_hco3: Real
    hco3_co3: Real
    oh: Real
    proton: Real
    borate: Real
    ocl: Real
    h3cy: Real
    hcy: Real
    cy: Real
    hclcy: Real
    h2clcy: Real
    clcy: Real
    cl2cy: Real
    hcl2cy: Real
    caco3: Real
    cahco3: Real
    naco3: Real
    nahco3: Real
    caso4: Real
    naso4: Real
    ksp_conditional: Real
    gas: Real


_K_H3CY, _K_H2CY, _K_HCY = 10**-k.PK_H3CY, 10**-k.PK_H2CY, 10**-k.PK_HCY
_K_H2CLCY, _K_HCLCY, _K_HCL2CY = 10**-k.PK_H2CLCY, 10**-k.PK_HCLCY, 10**-k.PK_HCL2CY
_K_HCLCY_RELEASE, _K_CL2CY_RELEASE = 10**-k.PK_HCLCY_RELEASE, 10**-k.PK_CL2CY_RELEASE


def conditional(at: AtTemperature, ionic_strength: Real, sulfate: bool = True) -> Conditional:
    """Constants made conditional at an ionic strength (mol/L, 0 to about 0.2).

    Truesdell & Jones (1974) for carbonate and cations, Davies (1962) for the other ions. The
    cyanurate constants are known at 25 C only and used at every temperature. At strength 0 this
    is the ideal solution. sulfate: False saves its pairs where there is none.
    """
    root_i = ionic_strength**0.5
    davies = -at.a * (root_i / (1 + root_i) - k.DAVIES_LINEAR * ionic_strength)
    g1, g2, g3 = 10**davies, 10 ** (4 * davies), 10 ** (9 * davies)
    g0 = 10 ** (k.NEUTRAL_SALTING * ionic_strength)
    hueckel, size = -at.a * root_i, at.b * root_i

    def g(ion: tuple[float, float], charges: int) -> Real:
        return 10 ** (charges * hueckel / (1 + size * ion[0]) + ion[1] * ionic_strength)

    g_hco3 = g(k.ION_CARBONATE, 1)
    g_co3 = g_hco3**4  # the same ion size: four times the exponent
    g_ca, g_na, g_cahco3 = g(k.ION_CA, 4), g(k.ION_NA, 1), g(k.ION_CAHCO3, 1)
    caso4 = naso4 = 0.0
    if sulfate:
        g_so4 = g(k.ION_SO4, 4)
        caso4, naso4 = at.caso4 * g_ca * g_so4 / g0, at.naso4 * g_na * g_so4 / g(k.ION_NASO4, 1)
    # CaHCO3: Ca + HCO3 with the constants of Plummer & Busenberg. Positional, as the class lists them: it
    # saves a third of the time.
    return Conditional(
        g_hco3 / (at.k1 * g0),
        g_co3 / (at.k2 * g_hco3),
        at.water / g(k.ION_OH, 1),
        1 / g(k.ION_H, 1),
        at.boric * g0 / g1,
        at.hocl * g0 / g1,
        g1 / (_K_H3CY * g0),
        _K_H2CY * g1 / g2,
        _K_HCY * g2 / g3,
        g0 / _K_HCLCY_RELEASE,
        g1 / (_K_H2CLCY * g0),
        _K_HCLCY * g1 / g2,
        g0 / _K_CL2CY_RELEASE,
        g1 / (_K_HCL2CY * g0),
        at.caco3 * g_ca * g_co3 / g0,
        at.cahco3 * g_ca * g_hco3 / g_cahco3,
        at.naco3 * g_na * g_co3 / g1,
        at.nahco3 * g_na * g_hco3 / g0,
        caso4,
        naso4,
        at.ksp_calcite / (g_ca * g_co3),
        at.henry / g0,
    )
