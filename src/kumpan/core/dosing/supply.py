"""Which product serves: what must not be used here, what stands ready, what it costs, what else would do."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

from kumpan.core.amounts import Form, System, describe, rounded_down, tool_for
from kumpan.core.chemistry import constants as k
from kumpan.core.dosing.request import Alternative, AtHand, Choice, PlanRequest
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.guidance.targets import bands_of
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.products.product import Product
from kumpan.core.water.state import Change, WaterState, amount_to_ph, apply

# The first product is the default. Chlorine's default follows how the pool is chlorinated.
ROLE_LABELS = {
    "raise_fc": "Chlorine",
    "lower_fc": "To take chlorine out",
    "lower_ph": "To lower pH",
    "raise_ph": "To raise pH",
    "raise_ta": "To raise alkalinity",
    "raise_ch": "Calcium",
    "raise_cya": "Stabilizer",
    "raise_salt": "Salt",
}
_DEFAULTS = {
    "lower_ph": "muriatic-31.45",
    "raise_ph": "soda-ash",
    "raise_ta": "baking-soda",
    "lower_fc": "thiosulfate",
    "raise_ch": "calcium-chloride-77",
    "raise_cya": "stabilizer",
    "raise_salt": "salt",
}
_DEFAULT_CHLORINE = {
    "liquid": "liquid-chlorine-12.5", "granules": "dichlor-56", "chlorinator": "liquid-chlorine-12.5",
    # Tablets keep a level; a lift wants chlorine that is there today, and brings no more stabilizer.
    "tablets": "liquid-chlorine-12.5",
}  # fmt: skip
_ALWAYS_FIT = "liquid-chlorine-12.5"


def forbidden(product: Product, traits: PoolTraits, water: WaterState) -> str | None:
    """Why this product must not be used in this pool, None if it may (common practice)."""
    return _forbidden(product.id, traits, water)


@lru_cache(maxsize=512)
def _forbidden(product_id: str, traits: PoolTraits, water: WaterState) -> str | None:
    product = PRODUCTS[product_id]
    if product.group == "borate" and not traits.borate_allowed:
        return "Borate is marked as not allowed in this pool. Soda ash or aeration instead."
    family = product.id.rsplit("-", 1)[0]
    rule = _RULES.get(family)
    return rule(product, family, traits, water) if rule else None


def _calcium_hypochlorite(product: Product, family: str, traits: PoolTraits, water: WaterState) -> str | None:
    if traits.has_chlorinator:
        return "It adds calcium, which scales the chlorinator's cell. Liquid chlorine instead."
    top = bands_of(traits, water)["ch"].high
    if water.ch_ppm is None or top is None or water.ch_ppm + _brought(family, traits, water) < top:
        return None
    return f"Calcium is at {water.ch_ppm:.0f}, and it adds 7 for every 10 ppm of chlorine. {_LIQUID}"


def _stabilized(product: Product, family: str, traits: PoolTraits, water: WaterState) -> str | None:
    """Dichlor: stabilizer over its band, or pH under it."""
    bands, lift = bands_of(traits, water), _lift(traits, water)
    top = bands["cya"].high
    if (
        water.cya_ppm is not None
        and top is not None
        and water.cya_ppm + _brought(family, traits, water) >= top
    ):
        text = f"Stabilizer is at {water.cya_ppm:.0f}, and it adds 9 for every 10 ppm of chlorine."
        return f"{text} {_LIQUID}"
    if lift and water.has_ph_chemistry and bands["ph"].low is not None:
        per = product.change_per_unit(traits.volume_l)
        settles = apply(water, (per * (lift / 1000 / k.CL2 / per.cl2)).spent).ph or 0.0
        if settles < bands["ph"].low - 0.05:  # less is less than a test can tell
            return f"It is acid: pH would settle at {settles:.1f}. {_LIQUID}"
    return None


def feeder_forbids(traits: PoolTraits) -> str:
    """Why trichlor may not go into this pool's feeder; empty where it may (common practice)."""
    if traits.feeder_held in (None, "trichlor"):
        return ""
    names = {"cal_hypo": "calcium hypochlorite", "dichlor": "dichlor"}
    held = names.get(traits.feeder_held or "", "another product")
    return f"The feeder or floater has held {held}: trichlor in it can explode. Use a new feeder."


def _tablets(product: Product, family: str, traits: PoolTraits, water: WaterState) -> str | None:
    if (danger := feeder_forbids(traits)) != "":
        return f"{danger} {_LIQUID}"
    return (
        "Tablets dissolve over days: they hold a level and lift nothing today. Liquid chlorine for the"
        " lift; how"
        " many tablets hold it stands with what follows."
    )


def _dry_acid(product: Product, family: str, traits: PoolTraits, water: WaterState) -> str | None:
    if not traits.protects_calcium and not traits.has_chlorinator:
        return None
    what = "plaster and grout" if traits.protects_calcium else "a cell's coating"
    return f"It adds sulfate, which attacks {what} in quantity. Muriatic acid instead."


