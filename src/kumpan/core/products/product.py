"""A product: its working substance, strength and density, and what a unit of it brings to the water."""

from dataclasses import dataclass, field
from typing import Literal

from kumpan.core.chemistry import constants as k
from kumpan.core.water.state import Change

Basis = Literal["trade", "weight", "available", "label"]

# A label may say this much more, as a share, than the pure substance holds (common practice: rounding).
_LABEL_OVER_PURE = 0.02


@dataclass(frozen=True)
class Active:
    """The working substance: molar mass in g/mol and what one mole brings to the water.

    alk: equivalents on adding, before any chlorine is spent; spending one Cl2 then takes 1 eq. nacl: moles of
    salt on adding; nacl_later: more of it once the chlorine is spent.
    """

    name: str
    molar_mass: float
    cl2: float = 0
    alk: float = 0
    carbon: float = 0
    cya: float = 0
    ca: float = 0
    b: float = 0
    nacl: float = 0
    nacl_later: float = 0
    so4: float = 0


@dataclass(frozen=True)
class Product:
    """One product at its usual strength.

    strength is a fraction, meaning what ``basis`` says: trade (g available Cl2 per mL), weight (g active
    per g), available (g available Cl2 per g), label (dosed by its label; effect not computed).
    density: kg/L of a liquid as (at nothing dissolved, rise per fraction by weight of active).
    mix_min: minutes until another product may follow; swim_min: until a reading may open swimming;
    retest_min: until its measure reads true and decides. apart: minutes to keep from a group. All common
    practice.
    max_single: most at once per 10,000 gal at usual strength, in g or mL (common practice).
    """

    id: str
    name: str
    short: str
    form: Literal["liquid", "dry", "tablet"]
    basis: Basis
    strength: float
    active: Active | None
    group: str
    roles: tuple[str, ...]
    how: str
    caution: str
    density: tuple[float, float] | None = None
    mix_min: int = 30
    swim_min: int = 30
    retest_min: int = 60
    apart: dict[str, int] = field(default_factory=dict)
    max_single: float | None = None
    most_strength: float = 1.0
    sold_as: Literal["loose", "salt_bag"] = "loose"

    def named(self, strength: float | None) -> str:
        """Its name at this strength (a fraction, None for the usual one).

        >>> from kumpan.core.products.catalogue import PRODUCTS
        >>> PRODUCTS["bleach-6"].named(0.05)
        'Plain bleach 5 %'
        """
        if strength is None or abs(strength - self.strength) < 1e-9:
            return self.name
        return (
            f"{self.name.rsplit(' ', 2)[0] if self.name.endswith('%') else self.name} {strength * 100:.4g} %"
        )

    def moles_per_unit(self, strength: float | None = None, basis: Basis | None = None) -> float:
        """Moles of active in 1 g (dry) or 1 mL (liquid). strength and basis: the product's own where None.

        Stoichiometry from molar masses. Raises ValueError for label-dosed products, and for a strength by
        trade of a dry product.
        """
        if self.active is None:
            raise ValueError(f"{self.id} is dosed by its label: effect not computed")
        fraction = self.strength if strength is None else strength
        basis = basis or self.basis
        if basis == "trade":
            if self.form != "liquid" or not self.active.cl2:
                raise ValueError("only liquid chlorine has a trade strength")
            return fraction / k.CL2 / self.active.cl2
        if basis == "available":
            if self.active.cl2 <= 0:
                raise ValueError("only chlorine products have available chlorine")
            # Labels say 55 to 56 % of dichlor, which pure holds 55.4 of: a label a little over counts as
            # pure.
            fraction = fraction * self.active.molar_mass / k.CL2 / self.active.cl2
            fraction = 1.0 if 1.0 < fraction <= 1.0 + _LABEL_OVER_PURE else fraction
        return fraction * self.density_kg_l(fraction) / self.active.molar_mass

    def density_kg_l(self, by_weight: float) -> float:
        """Density of a liquid holding this fraction of active by weight; 1 for dry products, which are
        counted in grams.
        """
        return 1.0 if self.density is None else self.density[0] + self.density[1] * by_weight

    def grams_per_ml(self, strength: float | None = None, basis: Basis | None = None) -> float:
        """Density (kg/L) of a liquid product at its strength, whatever the basis that states it."""
        assert self.active is not None and self.density is not None
        moles = self.moles_per_unit(strength, basis)
        none, rise = self.density
        # moles per mL = w (none + rise w) / M: the positive root in w.
        w = (
            2
            * moles
            * self.active.molar_mass
            / (none + (none * none + 4 * rise * moles * self.active.molar_mass) ** 0.5)
        )
        return self.density_kg_l(w)

    def change_per_unit(
        self, volume_l: float, strength: float | None = None, basis: Basis | None = None
    ) -> Change:
        """What 1 g (dry) or 1 mL (liquid) brings to each litre of this pool, its chlorine not yet spent.

        Raises ValueError for label-dosed products.
        """
        n = self.moles_per_unit(strength, basis) / volume_l
        a = self.active
        assert a is not None
        return Change(
            cl2=n * a.cl2,
            alk=n * a.alk,
            carbon=n * a.carbon,
            cya=n * a.cya,
            ca=n * a.ca,
            b=n * a.b,
            so4=n * a.so4,
            salt_ppm=n * a.nacl * k.NACL * 1000,
            salt_later_ppm=n * a.nacl_later * k.NACL * 1000,
        )
