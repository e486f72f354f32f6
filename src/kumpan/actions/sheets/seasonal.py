"""What a season's plan refuses, and what it works out beside its steps."""

import re
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

from kumpan.actions.context import Context
from kumpan.core.amounts import about
from kumpan.core.chemistry import constants as k
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput
from kumpan.core.guidance.schools import FC_CAP
from kumpan.core.guidance.targets import bands_of
from kumpan.core.machines.chlorinator import make_up
from kumpan.core.phrasing import machines as phrase
from kumpan.core.phrasing import terms
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.seasons.winter import NEEDS, Aim, Winter, must_pass, winter_aim, winter_index
from kumpan.core.water.state import Change, WaterState, with_measures
from kumpan.core.work.sheet import Mark, Progress
from kumpan.store import queries
from kumpan.store.tables.log import Event
from kumpan.store.water import traits_of
from kumpan.store.work import sheet_of

SEASONS = frozenset({"opening", "closing", "drain"})
_NONE_PPM = 0.1  # what no kit tells from none (our own)
ALGAECIDE_UNDER_PPM = 5.0  # free chlorine destroys it above that (common practice)
# A place named so holds chemicals (our own list); equipment is not stored beside them.
_CHEMICAL = re.compile(
    r"\b(chemicals?|chlorine|acids?|shock|muriatic|bleach|hypochlorite|algaecide)\b", re.IGNORECASE
)
# Thiosulfate in practice takes up to so much more than the sum (AWWA C651's excess, from memory).
_EXCESS = 0.12 / 0.073


def is_season(sheet: Event) -> bool:
    """Whether a sheet is an opening, a closing or a drain."""
    return sheet.kind == "guide" and sheet_of(sheet).subject in SEASONS


def refuse_unsafe(context: Context, sheet: Event, progress: Progress, mark: Mark) -> None:
    """Raise Conflict for a step that must not be done as things are, plainly; InvalidInput for an answer."""
    became = progress.by_key.get(mark.key)
    if not is_season(sheet) or became is None:
        return
    if mark.verb == "answer" and getattr(became.step.act, "text", False):
        _check_place(sheet, mark)
    if mark.verb in ("answer", "decide"):
        check = _REFUSED.get((sheet_of(sheet).subject, mark.key))
        why = "" if check is None else check(_Asked(context, sheet, progress))
        if why:
            raise Conflict("not_now", why)


def _check_place(sheet: Event, mark: Mark) -> None:
    if not mark.value.strip():
        raise InvalidInput(FieldProblem("value", "missing", "Say it in a few words."))
    row = next((s for s in sheet_of(sheet).steps if s.key == mark.key), None)
    if row is not None and row.shown.get("part") and _CHEMICAL.search(mark.value):
        text = "Not beside chemicals: their fumes eat equipment. Another place."
        raise InvalidInput(FieldProblem("value", "beside_chemicals", text))


@dataclass(frozen=True)
class _Asked:
    """A plan as it stands, asked of one of its steps."""

    context: Context
    sheet: Event
    progress: Progress

    @property
    def since(self) -> datetime:
        """From when on a reading counts: a closing's full test, an opening's start, else the plan's."""
        for key in ("test", "test_kit", "prime"):
            became = self.progress.by_key.get(key)
            if became is not None:
                return became.closed_at or self.context.now
        return self.sheet.at

    def read(self, measure: str) -> float | None:
        """The newest reading of a measure that counts."""
        found = queries.newest_reading(self.context.session, self.sheet.pool_id, measure, panel=False)
        return found[0] if found is not None and found[1] >= self.since else None

    def of(self, product_id: str, amount: float) -> str:
        """So much (g or mL) of a product, in words."""
        product, own = PRODUCTS[product_id], self.context.own_measures
        words = about(amount, form_of(product), self.context.unit_system, self.sheet.pool.volume_l, own)
        return f"{words.text} of {product.short}"

    def per_unit(self, product_id: str) -> Change:
        """What a g or mL of a product brings to this pool."""
        return PRODUCTS[product_id].change_per_unit(self.sheet.pool.volume_l)


def _water(asked: _Asked) -> WaterState | None:
    """The water as read since its full test; None where one of what the index needs is missing."""
    read = {m: asked.read(m) for m in (*NEEDS, "salt", "temp")}
    if any(read[m] is None for m in NEEDS):
        return None
    return with_measures(WaterState(), {m: v for m, v in read.items() if v is not None})


