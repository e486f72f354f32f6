"""A pool's machines, and going away."""

from typing import Annotated
from uuid import UUID

from fastapi import Query, Request
from pydantic import Field, StringConstraints

from kumpan.actions.context import Context
from kumpan.actions.log import tests
from kumpan.actions.log.writing import NewEvent
from kumpan.actions.machines.away import AwayView
from kumpan.actions.machines.panel import FAULTS, panel_readings
from kumpan.actions.machines.view import MachinesView, going_away, machines_view
from kumpan.actions.outside import SourceFailed
from kumpan.actions.panel import adapter, binding
from kumpan.actions.shown import LogEntryView, show_event
from kumpan.api.bodies import Body, Id, Instant
from kumpan.api.deps import InScope, Scope
from kumpan.api.routes import Routes
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput

router = Routes("machines")
Number = Annotated[float, Field(allow_inf_nan=False, ge=-1e6, le=1e6)]


class PanelBody(Body):
    """Bind a panel: its address, or ``standin`` for the simulated one."""

    address: Annotated[str, StringConstraints(max_length=200)]


class SettingBody(Body):
    """Set the cell through its panel. id: of the entry that tells it."""

    id: UUID
    percent: Number
    hours_day: Number


class FaultBody(Body):
    """Put the simulated panel into a fault, or out of it (empty)."""

    fault: Id


class ReadingBody(Body):
    """Take what the panel told into the log. id: of the test."""

    id: UUID
    at: Instant


@router.get("/pools/{pool_id}/machines")
def get_machines(pool_id: UUID, scope: InScope) -> MachinesView:
    """Chlorinator, feeder, filter and circulation: what to set, what it means, when to clean it."""
    return scope.run(lambda c: machines_view(c, pool_id))


@router.get("/pools/{pool_id}/away")
def get_away(
    pool_id: UUID, scope: InScope, days: Annotated[int, Query(ge=-(2**31), le=2**31 - 1)]
) -> AwayView:
    """What to do before so many days away, and what chlorine and pH will be on the day of return."""
    return scope.run(lambda c: going_away(c, pool_id, days))


@router.put("/pools/{pool_id}/panel")
def bind_panel(pool_id: UUID, body: PanelBody, scope: InScope) -> MachinesView:
    """Bind a pool's chlorinator to its panel; the worker asks it from then on."""

    def work(context: Context) -> MachinesView:
        binding.bind(context, pool_id, body.address)
        return machines_view(context, pool_id)

    return scope.run(work)


@router.delete("/pools/{pool_id}/panel", status_code=204)
def unbind_panel(pool_id: UUID, scope: InScope) -> None:
    """Let the panel go."""
    scope.run(lambda c: binding.unbind(c, pool_id))


@router.post("/pools/{pool_id}/panel/setting", status_code=201)
def set_panel(pool_id: UUID, body: SettingBody, scope: InScope, request: Request) -> MachinesView:
    """Set the cell through its panel; what it took is written to the log. No session is held meanwhile."""
    binding.checked_setting(body.percent, body.hours_day)
    url = _url(scope, pool_id, request)
    scope.refuse_other(body.id)
    try:
        answer = adapter.set_to(url, body.percent, body.hours_day)
    except SourceFailed as error:
        raise _silent(error) from None
    new = binding.NewSetting(body.id, body.percent, body.hours_day)

    def work(context: Context) -> MachinesView:
        binding.write_setting(context, pool_id, new, answer)
        return machines_view(context, pool_id)

    return scope.create(body.id, work)


@router.post("/pools/{pool_id}/panel/fault", status_code=201)
def fault_panel(pool_id: UUID, body: FaultBody, scope: InScope, request: Request) -> MachinesView:
    """Put a simulated panel into a fault, to see what is made of it."""
    if body.fault not in FAULTS:
        raise InvalidInput(FieldProblem("fault", "unknown_choice", "There is no such fault."))
    if not scope.run(lambda c: binding.bound(c, pool_id).simulated):
        raise Conflict("not_simulated", "Only a simulated panel is put into faults.")
    try:
        adapter.simulate(_url(scope, pool_id, request), "fault", {"fault": body.fault})
    except SourceFailed as error:
        raise _silent(error) from None
    return scope.run(lambda c: _asked_anew(c, pool_id))


@router.post("/pools/{pool_id}/panel/reading", status_code=201)
def read_panel(pool_id: UUID, body: ReadingBody, scope: InScope) -> LogEntryView:
    """Take what the panel told last into the log, as its own readings."""

    def work(context: Context) -> LogEntryView:
        new = tests.NewTest(NewEvent(body.id, body.at), panel_readings(context, pool_id))
        return show_event(context, tests.log_test(context, pool_id, new))

    return scope.create(body.id, work)


def _url(scope: Scope, pool_id: UUID, request: Request) -> str:
    address = scope.run(lambda c: binding.bound(c, pool_id).address)
    url: str = request.app.state.find_panel(address)
    return url


def _silent(error: SourceFailed) -> Conflict:
    text = str(error)
    return Conflict("panel_silent", f"{text[:1].upper()}{text[1:]}: nothing was set.")


def _asked_anew(context: Context, pool_id: UUID) -> MachinesView:
    binding.bound(context, pool_id).tried_at = None
    return machines_view(context, pool_id)
