"""Make the two static fonts of the printed sheets from the variable one that the pages ship.

Needs fontTools and brotli (requirements-dev) and the web packages. From the repository:
``.venv/bin/python src/kumpan/actions/printed/fonts/make.py``.
"""

import io
from pathlib import Path

from fontTools.merge import Merger  # type: ignore[import-untyped]
from fontTools.ttLib import TTFont  # type: ignore[import-untyped]
from fontTools.varLib.instancer import instantiateVariableFont  # type: ignore[import-untyped]

HERE = Path(__file__).parent
SHIPPED = HERE.parents[4] / "web/node_modules/@fontsource-variable/atkinson-hyperlegible-next/files"
WEIGHTS = {"Regular": 400, "Bold": 800}


def static(subset: str, weight: int) -> io.BytesIO:
    """One subset of the shipped font at one weight, as plain TrueType."""
    font = TTFont(SHIPPED / f"atkinson-hyperlegible-next-{subset}-wght-normal.woff2")
    instantiateVariableFont(font, {"wght": weight}, inplace=True)
    font.flavor = None
    for table in ("GSUB", "GPOS", "GDEF", "STAT", "DSIG"):
        if table in font:
            del font[table]
    out = io.BytesIO()
    font.save(out)
    out.seek(0)
    return out


def main() -> None:
    """Write both."""
    for name, weight in WEIGHTS.items():
        merged = Merger().merge([static("latin", weight), static("latin-ext", weight)])
        for record in merged["name"].names:
            if record.nameID in (1, 4, 6, 16):
                record.string = f"KumpanPaper-{name}"
        merged.save(HERE / f"paper-{name.lower()}.ttf", reorderTables=False)


if __name__ == "__main__":
    main()
