"""What the screens need to know of the trade: measures with limits, methods, products, reasons."""

from dataclasses import asdict

from pydantic import BaseModel

from kumpan.api.deps import InScope
from kumpan.api.routes import Routes
from kumpan.core.amounts import System, units_for
from kumpan.core.clearup.identify import QUESTIONS
from kumpan.core.clearup.incidents import DROPPINGS, INCIDENTS
from kumpan.core.clearup.propose import CAUSES
from kumpan.core.clearup.tables import ACTIVES, SEVERITIES
from kumpan.core.clearup.tables import KINDS as ALGAE
from kumpan.core.complaints.rows import COMPLAINTS
from kumpan.core.dosing.supply import ROLE_LABELS
from kumpan.core.guidance.conditions import SEEN
from kumpan.core.guidance.reasons import REASONS, Reason
from kumpan.core.guidance.schools import SCHOOLS
from kumpan.core.machines.bath import ACIDS, PARTS
from kumpan.core.pool.equipment import KINDS
from kumpan.core.pool.traits import POOL_CHOICES, SETTINGS
from kumpan.core.pool.volume import TYPICAL
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.products.decay import ages
from kumpan.core.products.label import by_label
from kumpan.core.products.product import Product
from kumpan.core.products.supplies import SUPPLIES
from kumpan.core.records import units_in
from kumpan.core.units import UNIT_LABELS, c_to_f
from kumpan.core.water.measures import MEASURES, Measure
from kumpan.core.water.methods import METHODS, Method

router = Routes("meta")


class MeasureMeta(BaseModel):
    """A measure with its limits in the person's unit. extra: not asked for at every test; usual_method: how
    it is read where the kit at hand does not read it.
    """

    id: str
    label: str
    short: str
    unit: str
    decimals: int
    least: float
    most: float
    extra: bool
    usual_method: str


class MethodMeta(BaseModel):
    """A test method: step of an arrow key, 95 % uncertainty and ppm a drop per measure."""

    id: str
    label: str
    reads: list[str]
    steps: dict[str, float]
    u95: dict[str, float]
    per_drop: dict[str, float]


class UnitMeta(BaseModel):
    """A unit with its label."""

    id: str
    label: str


class ProductMeta(BaseModel):
    """A product with its usual strength as a fraction, and the units it is poured in."""

    id: str
    name: str
    short: str
    roles: list[str]
    strength: float | None
    most_strength: float
    strength_means: str
    ages: bool
    by_label: bool
    units: list[UnitMeta]


class ChoiceMeta(BaseModel):
    """An answer; refused says why Kumpan does not take it, costs what not knowing it means."""

    id: str
    label: str
    refused: str | None = None
    costs: str | None = None


class QuestionMeta(BaseModel):
    """A question of where a pool stands, and its answers."""

    id: str
    label: str
    choices: list[ChoiceMeta]


class SchoolMeta(BaseModel):
    """A school of chlorine."""

    id: str
    label: str
    what: str
    caution: str
    reason_id: str


class LookMeta(BaseModel):
    """A question of the guided look, and its answers."""

    id: str
    label: str
    choices: list[ChoiceMeta]


class ClearUpMeta(BaseModel):
    """What a clear-up asks: the guided look, why one shocks, how bad a bloom is and of which kind, what is in
    an algae product, what fouled the water. droppings: what no table of ours decides.
    """

    questions: list[LookMeta]
    causes: list[ChoiceMeta]
    severities: list[ChoiceMeta]
    kinds: list[ChoiceMeta]
    actives: list[ChoiceMeta]
    incidents: list[ChoiceMeta]
    droppings: str


class GuideQuestionMeta(QuestionMeta):
    """What a guide asks before it begins where the equipment does not say: choices, or a number in a unit."""

    units: list[UnitMeta]


class Meta(BaseModel):
    """Everything the forms need."""

    measures: list[MeasureMeta]
    methods: list[MethodMeta]
    products: list[ProductMeta]
    supplies: list[ChoiceMeta]
    roles: dict[str, str]
    pool_choices: dict[str, list[ChoiceMeta]]
    settings: list[QuestionMeta]
    guide_questions: list[GuideQuestionMeta]
    typical_pools: list[ChoiceMeta]
    reasons: dict[str, Reason]
    schools: list[SchoolMeta]
    seen: list[ChoiceMeta]
    clear_up: ClearUpMeta
    complaints: list[ChoiceMeta]


# What an arrow key moves a reading by where the method says nothing of it.
_PLAIN_STEP = {"ph": 0.1, "temp": 1.0}
_MEANS = {
    "trade": "g chlorine per 100 mL",
    "weight": "by weight",
    "available": "available chlorine",
    "label": "by label",
}


