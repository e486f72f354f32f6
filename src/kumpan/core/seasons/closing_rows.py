"""Closing a pool, as data. Order, figures and cautions: common practice, no source."""

from kumpan.core.seasons import takes
from kumpan.core.seasons.plan import Row, stored
from kumpan.core.work.sheet import Claim, Decide, Look, MetBy, Test, Wait

_FULL = ("fc", "ph", "ta", "ch", "cya")
_FULLY = MetBy("water_test", frozenset(_FULL))
_PUMP = frozenset[Claim]({"pump_on"})
_OFF = frozenset[Claim]({"pump_off"})
_KIT = takes.chose("school", "kit")
_AHEAD = takes.chose("school", "ahead")
FLOATER = (("none", "There is none"), ("out", "It is out"))
WASHED = (("done", "Done already", ""), ("yes", "Yes, step by step", "filter"))


def _full(day: int, needs: object) -> Row:
    key = "test" if day == -5 else "test_kit"
    return Row(
        key, "Full test, and a quart for the shop",
        "Chlorine, pH, alkalinity, calcium, stabilizer; salt and metals where they matter. Take the list of"
        " what you have at hand.",
        why="What the water is now, it is all winter.",
        act=Test(_FULL), met_by=_FULLY, day=day, minutes=20,
        tool="clean bottle, whole kit", and_salt=True, takes=needs, reason_id="season_balance",  # type: ignore[arg-type]
    )  # fmt: skip


def _balance(day: int, needs: object) -> Row:
    key, after = ("balance", "test") if day == -5 else ("balance_kit", "test_kit")
    return Row(
        key, "Balanced for cold water",
        "Cold water eats plaster; closed up, then open in spring, it may scale. The sums stand below; pour by"
        " the Bench, one product at a time, and test again.",
        "Closed on water that fails this, plaster is etched by spring.",
        "At 40 °F (4 °C) the index is to be -0.4 or more closed, +0.3 or less once its CO2 has left.",
        (after,), day, minutes=30, takes=needs, may_skip=False, opens="bench",  # type: ignore[arg-type]
        claims=_PUMP, reason_id="season_balance",
    )  # fmt: skip