def _unbalanced(asked: _Asked) -> str:
    water = _water(asked)
    if water is None:
        return "Not closed on water nobody tested: pH, alkalinity, calcium and stabilizer first."
    told = winter_index(water)
    if told.passes or not must_pass(traits_of(asked.sheet.pool)):
        return ""
    return f"This water is not closed so. {_judged(told)} {_aimed(asked, water)}"


def _judged(told: Winter) -> str:
    if told.low:
        return f"At 40 °F its index is {told.closed:+.1f}: under -0.4 it eats plaster all winter."
    if told.ph > 7.8:
        return f"pH {told.ph:.1f}: at most 7.8 at closing."
    if told.high:
        return f"Once its CO2 has left, its index is {told.open:+.1f}: over +0.3 it scales."
    return f"At 40 °F its index is {told.closed:+.1f} closed, {told.open:+.1f} open to the air: it passes."


def _aimed(asked: _Asked, water: WaterState) -> str:
    """What alkalinity and calcium it takes, in what is poured."""
    aim = winter_aim(water)
    if aim is None:
        return (
            "" if winter_index(water).passes else "No alkalinity helps: exchange a part of the water first."
        )
    parts = [p for p in (_calcium(asked, water, aim), _alkalinity(asked, water, aim)) if p]
    if not parts:
        return "Alkalinity and calcium may stay; pH to 7.5, by the Bench."
    return f"Aim at alkalinity {aim.ta_ppm:.0f}, calcium {aim.ch_ppm:.0f}, pH 7.5: {', then '.join(parts)}."


def _calcium(asked: _Asked, water: WaterState, aim: Aim) -> str:
    rise = aim.ch_ppm - (water.ch_ppm or 0.0)
    per = asked.per_unit("calcium-chloride-77").ca * k.CH_PPM_PER_MOL_L
    return asked.of("calcium-chloride-77", rise / per) if rise >= 1 else ""


def _alkalinity(asked: _Asked, water: WaterState, aim: Aim) -> str:
    rise = aim.ta_ppm - (water.ta_ppm or 0.0)
    product = "baking-soda" if rise > 0 else "muriatic-31.45"
    per = asked.per_unit(product).alk * k.TA_PPM_PER_EQ_L
    if abs(rise) < 1:
        return ""
    words = asked.of(product, rise / per)
    return words if rise > 0 else f"{words} in parts by the Bench, air until pH is back"


def _too_much_chlorine(asked: _Asked) -> str:
    fc = asked.read("fc")
    if fc is None:
        return "Read free chlorine first: above 5 ppm it destroys the algaecide."
    if fc >= ALGAECIDE_UNDER_PPM:
        return f"Free chlorine read {fc:g} ppm: it destroys algaecide. Wait until it reads under 5."
    return ""


def refuse_pour(context: Context, sheet: Event, progress: Progress, key: str) -> None:
    """Raise Conflict for a pour of a season's plan that must not go in as things are."""
    if is_season(sheet) and key == "oxidiser":
        why = _too_much_chlorine(_Asked(context, sheet, progress))
        if why:
            raise Conflict("not_now", why)


def _not_ready_for_cell(asked: _Asked) -> str:
    ph, salt = asked.read("ph"), asked.read("salt")
    if ph is None or salt is None:
        return "Not before pH and salt are read, salt not by the panel."
    if not 7.2 <= ph <= 7.8:
        return f"pH read {ph:g}: bring it between 7.2 and 7.8 first."
    least = bands_of(traits_of(asked.sheet.pool), WaterState())["salt"].low or 2700.0
    return f"Salt read {salt:,.0f} ppm: this cell wants {least:,.0f} and more." if salt < least else ""


def _no_stabilizer_yet(asked: _Asked) -> str:
    known = asked.read("cya") is not None
    return "" if known else "Stabilizer goes in on a reading alone: the full test first."


def _still_chlorine(asked: _Asked) -> str:
    fc = asked.read("fc")
    if fc is not None and fc < _NONE_PPM:
        return ""
    word = "was not read" if fc is None else f"read {fc:g} ppm"
    return f"Free chlorine {word}: what is discharged holds none that can be measured."


_REFUSED: dict[tuple[str, str], Callable[[_Asked], str]] = {
    ("closing", "balance"): _unbalanced,
    ("closing", "balance_kit"): _unbalanced,
    ("closing", "algaecide"): _too_much_chlorine,
    ("opening", "cell"): _not_ready_for_cell,
    ("opening", "stabilizer"): _no_stabilizer_yet,
    ("drain", "pump_out"): _still_chlorine,
    ("drain", "dechlorinate"): lambda asked: "" if asked.read("fc") is not None else "Read chlorine first.",
}


