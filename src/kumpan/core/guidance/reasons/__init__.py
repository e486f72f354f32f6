"""Why: every rule's plain reason with its school and source. Data, linked from each number."""

from kumpan.core.guidance.reasons import (
    balance,
    care,
    chlorine,
    clearing,
    dosing,
    equipment,
    machines,
    safety,
    seasons,
)
from kumpan.core.guidance.reasons.reason import Reason

_PARTS = (chlorine, clearing, balance, dosing, safety, equipment, care, machines, seasons)
REASONS: dict[str, Reason] = {r.id: r for part in _PARTS for r in part.REASONS}

__all__ = ["REASONS", "Reason"]
