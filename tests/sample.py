"""The tests' sample: six pools of one made-up place, about three tests each, by hand so that they can be named."""

from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from sqlalchemy import Engine, func, select
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.actions.context import Context
from kumpan.actions.log.doses import TypedDose, log_dose
from kumpan.actions.log.entries import TypedEntry, log_entry
from kumpan.actions.log.tests import NewTest, log_test
from kumpan.actions.log.writing import NewEvent
from kumpan.actions.plans.accept import NewPlan, accept_plan
from kumpan.actions.pools.equipment import EquipmentInput, add_equipment
from kumpan.actions.pools.pools import PoolInput, add_pool
from kumpan.actions.shelf.items import ShelfInput, add_item
from kumpan.core.dosing.request import Terms
from kumpan.core.pool.volume import VolumeInput
from kumpan.core.records import TypedField
from kumpan.store.queries import first_account
from kumpan.store.tables.pools import Pool

_MEASURES = ("fc", "cc", "ph", "ta", "ch", "cya", "salt", "temp")
_ZONE = "America/Chicago"
_WHO = "Mara (sample)"


def _shape(plan: str, length: float, width: float, shallow: float, deep: float) -> VolumeInput:
    bottom = "sloped" if deep else "level"
    texts = [f"{v:g}" if v else "" for v in (length, width, shallow, deep)]
    sizes = dict(zip(("length", "width", "shallow", "deep"), texts, strict=True))
    return VolumeInput("shape", "ft", plan=plan, bottom=bottom, **sizes)  # type: ignore[arg-type]


