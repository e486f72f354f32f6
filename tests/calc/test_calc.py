"""The calculator: what its page says, what it refuses and at which field, and that no nonsense escapes as an
exception.

The chemistry behind it is checked in tests/published; here it is the door that is tested, and its
own tables through it.
"""

import io
import json
import math
import random
import re
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kumpan.calc import NAMES
from kumpan.calc.run import CALCULATORS, run
from kumpan.core.products.catalogue import PRODUCTS
from support import environment

PAGE = (Path(__file__).parents[2] / "docs" / "calc.md").read_text()
EXAMPLES = re.findall(r"```json (\w+)\n(.*?)```\n```json\n(.*?)```", PAGE, re.DOTALL)
WATER = {"ph": 7.5, "ta_ppm": 100, "ch_ppm": 250, "cya_ppm": 40, "fc_ppm": 3, "salt_ppm": 1000, "temp_f": 80}
EFFECT = {
    "volume_gal": 10_000,
    "water": WATER,
    "additions": [{"product": "muriatic-31.45", "amount": 10, "unit": "fl_oz"}],
}
DOSE = {"volume_gal": 10_000, "water": WATER, "product": "muriatic-31.45", "measure": "ph", "to": 7.3}
DILUTE = {
    "volume_gal": 15_000,
    "water": WATER,
    "fill": {"ph": 7.8, "ta_ppm": 140, "ch_ppm": 140},
    "method": "drain",
    "fraction": 0.3,
}


PLAN = {
    "pool": {"volume_gal": 16_000, "surface": "plaster", "chlorine_source": "chlorinator"},
    "water": WATER,
    "methods": "drops",
}


def ask(name: str, document: object) -> tuple[int, Any]:
    target = io.StringIO()
    text = document if isinstance(document, str) else json.dumps(document)
    status = run(name, io.StringIO(text), target)
    return status, json.loads(target.getvalue())


def answer(name: str, document: object) -> dict[str, Any]:
    status, got = ask(name, document)
    assert status == 0, got
    return got  # type: ignore[no-any-return]


def close(got: Any, wanted: Any) -> bool:
    if isinstance(wanted, list):
        return len(got) == len(wanted) and all(map(close, got, wanted))
    if isinstance(wanted, bool) or wanted is None:
        return got is wanted
    if isinstance(wanted, dict):
        return got.keys() == wanted.keys() and all(close(got[key], wanted[key]) for key in wanted)
    return (
        got == wanted
        if not isinstance(wanted, (int, float))
        else got == pytest.approx(wanted, rel=0.002, abs=0.002)
    )


def test_the_page_has_an_example_of_every_calculator() -> None:
    assert {name for name, _, _ in EXAMPLES} == set(CALCULATORS) == set(NAMES)
    assert all(f"`{product}`" in PAGE for product in PRODUCTS)


@pytest.mark.parametrize(("name", "given_text", "answer_text"), EXAMPLES)
def test_the_examples_of_the_page(name: str, given_text: str, answer_text: str) -> None:
    got = answer(name, given_text)
    assert close(got, json.loads(answer_text)), got


