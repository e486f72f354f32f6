"""What goes into a plan and what comes out: plain data, no rules."""

from dataclasses import dataclass, field
from datetime import datetime
from typing import Literal

from kumpan.core.amounts import Amount, System
from kumpan.core.guidance.targets import Band
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.implausible import Read
from kumpan.core.water.state import WaterState, value_of

# Stored with every accepted plan; changes when a rule, band or product changes what is asked.
RULE_VERSION = "2026-11-25.1"

Level = Literal["fine", "watch", "act", "none"]


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

    now: aware, in the pool's own zone; choices: role -> product; u95: 95 % uncertainty of the
    readings, none being exact; age_days: for measures carried from the log, how old; methods: how each was
    read; expected: what the log made of a measure before it was read again, with its 95 % error. at_hand:
    what stands ready, None where nobody said. strength_95: how far off a product's strength may be. seen:
    conditions that close a pool (``SEEN``). stay_min: how long the person is there, None for all along;
    next_visit_min: when they come again.
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
    next_visit_min: int = 7 * 24 * 60
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
    """One measure judged: a word, a level, its band and a sentence."""

    measure: str
    value: float
    level: Level
    word: str
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

    kind: add (product, amount), aerate (to_ph), dilute (fraction), wait (for high chlorine) or retest
    (measures). water: as the step leaves it, none of the plan's chlorine spent; spent: once all of it is.
    None for a re-test. rest: of a re-test, what is likely still missing after it, in words. warnings: what
    the stock lacks. next_visit: not on this visit.
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
    portion: tuple[int, int] = (1, 1)
    wait_min: int = 0
    warnings: tuple[str, ...] = ()
    moves: tuple[Move, ...] = ()
    measures: tuple[str, ...] = ()
    to_ph: float | None = None
    fraction: float | None = None
    water: WaterState | None = None
    spent: WaterState | None = None
    rest: str = ""
    cost_minor: int | None = None
    alternatives: tuple[Alternative, ...] = ()
    next_visit: bool = False


@dataclass(frozen=True)
class Swim:
    """Whether people may swim. from_min: minutes from now it opens, if the plan opens it, with FC from
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
    """Diagnosis, steps and their outcome: the water ``before``, ``now`` once all is in, and once its chlorine
    is ``spent``.

    refused: role -> why the product chosen for it is not used. remainder: role -> how much (g or mL) waits
    for the re-test, for doubt.
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
    remainder: dict[str, float] = field(default_factory=dict)
    rule_version: str = RULE_VERSION


@dataclass(frozen=True)
class Asked:
    """What the person adds to the readings: another school to look at, what they see, how long they stay
    (minutes).
    """

    school: str | None = None
    seen: frozenset[str] = frozenset()
    stay_min: int | None = None
