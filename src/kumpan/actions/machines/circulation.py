"""Circulation: turnover, hours by each school, when in the day, and what moves the water."""

from dataclasses import dataclass

from kumpan.actions.machines.site import Known, Link
from kumpan.core.machines.circulation import Hours, Run, hours_wanted, split, turnover_h, turnovers
from kumpan.core.machines.output import cell_ppm_day
from kumpan.core.phrasing.machines import hour_words
from kumpan.core.pool.equipment_facts import Fact


@dataclass(frozen=True)
class AskView:
    """Hours that somebody asks for: by whom, how many, why; met: whether it runs so long now."""

    school: str
    hours: float
    why: str
    met: bool


@dataclass(frozen=True)
class StretchView:
    """A stretch to run, in hours of the day, in words and why."""

    start: float
    end: float
    text: str
    why: str


@dataclass(frozen=True)
class CirculationView:
    """How the water moves. turnover: hours of one, and how many a day it makes now, in words; runs:
    when to run it.
    """

    sentence: str
    level: str
    turnover: str
    hours_now: float | None
    hours: float
    asks: tuple[AskView, ...]
    runs: tuple[StretchView, ...]
    lines: tuple[Fact, ...]
    missing: tuple[str, ...]
    guides: tuple[Link, ...]


def circulation_view(known: Known) -> CirculationView:
    """How the pool's water moves, and how long it should."""
    pool, pump = known.pool, known.pool.known("pump")
    flow, now = pump.get("flow"), _hours_now(pump)
    one = None if not flow else turnover_h(pool.volume_l, float(flow))
    wanted = hours_wanted(
        one,
        known.temp_c,
        solar=pool.known("heater").get("what") == "solar",
        copper=pool.known("mineral").get("what") == "copper",
        cell_hours=_cell_hours(known),
    )
    a_day = None
    if flow and now:
        speeds = ((flow, pump.get("hours")), (pump.get("flow_2"), pump.get("hours_2")))
        a_day = turnovers(pool.volume_l, tuple((float(f), float(h)) for f, h in speeds if f and h))
    runs = split(
        wanted.hours,
        _cheap(pump),
        known.traits.has_chlorinator,
        pool.known("heater").get("what") == "solar",
    )
    sentence, level = _sentence(now, wanted)
    return CirculationView(
        sentence=sentence,
        level=level,
        turnover=_turnover_words(one, a_day),
        hours_now=now,
        hours=wanted.hours,
        asks=tuple(
            AskView(a.school, round(a.hours, 1), a.why, now is not None and now >= a.hours - 0.05)
            for a in wanted.asks
        ),
        runs=tuple(_run(r) for r in runs),
        lines=tuple(_lines(known)),
        missing=()
        if flow
        else ("Turnover cannot be computed: the pump's flow is missing at the equipment.",),
        guides=_guides(known),
    )


def _guides(known: Known) -> tuple[Link, ...]:
    guides = []
    if known.traits.has_chlorinator:
        guides.append(Link("spots", "Salt at several spots", "Pockets show where the water stands."))
    if known.pool.known("mineral").get("what") == "copper":
        guides.append(Link("mineral", "Start the copper system", "Salt, the maker's starter, copper read."))
    return tuple(guides)


def _turnover_words(one: float | None, a_day: float | None) -> str:
    if one is None:
        return ""
    makes = "" if a_day is None else f" It makes {a_day:.1f} turnovers a day now."
    return f"One turnover takes {one:.1f} h.{makes}"


def _hours_now(pump: dict[str, object]) -> float | None:
    hours = [float(str(pump[name])) for name in ("hours", "hours_2") if pump.get(name)]
    return sum(hours) if hours else None


def _cheap(pump: dict[str, object]) -> tuple[float, float] | None:
    first, last = pump.get("cheap_from"), pump.get("cheap_to")
    return None if first is None or last is None or first == last else (float(str(first)), float(str(last)))


def _cell_hours(known: Known) -> float | None:
    """Hours the cell needs at the setting it has for the demand; at 100 % where that is not known."""
    rated = known.pool.known("chlorinator").get("output")
    feeds = known.traits.cell_feeds(known.present.water.salt_ppm, known.temp_c)
    if rated is None or not feeds:
        return None
    percent = known.setting.percent if known.setting and known.setting.percent else 100.0
    return min(
        24.0, known.demand_at_aim.ppm_day / cell_ppm_day(float(rated), percent, 1.0, known.pool.volume_l)
    )


def _sentence(now: float | None, wanted: Hours) -> tuple[str, str]:
    if now is None:
        return f"{wanted.hours:g} h a day are asked for; how long it runs now is not known.", "watch"
    if now < wanted.hours - 0.05:
        most = max((a for a in wanted.asks if a.school != "By the season"), key=lambda a: a.hours)
        return f"{now:g} h a day are short: {wanted.hours:g} are asked for ({most.why}).", "act"
    return f"{now:g} h a day are enough: {wanted.hours:g} are asked for.", "fine"


def _run(run: Run) -> StretchView:
    end = run.end or 24.0
    return StretchView(run.start, end, f"{hour_words(run.start)} to {hour_words(end)}", run.why)


def _lines(known: Known) -> list[Fact]:
    lines = [
        Fact("Jets 45 degrees down and all one way round, one at each still corner.", "mixing"),
        Fact("Suction about 80 % skimmer, 20 % main drain.", "mixing"),
    ]
    drains = known.pool.known("openings").get("drains")
    if drains == 1.0:
        text = "One main drain that can be blocked: never all suction on it."
        lines.append(Fact(text, "drains", "act"))
    else:
        text = (
            "All to the drain, while brushing, only with nobody in the water and its covers whole,"
            " screwed down and"
            " in date."
        )
        lines.append(Fact(text, "drains"))
    return lines
