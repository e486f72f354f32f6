"""Pictures made plain: read by a library that files may be written to mislead, so in a process of its own.

As a program (``python -m``) it reads a picture from its input and writes it anew to its output.
"""

import fcntl
import io
import json
import os
import resource
import struct
import subprocess
import sys
import warnings
from pathlib import Path

from PIL import Image, ImageOps, UnidentifiedImageError

import kumpan
from kumpan.core.errors import FieldProblem, InvalidInput

# Our own limits: a phone's photo is 3 to 12 MB and 12 to 50 megapixels; 2,048 pixels show a gauge or a
# receipt.
MOST_PIXELS = 80_000_000
_LONGEST_SIDE = 2048
_TAKEN = ("JPEG", "PNG", "WEBP")
_MOST_MEMORY = 350 * 1024 * 1024  # 80 megapixels with a mask take 320
_PATIENCE_S = 30.0  # with those before it: one is read at a time
_REFUSED, _TOO_LARGE = 3, 4  # exit statuses
_SIZE = struct.Struct(">II")

Picture = tuple[bytes, int, int]  # JPEG, width, height


def apart(data: bytes) -> Picture:
    """``encoded_anew`` in a process of its own, with so much memory and time and no more. Raises
    InvalidInput.
    """
    env = os.environ | {"PYTHONPATH": str(Path(kumpan.__file__).parents[1])}
    command = [sys.executable, "-m", __name__]
    try:
        done = subprocess.run(command, input=data, capture_output=True, env=env, timeout=_PATIENCE_S)
    except subprocess.TimeoutExpired:
        raise _refused("too_slow", "This picture takes too long to read. Try again, or another.") from None
    if done.returncode == _REFUSED:
        raise _refused(*json.loads(done.stderr))
    if done.returncode == _TOO_LARGE or done.returncode < 0:
        raise _refused("too_large", "This picture takes more memory than Kumpan gives one.")
    if done.returncode:
        raise RuntimeError(f"reading a picture failed: {done.stderr.decode(errors='replace')[-2000:]}")
    return done.stdout[_SIZE.size :], *_SIZE.unpack(done.stdout[: _SIZE.size])


def encoded_anew(data: bytes) -> Picture:
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
                picture.thumbnail((_LONGEST_SIDE, _LONGEST_SIDE))  # in place, before anything is copied
                upright = ImageOps.exif_transpose(picture)
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


def kept_as_is(data: bytes) -> Picture:
    """A picture that may be one of ours: as it is where it is plain, small JPEG without anything beside it,
    else encoded anew.
    """
    try:
        with Image.open(io.BytesIO(data), formats=("JPEG",)) as picture:
            segments = [name for name, _ in picture.applist]  # type: ignore[attr-defined]
            beside = picture.getexif() or picture.info.get("comment") or segments != ["APP0"] * len(segments)
            plain = picture.mode == "RGB" and max(picture.size) <= _LONGEST_SIDE and not beside
            if plain and _ends_with_its_picture(data):
                picture.load()
                return data, picture.width, picture.height
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError):
        pass  # told below
    return encoded_anew(data)


def _ends_with_its_picture(data: bytes) -> bool:
    """Whether a JPEG's end is the file's: what stands behind it is no picture, and would be kept unseen.

    Walks its segments (ITU-T T.81, annex B): each says its length; behind a scan's head come its data, in
    which a marker is none if a zero or a restart's number follows.
    """
    at = 2
    while at + 4 <= len(data) and data[at] == 0xFF:
        marker = data[at + 1]
        at += 2 + int.from_bytes(data[at + 2 : at + 4])
        if marker != _SCAN:
            continue
        while (at := data.find(b"\xff", at)) >= 0 and (data[at + 1 : at + 2] in _NO_MARKER):
            at += 2
        if at < 0:
            return False
        if data[at + 1] == _END:
            return at + 2 == len(data)
    return False


_SCAN, _END = 0xDA, 0xD9
_NO_MARKER = frozenset(bytes([n]) for n in (0, *range(0xD0, 0xD8)))


def _refused(code: str, message: str) -> InvalidInput:
    return InvalidInput(FieldProblem("file", code, message))


def _main() -> int:
    with Path(__file__).open("rb") as turn:
        fcntl.flock(turn, fcntl.LOCK_EX)  # whoever else reads one: memory is for one at a time
        resource.setrlimit(resource.RLIMIT_DATA, (_MOST_MEMORY, _MOST_MEMORY))
        try:
            picture, width, height = encoded_anew(sys.stdin.buffer.read())
        except InvalidInput as error:
            sys.stderr.write(json.dumps([error.fields[0].code, error.message]))
            return _REFUSED
        except MemoryError:
            return _TOO_LARGE
    sys.stdout.buffer.write(_SIZE.pack(width, height) + picture)
    return 0


if __name__ == "__main__":
    sys.exit(_main())
