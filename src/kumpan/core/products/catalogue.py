"""The products: chemistry, strength, how handled, what they must never meet. All per product is here.

Ids and strengths: common labels (check values of the doses: tests/published). Handling: common practice
(common practice, no source; the label always wins). Products are named by chemistry and strength.
"""

from typing import Any

from kumpan.core.amounts import Form
from kumpan.core.chemistry import constants as k
from kumpan.core.products.product import Active, Product

HYPOCHLORITE = Active("sodium hypochlorite", k.NAOCL, cl2=1, alk=1, nacl=1, nacl_later=1)
CAL_HYPO = Active("calcium hypochlorite", k.CA_OCL_2, cl2=2, alk=2, ca=1)
DICHLOR = Active("sodium dichloroisocyanurate dihydrate", k.DICHLOR_DIHYDRATE, cl2=2, alk=1, cya=1)
TRICHLOR = Active("trichloroisocyanuric acid", k.TRICHLOR, cl2=3, cya=1)
HCL = Active("hydrochloric acid", k.HCL, alk=-1)
BISULFATE = Active("sodium bisulfate", k.NAHSO4, alk=-1, so4=1)
CARBONATE = Active("sodium carbonate", k.NA2CO3, alk=2, carbon=1)
BICARBONATE = Active("sodium bicarbonate", k.NAHCO3, alk=1, carbon=1)
BORAX_10 = Active("borax, decahydrate", k.BORAX_10, alk=2, b=4)
BORAX_5 = Active("borax, pentahydrate", k.BORAX_5, alk=2, b=4)
BORIC = Active("boric acid", k.BORIC_ACID, b=1)
CALCIUM = Active("calcium chloride", k.CACL2, ca=1)
CYANURIC = Active("cyanuric acid", k.CYANURIC, cya=1)
SODIUM_CHLORIDE = Active("sodium chloride", k.NACL, nacl=1)
# Full oxidation, 4 Cl2 per mole: S2O3 + 4 HOCl + H2O -> 2 SO4 + 4 Cl + 6 H.
THIOSULFATE = Active("sodium thiosulfate pentahydrate", k.THIOSULFATE_5, cl2=-4, alk=-6, so4=2)


_G_LB, _ML_OZ = 453.59237, 29.5735295625

# Densities, kg/L. Hydrochloric acid: a line through the two the trade sells (1.07 at 14.5 %, 1.16 at 31.45
# %), within 0.005 of the published tables from 5 to 38 % (CRC Handbook, from memory). Liquid chlorine: 10 %
# by weight is about 10.9 % trade (common practice), which a density of 1.144 gives; plain bleach as its
# labels have it (1.08 at 6 %, 1.11 at 8.25 %).
_ACID_DENSITY = (1.07 - 0.145 * 0.09 / 0.1695, 0.09 / 0.1695)
_CHLORINE_DENSITY = (1.0, 1.44)
_BLEACH_DENSITY = (1.0, 0.08 / 0.06)

_LIQUID_CL: dict[str, Any] = dict(
    form="liquid",
    active=HYPOCHLORITE,
    group="chlorine",
    roles=("raise_fc",),
    density=_CHLORINE_DENSITY,
    apart={"acid": 30},
    retest_min=30,
    how="Pour slowly in front of a return, pump running; at dusk the sun takes least of it.",
    caution="Bleaches cloth and stings: goggles, gloves. Never together with acid: that makes chlorine gas.",
)
_BLEACH: dict[str, Any] = {**_LIQUID_CL, "density": _BLEACH_DENSITY}
_CAL_HYPO: dict[str, Any] = dict(
    form="dry",
    basis="available",
    active=CAL_HYPO,
    group="chlorine",
    roles=("raise_fc",),
    apart={"acid": 30},
    retest_min=30,
    how=(
        "By its label: broadcast, or stir into a bucket of pool water first (always on vinyl); brush what"
        " settles."
    ),
    caution="Goggles, gloves. Never in the skimmer or with other chlorine or acid: fire, explosion or gas.",
)
_ACID: dict[str, Any] = dict(
    group="acid",
    roles=("lower_ph",),
    apart={"chlorine": 30},
    form="liquid",
    basis="weight",
    active=HCL,
    density=_ACID_DENSITY,
    max_single=16 * _ML_OZ,
    how=(
        "Walk it round the deep end, pump running, upwind and away from the fumes. Acid into water, never"
        " water into acid."
    ),
    caution="Goggles, gloves, covered skin. Never with chlorine: that makes chlorine gas.",
)
_CALCIUM: dict[str, Any] = dict(
    form="dry",
    basis="weight",
    active=CALCIUM,
    group="calcium",
    roles=("raise_ch",),
    mix_min=60,
    swim_min=120,
    retest_min=24 * 60,
    apart={"carbonate": 24 * 60, "acid": 60},
    how=(
        "At most 1 lb per gallon in a bucket held in the pool; pour the dissolved part off below the surface,"
        " repeat."
    ),
    caution=(
        "It heats strongly as it dissolves: goggles, gloves. Never in the skimmer; too much is cured only by"
        " dilution."
    ),
)
_BORATE: dict[str, Any] = dict(
    form="dry", basis="weight", group="borate", mix_min=60, retest_min=24 * 60,
    how="Broadcast over the deep end a little at a time, pump running; brush it about.",
    caution="Not allowed everywhere; keep dogs from drinking the water. Gloves, no dust.",
)  # fmt: skip
_LABEL: dict[str, Any] = dict(basis="label", strength=1.0, active=None, group="label", roles=())
_LABEL_TEXT: dict[str, Any] = dict(
    how="As its label says.", caution="The label rules: rate, protection and waits."
)

