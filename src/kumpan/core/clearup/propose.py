"""Which school fits a kit and a person; why one shocks at all, and what else would do."""

from dataclasses import dataclass

from kumpan.core.clearup import tables as t
from kumpan.core.clearup.run import Site, can_tell
from kumpan.core.clearup.slow import takes_tablets
from kumpan.core.machines.output import cell_ppm_day
from kumpan.core.water.methods import METHODS
from kumpan.core.water.state import WaterState


@dataclass(frozen=True)
class Fit:
    """A school for this person. fits: whether it can be followed to its end; why: in words."""

    school: t.School
    fits: bool
    why: str


@dataclass(frozen=True)
class Fitting:
    """What a school has to fit: the pool, the kit that reads its chlorine, how often a day somebody looks,
    the level, the kind of algae and how bad it is.
    """

    site: Site
    method: str
    looks: int
    level_ppm: float
    kind: t.Kind = t.KINDS["green"]
    severity: str = ""


def refused_kind(method: str, looks: int, kind: t.Kind, level_ppm: float) -> str:
    """Why a kind cannot be led with a kit, or by one look a day; empty where it can. A level to be held on
    has to be read and topped up.
    """
    if kind.held_h and looks == 1:
        return (
            f"{kind.label} algae ask for a level that is held: somebody looks morning and evening at least."
        )
    if not kind.held_h or can_tell(method, level_ppm):
        return ""
    return (
        f"{kind.label} algae ask for {level_ppm:.0f} ppm, held a day after all else says it is over: this kit"
        " cannot read that. Drops can."
    )


# Schools with limits of pool and bloom that hold; the others may be chosen against advice.
_LIMITED = ("every_other", "same_day")


def refused_school(of: Fitting, school: str) -> str:
    """Why a school cannot be followed here; empty where it can, if only against advice."""
    if of.kind.held_h and school != "hold":
        return f"{of.kind.label} algae ask for a level that is held: choose to hold the level first."
    fit = next((f for f in schools_for(of) if f.school.id == school), None)
    return fit.why if school in _LIMITED and fit is not None and not fit.fits else ""


def schools_for(of: Fitting) -> tuple[Fit, ...]:
    """The schools, the one proposed first. By pool, kit and how often somebody can look (common practice and
    our own).
    """
    usual = _usual(of.method, of.looks, of.level_ppm)
    if of.kind.held_h:
        told = "Its level is held: no other school does."
        hold = next(f for f in usual if f.school.id == "hold")
        return (hold, *(Fit(s, False, told) for s in t.SCHOOLS.values() if s.id != "hold"))
    return (*usual, _every_other(of), _same_day(of))


def _every_other(of: Fitting) -> Fit:
    school = t.SCHOOLS["every_other"]
    if of.kind.id != "green":
        return Fit(school, False, f"{of.kind.label} algae want more than that.")
    if of.severity == "hidden":
        return Fit(school, False, "A swamp eats each round before it kills: held, or by bags.")
    how = "tablets carry it" if takes_tablets(of.site) else "by liquid each dusk"
    return Fit(school, True, f"Gentle and slow: {how}, one look a day.")


def _same_day(of: Fitting) -> Fit:
    school, site = t.SCHOOLS["same_day"], of.site
    if site.traits.volume_l > t.SAME_DAY_MOST_L or site.filter_kind != "cartridge":
        return Fit(school, False, "For pools under 5,000 gal with a cartridge.")
    if of.kind.id != "green" or of.severity == "hidden":
        return Fit(school, False, "A day does not end this: empty it, or go by another school.")
    return Fit(school, of.looks > 1, "Somebody stays by it for the day, a spare cartridge at hand.")


def _usual(method: str, looks: int, level_ppm: float) -> tuple[Fit, ...]:
    hold, bags = t.SCHOOLS["hold"], t.SCHOOLS["bags"]
    name = METHODS[method].label.lower() if method in METHODS else "this kit"
    if not can_tell(method, level_ppm):
        why = f"A {name} cannot tell 1 ppm at {level_ppm:.0f} ppm, so it can neither follow nor end it."
        end = (
            "It ends on two clear days and a morning's reading."
            if not can_tell(method, t.STRIP_FC_PPM)
            else "It ends on a night's reading once chlorine is low enough for this kit."
        )
        return (Fit(bags, True, f"Fits a {name}. {end}"), Fit(hold, False, why))
    if looks == 1:
        return (
            Fit(bags, True, "Fits one look a day: a round each dusk."),
            Fit(hold, True, "Works with one look a day too, with a longer kill: the level falls by day."),
        )
    return (
        Fit(hold, True, "Your kit can follow it, and you can look often enough."),
        Fit(bags, True, "Less to read; you learn later whether it was enough."),
    )


