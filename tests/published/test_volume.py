"""Pool geometry against closed forms, plain numeric integration, and outlines digitised point by point."""

import math
import random

import pytest

from kumpan.core.errors import InvalidInput
from kumpan.core.pool.geometry import (
    Flight,
    area_m2,
    drawn,
    free_form,
    hopper,
    kidney,
    l_shape,
    level,
    oval,
    rectangle,
    sloped,
    volume_l,
)
from kumpan.core.pool.volume import VolumeInput, volume_of
from kumpan.core.units import L_PER_GAL, M_PER_FT


# Closed forms: solid geometry.
@pytest.mark.parametrize(
    ("outline", "floor", "cubic_metres"),
    [
        (rectangle(10, 5), level(1.5, 10), 75), (rectangle(10, 5), sloped(1, 2, 10), 75),
        (oval(6, 6), level(1.2, 6), math.pi * 9 * 1.2), (oval(8, 4), sloped(1, 1.8, 8), math.pi / 4 * 32 * 1.4),
        (l_shape(10, 4, 3, 4), level(1.5, 10), (40 + 12) * 1.5),
        # A hopper is prisms: 4 m at 1, a wedge of 2 m from 1 to 3, 3 m at 3, a wedge of 1 m from 3 to 2; 5 m
        # wide.
        (rectangle(10, 5), hopper(1, 3, 2, (4, 6, 9), 10), 5 * (4 * 1 + 2 * 2 + 3 * 3 + 1 * 2.5)),
        # The trade's kidney: 0.45 (A + B) L (common practice).
        (kidney(10, 5, 4), level(1, 10), 0.45 * 9 * 10),
    ],
)  # fmt: skip
def test_closed_forms(outline, floor, cubic_metres) -> None:  # type: ignore[no-untyped-def]
    assert volume_l(outline, floor) == pytest.approx(cubic_metres * 1000, rel=1e-3)


def polygon_area(points: list[tuple[float, float]]) -> float:
    """Shoelace formula."""
    return (
        abs(
            sum(
                x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in zip(points, [*points[1:], points[0]], strict=True)
            )
        )
        / 2
    )


def widths_of(points: list[tuple[float, float]], count: int) -> tuple[float, tuple[float, ...]]:
    """Length along x and the widths across at equal steps, as a person with a tape would measure them on this
    outline.
    """
    left, right = min(x for x, _ in points), max(x for x, _ in points)
    widths = []
    for i in range(count):
        at, crossings = left + (right - left) * i / (count - 1), []
        for (x0, y0), (x1, y1) in zip(points, [*points[1:], points[0]], strict=True):
            if x0 != x1 and min(x0, x1) <= at <= max(x0, x1):
                crossings.append(y0 + (y1 - y0) * (at - x0) / (x1 - x0))
        widths.append(max(crossings) - min(crossings) if crossings else 0.0)
    return right - left, tuple(widths)


# Kidneys digitised as Cassini ovals (1680): |z - a| |z + a| = b^2, waisted where b < a sqrt 2; convex blobs
# as ellipses with a lobe.
def cassini(a: float, b: float, n: int = 400) -> list[tuple[float, float]]:
    points = []
    for i in range(n):
        t = 2 * math.pi * i / n
        r = math.sqrt(a * a * math.cos(2 * t) + math.sqrt(b**4 - a**4 * math.sin(2 * t) ** 2))
        points.append((r * math.cos(t), r * math.sin(t)))
    return points


def blob(rng: random.Random, n: int = 400) -> list[tuple[float, float]]:
    lobes = [(k, rng.uniform(-0.12, 0.12), rng.uniform(0, 6.3)) for k in (2, 3)]
    out = []
    for i in range(n):
        t = 2 * math.pi * i / n
        r = 4 * (1 + sum(size * math.cos(k * t + phase) for k, size, phase in lobes))
        out.append((1.6 * r * math.cos(t), r * math.sin(t)))
    return out


