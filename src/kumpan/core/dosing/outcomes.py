"""What comes of a plan: pH, hypochlorous acid and saturation index as tested, with the plan in, and once its
chlorine is spent; and the slots they are drawn in.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import TypeVar

from kumpan.core.dosing.findings import hypochlorous_acid_ppm, saturation_of
from kumpan.core.dosing.request import DosePlan
from kumpan.core.guidance.schools import HOCL_AIM, HOCL_LEAST, HOCL_LEAST_STEADY
from kumpan.core.guidance.targets import INDEX_HIGH, INDEX_HIGH_PUBLIC, INDEX_LOW
from kumpan.core.phrasing import terms
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.state import WaterState

# The spans of the slots that are no measure. Our own choice of view.
_HOCL_SCALE, _INDEX_SCALE = (0.0, 0.12), (-1.0, 1.0)


T = TypeVar("T")


@dataclass(frozen=True)
class SlotView:
    """One measure drawn as a slot: scale, open channel (band), before with its whisker, after.

    spent: where it settles once the plan's chlorine is spent, where that is another place.
    """

    measure: str
    label: str
    text: str
    scale_low: float
    scale_high: float
    band_low: float | None
    band_high: float | None
    before: float
    after: float | None
    u95: float
    reason_id: str
    spent: float | None = None


@dataclass(frozen=True)
class OutcomeView:
    """One result of the whole water: as tested, with the plan in, and once the plan's chlorine is spent
    (empty: no such stage). slot draws the three; needs says what must be tested for it to be had."""

    id: str
    label: str
    tested: str
    planned: str
    spent: str
    needs: str
    reason_id: str
    slot: SlotView | None = None


def hocl_slot(before: float, after: float | None, traits: PoolTraits, spent: float | None = None) -> SlotView:
    """Hypochlorous acid (ppm as Cl2) drawn against what keeps algae off here.

    Levels: common practice (``guidance.schools``).
    """
    low, high = _HOCL_SCALE
    least = HOCL_LEAST_STEADY if traits.has_chlorinator else HOCL_LEAST
    text = f"{before:.3f}" if after is None else f"{before:.3f} → {after:.3f}"
    top = max(before, after or 0.0)
    return SlotView(
        "hocl",
        "Hypochlorous acid (HOCl)",
        f"{text} ppm",
        low,
        max(high, top * 1.05),
        least,
        HOCL_AIM * 2,
        before,
        after,
        0.0,
        "active",
        spent,
    )


def outcomes_of(plan: DosePlan, traits: PoolTraits) -> tuple[OutcomeView, ...]:
    """Hypochlorous acid, saturation index and pH at the three stages. A stage the plan does not have stays
    empty.
    """
    stages = [plan.before]
    if any(s.kind != "retest" for s in plan.steps):
        stages += [plan.now, plan.spent]
    hocl = [hypochlorous_acid_ppm(w) for w in stages]
    indices = [saturation_of(w) for w in stages]
    exact = [None if i is None else i.index for i in indices]
    rows = [
        OutcomeView("ph", "pH", *_three([w.ph for w in stages], "{:.1f}".format), "", "ph_band"),
        OutcomeView(
            "hocl",
            "Hypochlorous acid, ppm",
            *_three(hocl, "{:.3f}".format),
            _needs(plan.before, ("fc_ppm", "ph", "cya_ppm")),
            "active",
            _hocl_stages(hocl, traits),
        ),
        OutcomeView(
            "si",
            "Saturation index",
            *_three(exact, _index_words),
            _needs(plan.before, ("ph", "ta_ppm", "cya_ppm", "ch_ppm", "temp_c")),
            "saturation",
            _index_slot(exact, traits),
        ),
    ]
    if indices[0] is not None:
        langelier = _three([None if i is None else i.langelier for i in indices], _index_words)
        rows.append(OutcomeView("langelier", "by Langelier", *langelier, "", "langelier"))
    return tuple(rows)


def _three(values: list[T | None], words: Callable[[T], str]) -> tuple[str, str, str]:
    """As tested, with the plan in, and spent; empty where it is not known or the plan lacks the stage."""
    first, second, third = [*("" if v is None else words(v) for v in values), "", ""][:3]
    return first, second, third


def _hocl_stages(hocl: list[float | None], traits: PoolTraits) -> SlotView | None:
    before, after, spent = [*hocl, None, None][:3]
    return None if before is None else hocl_slot(before, after, traits, spent)


def _index_words(span: tuple[float, float]) -> str:
    low, high = (round(v, 2) + 0.0 for v in span)  # + 0.0: no minus zero
    return f"{low:+.2f}" if high - low < 0.005 else f"{low:+.2f} to {high:+.2f}"


def _index_slot(spans: list[tuple[float, float] | None], traits: PoolTraits) -> SlotView | None:
    if spans[0] is None:
        return None
    middle = [None if s is None else (s[0] + s[1]) / 2 for s in spans]
    known = [m for m in middle if m is not None]
    low, high = _INDEX_SCALE
    after, spent = (middle[1], middle[2]) if len(middle) == 3 else (None, None)
    return SlotView(
        "si",
        "Saturation index",
        " → ".join(_index_words(s) for s in spans if s is not None),
        min(low, *known),
        max(high, *known),
        INDEX_LOW,
        INDEX_HIGH_PUBLIC if traits.school == "public_code" else INDEX_HIGH,
        known[0],
        after,
        (spans[0][1] - spans[0][0]) / 2,
        "saturation",
        spent,
    )


def _needs(water: WaterState, fields: tuple[str, ...]) -> str:
    missing = [m.word for m in MEASURES.values() if m.field in fields and getattr(water, m.field) is None]
    return f"needs {terms.listed(missing)}" if missing else ""
