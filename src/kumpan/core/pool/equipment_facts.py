"""What follows from a piece of equipment in this pool, and what an unknown costs."""

from dataclasses import dataclass
from datetime import date
from typing import Literal

from kumpan.core.machines.backwash import de_charge_lb
from kumpan.core.machines.output import cell_ppm_day
from kumpan.core.pool.equipment import KINDS
from kumpan.core.records import PSI_KPA, Value
from kumpan.core.units import G_PER_LB, c_to_f, l_to_gal


@dataclass(frozen=True)
class Fact:
    """What follows from the record, in words. level: fine, watch or act; reason_id: why."""

    text: str
    reason_id: str
    level: Literal["none", "watch", "act"] = "none"


def unknowns(kind_id: str, values: dict[str, Value]) -> tuple[str, ...]:
    """What cannot be said because something is unknown, in words."""
    medium = values.get("medium")
    quiet = {"area"} if medium != "de" else {"clean"} if medium is None else set()
    return tuple(
        f.missing for f in KINDS[kind_id].fields if f.missing and f.id not in values and f.id not in quiet
    )


def facts(
    kind_id: str, values: dict[str, Value], volume_l: float, metric: bool, today: date
) -> tuple[Fact, ...]:
    """What follows from what is known of one piece in this pool, as of today, in the person's measures."""
    maker = {"chlorinator": _chlorinator, "filter": _filter, "pump": _pump}.get(kind_id)
    if maker is not None:
        return tuple(
            maker({k: v for k, v in values.items() if isinstance(v, float)}, values, volume_l, metric, today)
        )
    if kind_id == "feeder" and "holds" in values:
        product = dict(KINDS["feeder"].fields[1].choices)[str(values["holds"])]
        return (Fact(f"Holds {product} and nothing else, for life. Open it upwind, pump off.", "feeder_one"),)
    if kind_id == "openings":
        return tuple(_openings(values, today))
    if kind_id == "leveller":
        return (
            Fact(
                "It hides a leak and tops up unseen: fill water comes in with its calcium and alkalinity.",
                "equipment_cp",
            ),
        )
    if kind_id == "barrier" and values.get("gate") == "no":
        return (
            Fact("A gate that does not close by itself does not keep a child out.", "equipment_cp", "act"),
        )
    if kind_id == "heater" and values.get("bypass") == "yes":
        return (Fact("Bypass it during shock and acid; let it cool before the pump stops.", "equipment_cp"),)
    return ()


_Numbers = dict[str, float]


_Values = dict[str, Value]


def _chlorinator(n: _Numbers, values: _Values, volume_l: float, metric: bool, today: date) -> list[Fact]:
    lines = []
    if "output" in n and "hours_day" in n:
        full = cell_ppm_day(n["output"], 100, n["hours_day"], volume_l)
        low, high = (100 * need / full for need in DAILY_NEED_PPM)
        reach = f"{low:.0f} to {high:.0f} %"
        if high > 100:
            reach = (
                f"{low:.0f} % for 1 ppm; 4 ppm is more than it makes"
                if low <= 100
                else "it cannot make even 1 ppm"
            )
        text = f"At 100 % it makes {full:.1f} ppm a day here. A season's day takes 1 to 4 ppm: {reach}."
        lines.append(Fact(text, "cell_output", "watch" if high > 100 else "none"))
    elif "output" in n:
        lines.append(
            Fact(
                f"Running all day at 100 % it makes {cell_ppm_day(n['output'], 100, 24, volume_l):.1f} ppm a"
                " day here.",
                "cell_output",
            )
        )
    if "cutout" in n:
        shown = f"{n['cutout']:.0f} °C" if metric else f"{c_to_f(n['cutout']):.0f} °F"
        lines.append(Fact(f"In water below {shown} it makes nothing: dose by hand.", "cell_output"))
    if values.get("flow_switch") == "no":
        text = (
            "Without a flow switch a cell without flow collects hydrogen and can burst. Never run it with the"
            " pump off."
        )
        lines.append(Fact(text, "equipment_cp", "act"))
    return lines


DAILY_NEED_PPM = (1.0, 4.0)  # ordinary demand in season, common practice


