"""Random plans poured into PHREEQC, step by step: the water each step promises, as poured and once its
chlorine is spent.

Tolerances as asked of doses (check values): pH 0.03, TA 1 ppm, the rest 1 %; 0.03 a step more where a plan is
long, for steps add up.
"""

import random
from datetime import UTC, datetime

import pytest

from kumpan.core.dosing.planner import make_plan
from kumpan.core.dosing.request import Choice, PlanRequest
from kumpan.core.guidance.schools import SCHOOLS
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import gal_to_l
from phreeqc import Phreeqc
from waters import CHLORINE, FORMULAS, in_phreeqc, possible_waters

NOW = datetime(2026, 7, 14, 12, tzinfo=UTC)
_FAMILY = {
    "liquid-chlorine-10": "liquid-chlorine-12.5",
    "bleach-6": "liquid-chlorine-12.5",
    "bleach-8.25": "liquid-chlorine-12.5",
    "cal-hypo-73": "cal-hypo-65",
    "muriatic-14.5": "muriatic-31.45",
    "calcium-chloride-94": "calcium-chloride-77",
    "calcium-chloride-100": "calcium-chloride-77",
}
_CHOSEN = {
    "raise_fc": ["liquid-chlorine-12.5", "bleach-6", "cal-hypo-65", "dichlor-56"],
    "lower_ph": ["muriatic-31.45", "dry-acid-93.2"],
    "raise_ph": ["soda-ash", "borax", "borax-pentahydrate"],
    "raise_ch": ["calcium-chloride-77", "calcium-chloride-94"],
}


def test_the_water_after_every_step_of_random_plans(reference: Phreeqc) -> None:
    rng, steps = random.Random(4), 0
    waters = possible_waters(
        21,
        130,
        ph=(6.7, 8.3),
        ta_ppm=(40, 230),
        ch_ppm=(20, 900),
        cya_ppm=(0, 90),
        salt_ppm=(300, 4500),
        fc_ppm=(0, 9),
        borate_ppm=(0, 30),
    )
    for water in waters:
        pool = PoolTraits(
            gal_to_l(rng.uniform(3_000, 60_000)),
            rng.choice(["plaster", "vinyl"]),
            rng.choice(["liquid", "chlorinator", "tablets"]),
            "in_ground",
            school=rng.choice(list(SCHOOLS)),
        )
        chosen = {role: Choice(rng.choice(ids)) for role, ids in _CHOSEN.items()}
        plan = make_plan(PlanRequest(pool, water, NOW, chosen))
        poured = spent = in_phreeqc(reference, water)
        for index, step in enumerate(s for s in plan.steps if s.water is not None):
            assert step.water is not None and step.spent is not None
            if step.kind == "dilute":
                break  # what tap water brings is not tested here: mixing has a check of its own
            if step.kind == "aerate":
                # Air takes out CO2 until pH reads what the step says; the water with its chlorine in loses
                # the same CO2.
                gone = reference.amount_to(spent.number, "CO2", step.to_ph, -1e-4)
                spent, poured = (
                    reference.react(spent.number, {"CO2": gone}),
                    reference.react(poured.number, {"CO2": gone}),
                )
            elif step.product_id and step.amount:
                product = PRODUCTS[step.product_id]
                moles = product.moles_per_unit(step.strength) * step.amount.canonical / pool.volume_l
                formulas = {f: n * moles for f, n in FORMULAS[_FAMILY.get(product.id, product.id)].items()}
                if product.id == "borax-pentahydrate":
                    formulas = {f: n * moles for f, n in FORMULAS["borax"].items()}
                cl2 = sum(CHLORINE.get(f, 0) * n for f, n in formulas.items())
                poured, spent = (
                    reference.react(poured.number, formulas),
                    reference.react(spent.number, formulas),
                )
                if cl2 > 0:
                    spent = reference.react(spent.number, {"HClxO": -cl2, "HCl": cl2})
            off = 0.03 + 0.003 * index
            for ours, theirs in ((step.water, poured), (step.spent, spent)):
                assert ours.ph == pytest.approx(theirs.ph, abs=off), (water, step.title)
                assert ours.ta_ppm == pytest.approx(theirs.ta_ppm, abs=1 + 0.05 * index)
                for field in ("fc_ppm", "cya_ppm", "ch_ppm", "borate_ppm"):
                    assert getattr(ours, field) == pytest.approx(
                        getattr(theirs, field), rel=0.01, abs=0.02
                    ), field
            steps += 1
    assert steps > 150
