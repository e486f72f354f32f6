"""A feeder or floater: tablets, dial, top-up, and where its stabilizer leads."""

from dataclasses import dataclass
from datetime import timedelta

from kumpan.actions.machines.site import Known, Link
from kumpan.core.machines.feeder import tablets_for, weeks_until
from kumpan.core.pool.equipment import KINDS
from kumpan.core.pool.equipment_facts import Fact
from kumpan.store import queries

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
    text = (
        f"Stabilizer, now about {cya.value:.0f}, climbs {cya_week:.0f} ppm a week at this use: {stop:.0f}"
        " about"
        f" {on.day} {on:%b}. Liquid from then on."
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
