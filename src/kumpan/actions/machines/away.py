"""Going away: what to do before, what is set, what will be on return, and a note for who looks in."""

from dataclasses import dataclass, replace
from datetime import date, timedelta
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.machines.site import Known
from kumpan.actions.plans.request import plan_request
from kumpan.actions.sheets.walks import NewWalk, begin_walk
from kumpan.core.dosing.outcomes import SlotView
from kumpan.core.dosing.planner import make_plan
from kumpan.core.dosing.request import Terms
from kumpan.core.dosing.uncertainty import SIGMAS_95
from kumpan.core.dosing.view import show_plan
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.guidance.schools import FC_CAP
from kumpan.core.guidance.swimming import swim_limits
from kumpan.core.guidance.targets import health_minimum_ppm
from kumpan.core.machines.away import MOST_DAYS, Return, on_return
from kumpan.core.machines.feeder import tablets_for
from kumpan.core.machines.output import advise, cell_ppm_day
from kumpan.core.water.demand import Demand
from kumpan.core.water.estimate.priors import UNDER_COVER
from kumpan.core.water.readings import Reading
from kumpan.store import queries
from kumpan.store.tables.log import Event
from kumpan.store.water import present_of

_FRESH = timedelta(days=2)  # a test older than so is made again before leaving (our own)
_PH_SCALE = (6.8, 8.6)


@dataclass(frozen=True)
class Before:
    """Something to do before leaving: what, how much where it is poured, and why."""

    title: str
    amount: str
    why: str


@dataclass(frozen=True)
class AwayView:
    """A short plan for the days away. sentence: what to expect; fc, ph: drawn from leaving to returning, with
    what they may be off by; note: for who looks in.
    """

    days: int
    returns: date
    returns_words: str
    sentence: str
    level: str
    before: tuple[Before, ...]
    settings: tuple[str, ...]
    fc: SlotView | None
    fc_words: str
    ph: SlotView | None
    ph_words: str
    unsure: tuple[str, ...]
    note: tuple[str, ...]
    after: tuple[str, ...]


@dataclass(frozen=True)
class _Plan:
    """What feeds meanwhile: ppm a day, what is set for it, and what that needs in words."""

    fed_ppm_day: float
    settings: tuple[str, ...]
    filled: tuple[Before, ...] = ()


def begin_away(context: Context, pool_id: UUID, new: NewWalk, days: int) -> Event:
    """Begin the walk before leaving, with what is set for so many days; the look on return is due then."""
    known = Known(context, queries.pool(context.session, context.account.id, pool_id))
    plan = away_view(context, known, days)
    return begin_walk(context, pool_id, replace(new, feeds=" ".join(plan.settings), returns=plan.returns))


def checked_days(days: int) -> int:
    """Days away. Raises InvalidInput for none, or for a season."""
    if not 1 <= days <= MOST_DAYS:
        raise InvalidInput(FieldProblem("days", "out_of_range", f"Between 1 and {MOST_DAYS} days."))
    return days


def away_view(context: Context, known: Known, days: int) -> AwayView:
    """The plan for so many days away from today on."""
    days = checked_days(days)
    today = known.here.date()
    feed, demand = _feed(known, days), _demand(known)
    leave = _leave_ppm(known, feed.fed_ppm_day > 0)
    minimum = health_minimum_ppm(known.present.water.cya_ppm)
    back = on_return(leave, feed.fed_ppm_day, demand, days, minimum)
    doses, leaving_ph = _doses(context, known, 0 if feed.fed_ppm_day else days)
    fc, ph = _fc_slot(known, leave, back), _ph_slot(context, known, days, leaving_ph)
    sentence, level = _sentence(known, back, days, minimum)
    returns = today + timedelta(days=days)
    return AwayView(
        days=days,
        returns=returns,
        returns_words=_day(returns),
        sentence=sentence,
        level=level,
        before=(*doses, *feed.filled, *_always(known)),
        settings=(*feed.settings, _pump(known)),
        fc=fc,
        fc_words=f"{back.fc_ppm:.1f} ppm, between {back.low:.1f} and {back.high:.1f}",
        ph=ph,
        ph_words="not known"
        if ph is None or ph.after is None
        else f"{ph.after:.1f}, give or take {ph.u95:.1f}",
        unsure=tuple(_unsure(known)),
        note=_note(known, returns, back),
        after=(
            "Look before anything: level, jets, colour, animals, drain covers, gate.",
            "Test in full, ten minutes of pump before; nobody swims until it is read.",
            "Green, slippery or no floor in sight: a clear-up, the same day.",
        ),
    )


