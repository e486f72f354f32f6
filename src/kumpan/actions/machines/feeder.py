"""A feeder or floater: tablets, dial, top-up, and where its stabilizer leads."""

from dataclasses import dataclass
from datetime import timedelta

from kumpan.actions.machines.site import Known, Link
from kumpan.core.forecast.coming import reach
from kumpan.core.machines.feeder import tablet_unit, tablets_for, weeks_until
from kumpan.core.machines.output import dial_for
from kumpan.core.pool.equipment import KINDS
from kumpan.core.pool.equipment_facts import Fact
from kumpan.core.units import G_PER_UNIT
from kumpan.store import queries

_FED = timedelta(days=28)
_CHANGE_AT_PPM = 50.0  # the ladder's: tablets stop at the chosen aim, over 50 where none is chosen (our own)


@dataclass(frozen=True)
class FeederView:
    """A feeder or floater. sentence: how many tablets a week; top_up: when next; reach: when stabilizer
    reaches what tablets stop at.
    """

    sentence: str
    level: str
    demand: str
    holds: str
    held: tuple[str, ...]
    dial: str
    dial_to: str
    last: str
    reach: str
    reach_level: str
    lines: tuple[Fact, ...]
    missing: tuple[str, ...]
    guides: tuple[Link, ...]


def feeder_view(known: Known) -> FeederView | None:
    """The pool's feeder or floater; None where tablets do not feed it."""
    pool = known.pool
    if pool.chlorine_source != "tablets":
        return None
    held = pool.known("feeder")
    floats = held.get("what") == "floater"
    wanted = tablets_for(known.demand_at_aim, pool.volume_l)
    inch = "three-inch" if wanted.unit == "tablet_3in" else "one-inch"
    sentence = (
        f"About {wanted.a_week:.0f} {inch} tablets a week ({wanted.low:.0f} to {wanted.high:.0f}):"
        f" {wanted.top_up} each time, twice a week."
    )
    reach, level, stop = _reach(known, wanted.cya_week)
    if stop:
        sentence = stop
    given = queries.entries_of(known.context.session, pool.id, "upkeep", ("tablets",), most=1)
    poured = [
        at
        for at, product, _, _ in queries.chlorine_poured(
            known.context.session, pool.id, known.context.now - timedelta(days=60)
        )
        if product == "trichlor-90"
    ]
    last = max([*poured, *(at for at, _ in given)], default=None)
    products = dict(KINDS["feeder"].field("holds").choices)
    holds = products.get(str(held.get("holds", "")), "")
    return FeederView(
        sentence=sentence,
        level="act" if stop else "fine",
        demand=f"{known.demand_words(known.demand_at_aim)}.",
        holds=holds,
        held=tuple(
            dict.fromkeys(
                products[str(e.details["holds"])]
                for e in pool.equipment
                if e.kind == "feeder" and e.details.get("holds") in products
            )
        ),
        dial=_dial(held, floats),
        dial_to=_dial_to(known, wanted.fc_ppm),
        last="" if last is None else known.when(last),
        reach=reach,
        reach_level=level,
        lines=tuple(_lines(known, floats, holds)),
        missing=()
        if holds
        else ("What it has ever held is not known: write it at the equipment before any is put in.",),
        guides=(Link("feeder", "Top the tablets up", "Pump off, upwind, one product for life."),),
    )


def _dial(held: dict[str, object], floats: bool) -> str:
    if floats:
        return "Vents: open a third to begin with; more open gives more."
    dial, most = held.get("dial"), held.get("dial_most")
    return "" if dial is None else f"Its dial stands at {dial:g}" + (f" of {most:g}." if most else ".")


def _dial_to(known: Known, tablet_ppm: float) -> str:
    """What the dial is to stand at: in proportion to what it gave at its present mark, by what went in over
    the last month. Empty where the dial, the log or the demand does not tell.
    """
    dial, fit = known.traits.feeder_dial, known.fit
    if dial is None or fit is None:
        return ""
    session, now = known.context.session, known.context.now
    given_g = queries.poured_over(session, known.pool.id, "trichlor-90", _FED, now)
    if not given_g:
        return ""
    fed = given_g / G_PER_UNIT[tablet_unit(known.pool.volume_l)] * tablet_ppm / _FED.days
    to = dial_for(known.demand_at_aim.ppm_day, fed, *dial)
    if abs(to - dial[0]) < 0.5:
        return f"At {dial[0]:g} of {dial[1]:g} it gives what is used here: leave it."
    return f"From {dial[0]:g} to {to:g} of {dial[1]:g}: it gave {fed:.1f} ppm a day."


def _reach(known: Known, cya_week: float) -> tuple[str, str, str]:
    """When stabilizer reaches what tablets stop at; and instead of tablets, once it has."""
    cya, band = known.estimate("cya"), known.band("cya")
    stop = _CHANGE_AT_PPM if band.own is None or band.aim is None else band.aim
    if cya is None:
        return f"Stabilizer was never tested: tablets bring {cya_week:.0f} ppm a week.", "watch", ""
    weeks = weeks_until(cya.value, stop, cya_week)
    if weeks == 0:
        text = f"Stabilizer is at about {cya.value:.0f} ppm: past {stop:.0f} tablets only add to it."
        stops = "No more tablets: liquid from here, until fresh water has brought stabilizer down."
        return text, "act", stops
    if weeks is None:
        return "", "none", ""
    on = known.here + timedelta(weeks=weeks)
    limit, aim = band.act_above or band.high or stop, band.aim or stop
    far = reach(cya.value, cya_week, stop, limit, aim)
    past = known.here + timedelta(weeks=far.limit_weeks or 0.0)
    text = (
        f"Stabilizer, now about {cya.value:.0f}, climbs {cya_week:.0f} ppm a week at this use: {stop:.0f}"
        f" about {on.day} {on:%b}. Liquid from then on. Left on tablets it passes {limit:.0f} about"
        f" {past.day} {past:%b}, and {100 * far.drain_share:.0f} % of the water then has to go."
    )
    return text, "watch" if weeks < 4 else "none", ""


def _lines(known: Known, floats: bool, holds: str) -> list[Fact]:
    lines = []
    if holds:
        lines.append(
            Fact(f"Holds {holds} and nothing else, for life. Open it upwind, pump off.", "feeder_one")
        )
    if floats and known.traits.surface == "vinyl":
        text = "Moored in one spot a floater bleaches the liner: let it drift, out before anybody swims."
        lines.append(Fact(text, "feeder_one", "watch"))
    if known.traits.is_small_soft:
        text = "A small pool: no three-inch and no loose tablet. Liquid, or granules dissolved first."
        lines.append(Fact(text, "care_soft", "act"))
    return lines