# Check values, "Doses per 10,000 US gal" and "Dilution" (calc): amounts through the calculator, 0.5 % for the
# table's rounding.
@pytest.mark.parametrize(
    ("product", "measure", "rise", "amount", "unit"),
    [
        ("liquid-chlorine-12.5", "fc_ppm", 1, 10.24, "fl_oz"), ("liquid-chlorine-12.5", "fc_ppm", 12.5, 1, "gal"), ("bleach-6", "fc_ppm", 1, 20.7, "fl_oz"),
        ("cal-hypo-65", "fc_ppm", 10, 1.284, "lb"), ("dichlor-56", "fc_ppm", 10, 1.506, "lb"), ({"id": "dichlor-56", "strength": 1, "basis": "weight"}, "fc_ppm", 10, 1.506, "lb"),
        ({"id": "trichlor-90", "strength": 1, "basis": "weight"}, "cya_ppm", 6.07, 0.912, "lb"), ("baking-soda", "ta_ppm", 10, 1.401, "lb"),
        ("soda-ash", "ta_ppm", 10, 0.884, "lb"), ("muriatic-31.45", "ta_ppm", -10, 25.56, "fl_oz"), ("dry-acid-93.2", "ta_ppm", -10, 2.148, "lb"),
        ("calcium-chloride-77", "ch_ppm", 10, 1.202, "lb"), ("stabilizer", "cya_ppm", 10, 13.35, "oz"), ("salt", "salt_ppm", 100, 8.345, "lb"),
        ("borax", "borate_ppm", 10, 7.360, "lb"), ("boric-acid", "borate_ppm", 10, 4.773, "lb"), ("thiosulfate", "fc_ppm", -3, 0.219, "lb"),
        # 10 % by weight is about 10.9 % trade (issue of labels, common practice): 1 ppm then takes 1/10.9 of
        # a gallon a ppm.
        ({"id": "liquid-chlorine-10", "strength": 0.10, "basis": "weight"}, "fc_ppm", 10.9, 1, "gal"),
    ],
)  # fmt: skip
def test_dose_table(product: object, measure: str, rise: float, amount: float, unit: str) -> None:
    start = WATER.get(measure, 0)
    got = answer(
        "dose",
        {
            "volume_gal": 10_000,
            "water": WATER,
            "product": product,
            "measure": measure,
            "to": start + rise,
            "unit": unit,
        },
    )
    assert got["amount"] == pytest.approx(amount, rel=0.005) and got["unit"] == unit
    assert got["water"][measure] == pytest.approx(start + rise)
    back = answer(
        "effect",
        {
            "volume_gal": 10_000,
            "water": WATER,
            "additions": [{"product": product, "amount": got["amount"], "unit": unit}],
        },
    )
    assert close(back["water"], got["water"]) and close(back["spent"], got["spent"])  # effect and dose agree


@pytest.mark.parametrize(
    ("product", "to"),
    [
        ("muriatic-31.45", 7.1),
        ("soda-ash", 7.9),
        ("borax", 7.8),
        ("dry-acid-93.2", 7.2),
        ("baking-soda", 7.55),
    ],
)
def test_ph_doses_and_their_effect_agree(product: str, to: float) -> None:
    got = answer("dose", DOSE | {"product": product, "to": to})
    back = answer(
        "effect", EFFECT | {"additions": [{"product": product, "amount": got["amount"], "unit": got["unit"]}]}
    )
    assert got["amount"] > 0 and back["water"]["ph"] == pytest.approx(to, abs=1e-4)


def test_dilution_by_either_way_and_to_a_measure() -> None:
    fill = {"ph": 7.5, "ta_ppm": 0.1}
    assert answer("dilute", DILUTE | {"fill": fill, "water": {"cya_ppm": 100}})["water"][
        "cya_ppm"
    ] == pytest.approx(70)
    to60 = {"volume_gal": 15_000, "water": {"cya_ppm": 100}, "fill": {}, "measure": "cya_ppm", "to": 60}
    assert answer("dilute", to60 | {"method": "drain"})["fraction"] == pytest.approx(0.40)  # calc
    assert answer("dilute", to60 | {"method": "overflow"})["fraction"] == pytest.approx(
        math.log(100 / 60)
    )  # calc
    worked = answer(
        "dilute",
        {
            "volume_gal": 15_000,
            "water": {"cya_ppm": 120},
            "fill": {},
            "method": "overflow",
            "measure": "cya_ppm",
            "to": 50,
        },
    )
    assert worked["replace_gal"] == pytest.approx(13_132, rel=0.001)  # calc
    for measure, to in (("ph", 7.6), ("ch_ppm", 200), ("temp_f", 79)):  # forward agrees with inverse
        by = {k: v for k, v in DILUTE.items() if k != "fraction"} | {
            "measure": measure,
            "to": to,
            "method": "overflow",
        }
        found = answer("dilute", by)
        again = answer("dilute", DILUTE | {"method": "overflow", "fraction": found["fraction"]})
        assert again["water"][measure] == pytest.approx(to, abs=2e-3)


