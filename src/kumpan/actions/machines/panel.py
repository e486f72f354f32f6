"""The chlorinator's panel as its machine's view shows it."""

from dataclasses import dataclass
from datetime import timedelta
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.machines.site import Known
from kumpan.actions.panel.binding import bound
from kumpan.core.errors import Conflict
from kumpan.core.machines.panel import LIGHTS, judge
from kumpan.core.pool.equipment_facts import Fact
from kumpan.core.pool.traits import CELL_STOPS_C
from kumpan.core.water.readings import TypedReadings
from kumpan.store import queries
from kumpan.store.tables.panel import PanelRow

_FRESH = timedelta(days=31)
# What a simulated panel can be put into, to see what is made of it.
FAULTS = {
    "": "none",
    "low_salt": "low salt",
    "no_flow": "no flow",
    "scaled": "scaled plates",
    "cold": "cold water",
    "silent": "it does not answer",
    "late": "it answers late",
    "nonsense": "it talks nonsense",
    "unknown": "a light nobody knows",
}


@dataclass(frozen=True)
class PanelView:
    """A bound panel. name: of its source, labelled simulated where it is; when: it told so last; problem:
    what is wrong with it since, empty where it answers; faults: of a simulated one, (id, label).
    """

    address: str
    name: str
    simulated: bool
    when: str
    problem: str
    setting: str
    percent: float | None
    hours_day: float | None
    makes: str
    salt: str
    temp: str
    lights: str
    says: tuple[Fact, ...]
    faults: tuple[tuple[str, str], ...]


def panel_view(known: Known) -> PanelView | None:
    """The panel a pool is bound to, with what it told last; None where it is bound to none."""
    row = known.context.session.get(PanelRow, known.pool.id)
    if row is None:
        return None
    told = row.state
    name = f"{row.source or 'Panel'}, simulated" if row.simulated else row.source or row.address
    faults = tuple(FAULTS.items()) if row.simulated else ()
    if told is None:
        problem = _problem(row) or "It was not asked yet: a moment."
        return PanelView(
            row.address, name, row.simulated, "", problem, "", None, None, "", "", "", "", (), faults
        )
    lights = ", ".join(LIGHTS.get(light, light) for light in told.lights)
    return PanelView(
        address=row.address,
        name=name,
        simulated=row.simulated,
        when="" if row.told_at is None else f"{row.told_at.astimezone(known.here.tzinfo):%H:%M}",
        problem=_problem(row),
        setting=f"{told.percent:g} % for {told.hours_day:g} h a day",
        percent=told.percent,
        hours_day=told.hours_day,
        makes="makes chlorine now" if told.makes_now else "makes none now",
        salt="" if told.salt_ppm is None else f"{told.salt_ppm:,.0f} ppm, its guess",
        temp="" if told.temp_c is None else known.temp(told.temp_c),
        lights=lights or "none",
        says=tuple(_says(known, row)),
        faults=faults,
    )


def _problem(row: PanelRow) -> str:
    return f"{row.problem[:1].upper()}{row.problem[1:]}." if row.problem else ""


def _says(known: Known, row: PanelRow) -> list[Fact]:
    told = row.state
    assert told is not None
    session, pool = known.context.session, known.pool
    tested = queries.newest_reading(session, pool.id, "salt", panel=False)
    value = tested[0] if tested and tested[1] > known.context.now - _FRESH else None
    low = known.band("salt").low or 2700.0
    stops = float(pool.known("chlorinator").get("cutout") or CELL_STOPS_C)
    levels = {"fine": "none", "watch": "watch", "act": "act"}
    found = judge(told, value, low, stops, known.context.now)
    return [Fact(s.text, "salt_makeup", levels[s.level]) for s in found]  # type: ignore[arg-type]


def panel_readings(context: Context, pool_id: UUID) -> TypedReadings:
    """What the panel told last as readings for the log, by its own method. Raises Conflict without any."""
    told = bound(context, pool_id).state
    if told is None or (told.salt_ppm is None and told.temp_c is None):
        raise Conflict("nothing_told", "The panel has told nothing yet.")
    salt, temp = told.salt_ppm, told.temp_c
    found: TypedReadings = [] if salt is None else [("salt", f"{salt:.0f}", "ppm", "panel", None)]
    return [*found, *([] if temp is None else [("temp", f"{temp:.1f}", "°C", "panel", None)])]
