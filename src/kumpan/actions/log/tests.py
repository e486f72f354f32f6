"""Log water tests and correct them."""

from dataclasses import dataclass
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.log.writing import Correction, NewEvent, begin, keep, kept, reopen
from kumpan.core.water.readings import TypedReadings, read_test
from kumpan.store.tables.log import Event, ReadingRow


@dataclass(frozen=True)
class NewTest:
    """A test as sent. sampling_point: where the sample was taken."""

    event: NewEvent
    typed: TypedReadings
    sampling_point: str = ""


def log_test(context: Context, pool_id: UUID, new: NewTest) -> Event:
    """Store a test. Sending it again returns the first result."""
    event, known = begin(context, pool_id, "water_test", new.event)
    if known:
        return event
    event.sampling_point = new.sampling_point.strip()
    event.readings = ReadingRow.rows(read_test(new.typed))
    return keep(context, event)


def correct_test(context: Context, correction: Correction, typed: TypedReadings) -> Event:
    """Replace a test's readings, time, who and where, if nobody changed it since. Accepted plans stay as
    given.
    """
    rows = ReadingRow.rows(read_test(typed))
    event, was_at = reopen(context, "water_test", correction)
    event.readings.clear()
    context.session.flush()
    event.readings = rows
    return kept(context, event, was_at)
