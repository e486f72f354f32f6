"""The weekly clean and the technician's stop as a walk: its steps for this pool, in the order of the school
chosen, and what its findings come to.

Order and words: common practice, no source. A step is what a person would say aloud; what stands under it is
for who wants it.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

from kumpan.core.care.findings import FINE, PAD, SEEN, Finding
from kumpan.core.care.site import Site
from kumpan.core.phrasing.terms import listed
from kumpan.core.records import PSI_KPA
from kumpan.core.work.sheet import Act, Claim, Decide, Do, Look, MetBy, Step, Test, Words

Walk = Literal["weekly", "stop", "away", "back"]
WALKS: dict[str, str] = {
    "weekly": "Weekly clean",
    "stop": "The stop",
    "away": "Going away",
    "back": "Back home",
}


@dataclass(frozen=True)
class Asked:
    """What a walk is made for. due: measures whose test is due besides chlorine and pH; filter_due: why the
    filter is to be cleaned, empty where nothing says so; clean_kpa: its gauge when clean; feeds: what is set
    for the days away, in words.
    """

    site: Site
    due: tuple[str, ...] = ()
    filter_due: str = ""
    clean_kpa: float | None = None
    system: str = "us"
    feeds: str = ""


def steps_for(kind: Walk, asked: Asked) -> tuple[Step, ...]:
    """The walk's steps, each after the one before."""
    rows = {"weekly": _WEEKLY, "stop": _STOP, "away": _AWAY, "back": _BACK}[kind]
    made = [step for row in rows if (step := row(asked)) is not None]
    if kind == "weekly" and asked.site.care.tests_first:
        made = _moved(made, "test", "look")
    if kind == "stop" and not asked.site.care.tests_first:
        made = _moved(_moved(made, "doses", "clean"), "test", "clean")
    before: tuple[str, ...] = ()
    steps = []
    for step in made:
        steps.append(replace(step, after=before))
        before = (step.key,)
    return tuple(steps)


def _moved(steps: list[Step], key: str, behind: str) -> list[Step]:
    """The steps with one put right behind another."""
    one = next((s for s in steps if s.key == key), None)
    rest = [s for s in steps if s is not one]
    at = next((i for i, s in enumerate(rest) if s.key == behind), None)
    return steps if one is None or at is None else [*rest[: at + 1], one, *rest[at + 1 :]]


def _step(key: str, act: Act, title: str, how: str = "", caution: str = "", **more: object) -> Step:
    reason = str(more.pop("reason_id", "care_clean"))
    return Step(key, act, Words(title, how, caution), reason_id=reason, **more)  # type: ignore[arg-type]


def _choices(findings: tuple[Finding, ...], fine: str) -> tuple[tuple[str, str], ...]:
    return ((FINE, fine), *((f.id, f.label) for f in findings))


def _look(asked: Asked) -> Step:
    drains = asked.site.equipment.get("openings", {}).get("drains") != 0.0
    seen = tuple(f for f in SEEN if f.id != "drain" or drains)
    return _step(
        "look", Look("What do you see?", _choices(seen, "All as it should be"), many=True),
        "Look before you touch",
        "Jets pushing. Level half to two thirds up the skimmer's mouth. Floor in sight, drain covers whole,"
        " gate shut.",
        "Look into the skimmer before you reach in.", may_skip=False, reason_id="care_look",
    )  # fmt: skip


def _skimmer(asked: Asked) -> Step:
    return _step(
        "skimmer", Do(), "Skimmer basket out, rinsed, back",
        "With the pump on, so that debris stays in it; by the hook. One that will not lift: pump off, the"
        " vacuum"
        " lets go." + (" The fine sock rinsed or swapped." if asked.site.care.cadence == "quarterly" else ""),
        "Animals: look first.", claims=frozenset[Claim]({"pump_on"}),
    )  # fmt: skip


def _filter(asked: Asked) -> Step | None:
    if asked.site.medium not in ("sand", "cartridge", "de"):
        return None
    at = ""
    if asked.clean_kpa is not None:
        over = asked.clean_kpa + 8 * PSI_KPA
        shown = f"{over:.0f} kPa" if asked.system == "metric" else f"{over / PSI_KPA:.0f} psi"
        at = f" Here that is from {shown} on."
    choices = (("no", "No, it is clean enough", ""), ("yes", "Yes, step by step", "filter"))
    choices = choices[::-1] if asked.filter_due else choices  # what the schedule says comes first
    return _step(
        "filter",
        Decide("Clean the filter now?", (("yes", "Yes, step by step", "filter"), ("no",
        "No, it is clean enough", ""))),
        "Does the filter want cleaning?",
        f"8 to 10 psi over its clean pressure, or weak jets.{at} {asked.filter_due}".strip(),
        reason_id="filter_pressure",
    )  # fmt: skip


