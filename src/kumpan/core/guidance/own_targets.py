"""A person's own targets: what may be one, and stored ones as the core's."""

from collections.abc import Mapping

from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.pool.traits import Override
from kumpan.core.water.measures import MEASURES

# Targets beyond these are refused: no plan may steer there (common practice; the published limits
# of the check values).
_OWN_WITHIN = {m.id: m.own for m in MEASURES.values() if m.own}


def checked_override(
    measure: str, low: float | None, aim: float | None, high: float | None, why: str, field: str
) -> Override:
    """A person's own target, if it can be one. Raises InvalidInput at ``{field}.low``, ``.aim`` or ``.high``.

    An aim left out is the middle. The aim lies between minimum and maximum, and nothing outside what any
    school would hold.
    """
    if measure not in _OWN_WITHIN:
        raise InvalidInput(FieldProblem(field, "unknown_measure", "This measure has no target to set."))
    label, (least, most) = MEASURES[measure].label, _OWN_WITHIN[measure]
    problems = [
        FieldProblem(
            f"{field}.{name}",
            "out_of_range",
            f"A target for {_lower(label)} lies between {least:g} and {most:g}.",
        )
        for name, value in (("low", low), ("aim", aim), ("high", high))
        if value is not None and not least <= value <= most
    ]
    if low is None and high is None and aim is None:
        problems.append(FieldProblem(f"{field}.low", "empty", "Type a minimum, a maximum or both."))
    if measure in ("ph", "ta") and (low is None or high is None):
        missing = "low" if low is None else "high"
        problems.append(
            FieldProblem(f"{field}.{missing}", "empty", f"{label} needs both a minimum and a maximum.")
        )
    if measure == "fc" and low is None:
        problems.append(
            FieldProblem(f"{field}.low", "empty", "Free chlorine needs a minimum: under it nobody swims.")
        )
    if low is not None and high is not None and low >= high:
        problems.append(
            FieldProblem(
                f"{field}.high",
                "below_minimum",
                f"The maximum ({high:g}) must be over the minimum ({low:g}).",
            )
        )
    elif aim is not None and ((low is not None and aim < low) or (high is not None and aim > high)):
        problems.append(
            FieldProblem(f"{field}.aim", "outside_band", "The aim lies between minimum and maximum.")
        )
    if problems:
        raise InvalidInput(*problems)
    if aim is None:
        aim = (low + high) / 2 if low is not None and high is not None else low if low is not None else None
    return Override(low, aim, high, why.strip())


def _lower(label: str) -> str:
    return label if label == "pH" else label.lower()


def overrides_of(stored: Mapping[str, Mapping[str, object]]) -> tuple[tuple[str, Override], ...]:
    """Stored targets as the core's, in a fixed order."""
    return tuple((m, Override(**stored[m])) for m in sorted(stored))  # type: ignore[arg-type]
