"""A pool's equipment: what is worth knowing of each kind, what an unknown costs, and what follows from what
is known.

Kinds are data; makes and models are the person's own words. Every field may be unknown.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.records import Field, TypedField, Value, checked_fields, choice, number


@dataclass(frozen=True)
class Kind:
    """A kind of equipment and its fields."""

    id: str
    label: str
    fields: tuple[Field, ...]

    def field(self, id: str) -> Field:
        """One of its fields. Raises KeyError for any other."""
        return {f.id: f for f in self.fields}[id]


_YES_NO = {"yes": "yes", "no": "no"}
# Limits are our own: typing slips. Salt: cells anywhere between 2,700 and 5,000 (common practice), a
# little past it at either side.
KINDS: dict[str, Kind] = {
    k.id: k
    for k in (
        Kind(
            "chlorinator",
            "Salt chlorinator",
            (
                number(
                    "output",
                    "Makes at 100 %",
                    "output",
                    (50, 20_000),
                    "Cannot size the setting: rated output missing.",
                ),
                number(
                    "hours_day",
                    "Runs a day",
                    "hours",
                    (0.5, 24),
                    "Cannot say what a setting gives a day: hours missing.",
                ),
                number(
                    "salt_low",
                    "Salt, lowest",
                    "ppm",
                    (500, 6000),
                    "Salt is held at the usual 2,700 to 3,400 ppm, not at this cell's own range.",
                ),
                number("salt_aim", "Salt, aimed at", "ppm", (500, 8000)),
                number("salt_high", "Salt, highest", "ppm", (500, 8000)),
                choice(
                    "self_cleaning",
                    "Cleans itself",
                    "Its cell is taken as one that does not clean itself.",
                    **_YES_NO,
                ),
                number(
                    "cutout",
                    "Stops below",
                    "temp",
                    (0, 25),
                    "Most stop somewhere near 60 to 65 °F (16 to 18 °C): this one's figure is missing.",
                ),
                number(
                    "hours_run",
                    "Cell has run",
                    "hours",
                    (0, 100_000),
                    "How worn its cell is cannot be said: hours missing.",
                ),
                Field("run_on", "Hours read on", "date"),
                number("life", "Cell is rated for", "hours", (500, 100_000)),
                number("amperes", "Current at 100 %", "current", (0.5, 60)),
                number("gaps", "Gaps between its plates, in series", "count", (1, 60)),
                choice(
                    "flow_switch",
                    "Flow switch",
                    "Whether it stops without flow is not known: a cell without flow collects hydrogen.",
                    **_YES_NO,
                ),
            ),
        ),
        Kind(
            "feeder",
            "Feeder or floater",
            (
                choice("what", "What it is", "", feeder="feeder in the line", floater="floater"),
                choice(
                    "holds",
                    "Has ever held",
                    "What may go in it is not known: trichlor where calcium hypochlorite was explodes.",
                    trichlor="trichlor",
                    cal_hypo="calcium hypochlorite",
                    dichlor="dichlor",
                ),
                number("dial", "Dial stands at", "count", (0.5, 50)),
                number("dial_most", "Dial's highest mark", "count", (1, 50)),
            ),
        ),
        Kind(
            "filter",
            "Filter",
            (
                choice(
                    "medium",
                    "Medium",
                    "How it is cleaned cannot be said: sand, cartridge or DE?",
                    sand="sand",
                    cartridge="cartridge",
                    de="DE",
                ),
                choice(
                    "valve",
                    "Backwash valve",
                    "",  # a cartridge has none, and cleaning a filter asks for it
                    multiport="multiport",
                    push_pull="push-pull",
                    none="none",
                ),
                choice("waste", "Valve has a waste position", "", **_YES_NO),
                choice("below", "Pad below the water", "", yes="yes, water runs to it", no="no"),
                number(
                    "area", "Filter area", "area", (0.02, 100), "Its DE charge cannot be sized: area missing."
                ),
                number(
                    "clean",
                    "Pressure when clean",
                    "pressure",
                    (5, 400),
                    "Cannot say when to clean it: pressure when clean missing.",
                ),
                number("clean_2", "Pressure when clean, second speed", "pressure", (5, 400)),
                Field(
                    "media", "Medium new on", "date", "When its medium is due cannot be said: date missing."
                ),
            ),
        ),
        Kind(
            "pump",
            "Pump",
            (
                choice("speeds", "Speeds", "", one="one", two="two", variable="variable"),
                number(
                    "flow",
                    "Flow, usual speed",
                    "flow",
                    (200, 300_000),
                    "Turnover cannot be computed: flow missing.",
                ),
                number(
                    "hours", "Hours a day", "hours", (0.5, 24), "Turnover cannot be computed: hours missing."
                ),
                number("flow_2", "Flow, second speed", "flow", (200, 300_000)),
                number("hours_2", "Hours a day at it", "hours", (0.5, 24)),
                number("cheap_from", "Cheap power from (hour of the day)", "hours", (0, 24)),
                number("cheap_to", "Cheap power until", "hours", (0, 24)),
                choice("run_by", "Switched by", "", timer="a timer", automation="automation", hand="hand"),
            ),
        ),
        Kind(
            "heater",
            "Heater",
            (
                choice(
                    "what", "Kind", "", gas="gas", heat_pump="heat pump", electric="electric", solar="solar"
                ),
                choice(
                    "bypass",
                    "Has a bypass",
                    "Whether it can be kept out of acid and shock is not known.",
                    **_YES_NO,
                ),
            ),
        ),
        Kind(
            "cleaner",
            "Cleaner",
            (choice("what", "Kind", "", robot="robot", suction="suction", pressure="pressure"),),
        ),
        Kind(
            "openings",
            "Skimmers and drains",
            (
                number("skimmers", "Skimmers", "count", (0, 30)),
                number(
                    "drains",
                    "Main drains",
                    "count",
                    (0, 30),
                    "Whether a single drain can trap is not known: number of drains missing.",
                ),
                Field(
                    "cover_until",
                    "Drain cover good until",
                    "date",
                    "Whether the drain cover has expired is not known: nobody swims over an expired one.",
                    past=False,
                ),
            ),
        ),
        Kind(
            "light",
            "Light",
            (
                choice(
                    "what",
                    "Kind",
                    "How it is wintered is not known.",
                    bulb="bulb",
                    led="LED",
                    fibre="fibre-optic",
                ),
                number("count", "How many", "count", (1, 60)),
            ),
        ),
        Kind(
            "steps",
            "Steps and ladder",
            (
                choice(
                    "what",
                    "Kind",
                    "",
                    built_in="built in",
                    drop_in="drop-in steps",
                    ladder="ladder",
                    a_frame="ladder over the wall",
                ),
                choice(
                    "locks", "Locked or removable", "Whether a child can climb in is not known.", **_YES_NO
                ),
            ),
        ),
        Kind(
            "mineral",
            "Mineral or copper system",
            (
                choice(
                    "what",
                    "Kind",
                    "Its programme is not known.",
                    copper="copper ioniser",
                    pack="mineral pack",
                ),
            ),
        ),
        Kind("leveller", "Automatic leveller", ()),
        Kind(
            "cover",
            "Cover",
            (
                choice(
                    "what",
                    "Kind",
                    "",
                    bubble="floating blanket",
                    automatic="automatic",
                    mesh="winter mesh",
                    solid="winter solid",
                    safety="safety cover",
                ),
            ),
        ),
        Kind(
            "barrier",
            "Barrier",
            (
                choice("what", "Kind", "", fence="fence", wall="wall", net="net", alarm="alarm only"),
                choice(
                    "gate",
                    "Gate closes itself",
                    "Whether the gate closes by itself is not known: try it from wide open, half open and a"
                    " hand's width.",
                    **_YES_NO,
                ),
            ),
        ),
    )
}


def checked(
    kind_id: str, fields_typed: dict[str, TypedField], today: date, path: str = "details"
) -> dict[str, Value]:
    """Canonical values of what was typed of a piece. Raises InvalidInput at ``{path}.{field}``."""
    kind = KINDS.get(kind_id)
    if kind is None:
        raise InvalidInput(FieldProblem("kind", "unknown_choice", "Choose what it is."))
    values, problems = checked_fields(kind.fields, f"a {kind.label.lower()}", fields_typed, today, path)
    problems += _at_odds(values, path)
    if problems:
        raise InvalidInput(*problems)
    return values


def _at_odds(values: dict[str, Value], path: str) -> Iterator[FieldProblem]:
    """What of a piece's numbers cannot be true together."""
    n = {name: value for name, value in values.items() if isinstance(value, float)}

    def problem(field: str, code: str, text: str) -> FieldProblem:
        return FieldProblem(f"{path}.{field}", code, text)

    if {"salt_low", "salt_high"} <= n.keys():
        if n["salt_low"] >= n["salt_high"]:
            yield problem(
                "salt_high", "below_minimum", "The highest salt must be over the lowest: swap the two?"
            )
        elif "salt_aim" in n and not n["salt_low"] <= n["salt_aim"] <= n["salt_high"]:
            yield problem("salt_aim", "out_of_range", "It is aimed at between the lowest and the highest.")
    if n.get("dial", 0.0) > n.get("dial_most", math.inf):
        yield problem("dial_most", "below_minimum", "The dial cannot stand over its highest mark.")
    if n.get("hours", 0.0) + n.get("hours_2", 0.0) > 24:
        yield problem("hours_2", "too_long", "Both speeds together run more than 24 hours a day.")
