"""What is worked out beside a guide's step as it stands now, and what a guide came to."""

from collections.abc import Callable
from datetime import timedelta
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.sheets import seasonal
from kumpan.actions.sheets.comes_to import lost_by_flow_l
from kumpan.actions.sheets.complain import judged
from kumpan.core.guidance.targets import bands_of
from kumpan.core.machines.cell_guides import Night, night, output_found
from kumpan.core.machines.chlorinator import make_up, salt_says
from kumpan.core.machines.feeder import tablets_for
from kumpan.core.machines.output import cell_ppm_day
from kumpan.core.phrasing import machines as phrase
from kumpan.core.phrasing import terms
from kumpan.core.records import UNITS
from kumpan.core.units import parse_number
from kumpan.core.water.estimate.chlorine import demand_at
from kumpan.core.water.methods import METHODS
from kumpan.core.work.sheet import Became, Progress
from kumpan.store import queries
from kumpan.store.machines import baths, cell_log
from kumpan.store.tables.log import Event
from kumpan.store.water import present_of, traits_of
from kumpan.store.work import sheet_of

_METERS_95 = 100.0  # a salinity meter's: what spots are usually read with
_LATELY = timedelta(days=2)


def told(context: Context, sheet: Event, progress: Progress, key: str) -> str:
    """What stands beside a step of a machine's guide, worked out now; empty for most."""
    if seasonal.is_season(sheet):
        return seasonal.told(context, sheet, progress, key)
    if "complaint" in sheet_of(sheet).inputs:
        return judged(context, sheet, progress, key)
    teller = _TELLERS.get((sheet_of(sheet).subject, key))
    return "" if teller is None or sheet.kind != "guide" else teller(context, sheet, progress)


def outcome(context: Context, sheet: Event, progress: Progress) -> tuple[str, ...]:
    """What a guide that is done came to, in sentences."""
    subject = sheet_of(sheet).subject
    if sheet.kind != "guide" or progress.state != "done":
        return ()
    if subject == "cell":
        return _next_look(context, sheet)
    if subject in seasonal.SEASONS:
        return seasonal.outcome(context, sheet)
    if subject in ("filter", "lower"):
        lost = _lost(context, sheet, progress)
        fill = "Where the level fell under half the skimmer's mouth, fill up, then test."
        return tuple(filter(None, (lost, fill if subject == "filter" and lost else "")))
    last = {"cell_output": "back", "spots": "told"}.get(subject)
    return () if last is None else tuple(filter(None, (told(context, sheet, progress, last),)))


def _plates(context: Context, sheet: Event, progress: Progress) -> str:
    had, log = len(baths(context.session, sheet.pool)), cell_log(context.session, sheet.pool)
    lines = ["No acid bath so far." if not had else f"{had} acid bath{'s' if had > 1 else ''} so far."]
    since = log.looks[-1].at if log.looks else None
    lately = [value for at, value, _ in log.index if since is None or at > since]
    if lately:
        when = "Since the last look" if since else "Of late"
        calcium = "" if log.ch_ppm is None else f", calcium {log.ch_ppm:,.0f} ppm"
        lines.append(f"{when} the index averaged {sum(lately) / len(lately):+.1f}{calcium}.")
    return " ".join(lines)


def _next_look(context: Context, sheet: Event) -> tuple[str, ...]:
    row = next((r for r in queries.tasks(context.session, sheet.pool_id) if r.rule_id == "cell"), None)
    if row is None or row.next_due is None:
        return ()
    return (f"Next look on {row.next_due.day} {row.next_due:%b %Y}. {row.next_why}",)


def _settings(context: Context, sheet: Event, progress: Progress) -> str:
    before = sheet_of(sheet).inputs.get("before", "")
    return f"It ran at {before}." if before else ""


def _chlorine(context: Context, sheet: Event, progress: Progress) -> str:
    present, traits = present_of(context.session, sheet.pool, context.now), traits_of(sheet.pool)
    fc, band = present.measures.get("fc"), bands_of(traits, present.water)["fc"]
    if fc is None or band.aim is None:
        return "Chlorine was not read yet."
    low, high = fc.span_80
    word = "under its aim" if fc.value < band.aim - 0.5 else "at its aim"
    return f"Free chlorine is about {low:.1f} to {high:.1f} by the log, aimed at {band.aim:.1f}: {word}."


