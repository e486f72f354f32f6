"""Before a run begins: what it may be, whether to treat or drain, how, how long, and what to buy."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from uuid import UUID

from kumpan.actions.clearup.ask import (
    CHLORINES,
    Asked,
    Proposed,
    checked,
    fitting,
    proposed,
    refused_product,
)
from kumpan.actions.context import Context
from kumpan.core.clearup import tables as t
from kumpan.core.clearup.compare import Compared, Way, compare
from kumpan.core.clearup.contact import Contact
from kumpan.core.clearup.course import Course
from kumpan.core.clearup.demand import SAYS
from kumpan.core.clearup.dose import Measures, Raise, raise_by, told
from kumpan.core.clearup.foretell import foretell, in_words
from kumpan.core.clearup.identify import Identified, identify
from kumpan.core.clearup.incident import raise_over, waits_for
from kumpan.core.clearup.incidents import INCIDENTS, TEMP_LEAST_C
from kumpan.core.clearup.propose import CAUSES, Fit, OtherMeans, refused_kind, schools_for
from kumpan.core.clearup.shopping import Shelf, ToHave, shopping
from kumpan.core.dosing.supply import forbidden
from kumpan.core.phrasing import terms
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import l_to_gal
from kumpan.core.water.measures import MEASURES
from kumpan.store import queries

_SHOWN_LIKELY = 3
_LEAST_SHARE = 0.02


@dataclass(frozen=True)
class LikelyView:
    """A cause and its odds: share in percent, what speaks for and against it, the test that settles it."""

    id: str
    label: str
    percent: int
    speaks_for: tuple[str, ...]
    against: tuple[str, ...]
    settles: str
    does: str
    algae: bool


@dataclass(frozen=True)
class IdentifiedView:
    """What it may be. verdict: a sentence; named: the one it is, empty while two stand too near."""

    verdict: str
    named: str
    likely: tuple[LikelyView, ...]


@dataclass(frozen=True)
class WayView:
    """Treat, exchange or drain: figures in words. advised: whether it is."""

    id: str
    label: str
    advised: bool
    figures: tuple[tuple[str, str], ...]
    risks: tuple[str, ...]


@dataclass(frozen=True)
class FirstView:
    """What goes in first: how much of what, when, what it brings, and what of an opened bag."""

    amount: str
    product: str
    when: str
    rise: str
    opened: str


@dataclass(frozen=True)
class BloomView:
    """Of algae alone: what it may be, the schools, treat or drain. refuses: why a run is not what helps;
    kit_refused: why not by this kit; kind: what it is led as; product: what an algae product at hand means.
    """

    identified: IdentifiedView
    schools: tuple[Fit, ...]
    ways: tuple[WayView, ...]
    advice: tuple[str, ...]
    refuses: str
    kit_refused: str
    kind: str
    kind_said: str
    product: str


@dataclass(frozen=True)
class ClearUpView:
    """A run as it would begin now. known: (measure, value, when read); missing: measures to read first, and
    why. products: chlorine by id, name, and why it may not be used. foretold: (what, from and to). means: of
    a plain shock; table: of an incident, water and what it asks for;
    of chlorine that does not hold, what may be read and what that says.
    """

    headline: str
    swim: str
    known: tuple[tuple[str, str, str], ...]
    missing: str
    level: str
    level_why: str
    school: str
    bloom: BloomView | None
    means: tuple[OtherMeans, ...]
    table: tuple[tuple[str, str], ...]
    product_id: str
    products: tuple[tuple[str, str, str], ...]
    refused: str
    first: FirstView | None
    foretold: tuple[tuple[str, str], ...]
    shopping: tuple[ToHave, ...]
    reminders: tuple[str, ...]


_SWIM = "No swimming from the first pour until a reading and the floor allow it."
_SWIM_INCIDENT = "Nobody in from now on: until a row is met, the filter is cleaned and a reading allows it."


def preview_run(context: Context, pool_id: UUID, asked: Asked) -> ClearUpView:
    """What a run would be. Nothing is stored."""
    pool = queries.pool(context.session, context.account.id, pool_id)
    prop = proposed(context, pool, pool_id, checked(asked))
    run = prop.run
    measures = Measures(context.unit_system, context.own_measures)
    fc = prop.measures.get("fc", 0.0)
    ahead, first = foretell(run, prop.site, fc), _first(prop, fc, measures)
    once = 0.0 if first is None else first.amount.canonical
    lines = shopping(Shelf(run, prop.site, prop.at_hand, measures), ahead, once)
    ways = None if ahead is None else compare(run, prop.site, ahead, prop.at_hand, prop.air_c)
    identified = identify(asked.answers)
    return ClearUpView(
        headline=_headline(asked, identified, ways, run.back),
        swim=_SWIM if run.aim != "incident" else _SWIM_INCIDENT,
        known=_known(context, prop),
        missing=_missing(prop) if run.aim != "incident" else _waits(prop),
        level="" if run.aim == "incident" else f"{run.level_ppm:.0f} ppm",
        level_why="" if run.aim == "incident" else _level_why(prop),
        school=run.school,
        bloom=None if ways is None else _bloom(context, prop, asked, (identified, ways)),
        means=prop.means,
        table=_table(prop),
        product_id=run.product_id,
        products=_products(prop),
        refused=prop.refused,
        first=None if first is None else _first_view(prop, first, fc),
        foretold=() if ahead is None else in_words(ahead, run, prop.site, measures),
        shopping=lines,
        reminders=_reminders(prop),
    )


def _bloom(context: Context, prop: Proposed, asked: Asked, found: tuple[Identified, Compared]) -> BloomView:
    identified, ways = found
    return BloomView(
        _identified(identified, asked),
        schools_for(fitting(prop)),
        tuple(_way(context, prop, w, ways) for w in ways.ways),
        ways.reasons,
        _refuses(identified, asked),
        refused_kind(prop.run.method, prop.run.looks, prop.run.kind, prop.run.level_ppm),
        prop.run.kind.id,
        prop.run.kind.what,
        t.ACTIVES[asked.algae_product].says if asked.algae_product else "",
    )


def _first_view(prop: Proposed, first: Raise, fc: float) -> FirstView:
    run = prop.run
    name, when = PRODUCTS[run.product_id].named(run.strength), _when(prop, run.next_dusk(run.at))
    return FirstView(first.amount.text, name, when, f"+{first.fc_ppm:.0f} ppm, from {fc:.1f}", first.opened)


def _first(prop: Proposed, fc: float, measures: Measures) -> Raise | None:
    run, litres = prop.run, prop.site.traits.volume_l
    if run.school == "bags":
        return raise_by(run, litres, t.ROUND_PPM, t.ROUND_MOST_PPM, measures)
    if run.school == "every_other":
        return raise_by(run, litres, t.SLOW_ROUND_PPM, 1.1 * t.SLOW_ROUND_PPM, measures)
    if run.aim == "incident":
        row = Contact(_unbegun(prop)).aim
        return None if row is None else raise_over(run, litres, row, fc, measures)
    short = run.level_ppm - fc
    return raise_by(run, litres, short, short * 1.15, measures) if short > 0.5 else None


def _headline(asked: Asked, identified: Identified, ways: Compared | None, back: bool) -> str:
    if asked.aim == "shock":
        return CAUSES[asked.cause].what
    if asked.aim == "demand":
        return "Chlorine that does not hold: raise it in steps, and read what takes it."
    if asked.aim == "incident":
        return (
            f"{INCIDENTS[asked.cause].label}: everyone out, the pool closed, by the health authority's table."
        )
    if identified.named is not None and not identified.named.algae:
        return f"Most likely {identified.named.label.lower()}: no shock before it is settled."
    if ways is not None and ways.advised == "drain":
        return "Drain and fill: here that is quicker and cheaper than treating."
    if ways is not None and ways.advised == "part":
        return "Exchange part of the water first, then treat it."
    if back:
        return "It is back within a week: it never was over. Phosphate, the level to its end, hidden places."
    return "Treat it: it takes days, not hours."


def _identified(found: Identified, asked: Asked) -> IdentifiedView:
    likely = [o for o in found.ranked if o.share >= _LEAST_SHARE][:_SHOWN_LIKELY]
    first, second = found.ranked[0].kind, found.ranked[1].kind
    if not asked.answers:
        verdict = "Answer what you see. Nothing is poured on a guess."
    elif found.named is not None:
        verdict = f"Most likely {found.named.label.lower()}."
    else:
        verdict = f"{first.label} or {second.label.lower()}: too near to tell by the eye."
    return IdentifiedView(
        verdict,
        found.named.id if found.named is not None else "",
        tuple(
            LikelyView(
                o.kind.id, o.kind.label, round(100 * o.share), o.speaks_for, o.against, o.kind.settles,
                o.kind.does, o.kind.algae,
            )
            for o in likely
        ),
    )  # fmt: skip


def _refuses(found: Identified, asked: Asked) -> str:
    """Why a run is not to begin on these answers."""
    if not asked.answers or found.named is None or found.named.id == "green":
        return ""
    if not found.named.algae:
        return f"{found.named.settles} {found.named.does}"
    if found.named.id == asked.cause:
        return ""
    return f"Most likely {found.named.label.lower()}: choose it above. {found.named.does}"


_SHOWN = ("fc", "cc", "ph", "cya", "ta", "temp")


def _known(context: Context, prop: Proposed) -> tuple[tuple[str, str, str], ...]:
    here = prop.run.at
    rows = []
    for m in _SHOWN:
        if m not in prop.measures:
            continue
        e = prop.present.measures[m]
        day = terms.day(here, here - timedelta(days=e.age_days))
        day = day.lower() if day in ("Today", "Yesterday") else day
        rows.append((MEASURES[m].name, terms.show_value(m, e.value, context.unit_system), f"read {day}"))
    return tuple(rows)


def _missing(prop: Proposed) -> str:
    names = [MEASURES[m].name for m in ("cya", "ph") if m not in prop.measures]
    if not names:
        return ""
    why = " Without stabilizer the level is that of 30 ppm." if "cya" not in prop.measures else ""
    return f"The run's first test reads {terms.listed(names)} too.{why}"


def _level_why(prop: Proposed) -> str:
    cya = prop.run.water.cya_ppm
    at = "stabilizer unknown, counted as 30" if cya is None else f"{cya:.0f} ppm stabilizer"
    if prop.run.aim == "algae":
        kind = prop.run.kind
        kills = f"{kind.hocl_ppm:g} ppm of active chlorine at pH 7.5"
        return f"What kills {kind.label.lower()} algae at {at}: {kills}."
    if prop.run.aim == "demand":
        return "In steps, each read half an hour later: what stays is told from what is taken."
    return f"A shock at {at}; combined chlorine counts where it was read."


def _unbegun(prop: Proposed) -> Course:
    return Course(prop.run, prop.site, (), (), prop.run.at)


def _waits(prop: Proposed) -> str:
    """What keeps the table from being used as the water is known."""
    temp = prop.run.water.temp_c
    cold = temp is not None and temp < TEMP_LEAST_C
    said = (waits_for(Contact(_unbegun(prop))), "The water is colder than 77 °F (25 °C)." if cold else "")
    return " ".join(filter(None, said))


def _table(prop: Proposed) -> tuple[tuple[str, str], ...]:
    """The authority's rows for this incident; what readings will say of chlorine that does not hold."""
    if prop.run.aim == "demand":
        return SAYS
    if prop.run.aim != "incident":
        return ()
    incident = INCIDENTS[prop.run.cause]
    most = incident.most_cya_ppm
    some = "Any stabilizer" if most is None else f"Stabilizer up to {most:g} ppm"
    rows = [("No stabilizer", r.words) for r in incident.bare] + [(some, r.words) for r in incident.bound]
    if most is not None:
        rows.append((f"Over {most:g} ppm", "no row: exchange water first"))
    return (*rows, ("Always", "pH 7.5 or less, 77 °F (25 °C) or warmer"))


