"""Work that comes round under a winter cover, and where it freezes on an open pool. Common practice, no
source; days and millimetres are our own.
"""

from kumpan.core.care.rule import HURTS, LOOKS, TURNS, WEARS, Rule, every_cadence
from kumpan.core.care.site import Site

_WATER_IN_MM = 50.0  # of rain on a cover that lies, before it is three inches deep at its lowest


def _covered(site: Site) -> bool:
    return site.winter_cover != "" and not site.indoor


def _holds_water(site: Site) -> bool:
    return _covered(site) and site.winter_cover != "mesh"


def _may_freeze(site: Site) -> bool:
    return not site.indoor and not site.closed and site.has("pump")


WINTER: tuple[Rule, ...] = (
    Rule(
        "winter_water", "winter", "Pump the water off the cover", (("upkeep.cover_water",),),
        days=every_cadence(14), adaptive="by_rain", params={"mm": _WATER_IN_MM, "days": 21},
        applies=_holds_water, writes=("upkeep", {"what": "cover_water"}), minutes=20, waits=HURTS,
        if_late="Over 3 in (8 cm) of water on a cover drowns a child, and tears the cover.",
        reason_id="winter_watch", bring=("cover pump", "disc under it"), in_season=False, in_winter=True,
    ),
    Rule(
        "winter_leaves", "winter", "Leaves off the cover before it freezes", (("upkeep.cover_leaves",),),
        days=every_cadence(1), adaptive="before_freeze", params={"gap": 10}, applies=_covered,
        writes=("upkeep", {"what": "cover_leaves"}), minutes=15, waits=LOOKS,
        if_late="Frozen in they stay until spring and stain through.", reason_id="winter_watch",
        bring=("soft broom",), in_season=False, in_winter=True,
    ),
    Rule(
        "winter_look", "winter", "Cover's tension, its bags, the level under it", (("inspection.cover",),),
        days=every_cadence(14), applies=_covered, writes=("inspection", {"what": "cover", "found": "fine"}),
        minutes=5, waits=WEARS, if_late="A slack cover takes water; a level that fell leaves it hanging.",
        reason_id="winter_watch", in_season=False, in_winter=True,
    ),
    Rule(
        "winter_test", "winter", "Test the water in mid-winter", (("read.ph",),), days=every_cadence(75),
        applies=lambda site: not site.indoor, opens="bench", minutes=15, waits=WEARS, reads=("ph", "ta",
        "ch"),
        if_late="Soft cold water eats plaster all winter.", reason_id="winter_watch", bring=("test kit",),
        in_season=False, in_winter=True,
    ),
    Rule(
        "freeze", "winter", "Pump on without a break: it freezes", (("upkeep.freeze",),),
        days=every_cadence(1), adaptive="before_freeze", params={"gap": 1, "same_day": True},
        applies=_may_freeze, writes=("upkeep", {"what": "freeze"}), minutes=2, waits=TURNS,
        if_late="Standing water in a line freezes and bursts it.", reason_id="winter_freeze", in_season=False,
    ),
)  # fmt: skip