WATER: tuple[Row, ...] = (
    _full(-5, _AHEAD),
    _balance(-5, _AHEAD),
    Row(
        "shock", "Shock at dusk", "Pump running, cleaner out, round the deep end.",
        "Alone in its bucket; nobody in the water.",
        "Cold covered water does not fall below 5 ppm overnight: five days ahead, so that algaecide lasts.",
        ("balance",), -5, pours=True, dusk=True, takes=_AHEAD, reason_id="season_products",
    ),
    _full(-2, _KIT),
    _balance(-2, _KIT),
    Row(
        "pillow_test", "Pillow blown up, left overnight", "Tomorrow it shows whether it leaks. A cold one"
        " shrinks: that is no leak.", why="One that fails under ice tears the cover.", day=-1, minutes=10,
        tool="the pillow, a pump for it", takes=takes.pillow,
    ),
    Row(
        "floater", "No floater left in", "Out, emptied upwind, rinsed; not one tablet left in the pool or in"
        " the skimmer.", "A floater left in bleaches and eats the liner under it.",
        act=Look("Is a floater in the water?", FLOATER), may_skip=False, minutes=3,
        reason_id="season_refused",
    ),
    stored("feeder", "feeder", "Feeder emptied, rinsed, its lid loose",
           how="Pump off, opened upwind. What is left of the tablets goes back into its own pail.",
           caution="One product for life: nothing else ever goes into it.",
           takes=takes.has("feeder"), claims=_OFF),
    stored("blanket", "blanket", "Floating blanket off, cleaned, dried",
           how="Lifted, not dragged. Into a tub: mice nest in a roll on the floor.",
           takes=takes.has("cover", "bubble")),
    Row(
        "clean", "Net, brush, water line, vacuum", "Line cleaner made for pools, no household cleaner."
        " {brush}, shallow to deep, every corner and step.",
        why="A leaf left under the cover is a stain by spring.", minutes=90,
        tool="net, {brush}, vacuum", claims=_PUMP,
    ),
    stored("cleaner", "cleaner", "Cleaner out, rinsed, dried",
           how="Hose straight or in wide loops, robot's filter rinsed; a pressure cleaner's booster off.",
           takes=takes.has("cleaner"), after=("clean",)),
    Row(
        "fc_read", "Free chlorine, before anything goes in",
        "Elbow deep, ten minutes of pump before. Chlorine destroys algaecide: that goes in once this reads"
        " under 5 ppm.",
        act=Test(("fc",)), met_by=MetBy("water_test", frozenset({"fc"})), minutes=5,
        after=("clean", "shock"), reason_id="season_products",
    ),
    Row(
        "oxidiser", "Kit, first: the chlorine-free oxidiser", "Its label decides. Pump running.",
        "Alone in its bucket.", "It burns off what is left without chlorine that would eat the algaecide.",
        ("fc_read", "balance_kit"), pours=True, takes=_KIT, may_skip=True, reason_id="season_products",
    ),
    Row(
        "sequestrant", "Metal sequestrant, by its label", "Half an hour at least from any other product, pump"
        " running.", why="It keeps iron and copper from staining over the winter; useless where none is.",
        after=("fc_read", "oxidiser"), apart=("oxidiser",), claims=_PUMP, reason_id="season_products",
    ),
    Row(
        "algaecide", "Algaecide that does not foam, by its label",
        "Broad kind, high in active. Half an hour at least from any other product, pump running. Not a copper"
        " one where copper is in the water.",
        "Only while free chlorine reads under 5 ppm.",
        "It holds until the water is cold.", ("sequestrant",), apart=("sequestrant",), claims=_PUMP,
        may_skip=True, reason_id="season_products",
    ),
    Row(
        "circulate", "Pump on, an hour or two", "Until all of it is everywhere.", act=Wait(60.0),
        after=("algaecide",), claims=_PUMP, minutes=60,
    ),
    Row(
        "wash", "The filter, clean for winter",
        "Backwashed; DE torn down and degreased. What it holds sets hard by"
        " spring.",
        act=Decide("Clean it step by step?", WASHED), after=("circulate",), met_by=MetBy("backwash"),
        minutes=25, takes=takes.medium("sand", "de"), reason_id="filter_wash",
    ),
    Row(
        "wash_element", "The element hosed, degreased, dried", "What it holds sets hard by spring. It winters"
        " indoors, out of its housing.",
        act=Decide("Clean it step by step?", WASHED), after=("circulate",), met_by=MetBy("filter_clean"),
        minutes=25, takes=takes.medium("cartridge"), reason_id="filter_wash",
    ),
    Row(
        "wash_any", "The filter, clean for winter", "By its maker: what it filters with is not recorded.",
        after=("circulate",), minutes=25, takes=takes.medium(""), reason_id="filter_wash",
    ),
    Row(
        "heater_off", "Heater off, the pump on until it is cold", "Gas: its valve shut by a licensed person"
        " where the pool stays closed for long.", "Smell of gas: leave, then call.",
        after=("circulate",), minutes=15, takes=takes.has("heater"), claims=_PUMP,
    ),
    Row(
        "leveller_off", "Automatic leveller shut off, its line drained",
        "Else it fills all winter, or bursts.",
        takes=takes.has("leveller"),
    ),
    Row(
        "level", "Water let down under the skimmer",
        "Solid or automatic cover: 3 to 6 in under the skimmer's mouth. Mesh or safety cover: 12 to 18. Never"
        " under what the cover's maker says.",
        "Never emptied: ground water lifts a shell and wrinkles a liner.",
        "The cover rests on it, and ice must not reach the skimmer.",
        ("wash", "wash_element", "wash_any"), minutes=60,
        act=Decide("By the filter's waste position?", (("done", "Let down", ""), ("yes", "Step by step",
        "lower"))),
        takes=takes.below, claims=_PUMP,
    ),
    Row(
        "level_above", "Water let down under skimmer and return", "No lower than that: the liner needs it.",
        after=("wash", "wash_element", "wash_any"), minutes=40, takes=takes.both(takes.above,
        takes.chose("skimmer", "lower")),
    ),
    Row(
        "power", "Power off at the breaker", "Timer's trippers off too, so that nothing starts by itself.",
        "Dry hands, dry feet.", "From here on nothing may run dry.",
        ("level", "level_above", "wash", "wash_element", "wash_any", "heater_off", "circulate"), minutes=5,
        claims=_OFF,
        may_skip=False,
    ),
)  # fmt: skip


