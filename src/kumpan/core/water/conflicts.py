"""Waters that cannot be: which readings conflict, and the cheapest re-test that settles it."""

from dataclasses import dataclass, replace

from kumpan.core.chemistry import constants as k
from kumpan.core.water.state import WaterState, carbonate_of, solution_of

# The pressure of CO2 that a pool open to the air cannot hold: one atmosphere, where it would fizz.
MOST_CO2_ATM = 1.0
# Above this much free chlorine the indicator dyes of pH and alkalinity tests bleach (common practice,
# common practice).
BLEACHES_TESTS_FC_PPM = 10.0
# What a second reading may find, in the order of what the test costs in time and reagent (our own order): pH
# and alkalinity are a few drops, stabilizer a whole tube and good light. Twice the 95 % error of a drop kit
# (common practice).
_RETESTS = (("ph", 0.4), ("ta_ppm", 20.0), ("cya_ppm", 20.0), ("borate_ppm", 20.0))
_NAMES = {
    "ph": "pH",
    "ta_ppm": "alkalinity",
    "cya_ppm": "stabilizer",
    "borate_ppm": "borate",
    "fc_ppm": "free chlorine",
}


@dataclass(frozen=True)
class Conflict:
    """Readings that cannot all be right. fields: of WaterState, the conflicting ones; retest: the one to read
    again first.
    """

    code: str
    fields: tuple[str, ...]
    retest: str
    message: str


def conflict_of(water: WaterState) -> Conflict | None:
    """What is impossible about this water, None if nothing. Needs ``has_ph_chemistry``.

    Two things cannot be: less alkalinity than stabilizer, borate and chlorine alone give at this pH, and so
    little pH for the alkalinity that the CO2 it takes would fizz out.

    Follows from the equilibria: a carbonate alkalinity under zero cannot be; CO2 pressures that would
    fizz are our own limit.
    """
    s = solution_of(water)
    if s.ct <= 0:
        parts = {"cya_ppm": s.cyanurate_alk, "borate_ppm": s.borate_alk, "fc_ppm": s.hypochlorite_alk}
        guilty = [f for f, part in parts.items() if part * k.TA_PPM_PER_EQ_L >= 1]
        least = (s.cyanurate_alk + s.borate_alk + s.hypochlorite_alk) * k.TA_PPM_PER_EQ_L
        retest = _cheapest(water)
        what = " and ".join(_NAMES[f] for f in guilty) or "pH"
        text = (
            f"At pH {water.ph:.1f} {what} alone would make an alkalinity of {least:.0f}, and"
            f" {water.ta_ppm:.0f} was read: they cannot all be right. {_advice(water, retest)}"
        )
        return Conflict("alkalinity_too_low", ("ta_ppm", "ph", *guilty), retest, text)
    if s.co2_atm > MOST_CO2_ATM:
        text = (
            f"At pH {water.ph:.1f} an alkalinity of {water.ta_ppm:.0f} would take so much carbon dioxide that"
            f" the water fizzed: they cannot both be right. {_advice(water, 'ph')}"
        )
        return Conflict("ph_too_low", ("ph", "ta_ppm"), "ph", text)
    return None


def _advice(water: WaterState, retest: str) -> str:
    if (water.fc_ppm or 0.0) > BLEACHES_TESTS_FC_PPM:
        return (
            "Chlorine above 10 bleaches the dyes of these tests: let it fall, then test pH and alkalinity"
            " again."
        )
    return f"Test {_NAMES[retest]} again first: the cheapest test that can settle it."


def _cheapest(water: WaterState) -> str:
    """The first test, by cost, whose re-reading could make this water possible by itself."""
    for field, error in _RETESTS:
        value = getattr(water, field)
        if field == "borate_ppm" and not value:
            continue
        better = max(0.0, value + error) if field == "ta_ppm" else max(0.0, value - error)
        if carbonate_of(replace(water, **{field: better})) > 0:
            return field
    return "ta_ppm"