def _pot(asked: Asked) -> Step:
    return _step(
        "pot", Do(), "Pump basket, and on at once",
        "Off; rinse, the right way round; gasket seated; pot full of water, lid, valves open; on. Expect"
        " strong"
        " jets and the clean pressure.",
        "Breaker off, dry hands.", claims=frozenset[Claim]({"pump_off"}), met_by=MetBy("backwash"),
        reason_id="filter_wash",
    )  # fmt: skip


def _gauge(asked: Asked) -> Step | None:
    if not asked.site.has("filter"):
        return None
    return _step(
        "gauge", Look("Gauge, pump running", unit="pressure"), "Read the gauge",
        "With the pump off it must have stood at zero: one that sticks lies.", met_by=MetBy("backwash"),
        claims=frozenset[Claim]({"pump_on"}), reason_id="filter_pressure",
    )  # fmt: skip


def cleaning(site: Site) -> list[str]:
    """What the whole clean holds here, in the order of the school chosen."""
    cleaner = site.has("cleaner")
    vacuum = (
        "robot in"
        if site.has("cleaner", what="robot")
        else "cleaner in"
        if cleaner
        else "vacuum, strokes overlapping"
    )
    nylon = ", nylon on vinyl" if site.traits.surface == "vinyl" else ""
    brush = f"brush shallow to deep, towards the drain{nylon}"
    if cleaner:
        brush += ", what the cleaner misses: stairs, ladder, corners"
    middle = [brush, vacuum] if site.care.brushes_first else [vacuum, brush]
    skim = [] if site.indoor else ["skim and rake the deep end"]
    rinse = ["rinse the salt off deck, tracks and stone"] if site.traits.has_chlorinator else []
    if site.care.is_technician:
        return [
            "a little tile soap on the water",
            *skim,
            "twice round with the net",
            "tiles",
            *middle,
            "skim again",
            *rinse,
        ]
    return [*skim, *middle, "water line", *rinse]


def _clean(asked: Asked) -> Step:
    words = cleaning(asked.site)
    return _step(
        "clean", Do(), "The clean, all of it",
        f"{'; '.join(words)[:1].upper()}{'; '.join(words)[1:]}.",
        "No pole near overhead lines; everybody out at thunder.",
    )  # fmt: skip


def _net(asked: Asked) -> Step:
    return _step(
        "net", Look("Vacuum, or only net the floor?", (("net", "Net it"), ("vacuum", "Vacuum"))),
        "Soap on the surface, then look at the floor",
        "The soap cuts the glare and gathers the dust. A spa is vacuumed too.",
    )  # fmt: skip


def _test(asked: Asked) -> Step:
    due = [_WORD[m] for m in asked.due if m in _WORD]
    first = "chlorine (free or total)" if asked.site.care.is_technician else "free chlorine"
    today = listed([first, "pH", *due])
    how = f"Elbow deep, far from jets and skimmer, ten minutes of pump before. Today: {today}."
    if asked.site.has("cleaner"):
        how = "Cleaner out. " + how
    return _step(
        "test", Test(("ph",)), "Test the water", how + " Odd: once more, then a second kit or a shop.",
        met_by=MetBy("water_test", frozenset({"ph"})), reason_id="care_tests",
    )  # fmt: skip


_WORD = {"ta": "alkalinity", "ch": "calcium", "cya": "stabilizer", "salt": "salt", "copper": "copper"}


def _doses(asked: Asked) -> Step:
    technician = asked.site.care.is_technician
    how = (
        "The Bench says which and how much. Acid now, at one end: the cleaning is its wait. Chlorine"
        " comes last."
        if technician
        else "The Bench says which, how much, in what order and with which waits. Take its plan up: its"
        " first dose then stands here."
    )
    return _step(
        "doses", Do(), "Acid first, if the plan has it" if technician else "Doses, one at a time", how,
        "Label first; goggles, gloves; pump running; never two products together.", met_by=MetBy("dose"),
        reason_id="order",
    )  # fmt: skip


def _last(asked: Asked) -> Step:
    return _step(
        "last", Do(), "Chlorine, the last act",
        "Other end, other measure, fifteen minutes or more after the acid, counting only while the jets"
        " run; walk"
        " away from the fumes.",
        "Nobody in the water; cleaner out.", met_by=MetBy("dose"), reason_id="order",
    )  # fmt: skip


