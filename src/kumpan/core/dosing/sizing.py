"""How much of each product the water needs in all, before it is split and ordered.

Works on conserved totals: changes of several products add up whatever their order, so acid or
base is sized on the water as it will be once everything else of the plan is in it.
"""

import math
from dataclasses import dataclass, replace

from kumpan.core.chemistry import constants as k
from kumpan.core.dosing.acid_base import AIR, PH_MARGIN, Region, Vector, reach
from kumpan.core.dosing.findings import is_high, is_low
from kumpan.core.dosing.request import Choice
from kumpan.core.guidance.targets import Band, bands_for, chlorine_band
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.products.product import Product
from kumpan.core.units import gal_to_l
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.state import Change, WaterState, amount_to_ph, apply, value_of

# Less than this under the aim is not worth pouring (our own rule: what a drop test can tell), ppm.
FC_WORTH_PPM = 0.5
AERATE = AIR.id
# Largest single moves of the mixed water (common practice and our own rule).
_TOLD_TA_PPM = 10.0  # what a drop test can tell (common practice)
_IDEAL_PH = 0.1  # how far from its aim a corrected pH may end
# Acid that lowers alkalinity goes down to the least pH; aeration brings it back to this (common practice).
AERATE_BACK_PH = 7.6


@dataclass(frozen=True)
class Need:
    """An amount (g or mL) of a product for a role. Aeration has no product: it takes ``carbon`` (mol/L,
    negative) out, whenever it happens, or, between acid portions for alkalinity, runs until pH is ``to_ph``.
    late: how much of the amount waits until stabilizer has dissolved, whose acid it makes up for."""

    role: str
    product: Product | None
    strength: float | None
    amount: float = 0.0
    to_ph: float | None = None
    carbon: float = 0.0
    late: float = 0.0

    def change(self, amount: float, volume_l: float) -> Change:
        """The change that ``amount`` of this need's product makes."""
        assert self.product is not None
        return self.product.change_per_unit(volume_l, self.strength) * amount


class Wanted:
    """Collects needs for one water and pool."""

    def __init__(
        self,
        water: WaterState,
        traits: PoolTraits,
        choices: dict[str, Choice],
        u95: dict[str, float] | None = None,
    ) -> None:
        self.water, self.traits, self.choices, self.u95 = water, traits, choices, u95 or {}
        self.needs: dict[str, Need] = {}
        self.total = Change()
        self._after: WaterState | None = water

    @property
    def after(self) -> WaterState:
        """The water once every addition so far is in and the chlorine they brought is spent (aeration not
        counted).
        """
        if self._after is None:
            self._after = apply(self.water, self.total.spent)
        return self._after

    def is_low(self, value: float, band: Band) -> bool:
        """Whether a measure is low, as far as its reading can tell."""
        return is_low(value, band, self.u95.get(band.measure, 0.0))

    def is_high(self, value: float, band: Band) -> bool:
        """Whether a measure is high, as far as its reading can tell."""
        return is_high(value, band, self.u95.get(band.measure, 0.0))

    def put(self, role: str, amount: float) -> None:
        """Set the amount for a role, replacing what it had."""
        choice = self.choices[role]
        need = Need(role, PRODUCTS[choice.product_id], choice.strength, max(0.0, amount))
        self.needs[role] = need
        self.total, self._after = Change(), None
        for other in self.needs.values():
            if other.product is not None:
                self.total += other.change(other.amount, self.traits.volume_l)

    def per_unit_of(self, role: str) -> Change:
        """What 1 g or mL of the role's product brings, its chlorine spent."""
        choice = self.choices[role]
        return PRODUCTS[choice.product_id].change_per_unit(self.traits.volume_l, choice.strength).spent

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
    want_cya = not stabilizer_waits and cya is not None and w.is_low(cya, bands["cya"])
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


def neutralise(w: Wanted) -> None:
    """Neutraliser for chlorine over its band, down to the band's top: by full oxidation, the least it can
    take.

    In practice more may be needed (chemistry: 4 FC a mole down to 0.5): the re-test tells.
    """
    fc, band = w.water.fc_ppm, chlorine_band(w.water.cya_ppm, w.traits)
    if fc is not None and band.high is not None and fc > band.high:
        w.put("lower_fc", (fc - band.high) / -w.per_unit_of("lower_fc").cl2 / 1000 / k.CL2)


def simple_rises(w: Wanted, held: frozenset[str] = frozenset()) -> None:
    """Calcium and salt to their aims, by mass balance; calcium from calcium hypochlorite counted. held: roles
    that wait.
    """
    bands = bands_for(w.traits, w.water.cya_ppm)
    for role, measure, field in (("raise_ch", "ch", "ch_ppm"), ("raise_salt", "salt", "salt_ppm")):
        value, band = getattr(w.after, field), bands[measure]
        if role in held:
            continue
        if value is not None and band.aim is not None and w.is_low(value, band):
            w.put(role, (band.aim - value) / w.per_unit(role, field))


