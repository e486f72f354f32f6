"""The filter: its pressures, when it is due and by whose rule, and what cleaning takes."""

from dataclasses import dataclass
from datetime import datetime

from kumpan.actions.machines.site import Known, Link
from kumpan.core.care.adaptive import OVER_CLEAN_KPA
from kumpan.core.care.site import FILTER_BY
from kumpan.core.pool.equipment import KINDS
from kumpan.core.pool.equipment_facts import Fact, facts
from kumpan.core.records import PSI_KPA
from kumpan.store import queries
from kumpan.store.care import care_of

_SHOWN = 24


@dataclass(frozen=True)
class Gauge:
    """A reading of the gauge in the person's unit: when; cleaned: whether it stood so after a cleaning."""

    at: datetime
    value: float
    cleaned: bool


@dataclass(frozen=True)
class FilterView:
    """A filter. sentence: whether it wants cleaning; clean, due_at: its clean pressure and from where on it
    is due, in ``unit``; by: the school chosen; gauges: oldest first.
    """

    sentence: str
    level: str
    kind: str
    valve: str
    unit: str
    clean: float | None
    due_at: float | None
    by: str
    due: str
    why: str
    gauges: tuple[Gauge, ...]
    lines: tuple[Fact, ...]
    missing: tuple[str, ...]
    guides: tuple[Link, ...]


def filter_view(known: Known) -> FilterView | None:
    """The pool's filter; None where none is recorded."""
    pool = known.pool
    held = pool.known("filter")
    if not any(e.kind == "filter" for e in pool.equipment):
        return None
    unit, per = ("psi", PSI_KPA) if known.system == "us" else ("kPa", 1.0)
    clean = None if held.get("clean") is None else float(held["clean"])
    is_due, due, why = _due(known)
    gauges = tuple(_gauges(known, per))
    newest = gauges[-1] if gauges else None
    kind, valve = _named(held)
    return FilterView(
        sentence=_sentence(newest, clean, per, unit, is_due),
        level=_level(newest, clean, is_due),
        kind=kind,
        valve=valve,
        unit=unit,
        clean=_shown(clean, per),
        due_at=_shown(None if clean is None else clean + OVER_CLEAN_KPA, per),
        by=FILTER_BY[care_of(pool).filter_by or "four_weeks"],
        due=due,
        why=why,
        gauges=gauges,
        lines=tuple(facts("filter", held, pool.volume_l, known.system == "metric", known.here.date())),
        missing=tuple(text for name, text in _MISSING.items() if name not in held),
        guides=_guides(held),
    )


def _due(known: Known) -> tuple[bool, str, str]:
    """Whether it wants cleaning today, its day in words, and why."""
    tasks = queries.tasks(known.context.session, known.pool.id)
    row = next((r for r in tasks if r.rule_id in _RULES and r.off_at is None), None)
    if row is None or row.next_due is None:
        return False, "", "" if row is None else row.next_why
    return row.next_due <= known.here.date(), f"{row.next_due.day} {row.next_due:%b %Y}", row.next_why


def _named(held: dict[str, object]) -> tuple[str, str]:
    """Its medium and its valve in words."""
    choices = {name: dict(KINDS["filter"].field(name).choices) for name in ("medium", "valve")}
    medium, valve = str(held.get("medium", "")), str(held.get("valve", ""))
    return choices["medium"].get(medium, "not known"), choices["valve"].get(valve, "")


def _level(newest: Gauge | None, clean: float | None, is_due: bool) -> str:
    if is_due:
        return "act"
    return "watch" if newest is None or clean is None else "fine"


def _shown(kpa: float | None, per: float) -> float | None:
    return None if kpa is None else round(kpa / per, 1)


_RULES = ("filter", "filter_full")
_MISSING = {
    "medium": "How it is cleaned cannot be said: sand, cartridge or DE?",
    "clean": "Its pressure when clean is not known: read it after the next cleaning.",
}


def _gauges(known: Known, per: float) -> list[Gauge]:
    found = []
    for at, _, details in queries.gauges(known.context.session, known.pool.id, _SHOWN):
        for name, cleaned in (("pressure", False), ("before", False), ("clean", True)):
            if name in details:
                found.append(Gauge(at, round(float(details[name]) / per, 1), cleaned))
    return found


def _sentence(newest: Gauge | None, clean: float | None, per: float, unit: str, is_due: bool) -> str:
    if newest is None:
        return "Its gauge was never read: read it, pump running."
    read = f"The gauge stood at {newest.value:g} {unit}"
    if clean is None:
        return f"{read}; what it reads when clean is not known."
    over = newest.value - float(clean) / per
    if is_due:
        return f"{read}, {max(0.0, over):.0f} over clean: it wants cleaning."
    return f"{read}, {max(0.0, over):.0f} over clean: it can wait."


def _guides(held: dict[str, object]) -> tuple[Link, ...]:
    if held.get("medium") == "cartridge":
        return (Link("filter", "Clean it, step by step", "Pump off, pressure out, hose, back in."),)
    guides = (Link("filter", "Clean it, step by step", "The valve drawn at each move, the wash on a clock."),)
    return (*guides, Link("lower", "Lower a high level", "The same way, until the level is right."))
