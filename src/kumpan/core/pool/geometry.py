"""A pool's shape: seen from above as widths along its length, and its floor as depths along the same length.

Volume is the integral of width times depth, to a part in a million; the same numbers draw plan and section.
Metres inside; walls upright.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

# Width of a kidney along its length, as a share of what a straight taper between its two ends' widths would
# give: a superellipse whose area is the trade's 0.45 (A + B) L (common practice, no source). Exponent found
# so that its mean is 0.9.
_KIDNEY_EXPONENT = 3.3035
_PIECES = 400


@dataclass(frozen=True)
class Outline:
    """A plan from above: how wide at each distance along its length. bend: how far the middle line strays,
    for drawing a kidney.
    """

    length_m: float
    width_at: Callable[[float], float]
    bend_at: Callable[[float], float] = lambda x: 0.0
    cuts_m: tuple[float, ...] = ()  # where the width has a step


@dataclass(frozen=True)
class Floor:
    """The floor along the length: (distance, depth) from the shallow end on, in metres of water, joined by
    straight lines.
    """

    points: tuple[tuple[float, float], ...]

    def depth_at(self, x: float) -> float:
        """Depth at a distance along the length."""
        for (x0, d0), (x1, d1) in pairwise(self.points):
            if x <= x1:
                return d0 if x1 == x0 else d0 + (d1 - d0) * (x - x0) / (x1 - x0)
        return self.points[-1][1]


def rectangle(length_m: float, width_m: float) -> Outline:
    """Length times width."""
    return Outline(length_m, lambda x: width_m)


def oval(length_m: float, width_m: float) -> Outline:
    """An ellipse; a round pool where both are its diameter."""
    return Outline(length_m, lambda x: width_m * math.sqrt(max(0.0, 1 - (2 * x / length_m - 1) ** 2)))


def kidney(length_m: float, wide_m: float, narrow_m: float) -> Outline:
    """A kidney by its longest length and the widths of its two lobes; the first lies at the shallow end.

    Area 0.45 (A + B) L: common practice, no source.
    """

    def width(x: float) -> float:
        u = 2 * x / length_m - 1
        round_off: float = max(0.0, 1 - abs(u) ** _KIDNEY_EXPONENT) ** (1 / _KIDNEY_EXPONENT)
        return (wide_m + (narrow_m - wide_m) * x / length_m) * round_off

    reach = 0.35 * min(wide_m, narrow_m)
    return Outline(length_m, width, lambda x: reach * math.sin(math.pi * x / length_m) ** 2)


def l_shape(length_m: float, width_m: float, leg_out_m: float, leg_along_m: float) -> Outline:
    """A rectangle with a leg standing out ``leg_out_m`` at its deep end, ``leg_along_m`` wide along the
    length.
    """
    start = length_m - leg_along_m
    return Outline(
        length_m,
        lambda x: width_m + (leg_out_m if x >= start else 0.0),
        lambda x: leg_out_m / 2 if x >= start else 0.0,
        (start,),
    )


def free_form(length_m: float, widths_m: tuple[float, ...]) -> Outline:
    """Any shape by widths measured at equal steps along its length, both ends counted; 0 where it comes to a
    point.

    Between measurements a smooth curve through the neighbours (Catmull-Rom).
    """
    n = len(widths_m) - 1

    def width(x: float) -> float:
        place = min(max(x / length_m * n, 0.0), n - 1e-12)
        i = int(place)
        t = place - i
        p1, p2 = widths_m[i], widths_m[i + 1]
        p0, p3 = widths_m[i - 1] if i else 2 * p1 - p2, widths_m[i + 2] if i + 2 <= n else 2 * p2 - p1
        return 0.5 * (
            2 * p1
            + (p2 - p0) * t
            + (2 * p0 - 5 * p1 + 4 * p2 - p3) * t * t
            + (3 * p1 - p0 - 3 * p2 + p3) * t**3
        )

    return Outline(length_m, width)


def crosses_at_m(outline: Outline) -> float | None:
    """Where along the length the two sides meet or cross between the ends; None where they never do."""
    inside = (outline.length_m * i / _PIECES for i in range(1, _PIECES))
    return next((x for x in inside if outline.width_at(x) <= 1e-9), None)


def level(depth_m: float, length_m: float) -> Floor:
    """One depth everywhere."""
    return Floor(((0.0, depth_m), (length_m, depth_m)))


def sloped(shallow_m: float, deep_m: float, length_m: float) -> Floor:
    """An even slope from end to end."""
    return Floor(((0.0, shallow_m), (length_m, deep_m)))


def hopper(
    shallow_m: float, deep_m: float, wall_m: float, breaks_m: tuple[float, float, float], length_m: float
) -> Floor:
    """A shallow floor to the first break, down to the deep at the second, deep to the third, and up to
    ``wall_m`` at the deep end's wall.
    """
    first, second, third = breaks_m
    return Floor(
        ((0.0, shallow_m), (first, shallow_m), (second, deep_m), (third, deep_m), (length_m, wall_m))
    )


def _integral(f: Callable[[float], float], cuts: list[float]) -> float:
    """Simpson's rule between each pair of cuts, in the angle of x = a + (b - a)(1 - cos t)/2: exact for round
    ends, which rise steeply.
    """
    total = 0.0
    for a, b in pairwise(cuts):
        if b <= a:
            continue
        # Ends a hair inside: a step of the outline lies on a cut.
        half, inside, h = (b - a) / 2, (b - a) * 1e-9, math.pi / _PIECES
        for i in range(1, _PIECES):  # at both ends sin t is 0
            x = a + half * (1 - math.cos(i * h))
            total += (
                h / 3 * (4 if i % 2 else 2) * half * math.sin(i * h) * f(min(max(x, a + inside), b - inside))
            )
    return total


@dataclass(frozen=True)
class Flight:
    """Steps or a bench as a solid standing in the water, in metres: how long along its wall, how far out, how
    high, in how many equal steps.

    One step is a bench. Drawn at an end of the pool; where it stands does not change the volume.
    """

    along_m: float
    out_m: float
    high_m: float
    steps: int = 1

    @property
    def volume_l(self) -> float:
        """Litres of water it displaces: n equal steps fill (n + 1) / 2n of their box.

        >>> Flight(2, 0.5, 1).volume_l, Flight(2, 1, 1, 4).volume_l
        (1000.0, 1250.0)
        """
        return 1000 * self.along_m * self.out_m * self.high_m * (self.steps + 1) / (2 * self.steps)

    def profile(self) -> tuple[tuple[float, float], ...]:
        """Its top from the wall outwards: (distance from the wall, height over the floor), step by step."""
        tread, rise = self.out_m / self.steps, self.high_m / self.steps
        corners: list[tuple[float, float]] = []
        for i in range(self.steps):
            height = self.high_m - i * rise
            corners += [(i * tread, height), ((i + 1) * tread, height)]
        return (*corners, (self.out_m, 0.0))


def area_m2(outline: Outline) -> float:
    """Surface, from the widths."""
    return _integral(outline.width_at, sorted({0.0, *outline.cuts_m, outline.length_m}))


def volume_l(outline: Outline, floor: Floor) -> float:
    """Litres: the integral of width times depth along the length.

    >>> round(volume_l(rectangle(10, 5), sloped(1, 2, 10)))
    75000
    """
    cuts = sorted({0.0, *outline.cuts_m, *(x for x, _ in floor.points), outline.length_m})
    return 1000 * _integral(lambda x: outline.width_at(x) * floor.depth_at(x), cuts)


def drawn(outline: Outline, steps: int = 60) -> tuple[tuple[float, float], ...]:
    """The plan as a closed polygon (distance along, distance across), its middle line at 0."""
    ends = [(a, b) for a, b in pairwise(sorted({0.0, *outline.cuts_m, outline.length_m})) if b > a]
    # Dense at both ends of each piece, and a hair inside them: round ends rise steeply, a step is upright.
    xs = [
        a + (b - a) * min(max((1 - math.cos(math.pi * i / steps)) / 2, 1e-9), 1 - 1e-9)
        for a, b in ends
        for i in range(steps + 1)
    ]
    top = [(x, outline.bend_at(x) + outline.width_at(x) / 2) for x in xs]
    return (*top, *((x, outline.bend_at(x) - outline.width_at(x) / 2) for x in reversed(xs)))