_OVER_CLEAN_PSI = (8, 10)  # common practice


_SAND_YEARS = (4, 5)  # common practice


def _filter(n: _Numbers, values: _Values, volume_l: float, metric: bool, today: date) -> list[Fact]:
    lines, medium = [], values.get("medium")
    if "clean" in n:
        low, high = (n["clean"] + psi * PSI_KPA for psi in _OVER_CLEAN_PSI)
        at = f"{low:.0f} to {high:.0f} kPa" if metric else f"{low / PSI_KPA:.0f} to {high / PSI_KPA:.0f} psi"
        verb = {"cartridge": "Hose it", "sand": "Backwash", "de": "Backwash and recharge"}.get(
            str(medium), "Clean it"
        )
        lines.append(Fact(f"{verb} at {at}: 8 to 10 psi over clean.", "filter_pressure"))
    if medium == "de" and "area" in n:
        whole, part = (
            f"{v * G_PER_LB / 1000:.1f} kg" if metric else f"{v:.1f} lb" for v in de_charge_lb(n["area"])
        )
        lines.append(
            Fact(
                f"A whole charge is {whole} of DE, {part} after a backwash. Respirator against the dust.",
                "filter_pressure",
            )
        )
    if medium == "sand" and isinstance(values.get("media"), str):
        since = date.fromisoformat(str(values["media"]))
        due = tuple(since.year + years for years in _SAND_YEARS)
        late = today.year > due[1]
        lines.append(
            Fact(f"Sand is due in {due[0]} or {due[1]}.", "filter_pressure", "watch" if late else "none")
        )
    return lines


def _pump(n: _Numbers, values: _Values, volume_l: float, metric: bool, today: date) -> list[Fact]:
    moved = sum(n[f] * n[h] for f, h in (("flow", "hours"), ("flow_2", "hours_2")) if f in n and h in n)
    lines = []
    if moved:
        turns = moved / volume_l
        wanted = "" if turns >= 1 else ": at least one is wanted, so longer hours or a higher speed"
        lines.append(
            Fact(f"{turns:.1f} turnovers a day{wanted}.", "turnover", "none" if turns >= 1 else "watch")
        )
        hours = n.get("hours", 0.0) + n.get("hours_2", 0.0)
        if hours < 8:
            lines.append(
                Fact(f"{hours:g} hours a day; 8 are the usual least, 12 in heat.", "turnover", "watch")
            )
    elif "flow" in n:
        per = "L" if metric else "gal"
        total = volume_l if metric else l_to_gal(volume_l)
        lines.append(
            Fact(f"One turnover, {total:,.0f} {per}, takes {volume_l / n['flow']:.1f} hours.", "turnover")
        )
    return lines


def _openings(values: _Values, today: date) -> list[Fact]:
    lines = []
    until = values.get("cover_until")
    if isinstance(until, str):
        day = date.fromisoformat(until)
        if day < today:
            lines.append(
                Fact("The drain cover has expired: nobody swims until it is replaced.", "drains", "act")
            )
        elif (day - today).days <= 90:
            lines.append(
                Fact(
                    f"The drain cover expires in {(day - today).days} days: order the next.",
                    "drains",
                    "watch",
                )
            )
    if values.get("drains") == 1.0:
        text = (
            "A single main drain that can be blocked traps: never all suction on it. A second drain or a"
            " vacuum release is licensed work."
        )
        lines.append(Fact(text, "drains", "watch"))
    return lines


def expired_cover(values: dict[str, Value], today: date) -> bool:
    """Whether a record of skimmers and drains says that the drain cover has expired."""
    until = values.get("cover_until")
    return isinstance(until, str) and date.fromisoformat(until) < today


def warranty(until: date | None, today: date) -> Fact | None:
    """What to know of a warranty; None where no end is known."""
    if until is None:
        return None
    left = (until - today).days
    if left < 0:
        return Fact("Its warranty has ended.", "papers")
    if left <= 60:
        return Fact(f"Its warranty ends in {left} days: anything to claim?", "papers", "watch")
    return Fact(f"Under warranty until {until.day} {until:%b %Y}.", "papers")
