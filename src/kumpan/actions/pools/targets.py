"""A pool's school, its own targets, its fill water, and what else decides doses; from text as typed."""

from dataclasses import dataclass, field
from typing import Literal
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.core.errors import FieldProblem, InvalidInput, check_revision
from kumpan.core.guidance.own_targets import checked_override
from kumpan.core.guidance.schools import FC_CAP, SCHOOLS
from kumpan.core.pool.traits import SETTINGS
from kumpan.core.units import gal_to_l, parse_number
from kumpan.core.water.measures import MEASURES
from kumpan.store import care, queries
from kumpan.store.tables.pools import Pool

STAINING = tuple(m.id for m in MEASURES.values() if m.stains_from)
FILL_MEASURES = ("ph", "ta", "ch", "cya", "salt", *STAINING)


@dataclass(frozen=True)
class TargetInput:
    """One target as typed; all empty: the school's."""

    low: str = ""
    aim: str = ""
    high: str = ""
    why: str = ""


@dataclass(frozen=True)
class SettingsInput:
    """What the Pool page sets beside the pool itself. answers: by question (``SETTINGS``); fill: the fill
    water's own test; hose: an hour's worth, gallons or litres; label_fc: the most chlorine, ppm, that the
    product's label lets one swim in."""

    school: str
    borate_allowed: bool
    answers: dict[str, str] = field(default_factory=dict)
    label_fc: str = ""
    targets: dict[str, TargetInput] = field(default_factory=dict)
    fill: dict[str, str] = field(default_factory=dict)
    hose: str = ""
    hose_unit: Literal["gal", "l"] = "gal"


def change_settings(context: Context, pool_id: UUID, chosen: SettingsInput, revision: int) -> Pool:
    """Change a pool's school, targets and fill water, if nobody changed it since. Raises InvalidInput at each
    wrong field.
    """
    pool = queries.pool(context.session, context.account.id, pool_id, lock=True)
    check_revision(pool.revision, revision, "pool")
    problems: list[FieldProblem] = []
    if chosen.school not in SCHOOLS:
        problems.append(FieldProblem("school", "unknown_choice", "Choose one of the answers."))
    for name, answer in chosen.answers.items():
        if name not in SETTINGS or not SETTINGS[name].allows(answer):
            problems.append(FieldProblem(f"answers.{name}", "unknown_choice", "Choose one of the answers."))
    targets, fill = _targets(chosen, problems), _fill(chosen, problems)
    hose = _number(chosen.hose, "hose", problems)
    if hose is not None and not 10 <= hose <= 20_000:
        problems.append(
            FieldProblem(
                "hose", "out_of_range", "A hose gives between 10 and 20,000 an hour. Is this an hour's worth?"
            )
        )
    label_fc = _number(chosen.label_fc, "label_fc", problems)
    if label_fc is not None and not 1 <= label_fc <= FC_CAP:
        text = f"Labels let people swim in 1 to {FC_CAP:g} ppm. Leave it empty where yours says nothing."
        problems.append(FieldProblem("label_fc", "out_of_range", text))
    if problems:
        raise InvalidInput(*problems)
    pool.school = chosen.school
    pool.settings = {
        **{name: chosen.answers.get(name, question.usual) for name, question in SETTINGS.items()},
        "label_fc_ppm": label_fc,
        "borate_allowed": chosen.borate_allowed,
        "targets": targets,
        "fill": fill,
        "care": care.chosen_of(pool),
        "hose_l_h": None if hose is None else gal_to_l(hose) if chosen.hose_unit == "gal" else hose,
        "typed": {
            "fill": chosen.fill,
            "hose": chosen.hose,
            "hose_unit": chosen.hose_unit,
            "label_fc": chosen.label_fc,
            "targets": {m: vars(t) for m, t in chosen.targets.items() if m in targets},
        },
    }
    pool.revision += 1
    care.fit(context.session, pool, context.now)
    return pool


def _number(text: str, path: str, problems: list[FieldProblem]) -> float | None:
    if not text.strip():
        return None
    try:
        return parse_number(text, path)
    except InvalidInput as error:
        problems += error.fields
        return None


def _targets(chosen: SettingsInput, problems: list[FieldProblem]) -> dict[str, dict[str, object]]:
    overrides: dict[str, dict[str, object]] = {}
    for measure, typed in chosen.targets.items():
        if not any(t.strip() for t in (typed.low, typed.aim, typed.high)):
            continue
        path, before = f"targets.{measure}", len(problems)
        low, aim, high = (_number(getattr(typed, n), f"{path}.{n}", problems) for n in ("low", "aim", "high"))
        if len(problems) > before:
            continue
        try:
            overrides[measure] = vars(checked_override(measure, (low, aim, high), typed.why[:200], path))
        except InvalidInput as error:
            problems += error.fields
    return overrides


def _fill(chosen: SettingsInput, problems: list[FieldProblem]) -> dict[str, float]:
    overrides = {}
    for measure, text in chosen.fill.items():
        path = f"fill.{measure}"
        if measure not in FILL_MEASURES:
            problems.append(
                FieldProblem(path, "unknown_measure", "Kumpan does not use this measure of fill water.")
            )
            continue
        value = _number(text, path, problems)
        m = MEASURES[measure]
        if value is not None and not m.least <= value <= m.most:
            problems.append(
                FieldProblem(path, "out_of_range", f"{m.label} reads {m.least:g} to {m.most:,g}.")
            )
        elif value is not None:
            overrides[measure] = value
    return overrides
