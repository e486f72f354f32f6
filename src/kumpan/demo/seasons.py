"""The sample's openings and closings: as entries, and the plan by which the last closing was done."""

from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from uuid6 import uuid7

from kumpan.actions.context import Context
from kumpan.actions.seasons.begin import NewSeason, begin_season
from kumpan.demo.lives import Entry
from kumpan.store.tables.log import EntryRow, Event, MarkRow
from kumpan.store.tables.pools import Pool
from kumpan.store.work import moved, sheet_of

# What is noted on the cover's entry of that day (``demo.lives``).
_OPENED, _CLOSED = "Opened.", "Closed for winter."
_NEAR = timedelta(days=4)


def season_entries(events: list[Event]) -> list[tuple[Entry, datetime]]:
    """Openings and closings, as told of the cover; a closing with the temperature read shortly before."""
    told = []
    for event in events:
        note = getattr(event.detail, "note", "")
        if event.kind != "cover" or note not in (_OPENED, _CLOSED):
            continue
        fields = {"what": ["opened", ""], "looked": ["clear", ""]}
        if note == _CLOSED:
            fields = {"what": ["closed", ""]}
            before = [r for e in events if event.at - _NEAR < e.at <= event.at for r in e.readings]
            temp = next((r.text for r in before if r.measure == "temp"), "")
            fields |= {"temp": [temp, "f"]} if temp else {}
        entry = Entry(0, 0, "season", {"fields": fields, "note": ""})
        told.append((entry, event.at + timedelta(minutes=4)))
    return told


def put_away(context: Context, pool: Pool, parts: dict[str, str], events: list[Event]) -> None:
    """The plan of the last closing, walked as its person did, with where they put the parts."""
    shut = max((e.at for e in events if e.kind == "season" and _closed(e)), default=None)
    if shut is None:
        return
    then = replace(context, now=shut - timedelta(days=6))
    day = shut.astimezone(ZoneInfo(pool.time_zone)).date().isoformat()
    sheet = begin_season(then, pool.id, NewSeason(uuid7(), then.now, "closing", day=day))
    for i, step in enumerate(sheet_of(sheet).steps):
        at = shut + timedelta(minutes=6 + 4 * i)
        verb, value = _said(step.shown["act"], parts.get(step.key, ""))
        mark = Event(id=uuid7(), pool=pool, at=at, kind="mark", performed_by=context.actor, created_at=at)
        mark.detail = MarkRow(sheet_id=str(sheet.id), task_id=None, key=step.key, verb=verb, value=value)
        context.session.add(mark)
    context.session.flush()
    moved(context.session, pool.id, context.now, sheet.at, kind="")


def _closed(event: Event) -> bool:
    return isinstance(event.detail, EntryRow) and event.detail.details["what"] == "closed"


def _said(act: dict[str, Any], place: str) -> tuple[str, str]:
    """The word of a step: a place where one was noted; pours and tests were not written down with it."""
    if act["kind"] in ("add", "retest") or (act["text"] and not place):
        return "skip", ""
    if act["text"]:
        return "answer", place
    verb = "decide" if act["kind"] == "decide" else "answer"
    return verb, act["choices"][0][0] if act["choices"] else ""
