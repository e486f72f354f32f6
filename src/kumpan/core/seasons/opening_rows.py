"""Opening a pool, as data. Order, figures and cautions: common practice, no source."""

from kumpan.core.seasons import takes
from kumpan.core.seasons.plan import Row, stored
from kumpan.core.work.sheet import Claim, Decide, Look, MetBy, Test, Wait

_PUMP = frozenset[Claim]({"pump_on"})
_OFF = frozenset[Claim]({"pump_off"})
_WATER = frozenset[Claim]({"water", "pump_on"})
_FULL = ("fc", "ph", "ta", "ch", "cya")
_FULLY = MetBy("water_test", frozenset(_FULL))
GATE = (("fine", "Shuts and latches from all three"), ("broken", "It does not"))
CLEAR_COLD, CLEAR_WARM, GREEN = "clear_cold", "clear_warm", "green"
SEEN = (
    (CLEAR_COLD, "Clear, floor in sight, under {warm}", ""),
    (CLEAR_WARM, "Clear, floor in sight, {warm} or more", ""),
    (GREEN, "Green, or the floor is not in sight", ""),
)
_CLEAR = (CLEAR_COLD, CLEAR_WARM)

SAFETY: tuple[Row, ...] = (
    Row(
        "gate", "Gate: wide open, half open, a hand's width",
        "Let go each time: it swings shut and latches, and"
        " is never propped.", "A gate that does not latch lets a child in.",
        act=Look("Does it shut by itself?", GATE), may_skip=False, reason_id="care_safety",
    ),
    Row("fence", "Fence shaken, nothing climbable near it",
    "Rust at the base gives first. Chairs, pots, pumps:"
        " an arm's length and more away.", reason_id="care_safety", minutes=10),
    Row("chart", "Resuscitation chart in view, rescue pole in reach", minutes=2, reason_id="care_safety"),
    Row(
        "drains", "Drain covers whole, screwed down, in date", "As far as they are seen; once more when the"
        " water is clear.", "Nobody swims over one that is missing, cracked or expired.",
        may_skip=False, takes=takes.has_drain, reason_id="drains",
    ),
    Row(
        "electric", "Residual-current device trips, bonding wires seen",
        "Its test button. Cables chewed over winter: an electrician.",
        "Any tingle: out, off, and a licensed electrician.", may_skip=False, reason_id="care_safety",
    ),
)  # fmt: skip


COVER: tuple[Row, ...] = (
    Row(
        "cover_water", "Water and leaves off the cover", "Pump on a disc; leaves by hand or soft broom.",
        "Standing water on a cover drowns a child.", "What falls in on lifting is what you fight for a week.",
        ("gate",), minutes=45, tool="cover pump, disc, broom", takes=takes.winter_cover,
    ),
    stored("cover", "cover", "Cover off, washed, dried, put away", after=("cover_water",),
           how="Folded away from the water; dry, or it rots. Not where mice are.", helper=True, minutes=45,
           takes=takes.winter_cover),
    stored("ballast", "ballast", "Cable, bags, clips, anchors put together", after=("cover",),
           how="Bags emptied on the lawn, not into the pool.", takes=takes.winter_cover),
    stored("pillow", "pillow", "Pillow out, dried", after=("cover",), takes=takes.pillow),
    stored("plugs", "plugs", "Winter plugs, plate and gizzard out", after=("cover", "pillow"),
           how="Returns, skimmer, cleaner port. Counted: one left in is a pump without flow.", minutes=20),
)  # fmt: skip


PARTS: tuple[Row, ...] = (
    Row("filter", "Filter: drain plug in, element in, valve to filter",
    "O-rings greased; clamp to its maker's"
        " torque.", after=("plugs",), part="filter", minutes=15, takes=takes.has("filter")),
    Row("pump", "Pump in place, its plugs in", "Lid's gasket greased, pot filled.", "Breaker off.",
        after=("plugs",), part="pump", minutes=15, takes=takes.has("pump"), claims=_OFF),
    Row("heater", "Heater's drain plugs in, its bypass as in summer", "Not lit yet.", "Gas: licensed people.",
        after=("plugs",), part="heater", takes=takes.has("heater")),
    Row("small", "Drain plugs, gauge, sight glass, baskets in", "They lay in the pump's basket.",
        after=("pump", "filter", "heater"), part="small", minutes=10),
    Row("hoses", "Hoses on, clamps tight", after=("pump", "filter"), part="hoses", minutes=15,
    takes=takes.above),
    Row("returns", "Return fittings in", "Gaskets seen; eyes 45 degrees down.", after=("plugs",),
        part="returns", minutes=10),
    Row("dummy", "The dummy pipe stays where the cell was", "The cell waits until the water is balanced and"
        " salted.", after=("hoses", "returns"), minutes=1, takes=takes.chlorinator, reason_id="season_cell"),
    Row("light", "Light back in its place", "Cable whole, lens dry inside.", "Breaker off.", after=("plugs",),
        part="light", minutes=15, takes=takes.has("light")),
    Row("steps", "Ladder and steps in, flanges on", "Locked or lifted while nobody watches.",
        after=("plugs",), part="steps", minutes=15, helper=True, takes=takes.has("steps"),
        reason_id="care_safety"),
    Row(
        "fill_above", "Water to just over the second screw",
        "Of the skimmer's plate, from the top. Hose through"
        " a filter where the water is hard or carries metals.",
        "The pump is not started before: it runs dry.",
        "Air in the skimmer loses the prime.", ("hoses", "returns", "filter"), minutes=120,
        act=Look("How much went in?", unit="volume"), takes=takes.above,
    ),
    Row(
        "fill", "Water to half the skimmer's mouth",
        "Hose through a filter where the water is hard or carries"
        " metals. Rain and melt count too.", "The pump is not started before: it runs dry.",
        "Air in the skimmer loses the prime.", ("plugs", "returns"), minutes=120,
        act=Look("How much went in?", unit="volume"), takes=takes.below,
    ),
    Row("leveller", "Automatic leveller on", after=("fill", "fill_above"), takes=takes.has("leveller")),
)  # fmt: skip


