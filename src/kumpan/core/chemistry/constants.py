"""Every constant of the chemistry, with unit and citation.

Molar masses: IUPAC conventional atomic weights (2021), g/mol.
"""

CL2 = 70.906
NAOCL = 74.442
CA_OCL_2 = 142.98
DICHLOR_DIHYDRATE = 255.98
TRICHLOR = 232.41
HCL = 36.458
NAHSO4 = 120.06
NA2CO3 = 105.988
NAHCO3 = 84.007
BORAX_10 = 381.37
BORAX_5 = 291.29
BORIC_ACID = 61.833
BORON = 10.81
CACL2 = 110.98
CACO3 = 100.087
CYANURIC = 129.075
NACL = 58.443
THIOSULFATE_5 = 248.17
CALCIUM = 40.078
BICARBONATE_ION = 61.017
CHLORIDE = 35.45
SODIUM = 22.990
SULFATE = 96.06

# ppm as CaCO3 per equivalent per litre: half the molar mass of CaCO3, in mg.
TA_PPM_PER_EQ_L = 1000 * CACO3 / 2
CH_PPM_PER_MOL_L = 1000 * CACO3

# --- Carbonate, calcite, borate, sodium and sulfate pairs (equilibria.py). ---
# log10 K at zero ionic strength = A1 + A2 T + A3/T + A4 log10 T + A5/T^2 (+ A6 T^2 for water), T in kelvin.
# Carbonate and calcite: Plummer & Busenberg (1982), Geochim. Cosmochim. Acta 46, 1011. Water: PHREEQC 3
# phreeqc.dat (Parkhurst & Appelo 2013, USGS TM 6-A43).
LOG_K1 = (-356.3094, -0.06091964, 21834.37, 126.8339, -1684915.0, 0.0)  # CO2 + H2O = HCO3 + H
LOG_K2 = (-107.8871, -0.03252849, 5151.79, 38.92561, -563713.9, 0.0)  # HCO3 = CO3 + H
LOG_KH = (108.3865, 0.01985076, -6919.53, -40.45154, 669365.0, 0.0)  # CO2(g) = CO2(aq), mol/kg/atm
LOG_KSP_CALCITE = (-171.9065, -0.077993, 2839.319, 71.595, 0.0, 0.0)  # CaCO3(s) = Ca + CO3
LOG_K_CACO3 = (-1228.732, -0.299444, 35512.75, 485.818, 0.0, 0.0)  # Ca + CO3 = CaCO3(aq)
LOG_K_CAHCO3 = (1209.120, 0.31294, -34765.05, -478.782, 0.0, 0.0)  # Ca + HCO3 = CaHCO3
LOG_KW = (293.29227, 0.1360833, -10576.913, -123.73158, 0.0, -6.996455e-5)  # H2O = H + OH
# (log10 K at 25 C, reaction enthalpy in kcal/mol), van't Hoff; PHREEQC 3 phreeqc.dat.
BORIC_ACIDITY = (-9.24, 3.224)  # H3BO3 = H2BO3 + H
PAIR_NACO3 = (1.27, 8.91)  # Na + CO3 = NaCO3-
PAIR_NAHCO3 = (-0.25, -1.0)  # Na + HCO3 = NaHCO3
PAIR_CASO4 = (2.25, 1.325)  # Ca + SO4 = CaSO4(aq)
PAIR_NASO4 = (0.7, 1.120)  # Na + SO4 = NaSO4-
GAS_CONSTANT_KCAL = 1.98720425864e-3  # kcal/(mol K), CODATA 2018
# Ion-size and linear terms (a in angstrom, b) of log g = -A z^2 sqrt(I)/(1 + B a sqrt(I)) + b I:
# Truesdell & Jones (1974), J. Res. US Geol. Survey 2, 233, as in phreeqc.dat.
ION_H, ION_OH, ION_CARBONATE, ION_CA = (9.0, 0.0), (3.5, 0.0), (5.4, 0.0), (5.0, 0.165)
ION_NA, ION_CAHCO3, ION_NASO4 = (4.08, 0.082), (6.0, 0.0), (5.4, 0.0)
ION_SO4 = (5.0, -0.04)
NEUTRAL_SALTING = 0.1  # log g of a neutral = 0.1 I, as in PHREEQC
DAVIES_LINEAR = 0.3  # Davies (1962), Ion Association: log g = -A z^2 (sqrt I/(1 + sqrt I) - 0.3 I)
AIR_CO2_UATM = 420.0  # partial pressure of CO2 in today's air, microatmospheres (chemistry: doses)
# Gas exchange of CO2 through a pool's surface, 1/h: a still, sheltered one (2 cm/h over 1.4 m; Wanninkhof
# 1992, J. Geophys. Res. 97, 7373, from memory). A prior; particular to the pool, and the log is to fit it.
SURFACE_RATE_PER_H = 0.014

# --- Chlorine and stabilizer (chlorine.py). ---
# O'Brien, Morris & Butler (1974), in Rubin (ed.), Chemistry of Water Supply, Treatment and
# Distribution, pp 333-358: pK at 25 C only. Cited from memory.
PK_H3CY = 6.88  # H3Cy = H2Cy + H
PK_H2CY = 11.40  # H2Cy = HCy + H
PK_HCY = 13.5  # HCy = Cy + H
PK_HCL2CY = 3.75  # HCl2Cy = Cl2Cy + H
PK_H2CLCY = 5.33  # H2ClCy = HClCy + H
PK_H2CLCY_RELEASE = 4.07  # H2ClCy + H2O = H3Cy + HOCl
PK_CL2CY_RELEASE = 4.51  # Cl2Cy + H2O = HClCy + HOCl
PK_HCLCY_RELEASE = 5.62  # HClCy + H2O = H2Cy + HOCl
PK_HCLCY = 10.12  # HClCy = ClCy + H
