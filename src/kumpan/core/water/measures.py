"""What can be measured, in what limits, and what each test method's reading is worth."""

from dataclasses import dataclass

from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.units import c_to_f, f_to_c, parse_number
from kumpan.core.water.methods import METHODS


@dataclass(frozen=True)
class Measure:
    """One measure of pool water.

    least, most: what a test could ever show (canonical unit); outside is a typing slip. They are
    our own plausibility limits. carry_days: how long a reading from the log may stand in for a
    missing one; 0 is never. From the testing cadences of practice section 4 (common
    practice, no source): FC, CC and pH belong to today's test alone.
    """

    id: str
    label: str
    short: str
    unit: str
    decimals: int
    least: float
    most: float
    carry_days: int


MEASURES: dict[str, Measure] = {
    m.id: m
    for m in (
        Measure("fc", "Free chlorine", "FC", "ppm", 1, 0, 100, 0),
        Measure("cc", "Combined chlorine", "CC", "ppm", 1, 0, 50, 0),
        Measure("tc", "Total chlorine", "TC", "ppm", 1, 0, 100, 0),
        Measure("ph", "pH", "pH", "", 1, 5.0, 10.0, 0),
        Measure("ta", "Total alkalinity", "TA", "ppm", 0, 0, 1000, 30),
        Measure("ch", "Calcium hardness", "CH", "ppm", 0, 0, 3000, 90),
        Measure("cya", "Stabilizer", "CYA", "ppm", 0, 0, 500, 90),
        Measure("salt", "Salt", "Salt", "ppm", 0, 0, 50_000, 30),
        Measure("temp", "Water temperature", "Water", "°C", 0, -2, 45, 7),
        Measure("borate", "Borate", "Borate", "ppm", 0, 0, 200, 90),
    )
}


# What a pH or FC reading steps by when the method says nothing of it.
PLAIN_STEP = {"ph": 0.1, "temp": 1.0}


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
    def plus_minus(self) -> float:
        """95 % uncertainty in the canonical unit; 0 where the method states none."""
        return METHODS[self.method].plus_minus.get(self.measure, 0.0)


def parse_reading(
    measure_id: str,
    text: str,
    unit: str,
    method_id: str,
    drop_count: int | None = None,
    path: str = "readings",
) -> Reading:
    """Check one typed reading. Raises InvalidInput at ``{path}.{measure_id}``.

    unit: the measure's own (``ppm``, ``""``), or ``°F``/``°C`` for temperature. drop_count: drops counted, of
    a method that titrates this measure; the value then is theirs, whatever the text says.

    >>> parse_reading("ph", "7,4", "", "drops").value
    7.4
    """
    field = f"{path}.{measure_id}"
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
    if (
        method_id == "comparator"
        and measure_id not in METHODS["comparator"].plus_minus
        and measure_id != "temp"
    ):
        raise InvalidInput(
            FieldProblem(
                field, "method_cannot", f"A colour comparator does not read {measure.label.lower()}."
            )
        )
    if (
        method_id in ("salt_meter", "panel", "thermometer")
        and measure_id not in METHODS[method_id].plus_minus
    ):
        text = (
            f"A {METHODS[method_id].label.lower()} does not read"
            f" {measure.label if measure_id == 'ph' else measure.label.lower()}."
        )
        raise InvalidInput(FieldProblem(field, "method_cannot", text))
    return Reading(measure_id, value, text.strip(), unit, method_id, drop_count)


def _counted(measure: Measure, method_id: str, drops: int, field: str) -> float:
    per_drop = METHODS[method_id].per_drop.get(measure.id)
    if per_drop is None:
        text = (
            f"{METHODS[method_id].label} does not count drops for"
            f" {measure.label if measure.id == 'ph' else measure.label.lower()}."
        )
        raise InvalidInput(FieldProblem(field, "no_drops", text))
    return drops * per_drop


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

    Practice section 4: total below free makes no sense and is re-tested before anything is poured.
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
    """CC as read, or total less free; None when neither says."""
    by_id = {r.measure: r.value for r in readings}
    if "cc" in by_id:
        return by_id["cc"]
    if "tc" in by_id and "fc" in by_id:
        return max(0.0, by_id["tc"] - by_id["fc"])
    return None