def _lift(traits: PoolTraits, water: WaterState) -> float:
    """ppm by which free chlorine is to come up."""
    aim = bands_of(traits, water)["fc"].aim or 0.0
    return 0.0 if water.fc_ppm is None else max(0.0, aim - water.fc_ppm)


def _brought(family: str, traits: PoolTraits, water: WaterState) -> float:
    """What the lift itself would bring: per 10 ppm of chlorine 9 stabilizer from dichlor, 6 from trichlor, 7
    calcium.
    """
    return {"dichlor": 0.91, "cal-hypo": 0.71}[family] * _lift(traits, water)


_LIQUID = "Liquid chlorine instead."
_RULES: dict[str, Callable[[Product, str, PoolTraits, WaterState], str | None]] = {
    "cal-hypo": _calcium_hypochlorite,
    "dichlor": _stabilized,
    "trichlor": _tablets,
    "dry-acid": _dry_acid,
}


@dataclass(frozen=True)
class Supply:
    """The product for each role and, where it stands ready, the entry it comes from.

    refused: role -> why the product chosen, or the pool's usual one, is not used; or, where another that
    stands ready does more, that.
    """

    choices: dict[str, Choice]
    at_hand: dict[str, AtHand]
    refused: dict[str, str]


# What a chlorine product brings besides, and in words.
_BRINGS = {"dichlor": ("cya", "stabilizer"), "cal-hypo": ("ch", "calcium")}


def _brings_too(product_id: str, low: frozenset[str]) -> str:
    """What a chlorine product brings of that is low as well, in words; empty for nothing."""
    measure, name = _BRINGS.get(product_id.rsplit("-", 1)[0], ("", ""))
    return name if measure in low else ""


def supply_for(
    traits: PoolTraits,
    water: WaterState,
    chosen: dict[str, Choice],
    at_hand: tuple[AtHand, ...] | None,
    low: frozenset[str] = frozenset(),
) -> Supply:
    """A permitted product for every role: the person's choice, else what stands ready, else the usual one to
    buy. Of what stands ready the one first that brings what is low too: one pour instead of two.

    A choice that must not be used here is refused with its reason, and the next best taken. low: measures
    under their band.

    Common practice for what is not used where.
    """
    choices, ready, refused = {}, {}, {}
    for role in ROLE_LABELS:
        usual, wanted = _usual(role, traits), chosen.get(role)
        stand = _standing(role, at_hand or (), usual, low)
        if wanted is not None and role not in PRODUCTS[wanted.product_id].roles:
            wanted = None
        expected = wanted.product_id if wanted else usual
        used, why = _first_permitted(_in_order(role, wanted, stand, usual), expected, traits, water)
        if why:
            refused[role] = why
        if used is None:
            continue
        choices[role] = used
        more = _brings_too(used.product_id, low)
        if more and used.product_id not in (usual, expected):
            name = PRODUCTS[used.product_id].name
            refused[role] = f"{name} stands ready and brings the {more} that is low too: one pour for both."
        entry = next((a for a in stand if _same(a, used)), None)
        if entry is not None:
            ready[role] = entry
    return Supply(choices, ready, refused)


def _first_permitted(
    order: list[Choice], expected: str, traits: PoolTraits, water: WaterState
) -> tuple[Choice | None, str]:
    """The first choice that may be used here; and why the product one would expect is not, if it is not."""
    refused = ""
    for choice in order:
        why = forbidden(PRODUCTS[choice.product_id], traits, water)
        if why is None:
            return choice, refused
        if choice.product_id == expected:
            refused = f"{PRODUCTS[choice.product_id].name} is not used here. {why}"
    return None, refused


def _usual(role: str, traits: PoolTraits) -> str:
    """What is bought for it where nothing is chosen or at hand."""
    if role == "raise_fc":
        return _DEFAULT_CHLORINE.get(traits.chlorine_source, _ALWAYS_FIT)
    return _DEFAULTS[role]


def _standing(role: str, at_hand: tuple[AtHand, ...], usual: str, low: frozenset[str]) -> list[AtHand]:
    """What stands ready for it: what brings what is low too, then the usual product, then the cheapest."""
    fit = [a for a in at_hand if role in PRODUCTS[a.product_id].roles and a.stock != 0]

    def rank(a: AtHand) -> tuple[bool, bool, int]:
        helps = role == "raise_fc" and bool(_brings_too(a.product_id, low))
        return not helps, a.product_id != usual, a.cost_minor(a.stock or 1.0) or 0

    return sorted(fit, key=rank)


def _in_order(role: str, wanted: Choice | None, stand: list[AtHand], usual: str) -> list[Choice]:
    """Choices, the best first; what stands ready at the strength it has today."""
    ready = [Choice(a.product_id, a.strength) for a in stand]
    order = [*([wanted] if wanted else []), *ready, Choice(usual)]
    order += [Choice(_ALWAYS_FIT)] if role == "raise_fc" else []
    own = {c.product_id: c for c in reversed(ready)}
    return [own.get(c.product_id, c) if c.strength is None else c for c in order]


