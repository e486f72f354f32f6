"""Files sent piece by piece, and the photos made of them."""

from typing import Annotated, Any
from urllib.parse import quote
from uuid import UUID

from fastapi import Body
from fastapi import Path as InPath
from fastapi.responses import Response
from pydantic import AfterValidator, BaseModel, Field, StringConstraints

from kumpan.actions.context import Context
from kumpan.actions.files import papers, photos, pictures, uploads
from kumpan.actions.shown import PaperView, PhotoView, show_paper, show_photo
from kumpan.api.bodies import Body as StrictBody
from kumpan.api.deps import InScope
from kumpan.api.routes import Routes
from kumpan.core.plain import plain
from kumpan.store.files import CHUNK_BYTES, received

router = Routes("files")
_JPEG: dict[int | str, dict[str, Any]] = {200: {"content": {"image/jpeg": {}}, "description": "JPEG"}}


class NewFile(StrictBody):
    """A file about to be sent. id: a UUID version 7 made by the client; size in bytes."""

    id: UUID
    name: Annotated[str, StringConstraints(max_length=400), AfterValidator(plain)]  # nobody types it
    size: Annotated[int, Field(ge=0, le=2**31 - 1)]


class Arrived(BaseModel):
    """How much of a file has arrived, in bytes, and how long each piece but the last is to be."""

    id: UUID
    size: int
    arrived: int
    piece: int


class NewPhoto(StrictBody):
    """An uploaded picture and what it belongs to: an entry of the log or a piece of equipment."""

    id: UUID
    file_id: UUID
    event_id: UUID | None = None
    equipment_id: UUID | None = None


@router.post("/files", status_code=201)
def begin_file(body: NewFile, scope: InScope) -> Arrived:
    """Announce a file. Announcing it again tells how much has arrived, to go on from there."""

    def work(context: Context) -> Arrived:
        row = uploads.begin_file(context, body.id, body.name, body.size)
        return Arrived(id=row.id, size=row.size, arrived=received(context.session, row), piece=CHUNK_BYTES)

    return scope.create(body.id, work)


@router.put("/files/{file_id}/pieces/{position}")
def put_piece(
    file_id: UUID,
    position: Annotated[int, InPath(ge=0, le=100_000)],
    scope: InScope,
    data: Annotated[bytes, Body(media_type="application/octet-stream")] = b"",
) -> int:
    """Send one piece; answers how many bytes have arrived. It is safe once answered."""
    return scope.run(lambda c: uploads.put_chunk(c, file_id, position, data))


@router.post("/photos", status_code=201)
def add_photo(body: NewPhoto, scope: InScope) -> PhotoView:
    """Keep an uploaded picture, encoded anew, outside of any transaction. Sending it again returns the first
    result.
    """
    new = photos.NewPhoto(**body.model_dump())
    data = scope.run(lambda c: photos.uploaded(c, new))
    picture = None if data is None else pictures.apart(data)
    return scope.create(body.id, lambda c: show_photo(photos.add_photo(c, new, picture)))


@router.get("/photos/{photo_id}/picture", response_class=Response, responses=_JPEG)
def get_picture(photo_id: UUID, scope: InScope) -> Response:
    """The picture."""
    data = scope.run(lambda c: photos.photo_content(c, photo_id))
    # A photo never changes: another picture is another photo.
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return Response(data, media_type="image/jpeg", headers=headers)


@router.delete("/photos/{photo_id}")
def remove_photo(photo_id: UUID, scope: InScope) -> PhotoView:
    """Take a photo off. Nothing of it is dropped."""
    return scope.run(lambda c: show_photo(photos.remove_photo(c, photo_id, True)))


@router.post("/photos/{photo_id}/restore")
def restore_photo(photo_id: UUID, scope: InScope) -> PhotoView:
    """Undo taking it off."""
    return scope.run(lambda c: show_photo(photos.remove_photo(c, photo_id, False)))


class NewPaper(StrictBody):
    """An uploaded paper and the piece of equipment it belongs to."""

    id: UUID
    file_id: UUID
    equipment_id: UUID


@router.post("/papers", status_code=201)
def add_paper(body: NewPaper, scope: InScope) -> PaperView:
    """Keep an uploaded manual, receipt or warranty: PDF, JPEG or PNG. Sending it again returns the first
    result.
    """
    new = papers.NewPaper(body.id, body.file_id, body.equipment_id)
    return scope.create(body.id, lambda c: show_paper(papers.add_paper(c, new)))


@router.get("/papers/{paper_id}/file", response_class=Response)
def get_paper(paper_id: UUID, scope: InScope) -> Response:
    """The paper, to be saved: it came from outside, so it is not shown as a page of ours."""
    row, data = scope.run(lambda c: papers.paper_content(c, paper_id))
    name = quote(row.name, safe="")
    headers = {
        "Content-Disposition": f"attachment; filename*=UTF-8''{name}",
        "Content-Security-Policy": "default-src 'none'; sandbox",
    }
    return Response(data, media_type=row.media_type, headers=headers)


@router.delete("/papers/{paper_id}")
def remove_paper(paper_id: UUID, scope: InScope) -> PaperView:
    """Take a paper off. Nothing of it is dropped."""
    return scope.run(lambda c: show_paper(papers.remove_paper(c, paper_id, True)))


@router.post("/papers/{paper_id}/restore")
def restore_paper(paper_id: UUID, scope: InScope) -> PaperView:
    """Undo taking it off."""
    return scope.run(lambda c: show_paper(papers.remove_paper(c, paper_id, False)))
