"""A pool's tests and doses as CSV (RFC 4180) that a spreadsheet opens; no cell of text can act as a
formula.
"""

import csv
import io
from collections.abc import Iterable
from uuid import UUID
from zoneinfo import ZoneInfo

from kumpan.actions.context import Context
from kumpan.core.cells import guarded
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import UNIT_LABELS
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.store import queries
from kumpan.store.tables.log import DoseRow

_BOM = "\ufeff"  # so that spreadsheets read UTF-8


def tests_csv(context: Context, pool_id: UUID) -> str:
    """One line a test, oldest first: when on the pool's clock and in UTC, who, the readings in canonical
    units, how each was read.
    """
    pool = queries.pool(context.session, context.account.id, pool_id)
    zone, measures = ZoneInfo(pool.time_zone), list(MEASURES)
    head = [
        "when",
        "when_utc",
        "performed_by",
        "sampling_point",
        *(MEASURES[m].key for m in measures),
        "methods",
    ]
    lines: list[list[object]] = []
    for event in queries.all_events(context.session, pool.id, "water_test"):
        values = {r.measure: r.value for r in event.readings}
        methods = dict.fromkeys(
            METHODS[r.method].label if r.method in METHODS else r.method for r in event.readings
        )
        lines.append(
            [
                f"{event.at.astimezone(zone):%Y-%m-%d %H:%M}",
                f"{event.at:%Y-%m-%dT%H:%M:%SZ}",
                event.performed_by,
                event.sampling_point,
                *(round(values[m], 4) if m in values else "" for m in measures),
                "; ".join(methods),
            ]
        )
    return _written(head, lines)


def doses_csv(context: Context, pool_id: UUID) -> str:
    """One line a dose, oldest first: when, who, what at which strength, how much as typed and in g or mL."""
    pool = queries.pool(context.session, context.account.id, pool_id)
    zone = ZoneInfo(pool.time_zone)
    lines: list[list[object]] = []
    for event in queries.all_events(context.session, pool.id, "dose"):
        dose = event.detail
        if not isinstance(dose, DoseRow):
            continue
        product = PRODUCTS.get(dose.product_id)
        name = dose.product_id if product is None else product.named(dose.strength)
        liquid = product is not None and product.form == "liquid"
        lines.append(
            [
                f"{event.at.astimezone(zone):%Y-%m-%d %H:%M}",
                f"{event.at:%Y-%m-%dT%H:%M:%SZ}",
                event.performed_by,
                name,
                dose.text,
                UNIT_LABELS.get(dose.unit, dose.unit),
                "" if liquid else round(dose.amount, 3),
                round(dose.amount, 3) if liquid else "",
            ]
        )
    return _written(
        ["when", "when_utc", "performed_by", "product", "amount", "unit", "grams", "millilitres"], lines
    )


def _written(head: list[str], lines: Iterable[list[object]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out)  # its default is RFC 4180: commas, CRLF, doubled quotes
    writer.writerow(head)
    writer.writerows([guarded(cell) for cell in line] for line in lines)
    return _BOM + out.getvalue()
