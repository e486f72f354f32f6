"""One sheet of paper: fonts, sizes, and rows set in columns so that all of it stands on one page."""

import io
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.utils import simpleSplit
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from kumpan.core.errors import FieldProblem, InvalidInput

SIZES: dict[str, tuple[float, float]] = {"letter": LETTER, "a4": A4}
_FONTS = Path(__file__).parent / "fonts"
_PLAIN, _BOLD = "KumpanPaper", "KumpanPaper-Bold"
_MARGIN, _GUTTER, _FOOT = 36.0, 20.0, 14.0
_BODY_PT = (12.0, 11.0, 10.0, 9.5, 9.0, 8.5, 8.0, 7.5, 7.0)
# What the fonts lack, said otherwise.
_SAID = {
    "→": "to",
    "←": "from",
    "≤": "at most",
    "≥": "at least",
    "⅛": "1/8",
    "⅜": "3/8",
    "⅝": "5/8",
    "⅞": "7/8",
}


@dataclass(frozen=True)
class Line:
    """A row: a box to tick or none, its title, what stands at its right, and lines of less weight under it,
    the first of them kept longest when room is short. head: a heading over the rows that follow; breaks: it
    begins the next column where there is one.
    """

    title: str
    aside: str = ""
    under: tuple[str, ...] = ()
    box: bool = True
    ticked: bool = False
    head: bool = False
    breaks: bool = False


@dataclass(frozen=True)
class Page:
    """A page's words. headline: one sentence; below: lines under it; foot: where and when it was made."""

    headline: str
    below: tuple[str, ...]
    rows: tuple[Line, ...]
    foot: str
    columns: int = 2


@cache
def _fonts() -> frozenset[int]:
    """Register the two fonts once; the characters they hold."""
    regular = TTFont(_PLAIN, str(_FONTS / "paper-regular.ttf"))
    pdfmetrics.registerFont(regular)
    pdfmetrics.registerFont(TTFont(_BOLD, str(_FONTS / "paper-bold.ttf")))
    return frozenset(regular.face.charToGlyph)


def plain(text: str) -> str:
    """A text in characters that the fonts hold: what they lack is said otherwise, or is a question mark.

    >>> plain("4.0 → 2.1 ppm")
    '4.0 to 2.1 ppm'
    """
    known = _fonts()
    said = "".join(_SAID.get(c, c) for c in text)
    return "".join(c if ord(c) in known else " " if c.isspace() else "?" for c in said)


def checked_size(size: str) -> tuple[float, float]:
    """A paper size by its id. Raises InvalidInput at ``size`` for any other."""
    if size not in SIZES:
        raise InvalidInput(FieldProblem("size", "unknown_choice", "Letter or A4."))
    return SIZES[size]


def pdf(page: Page, size: str) -> bytes:
    """The page as PDF: as large as fits, with as much under each row as fits."""
    paper = checked_size(size)
    _fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=paper, pageCompression=1, invariant=1)
    canvas.setTitle(plain(page.headline))
    canvas.setCreator("Kumpan")
    top = _headed(canvas, page, paper)
    _foot(canvas, page, paper)
    set_ = next((s for s in _settings() if _fits(page, paper, top, s)), _settings()[-1])
    _draw(canvas, page, paper, top, set_)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


@dataclass(frozen=True)
class _Set:
    """How rows are set: their size, pt, and how many lines under each may stand."""

    pt: float
    under: int


def _settings() -> list[_Set]:
    """From all of it and large to the titles alone and small."""
    return [_Set(pt, under) for under in (3, 2, 1, 0) for pt in _BODY_PT]


def _headed(canvas: Canvas, page: Page, paper: tuple[float, float]) -> float:
    """The headline with its lines and its rule; returns where the rows begin."""
    y = paper[1] - _MARGIN
    for line in simpleSplit(plain(page.headline), _BOLD, 20, paper[0] - 2 * _MARGIN):
        y -= 22
        canvas.setFont(_BOLD, 20)
        canvas.drawString(_MARGIN, y, line)
    for text in page.below:
        for line in simpleSplit(plain(text), _PLAIN, 10.5, paper[0] - 2 * _MARGIN):
            y -= 14
            canvas.setFont(_PLAIN, 10.5)
            canvas.drawString(_MARGIN, y, line)
    y -= 8
    canvas.setLineWidth(1.5)
    canvas.line(_MARGIN, y, paper[0] - _MARGIN, y)
    return y - 6


