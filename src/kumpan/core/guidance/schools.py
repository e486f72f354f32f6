"""The schools of chlorine: what each holds, and the levels they share."""

from dataclasses import dataclass
from typing import Literal

SchoolId = Literal["scaled_to_stabilizer", "flat_band", "public_code", "mineral_assisted"]


DEFAULT_SCHOOL: SchoolId = "scaled_to_stabilizer"


@dataclass(frozen=True)
class School:
    """A way of holding chlorine that practitioners follow. what: in a sentence; caution: what to know before
    choosing it.
    """

    id: SchoolId
    label: str
    what: str
    caution: str
    reason_id: str


SCHOOLS: dict[str, School] = {
    s.id: s
    for s in (
        School(
            "scaled_to_stabilizer",
            "scaled to stabilizer",
            "Free chlorine in proportion to stabilizer: hypochlorous acid, which kills, stays the same.",
            "",
            "fc_scaled",
        ),
        School(
            "flat_band",
            "flat band",
            "Free chlorine of 1 to 3 ppm (2 to 4 with stabilizer), 3 the aim, however much of it there is.",
            "It ignores that stabilizer binds chlorine: far above 30 ppm of it the band may not keep"
            " algae off.",
            "fc_flat",
        ),
        School(
            "public_code",
            "public-pool code",
            "The limits that health codes set for public pools.",
            "Your local code always wins; Kumpan does not certify.",
            "fc_public",
        ),
        School(
            "mineral_assisted",
            "mineral-assisted",
            "Free chlorine of 1 to 2 ppm (2 to 3 with stabilizer), copper, silver or ozone doing part of"
            " the work.",
            "Residential only, and it leaves little margin: test copper (0.2 to 0.4 ppm; above that it"
            " stains) and keep the maker's schedule.",
            "fc_mineral",
        ),
    )
}


# HOCl levels of the school (common practice), ppm.
HOCL_LEAST, HOCL_LEAST_STEADY, HOCL_AIM, HOCL_KILLS, HOCL_KILLS_MUSTARD = 0.03, 0.02, 0.05, 0.3, 0.5


SHOCK_FLOOR_PPM = 10.0


# pH and temperature at which the school's FC figures are stated, so that a target does not run after the
# reading: the pH every plan steers to, and the temperature at which the cyanurate constants are known.
PH_STATED, TEMP_STATED_C = 7.5, 25.0


CYA_FLOOR_PPM = 30.0  # below it the minimum and aim are those of 30


FC_FLOOR, FC_FLOOR_STABILIZED = 1.0, 2.0


# The most free chlorine one may swim in where the product's label is not recorded: many name 4 (from memory).
LABEL_FC_PPM = 4.0
# The most a target aims at whatever the stabilizer, and the share of stabilizer at which a cell that feeds
# steadily holds it (common practice).
FC_AIM_MOST, CELL_SHARE = 8.0, 0.07


FC_CAP = 10.0  # CDC Model Aquatic Health Code, from memory: the most one may swim in


DAILY_LOSS_PPM = 4.0  # upper end of ordinary demand in season, common practice


# What an ordinary day uses, ppm, until the log has a fit (common practice).
DAILY_DEMAND_PPM = 2.0
