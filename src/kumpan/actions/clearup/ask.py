"""What a run follows from: what the person says, the log's water, the pool and the shelf."""

from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from kumpan.actions.context import Context
from kumpan.core.clearup import tables as t
from kumpan.core.clearup.incidents import INCIDENTS
from kumpan.core.clearup.prevention import is_back
from kumpan.core.clearup.propose import CAUSES, Fitting, OtherMeans, other_means, schools_for
from kumpan.core.clearup.run import Run, Site, level_of
from kumpan.core.clearup.slow import takes_tablets
from kumpan.core.dosing.request import AtHand, Choice
from kumpan.core.dosing.supply import forbidden, supply_for
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.guidance.schools import DAILY_DEMAND_PPM
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import G_PER_LB
from kumpan.core.water.estimate.present import Present
from kumpan.core.water.methods import METHODS
from kumpan.core.water.state import WaterState, with_measures
from kumpan.store import queries
from kumpan.store.runs import past_of, site_of
from kumpan.store.tables.pools import Pool
from kumpan.store.water import present_of

_SHOCKED_WITHIN = timedelta(hours=24)
_DAY_APART = "Chlorine went in within the last day: keep them a day apart."
# A pack up to this is a bag, poured whole or in parts (common practice: 1-lb bags).
_BAG_MOST_G = 2.5 * G_PER_LB
# The chlorine a run may be done with; tablets lift nothing today.
CHLORINES = tuple(p.id for p in PRODUCTS.values() if "raise_fc" in p.roles and p.form != "tablet")


@dataclass(frozen=True)
class Asked:
    """What the person says. severity: of a bloom; cause: why a shock, which kind of algae, what happened;
    answers: of the guided look; school, product_id: empty for what is proposed; algae_product: what is in
    one that is at hand, empty for none.
    """

    aim: str = "algae"
    cause: str = ""
    severity: str = ""
    looks: int = 2
    method: str = "drops"
    school: str = ""
    means: str = "chlorine"
    product_id: str = ""
    algae_product: str = ""
    answers: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Proposed:
    """A run as it would begin now, and what it was worked out from. means: what else would do for a plain
    shock; air_c: the warmest of the days to come, None where not known.
    """

    run: Run
    site: Site
    present: Present
    at_hand: tuple[AtHand, ...]
    measures: dict[str, float]
    refused: str
    means: tuple[OtherMeans, ...]
    air_c: float | None


def checked(asked: Asked) -> Asked:
    """The same, if it can be. Raises InvalidInput at the field."""
    allowed = {
        "aim": ("algae", "shock", "demand", "incident"),
        "severity": ("", *t.SEVERITIES),
        "school": ("", *t.SCHOOLS),
        "means": ("chlorine", "oxidiser", "boost"),
        "product_id": ("", *CHLORINES),
        "method": tuple(m for m in METHODS if "fc" in METHODS[m].reads),
        "looks": (1, 2, 4),
        "algae_product": ("", *t.ACTIVES),
    }
    problems = [
        FieldProblem(name, "unknown_choice", "Choose one of the answers.")
        for name, values in allowed.items()
        if getattr(asked, name) not in values
    ]
    if asked.aim == "shock" and asked.cause not in CAUSES:
        problems.append(FieldProblem("cause", "unknown_choice", "Say why."))
    if asked.aim == "incident" and asked.cause not in INCIDENTS:
        problems.append(FieldProblem("cause", "unknown_choice", "Say what happened."))
    if asked.aim != "shock" and asked.means != "chlorine":
        problems.append(FieldProblem("means", "unknown_choice", "Only chlorine does this."))
    if problems:
        raise InvalidInput(*problems)
    return asked


def proposed(context: Context, pool: Pool, id: UUID, asked: Asked) -> Proposed:
    """The run that would begin now. A severity left open counts as the middle one, told where it matters."""
    here = context.now.astimezone(ZoneInfo(pool.time_zone))
    present, site = present_of(context.session, pool, context.now), site_of(pool)
    at_hand = queries.at_hand(context.session, context.account.id, context.now) or ()
    known = {m: e.value for m, e in present.measures.items() if _lasts(m, e.age_days, e.usable)}
    water = with_measures(WaterState(), known)
    choice, refused = _product(site, water, asked, at_hand)
    severity = asked.severity or "steps"
    run = Run(
        str(id),
        here,
        asked.aim,  # type: ignore[arg-type]
        "once",
        _cause(asked),
        means=asked.means,  # type: ignore[arg-type]
        severity=severity if asked.aim == "algae" else None,  # type: ignore[arg-type]
        looks=asked.looks,
        method=asked.method,
        product_id=choice.product_id,
        strength=choice.strength,
        bag_g=_bag_g(choice, at_hand),
        place=_place(pool),
        water=water,
        back=is_back(past_of(context.session, pool, here, context.now)),
    )
    level = level_of(run, site, water.cya_ppm, _combined(asked, known), water.temp_c)
    run = replace(run, level_ppm=level)
    school = asked.school or schools_for(_fitting(run, site))[0].school.id
    chosen = school if run.aim == "algae" else "once"
    run = replace(run, school=chosen)  # type: ignore[arg-type]
    refused = refused or refused_product(run, site)
    means = _means(context, pool, site, run) if run.aim == "shock" else ()
    return Proposed(
        run, site, present, at_hand, known, refused, means, _warmest_c(context, pool, here.date())
    )