_ALL: tuple[Product, ...] = (
    Product(
        "liquid-chlorine-12.5",
        "Liquid chlorine 12.5 %",
        "liquid chlorine",
        basis="trade",
        strength=0.125,
        most_strength=0.16,
        **_LIQUID_CL,
    ),
    Product(
        "liquid-chlorine-10",
        "Liquid chlorine 10 %",
        "liquid chlorine",
        basis="trade",
        strength=0.10,
        most_strength=0.16,
        **_LIQUID_CL,
    ),
    Product(
        "bleach-8.25",
        "Plain bleach 8.25 %",
        "bleach",
        basis="weight",
        strength=0.0825,
        most_strength=0.16,
        **_BLEACH,
    ),
    Product(
        "bleach-6", "Plain bleach 6 %", "bleach", basis="weight", strength=0.06, most_strength=0.16, **_BLEACH
    ),
    Product(
        "cal-hypo-65", "Calcium hypochlorite 65 %", "cal-hypo", strength=0.65, most_strength=0.80, **_CAL_HYPO
    ),
    Product(
        "cal-hypo-73", "Calcium hypochlorite 73 %", "cal-hypo", strength=0.73, most_strength=0.80, **_CAL_HYPO
    ),
    Product(
        "dichlor-56",
        "Dichlor granules 56 %",
        "dichlor",
        "dry",
        "available",
        0.56,
        DICHLOR,
        "chlorine",
        ("raise_fc",),
        "Stir into a clean bucket half full of pool water, pour round the edge, pump running.",
        "Goggles, gloves; its own dry scoop. Never with acid or other chlorine.",
        apart={"acid": 30},
        retest_min=30,
        most_strength=0.64,
    ),
    Product(
        "trichlor-90",
        "Trichlor tablets 90 %",
        "trichlor",
        "tablet",
        "available",
        0.90,
        TRICHLOR,
        "chlorine",
        ("raise_fc",),
        "In its own feeder or floater; it dissolves over days, so it keeps a level rather than lifts it"
        " today.",
        "Open the feeder upwind, pump off. Never loose, in the skimmer, or where other chlorine was: it"
        " explodes.",
        retest_min=24 * 60,
        apart={"acid": 30},
        most_strength=0.915,
    ),
    Product("muriatic-31.45", "Muriatic acid 31.45 %", "acid", strength=0.3145, most_strength=0.38, **_ACID),
    Product(
        "muriatic-14.5",
        "Muriatic acid 14.5 %",
        "acid",
        strength=0.145,
        most_strength=0.38,
        **{**_ACID, "max_single": 16 * _ML_OZ * (0.3145 * 1.16) / (0.145 * 1.07)},
    ),
    Product(
        "dry-acid-93.2",
        "Dry acid 93.2 %",
        "dry acid",
        "dry",
        "weight",
        0.932,
        BISULFATE,
        "acid",
        ("lower_ph",),
        "Stir into a bucket of pool water (product into water), pour round the deep end, pump running.",
        "Goggles, gloves. Never with chlorine: that makes chlorine gas.",
        apart={"chlorine": 30},
        max_single=16 * _ML_OZ * 0.3145 * 1.16 / k.HCL * k.NAHSO4 / 0.932,
    ),
    Product(
        "soda-ash",
        "Soda ash",
        "soda ash",
        "dry",
        "weight",
        1.0,
        CARBONATE,
        "carbonate",
        ("raise_ph",),
        "Stir into a bucket of pool water, pour round the deep end, pump running.",
        "Goggles, gloves: it is caustic. Clouds the water near fresh calcium.",
        mix_min=30,
        apart={"calcium": 24 * 60},
        max_single=_G_LB,
    ),
    Product(
        "baking-soda",
        "Baking soda",
        "baking soda",
        "dry",
        "weight",
        1.0,
        BICARBONATE,
        "carbonate",
        ("raise_ta", "raise_ph"),
        "Broadcast over the deep end, pump running; brush what settles.",
        "Harmless to touch; it clouds the water near fresh calcium.",
        mix_min=30,
        retest_min=24 * 60,
        apart={"calcium": 24 * 60},
    ),
    Product(
        "borax", "Borax (decahydrate)", "borax", strength=1.0, active=BORAX_10, roles=("raise_ph",), **_BORATE
    ),
    Product(
        "borax-pentahydrate",
        "Borax (pentahydrate)",
        "borax",
        strength=1.0,
        active=BORAX_5,
        roles=("raise_ph",),
        **_BORATE,
    ),
    Product("boric-acid", "Boric acid", "boric acid", strength=1.0, active=BORIC, roles=(), **_BORATE),
    Product("calcium-chloride-77", "Calcium chloride flake 77 %", "calcium", strength=0.77, **_CALCIUM),
    Product("calcium-chloride-94", "Calcium chloride 94 %", "calcium", strength=0.94, **_CALCIUM),
    Product("calcium-chloride-100", "Calcium chloride 100 %", "calcium", strength=1.0, **_CALCIUM),
    Product(
        "stabilizer",
        "Stabilizer (cyanuric acid)",
        "stabilizer",
        "dry",
        "weight",
        1.0,
        CYANURIC,
        "stabilizer",
        ("raise_cya",),
        "In a sock hung before a return, squeezed now and then; it dissolves over days.",
        "Gloves, no dust. Start low: only dilution takes it out. Do not re-test it for a week.",
        mix_min=20,
        swim_min=0,
        retest_min=7 * 24 * 60,
    ),
    Product(
        "salt",
        "Salt, pool grade",
        "salt",
        "dry",
        "weight",
        1.0,
        SODIUM_CHLORIDE,
        "salt",
        ("raise_salt",),
        "Pour into the deep end and brush it about; chlorinator off until dissolved, pump 24 h.",
        "Not in the skimmer. Lift bags with a straight back. No salt on plaster under 28 days old.",
        swim_min=6 * 60,
        retest_min=24 * 60,
        sold_as="salt_bag",
    ),
    Product(
        "thiosulfate",
        "Chlorine neutraliser (sodium thiosulfate)",
        "neutraliser",
        "dry",
        "weight",
        1.0,
        THIOSULFATE,
        "neutraliser",
        ("lower_fc",),
        "Dissolve in a bucket of pool water, pour round the edge; start low and re-test.",
        "Gloves, no dust. Overdosed, it eats the next chlorine too.",
    ),
    Product(
        "non-chlorine-shock",
        "Non-chlorine oxidiser (monopersulfate)",
        "oxidiser",
        form="dry",
        **_LABEL,
        **_LABEL_TEXT,
    ),
    Product("algaecide-copper", "Copper algaecide", "algaecide", form="liquid", **_LABEL, **_LABEL_TEXT),
    Product(
        "algaecide-polyquat-60",
        "Polyquat algaecide 60 %",
        "algaecide",
        form="liquid",
        **_LABEL,
        **_LABEL_TEXT,
    ),
    Product(
        "phosphate-remover", "Phosphate remover", "phosphate remover", form="liquid", **_LABEL, **_LABEL_TEXT
    ),
    Product("clarifier", "Clarifier", "clarifier", form="liquid", **_LABEL, **_LABEL_TEXT),
    Product("flocculant", "Flocculant", "flocculant", form="dry", **_LABEL, **_LABEL_TEXT),
    Product("enzyme", "Enzyme", "enzyme", form="liquid", **_LABEL, **_LABEL_TEXT),
    Product("metal-sequestrant", "Metal sequestrant", "sequestrant", form="liquid", **_LABEL, **_LABEL_TEXT),
    Product("mineral-pack", "Mineral pack", "mineral pack", form="dry", **_LABEL, **_LABEL_TEXT),
)

PRODUCTS: dict[str, Product] = {p.id: p for p in _ALL}


def form_of(product: Product) -> Form:
    """The measuring form of a product: bags for salt, else its own form."""
    return "salt_bag" if product.sold_as == "salt_bag" else product.form


def is_acid(product_id: str) -> bool:
    """Whether a product is an acid."""
    return product_id in PRODUCTS and PRODUCTS[product_id].group == "acid"
