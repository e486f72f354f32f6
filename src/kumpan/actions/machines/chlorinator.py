"""The chlorinator: its setting against its hours, its salt, its plates, its wear."""

from dataclasses import dataclass, replace
from datetime import timedelta

from kumpan.actions.machines.panel import PanelView, panel_view
from kumpan.actions.machines.site import Known, Link
from kumpan.core.care.deposits import SCALED
from kumpan.core.machines.cell_rows import GRADES
from kumpan.core.machines.chlorinator import (
    HOURS,
    WORN_SHARE,
    make_up,
    over_faraday,
    salt_says,
    trade_off,
    wear,
)
from kumpan.core.machines.circulation import turnover_h
from kumpan.core.machines.output import advise
from kumpan.core.phrasing import machines as phrase
from kumpan.core.phrasing import terms
from kumpan.core.pool.equipment_facts import Fact
from kumpan.core.pool.traits import CELL_STOPS_C
from kumpan.core.water.demand import usual_demand
from kumpan.core.water.estimate.chlorine import demand_at
from kumpan.core.water.measures import MEASURES
from kumpan.store import queries
from kumpan.store.machines import baths, cell_log, cell_settings

_FRESH = timedelta(days=31)  # salt is tested monthly: what is older is a guess (common practice)
# A demand so much over the season's usual may be a cell that fades (our own).
_SUSPICIOUS = 1.6
# A setting further off than this is worth a word (our own).
_WORTH_PERCENT = 10.0
_STEPS_C = (0.0, 5.0, 10.0, 15.0)
_BEFORE_BLAME = ("salt", "ph", "cya", "ch", "ta")


@dataclass(frozen=True)
class Setting:
    """What a cell runs at, or is to: percent, and hours a day."""

    percent: float
    hours: float


@dataclass(frozen=True)
class TradePoint:
    """A way to make the demand: hours and the percent they ask for, with its span."""

    hours: float
    percent: float
    low: float
    high: float


@dataclass(frozen=True)
class SeasonRow:
    """What another temperature asks for: it, the demand, the setting, and whether that is now."""

    temp: str
    demand: str
    setting: str
    now: bool


@dataclass(frozen=True)
class Check:
    """A measure looked at before a cell is blamed: its value, the band, in words and as a state."""

    label: str
    value: str
    word: str
    level: str


@dataclass(frozen=True)
class Looked:
    """A look at the plates: when, and what it found."""

    when: str
    found: str
    scaled: bool


@dataclass(frozen=True)
class Plates:
    """The plates: when the next look is due, why, what looks found, and how many baths there were."""

    due: str
    why: str
    baths: int
    looks: tuple[Looked, ...]


@dataclass(frozen=True)
class ChlorinatorView:
    """A chlorinator. sentence: what to set; points: every pair that makes the demand, picture: what they are;
    least_hours: of one turnover; lines: what else there is to know; missing: what cannot be said.
    """

    sentence: str
    level: str
    demand: str
    now: Setting | None
    advised: Setting | None
    picture: str
    points: tuple[TradePoint, ...]
    least_hours: float | None
    seasons: tuple[SeasonRow, ...]
    salt: Fact
    salt_more: str
    checks: tuple[Check, ...]
    plates: Plates
    lines: tuple[Fact, ...]
    missing: tuple[str, ...]
    guides: tuple[Link, ...]
    panel: PanelView | None


def chlorinator_view(known: Known) -> ChlorinatorView | None:
    """The pool's chlorinator; None where it has none."""
    if not known.traits.has_chlorinator:
        return None
    held = known.pool.known("chlorinator")
    rated, hours = held.get("output"), known.cell_hours
    cold, says = _cold(known), _salt(known)
    least = _least_hours(known)
    missing = (
        []
        if rated is not None
        else ["Cannot size the setting: its rated output is missing at the equipment."]
    )
    points: tuple[TradePoint, ...] = ()
    advised: Setting | None = None
    if rated is not None:
        wanted = known.demand_at_aim
        told = advise(wanted.ppm_day, float(rated), hours, known.pool.volume_l)
        grid = sorted({*HOURS, hours, told.hours})
        points = tuple(
            TradePoint(p.hours, p.percent, p.low, p.high)
            for p in trade_off(wanted, float(rated), known.pool.volume_l, tuple(grid))
        )
        advised = Setting(told.percent, told.hours)
    now = None if known.setting is None else Setting(known.setting.percent, known.setting.hours)
    sentence, level = _sentence(known, now, advised, cold)
    return ChlorinatorView(
        sentence=sentence,
        level=level,
        demand=f"{known.demand_words(known.demand_at_aim)}.",
        now=now,
        advised=None if cold else advised,
        picture="once it is warm enough" if cold else "the line makes what is used here",
        points=points,
        least_hours=least,
        seasons=_seasons(known, hours) if rated is not None else (),
        salt=says[0],
        salt_more=says[1],
        checks=_checks(known),
        plates=_plates(known),
        lines=tuple(_lines(known, cold)),
        missing=tuple(missing),
        guides=_GUIDES,
        panel=panel_view(known),
    )