# name, place, volume, surface, chlorine, installation, method,
# tests: days ago, then FC, CC, pH, TA, CH, CYA, salt, water in F ("" not tested); doses: days ago, product,
# amount, unit.
_POOLS = (
    (
        "Fernway Court",
        "Larch Hollow",
        _shape("rectangle", 32, 16, 3, 5.5),
        "plaster",
        "chlorinator",
        "in_ground",
        "drops",
        (
            (9, "4.5", "0.2", "7.5", "80", "290", "65", "3100", "83"),
            (5, "4.0", "0.2", "7.6", "80", "290", "", "3000", "82"),
            (0, "1.5", "0.4", "8.0", "95", "280", "65", "2600", "81"),
        ),
        ((9, "muriatic-31.45", "12", "fl_oz"), (5, "muriatic-31.45", "14", "fl_oz")),
    ),
    (
        "Quarry Row 7",
        "Larch Hollow",
        _shape("rectangle", 36, 18, 3, 8),
        "vinyl",
        "tablets",
        "in_ground",
        "drops",
        (
            (16, "3.5", "0", "7.4", "90", "150", "70", "", "80"),
            (8, "3.0", "0", "7.3", "85", "150", "", "", "81"),
            (1, "5.0", "0.2", "7.4", "80", "150", "95", "", "82"),
        ),
        ((16, "trichlor-90", "3", "tablet_3in"), (8, "trichlor-90", "3", "tablet_3in")),
    ),
    (
        "Thistle Ring",
        "Larch Hollow",
        _shape("round", 12, 0, 2.5, 0),
        "soft",
        "granules",
        "above_ground",
        "strip",
        (
            (6, "1", "", "7.2", "80", "", "20", "", "78"),
            (3, "2", "", "7.2", "80", "", "30", "", "79"),
            (1, "0.5", "", "7.0", "60", "", "30", "", "80"),
        ),
        ((6, "dichlor-56", "1", "oz"),),
    ),
    (
        "Old Mill Yard",
        "Cinder Bend",
        _shape("oval", 30, 15, 3, 6),
        "plaster",
        "liquid",
        "in_ground",
        "drops",
        (
            (12, "3.5", "0.2", "7.6", "100", "240", "40", "", "74"),
            (6, "1.0", "0.6", "7.8", "100", "240", "40", "", "75"),
            (2, "0.5", "1.0", "8.0", "105", "240", "40", "", "76"),
        ),
        ((12, "liquid-chlorine-12.5", "40", "fl_oz"),),
    ),
    (
        "Signal House Inn",
        "Cinder Bend",
        VolumeInput("typed", "gal", "42,000"),
        "tile",
        "liquid",
        "in_ground",
        "photometer",
        (
            (12, "3.2", "0.1", "7.5", "92", "190", "31", "", "83"),
            (4, "3.4", "0.1", "7.5", "92", "310", "31", "", "84"),
            (2, "4.1", "0.2", "7.5", "95", "312", "31", "", "84"),
            (0, "3.9", "0.1", "7.4", "94", "310", "32", "", "84"),
        ),
        (
            (11.5, "calcium-chloride-77", "66", "lb"),
            (4, "liquid-chlorine-12.5", "2", "gal"),
            (2, "muriatic-31.45", "1", "qt"),
        ),
    ),
    (
        "Upper Garth",
        "Cinder Bend",
        _shape("round", 24, 0, 3.75, 0),
        "vinyl",
        "liquid",
        "above_ground",
        "drops",
        (
            (40, "3.0", "0", "7.5", "100", "120", "40", "", "72"),
            (20, "2.5", "0.2", "7.6", "95", "120", "30", "", "64"),
            (4, "3.0", "0.2", "7.7", "70", "120", "20", "", "58"),
        ),
        ((20, "liquid-chlorine-10", "20", "fl_oz"),),
    ),
)
# pool, kind, make and model, fields (name, text, unit), bought and warranty end in days from now.
_EQUIPMENT = (
    (
        "Fernway Court",
        "chlorinator",
        "as on its plate",
        (
            ("output", "1.4", "lb_day"),
            ("hours_day", "10", "h"),
            ("salt_low", "2700", "ppm"),
            ("salt_high", "3400", "ppm"),
            ("self_cleaning", "yes", ""),
            ("cutout", "60", "f"),
        ),
        -500,
        40,
    ),
    ("Fernway Court", "filter", "", (("medium", "cartridge", ""), ("clean", "12", "psi")), -500, None),
    (
        "Fernway Court",
        "pump",
        "",
        (
            ("speeds", "variable", ""),
            ("flow", "38", "gpm"),
            ("hours", "10", "h"),
            ("run_by", "automation", ""),
        ),
        -1200,
        -470,
    ),
    ("Fernway Court", "openings", "", (("skimmers", "2", ""), ("drains", "2", "")), None, None),
    (
        "Quarry Row 7",
        "filter",
        "",
        (("medium", "sand", ""), ("clean", "10", "psi"), ("media", "2021-05-01", "")),
        None,
        None,
    ),
    ("Quarry Row 7", "feeder", "", (("what", "floater", ""), ("holds", "trichlor", "")), None, None),
)
# pool, days ago, kind, fields (name, text, unit), note.
_HAPPENED = (
    ("Fernway Court", 8.2, "clean", (("what", "whole", ""), ("minutes", "55", "min")), ""),
    ("Fernway Court", 6.5, "bathers", (("people", "12", ""), ("hours", "4", "h")), "birthday"),
    ("Fernway Court", 3.4, "rain", (("fell", "1.2", "in"),), ""),
    ("Fernway Court", 3.1, "backwash", (("minutes", "3", "min"), ("lost", "180", "gal")), ""),
    ("Fernway Court", 1.2, "cell", (("setting", "45", "%"), ("hours", "10", "h")), ""),
    (
        "Fernway Court",
        1.1,
        "inspection",
        (("what", "cell", ""), ("found", "deposits", "")),
        "white flakes, flushed off",
    ),
    ("Quarry Row 7", 4.0, "pressure", (("pressure", "19", "psi"),), ""),
    ("Upper Garth", 12.0, "cover", (("state", "on", ""),), ""),
)
# product, and of the fields of ``ShelfInput`` what is known; bought in days from now.
_SHELF: tuple[tuple[str, dict[str, str], int | None], ...] = (
    (
        "liquid-chlorine-12.5",
        {
            "stock": "3",
            "stock_unit": "gal",
            "pack": "1",
            "pack_unit": "gal",
            "price": "5.50",
            "kept": "86",
            "minimum": "1",
            "minimum_unit": "gal",
        },
        -24,
    ),
    (
        "muriatic-31.45",
        {"stock": "64", "stock_unit": "fl_oz", "pack": "1", "pack_unit": "gal", "price": "9.00"},
        None,
    ),
    (
        "salt",
        {"stock": "4", "stock_unit": "bag_40lb", "pack": "1", "pack_unit": "bag_40lb", "price": "7.80"},
        None,
    ),
    (
        "stabilizer",
        {
            "stock": "1",
            "stock_unit": "lb",
            "pack": "4",
            "pack_unit": "lb",
            "price": "22.00",
            "minimum": "2",
            "minimum_unit": "lb",
        },
        None,
    ),
    ("algaecide-copper", {"stock": "1", "stock_unit": "qt", "rate": "6", "rate_unit": "fl_oz"}, None),
)
_ACCEPTED = "Fernway Court"  # its last test comes with an accepted plan, so that Today has work under way


