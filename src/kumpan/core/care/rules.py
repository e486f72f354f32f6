"""The work that comes round, one row a rule: for whom, how often, what tells that it was done.

Intervals: common practice, no source, unless a row's reason says otherwise (``guidance.reasons.care``). A row
is taken up for the equipment that stands at a pool and for the cadence its person chose; nothing else.
"""

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from kumpan.core.care.facts import Met
from kumpan.core.care.rule import (
    GUARDS,
    HURTS,
    KEEPS,
    LOOKS,
    TURNS,
    WEARS,
    Rule,
    every_cadence,
    owners,
    per,
)
from kumpan.core.care.site import SHOCK_DAYS, Site
from kumpan.core.care.winter_rules import WINTER


def _outdoors(site: Site) -> bool:
    return not site.indoor


_FC: Met = (("read.fc", "read.ph"), ("read.tc", "read.ph"))
_CLEANED: Met = (("clean.whole",),)
_SAFE_DAYS = per(30, 30, 30, 30, 30, 91)


def _test(measure: str, title: str, days: Mapping[str, int], if_late: str, **more: Any) -> Rule:
    usual: dict[str, Any] = {
        "met_by": ((f"read.{measure}",),), "opens": "bench", "minutes": 3.0, "waits": WEARS,
        "first_days": 0, "reads": (measure,), "reason_id": "care_tests", "bring": ("test kit",),
    }  # fmt: skip
    return Rule(f"test_{measure}", "test", title, days=days, if_late=if_late, **(usual | more))


