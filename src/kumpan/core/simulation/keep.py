"""A simulated pool's state as plain data, to go on from to the letter."""

from dataclasses import asdict
from typing import Any

from kumpan.core.simulation.pool import Settings, Setup, SimPool
from kumpan.core.simulation.priors import Nature
from kumpan.core.water.state import WaterState

_OF_BODY = ("volume_l", "temp_c", "cc_ppm", "salt_later", "ph")
_KEPT = ("dead_mg_l", "settled_g", "load_g", "scale_mm", "organics_ppm", "brushed_h", "cell_hours")


def _short(values: dict[str, float]) -> dict[str, float]:
    return {name: float(f"{value:.7g}") for name, value in values.items()}


def kept(sim: SimPool) -> dict[str, Any]:
    """All of a pool's state as plain data, rounded to what goes on the same."""
    body = sim.body
    return {
        "mol": _short(body.mol),
        "body": _short({name: getattr(body, name) for name in _OF_BODY}),
        "sim": _short({n: getattr(sim, n) for n in _KEPT}),
        "algae": [float(f"{a:.5g}") for a in sim.algae],
        "settings": asdict(sim.settings),
    }


def restore(sim: SimPool, state: dict[str, Any]) -> None:
    """Bring a pool of the same setup to a kept state."""
    body = sim.body
    body.mol = dict(state["mol"])
    for name in _OF_BODY[:-1]:
        setattr(body, name, state["body"][name])
    for name, value in state["sim"].items():
        setattr(sim, name, value)
    sim.algae = list(state["algae"])
    sim.settings = Settings(**state["settings"])
    start, end = state["settings"]["pump_hours"]
    sim.settings.pump_hours = (start, end)
    body.disturbed(state["body"]["ph"])


def as_data(sim: SimPool, begun: WaterState) -> dict[str, Any]:
    """A whole pool as plain data: what it is, its nature, the water it began with, its state."""
    fill = asdict(sim.setup.fill)
    setup = asdict(sim.setup) | {"fill": fill}
    return {"setup": setup, "nature": asdict(sim.nature), "begun": asdict(begun), "state": kept(sim)}


def from_data(data: dict[str, Any]) -> SimPool:
    """The pool that ``as_data`` told."""
    setup = dict(data["setup"])
    setup["fill"], setup["pump_hours"] = _water(setup["fill"]), tuple(setup["pump_hours"])
    nature: dict[str, Any] = {
        name: tuple(v) if isinstance(v, list) else v for name, v in data["nature"].items()
    }
    sim = SimPool(Setup(**setup), Nature(**nature), _water(data["begun"]))
    restore(sim, data["state"])
    return sim


def _water(held: dict[str, Any]) -> WaterState:
    return WaterState(**{name: v for name, v in held.items() if name not in ("traces", "allowed_for")})
