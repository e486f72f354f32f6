"""The calculator for scripts: JSON in, JSON out, no database. ``docs/calc.md`` describes it."""

NAMES = ("speciation", "saturation", "effect", "dose", "dilute", "aerate", "plan")
