"""What goes into a plan and what comes out: plain data, no rules."""

from dataclasses import dataclass, field
from datetime import datetime
from typing import Literal

from kumpan.core.amounts import Amount, OwnMeasure, System
from kumpan.core.guidance.targets import Band
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.units import DAY_MIN
from kumpan.core.water.estimate.chlorine import Fit
from kumpan.core.water.implausible import Read
from kumpan.core.water.state import WaterState, value_of

# Stored with every accepted plan; changes when a rule, band or product changes what is asked.
RULE_VERSION = "2026-11-26.4"
# The first rules that plan one visit at a time: plans of earlier ones are looked at, not followed.
_FIRST_BY_VISIT = "2026-11-26.1"


def by_earlier_rules(rule_version: str) -> bool:
    """Whether a stored plan was worked out to its end, not visit by visit. Versions are dates."""
    return rule_version < _FIRST_BY_VISIT


Level = Literal["fine", "watch", "act", "none"]
# What a reading is called; its text on screen is the same.
Verdict = Literal["low", "fine", "high", "edge", "cannot tell", "no target"]


@dataclass(frozen=True)
class Choice:
    """The product chosen for a role. strength: None for the usual one."""

    product_id: str
    strength: float | None = None


@dataclass(frozen=True)
class AtHand:
    """A product that stands ready. stock and pack: g or mL, None where not said; price_minor: of one pack, in
    the minor unit.
    """

    product_id: str
    strength: float | None = None
    stock: float | None = None
    pack: float | None = None
    price_minor: int | None = None

    def cost_minor(self, amount: float) -> int | None:
        """What this much of it (g or mL) costs; None where the price is not known."""
        return (
            None
            if self.price_minor is None or not self.pack
            else round(self.price_minor * amount / self.pack)
        )


@dataclass(frozen=True)
class PlanRequest:
    """Everything a plan follows from.

    now: aware, in the pool's own zone; choices: role -> product; u95: 95 % uncertainty of the readings,
    none being exact; age_days: for measures carried from the log, how old; methods: how each was read;
    expected: what the log made of a measure before it was read again, with its 95 % error. at_hand: what
    stands ready, None where nobody said. strength_95: how far off a product's strength may be. seen: what
    is seen at the pool (``SEEN``). stay_min: how long a technician is there, None for an owner, who stays;
    visits_min: minutes from now at which they come again, ascending, the last of which begins the same
    rhythm anew. hold_days: days a chlorine dose is to last, 0 for today. closed_pool: nobody swims until a
    reading. drain_later: a drain that is due is put off. raise_calcium: calcium inside its band is raised
    to its aim, by wish. poured_h: hours since a product of each group last went in, for what must be kept
    apart from it. own_measures: what the person counts in. fit: what the log says of chlorine's demand.
    ph_rise_a_day: how far pH goes by itself, None before the log tells.
    trichlor_g_day: what a feeder was given a day, where the log tells. season_temp_c: what the water will
    be at in the coming season, where the log knows. sunset: today's at the pool.
    """

    traits: PoolTraits
    water: WaterState
    now: datetime
    choices: dict[str, Choice] = field(default_factory=dict)
    u95: dict[str, float] = field(default_factory=dict)
    age_days: dict[str, float] = field(default_factory=dict)
    system: System = "us"
    methods: dict[str, str] = field(default_factory=dict)
    tc_ppm: float | None = None
    expected: dict[str, tuple[float, float]] = field(default_factory=dict)
    at_hand: tuple[AtHand, ...] | None = None
    strength_95: float = 0.05
    seen: frozenset[str] = frozenset()
    stay_min: int | None = None
    visits_min: tuple[int, ...] = (7 * DAY_MIN,)
    hold_days: float = 0.0
    closed_pool: bool = False
    drain_later: bool = False
    raise_calcium: bool = False
    poured_h: dict[str, float] = field(default_factory=dict)
    own_measures: tuple[OwnMeasure, ...] = ()
    fit: Fit | None = None
    ph_rise_a_day: float | None = None
    trichlor_g_day: float | None = None
    season_temp_c: float | None = None
    sunset: datetime | None = None
    currency: str = "USD"

    @property
    def read(self) -> dict[str, Read]:
        """What was read, by measure, for judging the readings themselves."""
        values = {m: self.tc_ppm if m == "tc" else value_of(self.water, m) for m in self.methods}
        return {
            m: Read(value, self.methods[m], self.u95.get(m, 0.0))
            for m, value in values.items()
            if value is not None
        }