RULES: dict[str, Rule] = {
    r.id: r
    for r in (
        *WINTER,
        # --- Tests.
        _test(
            "fc", "Test chlorine and pH", per(1, 2, 3, 7, 7, 0),
            "Chlorine is gone within days in the sun, and algae begin unseen.",
            met_by=_FC, waits=TURNS, reads=("fc", "ph"),
            every=lambda site: 3 if site.small_soft and site.care.cadence == "weekly" else 0,
        ),
        _test("ta", "Test alkalinity", per(7, 14, 28, 28, 28, 0), "pH swings once the buffer is gone."),
        _test("ch", "Test calcium", per(28, 28, 28, 28, 91, 0),
            "Calcium creeps, then scales or eats plaster.",
              applies=lambda site: not site.small_soft),
        _test("cya", "Test stabilizer", per(28, 28, 28, 28, 0, 0), "Stabilizer creeps until chlorine fails.",
              applies=_outdoors),
        Rule(
            "test_cya_season", "test", "Test stabilizer at the season's start", (("read.cya",),),
            days={"technician": 365}, applies=_outdoors, opens="bench", minutes=5, waits=WEARS, first_days=0,
            reads=("cya",), if_late="Targets follow the stabilizer that is in the water.",
            reason_id="care_tests", bring=("test kit",), school="Technician's",
        ),
        _test("salt", "Test salt, not by the panel", per(28, 28, 28, 28, 28, 0),
              "A cell short of salt wears out.", applies=lambda site: site.traits.has_chlorinator),
        Rule(
            "shop_sample", "test", "Take a sample to a shop", (("read.ph", "read.ta", "read.ch"),),
            days={"quarterly": 91}, opens="bench", minutes=30, waits=TURNS, first_days=0,
            reads=("fc", "ph", "ta", "ch", "cya"), if_late="Nobody knows the water for another quarter.",
            reason_id="care_tests", bring=("a clean quart bottle",), school="Once a quarter",
        ),
        Rule(
            "test_after", "test", "Test again", _FC, adaptive="after_event",
            params={"events": ["rain", "bathers", "refill", "drain", "storm"]}, opens="bench",
            minutes=3, waits=TURNS, reads=("fc", "ph"),
            if_late="What was known of the water is not true any more.",
            reason_id="care_events", bring=("test kit",), days=every_cadence(1),
        ),
        Rule(
            "test_after_shock", "test", "Test chlorine and pH the day after", _FC, adaptive="after_event",
            params={"events": ["shock"]}, opens="bench", minutes=3, waits=TURNS, reads=("fc", "ph"),
            if_late="A shock moves pH, and swimming waits for a reading.", reason_id="care_events",
            bring=("test kit",), days=every_cadence(1),
        ),
        Rule(
            "test_copper", "test", "Test copper", (("read.copper",),), days=every_cadence(28), opens="bench",
            minutes=5,
            applies=lambda site: site.has("mineral", what="copper"), waits=WEARS, reads=("copper",),
            if_late="Over 0.4 ppm it stains.", reason_id="care_copper", bring=("copper test",), first_days=0,
        ),
        # --- Feeding.
        Rule(
            "tablets", "feed", "Top the tablets up", (("dose.trichlor-90",), ("upkeep.tablets",)),
            days=owners(4), weekdays=(0, 3), writes=("upkeep", {"what": "tablets"}), minutes=5, waits=TURNS,
            applies=lambda site: site.traits.chlorine_source == "tablets" and not site.small_soft,
            if_late="The feeder runs empty and chlorine stops.", reason_id="care_tablets",
            bring=("tablets", "gloves"),
        ),
        Rule(
            "tablets_visit", "feed", "Tablets for the days until the next visit",
            (("dose.trichlor-90",), ("upkeep.tablets",)), days={"technician": 7},
            writes=("upkeep", {"what": "tablets"}), minutes=3, waits=TURNS,
            applies=lambda site: site.traits.chlorine_source == "tablets",
            if_late="The feeder runs empty before the next visit.", reason_id="care_tablets",
            bring=("tablets",), first_days=0, school="Technician's",
        ),
        Rule(
            "shock", "feed", "Shock at dusk", (("shock",), ("clear_up",)), days=owners(14), opens="clear-up",
            minutes=10, waits=TURNS, every=lambda site: SHOCK_DAYS[site.shock],
            applies=lambda site: bool(SHOCK_DAYS[site.shock]) and not site.small_soft,
            if_late="Chloramine and algae gain on the chlorine.", reason_id="care_shock",
            bring=("shock", "goggles"), school="Routine shock",
        ),
        Rule(
            "oxidiser", "feed", "Non-chlorine oxidiser", (("dose.non-chlorine-shock",), ("shock",)),
            days=owners(7), opens="clear-up", minutes=10, waits=TURNS,
            applies=lambda site: site.small_soft, if_late="What bathers leave eats the chlorine.",
            reason_id="care_soft", bring=("oxidiser",),
        ),
        Rule(
            "copper_granules", "feed", "Weekly chlorine granules, pre-dissolved",
            (("dose.dichlor-56",), ("dose.cal-hypo-65",), ("dose.cal-hypo-73",)),
            days=owners(7) | {"technician": 7},
            opens="bench", minutes=10, waits=TURNS, applies=lambda site: site.has("mineral", what="copper"),
            if_late="Copper does not oxidise: the residual has to come from chlorine.",
            reason_id="care_copper", bring=("granules", "bucket"),
        ),
        Rule(
            "copper_enzyme", "feed", "Enzyme, as its label says", (("dose.enzyme",),),
            days=owners(14) | {"technician": 14},
            opens="log", minutes=5, waits=LOOKS, applies=lambda site: site.has("mineral", what="copper"),
            if_late="The oil ring builds up.", reason_id="care_copper", bring=("enzyme",),
        ),
        # --- Cleaning.
        Rule(
            "weekly_clean", "clean", "The weekly clean", _CLEANED, days=owners(7), opens="weekly",
            writes=("clean", {"what": "whole"}), minutes=60, waits=LOOKS,
            if_late="Leaves stain and feed algae; the water line hardens.", reason_id="care_clean",
        ),
        Rule(
            "stop", "clean", "The visit", _CLEANED, days={"technician": 7}, opens="stop",
            writes=("clean", {"what": "whole"}), minutes=20, waits=TURNS, first_days=0,
            if_late="A week unseen is how pools turn.", reason_id="care_clean", school="Technician's",
        ),
        Rule(
            "quarter_clean", "clean", "Robot, baskets and the skimmer sock", _CLEANED, days={"quarterly": 91},
            opens="weekly", writes=("clean", {"what": "whole"}), minutes=60, waits=LOOKS,
            if_late="Debris loads the filter and feeds algae.", reason_id="care_clean",
            school="Once a quarter",
        ),
        Rule(
            "skim", "clean", "Skim the water", (("clean.whole",), ("clean.skimmed",)), days=owners(7),
            part_of="weekly_clean", every=lambda site: 2 if site.small_soft else 3 if site.leafy else 7,
            applies=_outdoors, writes=("clean", {"what": "skimmed"}), minutes=10,
            if_late="Leaves sink, stain and block the drain.", reason_id="care_clean", bring=("net",),
        ),
        Rule(
            "baskets", "clean", "Empty the skimmer basket", (("clean.whole",), ("clean.baskets",)),
            days=owners(7), part_of="weekly_clean", every=lambda site: 3 if site.leafy else 7,
            writes=("clean", {"what": "baskets"}), minutes=5, waits=WEARS,
            if_late="A full basket starves the pump.", reason_id="care_clean",
        ),
        Rule(
            "brush", "clean", "Brush walls and floor", (("clean.whole",), ("clean.brushed",)),
            days=owners(7),
            part_of="weekly_clean", every=lambda site: 2 if site.small_soft else 7,
            writes=("clean", {"what": "brushed"}), minutes=5,
            if_late="Algae take hold where nothing moves.", reason_id="care_clean", bring=("brush",),
        ),
        Rule(
            "line", "clean", "Wipe the water line", (("clean.whole",), ("clean.line",)), days=owners(7),
            part_of="weekly_clean", writes=("clean", {"what": "line"}), minutes=10,
            if_late="The oil ring hardens.", reason_id="care_clean",
        ),
        Rule(
            "vacuum", "clean", "Vacuum", (("clean.whole",), ("clean.vacuumed",)), days=owners(7),
            part_of="weekly_clean", writes=("clean", {"what": "vacuumed"}), minutes=20,
            if_late="What lies on the floor feeds algae.", reason_id="care_clean",
        ),
        Rule(
            "salt_rinse", "clean", "Rinse the salt off deck, tracks and stone", (("clean.whole",),
            ("clean.rinsed",)),
            days=owners(7), part_of="weekly_clean", writes=("clean", {"what": "rinsed"}), minutes=5,
            waits=WEARS,
            applies=lambda site: site.traits.has_chlorinator,
            if_late="Salt splash corrodes metal and soft stone.",
            reason_id="care_clean",
        ),
        Rule(
            "after_storm", "clean", "Baskets, and what the storm left",
            (("clean.whole",), ("clean.baskets",), ("backwash",), ("filter_clean",)), adaptive="after_event",
            params={"events": ["storm"]}, days=every_cadence(1), applies=_outdoors,
            writes=("clean", {"what": "baskets"}), minutes=20, waits=WEARS,
            if_late="A full basket starves the pump, and leaves turn the water.", reason_id="care_events",
            bring=("net",),
        ),
        # --- The filter and the cell: their guides are the machines'.
        Rule(
            "filter", "filter", "Clean the filter", (("backwash",), ("filter_clean",)), adaptive="by_gauge",
            params={"days": 28}, days=owners(28) | {"quarterly": 91},
            every=lambda site: 7 if site.small_soft else 91 if site.medium == "de" else 28,
            applies=lambda site: site.medium in ("sand", "cartridge", "de"), opens="filter", minutes=15,
            waits=WEARS, if_late="Flow falls, and with it all that the filter does.",
            reason_id="filter_pressure",
        ),
        Rule(
            "filter_round", "filter", "Clean the filter", (("backwash",), ("filter_clean",)),
            monthly={"technician": (3, 9)}, applies=lambda site: site.medium in ("sand", "cartridge", "de"),
            opens="filter", minutes=15, waits=WEARS, in_season=False,
            if_late="Flow falls, and with it all that the filter does.", reason_id="filter_pressure",
            school="Technician's: every filter in March and September",
        ),
        Rule(
            "filter_full", "filter", "Clean the filter: its gauge says so", (("backwash",),
            ("filter_clean",)),
            adaptive="by_gauge", days={"technician": 1}, opens="filter", minutes=15, waits=WEARS,
            applies=lambda site: site.medium in ("sand", "cartridge", "de"),
            if_late="Flow falls, and with it all that the filter does.", reason_id="filter_pressure",
        ),
        Rule(
            "soak", "filter", "Soak the cartridge in degreaser", (("upkeep.soak",),), days=every_cadence(182),
            every=lambda site: 28 if site.small_soft else 182,
            applies=lambda site: site.medium == "cartridge",
            writes=("upkeep", {"what": "soak"}), minutes=15, waits=WEARS,
            if_late="Oil stays in the pleats, and hosing does not take it out.", reason_id="filter_pressure",
            bring=("degreaser", "the spare cartridge"),
        ),
        Rule(
            "cartridge_new", "filter", "A new cartridge", (("upkeep.media",),), days=every_cadence(365),
            applies=lambda site: site.medium == "cartridge" and site.traits.is_small_soft,
            writes=("upkeep", {"what": "media"}), minutes=10, waits=WEARS,
            if_late="Worn pleats let the fine dirt through.", reason_id="filter_pressure",
            bring=("a cartridge",),
        ),
        Rule(
            "sand_new", "filter", "New sand", (("upkeep.media",),), adaptive="after_paper",
            params={"paper": "media", "days": 4 * 365 + 1, "says": "Every 4 to 5 years; new on {day}."},
            days=every_cadence(1), applies=lambda site: site.medium == "sand" and site.has("filter") and bool(
                site.equipment["filter"].get("media")
            ),
            writes=("upkeep", {"what": "media"}), minutes=180, waits=WEARS,
            if_late="Worn grains let the fine dirt through.", reason_id="filter_pressure",
        ),
        Rule(
            "de_teardown", "filter", "Take the DE grids apart and degrease them", (("upkeep.media",),),
            days=every_cadence(365), applies=lambda site: site.medium == "de", writes=("upkeep",
            {"what": "media"}),
            minutes=90, waits=WEARS, if_late="Grids clog for good.", reason_id="filter_pressure",
        ),
        Rule(
            "cell", "cell", "Look at the cell's plates", (("inspection.cell",),), days=every_cadence(91),
            opens="cell",
            adaptive="by_deposit", writes=("inspection", {"what": "cell", "found": "fine"}), minutes=15,
            waits=WEARS,
            applies=lambda site: site.traits.has_chlorinator,
            if_late="Scale halves what it makes and wears it out.",
            reason_id="cell_look",
        ),
        # --- Gear.
        Rule(
            "o_rings", "gear", "Grease the O-rings", (("upkeep.orings",),), days=every_cadence(91),
            applies=lambda site: site.has("pump") or site.has("filter"), writes=("upkeep",
            {"what": "orings"}),
            minutes=5, waits=WEARS, if_late="A dry ring draws air and the pump loses its prime.",
            reason_id="care_gear", bring=("O-ring lubricant",),
        ),
        Rule(
            "timer", "gear", "Check the timer", (("upkeep.timer",),), days=per(30, 30, 30, 30, 0, 91),
            applies=lambda site: site.has("pump", run_by="timer"), writes=("upkeep", {"what": "timer"}),
            minutes=2,
            waits=TURNS, if_late="A tripper come loose is a pump that stands.", reason_id="care_gear",
        ),
        Rule(
            "gauge", "gear", "Check that the gauge falls to zero", (("upkeep.gauge",),),
            days=every_cadence(91),
            applies=lambda site: site.has("filter"), writes=("upkeep", {"what": "gauge"}), minutes=2,
            waits=WEARS,
            if_late="A stuck gauge hides a loaded filter.", reason_id="care_gear",
        ),
        Rule(
            "reagents", "gear", "Replace the oldest strips or reagents", (), adaptive="by_paper",
            params={"paper": "reagents", "says": "The oldest are good until about {day}: a year."},
            days=every_cadence(1), applies=lambda site: site.names_reagents, opens="shelf", minutes=5,
            waits=WEARS,
            if_late="Old reagents read wrong, and every dose with them.", reason_id="care_reagents",
            in_season=False,
        ),
        # --- Safety.
        Rule(
            "rcd", "safety", "Press the residual-current device's test button", (("inspection.breaker",),),
            days=_SAFE_DAYS, writes=("inspection", {"what": "breaker", "found": "fine"}), minutes=1,
            waits=GUARDS,
            applies=lambda site: site.has("pump") or site.has("filter") or site.has("cleaner", what="robot"),
            if_late="One that does not trip does not save anyone.", reason_id="care_safety",
        ),
        Rule(
            "barrier", "safety", "Gate, fence and ladder: shake, swing and climb", (("inspection.gate",),),
            days=every_cadence(365), writes=("inspection", {"what": "gate", "found": "fine"}), minutes=10,
            waits=GUARDS,
            if_late="A gate that does not latch lets a child in.", reason_id="care_safety",
        ),
        Rule(
            "drain_look", "safety", "Drain covers: whole, screwed down, in date", (("inspection.drain",),),
            days=every_cadence(365),
            applies=lambda site: site.has("openings") and site.equipment["openings"].get("drains") != 0.0,
            writes=("inspection", {"what": "drain", "found": "fine"}), minutes=5, waits=GUARDS,
            if_late="A broken cover traps: nobody swims over one.", reason_id="care_safety",
        ),
        Rule(
            "drain_cover", "safety", "Replace the drain cover", (), adaptive="by_paper",
            params={"paper": "drain_cover", "before": 60, "says": "Good until {day}."}, days=every_cadence(1),
            applies=lambda site: bool(site.equipment.get("openings", {}).get("cover_until")),
            opens="equipment",
            minutes=30, waits=HURTS, if_late="Nobody swims over an expired one.", reason_id="drains",
            in_season=False,
        ),
    )
}  # fmt: skip

# A row for each piece with a warranty, not one for the pool.
WARRANTY = Rule(
    "warranty", "papers", "Warranty of the {piece} ends", (), adaptive="by_paper",
    params={"before": 60, "lapses": True, "says": "It ends on {day}: anything to claim?"},
    days=every_cadence(1),
    opens="equipment", minutes=10, waits=KEEPS, if_late="After that repairs are yours.", reason_id="papers",
    in_season=False,
)  # fmt: skip
# Something found that wants doing, and work of the person's own.
FOLLOW_UP = Rule(
    "follow_up", "gear", "See to it", writes=("upkeep", {"what": "repair"}), minutes=15, waits=WEARS,
    if_late="What was found gets worse.", reason_id="care_gear", in_season=False,
)  # fmt: skip
# A hazard found: it owns the list until it is seen to.
HAZARD = replace(FOLLOW_UP, id="hazard", waits=HURTS, if_late="Somebody gets hurt.", reason_id="care_safety")
OWN = Rule(
    "own", "own", "", writes=("upkeep", {"what": "other"}), minutes=15, reason_id="care_own", in_season=False
)
BY_ID: dict[str, Rule] = RULES | {r.id: r for r in (WARRANTY, FOLLOW_UP, HAZARD, OWN)}
