"""What the built front end weighs: Today and the Bench, which are the first load, and every other view beside it.

Prints a line each over its share; exits 1 where one is over its budget. Fonts are not counted: text shows without.
"""

import gzip
import json
import sys
from pathlib import Path
from typing import Any

DIST = Path(__file__).resolve().parent.parent / "web" / "dist"
FIRST, ANOTHER = 200_000, 60_000  # bytes, compressed


def weight(files: set[str]) -> int:
    return sum(len(gzip.compress((DIST / file).read_bytes())) for file in files)


def needs(manifest: dict[str, dict[str, Any]], name: str) -> set[str]:
    """The files of a chunk and of all that it names."""
    found, left = set[str](), [name]
    while left:
        chunk = manifest[left.pop()]
        if chunk["file"] not in found:
            found |= {chunk["file"], *chunk.get("css", ())}
            left += chunk.get("imports", ())
    return found


def main() -> int:
    manifest = json.loads((DIST / ".vite" / "manifest.json").read_text())
    first = needs(manifest, "index.html") | {"index.html"}
    sizes = {"the first load": (weight(first), FIRST)}
    for name, chunk in manifest.items():
        if chunk.get("isDynamicEntry"):
            sizes[name] = (weight(needs(manifest, name) - first), ANOTHER)
    assert len(sizes) > 10, "no views were found: has the build changed?"
    for name, (size, most) in sorted(sizes.items(), key=lambda s: -s[1][0]):
        if name == "the first load" or size > most / 2:
            print(f"{name}: {size / 1000:.0f} kB of {most / 1000:.0f}" + (" TOO MUCH" if size > most else ""))
    return int(any(size > most for size, most in sizes.values()))


if __name__ == "__main__":
    sys.exit(main())
