"""Draining and starting anew over two days, as data. Common practice, no source, unless said beside it.

A wash with acid or chlorine is not told step by step: it is for trained people (practice).
"""

from kumpan.core.seasons import takes
from kumpan.core.seasons.plan import Row
from kumpan.core.work.sheet import Claim, Decide, Look, MetBy, Test, Wait

_OFF = frozenset[Claim]({"pump_off"})
_FULL = ("fc", "ph", "ta", "ch", "cya")
_FULLY = MetBy("water_test", frozenset(_FULL))
GROUND = (("low", "Low, and no heavy rain for a week", ""), ("high", "High, or heavy rain this week", "end"))
_ALL = takes.chose("empty", "all")

FIRST_DAY: tuple[Row, ...] = (
    Row(
        "why", "Is it the water, and how much of it?", "{share}",
        why="Stabilizer, calcium and salt come down by fresh water alone.", minutes=5,
        reason_id="drain_share",
    ),
    Row(
        "ground", "Ground water", "A hole beside the pool, the neighbour's cellar, the weather of the week.",
        "High ground water floats a shell and wrinkles a liner: then water is exchanged through a full pool,"
        " a third at most, and this plan ends here.",
        act=Decide("How does it stand?", GROUND), may_skip=False, reason_id="drain_share",
    ),
    Row(
        "heat", "Not in heat, not in the sun", "{heat}",
        "Plaster dries and cracks over about 80 °F (27 °C) or"
        " in direct sun; a liner shrinks.", may_skip=False,
        reason_id="drain_share",
    ),
    Row(
        "may", "Who says that it may go there", "The sewer's owner says yes, in writing where they can. Salt,"
        " copper and borate stay off soil and streams; never into a storm drain.",
        "Local discharge rules win over all of this.", minutes=30, may_skip=False, reason_id="drain_share",
    ),
    Row(
        "pro", "The relief valve, opened by a professional", "For an empty shell in the ground: a licensed"
        " contractor, who also says whether it may be empty at all.",
        "A full drain in the ground is licensed work.", takes=takes.both(_ALL, takes.below), may_skip=False,
        minutes=60, helper=True, reason_id="drain_share",
    ),
    Row(
        "off", "Lights, heater and automatic fill off", "At the breaker; the leveller's valve shut.",
        "A light out of water bursts.", after=("ground", "heat", "may"), may_skip=False,
    ),
    Row(
        "fence", "The empty shell fenced", "Until it is full again.", "A fall into a dry pool kills.",
        after=("off",), takes=_ALL, may_skip=False, reason_id="care_safety",
    ),
    Row(
        "fc", "Chlorine and pH of what goes out", "To be discharged: no measurable chlorine, pH 6.5 to 8.5.",
        act=Test(("fc", "ph")), met_by=MetBy("water_test", frozenset({"fc", "ph"})),
        after=("may",), tool="test kit", reason_id="drain_dechlorinate",
    ),
    Row(
        "dechlorinate", "Chlorine taken out",
        "The pump on, dissolved first; read it, and again until it reads none. Sun for a few days does it"
        " too.",
        "Gloves, goggles. What is left over eats the next chlorine: test before the first dose.",
        after=("fc",), minutes=30, may_skip=False, reason_id="drain_dechlorinate",
    ),
    Row(
        "pump_out", "Pump out: {pump_out}",
        "By the filter's waste position, past the filter, or a pump on the"
        " floor. Its inlet kept clear; watch the pool pump: it never runs dry.",
        "Water in the shallow end stays at 12 in or more on vinyl and fibreglass.",
        after=("dechlorinate", "off", "fence", "pro"), minutes=30, claims=_OFF, reason_id="drain_share",
    ),
    Row(
        "brush", "Brush as it falls, toward the pump",
        "Wet walls come clean, dry ones do not. Stir, so that fines"
        " leave too; leaves out by bucket.", "Slippery: nobody works in there alone.", after=("pump_out",),
        minutes=90, helper=True, tool="{brush}, bucket",
    ),
    Row(
        "went", "How much went", "It is written to the log, with what it took along.",
        act=Look("Water drained", unit="volume"), after=("pump_out",), minutes=2,
    ),
)  # fmt: skip


