"""A clear-up run as it is stored in its sheet's inputs: how it began, and what was foretold then."""

from dataclasses import asdict, dataclass, replace
from datetime import datetime
from typing import Any, Literal

from pydantic import TypeAdapter

from kumpan.core.clearup import tables as t
from kumpan.core.clearup.foretell import Foretold
from kumpan.core.clearup.run import Run
from kumpan.core.errors import KumpanError
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.water.state import WaterState, with_measures

FORM = 1


@dataclass(frozen=True)
class StoredRun:
    """A run's beginning. water: measures as known then, canonical units; volume_l: the pool's then."""

    aim: t.Aim
    school: t.SchoolId
    cause: str
    means: t.Means
    severity: t.SeverityId | None
    looks: Literal[1, 2, 4]
    method: str
    product_id: str
    strength: float | None
    bag_g: float | None
    level_ppm: float
    place: tuple[float, float] | None
    water: dict[str, float]
    volume_l: float
    form: int = FORM
    back: bool = False


_RUN: TypeAdapter[StoredRun] = TypeAdapter(StoredRun)
_FORETOLD: TypeAdapter[Foretold] = TypeAdapter(Foretold)


def store_run(
    run: Run, measures: dict[str, float], volume_l: float, foretold: Foretold | None
) -> dict[str, Any]:
    """What a sheet's inputs keep of a run."""
    kept = {n: getattr(run, n) for n in StoredRun.__dataclass_fields__ if hasattr(run, n) and n != "water"}
    held = StoredRun(**kept, water=measures, volume_l=volume_l)
    return {"run": asdict(held), "foretold": None if foretold is None else asdict(foretold)}


def read_run(inputs: dict[str, Any], id: str, at: datetime) -> Run:
    """A stored run. at: aware, in the pool's zone. Raises pydantic's ValidationError, ValueError for a newer
    form or a product that is none.
    """
    held = _RUN.validate_python(inputs.get("run"))
    if held.form != FORM:
        raise ValueError(f"form {held.form} of a stored run is not known here")
    product = PRODUCTS.get(held.product_id)
    if product is None or product.active is None or not product.active.cl2 > 0:
        raise ValueError("a run needs a chlorine product")
    kept = {
        n: getattr(held, n) for n in StoredRun.__dataclass_fields__ if n not in ("water", "volume_l", "form")
    }
    try:
        water = with_measures(WaterState(), dict(held.water))
    except KumpanError as error:
        raise ValueError(str(error)) from None
    return replace(Run(id, at, held.aim, held.school), **(kept | {"water": water}))


def read_foretold(inputs: dict[str, Any]) -> Foretold | None:
    """What was foretold when the run began; None of a plain shock."""
    held = inputs.get("foretold")
    return None if held is None else _FORETOLD.validate_python(held)


def volume_then_l(inputs: dict[str, Any]) -> float:
    """The pool's volume when the run began."""
    return _RUN.validate_python(inputs.get("run")).volume_l
