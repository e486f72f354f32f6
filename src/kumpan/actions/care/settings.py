"""How a person looks after a pool: cadence, season, time, and the schools of the weekly clean."""

from collections.abc import Mapping
from dataclasses import dataclass
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.core.care.recur import checked_window
from kumpan.core.care.site import CADENCES, FILTER_BY, ORDERS, SHOCKS, TEST_WHEN
from kumpan.core.errors import FieldProblem, InvalidInput, check_revision
from kumpan.store import queries
from kumpan.store.care import fit
from kumpan.store.tables.pools import Pool

_CHOICES: dict[str, Mapping[str, object]] = {
    "cadence": CADENCES,
    "shock": SHOCKS,
    "test_when": TEST_WHEN,
    "order": ORDERS,
    "filter_by": FILTER_BY,
}


@dataclass(frozen=True)
class CareInput:
    """As chosen. minutes: what there is for a visit, 0 as usual; shock, test_when, order, filter_by: empty as
    usual; season_from, season_to: MM-DD, empty all year.
    """

    cadence: str
    minutes: float = 0.0
    shock: str = ""
    test_when: str = ""
    order: str = ""
    filter_by: str = ""
    season_from: str = ""
    season_to: str = ""


def change_care(context: Context, pool_id: UUID, chosen: CareInput, revision: int) -> Pool:
    """Change how a pool is looked after, if nobody changed it since; its tasks follow. Raises InvalidInput at
    each wrong field.
    """
    pool = queries.pool(context.session, context.account.id, pool_id, lock=True)
    check_revision(pool.revision, revision, "pool")
    problems = [
        FieldProblem(name, "unknown_choice", "Choose one of the answers.")
        for name, choices in _CHOICES.items()
        if getattr(chosen, name) not in choices and (getattr(chosen, name) or name == "cadence")
    ]
    if chosen.minutes and not 5 <= chosen.minutes <= 600:
        problems.append(FieldProblem("minutes", "out_of_range", "Between 5 minutes and 10 hours."))
    try:
        checked_window(chosen.season_from, chosen.season_to)
    except InvalidInput as error:
        problems += error.fields
    if problems:
        raise InvalidInput(*problems)
    pool.settings = {**(pool.settings or {}), "care": vars(chosen)}
    pool.revision += 1
    fit(context.session, pool, context.now)
    return pool