def test_a_digitised_kidney_by_two_widths_and_by_many() -> None:
    """Length and the widest of both lobes, as the trade measures a kidney: within the 15 % said. By nine
    widths: within 5 %.
    """
    for b in (1.05, 1.15, 1.25, 1.35):
        outline = [(4 * x, 4 * y) for x, y in cassini(1.0, b)]
        true = polygon_area(outline)
        length, widths = widths_of(outline, 41)
        widest = max(widths)
        assert area_m2(kidney(length, widest, widest)) == pytest.approx(true, rel=0.15)
        assert area_m2(free_form(*widths_of(outline, 9))) == pytest.approx(true, rel=0.05)


def test_digitised_free_forms_by_widths_at_equal_steps() -> None:
    """Random lobed outlines: seven widths within the 10 % said, fifteen within 3 %."""
    rng = random.Random(2)
    for _ in range(40):
        outline = blob(rng)
        true = polygon_area(outline)
        assert area_m2(free_form(*widths_of(outline, 7))) == pytest.approx(true, rel=0.10)
        assert area_m2(free_form(*widths_of(outline, 15))) == pytest.approx(true, rel=0.03)


def test_volume_against_plain_integration_and_the_drawing_holds_the_same_area() -> None:
    for outline in (
        rectangle(9, 4.5),
        oval(9, 4.5),
        kidney(9, 5, 4),
        l_shape(9, 4, 2, 3),
        free_form(9, (0, 3, 5, 4, 4.5, 2, 0)),
    ):
        floor, n = hopper(0.9, 2.4, 1.8, (3, 5, 8), 9), 40_000
        plain = (
            sum(
                outline.width_at((i + 0.5) / n * 9) * floor.depth_at((i + 0.5) / n * 9) * 9 / n
                for i in range(n)
            )
            * 1000
        )
        assert volume_l(outline, floor) == pytest.approx(plain, rel=1e-3)
        assert polygon_area(list(drawn(outline, 400))) == pytest.approx(
            area_m2(outline), rel=2e-3
        )  # drawn to scale, bent or not


def test_steps_and_benches_displace_what_their_profile_holds() -> None:
    """The profile's area by the trapezoid rule, times the length along the wall; four steps half a metre high
    and a metre out.
    """
    for flight in (Flight(2.0, 1.0, 0.5, 4), Flight(3.0, 0.45, 0.5), Flight(1.5, 0.9, 0.9, 3)):
        profile = [(0.0, flight.high_m), *flight.profile()]
        area = sum(
            (x1 - x0) * (y0 + y1) / 2 for (x0, y0), (x1, y1) in zip(profile, profile[1:], strict=False)
        )
        assert flight.volume_l == pytest.approx(1000 * area * flight.along_m)
    steps = {"steps_along": "8", "steps_out": "3", "steps_high": "2.5", "steps_count": "3"}
    bench = {"bench_along": "12", "bench_out": "1.5", "bench_high": "3"}
    plain, less = volume_of(VolumeInput(**SHAPE)), volume_of(VolumeInput(**SHAPE | steps | bench))  # type: ignore[arg-type]
    # Three stairs fill 4/6 of their box: 8 x 3 x 2.5 x 2/3 = 40 cubic feet; the bench 12 x 1.5 x 3 = 54.
    assert (plain.litres - less.litres) / 1000 / M_PER_FT**3 == pytest.approx(94, rel=1e-6)


SHAPE = {
    "how": "shape",
    "unit": "ft",
    "length": "32",
    "width": "16",
    "shallow": "3",
    "deep": "8",
    "bottom": "sloped",
}
HOPPER = {**SHAPE, "bottom": "hopper", "slope_from": "10", "deep_from": "16", "deep_to": "28", "wall": "6"}