def test_label_products_are_named_not_computed() -> None:
    additions = [*EFFECT["additions"], {"product": "algaecide-copper", "amount": 6, "unit": "fl_oz"}]  # type: ignore[misc]
    got = answer("effect", EFFECT | {"additions": additions})
    assert got["water"] == answer("effect", EFFECT)["water"]
    assert (
        got["not_computed"][0]["product"] == "algaecide-copper"
        and "effect not computed" in got["not_computed"][0]["reason"]
    )


@pytest.mark.parametrize(
    ("name", "document", "field", "code"),
    [
        ("effect", EFFECT | {"water": {"ta_ppm": 100}}, "water.ph", "missing"),
        ("effect", EFFECT | {"water": {"ph": 7.5}}, "water.ta_ppm", "missing"),
        ("effect", EFFECT | {"water": WATER | {"ph": 75}}, "water.ph", "less_than_equal"),
        ("effect", EFFECT | {"water": WATER | {"alk": 3}}, "water.alk", "extra_forbidden"),
        ("effect", EFFECT | {"water": WATER | {"ph": "7.5"}}, "water.ph", "float_type"),
        ("effect", EFFECT | {"volume_gal": 0}, "volume_gal", "greater_than"),
        ("effect", EFFECT | {"volume_gal": True}, "volume_gal", "float_type"),
        ("effect", json.dumps(EFFECT).replace("10000", "NaN"), "volume_gal", "finite_number"),
        ("effect", EFFECT | {"additions": [{"product": "holy-water", "amount": 1, "unit": "g"}]}, "additions.0.product", "unknown_product"),
        ("effect", EFFECT | {"additions": [{"product": "salt", "amount": -1, "unit": "lb"}]}, "additions.0.amount", "greater_than_equal"),
        ("effect", EFFECT | {"additions": [{"product": "salt", "amount": 1, "unit": "stone"}]}, "additions.0.unit", "literal_error"),
        ("effect", EFFECT | {"additions": [{"product": "salt", "amount": 1, "unit": "cup"}]}, "additions.0.unit", "needs_bulk_density"),
        ("effect", EFFECT | {"additions": [{"product": "salt", "amount": 1, "unit": "tablet_3in"}]}, "additions.0.unit", "wrong_unit"),
        ("effect", EFFECT | {"additions": [{"product": "bleach-6", "amount": 1, "unit": "bag_40lb"}]}, "additions.0.unit", "wrong_unit"),
        ("effect", EFFECT | {"additions": [{"product": "soda-ash", "amount": 99_999, "unit": "kg"}]}, "additions.0.amount", "out_of_range"),
        ("effect", EFFECT | {"additions": [{"product": "thiosulfate", "amount": 5, "unit": "lb"}]}, "additions.0.amount", "too_much_neutraliser"),
        ("effect", EFFECT | {"additions": [{"product": {"id": "salt", "basis": "trade"}, "amount": 5, "unit": "lb"}]}, "additions.0.product.basis", "wrong_basis"),
        ("effect", EFFECT | {"additions": [{"product": {"id": "dichlor-56", "strength": 0.9}, "amount": 5, "unit": "lb"}]}, "additions.0.product.strength", "too_strong"),
        ("effect", EFFECT | {"additions": [{"product": {"id": "bleach-6", "strength": 0.6}, "amount": 5, "unit": "gal"}]}, "additions.0.product.strength", "too_strong"),
        ("dose", DOSE | {"to": 7.9}, "to", "unreachable"),
        ("dose", DOSE | {"to": 13}, "to", "out_of_range"),
        ("dose", DOSE | {"product": "baking-soda", "to": 9.5}, "to", "unreachable"),
        ("dose", DOSE | {"measure": "cya_ppm"}, "measure", "not_moved"),
        ("dose", DOSE | {"measure": "temp_f"}, "measure", "not_dosed"),
        ("dose", DOSE | {"measure": "chlorine"}, "measure", "literal_error"),
        ("dose", DOSE | {"product": "clarifier"}, "product", "effect_not_computed"),
        ("dose", DOSE | {"product": "soda-ash", "measure": "ta_ppm", "to": 80}, "to", "unreachable"),
        ("dose", DOSE | {"measure": "ta_ppm", "water": {}}, "water.ta_ppm", "missing"),
        ("dose", DOSE | {"product": "thiosulfate", "measure": "fc_ppm", "to": -1}, "to", "out_of_range"),
        ("dose", DOSE | {"unit": "bag_40lb"}, "unit", "wrong_unit"),
        ("dose", DOSE | {"water": WATER | {"ta_ppm": 20, "cya_ppm": 120}}, "water.ta_ppm", "alkalinity_too_low"),
        ("dilute", DILUTE | {"measure": "ch_ppm", "to": 200}, "fraction", "one_of"),
        ("dilute", DILUTE | {"fraction": 1.5}, "fraction", "out_of_range"),
        ("dilute", {k: v for k, v in DILUTE.items() if k != "fraction"} | {"measure": "ch_ppm"}, "to", "missing"),
        ("dilute", {k: v for k, v in DILUTE.items() if k != "fraction"} | {"measure": "ch_ppm", "to": 90}, "to", "unreachable"),
        ("saturation", {"ph": 7.5, "ta_ppm": 100}, "ch_ppm", "missing"),
        ("saturation", {"ph": 7.5, "ta_ppm": 100, "ch_ppm": 0}, "ch_ppm", "greater_than"),
        ("saturation", {"ph": 7.5, "ta_ppm": 10, "ch_ppm": 100, "cya_ppm": 90}, "ta_ppm", "alkalinity_too_low"),
        ("saturation", {"ph": 5, "ta_ppm": 300, "ch_ppm": 100}, "ph", "ph_too_low"),
        ("aerate", {"water": WATER, "pco2_uatm": 0}, "pco2_uatm", "greater_than_equal"),
        ("plan", PLAN | {"school": "none"}, "school", "literal_error"),
        ("plan", PLAN | {"pool": {**PLAN["pool"], "targets": {"ph": {"low": 7.8, "high": 7.2}}}}, "pool.targets.ph.high", "below_minimum"),
        ("plan", PLAN | {"pool": {**PLAN["pool"], "targets": {"ta_ppm": {"low": 80}}}}, "pool.targets.ta_ppm.high", "empty"),
        ("plan", PLAN | {"methods": {"ta_ppm": "comparator"}}, "methods.ta_ppm", "method_cannot"),
        ("plan", PLAN | {"methods": {"ph": "panel"}}, "methods.ph", "method_cannot"),
        ("plan", PLAN | {"products": [{"id": "salt", "stock": 3}]}, "products.0.unit", "missing"),
        ("plan", PLAN | {"products": [{"id": "salt", "unit": "lb", "price": 3}]}, "products.0.pack", "price_without_pack"),
        ("plan", PLAN | {"products": [{"id": "brine"}]}, "products.0", "unknown_product"),
        ("plan", PLAN | {"choose": {"raise_fc": "salt"}}, "choose.raise_fc.id", "wrong_role"),
        ("plan", PLAN | {"choose": {"raise_hope": "salt"}}, "choose.raise_hope", "unknown_role"),
        ("plan", PLAN | {"seen": ["ghosts"]}, "seen", "unknown_choice"),
        ("plan", PLAN | {"at": "noon"}, "at", "not_a_time"),
        ("plan", PLAN | {"water": {"ph": 99}}, "water.ph", "less_than_equal"),
        ("speciation", {"fc_ppm": 3}, "ph", "missing"),
        ("speciation", "{", "", "not_json"),
        ("speciation", "[" * 100_000, "", "not_json"),
        ("speciation", "", "", "not_json"),
        ("speciation", "7", "", "model_type"),
    ],
)  # fmt: skip
def test_what_is_wrong_is_named_at_its_field(name: str, document: object, field: str, code: str) -> None:
    status, got = ask(name, document)
    assert status == 2
    assert (got["error"]["field"], got["error"]["code"]) == (field, code), got
    assert got["error"]["message"].endswith(".") and len(got["error"]["message"]) > 10