PARTS_ABOVE: tuple[Row, ...] = (
    Row(
        "plate", "Plate or door over the skimmer",
        "Its faceplate stays on, gasket between, only the screws that fit the plate's own holes; the"
        " level may"
        " then stay at half the skimmer. A door: warmed in hot water, snapped on; cold it shrinks tight.",
        after=("power",), minutes=15, tool="plate, gasket, screwdriver",
        takes=takes.both(takes.above, takes.chose("skimmer", "plate")),
    ),
    stored("returns", "returns", "Return fitting out, plug in", after=("plate", "power"),
           how="A good gasket, seen and greased; hand-tight.", tool="plug, gasket lubricant",
           takes=takes.above),
    stored("hoses", "hoses", "Hoses off, drained", after=("returns",),
           how="Lower one end, lift the other; clamps on their hoses.", takes=takes.above),
)  # fmt: skip


PARTS_BELOW: tuple[Row, ...] = (
    Row(
        "blow_suction", "Skimmer lines blown", "A high-volume low-pressure blower at the pump, valves to one"
        " line at a time, until it bubbles dry. Gizzard into the skimmer.",
        "A compressor only regulated to 20 psi at most. Never air into the filter's tank. Stand clear of"
        " plugs.",
        "Water left in a line bursts it.", ("power",), minutes=30, helper=True,
        tool="blower, gizzard, plugs", takes=takes.below, claims=_OFF,
    ),
    stored("returns_below", "returns", "Return lines blown, plugged as they bubble", after=("blow_suction",),
           how="Farthest first; each plug goes in while air still comes. Cleaner's line too.",
           caution="Stand clear of plugs under pressure.", minutes=30, helper=True,
           tool="plugs, hand pump", takes=takes.below, claims=_OFF),
    Row(
        "main_drain", "Main drain blown, its valve shut on the air",
        "It bubbles at the bottom; shut the valve"
        " while it does: the air holds the water down.", after=("returns_below",), minutes=10, helper=True,
        takes=takes.both(takes.below, takes.has_drain), claims=_OFF,
    ),
    Row(
        "antifreeze", "Antifreeze into the blown lines: {antifreeze}",
        "Propylene glycol made for pools, undiluted. In spring it goes to waste, not into the pool.{glycol}",
        "Never automotive: it is poison. Only into lines that were blown.",
        after=("main_drain",), minutes=20, takes=takes.both(takes.below, takes.chose("antifreeze", "yes")),
        claims=_OFF,
    ),
)  # fmt: skip


