"""Treat, exchange part of the water, or drain: both sides for this pool, and what is advised."""

from collections.abc import Sequence
from dataclasses import dataclass

from kumpan.core.chemistry import constants as k
from kumpan.core.clearup import tables as t
from kumpan.core.clearup.foretell import Foretold
from kumpan.core.clearup.run import Run, Site
from kumpan.core.dosing.request import AtHand
from kumpan.core.guidance.targets import bands_for, combined_asks_ppm, kill_level_ppm
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.water.state import WaterState, value_of

# Hours to fill by a hose of usual flow where its own is not known: 9 gal a minute (common practice).
_HOSE_L_H = 2000.0
# What tap water is brought up to after a drain, and by which product; the fill's own counts (our own).
_REFILL = (("cya", "stabilizer"), ("salt", "salt"), ("ch", "calcium-chloride-77"), ("ta", "baking-soda"))
_HOT_C = 26.7  # plaster dries and cracks over about 80 F of air (common practice)
_LEAST_PART = 0.25  # less than this is not worth an exchange (our own)
_DAYS_FILLING = 1.5
_START_FC_PPM = 10.0  # what a fresh fill is started with


@dataclass(frozen=True)
class Needed:
    """A product and how much of it (g or mL), with what it costs where that is known."""

    product_id: str
    amount: float
    cost_minor: int | None


@dataclass(frozen=True)
class Way:
    """One way: its share of water exchanged, days, water lost, what it takes, what speaks against it.
    filter_work: how often the filter is cleaned, about.
    """

    id: str
    label: str
    share: float
    days: float
    water_l: float
    filter_work: float
    needs: tuple[Needed, ...]
    risks: tuple[str, ...]

    @property
    def cost_minor(self) -> int | None:
        """What its products cost; None where a price is not known."""
        costs = [n.cost_minor for n in self.needs]
        return None if None in costs else sum(c for c in costs if c is not None)


@dataclass(frozen=True)
class Compared:
    """The ways, the one advised first, and why. level_ppm: what the kill asks for as the water is."""

    ways: tuple[Way, ...]
    advised: str
    reasons: tuple[str, ...]
    level_ppm: float


def share_at_once(traits: PoolTraits) -> float:
    """Share of the water that may go in one go: a third of vinyl and fibreglass in the ground, half of
    plaster, all of a small soft-sided pool; above ground all but a foot, taken as two thirds (common practice
    and our own).
    """
    if traits.surface == "soft":
        return 1.0
    if traits.installation == "above_ground" and traits.surface == "vinyl":
        return 2 / 3
    return 0.5 if traits.surface in ("plaster", "tile") else 1 / 3


def compare(
    run: Run, site: Site, foretold: Foretold | None, at_hand: Sequence[AtHand], air_c: float | None = None
) -> Compared:
    """Treat or drain for this pool (common practice; shares our own).

    Drained where the floor cannot be seen and the level needed is over 30 ppm or stabilizer over 90, or
    calcium, phosphate and salt are all high; part of the water where only the level asks for it. A small
    soft-sided pool is emptied first of all.
    """
    water = run.water
    level = kill_level_ppm(water.cya_ppm, water.temp_c, run.kind.hocl_ppm)
    level = max(level, combined_asks_ppm(water.cc_ppm))
    over = max(0.0, 1 - t.MOST_LEVEL_PPM / level)
    ways = [_treat(run, foretold, at_hand)]
    pool = _Pool(run, site, at_hand, air_c, foretold)
    part = min(1.0, max(over, _LEAST_PART))
    ways.append(_exchange("part", part, pool))
    ways.append(_exchange("drain", 1.0, pool))
    advised, reasons = _advice(run, site, level, over)
    ways.sort(key=lambda w: (w.id != advised, w.id == "part"))
    return Compared(tuple(ways), advised, reasons, level)


def _advice(run: Run, site: Site, level: float, over: float) -> tuple[str, tuple[str, ...]]:
    water, hidden = run.water, run.severity == "hidden"
    cya = water.cya_ppm or 0.0
    if site.traits.is_small_soft:
        return "drain", (
            "A small soft-sided pool is emptied, wiped and filled in less time than it takes to clear.",
        )
    reasons = []
    if over:
        reasons.append(
            f"At {cya:.0f} ppm stabilizer the kill asks for {level:.0f} ppm of chlorine; more than"
            f" {t.MOST_LEVEL_PPM:.0f} is not held."
        )
    if cya > t.CYA_DRAIN_PPM:
        reasons.append("Stabilizer over 90 comes down by fresh water only.")
    creep = _all_high(run, site)
    if hidden and (reasons or creep):
        reasons += ["The floor cannot be seen."]
        reasons += ["Calcium, phosphate and salt are all high: the water is used up."] if creep else []
        return "drain", tuple(reasons)
    if over:
        return "part", (*reasons, "Exchange that share first, read stabilizer, then treat.")
    return "treat", (
        f"The level is {level:.0f} ppm, within what can be held.",
        "Treating keeps the water and what is in it.",
    )


