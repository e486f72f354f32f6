"""A person's own targets: what may be one, and stored ones as the core's."""

from collections.abc import Mapping

from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.pool.traits import Override
from kumpan.core.water.measures import MEASURES

# Targets beyond these are refused: no plan may steer there (common practice; the published limits
# of the check values).
_OWN_WITHIN = {m.id: m.own for m in MEASURES.values() if m.own}


# Minimum, aim and maximum, in the measure's canonical unit; None where left out.
Figures = tuple[float | None, float | None, float | None]


def checked_override(measure: str, figures: Figures, why: str, field: str) -> Override:
    """A person's own target, if it can be one. Raises InvalidInput at ``{field}.low``, ``.aim`` or ``.high``.

    An aim left out is the middle. The aim lies between minimum and maximum, and nothing outside what any
    school would hold.
    """
    if measure not in _OWN_WITHIN:
        raise InvalidInput(FieldProblem(field, "unknown_measure", "This measure has no target to set."))
    (low, aim, high), (least, most) = figures, _OWN_WITHIN[measure]
    problems = [
        (name, "out_of_range", f"A target for {MEASURES[measure].name} lies between {least:g} and {most:g}.")
        for name, value in (("low", low), ("aim", aim), ("high", high))
        if value is not None and not least <= value <= most
    ]
    problems += _missing(measure, figures) + _wrong_way_round(figures)
    if problems:
        raise InvalidInput(*(FieldProblem(f"{field}.{name}", code, text) for name, code, text in problems))
    if aim is None:
        aim = low if low is None or high is None else (low + high) / 2
    return Override(low, aim, high, why.strip())


def _missing(measure: str, figures: Figures) -> list[tuple[str, str, str]]:
    """What a target of this measure cannot do without."""
    (low, aim, high), problems = figures, []
    if low is None and high is None and aim is None:
        problems.append(("low", "empty", "Type a minimum, a maximum or both."))
    if measure in ("ph", "ta") and (low is None or high is None):
        text = f"{MEASURES[measure].label} needs both a minimum and a maximum."
        problems.append(("low" if low is None else "high", "empty", text))
    if measure == "fc" and low is None:
        problems.append(("low", "empty", "Free chlorine needs a minimum: under it nobody swims."))
    return problems


def _wrong_way_round(figures: Figures) -> list[tuple[str, str, str]]:
    low, aim, high = figures
    if low is not None and high is not None and low >= high:
        return [("high", "below_minimum", f"The maximum ({high:g}) must be over the minimum ({low:g}).")]
    if aim is not None and ((low is not None and aim < low) or (high is not None and aim > high)):
        return [("aim", "outside_band", "The aim lies between minimum and maximum.")]
    return []


def overrides_of(stored: Mapping[str, Mapping[str, object]]) -> tuple[tuple[str, Override], ...]:
    """Stored targets as the core's, in a fixed order."""
    return tuple((m, Override(**stored[m])) for m in sorted(stored))  # type: ignore[arg-type]
