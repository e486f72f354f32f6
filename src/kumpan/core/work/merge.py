"""Several sheets of a pool in one order: what may be done now, what must wait, and why.

This is the piece that keeps sheets from hurting someone together: no step has the pump on while another needs
it off, nothing is poured into a stopped pump, and acid and chlorine keep their wait whatever sheet, or hand
beside any sheet, they come from.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta

from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.work.sheet import Became, Claim, Pour, Progress, Start


@dataclass(frozen=True)
class UnderWay:
    """A sheet and how it stands. name: what the person calls it."""

    start: Start
    progress: Progress
    name: str


@dataclass(frozen=True)
class Poured:
    """A product that went in. sheet_id: the sheet whose step it was, empty for one by hand."""

    product_id: str
    at: datetime
    sheet_id: str = ""


@dataclass(frozen=True)
class Line:
    """A step in the one order. held: why it waits for something other than its own sheet, empty where it does
    not; until: when that ends, where it is known. ahead: it may be done, but is not its sheet's next.
    """

    sheet: UnderWay
    became: Became
    rank: int
    held: str = ""
    until: datetime | None = None
    ahead: bool = False

    @property
    def free(self) -> bool:
        """Whether it can be done now."""
        return not self.held and self.became.state in ("open", "running")


# Rank: harm or a running timer first, then the sheet that holds the water, then the rest (our own).
RUNNING, HOLDS_WATER, OPEN, TO_COME = range(4)
_EXCLUDES: dict[Claim, Claim] = {"pump_on": "pump_off", "pump_off": "pump_on"}


def merge(sheets: list[UnderWay], poured: list[Poured], now: datetime) -> list[Line]:
    """Every step at hand, and of each sheet without one the next to come, in one order; and those that may be
    done before their day.

    What runs is a fact, and first. A sheet that has the pump off, or work to do before a dose, holds the
    water, else one that holds it while it lasts: others' pours wait. Among sheets as they stand the earlier
    begun goes first.
    """
    alive = [s for s in sheets if s.progress.state == "under_way"]
    stops = [s for s in sheets if (_pump_work(s, now) if s in alive else _left_stopped(s, now))]
    holding = stops or [s for s in sheets if s.start.holds_water]
    holder = min(holding, default=None, key=lambda s: (s.start.at, s.start.id))
    steps = [(sheet, became) for sheet in alive for became in _told(sheet.progress)]
    steps.sort(key=lambda s: (s[1].state != "running", s[0] is not holder, s[0].start.at, s[0].start.id))
    taken: list[Line] = []
    for sheet, became in steps:
        held, until = "", None
        if became.may_be_done:
            held, until = _clash(sheet, became, taken, alive) or _held(sheet, became, holder, poured, now)
        taken.append(Line(sheet, became, _rank(sheet, became, holder), held, until, _ahead(sheet, became)))
    return sorted(
        taken, key=lambda line: (line.rank, bool(line.held), line.became.due_at, line.sheet.start.id)
    )


def _told(progress: Progress) -> tuple[Became, ...]:
    """A sheet's steps that have a place in the order."""
    ready = tuple(b for b in progress.steps if b.ready)
    at_hand = progress.at_hand or tuple(b for b in (progress.next,) if b is not None and not b.ready)
    return at_hand + ready


def _ahead(sheet: UnderWay, became: Became) -> bool:
    return became.ready and became is not sheet.progress.next


def _rank(sheet: UnderWay, became: Became, holder: UnderWay | None) -> int:
    if became.state == "running":
        return RUNNING
    if became.state == "later":
        return TO_COME
    return HOLDS_WATER if sheet is holder else OPEN


def _pump_work(sheet: UnderWay, now: datetime) -> bool:
    """Whether the pump is, or is still to be, stopped for this sheet; what is planned for a later day is not
    yet. Filter, baskets and level come before any dose (common practice): what is poured into a stopped pump
    lies on the floor.
    """
    return any(
        "pump_off" in b.step.claims
        and b.closed_at is None
        and (b.step.planned is None or b.step.planned <= now)
        for b in sheet.progress.steps
    )


