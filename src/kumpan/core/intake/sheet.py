"""A table of text out of a file's bytes: encoding, separator and heading found out, or the reason why it is
no table.
"""

import contextlib
import csv
import io
from collections.abc import Iterator
from dataclasses import dataclass

from kumpan.core.errors import FieldProblem, InvalidInput

# Our own limits: no report of readings comes near them, and a file that does is something else.
MOST_ROWS = 250_000
MOST_COLUMNS = 100
MOST_CELL = 2_000
_SEPARATORS = (",", ";", "\t", "|")
_OTHER_KINDS = (
    (
        b"PK\x03\x04",
        "This is a packed file or a spreadsheet of its own format. Save the sheet as CSV and choose that.",
    ),
    (
        b"\xd0\xcf\x11\xe0",
        "This is a spreadsheet of an old format of its own. Save the sheet as CSV and choose that.",
    ),
    (b"%PDF", "This is a PDF. Ask for the report as CSV, or type the readings on the Bench."),
    (b"\xff\xd8\xff", "This is a picture. Photos are added to entries of the log."),
    (b"\x89PNG", "This is a picture. Photos are added to entries of the log."),
    (b"\x1f\x8b", "This is a packed file. Unpack it first."),
)


@dataclass(frozen=True)
class Sheet:
    """rows: the data lines, each as long as head; lines: their line numbers in the file, from 1."""

    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    lines: tuple[int, ...]
    encoding: str
    separator: str


def read_sheet(data: bytes, known: frozenset[str]) -> Sheet:
    """The table in a file. known: headings that tell the head line, as ``plain_heading`` makes them.

    Raises InvalidInput at ``file``, naming line and column where there is one.
    """
    text, encoding = decoded(data)
    separator = _separator(text)
    filled = [(line, cells) for line, cells in _cells(text, separator) if any(cells)]
    width = _width([cells for _, cells in filled])
    at = _head_line([cells for _, cells in filled[:30]], known)
    head = () if at is None else filled[at][1]
    names = tuple(name or f"Column {i + 1}" for i, name in enumerate(_padded(head, width)))
    body = filled[0 if at is None else at + 1 :]
    rows = tuple(_padded(cells, width) for _, cells in body)
    if not rows:
        raise _refused("empty", "This file has a heading, but no rows.")
    return Sheet(names, rows, tuple(line for line, _ in body), encoding, separator)


Cells = tuple[str, ...]


def _padded(cells: Cells, width: int) -> Cells:
    return cells if len(cells) == width else (*cells, *[""] * (width - len(cells)))


def _width(lines: list[Cells]) -> int:
    """Cells of the longest line, if this can be a table."""
    if not lines:
        raise _refused("empty", "There is nothing in this file.")
    width = max(map(len, lines))
    if width < 2:
        text = "This is text, but no table: no line has two cells. Is it the right file?"
        raise _refused("not_a_table", text)
    if width > MOST_COLUMNS:
        raise _refused("too_wide", f"A line has {width:,} cells. Kumpan takes up to {MOST_COLUMNS}.")
    return width


def decoded(data: bytes) -> tuple[str, str]:
    """Text and its encoding: by its byte order mark, as UTF-16 by its zero bytes, as UTF-8, or else as
    Windows-1252.

    >>> decoded("Größe;1".encode("cp1252")), decoded("pH".encode("utf-16-le"))
    (('Größe;1', 'Windows-1252'), ('pH', 'UTF-16'))
    """
    for mark, refusal in _OTHER_KINDS:
        if data.startswith(mark):
            raise _refused("wrong_kind", refusal)
    if not data.strip(b"\x00\xff\xfe\xef\xbb\xbf \r\n\t"):
        raise _refused("empty", "There is nothing in this file.")
    name = _encoding(data)
    try:
        text = data.decode(name)
    except UnicodeDecodeError:
        if name != "utf-8-sig" or b"\x00" in data[:4000]:
            raise _refused(
                "not_text", "This file is not text that Kumpan can read. Save it as CSV in UTF-8."
            ) from None
        text, name = data.decode("cp1252", errors="replace"), "cp1252"
    if "\x00" in text[:4000] or sum(c < " " and c not in "\t\r\n\f" for c in text[:4000]) > 20:
        raise _refused("not_text", "This file is not text. Choose a CSV file.")
    return text.removeprefix("\ufeff"), {"utf-8-sig": "UTF-8", "cp1252": "Windows-1252"}.get(name, "UTF-16")


