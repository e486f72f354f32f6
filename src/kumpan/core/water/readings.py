"""Readings as people type them: checked, canonical, and what free and total chlorine say together."""

from collections.abc import Sequence
from dataclasses import dataclass

from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.units import c_to_f, f_to_c, parse_number
from kumpan.core.water.measures import MEASURES, Measure
from kumpan.core.water.methods import METHODS


@dataclass(frozen=True)
class Reading:
    """One reading as typed. text and unit stay as typed; value is canonical (ppm, pH, Celsius)."""

    measure: str
    value: float
    text: str
    unit: str
    method: str
    drop_count: int | None = None

    @property
    def u95(self) -> float:
        """Expanded uncertainty (95 %) in the canonical unit; 0 where the method states none."""
        return METHODS[self.method].u95(self.measure, self.value)


def parse_reading(
    measure_id: str,
    text: str,
    unit: str,
    method_id: str,
    drop_count: int | None = None,
) -> Reading:
    """Check one typed reading. Raises InvalidInput at ``readings.{measure_id}``.

    unit: the measure's own (``ppm``, ``""``), or ``°F``/``°C`` for temperature. drop_count: drops counted, of
    a method that titrates this measure; the value then is theirs, whatever the text says.

    >>> parse_reading("ph", "7,4", "", "drops").value
    7.4
    """
    field = f"readings.{measure_id}"
    measure = MEASURES.get(measure_id)
    if measure is None:
        raise InvalidInput(FieldProblem(field, "unknown_measure", "Kumpan does not know this measure."))
    if method_id not in METHODS:
        raise InvalidInput(FieldProblem(field, "unknown_method", "Choose how this was read."))
    allowed = ("°F", "°C") if measure_id == "temp" else (measure.unit,)
    if unit not in allowed:
        raise InvalidInput(
            FieldProblem(field, "unknown_unit", f"{measure.label} is read in {' or '.join(allowed)}.")
        )
    typed = (
        parse_number(text, field) if drop_count is None else _counted(measure, method_id, drop_count, field)
    )
    value = f_to_c(typed) if unit == "°F" else typed
    if not measure.least <= value <= measure.most:
        raise InvalidInput(FieldProblem(field, "out_of_range", _range_message(measure, typed, unit)))
    if METHODS[method_id].strict and measure_id not in METHODS[method_id].reads:
        message = f"A {METHODS[method_id].label.lower()} does not read {measure.name}."
        raise InvalidInput(FieldProblem(field, "method_cannot", message))
    return Reading(measure_id, value, text.strip(), unit, method_id, drop_count)


def _counted(measure: Measure, method_id: str, drops: int, field: str) -> float:
    worth = METHODS[method_id].reads.get(measure.id)
    if worth is None or worth.per_drop is None:
        text = f"{METHODS[method_id].label} does not count drops for {measure.name}."
        raise InvalidInput(FieldProblem(field, "no_drops", text))
    return drops * worth.per_drop


def _range_message(measure: Measure, typed: float, unit: str) -> str:
    if measure.id == "temp":
        low, high = (
            (measure.least, measure.most) if unit == "°C" else (c_to_f(measure.least), c_to_f(measure.most))
        )
        return f"Pool water is between {low:g} and {high:g} {unit}. Is the unit right?"
    message = f"{measure.label} reads {measure.least:g} to {measure.most:,g}."
    for shift in (10, 100):
        if measure.id == "ph" and 6 <= typed / shift <= 9:
            return f"{message} Did you mean {typed / shift:g}?"
    return message


def combine_chlorine(readings: list[Reading], path: str = "readings") -> list[Reading]:
    """Check total against free chlorine. Raises InvalidInput where total is below free.

    Common practice: total below free makes no sense and is re-tested before anything is poured.
    """
    by_id = {r.measure: r for r in readings}
    if len(by_id) != len(readings):
        raise InvalidInput(FieldProblem(path, "duplicate_measure", "A measure can be read once in a test."))
    if "tc" in by_id and "cc" in by_id:
        raise InvalidInput(
            FieldProblem(f"{path}.cc", "both_tc_and_cc", "Type total or combined chlorine, not both.")
        )
    if "tc" in by_id and "fc" in by_id and by_id["tc"].value < by_id["fc"].value - 1e-9:
        raise InvalidInput(
            FieldProblem(
                f"{path}.tc",
                "total_below_free",
                "Total chlorine cannot be below free chlorine. Test both again before adding anything.",
            )
        )
    return readings


def combined_chlorine_ppm(readings: list[Reading]) -> float | None:
    """CC as read, or total less free; None when neither says.

    ppm as Cl2; by definition total is free and combined.
    """
    by_id = {r.measure: r.value for r in readings}
    if "cc" in by_id:
        return by_id["cc"]
    if "tc" in by_id and "fc" in by_id:
        return max(0.0, by_id["tc"] - by_id["fc"])
    return None


# Measure, text, unit, method and drops counted, as typed.
TypedReadings = Sequence[tuple[str, str, str, str, int | None]]


def read_typed(typed: TypedReadings) -> tuple[list[Reading], list[FieldProblem]]:
    """Typed readings (measure, text, unit, method, drops) parsed; empty ones are skipped, wrong ones told."""
    readings: list[Reading] = []
    problems: list[FieldProblem] = []
    for measure, text, unit, method, drops in typed:
        if not text.strip():
            continue
        try:
            readings.append(parse_reading(measure, text, unit, method, drops))
        except InvalidInput as error:
            problems += error.fields
    try:
        combine_chlorine(readings)
    except InvalidInput as error:
        problems += error.fields
        bad = {p.field.rpartition(".")[2] for p in error.fields}
        readings = [r for r in readings if r.measure not in bad]
    return readings, problems


def read_test(typed: TypedReadings) -> list[Reading]:
    """A test's readings. Raises InvalidInput where one is wrong, or there is none."""
    readings, problems = read_typed(typed)
    if problems:
        raise InvalidInput(*problems)
    if not readings:
        raise InvalidInput(FieldProblem("readings", "empty", "Type at least one reading."))
    return readings