def _left_stopped(sheet: UnderWay, now: datetime) -> bool:
    """Whether a sheet laid aside has stopped the pump and not started it again."""
    stopped = any("pump_off" in b.step.claims and b.state == "done" for b in sheet.progress.steps)
    return sheet.progress.state == "paused" and stopped and _pump_work(sheet, now)


Held = tuple[str, datetime | None]


def _cell_away(sheet: UnderWay, became: Became, alive: list[UnderWay]) -> Held | None:
    """Whether a cell that is to go back is still at hand elsewhere: in its bath, say."""
    if "cell_in" not in became.step.claims:
        return None
    for other in alive:
        if other is not sheet and any("cell_out" in b.step.claims for b in other.progress.at_hand):
            return f"{other.name} first: the cell is not done.", None
    return None


def _clash(sheet: UnderWay, became: Became, taken: list[Line], alive: list[UnderWay]) -> Held | None:
    """What of another sheet may be done now and cannot go beside this step."""
    away = _cell_away(sheet, became, alive)
    if away is not None:
        return away
    for other in taken:
        if not other.free or other.sheet is sheet:
            continue
        theirs = other.became.step
        if any(_EXCLUDES.get(claim) in theirs.claims for claim in became.step.claims):
            needs = "off" if "pump_off" in theirs.claims else "on"
            return f"{other.sheet.name} has the pump {needs}.", other.became.until
        if isinstance(became.step.act, Pour) and isinstance(theirs.act, Pour):
            return f"One product at a time: {theirs.words.title.lower()} first.", None
    return None


def _held(
    sheet: UnderWay, became: Became, holder: UnderWay | None, poured: list[Poured], now: datetime
) -> Held:
    """Why an open step waits for what another sheet is still to do, or for what went in."""
    act = became.step.act
    if isinstance(act, Pour):
        if holder is not None and holder is not sheet:
            if _pump_work(holder, now):
                return f"{holder.name} first: a dose into a stopped pump lies on the floor.", None
            return f"{holder.name} has the water: nothing else goes in until it is over.", None
        return _kept_apart(act, [p for p in poured if p.sheet_id != sheet.start.id], now)
    if (
        "water" in became.step.claims
        and holder is not None
        and holder is not sheet
        and holder.start.holds_water
    ):
        return f"{holder.name} has the water: this waits until it is over.", None
    mixing = _mixing(poured, now) if "pump_off" in became.step.claims else None
    if mixing is not None:
        name = PRODUCTS[mixing.product_id].short
        return f"{name[:1].upper()}{name[1:]} is still mixing: the pump stays on.", _mixed_at(mixing)
    return "", None


def _kept_apart(act: Pour, poured: list[Poured], now: datetime) -> Held:
    """Whether something that went in keeps this product waiting, from whatever sheet it came."""
    waits = [(p.at + timedelta(minutes=apart_min(p.product_id, act.product_id)), p) for p in poured]
    until, by = max(waits, default=(now, None), key=lambda wait: wait[0])
    if by is None or until <= now:
        return "", None
    name = PRODUCTS[by.product_id].short
    return f"{name[:1].upper()}{name[1:]} went in a little while ago: keep them apart.", until


def apart_min(earlier_id: str, later_id: str) -> int:
    """Minutes from one product until another may follow: mixing, and longer where they must be kept apart.

    Common practice (the catalogue's rows).
    """
    one, other = PRODUCTS[earlier_id], PRODUCTS[later_id]
    return max(one.apart.get(other.group, 0), other.apart.get(one.group, 0), one.mix_min)


def _mixed_at(one: Poured) -> datetime:
    return one.at + timedelta(minutes=PRODUCTS[one.product_id].mix_min)


def _mixing(poured: list[Poured], now: datetime) -> Poured | None:
    """The product that the pump still mixes, the last to be done with it; None where nothing is."""
    still = [p for p in poured if _mixed_at(p) > now]
    return max(still, default=None, key=_mixed_at)


def lines_shown(lines: list[Line], most: int = 7) -> tuple[list[Line], int]:
    """The first lines of the order, and how many more there are."""
    told = [line for line in lines if not line.ahead]
    return told[:most], max(0, len(told) - most)
