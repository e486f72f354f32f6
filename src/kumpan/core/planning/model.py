"""What goes into a plan and what comes out: plain data, no rules."""

from dataclasses import dataclass, field
from datetime import datetime
from typing import Literal

from kumpan.core.amounts import Amount, System
from kumpan.core.guidance.bands import Band, PoolTraits
from kumpan.core.water.state import WaterState

# Stored with every accepted plan; changes when a rule, band or product changes what is asked.
RULE_VERSION = "2026-11-24.3"

Level = Literal["fine", "watch", "act", "none"]
# Measures of WaterState by the id used in tests and targets.
FIELD_OF = {
    "fc": "fc_ppm", "cc": "cc_ppm", "ph": "ph", "ta": "ta_ppm", "ch": "ch_ppm", "cya": "cya_ppm",
    "salt": "salt_ppm", "temp": "temp_c", "borate": "borate_ppm",
}  # fmt: skip


def value_of(water: WaterState, measure: str) -> float | None:
    """The value of a measure by its id, None where unknown."""
    value: float | None = getattr(water, FIELD_OF[measure])
    return value


@dataclass(frozen=True)
class Choice:
    """The product chosen for a role. strength: None for the usual one."""

    product_id: str
    strength: float | None = None


@dataclass(frozen=True)
class PlanRequest:
    """Everything a plan follows from.

    now: aware, in the pool's own zone; choices: role -> product; plus_minus: 95 % uncertainty of the
    readings; age_days: for measures carried from the log, how old.
    """

    traits: PoolTraits
    water: WaterState
    now: datetime
    choices: dict[str, Choice] = field(default_factory=dict)
    plus_minus: dict[str, float] = field(default_factory=dict)
    age_days: dict[str, float] = field(default_factory=dict)
    system: System = "us"


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


@dataclass(frozen=True)
class Move:
    """A measure a step moves, before and after it."""

    measure: str
    before: float
    after: float


@dataclass(frozen=True)
class Step:
    """One row of the plan. start_min: minutes from now.

    kind: add (product, amount), aerate (to_ph), dilute (fraction) or retest (measures).
    water: as the step leaves it, none of the plan's chlorine spent; spent: once all of it is. None for a re-test.
    """

    key: str
    kind: Literal["add", "aerate", "dilute", "retest"]
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


@dataclass(frozen=True)
class Swim:
    """Whether people may swim. from_min: minutes from now it opens, if the plan opens it, with FC at least least_fc_ppm."""

    allowed: bool | None
    from_min: int | None
    sentence: str
    reasons: tuple[str, ...]
    least_fc_ppm: float | None = None


@dataclass(frozen=True)
class Plan:
    """Diagnosis, steps and their outcome: the water ``before``, ``now`` once all is in, and once its chlorine is ``spent``."""

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
    rule_version: str = RULE_VERSION