def test_a_list_is_answered_in_place_around_its_errors() -> None:
    status, got = ask(
        "speciation", [{"ph": 7.5, "fc_ppm": 3}, {"ph": None}, {"ph": 7.5, "fc_ppm": 3, "cya_ppm": 50}]
    )
    assert status == 2
    assert [sorted(a) for a in got] == [
        ["bound_ppm", "hocl_ppm", "ocl_ppm"],
        ["error"],
        ["bound_ppm", "hocl_ppm", "ocl_ppm"],
    ]
    assert got[1]["error"]["field"] == "ph"
    assert ask("speciation", []) == (0, [])


# Nonsense: anything JSON can say (and NaN, which Python's reader takes), in the places where a document holds
# something.
numbers = st.one_of(st.floats(), st.integers(), st.floats(0, 1000), st.floats(6, 9), st.just(10**400))
leaves = st.one_of(
    numbers,
    st.none(),
    st.booleans(),
    st.text(max_size=5),
    st.sampled_from(list(PRODUCTS)),
    st.sampled_from(["g", "lb", "gal", "cup"]),
)
KEYS = ["ph", "ta_ppm", "fc_ppm", "cc_ppm", "ch_ppm", "cya_ppm", "salt_ppm", "borate_ppm", "temp_f"]
some_water = st.dictionaries(st.sampled_from(KEYS), numbers, max_size=9) | leaves
products = (
    st.sampled_from(list(PRODUCTS))
    | st.fixed_dictionaries(
        {"id": st.sampled_from(list(PRODUCTS))},
        optional={
            "strength": numbers,
            "basis": st.sampled_from(["trade", "weight", "available", "label"]),
            "bulk_density_kg_l": numbers,
        },
    )
    | leaves
)
units = (
    st.sampled_from(
        [
            "g",
            "kg",
            "oz",
            "lb",
            "ml",
            "l",
            "fl_oz",
            "cup",
            "qt",
            "gal",
            "bag_40lb",
            "tablet_3in",
            "tablet_1in",
        ]
    )
    | leaves
)
additions = (
    st.lists(st.fixed_dictionaries({"product": products, "amount": numbers, "unit": units}), max_size=4)
    | leaves
)
measures = st.sampled_from(KEYS) | leaves
documents = st.fixed_dictionaries(
    {},
    optional={
        **dict.fromkeys(KEYS, numbers),
        "tds_ppm": numbers,
        "volume_gal": numbers,
        "water": some_water,
        "fill": some_water,
        "additions": additions,
        "product": products,
        "measure": measures,
        "to": numbers,
        "unit": units,
        "method": st.sampled_from(["drain", "overflow"]) | leaves,
        "fraction": numbers,
        "pco2_uatm": numbers,
    },
)
# Sound shapes with wild numbers reach further in than random keys do.
real = st.floats(allow_nan=False, allow_infinity=False) | st.floats(0, 500)
wild_water = st.fixed_dictionaries(
    {"ph": st.floats(5, 10), "ta_ppm": st.floats(0, 1000)},
    optional={
        "fc_ppm": st.floats(0, 100),
        "cc_ppm": st.floats(0, 50),
        "ch_ppm": st.floats(0, 3000),
        "cya_ppm": st.floats(0, 500),
        "salt_ppm": st.floats(0, 50_000),
        "borate_ppm": st.floats(0, 200),
        "temp_f": st.floats(28.4, 113),
    },
)
wild = {
    "plan": st.fixed_dictionaries(
        {
            "pool": st.fixed_dictionaries(
                {
                    "volume_gal": st.floats(300, 1e6),
                    "surface": st.sampled_from(["plaster", "vinyl", "soft"]),
                    "chlorine_source": st.sampled_from(["liquid", "chlorinator", "tablets"]),
                }
            ),
            "water": st.dictionaries(st.sampled_from(KEYS), st.floats(0, 300), max_size=6) | wild_water,
        },
        optional={
            "methods": st.sampled_from(["exact", "strip", "drops", "photometer"]),
            "school": st.sampled_from(["flat_band", "public_code"]),
            "products": st.lists(st.fixed_dictionaries({"id": st.sampled_from(list(PRODUCTS))}), max_size=3),
            "stay_min": st.integers(1, 90),
            "next_visits_days": st.lists(st.floats(0.5, 60), max_size=3),
        },
    ),
    "speciation": st.fixed_dictionaries(
        {"ph": st.floats(5, 10), "fc_ppm": st.floats(0, 100), "cya_ppm": st.floats(0, 500)}
    ),
    "saturation": wild_water,
    "effect": st.fixed_dictionaries(
        {
            "volume_gal": st.floats(1, 1e6),
            "water": wild_water,
            "additions": st.lists(
                st.fixed_dictionaries(
                    {"product": products, "amount": st.floats(0, 1e9) | st.floats(0, 100), "unit": units}
                ),
                max_size=4,
            ),
        }
    ),
    "dose": st.fixed_dictionaries(
        {
            "volume_gal": st.floats(1, 1e6),
            "water": wild_water,
            "product": products,
            "measure": measures,
            "to": st.floats(4, 11) | real,
        },
        optional={"unit": units},
    ),
    "dilute": st.fixed_dictionaries(
        {
            "volume_gal": st.floats(1, 1e6),
            "water": wild_water,
            "fill": wild_water,
            "method": st.sampled_from(["drain", "overflow"]),
        },
        optional={"fraction": real, "measure": measures, "to": real},
    ),
    "aerate": st.fixed_dictionaries({"water": wild_water}, optional={"pco2_uatm": st.floats(1, 1e5)}),
}