PARTS: tuple[Row, ...] = (
    stored("pump", "pump", "Pump drained, indoors", after=("hoses", "antifreeze", "power"),
           how="Both drain plugs out; above ground it comes indoors, in the ground it may stay, lid loose.",
           caution="Breaker off.", takes=takes.has("pump"), minutes=15),
    stored("filter", "filter", "Filter drained", after=("pump", "wash", "wash_element", "wash_any", "power"),
           how="Drain plug out, air relief open; a multiport between two positions so that its gasket is"
           " free;"
           " a cartridge out, dry.",
           caution="Pressure at zero and the relief open before any clamp.", takes=takes.has("filter"),
           minutes=15),
    stored("heater", "heater", "Heater drained", after=("heater_off", "power"),
           how="Its drain plugs out, its bypass open; lines blown clear of it.",
           caution="Gas and refrigerant: licensed people.", takes=takes.has("heater")),
    stored("small", "small", "Drain plugs, gauge, sight glass, baskets together",
           after=("pump", "filter", "heater", "hoses"), how="All of it into the pump's basket: it is looked"
           " for in spring."),
    stored("cell", "cell", "Cell and flow switch out, indoors", after=("power",),
           how="Looked at and cleaned; a dummy pipe in its place. The control box may stay.",
           caution="Off at the breaker; never stored with acid.", takes=takes.chlorinator, minutes=15),
    stored("mineral", "mineral", "Mineral cell out, rinsed, indoors", after=("power",),
           how="A copper cell wiped dry.", takes=takes.has("mineral")),
    stored("light_fibre", "light", "Fibre light, in the order of its plugs", after=("power",),
           how="Plug the outside, take the dome off inside, plug the inside, then take the outside plug out.",
           takes=takes.has("light", "fibre"), minutes=20),
    stored("light", "light", "Light: breaker off, out of the ice", after=("power",),
           how="Lowered under the ice on its own cable, or lifted onto the deck, dry. A low-voltage one of an"
           " above-ground pool comes out; its opening plugged.",
           caution="Never opened by anybody without a licence.",
           takes=takes.both(takes.has("light"), takes.without(takes.has("light", "fibre")))),
    stored("steps", "steps", "Ladder and steps out, flanges too",
           how="Sandbags out first; lifted clear of the liner, not slid along it.", helper=True,
           takes=takes.has("steps", "drop_in", "ladder", "a_frame")),
    Row("steps_built", "Built-in steps brushed and clear", "Rails out where they lift; anchors capped.",
        takes=takes.both(takes.has("steps"), takes.without(takes.has("steps", "drop_in", "ladder",
        "a_frame")))),
    Row(
        "openings", "Every opening shut",
        "Skimmer, returns, cleaner port, overflow: one look along the wall.",
        after=("returns", "returns_below", "plate", "main_drain"), minutes=5,
        takes=takes.has("openings"),
    ),
    Row(
        "apart", "Chemicals shut, dry, apart from all of this",
        "Tight lids, upright, acid and chlorine apart, out of frost and out of reach. No metal, no motor, no"
        " ladder in that room.",
        "Their fumes eat equipment stored beside them.", after=("small",), may_skip=False,
        reason_id="season_refused",
    ),
)  # fmt: skip


COVER: tuple[Row, ...] = (
    Row(
        "pillow", "Pillow in, tied",
        "Three quarters full, of cold air; tied to both sides. It need not lie in"
        " the middle.", after=("pillow_test", "apart", "steps", "openings", "returns"), minutes=10,
        tool="pillow, cord", takes=takes.pillow,
    ),
    Row(
        "cover", "Cover on", "Dark side down. Cable through every eye, tight, not round the skimmer. Bags two"
        " thirds full and laid, not dragged; clips do too; no jugs. A little water on top against the wind.",
        "Fully on: a cover part-on drowns.", after=("pillow", "floater", "apart", "steps", "openings",
        "returns",
        "algaecide"), minutes=45, helper=True, tool="cable, winch, bags or clips",
        takes=takes.both(takes.above, takes.winter_cover),
    ),
    Row(
        "cover_below", "Cover on",
        "Solid: water bags edge to edge, two thirds full. Safety or mesh: anchors up,"
        " springs at half their travel, padding over every sharp edge. Automatic: shut, its pump on top, its"
        " maker's word on snow.",
        "Fully on: a cover part-on drowns.", after=("floater", "apart", "openings", "steps", "algaecide",
        "level", "antifreeze", "main_drain"), minutes=45, helper=True, tool="bags or springs and their key",
        takes=takes.both(takes.below, takes.winter_cover),
    ),
    Row(
        "uncovered", "No winter cover is recorded",
        "Leaves are netted out until it freezes, and the level looked"
        " at after rain. Record a cover with the equipment where there is one.",
        after=("floater", "apart", "algaecide"), takes=takes.without(takes.winter_cover),
    ),
    Row(
        "shut", "Gate locked, nothing to climb",
        "The ladder is not left against the wall. Standing water on a"
        " cover drowns a child: it is pumped off all winter.",
        "Nobody walks on a cover.", after=("cover", "cover_below", "uncovered", "steps"), may_skip=False,
        reason_id="care_safety",
    ),
    Row(
        "notes", "For next year", "What was missing, what took long, what to buy.",
        act=Look("Your notes", text=True), after=("shut",), minutes=3,
    ),
)  # fmt: skip

CLOSING: tuple[Row, ...] = (*WATER, *PARTS_ABOVE, *PARTS_BELOW, *PARTS, *COVER)