def _same(entry: AtHand, choice: Choice) -> bool:
    return entry.product_id == choice.product_id and (
        choice.strength is None or entry.strength in (None, choice.strength)
    )


def lacking(entry: AtHand | None, product: Product, amount: float, request: PlanRequest) -> str:
    """What the stock lacks for this much (g or mL), in words; empty where it suffices or nobody said what
    stands ready.
    """
    if request.at_hand is None:
        return ""
    form, system, volume_l = form_of(product), request.system, request.traits.volume_l
    if entry is None:
        return "Not among your products: buy it."
    if entry.stock is None or entry.stock >= amount:
        return ""
    short = amount - entry.stock
    tool = tool_for(short, form, system, volume_l)
    more = describe(rounded_down(short + tool.step * 0.999, tool), tool, form).text
    return f"You have {_told(entry.stock, form, system, volume_l)}; buy {more} more."


def _told(amount: float, form: Form, system: System, volume_l: float) -> str:
    tool = tool_for(amount, form, system, volume_l)
    return describe(rounded_down(amount, tool), tool, form).text


def alternatives(
    role: str, amount: float, choice: Choice, base: WaterState, request: PlanRequest
) -> tuple[Alternative, ...]:
    """Other permitted products that do the same, what they cost, and what else they do.

    amount: of the product chosen, in g or mL. base: the water before this role's own product, everything else
    in, for pH. What stands ready comes first.

    Amounts g or mL, costs in minor units. Equal moles of what counts, or equal pH.
    """
    traits, at_hand = request.traits, request.at_hand or ()
    mine = PRODUCTS[choice.product_id].change_per_unit(traits.volume_l, choice.strength) * amount
    offers = []
    for product in PRODUCTS.values():
        if (
            role not in product.roles
            or product.id == choice.product_id
            or forbidden(product, traits, request.water)
        ):
            continue
        entry = next((a for a in at_hand if a.product_id == product.id), None)
        per = product.change_per_unit(traits.volume_l, entry.strength if entry else None)
        same = product.active == PRODUCTS[choice.product_id].active
        needed = _largest(mine) / _largest(per) if same else _as_much(role, mine, per, base)
        if needed is None or needed <= 0:
            continue
        form = form_of(product)
        tool = tool_for(needed, form, request.system, traits.volume_l)
        rounded = rounded_down(needed, tool)
        if rounded <= 0:
            continue
        cost, strength = (entry.cost_minor(rounded), entry.strength) if entry else (None, None)
        described = describe(rounded, tool, form)
        offers.append(
            Alternative(product.id, strength, described, _side(per * needed, role), cost, entry is not None)
        )
    return tuple(sorted(offers, key=lambda a: (not a.at_hand, a.cost_minor or 0)))


def _largest(change: Change) -> float:
    return max(abs(change.alk), abs(change.cl2), abs(change.ca))


def _as_much(role: str, mine: Change, per: Change, base: WaterState) -> float | None:
    """Units of another product with the same effect on what the role is for; None where it cannot."""
    if role == "raise_fc":
        return mine.cl2 / per.cl2
    if role == "raise_ch":
        return mine.ca / per.ca
    if role in ("lower_ph", "raise_ph") and base.has_ph_chemistry:
        to = apply(base, mine.spent).ph
        return None if to is None else amount_to_ph(base, per.spent, to)
    return mine.alk / per.alk if per.alk else None


def _side(change: Change, role: str) -> str:
    """What else an addition does, once its chlorine is spent, in words."""
    zero = WaterState(fc_ppm=0, ta_ppm=1000, ch_ppm=0, cya_ppm=0, salt_ppm=0)
    after = apply(zero, change.spent)
    ta = (after.ta_ppm or 0.0) - 1000
    parts = [
        ("stabilizer", after.cya_ppm or 0.0, 0.5),
        ("calcium", 0.0 if role == "raise_ch" else after.ch_ppm or 0.0, 0.5),
    ]
    parts += [("borate", after.borate_ppm, 0.3)]
    parts += [("alkalinity", ta, 1.0)] if role != "raise_ta" else []
    described = [
        f"{name} {value:+.0f}" if abs(value) >= 1 else f"{name} {value:+.1f}"
        for name, value, least in parts
        if abs(value) >= least
    ]
    if change.so4:
        described.append("adds sulfate")
    return ", ".join(described) or "nothing else"


def checked_choices(typed: dict[str, tuple[str, float | None]]) -> dict[str, Choice]:
    """Products chosen for roles, with strengths their chemistry allows. Raises InvalidInput."""
    choices = {}
    for role, (product_id, strength) in typed.items():
        product = PRODUCTS.get(product_id)
        if product is None or role not in product.roles:
            raise InvalidInput(
                FieldProblem(f"products.{role}", "unknown_product", "Choose a product that does this.")
            )
        if strength is not None and not 0.005 <= strength <= product.most_strength:
            raise InvalidInput(
                FieldProblem(
                    f"products.{role}",
                    "strength",
                    f"{product.name} is between 0.5 and {product.most_strength * 100:g} % strong.",
                )
            )
        choices[role] = Choice(product_id, strength)
    return choices