START: tuple[Row, ...] = (
    Row(
        "prime", "Prime it and start",
        "Pot full, lid tight, valves open, air relief open until water streams;"
        " breaker on. A minute without water: off, fill the pot again.",
        "Stand clear of the filter as it starts.", after=("small", "hoses", "returns", "fill", "fill_above",
        "heater"),
        minutes=15, claims=_PUMP, may_skip=False, reason_id="filter_wash",
    ),
    Row(
        "to_waste", "The first water to waste",
        "What was blown into the lines, antifreeze too, by the valve's"
        " waste position or a hose.", "Not into soil that drains to a stream.", after=("prime",),
        takes=takes.below, claims=_PUMP,
    ),
    Row("leaks", "Leaks: pump, filter, unions, hoses", "A drip now is a pond by evening.", after=("prime",),
        claims=_PUMP),
    Row(
        "clean_kpa", "Gauge at zero before, its clean pressure now",
        "Ten minutes after the start, valve at filter. Where it differs from the one kept with the filter's"
        " record, change it there: a loaded filter is told by it.",
        act=Look("Gauge, pump running", unit="pressure"), after=("prime",), claims=_PUMP,
        takes=takes.has("filter"), reason_id="filter_pressure",
    ),
    Row("feeder", "Feeder or floater: clean, its ring greased, still empty", "It is filled once the water is"
        " clear and tested.", "One product for life.", after=("prime",), part="feeder",
        takes=takes.has("feeder")),
    Row("mineral", "Mineral cell in, off", "On once the water is balanced.", after=("prime",), part="mineral",
        takes=takes.has("mineral")),
    Row("openings", "Skimmer and jets: pulling, pushing", "Every one; weak ones still hold a plug.",
        after=("prime",), takes=takes.has("openings"), claims=_PUMP),
    Row(
        "temp", "How warm is the water?", "A thermometer, elbow deep.", why="Next year's day comes from it.",
        act=Look("Water", unit="temp"), after=("prime",), minutes=2,
    ),
    Row(
        "look", "Look at the water", "The first sight decides how it goes on.",
        "Nobody goes in where the floor is not in sight.",
        act=Decide("What do you see?", SEEN), after=("temp", "prime"), may_skip=False, minutes=2,
        reason_id="season_branch",
    ),
)  # fmt: skip


GREEN_ROWS: tuple[Row, ...] = (
    Row(
        "run", "Clear it up first", "The opening waits and comes back here: nothing below is poured until the"
        " water is clear.", "No swimming, and nobody in the pool.",
        act=Look("Is it under way?", (("begun", "Begun, or clear already"),)),
        after=("look",), met_by=MetBy("clear_up"), only_if=("look", (GREEN,)), may_skip=False,
        opens="clear-up",
        minutes=15, reason_id="season_branch",
    ),
)  # fmt: skip


