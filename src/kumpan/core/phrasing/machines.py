"""What is said of machines: sentences from what was worked out of them."""

from collections.abc import Sequence

from kumpan.core.amounts import System, quarters
from kumpan.core.machines.cell_guides import OutputFound
from kumpan.core.machines.chlorinator import MakeUp, SaltSays
from kumpan.core.phrasing.terms import listed
from kumpan.core.units import G_PER_LB, L_PER_GAL

# Spots of salt further apart than this are poor mixing, whatever the kit (our own: twice a meter's error).
_POCKET_PPM = 200.0


def output_words(found: OutputFound) -> str:
    """What two nights found of a cell."""
    share = f"{found.share * 100:.0f} %, give or take {found.share_95 * 100:.0f}, of what it is rated for"
    if found.verdict == "fades":
        first = "Salt, pH, stabilizer, calcium and alkalinity first; then a new one."
        return f"It makes {share}: the cell fades. {first}"
    if found.verdict == "sound":
        rose = "What rose is the demand: sun, warmth, bathers, something growing."
        return f"It makes {share}: the cell is sound. {rose}"
    return f"It makes {share}: that cannot tell. A longer night, or a kit that reads finer, would."


def spots_words(read: Sequence[tuple[str, float]], u95_ppm: float) -> str:
    """What salt at several spots says of mixing. u95_ppm: of the kit that read them."""
    if len(read) < 2:
        return "One spot alone says nothing of mixing."
    low, high = min(v for _, v in read), max(v for _, v in read)
    told = listed([f"{name} {value:,.0f}" for name, value in read])
    if high - low > max(_POCKET_PPM, u95_ppm * 2**0.5):
        where = min(read, key=lambda one: one[1])[0]
        return (
            f"{told} ppm: {high - low:,.0f} apart, so it is poorly mixed. Aim a jet at {where}, run the pump,"
            " read again."
        )
    return f"{told} ppm: as alike as a kit can tell. It is mixed."


def make_up_words(needed: MakeUp, system: System) -> str:
    """Salt to put in: today's bags, and the rest on tomorrow's test."""
    kind = "40 lb" if system == "us" else "20 kg"
    whole = f"{needed.lb:,.0f} lb" if system == "us" else f"{needed.lb * G_PER_LB / 1000:,.0f} kg"
    if needed.first_bags <= 0:
        return f"{whole} are missing: less than half a bag, and nothing to pour for."
    bags = f"{quarters(needed.first_bags)} {'bag' if needed.first_bags <= 1 else 'bags'} of {kind}"
    return f"{whole} are missing: {bags} now, pump on, a test after 24 h, then the rest."


def salt_words(says: SaltSays, tested: float | None, panel: float | None, low: float, high: float) -> str:
    """What to make of the salt, before anything is poured."""
    wants = f"this cell wants {low:,.0f} to {high:,.0f}"
    if says == "panel_off":
        assert tested is not None and panel is not None
        return (
            f"The panel says {panel:,.0f}, the test {tested:,.0f}: over 500 apart. Believe the test;"
            " recalibrate the panel or clean the cell. Pour nothing for it."
        )
    if says == "verify":
        told = "" if panel is None else f"The panel says {panel:,.0f}. "
        return f"{told}Test it by strip, drops or meter before anything is poured: {wants} ppm."
    if says == "unknown":
        return f"Salt was never tested here: {wants} ppm."
    word = {"low": "low", "high": "over its range: only fresh water lowers it", "fine": "enough"}[says]
    return f"Salt {tested:,.0f} ppm, {wants}: {word}." if tested is not None else f"Salt is {word}; {wants}."


def lost_words(litres: float, salt_ppm: float | None, cya_ppm: float | None, system: System) -> str:
    """What water that went took along, as far as its content is known."""
    water = f"{litres / L_PER_GAL:,.0f} gal" if system == "us" else f"{litres:,.0f} L"
    took = []
    for ppm, name in ((salt_ppm, "salt"), (cya_ppm, "stabilizer")):
        if ppm is None or ppm * litres < 20_000:  # under 20 g nobody cares
            continue
        grams = ppm * litres / 1000
        took.append(
            f"{grams / G_PER_LB:.1f} lb of {name}" if system == "us" else f"{grams / 1000:.1f} kg of {name}"
        )
    return f"{water} took {listed(took)} along." if took else ""


def hour_words(hour: float) -> str:
    """An hour of the day on the clock.

    >>> hour_words(7.0), hour_words(22.5), hour_words(24.0)
    ('07:00', '22:30', '24:00')
    """
    minutes = round(hour * 4) * 15
    return f"{minutes // 60:02d}:{minutes % 60:02d}"