def _salt(context: Context, sheet: Event, progress: Progress) -> str:
    """The newest test of it that is not the panel's, against the panel's word and the cell's range."""
    session, pool = context.session, sheet.pool
    tested = queries.newest_reading(session, pool.id, "salt", panel=False)
    panel = queries.newest_reading(session, pool.id, "salt", panel=True)
    band = bands_of(traits_of(pool), present_of(session, pool, context.now).water)["salt"]
    low, high = band.low or 2700.0, band.high or 3400.0
    mine = tested if tested is not None and tested[1] > sheet.at - _LATELY else None
    near = panel if panel is not None and panel[1] > sheet.at - _LATELY else None
    value, guess = mine and mine[0], near and near[0]
    says = salt_says(value, guess, low, high)
    words = phrase.salt_words(says, value, guess, low, high)
    if says == "low" and value is not None and band.aim is not None:
        bag = "bag_40lb" if context.unit_system == "us" else "bag_20kg"
        needed = make_up(value, band.aim, pool.volume_l, bag)
        words += f" {phrase.make_up_words(needed, context.unit_system)}" if needed else ""
    return words


def _warmth(context: Context, sheet: Event, progress: Progress) -> str:
    temp = present_of(context.session, sheet.pool, context.now).measures.get("temp")
    if temp is None or not temp.usable:
        return "The water's temperature was not read of late."
    return f"By the log the water is at about {terms.show_value('temp', temp.value, context.unit_system)}."


def _output(context: Context, sheet: Event, progress: Progress) -> str:
    rated = sheet.pool.known("chlorinator").get("output")
    if rated is None:
        return "What it makes cannot be judged: its rated output is missing at the equipment."
    off = _night(context, progress, "dusk", "dawn")
    full = _night(context, progress, "second_dusk", "second_dawn")
    if off is None or full is None:
        return ""
    per_hour = cell_ppm_day(float(rated), 100, 24, sheet.pool.volume_l) / 24
    return phrase.output_words(output_found(off, full, per_hour))


def _night(context: Context, progress: Progress, dusk: str, dawn: str) -> Night | None:
    """A night of the output test, from the tests that closed its two steps."""
    ends = []
    for key in (dusk, dawn):
        became = progress.by_key[key]
        event = context.session.get(Event, UUID(became.by)) if became.by else None
        read = next((r for r in event.readings if r.measure == "fc"), None) if event is not None else None
        if event is None or read is None:
            return None
        u95 = METHODS[read.method].u95("fc", read.value) if read.method in METHODS else 1.0
        ends.append((event.at, read.value, u95))
    return night(ends[0], ends[1]) if ends[1][0] > ends[0][0] else None


_SPOTS = {"deep": "the deep end", "shallow": "the shallow end", "far": "the still corner"}


def _spots(context: Context, sheet: Event, progress: Progress) -> str:
    read = [(_SPOTS[b.step.key], value) for b in progress.steps if (value := _ppm(b)) is not None]
    return phrase.spots_words(read, _METERS_95)


def _ppm(became: Became) -> float | None:
    if became.step.key not in _SPOTS or became.state != "done":
        return None
    return parse_number(became.value.strip().rpartition(" ")[0], "value")


def _lost(context: Context, sheet: Event, progress: Progress) -> str:
    """What the water that went took along: as answered, else by the flow."""
    became = progress.by_key.get("lost")
    litres = lost_by_flow_l(sheet, progress)
    if became is not None and became.state == "done":
        text, _, unit = became.value.strip().rpartition(" ")
        litres = parse_number(text, "value") * UNITS["volume"][unit][1]
    if litres is None:
        return ""
    water = present_of(context.session, sheet.pool, context.now).water
    salt = water.salt_ppm if traits_of(sheet.pool).has_chlorinator else None
    return phrase.lost_words(litres, salt, water.cya_ppm, context.unit_system)


def _tablets(context: Context, sheet: Event, progress: Progress) -> str:
    pool, present = sheet.pool, present_of(context.session, sheet.pool, context.now)
    temp = present.measures.get("temp")
    demand = demand_at(present.fit, None, temp.value if temp else None)
    wanted = tablets_for(demand, pool.volume_l)
    by = "this pool's log" if demand.days else "the season"
    return f"About {wanted.a_week:.0f} a week by {by}: {wanted.top_up} each time, twice a week."


_Teller = Callable[[Context, Event, Progress], str]
_TELLERS: dict[tuple[str, str], _Teller] = {
    ("cell", "look"): _plates,
    ("cell", "settings"): _settings,
    ("cell", "boost"): _chlorine,
    ("cell_light", "salt"): _salt,
    ("cell_light", "low"): _salt,
    ("cell_light", "cold"): _warmth,
    ("cell_output", "back"): _output,
    ("spots", "told"): _spots,
    ("filter", "lost"): _lost,
    ("lower", "lost"): _lost,
    ("feeder", "tablets"): _tablets,
}
