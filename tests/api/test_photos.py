"""Files sent in pieces, and photos: encoded anew, limited, kept, taken off and put back."""

import io
import json
import random
import zlib
from typing import Any

import pytest
from fastapi.testclient import TestClient
from PIL import Image
from sqlalchemy import Engine, text
from uuid6 import uuid7

from kumpan.actions.files.pictures import encoded_anew
from kumpan.core.errors import InvalidInput
from support import NOW, PIECE, picture, problem, send


def with_place() -> bytes:
    """A photo that says where and with what it was taken, lying on its side."""
    exif = Image.Exif()
    exif[0x0110], exif[0x0112] = "Made-up camera", 6  # model; orientation: turn right
    exif.get_ifd(0x8825)[2] = (48.0, 12.0, 30.0)  # latitude
    return picture(exif=exif, comment=b"by the gate")


def entry(client: TestClient, pool: dict, **more: Any) -> dict:
    body = {"id": str(uuid7()), "at": NOW.isoformat(), "kind": "photo"} | more
    return client.post(f"/api/v1/pools/{pool['id']}/entries", json=body).json()


def test_a_photo_stays_without_place_or_camera_and_upright(client: TestClient, pool: dict) -> None:
    event = entry(client, pool, note="the gauge")
    body = {"id": str(uuid7()), "file_id": send(client, with_place()), "event_id": event["id"]}
    first = client.post("/api/v1/photos", json=body)
    assert first.status_code == 201, first.text
    assert client.post("/api/v1/photos", json=body).json() == first.json()  # sent again
    assert (first.json()["width"], first.json()["height"]) == (40, 60)
    answer = client.get(first.json()["url"])
    assert answer.headers["content-type"] == "image/jpeg"
    for gone in (b"Made-up", b"gate", b"Exif"):
        assert gone not in answer.content
    with Image.open(io.BytesIO(answer.content)) as kept:
        assert kept.size == (40, 60) and not kept.getexif()
    shown = client.get(f"/api/v1/events/{event['id']}").json()
    assert [p["url"] for p in shown["photos"]] == [first.json()["url"]] and shown["title"] == "Photo"
    client.delete(f"/api/v1/photos/{body['id']}")
    assert client.get(f"/api/v1/events/{event['id']}").json()["photos"] == []
    client.post(f"/api/v1/photos/{body['id']}/restore")
    assert client.get(f"/api/v1/events/{event['id']}").json() == shown


def test_a_receipt_belongs_to_equipment_and_the_upload_goes(
    client: TestClient, pool: dict, engine: Engine
) -> None:
    piece = client.post(
        f"/api/v1/pools/{pool['id']}/equipment", json={"id": str(uuid7()), "kind": "pump"}
    ).json()
    upload = send(client, picture("PNG", (3000, 1500), "RGBA"), order=random.Random(1))
    photo = client.post(
        "/api/v1/photos", json={"id": str(uuid7()), "file_id": upload, "equipment_id": piece["id"]}
    ).json()
    assert (photo["width"], photo["height"]) == (2048, 1024)
    assert client.get(f"/api/v1/pools/{pool['id']}/equipment").json()[0]["photos"] == [photo]
    with engine.connect() as connection:
        assert (
            connection.execute(text("SELECT COUNT(*) FROM file")).scalar() == 1
        )  # the one kept; in pieces that add up
        size, pieces = connection.execute(
            text("SELECT size, SUM(LENGTH(data)) FROM file JOIN file_chunk ON file_id = id")
        ).one()
        assert size == pieces > PIECE


def bomb() -> bytes:
    """A PNG of a few hundred bytes that claims 100,000 by 100,000 pixels."""
    head = (100_000).to_bytes(4) * 2 + bytes((8, 2, 0, 0, 0))
    parts = [(b"IHDR", head), (b"IDAT", zlib.compress(bytes(1000))), (b"IEND", b"")]
    return b"\x89PNG\r\n\x1a\n" + b"".join(
        len(d).to_bytes(4) + k + d + zlib.crc32(k + d).to_bytes(4) for k, d in parts
    )


@pytest.mark.parametrize(
    ("data", "code"),
    [
        (b"%PDF-1.4 not a picture", "not_a_picture"), (b"", "not_a_picture"), (picture()[:-300], "not_a_picture"), (bomb(), "too_large"),
        (picture("GIF"), "not_a_picture"), (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "not_a_picture"), (picture("TIFF"), "not_a_picture"),
    ],
    ids=["pdf", "empty", "torn", "bomb", "gif", "svg", "tiff"],
)  # fmt: skip
def test_what_is_no_picture_is_refused_plainly(data: bytes, code: str) -> None:
    with pytest.raises(InvalidInput) as refused:
        encoded_anew(data)
    assert refused.value.fields[0].code == code and refused.value.fields[0].field == "file"


@pytest.mark.parametrize("mode", ["L", "P", "CMYK", "RGBA", "1", "I;16"])
def test_every_mode_of_picture_is_taken(mode: str) -> None:
    form = "JPEG" if mode == "CMYK" else "PNG"
    made, width, height = encoded_anew(picture(form, mode=mode))
    assert (width, height) == (60, 40)
    with Image.open(io.BytesIO(made)) as kept:
        assert kept.format == "JPEG" and kept.mode == "RGB"


def test_pieces_go_on_where_they_broke_off_and_wrong_ones_are_refused(client: TestClient, pool: dict) -> None:
    data = random.Random(2).randbytes(PIECE + 10)
    id = str(uuid7())
    new = {"id": id, "name": "../../etc/a\x00b.csv", "size": len(data)}
    assert client.post("/api/v1/files", json=new).json() == {
        "id": id,
        "size": len(data),
        "arrived": 0,
        "piece": PIECE,
    }

    def put(place, content):
        return client.put(
            f"/api/v1/files/{id}/pieces/{place}",
            content=content,
            headers={"Content-Type": "application/octet-stream"},
        )

    assert put(1, data[PIECE:]).json() == 10
    assert client.post("/api/v1/files", json=new).json()["arrived"] == 10
    problem(
        client.post(
            "/api/v1/photos", json={"id": str(uuid7()), "file_id": id, "event_id": entry(client, pool)["id"]}
        ),
        409,
        "not_whole",
    )
    assert put(1, data[PIECE:]).json() == 10  # again: the same
    problem(put(1, bytes(10)), 409, "piece_differs")
    problem(put(0, data[:100]), 422, "wrong_length", "position")
    problem(put(2, b""), 422, "wrong_length", "position")
    problem(put(0, bytes(PIECE + 1)), 413, "too_large")
    assert put(0, data[:PIECE]).json() == len(data)
    problem(client.post("/api/v1/files", json={**new, "size": 5}), 409, "id_taken")
    problem(
        client.post("/api/v1/files", json={"id": str(uuid7()), "name": "x", "size": 0}), 422, "empty", "size"
    )
    problem(
        client.post("/api/v1/files", json={"id": str(uuid7()), "name": "x", "size": 2**30}),
        422,
        "too_large",
        "size",
    )
    photo = {"id": str(uuid7()), "file_id": id, "event_id": entry(client, pool)["id"]}
    problem(client.post("/api/v1/photos", json=photo), 422, "not_a_picture", "file")
    problem(client.post("/api/v1/photos", json={**photo, "event_id": None}), 422, "missing", "event_id")
    assert json.loads(client.get(f"/api/v1/events/{photo['event_id']}").text)["photos"] == []
