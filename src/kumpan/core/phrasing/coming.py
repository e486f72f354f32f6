"""What is to come, in words."""

from datetime import date, datetime

from kumpan.core.forecast.answers import Lasts, NextTest
from kumpan.core.forecast.score import Score
from kumpan.core.phrasing.terms import listed, show, show_value
from kumpan.core.water.measures import MEASURES

_VOID = {
    "poured": "something was poured",
    "exchanged": "water was exchanged",
    "tablets": "tablets went in otherwise",
    "cell": "the cell was set otherwise",
    "cover": "the cover was moved",
}
CLOSED = "Closed for the season: nothing is foretold until it opens."


def day_name(today: date, then: date) -> str:
    """A day to come as said today: ``today``, ``tomorrow``, ``Thursday``, ``Thu 3 Dec``."""
    days = (then - today).days
    if days in (0, 1):
        return ("today", "tomorrow")[days]
    return f"{then:%A}" if days < 7 else f"{then:%a} {then.day} {then:%b}"


def test_when(today: date, test: NextTest) -> str:
    """When to test: ``today``, ``this evening``, ``tomorrow evening``, ``Wednesday evening``."""
    if test.on == today:
        return "this evening" if test.evening else "today"
    return f"{day_name(today, test.on)}{' evening' if test.evening else ''}"


def sentence(
    here: datetime, chlorine: Lasts | None, test: NextTest, ph: tuple[datetime, float] | None
) -> str:
    """How long chlorine lasts, and when to test: ``Chlorine lasts until Thursday; test Wednesday
    evening.``
    """
    today, when = here.date(), test_when(here.date(), test)
    if chlorine is None:
        return "Chlorine was never read here, so nothing is foretold. Test it first."
    if test.because == "old":
        return "Chlorine was read too long ago: what it is now is a guess. Test today."
    if chlorine.under_now and chlorine.just_read:
        return f"Chlorine reads under {chlorine.minimum_ppm:.1f} ppm: dose it today, from the Bench."
    if chlorine.under_now:
        return f"Chlorine is probably under {chlorine.minimum_ppm:.1f} ppm by now; test today."
    if chlorine.until is None and chlorine.sure_until is None:
        lasts = "Chlorine holds all week"
    elif chlorine.until is None:
        assert chlorine.sure_until is not None
        may = day_name(today, chlorine.sure_until.date())
        lasts = f"Chlorine should hold all week, but may be low from {may}"
    else:
        lasts = f"Chlorine lasts until {_about(today, chlorine.until)}"
    rise = "" if ph is None else f", pH passes {ph[1]:.1f} about {day_name(today, ph[0].date())}"
    return f"{lasts}{rise}; test {when}."


def _about(today: date, at: datetime) -> str:
    name = day_name(today, at.date())
    return "tonight" if name == "today" and at.hour >= 17 else name


def measures_to_test(measures: tuple[str, ...]) -> str:
    """What to test: ``Test free chlorine and pH.``, and what else is due."""
    first = listed([MEASURES[m].word for m in measures[:2]])
    rest = [MEASURES[m].word for m in measures[2:]]
    if not rest:
        return f"Test {first}."
    return f"Test {first}; {listed(rest)} too, as the log's is too old to dose on."


def hit_rate(score: Score) -> str:
    """How often it came out: ``14 of 17 came out, 82 %``; or why nothing counts."""
    if score.share is None:
        return "none counted yet"
    return f"{score.hits} of {score.counted} came out, {score.share * 100:.0f} %"


def voided(score: Score, why: list[str]) -> str:
    """How many were void, and of what: ``6 void (26 %): something was poured``."""
    if not score.void or score.void_share is None:
        return ""
    causes = [_VOID[cause] for cause in dict.fromkeys(why)]
    return f"{score.void} void ({score.void_share * 100:.0f} %): {listed(causes)}"


def wider(score: Score) -> str:
    """That intervals were made wider: empty where not."""
    off = (score.widened - 1) * 100
    return "" if off < 2 else f"too sure so far: spans are now {off:.0f} % wider"


def diluted(measures: dict[str, float], system: str) -> str:
    """What rain takes down: ``rain takes salt down by 60 ppm, alkalinity by 2 ppm``."""
    if not measures:
        return ""
    told = [
        f"{MEASURES[m].word} {'down ' if not i else ''}by {show_value(m, v, system)}"
        for i, (m, v) in enumerate(measures.items())
    ]
    return f"rain takes {', '.join(told)}"


def a_day(measure: str, drift: float | None) -> str:
    """How far a measure goes by itself: ``0.03 a day``; what is not told is said so."""
    if drift is None:
        return "not told by the log yet"
    unit = MEASURES[measure].unit
    shown = f"{abs(drift):.2f}" if measure == "ph" else show(measure, abs(drift))
    if float(shown) == 0:
        return "stays where it is"
    return f"{'rises' if drift > 0 else 'falls'} {shown}{f' {unit}' if unit else ''} a day"


def told_by(days: float | None) -> str:
    """What the pace of chlorine is told by."""
    if days is None:
        return "by the season's usual: the log does not tell this pool's own pace yet"
    return f"by this pool's own log of {days:.0f} days"
