"""One water or a thousand: the few operations that differ between a float and a numpy array.

The equilibria are written once, in plain operators, and take either. numpy is imported only where
arrays come in, so that a single water (and ``kumpan calc``) starts and solves without it.
"""

import math
from collections.abc import Callable
from typing import Any

# Two points nearer than this many tolerances give a slope that can be trusted.
_NEAR = 300.0
# pH: points nearer than this give a better slope than a rough model; nor is half a first step thought longer.
_AFAR, _FARTHEST = 0.2, 2.0
# A float, or a numpy array of floats with one element a water.
Real = Any


def log10(x: Real) -> Real:
    """Base-10 logarithm."""
    if isinstance(x, (float, int)):
        return math.log10(x)
    import numpy

    return numpy.log10(x)


def pick(condition: Any, yes: Real, no: Real) -> Real:
    """``yes`` where the condition holds, else ``no``; element by element for arrays."""
    if isinstance(condition, bool):
        return yes if condition else no
    import numpy

    return numpy.where(condition, yes, no)


def largest(x: Real) -> float:
    """The largest magnitude: of a float, itself."""
    return abs(x) if isinstance(x, (float, int)) else float(abs(x).max())


def root(
    f: Callable[[Real], Real],
    bracket: tuple[Real, Real],
    guess: Real,
    slope: Real | Callable[[Real], Real],
    tolerance: float,
) -> tuple[Real, Real]:
    """Where an increasing function crosses zero inside ``bracket`` (low, high); and its slope there.

    Secant steps from ``guess``, the first with the ``slope`` given, kept inside the bracket that the signs
    found so far leave; a step that would leave it halves the bracket instead. Where ``slope`` is about what
    the function's is at any pH, the first step takes that of half way, and one from afar (a step over
    ``_AFAR``) is followed by another with it. Ends when what is left, by the last slope, is under
    ``tolerance`` and the last step was short (a slope from afar says nothing); that rest is then taken too,
    and the error is far smaller.

    The secant method kept in a bracket, as any text on numerical analysis has it. At most 200 steps.
    """
    (low, high), x0, f0 = bracket, guess, f(guess)
    model = slope if callable(slope) else None
    if model is not None:
        half = f0 / model(x0) / 2
        slope = model(x0 - pick(abs(half) > _FARTHEST, _FARTHEST * half / abs(half + 1e-300), half))
    for _ in range(200):
        low, high = pick(f0 < 0, x0, low), pick(f0 < 0, high, x0)
        x1 = x0 - f0 / slope
        x1 = pick((x1 >= low) & (x1 <= high), x1, (low + high) / 2)
        step = x1 - x0
        f1 = f(x1)
        secant = (f1 - f0) / pick(step == 0, 1.0, step)
        slope = pick(secant > 0, secant, slope)
        if model is not None and largest(step) > _AFAR:
            slope = pick(abs(step) > _AFAR, model(x1), slope)
        x0, f0 = x1, f1
        rest = f0 / slope
        if largest(rest) <= tolerance and largest(step) <= _NEAR * tolerance:
            return x0 - rest, slope
    return x0, slope