@router.get("/meta")
def get_meta(scope: InScope) -> Meta:
    """Measures, methods, products, choices and reasons, in the person's units."""
    system = scope.run(lambda c: c.unit_system)
    return Meta(
        measures=[_measure(m, system) for m in MEASURES.values()],
        methods=[_method(m) for m in METHODS.values()],
        products=[_product(p, system) for p in PRODUCTS.values()],
        supplies=_supplies(),
        roles=ROLE_LABELS,
        pool_choices={q: [ChoiceMeta(**asdict(c)) for c in choices] for q, choices in POOL_CHOICES.items()},
        settings=[
            QuestionMeta(id=id, label=q.label, choices=[ChoiceMeta(**asdict(c)) for c in q.choices])
            for id, q in SETTINGS.items()
        ],
        guide_questions=_guide_questions(system),
        typical_pools=[ChoiceMeta(id=t.id, label=t.label) for t in TYPICAL],
        reasons=REASONS,
        schools=[SchoolMeta(**asdict(s)) for s in SCHOOLS.values()],
        seen=[ChoiceMeta(id=c.id, label=c.label) for c in SEEN.values()],
        clear_up=_clear_up(),
        complaints=[ChoiceMeta(id=c.id, label=c.sees) for c in COMPLAINTS.values()],
    )


def _clear_up() -> ClearUpMeta:
    return ClearUpMeta(
        questions=[
            LookMeta(id=q.id, label=q.ask, choices=[ChoiceMeta(id=a, label=text) for a, text in q.choices])
            for q in QUESTIONS
        ],
        causes=[ChoiceMeta(id=c.id, label=c.label) for c in CAUSES.values()],
        severities=[
            ChoiceMeta(id=s.id, label=f"{s.label[:1].upper()}{s.label[1:]}: {s.seen}")
            for s in SEVERITIES.values()
        ],
        kinds=[ChoiceMeta(id=k.id, label=k.label) for k in ALGAE.values()],
        actives=[ChoiceMeta(id=a.id, label=a.label) for a in ACTIVES.values()],
        incidents=[ChoiceMeta(id=i.id, label=i.label) for i in INCIDENTS.values()],
        droppings=DROPPINGS,
    )


def _guide_questions(system: System) -> list[GuideQuestionMeta]:
    """Of a filter its medium and valve; of an acid bath the container, its parts and the acid."""
    chosen = {name: KINDS["filter"].field(name) for name in ("medium", "valve")}
    choices = {
        name: [ChoiceMeta(id=id, label=text) for id, text in field.choices if id != "none"]
        for name, field in chosen.items()
    }
    parts = [ChoiceMeta(id=f"{n:g}", label=f"{n:g} parts of water to one") for n in reversed(PARTS)]
    acids = [ChoiceMeta(id=id, label=PRODUCTS[id].name) for id in ACIDS]
    units = [UnitMeta(id=id, label=text) for id, text in units_in("bath", system)]
    usual: dict[str, tuple[str, list[ChoiceMeta]]] = {
        "medium": ("It filters with", choices["medium"]),
        "valve": ("Its valve", choices["valve"]),
        "container": ("What covers the plates", []),
        "parts": ("How strong", parts),
        "acid": ("Acid", acids),
    }
    return [
        GuideQuestionMeta(id=id, label=label, choices=held, units=units if id == "container" else [])
        for id, (label, held) in usual.items()
    ]


def _supplies() -> list[ChoiceMeta]:
    return [ChoiceMeta(id=s.id, label=s.name) for s in SUPPLIES.values()]


def _measure(m: Measure, system: System) -> MeasureMeta:
    fahrenheit = m.id == "temp" and system == "us"
    return MeasureMeta(
        id=m.id,
        label=m.label,
        short=m.short,
        unit="°F" if fahrenheit else m.unit,
        decimals=m.decimals,
        least=c_to_f(m.least) if fahrenheit else m.least,
        most=c_to_f(m.most) if fahrenheit else m.most,
        extra=m.extra,
        usual_method=m.usual_method,
    )


def _method(m: Method) -> MethodMeta:
    return MethodMeta(
        id=m.id,
        label=m.label,
        reads=sorted(m.reads),
        steps=_PLAIN_STEP | {n: w.step for n, w in m.reads.items()},
        u95={n: w.u95 for n, w in m.reads.items()},
        per_drop={n: w.per_drop for n, w in m.reads.items() if w.per_drop is not None},
    )


def _product(p: Product, system: System) -> ProductMeta:
    return ProductMeta(
        id=p.id,
        name=p.name,
        short=p.short,
        roles=list(p.roles),
        strength=None if p.basis == "label" else p.strength,
        most_strength=p.most_strength,
        strength_means=_MEANS[p.basis],
        ages=ages(p),
        by_label=by_label(p),
        units=[UnitMeta(id=u, label=UNIT_LABELS[u]) for u in units_for(form_of(p), system)],
    )
