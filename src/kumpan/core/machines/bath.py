"""The acid bath of a cell: how much water and acid for a container, and what neutralises it afterwards."""

import math
from dataclasses import dataclass

from kumpan.core.amounts import System
from kumpan.core.chemistry import constants as k
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import G_PER_OZ, ML_PER_FL_OZ

# Parts of water to one of 31.45 % acid, and minutes: common practice. Weaker acid: to the same strength.
PARTS = (4.0, 5.0)
_USUAL_ACID = "muriatic-31.45"
ACIDS = ("muriatic-31.45", "muriatic-14.5")
SOAK_MIN, SOAK_MOST_MIN = 10.0, 15.0
# Litres that a bath may be: typing slips (our own).
_LEAST_L, _MOST_L = 0.2, 40.0


@dataclass(frozen=True)
class Bath:
    """A bath. mol_l: of acid in it; soda_g: baking soda that neutralises all of it."""

    water_l: float
    acid_l: float
    mol_l: float
    soda_g: float


def acid_mol_l(product_id: str, strength: float | None = None) -> float:
    """Moles of acid in a litre of a product, as its alkalinity counts: HCl of 31.45 %, 1.16 kg/L is 10.0."""
    return -PRODUCTS[product_id].change_per_unit(1.0, strength).alk * 1000


def bath(total_l: float, parts: float, product_id: str = _USUAL_ACID, strength: float | None = None) -> Bath:
    """Water and acid of a bath of ``total_l`` litres, as strong as ``parts`` of water to one of 31.45 % acid.

    parts: 4 or 5 (common practice). Check values: 4:1 is 2.00 mol/L, 5:1 1.67; from 14.5 % acid 1.13 and 1.55
    parts of water. Neutralised by NaHCO3, mole for mole. Raises InvalidInput at ``container`` or ``acid``.

    >>> b = bath(1.0, 4)
    >>> round(b.water_l, 2), round(b.acid_l, 2), round(b.mol_l, 2)
    (0.8, 0.2, 2.0)
    """
    if not _LEAST_L <= total_l <= _MOST_L:
        raise InvalidInput(
            FieldProblem(
                "container", "out_of_range", "Between a glass and a tub: as much as covers the plates."
            )
        )
    wanted = acid_mol_l(_USUAL_ACID) / (parts + 1)
    strong = acid_mol_l(product_id, strength)
    if strong < wanted:
        raise InvalidInput(FieldProblem("acid", "too_weak", "This acid is weaker than the bath is to be."))
    acid_l = total_l * wanted / strong
    return Bath(total_l - acid_l, acid_l, wanted, total_l * wanted * k.NAHCO3)


@dataclass(frozen=True)
class BathWords:
    """The same in the measures of a person."""

    water: str
    acid: str
    soda: str


def in_words(mixed: Bath, system: System) -> BathWords:
    """A bath in measures a hand can use: acid rounded down, water up, so that it is never stronger."""
    if system == "metric":
        acid = math.floor(mixed.acid_l * 40 + 1e-6) / 40
        water = math.ceil((mixed.water_l + mixed.acid_l - acid) * 20 - 1e-6) / 20
        return BathWords(
            f"{water:.2f} L", f"{acid * 1000:,.0f} mL", f"{math.ceil(mixed.soda_g / 10) * 10:,.0f} g"
        )
    acid_oz = math.floor(mixed.acid_l * 1000 / ML_PER_FL_OZ + 1e-6)
    water_oz = math.ceil((mixed.water_l + mixed.acid_l) * 1000 / ML_PER_FL_OZ - acid_oz - 1e-6)
    ounces = math.ceil(mixed.soda_g / G_PER_OZ)
    pounds, rest = divmod(ounces, 16)
    soda = f"{pounds} lb {rest} oz" if pounds and rest else f"{pounds} lb" if pounds else f"{rest} oz"
    return BathWords(_us(water_oz), _us(acid_oz), soda)


def _us(fl_oz: int) -> str:
    """Fluid ounces as people measure them: ``3 qt 6 fl oz``."""
    quarts, rest = divmod(fl_oz, 32)
    return " ".join(([f"{quarts} qt"] if quarts else []) + ([f"{rest} fl oz"] if rest or not quarts else []))
