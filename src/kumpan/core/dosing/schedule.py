"""When each addition may happen: one product at a time, and a wait holds back only what it must."""

from dataclasses import dataclass, replace

from kumpan.core.dosing.sizing import AERATE, Need

DAY_MIN = 24 * 60
# Nobody pours at night: what need not be today waits for the morning (our own rule). Local clock minutes.
QUIET_FROM, QUIET_TO = 22 * 60, 8 * 60
# How long raising pH by air takes is particular to the pool; a day is our placeholder for the row.
AERATE_MIN = DAY_MIN

_ORDER = {
    "raise_ta": 1,
    "lower_ph": 2,
    "raise_ph": 2,
    AERATE: 2,
    "raise_cya": 3,
    "raise_fc": 4,
    "lower_fc": 4,
    "raise_ch": 5,
    "raise_salt": 6,
    "lower_ta": 7,
}
_PH_ROLES = ("lower_ph", "raise_ph", AERATE, "lower_ta")


@dataclass(frozen=True)
class Portion:
    """One portion of one need, placed in time. late: after stabilizer has dissolved, a week after its last
    portion.
    """

    need: Need
    amount: float
    part: tuple[int, int]
    start_min: int = 0
    late: bool = False


def separation_min(earlier: Need, later: Need) -> int:
    """Minutes from one addition until another may follow.

    The same product waits for its own re-test; different ones for mixing, and longer where their groups
    must be kept apart (product data). Aeration holds back only other pH work.
    """
    a, b = earlier.product, later.product
    if a is None or b is None:
        if a is None and b is None:
            return AERATE_MIN
        if a is None:
            return AERATE_MIN if later.role in _PH_ROLES else 0
        return a.mix_min
    if a.id == b.id:
        return a.again_min
    return max(a.mix_min, a.apart.get(b.group, 0), b.apart.get(a.group, 0))


@dataclass(frozen=True)
class Stay:
    """When somebody is there to pour. local_min: minutes since local midnight, now. stay_min: how long from
    now, None for all along.

    next_min: when they come again. Nobody pours at night either, unless it is urgent.
    """

    local_min: int
    stay_min: int | None = None
    next_min: int = 7 * DAY_MIN

    def is_next(self, start: int) -> bool:
        """Whether a start lies on the next visit."""
        return self.stay_min is not None and start > self.stay_min

    def awake(self, start: int, urgent: bool = False) -> int:
        """The first minute from ``start`` on at which somebody pours or tests."""
        if self.stay_min is not None and start <= self.stay_min:
            return start
        if self.is_next(start) and start < self.next_min:
            start = self.next_min
        clock = (self.local_min + start) % DAY_MIN
        if start > 0 and not urgent and (clock >= QUIET_FROM or clock < QUIET_TO):
            return start + (QUIET_TO - clock) % DAY_MIN
        return start


def place(portions: list[Portion], fc_urgent: bool, stay: Stay) -> list[Portion]:
    """Start times for portions in the trade's order. Pure greedy: earliest possible first, ties by order.

    fc_urgent: free chlorine is under its minimum: chlorine then goes first (after one acid portion at
    most, which makes it work, if the visit is long enough for both), whatever the hour.
    """
    both = stay.stay_min is None or stay.stay_min >= 30  # acid and chlorine are kept half an hour apart

    def rank(portion: Portion) -> tuple[int, int]:
        order = _ORDER[portion.need.role]
        if fc_urgent and portion.need.role == "raise_fc":
            order = 0
        if fc_urgent and both and portion.need.role == "lower_ph" and portion.part[0] == 1 and not has_ta:
            order = -1
        return order, portion.part[0]

    has_ta = any(t.need.role == "raise_ta" for t in portions)
    waiting = sorted(portions, key=rank)
    placed: list[Portion] = []
    while waiting:
        best: tuple[int, int, Portion] | None = None
        for index, portion in enumerate(waiting):
            start = _earliest(portion, placed, waiting, fc_urgent, stay)
            if start is not None and (best is None or start < best[0]):
                best = (start, index, portion)
        assert best is not None
        start, index, portion = best
        waiting.pop(index)
        placed.append(replace(portion, start_min=start))
    return placed


def _earliest(
    portion: Portion, placed: list[Portion], waiting: list[Portion], fc_urgent: bool, stay: Stay
) -> int | None:
    urgent = fc_urgent and portion.need.role == "raise_fc"
    for other in waiting:
        same = other.need.role == portion.need.role and other.part[0] < portion.part[0]
        ta_first = portion.need.role in _PH_ROLES and other.need.role == "raise_ta"
        last = (
            portion.need.role == "lower_ta" and other.need.role != "lower_ta"
        )  # sized on the water all else leaves
        acid_helps_chlorine = (
            fc_urgent
            and portion.need.role == "lower_ph"
            and portion.part[0] == 1
            and other.need.role == "raise_fc"
        )
        dissolves = portion.late and other.need.role == "raise_cya"
        if (same or ta_first or last or dissolves) and not (acid_helps_chlorine and not ta_first):
            return None
    start = 0
    for done in placed:
        apart = separation_min(done.need, portion.need)
        if portion.late and done.need.role == "raise_cya":
            apart = max(apart, 7 * DAY_MIN)
        start = max(start, done.start_min + apart)
    return stay.awake(start, urgent)