def _cause(asked: Asked) -> str:
    """What is kept of why: of algae the kind alone, green where nobody said."""
    if asked.aim == "algae":
        return asked.cause if asked.cause in t.KINDS else "green"
    return "" if asked.aim == "demand" else asked.cause


def refused_product(run: Run, site: Site) -> str:
    """Why a run may not be done with its product; empty where it may (common practice)."""
    dry, tablets = PRODUCTS[run.product_id].form == "dry", site.feeds == "tablets"
    if run.aim == "incident" and run.product_id.startswith("dichlor"):
        return "It adds stabilizer, which the table asks to be little of. Liquid chlorine instead."
    if run.school != "every_other":
        return ""
    if run.product_id.startswith("cal-hypo") and tablets:
        return "Never calcium hypochlorite where trichlor is in use: together they explode."
    if dry and not takes_tablets(site):
        return "Without tablets in a feeder between the rounds this school goes by liquid, each dusk."
    return ""


def fitting(prop: Proposed) -> Fitting:
    """What a school has to fit for this run."""
    return _fitting(prop.run, prop.site)


def _fitting(run: Run, site: Site) -> Fitting:
    return Fitting(site, run.method, run.looks, run.level_ppm, run.kind, run.severity or "")


def _place(pool: Pool) -> tuple[float, float] | None:
    return None if pool.latitude is None or pool.longitude is None else (pool.latitude, pool.longitude)


def _means(context: Context, pool: Pool, site: Site, run: Run) -> tuple[OtherMeans, ...]:
    """What else would do for a plain shock; an oxidiser keeps a day from chlorine poured."""
    recent = queries.doses_since(context.session, pool.id, context.now - _SHOCKED_WITHIN)
    shocked = any(product in CHLORINES for product, _, _ in recent)
    found = other_means(site, run.water, run.level_ppm, DAILY_DEMAND_PPM)
    return tuple(
        replace(m, can=False, why=_DAY_APART) if m.means == "oxidiser" and m.can and shocked else m
        for m in found
    )


def _warmest_c(context: Context, pool: Pool, today: date) -> float | None:
    """The warmest air of the days to come; None where no weather is known."""
    days = queries.weather_days(context.session, pool.id, today, today + timedelta(days=5))
    return max((d.high_c for d in days), default=None)


# How many days the log's figure of a measure may stand in until the run's own first test (our own).
_STANDS_IN_DAYS = {
    "fc": 1.0,
    "cc": 1.0,
    "ph": 1.0,
    "cya": 45.0,
    "temp": 45.0,
    "ta": 45.0,
    "ch": 45.0,
    "salt": 45.0,
}


def _lasts(measure: str, age_days: float, usable: bool) -> bool:
    """Whether the log's figure may stand in: as long as a dose may be worked out on it, and what a run needs
    a little longer.
    """
    return usable or age_days <= _STANDS_IN_DAYS.get(measure, 0.0)


def _combined(asked: Asked, known: dict[str, float]) -> float | None:
    coarse = METHODS[asked.method].coarse
    return None if coarse else known.get("cc")


def _product(site: Site, water: WaterState, asked: Asked, at_hand: tuple[AtHand, ...]) -> tuple[Choice, str]:
    """The chlorine for it: the person's, if it may be used here, else what stands ready and may, else liquid;
    and why the person's may not.
    """
    wanted = {"raise_fc": Choice(asked.product_id)} if asked.product_id else {}
    supply = supply_for(site.traits, water, wanted, at_hand)
    refused = forbidden(PRODUCTS[asked.product_id], site.traits, water) if asked.product_id else None
    return supply.choices["raise_fc"], refused or ""


def _bag_g(choice: Choice, at_hand: tuple[AtHand, ...]) -> float | None:
    """What a bag of it holds, where it stands ready in bags."""
    packs = [a.pack for a in at_hand if a.product_id == choice.product_id and a.pack]
    dry = PRODUCTS[choice.product_id].form == "dry"
    return packs[0] if dry and packs and packs[0] <= _BAG_MOST_G else None
