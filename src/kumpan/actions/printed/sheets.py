"""What stands on each sheet of paper."""

from uuid import UUID
from zoneinfo import ZoneInfo

from kumpan.actions.context import Context
from kumpan.actions.printed.paper import Line, Page, checked_size, pdf
from kumpan.actions.seasons.known import Known
from kumpan.actions.seasons.view import parts_of
from kumpan.actions.sheets.order import sheet_view
from kumpan.actions.sheets.view import Sheet, SheetStep
from kumpan.actions.today.run_sheet import Today, today
from kumpan.store import queries
from kumpan.store.tables.pools import Pool

_CLOSED = ("done", "skipped")


def plan_paper(context: Context, sheet_id: UUID, size: str) -> bytes:
    """A sheet under way or done on one page, with boxes to tick."""
    checked_size(size)
    sheet = sheet_view(context, sheet_id)
    pool = queries.pool(context.session, context.account.id, sheet.pool_id)
    return pdf(Page(_headline(sheet, pool), _below(sheet), _steps(sheet), _foot(context, pool)), size)


def _headline(sheet: Sheet, pool: Pool) -> str:
    return f"{sheet.name}: {pool.name}" + (f", {sheet.day_words}" if sheet.day_words else "")


def _below(sheet: Sheet) -> tuple[str, ...]:
    lines = [sheet.swim] if sheet.swim else []
    if any(s.guide is not None and s.guide.helper for s in sheet.steps):
        lines.append("2p: by two people. Labels, local codes and licensed trades come first.")
    return tuple(lines)


def _steps(sheet: Sheet) -> tuple[Line, ...]:
    rows, day = list[Line](), ""
    for step in sheet.steps:
        if step.day_words != day:
            day = step.day_words
            rows.append(Line(day, head=True, box=False))
        rows.append(_step(step))
    return tuple(rows)


def _step(step: SheetStep) -> Line:
    """A step: its caution is kept longest, then how it is done."""
    shown, plan = step.guide, step.plan
    if shown is not None:
        minutes = f"{shown.takes_min:.0f} min" if shown.takes_min else ""
        needed = "if needed" if step.if_needed else ""
        aside = " · ".join(filter(None, (needed, minutes, "2p" if shown.helper else "")))
        return Line(shown.title, aside, _under(shown.caution, shown.how), ticked=step.state in _CLOSED)
    assert plan is not None
    title = f"{plan.amount.text} {plan.title}" if plan.amount else plan.title
    first = plan.sentence.partition(". ")[0] if step.day_words and plan.kind == "add" else ""
    title = f"{first}: {title}" if first else title
    return Line(title, plan.gap, _under(plan.caution, plan.how), ticked=step.state in _CLOSED)


def _under(*texts: str) -> tuple[str, ...]:
    return tuple(text for text in texts if text)


def _foot(context: Context, pool: Pool) -> str:
    here = context.now.astimezone(ZoneInfo(pool.time_zone))
    made = f"{here:%a} {here.day} {here:%b %Y}, {here:%H:%M}"
    return f"Kumpan · {pool.name}, {pool.place} · {made} · advises, does not certify"


def today_paper(context: Context, pool_id: UUID, size: str) -> bytes:
    """Today on one page: the water, what is under way, what is due."""
    checked_size(size)
    pool = queries.pool(context.session, context.account.id, pool_id)
    told = today(context, pool_id)
    planned = next((s.swim for s in told.sheets if s.swim), "")
    below = [told.swim.sentence] if told.swim is not None else [planned] if planned else []
    below += [told.test_due_words] if told.test_due_words else []
    below += [told.weather.line] if told.weather.line else []
    return pdf(Page(told.headline, tuple(below), _today_rows(told), _foot(context, pool)), size)


def _today_rows(told: Today) -> tuple[Line, ...]:
    rows: list[Line] = []
    if told.lines:
        rows.append(Line("Under way", head=True, box=False))
        rows += [
            Line(line.title, line.clock, _under(line.sheet, line.held and f"Not now: {line.held}"))
            for line in told.lines
        ]
    if told.visit.now:
        rows.append(Line("Due", f"about {told.visit.minutes} min", head=True, box=False))
        rows += [Line(d.title, d.when, _under(d.parts)) for d in told.visit.now]
        if told.visit.bring:
            rows.append(Line(f"Bring: {', '.join(told.visit.bring)}", box=False))
    if told.water_now:
        rows.append(Line("The water now", head=True, box=False, breaks=True))
        rows += [
            Line(f"{w.label} {w.shown}", w.word, _under(w.read, w.span), box=False) for w in told.water_now
        ]
    return tuple(rows)


def parts_paper(context: Context, pool_id: UUID, size: str) -> bytes:
    """Where the parts lie, on one page, with boxes to tick and room to write."""
    checked_size(size)
    pool = queries.pool(context.session, context.account.id, pool_id)
    parts = list(parts_of(Known(context, pool)))
    rows = tuple(Line(f"{p.label}: {p.place}", under=(p.said,)) for p in parts)
    none = (Line("No part was put away by a plan yet.", box=False),)
    headline = f"Where the parts lie: {pool.name}"
    return pdf(Page(headline, (), rows or none, _foot(context, pool), columns=1), size)