def _leave_ppm(known: Known, fed: bool) -> float:
    """The upper end of the band, within what one may swim in; where nothing feeds it, what the code allows at
    most, as nobody swims until it is read.
    """
    if not fed:
        return FC_CAP
    band, most = known.band("fc"), swim_limits(known.traits, known.present.water.cya_ppm)[1]
    return min(most, band.high or band.aim or 4.0)


def _demand(known: Known) -> Demand:
    """What a day takes at the level that is aimed at."""
    return _under_cover(known, replace(known.demand_at_aim, level_ppm=known.band("fc").aim))


def _under_cover(known: Known, demand: Demand) -> Demand:
    """A cover, which goes on before leaving, halves what is lost (our own, as in the estimate)."""
    share = UNDER_COVER if _has_cover(known) else 1.0
    return replace(demand, ppm_day=demand.ppm_day * share, u95=demand.u95 * share)


def _has_cover(known: Known) -> bool:
    return known.pool.known("cover").get("what") in ("bubble", "automatic", "solid")


def _feed(known: Known, days: int) -> _Plan:
    """What feeds it while nobody is here."""
    traits = known.traits
    wanted = _demand(known)
    if traits.has_chlorinator:
        return _cell(known, wanted)
    if traits.chlorine_source == "tablets":
        tablets = tablets_for(wanted, known.pool.volume_l)
        count = max(1, round(tablets.a_week * days / 7))
        inch = "three-inch" if tablets.unit == "tablet_3in" else "one-inch"
        filled = Before(
            "Tablets into the feeder",
            f"{count} {inch}",
            f"{tablets.a_week:.0f} a week, one product and no other.",
        )
        text = "A feeder holds what it holds: where these do not fit, somebody tops it up."
        return _Plan(wanted.ppm_day, (text,), (filled,))
    text = f"Nothing feeds it: somebody has to pour, about {wanted.ppm_day:.1f} ppm a day."
    return _Plan(0.0, (text,))


def _cell(known: Known, wanted: Demand) -> _Plan:
    held, pool = known.pool.known("chlorinator"), known.pool
    if not known.traits.cell_feeds(known.present.water.salt_ppm, known.temp_c):
        return _Plan(0.0, ("The cell makes nothing now (salt or cold): somebody has to pour.",))
    if held.get("output") is None:
        return _Plan(wanted.ppm_day, ("Cell as it runs; its rated output is not known, so this is a guess.",))
    told = advise(wanted.ppm_day, float(held["output"]), known.cell_hours, pool.volume_l)
    made = cell_ppm_day(float(held["output"]), told.percent, told.hours, pool.volume_l)
    return _Plan(made, (f"Cell at {told.percent:g} % for {told.hours:g} h a day.",))


def _pump(known: Known) -> str:
    run_by = known.pool.known("pump").get("run_by")
    by = {"timer": "timer, its trippers tight", "automation": "controller at automatic"}.get(
        str(run_by), "switch"
    )
    return f"Pump by its {by}: watch it start and stop once."


def _doses(context: Context, known: Known, hold_days: int) -> tuple[list[Before], float | None]:
    """The plan's own doses for today on the newest test, a test first where that is old; and the pH they
    leave. hold_days: that chlorine is to last where nothing feeds it.
    """
    read = _fresh_readings(context, known)
    if read is None:
        why = "Nothing is poured on an old reading, or on one that a dose came after: the Bench works it out."
        return [Before("Test the water", "", why)], None
    terms = Terms(hold_days=hold_days, closed_pool=hold_days > 0)
    ready = queries.at_hand(context.session, context.account.id, context.now)
    request = plan_request(context, known.pool, read, ({}, ready), terms)
    plan = show_plan(make_plan(request), request)
    found = [
        Before(step.title, step.amount.text if step.amount else "", step.how)
        for step in plan.steps
        if step.kind == "add"
    ]
    if hold_days:
        why = "Chlorine stands over what one swims in."
        found.append(Before("The pool is closed until it is read", "", why))
    moved = [slot.after for step in plan.steps for slot in step.slots if slot.measure == "ph"]
    found = found or [Before("Nothing to pour", "", "By the last test the water is as it should be.")]
    return found, next((after for after in reversed(moved) if after is not None), None)


