"""The duties a pool is to have: by its equipment, its place and the cadence its person chose."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from kumpan.core.care.recur import Every, rule_of
from kumpan.core.care.rule import Rule
from kumpan.core.care.rules import RULES, WARRANTY
from kumpan.core.care.schedule import Anchor
from kumpan.core.care.site import Site


@dataclass(frozen=True)
class Wanted:
    """A duty that a pool is to have. days, rrule, adaptive: how it comes round."""

    rule: Rule
    anchor: Anchor
    days: int = 0
    rrule: str = ""
    params: Mapping[str, Any] = field(default_factory=dict)
    first_days: int = 0
    in_season: bool = True
    title: str = ""
    part: str = ""


def wanted(site: Site) -> list[Wanted]:
    """The duties of a pool: by its equipment, its place and the cadence its person chose."""
    found = [w for rule in RULES.values() if (w := _wanted(rule, site)) is not None]
    for id, piece in site.warranties.items():
        params = dict(WARRANTY.params) | {"paper": f"warranty:{id}", "equipment_id": id}
        title = WARRANTY.title.format(piece=piece)
        found.append(Wanted(WARRANTY, "adaptive", params=params, in_season=False, title=title, part=id))
    return found


def parts(site: Site) -> list[Rule]:
    """What the weekly clean holds here."""
    return [rule for rule in RULES.values() if rule.part_of and rule.applies(site)]


def _interval(rule: Rule, site: Site) -> int:
    """Days between, 0 where it does not come round here."""
    if (site.closed and rule.in_season) or (rule.in_winter and not site.closed):
        return 0
    days = rule.days.get(site.care.cadence, 0)
    if not days or not rule.applies(site):
        return 0
    own = rule.every(site) if rule.every is not None and site.care.cadence != "quarterly" else 0
    return own or days


def _wanted(rule: Rule, site: Site) -> Wanted | None:
    months, days = rule.monthly.get(site.care.cadence), _interval(rule, site)
    if months and rule.applies(site) and not (site.closed and rule.in_season):
        # A round's filters are spread over the four weeks' visits of the month.
        day = 1 + 7 * (site.in_round % 4)
        rrule = f"FREQ=MONTHLY;BYMONTH={','.join(map(str, months))};BYMONTHDAY={day}"
        return Wanted(rule, "calendar", rrule=rrule, in_season=rule.in_season)
    if not days or (rule.part_of and days >= _interval(RULES[rule.part_of], site) > 0):
        return None
    if rule.weekdays:
        return Wanted(rule, "calendar", rrule=rule_of(Every("week", rule.weekdays)), in_season=rule.in_season)
    if rule.adaptive:
        params = dict(rule.params)
        if rule.adaptive == "by_deposit":
            params["least"] = days if site.care.cadence == "quarterly" else 0
        if rule.adaptive == "by_gauge" and "days" in params:
            params["days"] = {"rise": 0, "two_weeks": 14}.get(site.care.filter_by, days)
        return Wanted(rule, "adaptive", params=params, in_season=rule.in_season)
    first = days if rule.first_days is None else rule.first_days
    return Wanted(rule, "completion", days, first_days=first, in_season=rule.in_season)
