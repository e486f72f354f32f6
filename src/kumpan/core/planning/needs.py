"""How much of each product the water needs in all, before it is split and ordered.

Works on conserved totals: changes of several products add up whatever their order, so acid or
base is sized on the water as it will be once everything else of the plan is in it.
"""

from collections.abc import Callable
from dataclasses import dataclass

from kumpan.core.guidance.bands import PoolTraits, bands_for, chlorine_band
from kumpan.core.planning.diagnosis import is_high, is_low
from kumpan.core.planning.model import Choice
from kumpan.core.products.catalogue import PRODUCTS, Product, scaled
from kumpan.core.water.state import Change, WaterState, aerated, apply, carbonate_of

# Less than this under the aim is not worth pouring (our own rule: what a drop test can tell), ppm.
FC_WORTH_PPM = 0.5
AERATE = "aerate"
_PH_MARGIN = 0.05  # kept from the edge of a band, so that rounding to a tool does not cross it (our own)
# Acid that lowers alkalinity goes down to the least pH; aeration brings it back to this (practice section 6).
AERATE_BACK_PH = 7.6

# The first product is the default. Chlorine's default follows how the pool is chlorinated.
ROLE_LABELS = {
    "raise_fc": "Chlorine", "lower_ph": "To lower pH", "raise_ph": "To raise pH", "raise_ta": "To raise alkalinity",
    "raise_ch": "Calcium", "raise_cya": "Stabilizer", "raise_salt": "Salt",
}  # fmt: skip
_DEFAULTS = {
    "lower_ph": "muriatic-31.45", "raise_ph": "soda-ash", "raise_ta": "baking-soda",
    "raise_ch": "calcium-chloride-77", "raise_cya": "stabilizer", "raise_salt": "salt",
}  # fmt: skip
_DEFAULT_CHLORINE = {
    "liquid": "liquid-chlorine-12.5", "granules": "dichlor-56", "chlorinator": "liquid-chlorine-12.5",
    # Tablets keep a level; a lift wants chlorine that is there today, and brings no more stabilizer.
    "tablets": "liquid-chlorine-12.5",
}  # fmt: skip


@dataclass(frozen=True)
class Need:
    """An amount (g or mL) of a product for a role. Aeration has no product: it takes ``carbon`` (mol/L, negative)
    out, whenever it happens, or, between acid portions for alkalinity, runs until pH is ``to_ph``."""

    role: str
    product: Product | None
    strength: float | None
    amount: float = 0.0
    to_ph: float | None = None
    carbon: float = 0.0

    def change(self, amount: float, volume_l: float) -> Change:
        """The change that ``amount`` of this need's product makes."""
        assert self.product is not None
        return scaled(self.product.change_per_unit(volume_l, self.strength), amount)


def choices_with_defaults(traits: PoolTraits, chosen: dict[str, Choice]) -> dict[str, Choice]:
    """A product for every role: the person's choice where it serves the role, else the default."""
    result = {role: Choice(product_id) for role, product_id in _DEFAULTS.items()}
    result["raise_fc"] = Choice(_DEFAULT_CHLORINE[traits.chlorine_source])
    for role, choice in chosen.items():
        if choice.product_id in PRODUCTS and role in PRODUCTS[choice.product_id].roles:
            result[role] = choice
    return result


def amount_for(goal: float, measured: Callable[[float], float]) -> float:
    """The least amount at which ``measured(amount)`` reaches ``goal``, whichever way it moves.

    Bisection on a monotone function of the amount (g or mL), to 1 part in a million.
    """
    start = measured(0.0)
    rising = goal > start
    high = 1.0
    while (measured(high) < goal) == rising and high < 1e9:
        high *= 2
    low = 0.0
    for _ in range(34):
        middle = (low + high) / 2
        if (measured(middle) < goal) == rising:
            low = middle
        else:
            high = middle
    return high


class Wanted:
    """Collects needs for one water and pool; ``after`` is the water once all of them are in."""

    def __init__(self, water: WaterState, traits: PoolTraits, choices: dict[str, Choice]) -> None:
        self.water, self.traits, self.choices = water, traits, choices
        self.needs: dict[str, Need] = {}
        self.total = Change()

    @property
    def after(self) -> WaterState:
        """The water once every addition so far is mixed in (aeration not counted)."""
        return apply(self.water, self.total)

    def put(self, role: str, amount: float) -> None:
        """Set the amount for a role, replacing what it had."""
        choice = self.choices[role]
        need = Need(role, PRODUCTS[choice.product_id], choice.strength, max(0.0, amount))
        self.needs[role] = need
        self.total = Change()
        for other in self.needs.values():
            if other.product is not None:
                self.total += other.change(other.amount, self.traits.volume_l)

    def per_unit(self, role: str, field: str) -> float:
        """Rise of a WaterState field per g or mL of the role's product, for fields that rise linearly."""
        choice = self.choices[role]
        change = PRODUCTS[choice.product_id].change_per_unit(self.traits.volume_l, choice.strength)
        zero = WaterState(fc_ppm=0, ta_ppm=0, ch_ppm=0, cya_ppm=0, salt_ppm=0)
        return float(getattr(apply(zero, change), field))