def balance(w: Wanted) -> None:
    """Alkalinity and pH on the water as all else leaves it: the fastest way into both bands (``reach``).

    Alkalinity above its band but not beyond leaving alone is no reason to act, and no product is to raise it
    further. A pH out of its band is brought to within 0.1 of its aim (ideal 7.4 to 7.6: ANSI/APSP/ICC-11
    2019, from memory); one inside it may stay where it is.
    """
    bands = bands_for(w.traits, w.water.cya_ppm)
    ta_band, ph_band = bands["ta"], bands["ph"]
    base = w.after
    if base.ta_ppm is None:
        return
    if base.ph is None or not base.has_ph_chemistry:
        if w.is_low(base.ta_ppm, ta_band):
            w.put("raise_ta", ((ta_band.aim or 0.0) - base.ta_ppm) / w.per_unit("raise_ta", "ta_ppm"))
        return
    ph_off = w.is_low(base.ph, ph_band) or w.is_high(base.ph, ph_band)
    ta_off = w.is_low(base.ta_ppm, ta_band)
    if not ph_off and not ta_off:
        _acid_until_stabilizer_dissolves(w, ph_band.low or 0.0, ph_band.high or 0.0)
        return
    way = reach(base, _region(base, ta_band, ph_band, ph_off, ta_off), _vectors(w))
    for role, amount in (way.amounts if way else {}).items():
        if role == AERATE:
            w.needs[AERATE] = Need(AERATE, None, None, carbon=-amount)
        else:
            w.put(role, amount)


def base_after_stabilizer(w: Wanted) -> None:
    """Base that makes up for stabilizer's acid waits until that has dissolved: before, it would drive pH over
    its band.
    """
    base, stabilizer = w.needs.get("raise_ph"), w.needs.get("raise_cya")
    if base is None or not base.amount or stabilizer is None or not stabilizer.amount:
        return
    less = (
        stabilizer.change(stabilizer.amount, w.traits.volume_l) + base.change(base.amount, w.traits.volume_l)
    ) * -1.0
    today = apply(w.after, less + Change(carbon=w.needs[AERATE].carbon if AERATE in w.needs else 0.0))
    top = (bands_for(w.traits, w.water.cya_ppm)["ph"].high or 0.0) - PH_MARGIN
    now = (
        0.0
        if today.ph is None or today.ph >= top
        else amount_to_ph(today, w.per_unit_of("raise_ph"), top) or 0.0
    )
    w.needs["raise_ph"] = replace(base, late=max(0.0, base.amount - now))


def _region(base: WaterState, ta_band: Band, ph_band: Band, ph_off: bool, ta_off: bool) -> Region:
    assert (
        ta_band.low
        and ta_band.aim
        and ta_band.high
        and ph_band.low
        and ph_band.aim
        and ph_band.high
        and base.ta_ppm
    )
    near = (
        (ph_band.aim - _IDEAL_PH, ph_band.aim + _IDEAL_PH)
        if ph_off
        else (ph_band.low + PH_MARGIN, ph_band.high - PH_MARGIN)
    )
    high = max(ta_band.high, base.ta_ppm)
    # A low alkalinity is brought far enough in for the re-test to tell; one in its band may be taken down to
    # the edge by acid.
    low = min(ta_band.aim, ta_band.low + _TOLD_TA_PPM) if ta_off else ta_band.low
    return Region(low, min(max(ta_band.aim, base.ta_ppm), high), high, near[0], ph_band.aim, near[1])


def _vectors(w: Wanted) -> list[Vector]:
    """The chosen products for alkalinity and pH, and air, as ``reach`` takes them. Alkalinity first, as the
    trade's order has it.
    """
    vectors = []
    for role in ("raise_ta", "lower_ph", "raise_ph"):
        choice = w.choices[role]
        product = PRODUCTS[choice.product_id]
        at_once = most_at_once(product, choice.strength, w.traits.volume_l)
        vectors.append(Vector(role, w.per_unit_of(role), at_once, product.mix_min, product.again_min))
    return [*vectors, AIR]


def most_at_once(product: Product, strength: float | None, volume_l: float) -> float:
    """Largest single addition of a product in this pool, g or mL: its own limit and what the mixed water may
    move by.

    Common practice and our own rule. pH has its own limit, which depends on the water.
    """
    most = math.inf
    if product.max_single is not None:
        weaker = 1.0 if strength is None else product.strength / strength
        most = product.max_single * weaker * volume_l / gal_to_l(10_000)
    moved = apply(
        WaterState(ta_ppm=0, ch_ppm=0, cya_ppm=0, salt_ppm=0), product.change_per_unit(volume_l, strength)
    )
    for measure in MEASURES.values():
        if measure.single_move is not None and (rise := value_of(moved, measure.id) or 0.0) > 0:
            most = min(most, measure.single_move / rise)
    return most


def _acid_until_stabilizer_dissolves(w: Wanted, low: float, high: float) -> None:
    """Acid for a pH that only stabilizer, days later, would bring into its band; no more than leaves it there
    after.
    """
    need = w.needs.get("raise_cya")
    if need is None or not need.amount:
        return
    today = apply(w.after, need.change(-need.amount, w.traits.volume_l))  # all but the stabilizer
    last = w.after.ph
    if today.ph is None or last is None or today.ph <= high or last <= low + PH_MARGIN:
        return
    _to_ph(w, "lower_ph", low + PH_MARGIN)  # the most that may be poured
    most = w.needs["lower_ph"].amount
    enough = amount_to_ph(today, w.per_unit_of("lower_ph"), high - PH_MARGIN)
    w.put("lower_ph", most if enough is None else min(most, enough))


def _to_ph(w: Wanted, role: str, goal: float) -> None:
    w.put(role, amount_to_ph(w.after, w.per_unit_of(role), goal) or 0.0)
