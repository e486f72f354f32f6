"""What may stand beside what: common practice, and for the rest the usual rules of chemical storage, from
memory.

A product belongs to a family; two families that harm each other stand in different places. The plan uses as
few places as will do.
"""

from dataclasses import dataclass
from itertools import combinations

from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.products.product import Product

_ACIDS = ("muriatic-31.45", "muriatic-14.5", "dry-acid-93.2")
_ORGANIC = (
    "algaecide-copper",
    "algaecide-polyquat-60",
    "clarifier",
    "enzyme",
    "metal-sequestrant",
    "stabilizer",
)
_FAMILY = (
    {p: "acid" for p in _ACIDS}
    | {p: "organic" for p in _ORGANIC}
    | {
        "cal-hypo-65": "cal_hypo",
        "cal-hypo-73": "cal_hypo",
        "dichlor-56": "isocyanurate",
        "trichlor-90": "isocyanurate",
    }
    | {p: "hypochlorite" for p in ("liquid-chlorine-12.5", "liquid-chlorine-10", "bleach-6", "bleach-8.25")}
    | {
        "non-chlorine-shock": "persulfate",
        "thiosulfate": "reducer",
        "soda-ash": "base",
        "baking-soda": "base",
    }
)
_GAS, _FIRE, _BLAST, _HEAT = "chlorine gas", "fire", "explosion and gas", "heat and spatter"
_SULFUR = "sulfur dioxide gas"
_WORST = (_BLAST, _GAS, _FIRE, _SULFUR, _HEAT)  # the order they are told in
_PRACTICE = "Common practice, no published source."
_MEMORY = "Usual rules of chemical storage, from memory."


@dataclass(frozen=True)
class Clash:
    """What two families make together, and where that is from."""

    harm: str
    source: str


_CLASHES: dict[frozenset[str], Clash] = {
    frozenset(pair): Clash(harm, source)
    for pair, harm, source in (
        (("acid", "hypochlorite"), _GAS, _PRACTICE),
        (("acid", "cal_hypo"), _GAS, _PRACTICE),
        (("acid", "isocyanurate"), _GAS, _PRACTICE),
        (("cal_hypo", "isocyanurate"), _BLAST, _PRACTICE),
        (("organic", "cal_hypo"), _FIRE, _PRACTICE),
        (("organic", "isocyanurate"), _FIRE, _PRACTICE),
        (("organic", "persulfate"), _FIRE, _PRACTICE),
        (("organic", "hypochlorite"), _FIRE, _PRACTICE),
        (("hypochlorite", "isocyanurate"), _BLAST, _MEMORY),
        (("hypochlorite", "cal_hypo"), _HEAT, _MEMORY),
        (("persulfate", "hypochlorite"), _GAS, _MEMORY),
        (("persulfate", "cal_hypo"), _GAS, _MEMORY),
        (("persulfate", "isocyanurate"), _GAS, _MEMORY),
        (("reducer", "hypochlorite"), _HEAT, _MEMORY),
        (("reducer", "cal_hypo"), _FIRE, _MEMORY),
        (("reducer", "isocyanurate"), _FIRE, _MEMORY),
        (("reducer", "persulfate"), _FIRE, _MEMORY),
        (("reducer", "acid"), _SULFUR, _MEMORY),
        (("base", "acid"), _HEAT, _MEMORY),
    )
}


def family_of(product_id: str) -> str:
    """The storage family of a product; ``plain`` for what harms nothing it could stand beside (salt, calcium
    chloride, borates).
    """
    return _FAMILY.get(product_id, "plain")


def clash(one: str, other: str) -> Clash | None:
    """What two products (ids) make together where they spill; None where they may stand side by side.

    >>> clash("muriatic-31.45", "liquid-chlorine-10").harm
    'chlorine gas'
    """
    return (
        _CLASHES.get(frozenset((family_of(one), family_of(other))))
        if family_of(one) != family_of(other)
        else None
    )


@dataclass(frozen=True)
class Place:
    """Products that may share a place: dry ones above, liquids below them."""

    above: tuple[Product, ...]
    below: tuple[Product, ...]


@dataclass(frozen=True)
class Apart:
    """Products of two families listed that must not share a place, and why."""

    one: tuple[Product, ...]
    other: tuple[Product, ...]
    clash: Clash


def storage_plan(product_ids: tuple[str, ...]) -> tuple[tuple[Place, ...], tuple[Apart, ...]]:
    """Places with what may stand in each, as few as will do, and which families are kept apart. Repeated ids
    count once; order does not matter.

    Families are few, so every way of putting them into places is tried (an exact colouring).
    """
    products = [p for p in PRODUCTS.values() if p.id in set(product_ids)]
    families = sorted({family_of(p.id) for p in products} - {"plain"})
    groups = _fewest(families) or [[]]
    if products and any(family_of(p.id) == "plain" for p in products):
        # what harms nothing keeps company with the smallest group
        min(groups, key=lambda g: sum(family_of(p.id) in g for p in products)).append("plain")
    places = [_place([p for p in products if family_of(p.id) in group]) for group in groups]
    return tuple(p for p in places if p.above or p.below), _apart(products, families)


def _place(products: list[Product]) -> Place:
    """Dry above, liquid below."""
    dry = tuple(p for p in products if p.form != "liquid")
    return Place(dry, tuple(p for p in products if p.form == "liquid"))


def _apart(products: list[Product], families: list[str]) -> tuple[Apart, ...]:
    """Families that clash, the worst first."""
    members = {f: tuple(p for p in products if family_of(p.id) == f) for f in families}
    pairs = [(a, b, _CLASHES.get(frozenset((a, b)))) for a, b in combinations(families, 2)]
    clashes = [Apart(members[a], members[b], clash) for a, b, clash in pairs if clash]
    return tuple(sorted(clashes, key=lambda x: _WORST.index(x.clash.harm)))


def _fewest(families: list[str]) -> list[list[str]]:
    """The families in the fewest groups of which no two clash."""
    for count in range(1, len(families) + 1):
        groups: list[list[str]] = [[] for _ in range(count)]
        if _fits(families, groups):
            return groups
    return []


def _fits(rest: list[str], groups: list[list[str]]) -> bool:
    if not rest:
        return True
    for group in groups:
        if all(frozenset((rest[0], other)) not in _CLASHES for other in group):
            group.append(rest[0])
            if _fits(rest[1:], groups):
                return True
            group.pop()
        if not group:
            return False  # the remaining empty groups are alike
    return False
