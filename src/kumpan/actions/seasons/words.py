"""Sums of a season's plan, in words for its rows."""

from collections.abc import Mapping
from datetime import date, timedelta

from kumpan.actions.seasons.known import Known
from kumpan.core.clearup.compare import share_at_once
from kumpan.core.dosing.findings import overflow_share
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.seasons.sums import BORES_IN, CM_PER_FT, hours_to_move, pipe_holds_l, salt_lost_g
from kumpan.core.units import G_PER_LB, L_PER_GAL, c_to_f, parse_number
from kumpan.store import queries

_HOT_C = 26.7  # plaster dries and cracks over about 80 F of air (common practice)
_HOSE_L_H = 2000.0  # where the hose's own flow is not known: 9 gal a minute (common practice)
_THIRD = 1 / 3  # where ground water is not known to stand low (our own)
# What a drain aims at, ppm: the upper ends of the usual bands.
_DOWN_TO = {"cya_ppm": ("stabilizer", 50.0), "ch_ppm": ("calcium", 400.0)}
_LONGEST_M = 600.0
SCHEDULES = {"40": "Schedule 40", "80": "Schedule 80", "bore": "true bore"}
_LENGTHS = {"ft": CM_PER_FT / 100, "m": 1.0}
_RAIN_MM = 5.0


def volume_words(known: Known, litres: float, decimals: int = 0) -> str:
    """So much water in the person's units."""
    metric = known.context.unit_system == "metric"
    return f"{litres:,.{decimals}f} L" if metric else f"{litres / L_PER_GAL:,.{decimals}f} gal"


def told_closing(known: Known, given: Mapping[str, str], day: date) -> dict[str, str]:
    """The antifreeze that the lines take. Raises InvalidInput at what of them cannot be read."""
    typed = given.get("pipe_length", "").strip()
    if not typed:
        return {}
    text, _, unit = typed.rpartition(" ")
    if unit not in _LENGTHS:
        raise InvalidInput(FieldProblem("pipe_length", "unknown_unit", "Choose the unit."))
    length_m = parse_number(text, "pipe_length") * _LENGTHS[unit]
    if not 0 < length_m <= _LONGEST_M:
        raise InvalidInput(FieldProblem("pipe_length", "out_of_range", "All lines together, up to 2,000 ft."))
    schedule, size = given.get("pipe_schedule") or "40", given.get("pipe_size") or "1.5"
    if size not in BORES_IN.get(schedule, {}):
        raise InvalidInput(FieldProblem("pipe_size", "unknown_choice", "Choose the size and the schedule."))
    holds = volume_words(known, pipe_holds_l(length_m, size, schedule), 1)
    return {
        "antifreeze": holds,
        "glycol": f" {text} {unit} of {size} in pipe, {SCHEDULES[schedule]}, hold {holds}.",
    }


def share_words(known: Known, everything: bool) -> tuple[float, str]:
    """What share of the water may go in one go, and why, by the pool's rules and its readings."""
    traits = known.site.traits
    grounded = traits.installation != "above_ground" and traits.surface != "soft"
    unsure = grounded and not traits.low_ground_water
    most = 1.0 if everything else min(share_at_once(traits), _THIRD if unsure else 1.0)
    high = [
        f"{name} {value:.0f}, to {goal:.0f} takes {overflow_share(value, goal) * 100:.0f} % of the volume"
        for field, (name, goal) in _DOWN_TO.items()
        if (value := getattr(known.water, field)) is not None and value > goal
    ]
    read = (
        f"By the log {', '.join(high)} through a full pool." if high else "Nothing that was read asks for it."
    )
    whole = " All of it, in the ground: licensed people." if everything and grounded else ""
    limit = (
        f" Here at most {most * 100:.0f} % in one go, about {volume_words(known, most * traits.volume_l)}."
    )
    ground = " Ground water is not known to stand low: a third." if unsure and not everything else ""
    return most, f"{read}{whole or limit}{ground}"


def told_drain(known: Known, given: Mapping[str, str], day: date) -> dict[str, str]:
    """How much goes and why, how long that and the filling take, the salt that goes, and the weather."""
    share, words = share_words(known, given.get("empty") == "all")
    litres, flow = share * known.pool.volume_l, known.pool.known("pump").get("flow")
    by = f"about {hours_to_move(litres, float(flow)):.1f} h at its flow" if flow else "by the pump's flow"
    hose = known.site.traits.hose_l_h
    usual = "" if hose else " by a usual hose"
    return {
        "share": words,
        "heat": _heat(known, day),
        "pump_out": f"{volume_words(known, litres)}, {by}",
        "fill": f"about {hours_to_move(litres, hose or _HOSE_L_H):.0f} h{usual}",
        "salt": _salt(known, litres),
    }


def _salt(known: Known, litres: float) -> str:
    """The salt that goes with the water."""
    salt = known.water.salt_ppm
    if not known.site.traits.has_chlorinator or not salt:
        return ""
    grams = salt_lost_g(salt, litres, known.site.traits.fill.salt_ppm or 0.0)
    metric = known.context.unit_system == "metric"
    return f": about {grams / 1000:.0f} kg went" if metric else f": about {grams / G_PER_LB:.0f} lb went"


def _heat(known: Known, day: date) -> str:
    """What the outlook says of the two days."""
    days = queries.weather_days(known.context.session, known.pool.id, day, day + timedelta(days=1))
    foretold = [d for d in days if d.outlook]
    if not foretold:
        return "No outlook reaches these days yet: look at it the evening before."
    hot = max(d.high_c for d in foretold)
    shown = f"{hot:.0f} °C" if known.context.unit_system == "metric" else f"{c_to_f(hot):.0f} °F"
    wet = " Rain is foretold." if any(d.rain_mm > _RAIN_MM for d in foretold) else ""
    word = "too hot for bare plaster: another day" if hot > _HOT_C else "no heat for plaster"
    return f"Foretold up to {shown}: {word}.{wet}"