SECOND_DAY: tuple[Row, ...] = (
    Row(
        "wet", "Wet again, let soak, scrub toward the pump",
        "In the morning's shade. A pressure washer ruins old"
        " or soft surfaces.", after=("went", "brush"), day=1, minutes=120, helper=True, takes=_ALL,
    ),
    Row(
        "wash", "The wash: trained people",
        "Acid or chlorine, never both without a full rinse between. They bring"
        " respirators and a second person who stays outside.",
        "An empty shell holds gas. Never step back in after a chlorine wash.",
        after=("wet",), day=1, minutes=180, helper=True,
        takes=takes.both(_ALL, takes.chose("wash", "trained"), takes.shell), may_skip=False,
        reason_id="drain_share",
    ),
    Row("filter", "The filter cleaned too", "It holds what the water held.",
        act=Decide("Clean it step by step?", (("done", "Done already", ""), ("yes", "Yes, step by step",
        "filter"))),
        after=("went",), day=1, minutes=25, takes=takes.has("filter"), reason_id="filter_wash"),
    Row(
        "fill", "Fill without a pause: {fill}",
        "Hose through a filter where the water is hard or carries metals;"
        " its end above the water. A ring is left where it stops.",
        "Never left alone overnight without a timer.", "An empty shell lifts and dries.",
        ("went", "wet", "wash"), day=1, minutes=60, act=Look("How much went in?", unit="volume"),
        reason_id="drain_share",
    ),
    Row("start", "Prime and start",
    "Level at half the skimmer, pot full, relief open until water streams. Lights,"
        " heater, leveller on again once it is full.", after=("fill", "filter"), day=1, minutes=15,
        claims=frozenset[Claim]({"pump_on"}), reason_id="filter_wash"),
    Row("ten", "Ten minutes of pump and more", "Until it is mixed.", act=Wait(30.0), after=("start",), day=1,
        minutes=30, claims=frozenset[Claim]({"pump_on"})),
    Row(
        "first_fill", "The first fill tested, before anything goes in",
        "After a chlorine wash it holds chlorine already; after thiosulfate it eats the first.",
        "Nothing is poured before this.", and_salt=True, act=Test(_FULL), met_by=_FULLY,
        after=("ten",), day=1, minutes=20, tool="whole kit", may_skip=False, reason_id="drain_start",
    ),
    Row(
        "start_up", "Start-up: pH, then stabilized granules, once",
        "Dichlor brings chlorine and stabilizer together; after that chlorine as always. By the Bench.",
        "Not into new plaster's first weeks: its own programme.", after=("first_fill",), day=1, opens="bench",
        met_by=MetBy("dose"), minutes=30, reason_id="drain_start",
    ),
    Row(
        "plaster", "New or washed plaster: its start-up",
        "Brushed twice a day for a week, pH and alkalinity every"
        " day, no heater and no salt for 28 days, no cleaner with wheels for two weeks.",
        why="It cures under water for a month.", after=("start_up",), day=1, takes=takes.plaster,
        reason_id="drain_start",
    ),
    Row(
        "salt", "Salt, last{salt}", "On a reading; the cell stays off until it is dissolved and read.",
        after=("start_up",), day=1, takes=takes.chlorinator, opens="bench", reason_id="salt_makeup",
    ),
    Row(
        "again", "The full test, a day on", "What it will be known by from now on.",
        and_salt=True, act=Test(_FULL), met_by=_FULLY, after=("start_up",), day=2,
        wait_min=16 * 60,
        minutes=20, reason_id="drain_start",
    ),
    Row("notes", "For next time", "What was missing, what took long.", act=Look("Your notes", text=True),
        after=("again",), day=2, minutes=3),
)  # fmt: skip

DRAIN: tuple[Row, ...] = (*FIRST_DAY, *SECOND_DAY)