def finite(value: Any) -> bool:
    if isinstance(value, dict):
        return all(finite(v) for v in value.values())
    return not isinstance(value, float) or math.isfinite(value)


@pytest.mark.parametrize("name", CALCULATORS)
@given(data=st.data())
def test_nonsense_gets_an_error_or_a_finite_answer(name: str, data: st.DataObject) -> None:
    document = data.draw(documents | wild[name])
    status, got = ask(name, json.dumps(document))
    assert status == (2 if "error" in got else 0)
    assert finite(got)
    if "error" in got:
        assert all(p["message"] for p in got["error"]["fields"])
        return
    if name == "plan":
        return
    for key in ("water", "spent"):  # an answered water is one that can be
        if got.get(key) and got[key]["ph"] is not None:
            assert 0 <= got[key]["ph"] <= 14
            assert all(got[key][m] is None or got[key][m] >= 0 for m in KEYS if m not in ("ta_ppm", "temp_f"))


def test_the_command_writes_json_alone_and_starts_without_server_or_numpy() -> None:
    """As a script sees it: standard output is JSON, the status tells, and nothing heavy is loaded on the way."""

    def call(text: bytes, *more: str) -> subprocess.CompletedProcess[bytes]:
        return subprocess.run(
            [sys.executable, *more, "-m", "kumpan", "calc", "dose"],
            input=text,
            capture_output=True,
            env=environment(),
        )

    fine = call("\ufeff".encode() + json.dumps(DOSE).encode(), "-X", "importtime")
    assert fine.returncode == 0 and json.loads(fine.stdout)["unit"] == "fl_oz"
    loaded = fine.stderr.decode()
    assert not re.search(r"\| +(numpy|sqlalchemy|fastapi)$", loaded, re.MULTILINE)
    for text in (b"\xff\xfe{", b"nope"):
        wrong = call(text)
        assert (
            wrong.returncode == 2
            and json.loads(wrong.stdout)["error"]["code"] == "not_json"
            and wrong.stderr == b""
        )


def test_random_waters_many_at_once() -> None:
    """A long list is answered in full, each as it would be alone."""
    rng = random.Random(1)
    many = [DOSE | {"to": rng.uniform(6.9, 7.45)} for _ in range(50)]
    status, got = ask("dose", many)
    assert status == 0 and got[7] == answer("dose", many[7]) and len(got) == 50