@dataclass(frozen=True)
class Cause:
    """Why one shocks. what: what it does about it."""

    id: str
    label: str
    what: str


CAUSES: dict[str, Cause] = {
    c.id: c
    for c in (
        Cause("routine", "It is time: weekly or every two weeks", "Burns off what builds up unseen."),
        Cause(
            "smell", "It smells of chlorine", "That smell is combined chlorine: more free chlorine clears it."
        ),
        Cause("cc", "Combined chlorine reads 0.5 or more", "Ten times as much free chlorine breaks it down."),
        Cause("storm", "After a storm", "Dust, leaves and rain took the chlorine and brought food."),
        Cause("bathers", "Many people swam", "Sweat and skin took the chlorine."),
        Cause("opening", "Opening the pool", "The winter's rest is burnt off before it grows."),
    )
}  # common practice


@dataclass(frozen=True)
class OtherMeans:
    """Another way than chlorine by hand. can: whether it does here; why: how, or why not."""

    means: t.Means
    label: str
    can: bool
    why: str


# What has to be in range before an oxidiser (common practice), and how long a cell's boost runs.
_BOOST_H = 24.0


def other_means(site: Site, water: WaterState, level_ppm: float, demand_ppm: float) -> tuple[OtherMeans, ...]:
    """An oxidiser without chlorine, and the chlorinator's boost: hours from its rated output, and whether it
    can reach the level at all. demand_ppm: what a day uses.
    """
    found = [_oxidiser(water)]
    if site.traits.has_chlorinator:
        found.append(_boost(site, water, level_ppm, demand_ppm))
    return tuple(found)


def _oxidiser(water: WaterState) -> OtherMeans:
    off = []
    if water.ph is not None and not 7.2 <= water.ph <= 7.8:
        off.append(f"pH ({water.ph:.1f})")
    if water.ta_ppm is not None and water.ta_ppm < 60:
        off.append(f"alkalinity ({water.ta_ppm:.0f})")
    if water.fc_ppm is not None and water.fc_ppm < 1:
        off.append(f"free chlorine ({water.fc_ppm:.1f})")
    label = "Non-chlorine oxidiser (monopersulfate)"
    if off:
        return OtherMeans("oxidiser", label, False, f"Not before these are in range: {' and '.join(off)}.")
    return OtherMeans(
        "oxidiser",
        label,
        True,
        "About 1 lb per 10,000 gal by its label; swim after 15 minutes to an hour on a reading. It kills no"
        " algae, reads as combined chlorine for two days, and keeps a day from a chlorine shock.",
    )


def _boost(site: Site, water: WaterState, level_ppm: float, demand_ppm: float) -> OtherMeans:
    label, traits = "The chlorinator's boost", site.traits
    if not traits.cell_feeds(water.salt_ppm, water.temp_c):
        return OtherMeans(
            "boost", label, False, "The cell does not feed now: salt too low or water too cold."
        )
    if traits.cell_g_day is None:
        return OtherMeans(
            "boost", label, False, "Its rated output is not recorded: what it can reach is not known."
        )
    made = cell_ppm_day(traits.cell_g_day, 100, 24, traits.volume_l)
    gain, short = made - demand_ppm, level_ppm - (water.fc_ppm or 0.0)
    if gain <= 0:
        return OtherMeans("boost", label, False, f"It makes {made:.1f} ppm a day, less than the pool uses.")
    hours = 24 * short / gain
    if hours > _BOOST_H:
        reach = (water.fc_ppm or 0.0) + gain
        return OtherMeans(
            "boost",
            label,
            False,
            f"In a day it reaches about {reach:.0f} ppm, not {level_ppm:.0f}: a small shock at best."
            " Liquid chlorine"
            " for the level.",
        )
    return OtherMeans(
        "boost",
        label,
        True,
        f"About {hours:.0f} hours at full output reach {level_ppm:.0f} ppm; swim on a reading only.",
    )
