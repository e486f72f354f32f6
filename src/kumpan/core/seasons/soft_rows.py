"""Putting a small soft-sided pool up for the summer, and away after it, as data: it is not wintered but
emptied. Common practice, no source; where its rows are those of other pools they are the same rows.
"""

from kumpan.core.seasons import takes
from kumpan.core.seasons.closing_rows import COVER, PARTS, WATER
from kumpan.core.seasons.opening_rows import CHEMISTRY, SAFETY, START
from kumpan.core.seasons.opening_rows import PARTS as PUT_BACK
from kumpan.core.seasons.plan import Row, stored
from kumpan.core.work.sheet import Look, MetBy, Test


def _of(rows: tuple[Row, ...], *keys: str) -> tuple[Row, ...]:
    """These of some rows."""
    return tuple(r for r in rows if r.key in keys)


_BRINGS_WATER = ("fill", "fill_above", "leveller")
_NOT_SOFT = ("dusk", "dawn", "run_2", "stabilizer")

SOFT_CLOSING: tuple[Row, ...] = (
    *_of(WATER, "floater", "feeder", "blanket", "cleaner", "heater_off", "leveller_off"),
    Row(
        "fc_none", "No chlorine left",
        "Stop adding some days before; sun and time do it. It goes onto a lawn only where local rules allow.",
        act=Test(("fc",)), met_by=MetBy("water_test", frozenset({"fc"})), minutes=3,
        reason_id="drain_dechlorinate",
    ),
    *_of(WATER, "power"),
    Row(
        "empty", "Emptied, brushed as it falls", "By its drain valve and a hose, lowest side first.",
        "Nobody sits on a wall: it folds and throws them.",
        after=("fc_none", "power"), minutes=90, helper=True,
        reason_id="drain_share",
    ),
    *PARTS,
    stored("cover_away", "cover", "Cover washed and dried", takes=takes.winter_cover),
    Row("dry", "Wiped and dry, both sides", "A day in the sun; folded damp it moulds.", after=("empty",),
        minutes=60),
    stored("fold", "shell", "Folded loosely, put away", after=("dry", "small", "steps", "apart"), helper=True,
           minutes=30, how="Over the frost, where no mouse is; poles and pins in one bag."),
    Row(
        "shut", "What stays is shut: gate, cable, tap", "Nothing left that fills with rain and stands open.",
        after=("fold", "cover_away", "floater"), may_skip=False, reason_id="care_safety",
    ),
    *_of(COVER, "notes"),
)  # fmt: skip


SOFT_OPENING: tuple[Row, ...] = (
    *SAFETY,
    Row(
        "ground", "Level ground, swept, a cloth under it",
        "A hand's breadth over its width is too much: it leans and bursts.",
        "Full it weighs tons: never on a deck that was not built for it.", after=("gate",),
        minutes=30, tool="long level, ground cloth",
    ),
    Row("up", "Put up, walls straight", "In the sun, soft. Drain valve shut.", after=("ground",),
        part="shell", minutes=45, helper=True),
    *tuple(r for r in PUT_BACK if r.key not in _BRINGS_WATER),
    Row(
        "fill", "Filled to its mark",
        "A hand deep first, wrinkles out, then the rest; a filter on the hose where it carries metals.",
        "A child is watched from the first hand of water on.",
        after=("up", "returns"), minutes=240, act=Look("How much went in?", unit="volume"),
    ),
    *_of(PUT_BACK, "leveller"),
    *tuple(r for r in START if r.key != "to_waste"),
    *tuple(r for r in CHEMISTRY if r.key not in (*_NOT_SOFT, "shock")),
    Row("cover_back", "Cover at hand, on every night", after=("routine",), day=2, part="cover",
        takes=takes.winter_cover),
)  # fmt: skip
