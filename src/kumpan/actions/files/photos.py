"""Photos of entries and equipment: encoded anew, so that nothing but the picture stays (no place,
no camera).
"""

import io
import warnings
from uuid import UUID

from PIL import Image, ImageOps, UnidentifiedImageError

from kumpan.actions.context import Context
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput
from kumpan.store import files, queries
from kumpan.store.tables.files import PhotoRow
from kumpan.store.tables.log import Event
from kumpan.store.tables.pools import EquipmentRow

# Our own limits: a phone's photo is 3 to 12 MB and 12 to 50 megapixels; 2,048 pixels show a gauge or a
# receipt.
MOST_BYTES = 25 * 1024 * 1024
MOST_PIXELS = 80_000_000
_LONGEST_SIDE = 2048
_MOST_EACH = 12
_TAKEN = ("JPEG", "PNG", "WEBP")


def encoded_anew(data: bytes) -> tuple[bytes, int, int]:
    """A picture as plain JPEG, upright, at most 2,048 pixels long, without any data beside it: bytes, width,
    height.

    Raises InvalidInput at ``file`` for what is no picture, is torn, or would unpack to something huge.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter(
                "ignore", Image.DecompressionBombWarning
            )  # the limit below is ours, and refuses
            with Image.open(io.BytesIO(data), formats=_TAKEN) as picture:
                if picture.width * picture.height > MOST_PIXELS:
                    raise _refused(
                        "too_large",
                        f"{picture.width:,} by {picture.height:,} pixels is more than Kumpan takes.",
                    )
                picture.draft("RGB", (_LONGEST_SIDE, _LONGEST_SIDE))
                upright = ImageOps.exif_transpose(picture)
                upright.thumbnail((_LONGEST_SIDE, _LONGEST_SIDE))
                plain = Image.new("RGB", upright.size, "white")
                see_through = upright.mode in ("RGBA", "LA", "PA") or "transparency" in upright.info
                plain.paste(upright, mask=upright.convert("RGBA").getchannel("A") if see_through else None)
    except Image.DecompressionBombError as error:
        raise _refused("too_large", "This picture has far more pixels than Kumpan takes.") from error
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError) as error:
        text = (
            "This is not a picture Kumpan can read. Choose a JPEG, PNG or WebP file (phones: “most"
            " compatible”)."
        )
        raise _refused("not_a_picture", text) from error
    out = io.BytesIO()
    plain.save(out, "JPEG", quality=82, optimize=True)
    return out.getvalue(), plain.width, plain.height


def kept_as_is(data: bytes) -> tuple[bytes, int, int]:
    """A picture that may be one of ours: as it is where it is plain, small JPEG without anything beside it,
    else encoded anew.
    """
    try:
        with Image.open(io.BytesIO(data), formats=("JPEG",)) as picture:
            segments = [name for name, _ in picture.applist]  # type: ignore[attr-defined]
            beside = picture.getexif() or picture.info.get("comment") or segments != ["APP0"] * len(segments)
            if picture.mode == "RGB" and max(picture.size) <= _LONGEST_SIDE and not beside:
                picture.load()
                return data, picture.width, picture.height
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError):
        pass  # told below
    return encoded_anew(data)


def _refused(code: str, message: str) -> InvalidInput:
    return InvalidInput(FieldProblem("file", code, message))


def add_photo(
    context: Context,
    photo_id: UUID,
    file_id: UUID,
    event_id: UUID | None,
    equipment_id: UUID | None,
) -> PhotoRow:
    """Keep an uploaded picture with an entry or a piece of equipment; the upload itself goes. Sending it
    again returns the first result.
    """
    known = context.session.get(PhotoRow, photo_id)
    if known is not None:
        if known.account_id != context.account.id:
            raise Conflict("id_taken", "This id is already used for something else.")
        return known
    if (event_id is None) == (equipment_id is None):
        raise InvalidInput(
            FieldProblem(
                "event_id", "missing", "Say what the photo belongs to: an entry or a piece of equipment."
            )
        )
    owner: Event | EquipmentRow
    if event_id:
        owner = queries.event(context.session, context.account.id, event_id, lock=True)
    else:
        assert equipment_id
        owner = queries.equipment(context.session, context.account.id, equipment_id, lock=True)
    if len(owner.photos) >= _MOST_EACH:
        raise InvalidInput(FieldProblem("file", "too_many", f"At most {_MOST_EACH} photos each."))
    upload = files.whole_file(context.session, context.account.id, file_id)
    if upload.size > MOST_BYTES:
        raise _refused("too_large", f"Kumpan takes photos of up to {MOST_BYTES // 1024 // 1024} MB.")
    data, width, height = encoded_anew(files.content(context.session, file_id))
    file = files.new_file(context.account.id, "photo.jpg", "image/jpeg", context.now)
    stored = files.write_file(context.session, file, [data])
    row = PhotoRow(
        id=photo_id,
        account_id=context.account.id,
        event_id=event_id,
        equipment_id=equipment_id,
        file_id=stored.id,
        width=width,
        height=height,
        created_at=context.now,
    )
    context.session.add(row)
    files.delete_file(context.session, file_id)
    context.session.flush()
    context.session.expire(owner, ["photos"])
    return row


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
