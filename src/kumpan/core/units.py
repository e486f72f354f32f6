"""Unit conversions. Exact factors are definitions (NIST Handbook 44, appendix C)."""

import math

from kumpan.core.errors import FieldProblem, InvalidInput

L_PER_GAL = 3.785411784  # US liquid gallon, exact by definition
G_PER_LB = 453.59237  # avoirdupois pound, exact by definition
G_PER_OZ = G_PER_LB / 16
ML_PER_FL_OZ = 29.5735295625  # US fluid ounce, exact by definition
DAY_MIN = 24 * 60
M_PER_FT = 0.3048  # international foot, exact by definition

# What a person may pour with. Factors to grams or millilitres. The bag and tablet
# sizes are common practice (a 3-inch tablet is 7 to 8 oz).
G_PER_UNIT = {
    "g": 1.0,
    "kg": 1000.0,
    "oz": G_PER_OZ,
    "lb": G_PER_LB,
    "bag_40lb": 40 * G_PER_LB,
    "bag_20kg": 20_000.0,
    "tablet_3in": 8 * G_PER_OZ,
    "tablet_1in": 0.5 * G_PER_OZ,
}
ML_PER_UNIT = {
    "ml": 1.0,
    "l": 1000.0,
    "fl_oz": ML_PER_FL_OZ,
    "cup": 8 * ML_PER_FL_OZ,
    "qt": 32 * ML_PER_FL_OZ,
    "gal": 128 * ML_PER_FL_OZ,
}
UNIT_LABELS = {
    "g": "g", "kg": "kg", "oz": "oz", "lb": "lb", "bag_40lb": "bags of 40 lb", "bag_20kg": "bags of 20 kg",
    "tablet_3in": "three-inch tablets", "tablet_1in": "one-inch tablets",
    "ml": "mL", "l": "L", "fl_oz": "fl oz", "cup": "cups", "qt": "qt", "gal": "gal",
}  # fmt: skip


def gal_to_l(volume_gal: float) -> float:
    """US gallons to litres.

    >>> round(gal_to_l(10_000), 1)
    37854.1
    """
    return volume_gal * L_PER_GAL


def l_to_gal(volume_l: float) -> float:
    """Litres to US gallons."""
    return volume_l / L_PER_GAL


def f_to_c(temp_f: float) -> float:
    """Fahrenheit to Celsius.

    >>> f_to_c(212)
    100.0
    """
    return (temp_f - 32) / 1.8


def c_to_f(temp_c: float) -> float:
    """Celsius to Fahrenheit."""
    return temp_c * 1.8 + 32


def parse_number(text: str, field: str) -> float:
    """A number as people type it: ``7.4``, ``7,4``, ``2,700``, ``1 200``.

    A comma before exactly three final digits groups thousands (after 1 to 3 digits, not a
    lone 0); any other single comma is a decimal comma. Raises InvalidInput naming ``field``.

    >>> parse_number("7,4", "ph"), parse_number("2,700", "salt"), parse_number("0,125", "x")
    (7.4, 2700.0, 0.125)
    """
    cleaned = text.strip().replace("\u00a0", " ").replace("\u202f", " ").replace(" ", "")
    if len(cleaned) > 40:
        raise InvalidInput(FieldProblem(field, "not_a_number", "That is too long for a number."))
    head, comma, tail = cleaned.partition(",")
    if comma:
        whole = tail.partition(".")[0]
        groups = [head.lstrip("+-"), *whole.split(",")]
        grouped = groups[0].isdigit() and 1 <= len(groups[0]) <= 3 and groups[0] != "0"
        if grouped and all(len(g) == 3 and g.isdigit() for g in groups[1:]):
            cleaned = cleaned.replace(",", "")
        elif "," not in tail and "." not in cleaned:
            cleaned = f"{head}.{tail}"
    try:
        if "_" in cleaned or not cleaned.isascii():
            raise ValueError
        value = float(cleaned)
    except ValueError:
        shown = text.strip()[:20]
        raise InvalidInput(
            FieldProblem(field, "not_a_number", f"“{shown}” is not a number. Type digits, like 7.4.")
        ) from None
    if not math.isfinite(value):
        raise InvalidInput(FieldProblem(field, "not_a_number", "Type an ordinary number."))
    return value