def test_every_way_a_person_may_have_it() -> None:
    def gal(**given: str) -> float:
        return volume_of(VolumeInput(**given)).litres / L_PER_GAL  # type: ignore[arg-type]

    cubic_foot = M_PER_FT**3 * 1000 / L_PER_GAL  # 7.48 US gal
    assert gal(**SHAPE) == pytest.approx(32 * 16 * 5.5 * cubic_foot, rel=1e-4)
    assert gal(**HOPPER) == pytest.approx(16 * (10 * 3 + 6 * 5.5 + 12 * 8 + 4 * 7) * cubic_foot, rel=1e-4)
    assert gal(how="meter", unit="ft3", meter_from="1204", meter_to="3,204") == pytest.approx(
        2000 * cubic_foot
    )
    assert gal(how="hose", unit="gal", rate="9", hours="30") == pytest.approx(9 * 60 * 30)
    assert gal(how="typed", unit="gal", amount="15,000") == pytest.approx(15_000)
    free = volume_of(
        VolumeInput("shape", "m", plan="free", length="9", widths="0 3,5 5 4; 4.5, 2 0", shallow="1.4")
    )
    assert (
        free.litres == pytest.approx(1.4 * 1000 * area_m2(free_form(9, (0, 3.5, 5, 4, 4.5, 2, 0))), rel=1e-6)
        and free.within == 0.10
    )
    within = {
        way: volume_of(VolumeInput(**given)).within
        for way, given in {
            "shape": SHAPE,
            "meter": {"how": "meter", "meter_from": "0", "meter_to": "9000"},
        }.items()
    }  # type: ignore[arg-type]
    assert within["meter"] < within["shape"]
    sure = [
        volume_of(VolumeInput("typed", "gal", "15000", sure)).within for sure in ("proved", "papers", "guess")
    ]  # type: ignore[arg-type]
    assert sure == sorted(sure) and sure[1] == 0.10  # 10 % unless proved: common practice


@pytest.mark.parametrize(
    ("change", "field", "code"),
    [
        ({"deep": "2"}, "deep", "depths_swapped"), ({"length": ""}, "length", "not_a_number"), ({"width": "-4"}, "width", "out_of_range"),
        ({**HOPPER, "deep_from": "8"}, "deep_from", "breaks_out_of_order"), ({**HOPPER, "deep_to": "40"}, "deep_to", "past_the_wall"),
        ({"plan": "l", "leg_out": "10", "leg_along": "32"}, "leg_along", "past_the_wall"), ({"plan": "kidney", "width2": ""}, "width2", "not_a_number"),
        ({"plan": "free", "widths": "0 9"}, "widths", "too_few"), ({"plan": "free", "widths": "0 -9 4 0"}, "widths", "out_of_range"),
        ({"plan": "free", "widths": "0 wide 4"}, "widths", "not_a_number"), ({"how": "meter", "unit": "gal", "meter_from": "90", "meter_to": "40"}, "meter_to", "meter_backwards"),
        # Sides that meet or cross: pinched to nothing, or so suddenly that the curve through the widths folds
        # over itself.
        ({"plan": "free", "widths": "0 9 0 9 0"}, "widths", "crosses_itself"), ({"plan": "free", "widths": "0 30 30 1 1 30 30 0"}, "widths", "crosses_itself"),
        ({**HOPPER, "wall": "9"}, "wall", "depths_swapped"),
        ({"steps_along": "40", "steps_out": "3", "steps_high": "2", "steps_count": "3"}, "steps_along", "past_the_wall"),
        ({"steps_along": "4", "steps_out": "3", "steps_high": "2", "steps_count": "2.5"}, "steps_count", "not_whole"),
        ({"steps_along": "4"}, "steps_out", "not_a_number"), ({"bench_along": "4", "bench_out": "1", "bench_high": "9"}, "bench_high", "past_the_wall"),
        ({"bench_along": "90", "bench_out": "16", "bench_high": "8"}, "bench_along", "no_water_left"),
        ({"how": "hose", "unit": "gal", "rate": "9", "hours": "0"}, "hours", "out_of_range"), ({"how": "hose", "unit": "ft"}, "unit", "unknown_unit"),
    ],
)  # fmt: skip
def test_wrong_sizes_are_named_at_their_field(change: dict, field: str, code: str) -> None:
    with pytest.raises(InvalidInput) as caught:
        volume_of(VolumeInput(**{**SHAPE, **change}))
    assert (f"volume.{field}", code) in [(p.field, p.code) for p in caught.value.fields], caught.value.fields
