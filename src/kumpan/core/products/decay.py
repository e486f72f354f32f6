"""How liquid chlorine loses strength in store."""

import math
from functools import lru_cache

from kumpan.core.chemistry import constants as k
from kumpan.core.products.catalogue import HYPOCHLORITE
from kumpan.core.products.product import Product

# Half-lives in days at 25 and 15 C, by g of available Cl2 per 100 mL (trade %): White, Handbook of
# Chlorination, from memory. At 15 % 100 to 144 days at 25 C (the geometric middle is taken) and none is given
# at 15 C: it is taken to cool as 10 % does.
_TABLE = ((5.0, 790.0, 5000.0), (10.0, 220.0, 800.0), (15.0, 120.0, 120.0 * 800 / 220))
_K_25, _K_15 = 1 / 298.15, 1 / 288.15
_COLD_C, _HOT_C = -5.0, 50.0


def half_life_days(trade_percent: float, temp_c: float) -> float:
    """Days in which sodium hypochlorite of this strength halves at this temperature.

    The logarithm of the half-life is interpolated in strength and in 1/T (and extrapolated in 1/T; strengths
    under 5 and over 15 % are taken as those). trade_percent above 0; temp_c -5 to 50, beyond as at the end.
    White, Handbook of Chlorination, from memory.

    >>> round(half_life_days(10, 25)), round(half_life_days(10, 15))
    (220, 800)
    """
    s = min(max(trade_percent, _TABLE[0][0]), _TABLE[-1][0])
    inverse = 1 / (min(max(temp_c, _COLD_C), _HOT_C) + 273.15)
    share = (inverse - _K_25) / (_K_15 - _K_25)
    logs = [math.log(at_25) + share * math.log(at_15 / at_25) for _, at_25, at_15 in _TABLE]
    for (low, _, _), (high, _, _), a, b in zip(_TABLE, _TABLE[1:], logs, logs[1:], strict=False):
        if s <= high:
            return math.exp(a + (b - a) * (s - low) / (high - low))
    return math.exp(logs[-1])


@lru_cache(maxsize=256)
def strength_after(trade_percent: float, days: float, temp_c: float) -> float:
    """Strength (trade %) after so many days in store at a steady temperature.

    It slows as it weakens: the half-life of the strength it then has is used over short steps.

    >>> round(strength_after(12.5, 30, 25), 1)
    11.1
    """
    strength, left = trade_percent, max(0.0, days)
    while left > 0 and strength > 0.1:
        half_life = half_life_days(strength, temp_c)
        step = min(left, half_life / 50)
        strength *= 0.5 ** (step / half_life)
        left -= step
    return strength


def ages(product: Product) -> bool:
    """Whether this product loses strength in store fast enough to count: liquid chlorine."""
    return product.active == HYPOCHLORITE


def strength_today(product: Product, strength: float | None, days: float, temp_c: float) -> float:
    """Strength as a fraction in the product's own basis, after so many days in store. strength: when bought,
    None for its usual one.

    Rounded up to a tenth of a percent, so that rounding makes a dose smaller, never larger. Raises ValueError
    for products that do not age (``ages``).
    """
    if not ages(product):
        raise ValueError(f"{product.id} does not lose strength in store")
    new = product.strength if strength is None else strength
    trade_percent = product.moles_per_unit(new) * k.CL2 * 100
    now = new * strength_after(round(trade_percent, 2), round(days, 1), round(temp_c, 1)) / trade_percent
    return min(new, math.ceil(now * 1000 - 1e-9) / 1000)