def _encoding(data: bytes) -> str:
    """By its byte order mark or its zero bytes, else UTF-8."""
    odd, even = data[1:4000:2], data[:4000:2]
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        return "utf-16"
    if odd and odd.count(0) > 0.4 * len(odd):
        return "utf-16-le"
    if odd and even.count(0) > 0.4 * len(even):
        return "utf-16-be"
    return "utf-8-sig"


def _separator(text: str) -> str:
    """The separator that cuts the most of the first lines into the same number of cells, two or more."""
    start = io.StringIO("\n".join(text[:20_000].splitlines()[:40]))

    def agreement(separator: str) -> tuple[int, int]:
        start.seek(0)
        widths: list[int] = []
        with contextlib.suppress(csv.Error):  # a torn quotation is told when the cells are read
            widths = [len(cells) for cells in csv.reader(start, delimiter=separator) if len(cells) > 1]
        usual = max(set(widths), key=lambda w: (widths.count(w), w), default=0)
        return widths.count(usual), usual

    return max(_SEPARATORS, key=agreement)


def _cells(text: str, separator: str) -> Iterator[tuple[int, Cells]]:
    """Lines with their cells. Reports say the same few hundred values over and over: each is held once."""
    held: dict[str, str] = {}
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator)
    rows = 0
    while True:
        line = reader.line_num + 1
        try:
            cells = next(reader, None)
        except csv.Error:  # its own limit of a field, or a lone carriage return
            raise _refused(
                "huge_cell", f"Line {line}: a cell without end. A quotation mark may be missing."
            ) from None
        if cells is None:
            return
        longest = max(range(len(cells)), key=lambda i: len(cells[i]), default=None)
        if longest is not None and len(cells[longest]) > MOST_CELL:
            text_ = (
                f"Line {line}, column {longest + 1}: a cell of {len(cells[longest]):,} characters; Kumpan"
                f" takes {MOST_CELL:,}."
            )
            raise _refused("huge_cell", f"{text_} A quotation mark may be missing.")
        rows += 1
        if rows > MOST_ROWS:
            raise _refused("too_long", f"More than {MOST_ROWS:,} lines. Cut the file in two.")
        yield line, tuple(held.setdefault(c, c) for c in map(str.strip, cells))


def plain_heading(text: str) -> str:
    """A heading without unit, case and punctuation.

    >>> plain_heading("Free Chlorine (mg/L)"), plain_heading("fc_ppm"), plain_heading("Water temp. [°C]")
    ('free chlorine', 'fc', 'water temp')
    """
    bare = text.lower()
    for opening, closing in ("()", "[]"):
        head, mark, rest = bare.partition(opening)
        bare = head + rest.partition(closing)[2] if mark else bare
    bare = bare.partition(",")[0].replace("_", " ").replace(".", " ").replace("-", " ").replace(":", " ")
    words = bare.split()
    while len(words) > 1 and (words[-1] in _UNIT_WORDS or (words[-1] in _AS and words[-2] in _UNIT_WORDS)):
        words.pop()
    return " ".join(words)


_UNIT_WORDS = frozenset(
    {"ppm", "mg/l", "mgl", "g/l", "ppt", "°f", "°c", "f", "c", "°dh", "mmol/l", "mmol", "%"}
)
_AS = frozenset({"caco3", "cl2"})  # mg/L CaCO3; but Free Cl2


def _head_line(first: list[Cells], known: frozenset[str]) -> int | None:
    """Which of the first lines is the heading: the one with the most known names; else the first, unless it
    holds numbers.
    """
    hits = [sum(plain_heading(c) in known for c in cells) for cells in first]
    best = max(range(len(first)), key=lambda i: (hits[i], -i))
    if hits[best] >= 1:
        return best
    widest = max(len(c) for c in first)
    at = next(i for i, c in enumerate(first) if len(c) == widest)
    return None if any(c[:1].isdigit() for c in first[at]) else at


def _refused(code: str, message: str) -> InvalidInput:
    return InvalidInput(FieldProblem("file", code, message))
