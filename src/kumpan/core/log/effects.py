"""What entries of each kind do to the water."""

from typing import TYPE_CHECKING

from kumpan.core.log.entry import Details, Dose, Effect, LogEntry, StepDone
from kumpan.core.machines.output import cell_ppm_day
from kumpan.core.products.catalogue import PRODUCTS

if TYPE_CHECKING:
    from kumpan.core.pool.traits import PoolTraits


def _details(entry: LogEntry) -> Details:
    assert isinstance(entry.payload, Details)
    return entry.payload


def none(entry: LogEntry, traits: "PoolTraits") -> Effect:
    """Nothing beyond what readings tell."""
    return Effect()


def dose(entry: LogEntry, traits: "PoolTraits") -> Effect:
    """What was poured, where its effect is computed."""
    poured = entry.payload
    assert isinstance(poured, Dose)
    product = PRODUCTS.get(poured.product_id)
    if product is None or product.active is None:
        return Effect()
    change = product.change_per_unit(traits.volume_l, poured.strength) * poured.amount
    return Effect(feeds=change) if product.form == "tablet" else Effect(change=change)


def step_done(entry: LogEntry, traits: "PoolTraits") -> Effect:
    """Fresh water replaces its share; air and waiting are the estimate's own business."""
    done = entry.payload
    assert isinstance(done, StepDone)
    return Effect(replaced=(done.fraction or 0.0) if done.what == "dilute" else 0.0)


def lost(entry: LogEntry, traits: "PoolTraits") -> Effect:
    """Water left: ``lost`` litres, or nobody knows how much."""
    return Effect(lost_l=_details(entry).number("lost"))


def refill(entry: LogEntry, traits: "PoolTraits") -> Effect:
    """Fill water came."""
    return Effect(added_l=_details(entry).number("added"))


def rain(entry: LogEntry, traits: "PoolTraits") -> Effect:
    """Rain fell on the pool."""
    return Effect(rain_mm=_details(entry).number("fell"))


def bathers(entry: LogEntry, traits: "PoolTraits") -> Effect:
    """People used chlorine."""
    return Effect(bathers=_details(entry).number("people"))


def cover(entry: LogEntry, traits: "PoolTraits") -> Effect:
    """A cover slows the loss of chlorine."""
    return Effect(covered=_details(entry).values.get("state") == "on")


def cell(entry: LogEntry, traits: "PoolTraits") -> Effect:
    """Another setting: what the cell makes at it, where its rating and both figures are known."""
    values = _details(entry).values
    percent, hours = values.get("setting"), values.get("hours", traits.cell_hours)
    if traits.cell_g_day is None or percent is None or hours is None:
        return Effect(cell_set=True)
    made = cell_ppm_day(traits.cell_g_day, float(percent), float(hours), traits.volume_l)
    return Effect(cell_set=True, cell_ppm_day=made)