def _foot(canvas: Canvas, page: Page, paper: tuple[float, float]) -> None:
    canvas.setFont(_PLAIN, 8)
    canvas.drawString(_MARGIN, _MARGIN - 4, plain(page.foot))


def _width(page: Page, paper: tuple[float, float]) -> float:
    return (paper[0] - 2 * _MARGIN - _GUTTER * (page.columns - 1)) / page.columns


def _fits(page: Page, paper: tuple[float, float], top: float, set_: _Set) -> bool:
    """Whether all rows stand in the columns."""
    return len(_columns(page, paper, top, set_)) <= page.columns


def _columns(page: Page, paper: tuple[float, float], top: float, set_: _Set) -> list[list[Line]]:
    """The rows column by column; a heading is not left alone at a column's foot."""
    room, width = top - _MARGIN - _FOOT, _width(page, paper)
    columns, used = [list[Line]()], 0.0
    for i, row in enumerate(page.rows):
        high = _height(row, width, set_)
        follows = page.rows[i + 1] if row.head and i + 1 < len(page.rows) else None
        needs = high + (0.0 if follows is None else _height(follows, width, set_))
        breaks = row.breaks and len(columns) < page.columns
        if (used + needs > room or breaks) and columns[-1]:
            columns.append([])
            used = 0.0
        columns[-1].append(row)
        used += high
    return columns


def _indent(set_: _Set) -> float:
    return set_.pt * 1.7


def _aside_width(row: Line, set_: _Set) -> float:
    return pdfmetrics.stringWidth(plain(row.aside), _PLAIN, set_.pt * 0.85) + 6 if row.aside else 0.0


def _set(row: Line, width: float, set_: _Set) -> tuple[list[str], list[str]]:
    """A row's title and what is under it, broken into lines."""
    inner = width - (0.0 if row.head else _indent(set_))
    title = simpleSplit(plain(row.title), _BOLD, set_.pt, inner - _aside_width(row, set_))
    under = [
        line
        for text in row.under[: set_.under]
        for line in simpleSplit(plain(text), _PLAIN, set_.pt * 0.88, inner)
    ]
    return title, under


def _height(row: Line, width: float, set_: _Set) -> float:
    title, under = _set(row, width, set_)
    over = set_.pt * (1.1 if row.head else 0.45)
    return len(title) * set_.pt * 1.2 + len(under) * set_.pt * 1.06 + over


def _draw(canvas: Canvas, page: Page, paper: tuple[float, float], top: float, set_: _Set) -> None:
    width = _width(page, paper)
    for i, column in enumerate(_columns(page, paper, top, set_)[: page.columns]):
        x, y = _MARGIN + i * (width + _GUTTER), top
        for row in column:
            _draw_row(canvas, row, (x, y, width), set_)
            y -= _height(row, width, set_)


def _draw_row(canvas: Canvas, row: Line, at: tuple[float, float, float], set_: _Set) -> None:
    x, y, width = at
    title, under = _set(row, width, set_)
    y -= set_.pt * (0.9 if row.head else 0.0)
    inner = x + (0.0 if row.head else _indent(set_))
    if row.box and not row.head:
        _box(canvas, x, y - set_.pt * 1.05, set_.pt, row.ticked)
    canvas.setFont(_PLAIN, set_.pt * 0.85)
    canvas.drawRightString(x + width, y - set_.pt, plain(row.aside))
    for line in title:
        y -= set_.pt * 1.2
        canvas.setFont(_BOLD, set_.pt)
        canvas.drawString(inner, y + set_.pt * 0.2, line)
    for line in under:
        y -= set_.pt * 1.06
        canvas.setFont(_PLAIN, set_.pt * 0.88)
        canvas.drawString(inner, y + set_.pt * 0.2, line)
    if row.head:
        canvas.setLineWidth(0.6)
        canvas.line(x, y - 1, x + width, y - 1)


def _box(canvas: Canvas, x: float, y: float, side: float, ticked: bool) -> None:
    """A box to tick, as a path; ticked: crossed."""
    canvas.setLineWidth(0.9)
    canvas.rect(x, y, side, side, stroke=1, fill=0)
    if ticked:
        canvas.line(x, y, x + side, y + side)
        canvas.line(x, y + side, x + side, y)
