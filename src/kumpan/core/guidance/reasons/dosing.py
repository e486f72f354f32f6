"""Dosing: sizes, order, doubt, what is not used here, and what the log adds."""

from kumpan.core.guidance.reasons.reason import ANY, CP, Reason

REASONS = (
    Reason(
        "own_target",
        "Why this target",
        "You set it yourself on the Pool page. It stands in place of the school's.",
        "Your own",
        "You; the reason you gave stands on the Pool page.",
    ),
    Reason(
        "cannot_tell",
        "Why this test cannot tell",
        "Every method has an error: a strip reads alkalinity within 30, a drop kit within 10. Where what"
        " the reading may be spans two verdicts, and neither is likelier than three in four, Kumpan says"
        " so instead of dosing on it. The plus-minus figures hold 95 % of readings.",
        ANY,
        "Kumpan's own working assumptions from common practice; normal and independent errors.",
    ),
    Reason(
        "sized",
        "Why not all of it at once",
        "The reading, the volume and the product's strength are all a little uncertain. The first"
        " addition is sized so that, on these assumptions, it takes the water past the far edge of its"
        " band in under 1 case in 20: each reading as exact as its method says, the volume within 10 %"
        " unless proved, the strength within 5 %. The re-test decides the rest.",
        ANY,
        "Kumpan's own working assumptions from common practice (practice of testing; labels); the"
        " arithmetic is a plain Monte Carlo.",
    ),
    Reason(
        "forbidden",
        "Why this product is not used here",
        "Calcium hypochlorite adds calcium (not with a cell, nor where calcium is high); tablets and"
        " dichlor add stabilizer (not where it is high), and tablets overwhelm a small pool; dry acid"
        " adds sulfate (not on plaster, nor with a cell); borate is not allowed everywhere.",
        ANY,
        CP,
    ),
    Reason(
        "order",
        "Why in this order, with these waits",
        "Alkalinity or pH, then stabilizer or salt, then chlorine last, each mixed in before the next;"
        " calcium by itself, a day apart from soda or bicarbonate, or the water clouds. Acid and chlorine"
        " are kept apart, and so are acid and carbonates, by a day. A wait holds back only what it must: a"
        " pool under its least chlorine gets chlorine today, unless its water is about to be let go.",
        ANY,
        CP,
    ),
    Reason(
        "visit",
        "Why not everything now",
        "A plan ends at the next test that decides. What follows is said as a likely amount, not as steps:"
        " over days pH drifts with the air and stabilizer dissolves, so that a dose worked out today for"
        " next week is often wrong. One visit holds one act on pH or alkalinity, one product of chlorine,"
        " stabilizer or salt besides; calcium has a visit of its own. One addition moves the mixed water"
        " by at most 0.4 pH, 40 ppm alkalinity, 60 calcium, 30 stabilizer (20 where alkalinity is under 80"
        " or pH under 7.4) or 1,000 salt but for a first salting, and takes at most 16 fl oz of muriatic"
        " acid or 1 lb of soda ash per 10,000 gal; the label wins if it allows less.",
        ANY,
        "Common practice and our own rule.",
    ),
    Reason(
        "present",
        "Where these figures come from",
        "From the log alone: each measure's last readings, carried forward through doses, fresh water,"
        " rain, bathers and the chlorine used since, on the same chemistry as the plan. The span holds"
        " the truth about four times in five. It grows with age, and a reading pulls it together by what"
        " its method is worth; this pool's own pace of losing chlorine is learned. Chlorine and pH are"
        " dosed only on today's test, the others while they are recent and sure enough.",
        ANY,
        "A filter in the statistical sense (Kalman 1960, from memory). How fast measures drift is our"
        " own, from common practice, and corrected by each pool's readings.",
    ),
    Reason(
        "decay",
        "Why liquid chlorine is dosed by its age",
        "Liquid chlorine loses strength in store: at 77 °F a 12.5 % jug halves in about five months, at"
        " 95 °F in under two. Kumpan doses by the strength it should have today, from the day it was"
        " bought and where it is kept (77 °F where nobody said).",
        ANY,
        "Half-lives by strength and temperature: White, Handbook of Chlorination, from memory;"
        " interpolated, and extrapolated above 77 °F.",
    ),
    Reason(
        "label",
        "Why the label's rate",
        "Algaecides, phosphate removers, clarifiers, enzymes, sequestrants and mineral packs differ by"
        " maker: the label gives the rate, the protection and the waits. Kumpan scales the rate to the"
        " pool and does not compute what it does to the water. Where you type no rate it shows the common"
        " one.",
        ANY,
        "The label. Common rates for 10,000 gal (monopersulfate 1 lb, copper algaecide 6 fl oz, phosphate"
        " remover 8 fl oz): common practice.",
    ),
    Reason(
        "volume",
        "Why the volume is this sure",
        "Every dose scales with the volume, so its error goes into every plan. A volume from papers or"
        " sizes is taken as right within 10 %; a kidney by two widths within 15 %; metered or proved"
        " within 3 %; a guess by size within 30 %. A first addition is smaller where the volume is less"
        " sure.",
        ANY,
        "10 % unless proved: practice of the trade, no source. The other figures are Kumpan's own.",
    ),
    Reason(
        "volume_proof",
        "How a dose proves the volume",
        "Salt, calcium and stabilizer stay where they are put: what was poured, over what the reading"
        " rose by, is the gallons it went into. Kumpan offers it when the rise is at least three times"
        " its combined error, both tests are within 14 days, what was poured had time to mix, and no"
        " water was replaced between. Both volumes then count by how sure each is. You decide: rain, a"
        " leak or a backwash nobody logged spoils it.",
        ANY,
        "Mass balance; the conservative dose is common practice. Inverse-variance mean as in ISO/IEC"
        " Guide 98-3, from memory. Product strength within 5 % and 0.4 % a day for evaporation are"
        " assumptions.",
    ),
)