@dataclass(frozen=True)
class Finding:
    """One measure judged: its verdict, a level, its band and a sentence."""

    measure: str
    value: float
    level: Level
    verdict: Verdict
    band: Band | None
    sentence: str
    reason_id: str
    u95: float = 0.0


@dataclass(frozen=True)
class Alternative:
    """Another product for a step: how much of it does the same, and what else it does."""

    product_id: str
    strength: float | None
    amount: Amount
    side: str
    cost_minor: int | None
    at_hand: bool


@dataclass(frozen=True)
class Move:
    """A measure a step moves, before and after it."""

    measure: str
    before: float
    after: float


@dataclass(frozen=True)
class Step:
    """One row of the plan. start_min: minutes from now.

    kind: add (product, amount), aerate (to_ph), dilute (fraction exchanged), wait (for high chlorine) or
    retest (measures). water: as the step leaves it, none of the plan's chlorine spent; spent: once all of it
    is. None for a re-test. warnings: what the stock lacks.
    """

    key: str
    kind: Literal["add", "aerate", "dilute", "wait", "retest"]
    start_min: int
    title: str
    how: str
    caution: str
    sentence: str
    reason_id: str
    role: str = ""
    product_id: str | None = None
    strength: float | None = None
    amount: Amount | None = None
    wait_min: int = 0
    warnings: tuple[str, ...] = ()
    moves: tuple[Move, ...] = ()
    measures: tuple[str, ...] = ()
    to_ph: float | None = None
    fraction: float | None = None
    water: WaterState | None = None
    spent: WaterState | None = None
    cost_minor: int | None = None
    alternatives: tuple[Alternative, ...] = ()


@dataclass(frozen=True)
class Later:
    """What is likely to follow, and what decides it. Nothing to do now, and nothing to tick.

    measure: what it is about; test: the measures read first; at_min: minutes from now of that reading, at the
    earliest. least, most: of the product, None where it is no pour. nominal: g or mL if the readings are
    right.
    """

    measure: str
    role: str
    sentence: str
    test: tuple[str, ...]
    at_min: int
    product_id: str | None = None
    strength: float | None = None
    least: Amount | None = None
    most: Amount | None = None
    nominal: float = 0.0


@dataclass(frozen=True)
class Total:
    """What to have at hand for the whole way, now and later: at least and at most. missing: what the stock
    lacks of the most, in words."""

    product_id: str
    strength: float | None
    least: Amount
    most: Amount
    missing: str = ""


@dataclass(frozen=True)
class Swim:
    """Whether people may swim. from_min: minutes from now of the reading that may open it, with FC from
    least_fc_ppm to most_fc_ppm.
    """

    allowed: bool | None
    from_min: int | None
    sentence: str
    reasons: tuple[str, ...]
    least_fc_ppm: float | None = None
    most_fc_ppm: float | None = None


@dataclass(frozen=True)
class DosePlan:
    """Diagnosis, what to do now, and its outcome: the water ``before``, ``now`` once all is in, and once its
    chlorine is ``spent``.

    steps: until the next test that could change the rest. later: what is likely to follow. totals: what the
    whole way takes. calcium_wish_ppm: what calcium may be raised to by wish, None where
    nothing may or anything else comes first. refused: role ->
    why the product chosen for it is not used.
    """

    headline: str
    findings: tuple[Finding, ...]
    steps: tuple[Step, ...]
    left_alone: tuple[str, ...]
    needs_test: tuple[str, ...]
    swim: Swim
    before: WaterState
    now: WaterState
    spent: WaterState
    choices: dict[str, Choice]
    refused: dict[str, str] = field(default_factory=dict)
    later: tuple[Later, ...] = ()
    totals: tuple[Total, ...] = ()
    calcium_wish_ppm: float | None = None
    rule_version: str = RULE_VERSION


@dataclass(frozen=True)
class Terms:
    """What the person adds to the readings: another school to look at, what they see, how long they stay
    (minutes) and in how many days they come again (empty: weekly); the rest as in ``PlanRequest``.
    """

    school: str | None = None
    seen: frozenset[str] = frozenset()
    stay_min: int | None = None
    visits_days: tuple[float, ...] = ()
    hold_days: float = 0.0
    closed_pool: bool = False
    drain_later: bool = False
    raise_calcium: bool = False

    @property
    def visits_min(self) -> tuple[int, ...]:
        """The visits to come in minutes from now: weekly where nobody said."""
        return tuple(round(days * DAY_MIN) for days in self.visits_days or (7.0,))