def _all_high(run: Run, site: Site) -> bool:
    bands = bands_for(site.traits, run.water.cya_ppm)
    values = [(value_of(run.water, m), bands[m].high) for m in ("ch", "phosphate", "salt")]
    return all(v is not None and (v > (high or 1000.0)) for v, high in values)


def _treat(run: Run, foretold: Foretold | None, at_hand: Sequence[AtHand]) -> Way:
    days = foretold.days.mean if foretold else 1.0
    amount = foretold.amount.mean if foretold else 0.0
    risks = ["The filter is cleaned again and again.", "It can fail, and start over."]
    if run.water.cya_ppm is None:
        risks.append("Stabilizer was never read: the level is a guess.")
    return Way(
        "treat",
        "Treat it",
        0.0,
        days,
        0.0,
        max(2.0, days),
        (_needed(run.product_id, amount, at_hand),),
        tuple(risks),
    )


@dataclass(frozen=True)
class _Pool:
    """What an exchange of water is worked out from. air_c: the air to come, None where not known."""

    run: Run
    site: Site
    at_hand: Sequence[AtHand]
    air_c: float | None
    foretold: Foretold | None


def _exchange(id: str, share: float, pool: _Pool) -> Way:
    run, site, at_hand = pool.run, pool.site, pool.at_hand
    traits = site.traits
    litres = share * traits.volume_l
    filling_h = litres / (traits.hose_l_h or _HOSE_L_H)
    rounds = 1 if id == "drain" or share <= share_at_once(site.traits) + 1e-9 else 2
    needs = [_needed(product, grams, at_hand) for product, grams in _refill(run.water, site, share)]
    per = PRODUCTS[run.product_id].change_per_unit(traits.volume_l, run.strength).cl2
    first = _START_FC_PPM / 1000 / k.CL2 / per if id == "drain" else 0.0
    treated = 0.0
    if id == "part" and pool.foretold is not None:
        # What is left is treated, at the lower level of the thinner stabilizer.
        treated = pool.foretold.days.mean
        first = pool.foretold.amount.mean * _level_left(run, share)
    if first:
        needs.insert(0, _needed(run.product_id, first, at_hand))
    label = "Drain and fill" if id == "drain" else "Exchange part, then treat"
    return Way(
        id,
        label,
        share,
        _DAYS_FILLING * rounds + filling_h / 24 + treated,
        litres,
        1.0,
        tuple(needs),
        _risks(site, share, pool.air_c),
    )


def _level_left(run: Run, share: float) -> float:
    """What the level is after an exchange, as a share of what is held without one."""
    cya = run.water.cya_ppm
    kills, temp_c = run.kind.hocl_ppm, run.water.temp_c
    before = min(t.MOST_LEVEL_PPM, kill_level_ppm(cya, temp_c, kills))
    return kill_level_ppm(None if cya is None else cya * (1 - share), temp_c, kills) / before


def _risks(site: Site, share: float, air_c: float | None) -> tuple[str, ...]:
    traits, risks = site.traits, []
    if traits.surface != "soft":
        if not traits.low_ground_water:
            risks.append(
                "Groundwater can float a shell or wrinkle a liner: by overflow where it is not known"
                " to be low."
            )
        if share > share_at_once(site.traits) + 1e-9:
            most = _share_words(share_at_once(site.traits))
            whole = ", or the whole by licensed people" if share > 0.99 else ""
            risks.append(f"No more than {most} of it at once{whole}.")
        if traits.surface in ("plaster", "tile") and (air_c is None or air_c > _HOT_C):
            risks.append("Bare plaster dries and cracks in heat: mild weather, and fill without pause.")
    risks.append(
        "Dechlorinate first; local rules say where it may go, and a full drain is licensed work in places."
    )
    return tuple(risks)


def _share_words(share: float) -> str:
    return {1 / 3: "a third", 0.5: "half", 2 / 3: "two thirds"}.get(share, f"{share:.0%}")


def _refill(water: WaterState, site: Site, share: float) -> list[tuple[str, float]]:
    """What brings the new water to where the pool's bands begin, g of each."""
    bands, fill, litres = bands_for(site.traits, None), site.traits.fill, share * site.traits.volume_l
    found = []
    for measure, product_id in _REFILL:
        low = bands[measure].low
        has = value_of(fill, measure) or 0.0
        if low is None or has >= low or (measure == "salt" and not site.traits.has_chlorinator):
            continue
        if measure in ("ta", "ch") and value_of(fill, measure) is None:
            continue  # what the tap brings of these is not known
        per = PRODUCTS[product_id].change_per_unit(litres)
        gain = {
            "cya": per.cya * 1000 * k.CYANURIC,
            "salt": per.salt_ppm,
            "ch": per.ca * k.CH_PPM_PER_MOL_L,
            "ta": per.alk * k.TA_PPM_PER_EQ_L,
        }[measure]
        found.append((product_id, (low - has) / gain))
    return found


def _needed(product_id: str, amount: float, at_hand: Sequence[AtHand]) -> Needed:
    entry = next((a for a in at_hand if a.product_id == product_id), None)
    return Needed(product_id, amount, entry.cost_minor(amount) if entry is not None else None)
