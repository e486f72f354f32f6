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

# ppm as CaCO3 per equivalent per litre: half the molar mass of CaCO3, in mg.
TA_PPM_PER_EQ_L = 1000 * CACO3 / 2
CH_PPM_PER_MOL_L = 1000 * CACO3

# --- Provisional pH/TA model (carbonate.py): 25 C, ionic strength 0.02, no ion pairs. ---
# pK at zero ionic strength: carbonic acid, Plummer & Busenberg (1982), Geochim. Cosmochim. Acta
# 46, 1011; boric acid, PHREEQC 3 phreeqc.dat (Parkhurst & Appelo 2013, USGS TM 6-A43); cyanuric acid,
# O'Brien, Morris & Butler (1974). Made conditional with Davies (1962) at I = 0.02: log gamma is
# -0.0600 for one charge and -0.240 for two (pH is an activity, the rest concentrations).
PK1_CARBONIC = 6.352 - 0.060
PK2_CARBONIC = 10.329 - 0.180
PK_BORIC = 9.24 - 0.060
PK1_CYANURIC = 6.88 - 0.060
PK2_CYANURIC = 11.40 - 0.180
PK_WATER = 13.995 - 0.060

# --- Chlorine and stabilizer (chlorine.py): ideal (activities = concentrations). ---
# O'Brien, Morris & Butler (1974), in Rubin (ed.), Chemistry of Water Supply, Treatment and
# Distribution, pp 333-358: pK at 25 C only. Cited from memory.
PK_H3CY = 6.88  # H3Cy = H2Cy + H
PK_H2CY = 11.40  # H2Cy = HCy + H
PK_HCY = 13.5  # HCy = Cy + H
PK_HCL2CY = 3.75  # HCl2Cy = Cl2Cy + H
PK_H2CLCY = 5.33  # H2ClCy = HClCy + H
PK_H2CLCY_RELEASE = 4.07  # H2ClCy + H2O = H3Cy + HOCl
PK_CL2CY_RELEASE = 4.51  # Cl2Cy + H2O = HClCy + HOCl
PK_HCLCY = 10.12  # HClCy = ClCy + H