# --- Beside a step.


def _balance(asked: _Asked) -> str:
    water = _water(asked)
    if water is None:
        return "Worked out once pH, alkalinity, calcium and stabilizer are read."
    told = winter_index(water)
    vinyl = (
        ""
        if told.passes or must_pass(traits_of(asked.sheet.pool))
        else " On this surface it is told, not refused."
    )
    return f"{_judged(told)} {_aimed(asked, water)}{vinyl}".strip()


def _chlorine(asked: _Asked) -> str:
    fc = asked.read("fc")
    if fc is None:
        return ""
    return (
        f"Free chlorine read {fc:g} ppm: it goes in." if fc < ALGAECIDE_UNDER_PPM
        else f"Free chlorine read {fc:g} ppm: not yet."
    )  # fmt: skip


def _first(asked: _Asked) -> str:
    fc, ph = asked.read("fc"), asked.read("ph")
    if fc is None or ph is None:
        return ""
    acid = "" if ph <= 7.8 else f" pH {ph:g}: acid first."
    if fc > FC_CAP:
        return f"Free chlorine reads {fc:g}: nothing goes in; nobody swims until it is read lower.{acid}"
    rise = max(0.0, 4.0 - fc)
    per = asked.per_unit("liquid-chlorine-12.5").cl2 * k.CL2 * 1000
    if rise < 0.5:
        return f"Free chlorine reads {fc:g}: enough for now.{acid}"
    return f"To 4 ppm: {asked.of('liquid-chlorine-12.5', rise / per)}.{acid}"


def _salt(asked: _Asked) -> str:
    salt = asked.read("salt")
    if salt is None:
        return "Read salt first, not by the panel."
    aim = bands_of(traits_of(asked.sheet.pool), WaterState())["salt"].aim or 3200.0
    bag = "bag_40lb" if asked.context.unit_system == "us" else "bag_20kg"
    needed = make_up(salt, aim, asked.sheet.pool.volume_l, bag)
    return (
        phrase.make_up_words(needed, asked.context.unit_system)
        if needed
        else f"Salt reads {salt:,.0f}: enough."
    )


def _thiosulfate(asked: _Asked) -> str:
    fc = asked.read("fc")
    if fc is None:
        return ""
    if fc < _NONE_PPM:
        return "No chlorine is read: nothing goes in."
    per = -asked.per_unit("thiosulfate").cl2 * k.CL2 * 1000
    least, most = (asked.of("thiosulfate", fc / per * n) for n in (1.0, _EXCESS))
    return f"From {fc:g} ppm to none: {least} first, up to {most} in all, reading in between."


def _temperature(asked: _Asked) -> str:
    became = asked.progress.by_key.get("temp")
    return "" if became is None or not became.value else f"The water read {_shown(became.value)}."


def _shown(value: str) -> str:
    text, _, unit = value.rpartition(" ")
    return f"{text} {'°F' if unit == 'f' else '°C'}"


def _run(asked: _Asked) -> str:
    return "Begin it in Clear-up. While it kills, it has the water, and the steps below wait for it."


_TELLERS: dict[tuple[str, str], Callable[[_Asked], str]] = {
    ("closing", "balance"): _balance,
    ("closing", "balance_kit"): _balance,
    ("closing", "algaecide"): _chlorine,
    ("closing", "oxidiser"): _chlorine,
    ("opening", "look"): _temperature,
    ("opening", "run"): _run,
    ("opening", "run_2"): _run,
    ("opening", "doses"): _first,
    ("opening", "salt"): _salt,
    ("drain", "salt"): _salt,
    ("drain", "dechlorinate"): _thiosulfate,
}


def told(context: Context, sheet: Event, progress: Progress, key: str) -> str:
    """What stands beside a step of a season's plan, worked out now; empty for most."""
    teller = _TELLERS.get((sheet_of(sheet).subject, key))
    return "" if teller is None else teller(_Asked(context, sheet, progress))


def outcome(context: Context, sheet: Event) -> tuple[str, ...]:
    """What a season's plan that is done came to."""
    season = queries.newest_season(context.session, sheet.pool_id)
    if sheet_of(sheet).subject == "drain" or season is None:
        return ()
    warm = "" if season.temp_c is None else terms.show_value("temp", season.temp_c, context.unit_system)
    word = {"opened": "Opened", "closed": "Closed"}[season.what]
    local = season.at.astimezone(ZoneInfo(sheet.pool.time_zone))
    at = f" at {warm}" if warm else ""
    return (f"{word} on {local.day} {local:%b %Y}{at}. Next year's day is proposed from it.",)