_GUIDES = (
    Link("cell_light", "A light is on", "What it means, in the order that costs least."),
    Link("cell", "Look at the plates", "Out, against the light, and back in."),
    Link("cell_output", "Test what it makes", "Two nights tell a cell that fades from a demand that rose."),
    Link("boost", "Boost for 24 hours", "Full output for a day and a night."),
)


def _least_hours(known: Known) -> float | None:
    flow = known.pool.known("pump").get("flow")
    return None if not flow else turnover_h(known.pool.volume_l, float(flow))


def _cold(known: Known) -> str:
    """Why the cell makes nothing for cold; empty where it is warm enough or unknown."""
    stops = float(known.pool.known("chlorinator").get("cutout") or CELL_STOPS_C)
    if known.temp_c is None or known.temp_c >= stops:
        return ""
    return (
        f"The water is at about {known.temp(known.temp_c)}: under {known.temp(stops)} the cell makes"
        " little or nothing. Dose by hand until it is warmer."
    )


def _sentence(known: Known, now: Setting | None, advised: Setting | None, cold: str) -> tuple[str, str]:
    """What to set, and its state."""
    if cold:
        return cold, "watch"
    if advised is None:
        return "Its rated output is not known, so no setting can be worked out.", "watch"
    says = f"{advised.percent:g} % for {advised.hours:g} h a day makes what is used here."
    if known.demand.days is None:
        says = f"{advised.percent:g} % for {advised.hours:g} h a day makes what such a season takes."
        keep = "" if now is None else f" Leave {now.percent:g} % while chlorine reads in its band."
        return f"{says}{keep or ' Test often until its own is found.'}", "watch"
    if advised.percent >= 100 and advised.hours >= 24:
        text = "Even 100 % all day does not make what is used here: liquid besides, and look at the cell."
        return text, "act"
    if now is None:
        return f"{says} What it runs at now is not logged.", "watch"
    off = abs(now.percent * now.hours - advised.percent * advised.hours) / max(advised.hours, 1)
    if off < _WORTH_PERCENT:
        return f"{now.percent:g} % for {now.hours:g} h a day is right: it makes what is used here.", "fine"
    way = "Up" if now.percent * now.hours < advised.percent * advised.hours else "Down"
    return f"{way} from {now.percent:g} % to {advised.percent:g} % at {advised.hours:g} h a day.", "act"


def _seasons(known: Known, hours: float) -> tuple[SeasonRow, ...]:
    """What colder and warmer water would ask for at the hours it runs."""
    held = known.pool.known("chlorinator")
    stops = float(held.get("cutout") or CELL_STOPS_C)
    now_c = known.temp_c
    rows: list[SeasonRow] = []
    rows_ppm: list[float] = []
    for step in _STEPS_C:
        temp = round((stops + 1 + step) / 2.5) * 2.5
        demand = demand_at(known.fit if now_c is not None else None, known.band("fc").aim, temp)
        if rows_ppm and demand.ppm_day < rows_ppm[-1]:
            demand = replace(demand, ppm_day=rows_ppm[-1])  # warmer water never uses less
        rows_ppm.append(demand.ppm_day)
        told = advise(demand.ppm_day, float(held["output"]), hours, known.pool.volume_l)
        near = now_c is not None and abs(now_c - temp) <= 2.5 and not any(r.now for r in rows)
        setting = f"{told.percent:g} % at {told.hours:g} h" if told.can else "more than it makes"
        rows.append(SeasonRow(known.temp(temp), f"{demand.ppm_day:.1f} ppm", setting, near))
    return tuple(rows)