def _products(prop: Proposed) -> tuple[tuple[str, str, str], ...]:
    """Chlorine products: id, name, and why one may not be used here (empty where it may)."""
    at_hand = {a.product_id for a in prop.at_hand}
    rows = [
        (p, PRODUCTS[p].name + (", at hand" if p in at_hand else ""),
         forbidden(PRODUCTS[p], prop.site.traits, prop.run.water)
         or refused_product(replace(prop.run, product_id=p), prop.site))
        for p in CHLORINES
    ]  # fmt: skip
    return tuple(sorted(rows, key=lambda row: (bool(row[2]), row[0] not in at_hand)))


def _when(prop: Proposed, dusk: datetime) -> str:
    here = prop.run.at
    if prop.run.aim == "incident":
        return "once pH reads 7.5 or less"
    if prop.run.school == "same_day":
        return "now, as soon as the steps before it are done"
    clock = terms.clock(here, dusk)
    if dusk <= here:
        return "tonight, as soon as the steps before it are done"
    return f"at dusk, {clock}" + ("" if prop.run.place else " (the pool's place is not known)")


def _way(context: Context, prop: Proposed, way: Way, of: Compared) -> WayView:
    measures = Measures(context.unit_system, context.own_measures)
    needs: Sequence[str] = [
        f"{told(n.product_id, n.amount, prop.site.traits.volume_l, measures)} {PRODUCTS[n.product_id].short}"
        for n in way.needs
    ]
    cost = way.cost_minor
    metric = context.unit_system == "metric"
    water = f"{way.water_l:,.0f} L" if metric else f"{l_to_gal(way.water_l):,.0f} gal"
    figures = [("Days", f"about {max(1.0, way.days):.0f}")]
    if way.share:
        figures.append(("Water", f"{way.share:.0%}: {water}"))
    figures += [
        ("Takes", terms.listed(list(needs)) if needs else "nothing"),
        ("Costs", "price not on the Shelf" if cost is None else terms.money(cost, context.account.currency)),
        ("Filter", f"cleaned about {way.filter_work:.0f} times" if way.id == "treat" else "cleaned once"),
    ]
    if way.id == "treat":
        figures.insert(
            1, ("Level", f"{of.level_ppm:.0f} ppm" + (", over what is held" if of.level_ppm > 30.5 else ""))
        )
    return WayView(way.id, way.label, way.id == of.advised, tuple(figures), way.risks)


def _reminders(prop: Proposed) -> tuple[str, ...]:
    said = ["Pump on until the level is back.", "Cleaner, toys and heater out of it; cover off."]
    if prop.run.place is None:
        said.append("Enter the pool's place on Pool, and dusk is its own.")
    if prop.run.aim != "algae":
        said.append("The day after: free chlorine and pH.")
    return tuple(said)
