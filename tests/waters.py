"""Random waters that can be, the same in PHREEQC, and what each product is made of there."""

import random

from kumpan.core.water.conflicts import conflict_of
from kumpan.core.water.state import WaterState, carbonate_of
from phreeqc import Answer, Phreeqc

# The range over which agreement with PHREEQC is asked for (check values).
RANGE = {
    "ph": (6.6, 8.4),
    "ta_ppm": (20, 250),
    "ch_ppm": (0, 1000),
    "cya_ppm": (0, 200),
    "salt_ppm": (200, 7000),
    "borate_ppm": (0, 60),
    "temp_c": (4, 40),
    "fc_ppm": (0, 40),
}
# Per mole of active, as PHREEQC formulas (Clx: active chlorine). Written from the reactions, not from the
# catalogue.
FORMULAS = {
    "liquid-chlorine-12.5": {"NaClxO": 1, "NaCl": 1},
    "cal-hypo-65": {"CaClx2O2": 1},
    "dichlor-56": {"NaH2Cy": 1, "HClxO": 2},
    "trichlor-90": {"H3Cy": 1, "HClxO": 3},
    "muriatic-31.45": {"HCl": 1},
    "dry-acid-93.2": {"NaHSO4": 1},
    "soda-ash": {"Na2CO3": 1},
    "baking-soda": {"NaHCO3": 1},
    "borax": {"Na2B4O7": 1},
    "borax-pentahydrate": {"Na2B4O7": 1},
    "boric-acid": {"H3BO3": 1},
    "calcium-chloride-77": {"CaCl2": 1},
    "stabilizer": {"H3Cy": 1},
    "salt": {"NaCl": 1},
    "thiosulfate": {"HClxO": -4, "Na2SO4": 1, "H2SO4": 1, "HCl": 4},
}
CHLORINE = {"NaClxO": 1, "CaClx2O2": 2, "HClxO": 1}


def random_water(rng: random.Random, **fixed: tuple[float, float]) -> WaterState:
    spans = RANGE | fixed
    return WaterState(cc_ppm=0.0, **{f: rng.uniform(*span) for f, span in spans.items()})


def in_phreeqc(reference: Phreeqc, w: WaterState) -> Answer:
    return reference.water(
        w.ph, w.ta_ppm, w.ch_ppm, w.cya_ppm, w.salt_ppm, w.borate_ppm, w.fc_ppm, w.temp_c, w.sulfate_ppm or 0
    )


def possible_waters(seed: int, count: int, **fixed: tuple[float, float]) -> list[WaterState]:
    rng = random.Random(seed)
    found: list[WaterState] = []
    while len(found) < count:
        water = random_water(rng, **fixed)
        if (
            conflict_of(water) is None and carbonate_of(water) > 2e-5
        ):  # nothing left to buffer: pH is anyone's guess
            found.append(water)
    return found
