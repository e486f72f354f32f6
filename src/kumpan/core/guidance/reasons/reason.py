"""A plain reason behind a rule, with its school and source."""

from dataclasses import dataclass

CP = "Common practice, no published source."
SCALED, ANY = "Scaled to stabilizer", "All schools"


@dataclass(frozen=True)
class Reason:
    """id: stable; title: what it answers; text: plain words; school: whose view; source: where from."""

    id: str
    title: str
    text: str
    school: str
    source: str
