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
from kumpan.core.water.estimate.filter import ORDER
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.store import queries

_BOM = "\ufeff"  # so that spreadsheets read UTF-8


def tests_csv(context: Context, pool_id: UUID) -> str:
    """One line a test, oldest first: when on the pool's clock and in UTC, who, the readings in canonical
    units, how each was read.
    """
    pool = queries.pool(context.session, context.account.id, pool_id)
    zone, measures = ZoneInfo(pool.time_zone), [*ORDER[:2], "tc", *ORDER[2:]]
    head = [
        "when",
        "when_utc",
        "who",
        "spot",
        *(f"{m}_{_UNIT.get(MEASURES[m].unit, 'ppm')}" if m != "ph" else "ph" for m in measures),
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
                event.who,
                event.spot,
                *(round(values[m], 4) if m in values else "" for m in measures),
                "; ".join(methods),
            ]
        )
    return _written(head, lines)


_UNIT = {"°C": "c"}


def doses_csv(context: Context, pool_id: UUID) -> str:
    """One line a dose, oldest first: when, who, what at which strength, how much as typed and in g or mL."""
    pool = queries.pool(context.session, context.account.id, pool_id)
    zone = ZoneInfo(pool.time_zone)
    lines: list[list[object]] = []
    for event in queries.all_events(context.session, pool.id, "dose"):
        if event.dose is None:
            continue
        product = PRODUCTS.get(event.dose.product_id)
        name = event.dose.product_id if product is None else product.named(event.dose.strength)
        liquid = product is not None and product.form == "liquid"
        lines.append(
            [
                f"{event.at.astimezone(zone):%Y-%m-%d %H:%M}",
                f"{event.at:%Y-%m-%dT%H:%M:%SZ}",
                event.who,
                name,
                event.dose.text,
                UNIT_LABELS.get(event.dose.unit, event.dose.unit),
                "" if liquid else round(event.dose.amount, 3),
                round(event.dose.amount, 3) if liquid else "",
            ]
        )
    return _written(["when", "when_utc", "who", "product", "amount", "unit", "grams", "millilitres"], lines)


def _written(head: list[str], lines: Iterable[list[object]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out)  # its default is RFC 4180: commas, CRLF, doubled quotes
    writer.writerow(head)
    writer.writerows([guarded(cell) for cell in line] for line in lines)
    return _BOM + out.getvalue()
