"""For which pools a row of a season's plan is taken up."""

from kumpan.core.seasons.plan import Asked, Takes


def has(kind: str, *whats: str) -> Takes:
    """Where such a piece of equipment stands; of these kinds of it, where named."""

    def takes(asked: Asked) -> bool:
        held = asked.site.equipment.get(kind)
        return held is not None and (not whats or held.get("what") in whats)

    return takes


def medium(*media: str) -> Takes:
    """Where the filter filters with one of these; empty: where nobody said."""
    return lambda asked: asked.site.has("filter") and asked.site.medium in media


def chose(name: str, answer: str) -> Takes:
    """Where a question was answered so."""
    return lambda asked: asked.chose(name, answer)


def both(*takes: Takes) -> Takes:
    """Where all of these hold."""
    return lambda asked: all(one(asked) for one in takes)


def without(takes: Takes) -> Takes:
    """Where this does not hold."""
    return lambda asked: not takes(asked)


def above(asked: Asked) -> bool:
    """A pool above the ground."""
    return asked.above


def below(asked: Asked) -> bool:
    """A pool in the ground, or one of which nobody said: its lines may be buried."""
    return not asked.above


def winter_cover(asked: Asked) -> bool:
    """A pool that is covered in winter."""
    return asked.cover != ""


def pillow(asked: Asked) -> bool:
    """A pillow goes under the cover: above the ground, where one was not refused."""
    return asked.above and asked.cover in ("solid", "mesh") and asked.chose("pillow", "yes")


def chlorinator(asked: Asked) -> bool:
    """A pool chlorinated by a cell."""
    return asked.site.traits.has_chlorinator or asked.site.has("chlorinator")


def plaster(asked: Asked) -> bool:
    """A surface that holds calcium."""
    return asked.site.traits.protects_calcium


def shell(asked: Asked) -> bool:
    """A surface that can be left dry for a day: plaster, tile, fibreglass."""
    return asked.site.traits.surface not in ("vinyl", "soft")


def has_drain(asked: Asked) -> bool:
    """A pool that has a main drain, or of which that is not known; none stands above the ground by custom."""
    drains = asked.site.equipment.get("openings", {}).get("drains")
    return drains != 0.0 and (drains is not None or not asked.above)