def chlorine_and_stabilizer(w: Wanted, stabilizer_waits: bool = False) -> None:
    """Stabilizer to its aim and chlorine to the aim that this stabilizer asks for, side effects counted.

    stabilizer_waits: only chlorine, for the stabilizer there is.
    """
    bands = bands_for(w.traits, w.water.cya_ppm)
    cya, fc = w.water.cya_ppm, w.water.fc_ppm
    want_cya = not stabilizer_waits and cya is not None and is_low(cya, bands["cya"])
    cya_per_fc = w.per_unit("raise_fc", "cya_ppm") / w.per_unit("raise_fc", "fc_ppm")
    fc_rise, from_chlorine = 0.0, 0.0
    for _ in range(12):  # dichlor and trichlor bring stabilizer, which raises the aim: settles fast
        end_cya = cya
        if cya is not None:
            aim = bands["cya"].aim if want_cya else None
            end_cya = max(cya + from_chlorine, aim or 0.0)
        band = chlorine_band(end_cya, w.traits)
        assert band.aim is not None and band.low is not None
        if fc is None:
            break
        steady = w.traits.has_chlorinator and fc >= band.low - 0.05
        fc_rise = 0.0 if steady or fc > band.aim - FC_WORTH_PPM else band.aim - fc
        from_chlorine = fc_rise * cya_per_fc
    if want_cya and cya is not None and bands["cya"].aim is not None:
        w.put("raise_cya", (bands["cya"].aim - cya - from_chlorine) / w.per_unit("raise_cya", "cya_ppm"))
    if fc_rise:
        w.put("raise_fc", fc_rise / w.per_unit("raise_fc", "fc_ppm"))


def simple_rises(w: Wanted) -> None:
    """Calcium and salt to their aims, by mass balance; calcium from calcium hypochlorite counted."""
    bands = bands_for(w.traits, w.water.cya_ppm)
    for role, measure, field in (("raise_ch", "ch", "ch_ppm"), ("raise_salt", "salt", "salt_ppm")):
        value, band = getattr(w.after, field), bands[measure]
        if value is not None and band.aim is not None and is_low(value, band):
            w.put(role, (band.aim - value) / w.per_unit(role, field))


def balance(w: Wanted) -> None:
    """Alkalinity, then pH, on the water as all else leaves it; so that both end inside their bands."""
    bands = bands_for(w.traits, w.water.cya_ppm)
    ta_band, ph_band = bands["ta"], bands["ph"]
    assert ta_band.aim and ta_band.low and ta_band.high and ph_band.aim and ph_band.low
    ta, goal = w.after.ta_ppm, ta_band.aim
    if ta is None:
        return
    if is_low(ta, ta_band):
        w.put("raise_ta", (goal - ta) / w.per_unit("raise_ta", "ta_ppm"))
    for _ in range(6):
        for role in ("lower_ph", "raise_ph", AERATE):
            w.needs.pop(role, None)
        w.put("raise_ta", w.needs["raise_ta"].amount if "raise_ta" in w.needs else 0.0)
        base = w.after
        if base.ph is None or not base.has_ph_chemistry:
            return
        if is_high(base.ph, ph_band):
            _to_ph(w, "lower_ph", ph_band.aim)
        elif is_low(base.ph, ph_band):
            _to_ph(w, "raise_ph", ph_band.aim)
            if (w.after.ta_ppm or 0) > ta_band.high + 1:  # a base would overshoot alkalinity: air raises pH alone
                w.put("raise_ph", 0.0)
                w.needs[AERATE] = Need(AERATE, None, None, carbon=_carbon_to_lose(w.after, ph_band.aim))
        else:
            _acid_until_stabilizer_dissolves(w, ph_band.low, ph_band.high or 0.0)
        end_ta = w.after.ta_ppm
        if end_ta is None or not is_low(end_ta, ta_band):
            return
        have = w.needs["raise_ta"].amount
        w.put("raise_ta", have + (goal - end_ta) / w.per_unit("raise_ta", "ta_ppm"))


def _acid_until_stabilizer_dissolves(w: Wanted, low: float, high: float) -> None:
    """Acid for a pH that only stabilizer, days later, would bring into its band; no more than leaves it there after."""
    need = w.needs.get("raise_cya")
    if need is None or not need.amount:
        return
    today = apply(w.after, need.change(-need.amount, w.traits.volume_l))
    last = w.after.ph
    if today.ph is None or last is None or today.ph <= high or last <= low + _PH_MARGIN:
        return
    _to_ph(w, "lower_ph", low + _PH_MARGIN)  # the most that may be poured
    most = w.needs["lower_ph"].amount
    choice = w.choices["lower_ph"]
    per = PRODUCTS[choice.product_id].change_per_unit(w.traits.volume_l, choice.strength)
    enough = amount_for(high - _PH_MARGIN, lambda amount: apply(today, scaled(per, amount)).ph or 0.0)
    w.put("lower_ph", min(most, enough))


def _carbon_to_lose(water: WaterState, goal_ph: float) -> float:
    """Change in total carbonate (mol/L) that brings pH to the goal with alkalinity unchanged."""
    return carbonate_of(aerated(water, goal_ph)) - carbonate_of(water)


def _to_ph(w: Wanted, role: str, goal: float) -> None:
    choice, base = w.choices[role], w.after
    per = PRODUCTS[choice.product_id].change_per_unit(w.traits.volume_l, choice.strength)

    def ph_after(amount: float) -> float:
        ph = apply(base, scaled(per, amount)).ph
        assert ph is not None
        return ph

    w.put(role, amount_for(goal, ph_after))