def _fresh_readings(context: Context, known: Known) -> list[Reading] | None:
    """What the newest test read, where it is fresh, reads chlorine and pH, and nothing went in since."""
    test = queries.latest_event(context.session, known.pool.id, "water_test")
    if test is None or context.now - test.at > _FRESH:
        return None
    read = [row.reading for row in test.readings]
    whole = {"fc", "ph"} <= {r.measure for r in read}
    return read if whole and not queries.chlorine_poured(context.session, known.pool.id, test.at) else None


def _always(known: Known) -> list[Before]:
    lines = [
        Before("Clean it: skim, brush, baskets, filter by its gauge", "", "What lies in it eats chlorine."),
        Before(
            "Level at the upper end", "", "Nobody fills it meanwhile; below the skimmer the pump runs dry."
        ),
    ]
    if _has_cover(known):
        lines.append(
            Before("Cover on, once chlorine is in its band", "", "Fully on: a cover part-on drowns.")
        )
    return lines


def _fc_slot(known: Known, leave: float, back: Return) -> SlotView:
    band = known.band("fc")
    top = max(12.0, back.high, leave)
    low = known.present.water.cya_ppm
    spread = max(back.fc_ppm - back.low, back.high - back.fc_ppm)
    return SlotView(
        "fc", "Free chlorine", f"{leave:.1f} → {back.fc_ppm:.1f} ppm", 0.0, top,
        max(band.low or 0.0, health_minimum_ppm(low)), band.high, leave, back.fc_ppm, spread, band.reason_id,
    )  # fmt: skip


def _ph_slot(context: Context, known: Known, days: int, leaving: float | None) -> SlotView | None:
    """pH on leaving, once what is poured has mixed, and on the day of return: it goes by itself as the
    estimate that knows it now has it go; sooner after acid, which is not reckoned with.
    """
    now = known.estimate("ph")
    then = present_of(context.session, known.pool, context.now, timedelta(days=days)).measures.get("ph")
    if now is None or then is None:
        return None
    band, u95 = known.band("ph"), min(0.6, then.sigma * SIGMAS_95)
    leave = now.value if leaving is None else leaving
    back = leave + then.value - now.value
    return SlotView(
        "ph", "pH", f"{leave:.1f} → {back:.1f}", *_PH_SCALE, band.low, band.high, leave, back, u95,
        band.reason_id,
    )  # fmt: skip


def _sentence(known: Known, back: Return, days: int, minimum: float) -> tuple[str, str]:
    away = f"{days} day{'s' if days > 1 else ''} away"
    if back.gone_days is not None and back.fc_ppm < minimum:
        on = _day(known.here.date() + timedelta(days=int(back.gone_days)))
        return f"{away}: chlorine falls under its minimum about {on}. Somebody has to pour.", "act"
    if back.low < minimum:
        return f"{away}: chlorine should hold, but may not. Somebody looks in.", "watch"
    return f"{away}: chlorine is expected to hold.", "fine"


def _unsure(known: Known) -> list[str]:
    lines = []
    if known.demand.days is None:
        lines.append("What a day takes here is the season's usual: the log does not tell it yet.")
    fc = known.estimate("fc")
    if fc is None:
        lines.append("Chlorine was never read here.")
    if known.temp_c is None:
        lines.append("The water's temperature is not known; warmer water uses more.")
    return lines


def _note(known: Known, returns: date, back: Return) -> tuple[str, ...]:
    """One page for the person who looks in. They pour nothing that they were not shown."""
    colour = "Clear, floor in sight, no green on the steps."
    lines = [
        "Jets pushing at the hours it runs. Weak or off: basket first, then call.",
        "Level half to two thirds up the skimmer's mouth. Low: the hose, and stay beside it.",
        colour,
        "Skimmer basket: look before you reach in; pump on.",
        "Gate shut and latched each time; nobody swims.",
        "Pour nothing you were not shown. Green, a smell, a light, a leak: call.",
    ]
    if known.traits.has_chlorinator:
        lines.insert(4, "The chlorinator's lights: write down which one is on.")
    if known.traits.chlorine_source == "tablets":
        lines.insert(4, "Tablets: only those that stand ready, pump off, standing upwind.")
    return (*lines, f"We are back on {_day(returns)}.")


def _day(day: date) -> str:
    return f"{day:%a} {day.day} {day:%b}"