def _salt(known: Known) -> tuple[Fact, str]:
    """What to make of the salt, and what to put in."""
    session, pool, now = known.context.session, known.pool, known.context.now
    band, estimate = known.band("salt"), known.estimate("salt")
    low, high = band.low or 2700.0, band.high or 3400.0
    tested = queries.newest_reading(session, pool.id, "salt", panel=False)
    panel = queries.newest_reading(session, pool.id, "salt", panel=True)
    value = tested[0] if tested and tested[1] > now - _FRESH else None
    guess = panel[0] if panel and panel[1] > now - _FRESH else None
    says = salt_says(value, guess, low, high, estimate.value if estimate else None)
    words = phrase.salt_words(says, value, guess, low, high)
    if says == "low" and value is not None and band.aim is not None:
        needed = make_up(value, band.aim, pool.volume_l, "bag_40lb" if known.system == "us" else "bag_20kg")
        more = "" if needed is None else phrase.make_up_words(needed, known.system)
        return Fact(words, "salt_makeup", "act"), more
    more = ""
    if estimate is not None:
        low_80, high_80 = estimate.span_80
        more = f"By the log it is now about {low_80:,.0f} to {high_80:,.0f} ppm."
    level = {"fine": "none", "unknown": "watch", "verify": "watch", "panel_off": "watch", "high": "watch"}
    return Fact(words, "salt_makeup", level.get(says, "watch")), more  # type: ignore[arg-type]


def _checks(known: Known) -> tuple[Check, ...]:
    """What is looked at before a cell is blamed."""
    rows = []
    for measure in _BEFORE_BLAME:
        band, found, label = known.band(measure), known.estimate(measure), MEASURES[measure].label
        if found is None:
            rows.append(Check(label, "–", "never tested", "watch"))
            continue
        value = terms.show_value(measure, found.value, known.system)
        if band.low is not None and found.value < band.low:
            word, level = "low", "act"
        elif band.high is not None and found.value > band.high:
            word, level = "high", "watch" if measure == "salt" else "act"
        else:
            word, level = "in its band", "fine"
        if not found.usable:
            word, level = ("test it", "watch")
        rows.append(Check(label, value, word, level))
    return tuple(rows)


def _plates(known: Known) -> Plates:
    session, pool = known.context.session, known.pool
    row = next((r for r in queries.tasks(session, pool.id) if r.rule_id == "cell"), None)
    due = "" if row is None or row.next_due is None else f"{row.next_due.day} {row.next_due:%b %Y}"
    labels = dict(GRADES) | {"deposits": "Deposits", "odd": "Not right", "broken": "Broken"}
    looks = [
        Looked(f"{one.at.day} {one.at:%b %Y}", labels.get(one.grade, one.grade), one.grade in SCALED)
        for one in reversed(cell_log(session, pool).looks[-4:])
    ]
    return Plates(due, row.next_why if row else "", len(baths(session, pool)), tuple(looks))


def _lines(known: Known, cold: str) -> list[Fact]:
    """Wear, a demand that looks like a cell that fades, figures that cannot be."""
    held, lines = known.pool.known("chlorinator"), []
    worn = _wear(known)
    if worn is not None:
        lines.append(worn)
    usual = usual_demand(known.temp_c).ppm_day
    if known.demand.days and not cold and known.demand.ppm_day > _SUSPICIOUS * usual:
        text = (
            f"{known.demand.ppm_day:.1f} ppm a day is more than such a season takes ({usual:.1f}). A cell"
            " that"
            " fades looks the same: the two-night test tells them apart."
        )
        lines.append(Fact(text, "cell_fades", "watch"))
    if {"output", "amperes", "gaps"} <= held.keys() and over_faraday(
        held["output"], held["amperes"], held["gaps"]
    ):
        text = "Its rated output is more than its current can make: one of the figures is wrong."
        lines.append(Fact(text, "cell_output", "watch"))
    if held.get("flow_switch") == "no":
        text = "Without a flow switch it never runs while the pump stands: hydrogen collects and can burst."
        lines.append(Fact(text, "equipment_cp", "act"))
    return lines


def _wear(known: Known) -> Fact | None:
    """How worn the cell is, from the hours read and what it ran since."""
    held = known.pool.known("chlorinator")
    if "hours_run" not in held:
        return None
    since = str(held.get("run_on", ""))
    run = float(held["hours_run"])
    settings = cell_settings(known.context.session, known.pool) if since else []
    for i, one in enumerate(settings):
        until = settings[i + 1].since if i + 1 < len(settings) else known.context.now
        begun = max(one.since, known.here.fromisoformat(f"{since}T00:00").replace(tzinfo=known.here.tzinfo))
        if until > begun:
            run += (until - begun).total_seconds() / 86400 * one.hours * one.percent / 100
    now = known.setting
    worn = wear(run, held.get("life"), now.percent if now else 50.0, now.hours if now else 8.0)
    if worn.share is None:
        return Fact(f"Its cell has run about {run:,.0f} h; what it is rated for is not known.", "cell_wear")
    left = "" if worn.left_days is None else f", about {worn.left_days / 30.4:.0f} months at today's setting"
    text = f"Its cell has run about {run:,.0f} of {held['life']:,.0f} h, {worn.share * 100:.0f} %{left}."
    return Fact(text, "cell_wear", "watch" if worn.share >= WORN_SHARE else "none")