CHEMISTRY: tuple[Row, ...] = (
    Row("ten", "Ten minutes of pump", "Then the sample, a foot (30 cm) under.", act=Wait(10.0),
    after=("prime",),
        claims=_PUMP, minutes=10),
    Row(
        "first_test", "Chlorine and pH",
        "No chlorine left is normal. Alkalinity may wait for the spring rains.",
        act=Test(("fc", "ph")), met_by=MetBy("water_test", frozenset({"fc", "ph"})),
        after=("ten", "look", "run"), tool="test kit", claims=_WATER, reason_id="season_branch",
    ),
    Row(
        "doses", "pH first, then chlorine to 3 to 5 ppm", "The Bench says how much of which, and the wait"
        " between; take its plan up, and its first dose stands here.",
        "Label first; goggles, gloves; pump running; never two products together.",
        after=("first_test",), met_by=MetBy("dose"), opens="bench", minutes=30, claims=_WATER,
        reason_id="order",
    ),
    Row(
        "shock", "Shock at dusk, the same product",
        "A pound to 10,000 gal or as much chlorine, round the deep end,"
        " pump on.", "Alone in its bucket; nobody in the water until it is read.",
        "The winter's rest is burnt off before it grows.", ("doses",), pours=True, dusk=True,
        only_if=("look", _CLEAR), reason_id="season_branch",
    ),
    Row(
        "dusk", "Chlorine after sunset", "Half an hour after the shock; nothing more goes in until morning.",
        act=Test(("fc",)), met_by=MetBy("water_test", frozenset({"fc"})), after=("shock",), wait_min=30,
        only_if=("look", (CLEAR_WARM,)), reason_id="season_branch",
    ),
    Row(
        "dawn", "Chlorine before the sun is on it", "A fall of more than 1 ppm overnight: something eats it.",
        why="In water this warm algae may be growing unseen.",
        act=Decide("How far did it fall?", (("held", "1 ppm or less", ""), ("fell", "More: into Clear-up",
        ""))),
        after=("dusk",), wait_min=7 * 60, only_if=("look", (CLEAR_WARM,)), reason_id="season_branch",
    ),
    Row(
        "run_2", "Clear it up first", "The opening waits and comes back here.", "No swimming meanwhile.",
        act=Look("Is it under way?", (("begun", "Begun, or clear already"),)),
        after=("dawn",), met_by=MetBy("clear_up"), only_if=("dawn", ("fell",)), may_skip=False,
        opens="clear-up", minutes=15, reason_id="season_branch",
    ),
    Row("vacuum", "Vacuum, net, brush", "Through the filter, to waste where much lies there.",
        after=("look", "run"), day=1, minutes=60, claims=_PUMP),
    Row(
        "full", "The full test", "A day of pump behind it; a shop's sample too.",
        and_salt=True, act=Test(_FULL), met_by=_FULLY, after=("shock", "doses", "run_2"),
        day=1,
        wait_min=24 * 60, minutes=20, tool="whole kit, clean bottle", claims=_WATER,
        reason_id="season_branch",
    ),
    Row(
        "balance", "Alkalinity, pH, calcium by the full test",
        "By the Bench: what it asks for today, then the"
        " next test.", after=("full",), day=1, opens="bench", minutes=30, claims=_WATER, reason_id="order",
    ),
    Row(
        "salt", "Salt made up for what was drained{salt}",
        "On a reading, not by the panel: nine tenths of the"
        " sum, the pump on for a day, a test, the rest.",
        after=("full",), day=1, opens="bench", minutes=30, takes=takes.chlorinator, claims=_WATER,
        reason_id="salt_makeup",
    ),
    Row(
        "stabilizer", "Stabilizer, once clear and tested",
        "On what the full test read, in a sock; it dissolves"
        " for a week.", after=("balance", "run"), day=2, opens="bench", claims=_WATER,
        takes=lambda asked: not asked.site.indoor, reason_id="season_branch",
    ),
    Row(
        "cell", "Cell in, and on",
        "Flow switch in, arrow with the flow, the dummy pipe kept. Water balanced, salt"
        " in its range.", "Flow first: a cell without flow collects hydrogen and can burst.",
        "Cold or salt-poor water wears it for nothing.", ("salt", "balance"), day=2, part="cell",
        takes=takes.chlorinator, minutes=15, may_skip=True, reason_id="season_cell",
    ),
    Row(
        "cell_light", "Its low-salt light goes out",
        "White flakes at the first start are calcium: they pass.",
        act=Decide("Is the light out?", (("out", "It is out", ""), ("on", "It stays on", "cell_light"))),
        after=("cell",), day=2, takes=takes.chlorinator, reason_id="season_cell",
    ),
    Row("blanket", "Floating blanket cut to size, on at night", "Fully off before anybody enters.",
        after=("balance",), day=2, part="blanket", takes=takes.has("cover", "bubble")),
    Row("cleaner", "Cleaner in once nothing is mixing", after=("balance",), day=2, part="cleaner",
        takes=takes.has("cleaner")),
    Row("heater_on", "Heater on", "Its bypass shut once pH is in its band.",
    "Smell of gas: leave, then call.",
        after=("balance",), day=2, takes=takes.has("heater")),
    Row(
        "routine", "Back to routine",
        "Timer set and its trippers tight; gate shut; duties as they come round.",
        "Swimming: when chlorine and pH are read and the floor is in sight.",
        after=("full", "balance"), day=2,
    ),
    Row("notes", "For next year", "What was missing, what took long, what to buy.",
        act=Look("Your notes", text=True), after=("routine",), day=2, minutes=3),
)  # fmt: skip

OPENING: tuple[Row, ...] = (*SAFETY, *COVER, *PARTS, *START, *GREEN_ROWS, *CHEMISTRY)
