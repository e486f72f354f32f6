"""What is likely to follow a visit, in words: when, on which reading, and about how much."""

from kumpan.core.amounts import Amount
from kumpan.core.guidance.targets import Band
from kumpan.core.phrasing.terms import show
from kumpan.core.units import DAY_MIN
from kumpan.core.water.measures import MEASURES


def when(at_min: int) -> str:
    """How long from now, at the head of a sentence: ``In an hour``, ``Tomorrow``, ``In a week``."""
    if at_min < 12 * 60:
        hours = max(1, round(at_min / 60))
        return "In an hour" if hours == 1 else f"In {hours} hours"
    days = max(1, round(at_min / DAY_MIN))
    if days == 1:
        return "Tomorrow"
    return "In a week" if days == 7 else f"In {days} days"


def span(least: Amount | None, most: Amount | None) -> str:
    """A range of amounts: ``9 to 14 oz``, ``up to 14 oz``; empty where there is none."""
    if most is None:
        return ""
    if least is None:
        return f"up to {most.text}"
    if least.text == most.text:
        return f"about {most.text}"
    one, other = least.parts, most.parts
    if len(one) == len(other) == 1 and one[0].unit == other[0].unit:
        return f"{one[0].number} to {most.text}"
    return f"{least.text} to {most.text}"


def dose(then: str, band: Band, role: str, amounts: str, product: str) -> str:
    """A dose that a test decides: ``In a week, if stabilizer reads under 30: 9 to 14 oz of stabilizer.``"""
    down = role.startswith("lower")
    edge = band.high if down else band.low
    name = MEASURES[band.measure].word
    if edge is None or not amounts:
        return f"{then} {name} is tested again; what it reads decides."
    return (
        f"{then}, if {name} reads {'over' if down else 'under'} {show(band.measure, edge)}: {amounts} of"
        f" {product}."
    )


def more(then: str, measure: str, amounts: str, product: str) -> str:
    """The rest of a dose that was cut short: ``In an hour, as pH then reads: up to 16 fl oz more acid.``"""
    return f"{then}, as {MEASURES[measure].word} then reads: {amounts} more {product}."


def air(then: str, to_ph: float) -> str:
    """Air that a test decides."""
    return f"{then}, if pH still reads low: air until it reads {to_ph:.1f}."


def exchange(measure: str, share: float, soon: bool) -> str:
    """Fresh water that can wait, to the end of the week or of the season."""
    name = MEASURES[measure].word
    return (
        f"This {'week' if soon else 'season'}: replace {share:.0%} of the water in shares; nothing else"
        f" lowers {name}."
    )


def next_share(measure: str, share: float) -> str:
    """Fresh water that one share does not bring."""
    name = MEASURES[measure].word
    return f"After the full test the next share: {share:.0%} in all brings {name} into its band."


def a_day(amount: Amount, product: str, ppm: float, by_log: bool) -> str:
    """What a day uses: by this pool's log, or the ordinary demand."""
    whose = "what this pool uses by its log" if by_log else "until the log knows this pool's own use"
    return f"From tomorrow about {amount.text} of {product} a day ({ppm:.2g} ppm), {whose}."


def tablets(count: float, large: bool, ppm: float, dial: tuple[float, float] | None = None) -> str:
    """How many tablets hold a level. dial: what it stands at and what feeds so many, where the log tells."""
    size = "3-inch" if large else "1-inch"
    number = max(1, round(count))
    some = "a" if number == 1 else f"about {number}"
    return (
        f"To hold the level ({ppm:.2g} ppm a day): {some} {size} tablet{'s' if number > 1 else ''} a week"
        f" in the feeder, topped up twice. {_dial(dial)} They lift nothing today."
    )


def _dial(dial: tuple[float, float] | None) -> str:
    """What to do with a feeder's dial."""
    if dial is None:
        return (
            "Its dial: one mark lower if more than half are left at the midweek top-up, one higher if all are"
            " gone."
        )
    now, then = dial
    if abs(then - now) < 0.25:
        return f"Its dial stays at {now:g}."
    return f"Its dial from {now:g} to {then:g}, as the log has what it fed at {now:g}."


def change_over(cya_ppm: float) -> str:
    """When tablets stop."""
    return f"Tablets stop: stabilizer is at {cya_ppm:.0f}, and each brings more. Liquid chlorine from here."


def cell_off() -> str:
    """A cell that does not feed for want of salt or warmth."""
    return "The cell makes nothing for want of salt or warm water: chlorine by hand until it does."


def cell_up() -> str:
    """A cell whose output is not recorded."""
    return (
        "Raise the cell's setting or hours by a quarter and test tomorrow; look at flow, salt and plates."
        " With its rated"
        " output on the Pool page Kumpan names the setting."
    )


def cell_cannot(ppm_day: float) -> str:
    """A cell that does not make what is used."""
    return (
        f"The cell cannot make the {ppm_day:.1f} ppm a day this water uses, even at 100 % all day: look at"
        " flow, salt and plates, and add liquid meanwhile."
    )


def cell_to(percent: float, hours: float, before: tuple[float, float], ppm_day: float) -> str:
    """The setting a cell is to run at."""
    return (
        f"Cell setting to {percent:.0f} % for {hours:g} h a day (now {before[0]:.0f} %, {before[1]:g} h):"
        f" {ppm_day:.1f} ppm a"
        " day. Test tomorrow."
    )
