"""What stands on the shelf and is no chemical: counted by the piece, or weighed."""

from dataclasses import dataclass

# Strips and reagents keep about a year, less in a hot van (common practice).
REAGENTS_KEEP_DAYS = 365


@dataclass(frozen=True)
class Supply:
    """One thing. short: as a list names it; keeps_days: how long it is good from when it was bought, None
    for good.
    """

    id: str
    name: str
    short: str
    keeps_days: int | None = None


SUPPLIES: dict[str, Supply] = {
    s.id: s
    for s in (
        Supply("test-strips", "Test strips", "strips", REAGENTS_KEEP_DAYS),
        Supply("reagents", "Test reagents", "reagents", REAGENTS_KEEP_DAYS),
        Supply("cartridge", "Filter cartridge", "cartridge"),
        Supply("skimmer-sock", "Skimmer sock", "sock"),
        Supply("o-ring", "O-ring", "O-ring"),
        Supply("o-ring-lubricant", "O-ring lubricant", "lubricant"),
        Supply("de-powder", "Filter DE", "DE"),
        Supply("winter-plug", "Winter plug", "plug"),
        Supply("cover-pillow", "Cover pillow", "pillow"),
    )
}
REAGENTS = tuple(s.id for s in SUPPLIES.values() if s.keeps_days)
