"""Begin a season's plan: an opening, a closing, a drain and restart."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date, time, timedelta
from typing import Any
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.seasons.known import Known
from kumpan.actions.seasons.words import told_closing, told_drain
from kumpan.actions.sheets.start import NewSheet, start_sheet
from kumpan.core.amounts import about
from kumpan.core.chemistry import constants as k
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.pool.sun import sunset_at
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.products.label import label_dose
from kumpan.core.seasons.plan import ASKED_FOR, CHOICES, NAMES, Asked, Planned, Subject
from kumpan.core.seasons.rows import ROWS, plan_for
from kumpan.core.units import G_PER_LB, L_PER_GAL
from kumpan.core.work.sheet import Pour
from kumpan.store import queries
from kumpan.store.stored_sheet import FORM, StoredAmount, StoredStep, guide_act, store_live_step, store_said
from kumpan.store.tables.log import Event
from kumpan.store.tables.pools import Pool
from kumpan.store.tables.sheets import SheetRow, SheetStepRow

SEASON_VERSION = "2026-11-27.1"  # changes when a row, its words or its order does
_IDLE_MIN = 150 * 24 * 60.0  # a plan made long ahead is not left (our own)
_FURTHEST = timedelta(days=366)
# What a pound of 65 % to 10,000 gal brings (the shock of common practice), as chlorine: ppm.
_SHOCK_PPM = G_PER_LB * 0.65 * 1000 / (10_000 * L_PER_GAL)
_DUSK = time(20)  # where the sun of the place is not known (our own)


@dataclass(frozen=True)
class NewSeason(NewSheet):
    """A plan to begin; its subject: opening, closing or drain. day: as typed; given: answers to ``CHOICES``,
    and of a closing's lines pipe_length (``120 ft``), pipe_size and pipe_schedule.
    """

    day: str = ""
    given: Mapping[str, str] = field(default_factory=dict)


def begin_season(context: Context, pool_id: UUID, new: NewSeason) -> Event:
    """Begin a plan made for this pool, or go on with the one of its kind that is under way."""

    def made(pool: Pool, at: object) -> SheetRow:
        if new.subject not in ROWS:
            raise InvalidInput(FieldProblem("subject", "unknown_choice", "There is no such plan."))
        subject: Subject = new.subject
        known = Known(context, pool)
        asked = _asked(known, subject, new)
        return SheetRow(
            subject=subject,
            rule_version=SEASON_VERSION,
            headline=NAMES[subject],
            swim="",
            form=FORM,
            inputs={
                "idle_min": _IDLE_MIN,
                "day": asked.day.isoformat(),
                "chosen": dict(asked.chosen),
                "notes": known.notes_for(subject),
            },
            steps=_rows(known, subject, asked),
        )

    return start_sheet(context, pool_id, new, made)


def _rows(known: Known, subject: Subject, asked: Asked) -> list[SheetStepRow]:
    """The plan's steps as they are stored, each with the minutes it took last time where that is known."""
    took = known.times_of(subject)
    steps = plan_for(subject, asked)
    timed = (replace(one, minutes=took.get(one.step.key, one.minutes)) for one in steps)
    return [_row(known, one, i) for i, one in enumerate(timed)]


def _row(known: Known, one: Planned, position: int) -> SheetStepRow:
    step = one.step
    assert step.planned is not None
    if isinstance(step.act, Pour):
        shown = _pour(known, one, step.act)
    else:
        more: dict[str, Any] = {"takes_min": one.minutes, "helper": one.helper, "part": one.part}
        shown = store_said(step, **more, opens=one.opens, place=one.place)
    return SheetStepRow(key=step.key, position=position, due_at=step.not_before or step.planned, shown=shown)


def _pour(known: Known, one: Planned, act: Pour) -> dict[str, Any]:
    product, said, context = PRODUCTS[act.product_id], one.step.words, known.context
    words = about(
        act.amount, form_of(product), context.unit_system, known.pool.volume_l, context.own_measures
    )
    parts = tuple((p.number, p.unit) for p in words.parts)
    shown = StoredStep(
        one.step.key, "add", product.named(act.strength), said.how, said.caution, f"{said.title}. {said.why}",
        one.step.reason_id, product_id=act.product_id, strength=act.strength,
        amount=StoredAmount(words.value, words.unit, words.text, words.exact, parts),
    )  # fmt: skip
    return store_live_step(shown, guide_act(one.step))


def checked_day(text: str, today: date) -> date:
    """A plan's day as typed. Raises InvalidInput at ``day`` for none, a past one, or one over a year off."""
    try:
        day = date.fromisoformat(text.strip())
    except ValueError:
        raise InvalidInput(FieldProblem("day", "not_a_date", "Choose the day.")) from None
    if day < today:
        raise InvalidInput(FieldProblem("day", "past", "That day is past."))
    if day > today + _FURTHEST:
        raise InvalidInput(FieldProblem("day", "too_late", "Within a year."))
    return day


def _asked(known: Known, subject: Subject, new: NewSeason) -> Asked:
    day = checked_day(new.day, known.today)
    chosen = {name: new.given[name] for name in ASKED_FOR[subject] if new.given.get(name)}
    for name, answer in chosen.items():
        if answer not in CHOICES[name][1]:
            raise InvalidInput(FieldProblem(name, "unknown_choice", "Choose one of the answers."))
    told = {"closing": told_closing, "drain": told_drain}.get(subject)
    return Asked(
        known.site,
        day,
        known.zone,
        known.context.unit_system,
        chosen,
        {part: placed.place for part, placed in known.parts.items()},
        _dusk(known, day),
        _pours(known, subject),
        {} if told is None else told(known, new.given, day),
    )


def _dusk(known: Known, day: date) -> time:
    """Sunset at the pool."""
    pool = known.pool
    if pool.latitude is None or pool.longitude is None:
        return _DUSK
    at = sunset_at(pool.latitude, pool.longitude, day, known.zone)
    return _DUSK if at is None else at.time().replace(second=0, microsecond=0)


def _pours(known: Known, subject: Subject) -> dict[str, Pour]:
    """What is poured by the plan's own rule: the shock, and a kit's oxidiser by its label."""
    pours = {} if subject == "drain" else {"shock": _shock(known)}
    oxidiser = label_dose("non-chlorine-shock", None, known.pool.volume_l, known.context.unit_system)
    if subject == "closing" and oxidiser is not None:
        pours["oxidiser"] = Pour("non-chlorine-shock", None, oxidiser.amount.canonical)
    return pours


def _shock(known: Known) -> Pour:
    """A pound of 65 % to 10,000 gal, or as much chlorine of what stands ready; liquid with a cell and on a
    liner, whose calcium and grains want none.
    """
    session, context = known.context.session, known.context
    shelf = queries.at_hand(session, context.account.id, context.now) or ()
    soft = known.site.traits.has_chlorinator or known.site.traits.surface in ("vinyl", "soft")
    kinds = ("liquid-chlorine",) if soft else ("liquid-chlorine", "cal-hypo")
    fit = next((a for a in shelf if a.product_id.startswith(kinds)), None)
    product, strength = ("liquid-chlorine-12.5", None) if fit is None else (fit.product_id, fit.strength)
    per = PRODUCTS[product].change_per_unit(known.pool.volume_l, strength).cl2 * k.CL2 * 1000
    return Pour(product, strength, _SHOCK_PPM / per)
