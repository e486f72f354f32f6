"""Photos of entries and equipment: encoded anew, so that nothing but the picture stays (no place,
no camera).
"""

from dataclasses import dataclass
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.files.pictures import Picture
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput
from kumpan.store import files, queries
from kumpan.store.tables.files import PhotoRow
from kumpan.store.tables.log import Event
from kumpan.store.tables.pools import EquipmentRow

MOST_BYTES = 25 * 1024 * 1024  # our own: a phone's photo is 3 to 12 MB
MOST_EACH = 12


@dataclass(frozen=True)
class NewPhoto:
    """An uploaded picture and what it belongs to: an entry of the log or a piece of equipment."""

    id: UUID
    file_id: UUID
    event_id: UUID | None
    equipment_id: UUID | None


def uploaded(context: Context, new: NewPhoto) -> bytes | None:
    """The upload a photo is to be made of; None where it is made already. Raises InvalidInput where it cannot
    be.
    """
    if _known(context, new) is not None:
        return None
    _owner(context, new)
    upload = files.whole_file(context.session, context.account.id, new.file_id)
    if upload.size > MOST_BYTES:
        text = f"Kumpan takes photos of up to {MOST_BYTES // 1024 // 1024} MB."
        raise InvalidInput(FieldProblem("file", "too_large", text))
    return files.content(context.session, new.file_id)


def add_photo(context: Context, new: NewPhoto, picture: Picture | None) -> PhotoRow:
    """Keep a picture made of an upload (None: it was made before) with an entry or a piece of equipment; the
    upload itself goes. Sending it again returns the first result.
    """
    known = _known(context, new)
    if known is not None:
        return known
    owner = _owner(context, new)
    files.whole_file(context.session, context.account.id, new.file_id)
    assert picture is not None
    data, width, height = picture
    file = files.new_file(context.account.id, "photo.jpg", "image/jpeg", context.now)
    stored = files.write_file(context.session, file, [data])
    row = PhotoRow(
        id=new.id,
        account_id=context.account.id,
        event_id=new.event_id,
        equipment_id=new.equipment_id,
        file_id=stored.id,
        width=width,
        height=height,
        created_at=context.now,
    )
    context.session.add(row)
    files.delete_file(context.session, new.file_id)
    context.session.flush()
    context.session.expire(owner, ["photos"])
    return row


def _known(context: Context, new: NewPhoto) -> PhotoRow | None:
    known = context.session.get(PhotoRow, new.id)
    if known is not None and known.account_id != context.account.id:
        raise Conflict("id_taken", "This id is already used for something else.")
    return known


def _owner(context: Context, new: NewPhoto) -> Event | EquipmentRow:
    """What it is to belong to, locked, where one more fits."""
    if (new.event_id is None) == (new.equipment_id is None):
        text = "Say what the photo belongs to: an entry or a piece of equipment."
        raise InvalidInput(FieldProblem("event_id", "missing", text))
    owner: Event | EquipmentRow
    if new.event_id:
        owner = queries.event(context.session, context.account.id, new.event_id, lock=True)
    else:
        assert new.equipment_id
        owner = queries.equipment(context.session, context.account.id, new.equipment_id, lock=True)
    if len(owner.photos) >= MOST_EACH:
        raise InvalidInput(FieldProblem("file", "too_many", f"At most {MOST_EACH} photos each."))
    return owner


def remove_photo(context: Context, photo_id: UUID, away: bool) -> PhotoRow:
    """Take a photo off, or put it back (not ``away``)."""
    row = queries.photo(context.session, context.account.id, photo_id)
    if (row.removed_at is None) == away:
        row.removed_at = context.now if away else None
    context.session.flush()
    return row


def photo_content(context: Context, photo_id: UUID) -> bytes:
    """A photo's JPEG."""
    return files.content(
        context.session, queries.photo(context.session, context.account.id, photo_id).file_id
    )