def load_sample(engine: Engine, now: datetime) -> bool:
    """Fill an empty database with the sample pools; False if it already holds pools."""
    with Session(engine) as session:
        account = first_account(session)
        if account is None or session.scalar(select(func.count()).select_from(Pool)):
            return False
        account.name = "Larch Hollow (made-up sample)"
        context = Context(session, account, _WHO, now)
        for name, place, volume, surface, source, installation, method, tests, doses in _POOLS:
            answers = PoolInput(
                name, place, _ZONE, 41.5, -93.6, volume, surface, source, installation, "chlorine"
            )
            pool = add_pool(context, uuid7(), answers)
            happened = [(days, "dose", rest) for days, *rest in doses] + [
                (days, "test", rest) for days, *rest in tests
            ]
            for days, kind, rest in sorted(happened, key=lambda h: (-h[0], h[1] == "dose")):
                if kind == "dose":
                    new = NewEvent(uuid7(), now - timedelta(days=days, minutes=5))
                    product, amount, unit = rest
                    log_dose(context, pool.id, new, TypedDose(product, None, amount, unit))
                else:
                    _test(context, pool, days, method, rest)
            _enter(context, pool)
            for owner, *piece in _EQUIPMENT:
                if owner == name:
                    _equip(context, pool, piece)
        for product, known, bought in _SHELF:
            given_item = ShelfInput(product, bought="" if bought is None else _day(now, bought), **known)  # type: ignore[arg-type]
            add_item(replace(context, now=now - timedelta(hours=1)), uuid7(), given_item)
        session.commit()
    return True


def _test(context: Context, pool: Pool, days: float, method: str, texts: list[str]) -> None:
    """A test so many days ago; the newest of one pool with the plan that was accepted on it."""
    at = context.now - timedelta(days=days, minutes=20)
    typed = [
        (m, text, {"temp": "°F", "ph": ""}.get(m, "ppm"), "thermometer" if m == "temp" else method, None)
        for m, text in zip(_MEASURES, texts, strict=True)
        if text
    ]
    logged = log_test(context, pool.id, NewTest(NewEvent(uuid7(), at), typed))
    if pool.name == _ACCEPTED and days == 0:
        then = replace(context, now=at + timedelta(minutes=2))
        accept_plan(then, logged, NewPlan(uuid7(), {}, Terms()))


def _enter(context: Context, pool: Pool) -> None:
    """What else happened."""
    for owner, days_ago, kind, fields, note in _HAPPENED:
        if owner == pool.name:
            at = (context.now - timedelta(days=days_ago)).astimezone(ZoneInfo(_ZONE))
            typed_fields = {field: TypedField(text, unit) for field, text, unit in fields}
            new = NewEvent(uuid7(), context.now, f"{at:%Y-%m-%dT%H:%M}")
            log_entry(context, pool.id, new, TypedEntry(kind, typed_fields, note))


def _day(now: datetime, days: int) -> str:
    return (now + timedelta(days=days)).date().isoformat()


def _equip(context: Context, pool: Pool, piece: list[Any]) -> None:
    kind, model, fields, bought, until = piece
    details = {name: TypedField(text, unit) for name, text, unit in fields}
    dates = ("" if days is None else _day(context.now, days) for days in (bought, until))
    add_equipment(context, pool.id, uuid7(), EquipmentInput(kind, details, model, *dates))