def _hold(asked: Asked) -> Step | None:
    source = asked.site.traits.chlorine_source
    how = {
        "tablets": "Tablets for the days, into their own feeder.",
        "chlorinator": "The cell's setting and hours for the days.",
    }.get(
        source,
        "Chlorine for the days: to the swim limit at most, more only where nobody swims until it is read.",
    )
    return _step("hold", Do(), "What must hold until the next visit", how, reason_id="care_tablets")


def _minutes(asked: Asked) -> Step:
    return _step(
        "minutes", Look("It took", unit="minutes"), "How long did it take?",
        "Next week's hour is planned by it.",
        reason_id="care_time",
    )  # fmt: skip


def _cover(asked: Asked) -> Step | None:
    if not asked.site.small_soft:
        return None
    return _step("cover", Do(), "Cover on for the night",
    "It keeps leaves and children out, and the heat in.",
                 reason_id="care_soft")  # fmt: skip


Row = Callable[[Asked], Step | None]
_WEEKLY: tuple[Row, ...] = (_look, _skimmer, _filter, _pot, _gauge, _clean, _test, _doses, _minutes, _cover)


def _pad(asked: Asked) -> Step:
    cell = asked.site.traits.has_chlorinator
    found = tuple(f for f in PAD if f.id != "cell" or cell)
    return _step(
        "pad", Look("What is not right?", _choices(found, "All right")
        , many=True), "The pad, before any dose",
        "Basket and its tears, pot full, O-ring, lid, valves open again. Timer right and running. Leaks,"
        " motor"
        + (", the cell's lights and plates." if cell else "."),
        "Breaker off before the pot is opened.", claims=frozenset[Claim]({"pump_off"}), may_skip=False,
        reason_id="care_gear",
    )  # fmt: skip


_STOP: tuple[Row, ...] = (
    _look, _test, _pad, _filter, _skimmer, _doses, _net, _clean, _last, _hold, _minutes,
)  # fmt: skip


def _level(asked: Asked) -> Step:
    leveller = "its leveller on" if asked.site.has("leveller") else "no hose left running"
    return _step(
        "level", Do(), "Level at the upper end",
        f"Two thirds up the skimmer's mouth and a little more, {leveller}: nobody fills it meanwhile.",
        reason_id="care_away",
    )  # fmt: skip


def _runs(asked: Asked) -> Step:
    by = (
        "The timer's trippers tight, its clock right"
        if asked.site.has("pump", run_by="timer")
        else "Its switch set"
    )
    return _step(
        "runs", Do(), "Prove that the pump comes on by itself",
        f"{by}; wait for it to start and stop once. The green pool after a holiday had its pump off.",
        reason_id="care_away",
    )  # fmt: skip


def _feeds(asked: Asked) -> Step:
    how = {
        "tablets": "Feeder or floater filled for the days away, one product and no other.",
        "chlorinator": "Setting and hours for the days away; the salt read, the cell looked at.",
    }.get(
        asked.site.traits.chlorine_source,
        "Chlorine to the upper end of its band as the last act; where nothing feeds it, somebody has to:"
        " a day"
        " takes about 2 ppm.",
    )
    how = asked.feeds or how
    return _step("feeds", Do(), "What feeds chlorine while nobody is here", how, reason_id="care_away")


def _covered(asked: Asked) -> Step | None:
    if not asked.site.has("cover"):
        return None
    return _step("covered", Do(), "Cover on, once the chlorine is in its band",
                 "It saves chlorine and keeps leaves out. Fully on: a cover part-on drowns.",
                 reason_id="care_away")  # fmt: skip


def _helper(asked: Asked) -> Step:
    return _step(
        "helper", Do(), "Somebody looks in, with a short list",
        "Jets pushing, level, colour, gate shut; whom to call. Nothing else: they pour nothing they were"
        " not shown.",
        "The gate locked; a ladder that comes off taken off.", reason_id="care_away",
    )  # fmt: skip


_AWAY: tuple[Row, ...] = (
    _look, _clean, _test, _doses, _level, _runs, _feeds, _covered, _helper,
)  # fmt: skip


def _everyday(asked: Asked) -> Step:
    return _step(
        "everyday", Do(), "Settings back to every day's",
        "Cell, feeder and timer as they were before; the cover off before anybody swims.",
        reason_id="care_away",
    )  # fmt: skip


_BACK: tuple[Row, ...] = (_look, _test, _doses, _everyday)
