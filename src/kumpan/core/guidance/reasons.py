"""Why: every rule's plain reason with its school and source. Data, linked from each number."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Reason:
    """id: stable; title: what it answers; text: plain words; school: whose view; source: where from."""

    id: str
    title: str
    text: str
    school: str
    source: str


CP = "Common practice, no published source."
_SCALED = "Scaled to stabilizer"
_ANY = "All schools"

REASONS: dict[str, Reason] = {
    r.id: r
    for r in (
        Reason(
            "fc_scaled",
            "Why this much free chlorine",
            "Stabilizer shields chlorine from the sun but also binds it: what kills is the little that is"
            " free as HOCl. Kumpan holds 0.03 ppm HOCl at least (0.02 where a chlorinator feeds steadily) and"
            " aims at 0.05, which at pH 7.5 is roughly 7 % (5 %) and 12 % of the stabilizer reading. Below 30"
            " ppm stabilizer the figures of 30 apply, and the aim is never under 1 ppm, or 2 with stabilizer."
            " It is never over 10, the most one may swim in.",
            _SCALED,
            "Equilibria: O'Brien, Morris & Butler (1974) and Morris (1966), from memory. The HOCl levels:"
            " common practice. The cap of 10: CDC Model Aquatic Health Code, from memory.",
        ),
        Reason(
            "fc_flat",
            "Why a flat 1 to 3 ppm",
            "The simple rule that most labels and shops give: 1 to 3 ppm of free chlorine, 3 when the pool is"
            " used hard. It needs no sum. It leaves out that stabilizer binds chlorine: with 60 ppm of it, 1"
            " ppm holds only a third of the active chlorine that keeps algae off.",
            "Flat band",
            "Common practice, no published source; ANSI/APSP/ICC-11 2019 has 1 to 4, from memory.",
        ),
        Reason(
            "fc_public",
            "Why these limits in a public pool",
            "At least 1 ppm, or 2 where stabilizer is used, and at most 10. Kumpan aims at 3, inside the"
            " ideal of 2 to 4. Your local code may ask for more, and always wins; Kumpan advises, it does not"
            " certify.",
            "Public-pool code",
            "CDC Model Aquatic Health Code (1 or 2 to 10); ANSI/APSP/ICC-11 2019 (ideal 2 to 4); from"
            " memory.",
        ),
        Reason(
            "fc_mineral",
            "Why so little chlorine with minerals",
            "Copper, silver or ozone does part of the work, so that 0.5 to 1 ppm of chlorine is held instead"
            " of two to five times as much. It leaves little margin: a hot day or a party empties it."
            " Residential only. Copper is tested too (0.2 to 0.4 ppm; above that it stains).",
            "Mineral-assisted",
            CP,
        ),
        Reason(
            "decay",
            "Why liquid chlorine is dosed by its age",
            "Liquid chlorine loses strength in store: at 77 °F a 12.5 % jug halves in about five months, at"
            " 95 °F in under two. Kumpan doses by the strength it should have today, from the day it was"
            " bought and where it is kept (77 °F where nobody said).",
            _ANY,
            "Half-lives by strength and temperature: White, Handbook of Chlorination, from memory;"
            " interpolated, and extrapolated above 77 °F.",
        ),
        Reason(
            "shock",
            "Why a shock goes this high",
            "A shock must kill, not just hold: about 0.3 ppm of active chlorine (HOCl), which is some 40 % of"
            " the stabilizer reading at pH 7.5. It is never under 10 ppm, nor under ten times the combined"
            " chlorine. The flat and public schools take 10 ppm. At dusk, as sun wastes it; nobody swims"
            " until chlorine is back in its range. Kumpan says the level; it does not plan shocks yet.",
            "All schools, each its own level",
            "Equilibria: O'Brien, Morris & Butler (1974), from memory. The levels and ten times combined"
            " chlorine: common practice; theory needs far less.",
        ),
        Reason(
            "ph_public",
            "Why pH between 7.0 and 7.8 here",
            "The range the code allows. A correction aims at 7.5 and is judged on the water once the added"
            " chlorine is spent.",
            "Public-pool code",
            "CDC Model Aquatic Health Code, from memory.",
        ),
        Reason(
            "ta_public",
            "Why this alkalinity in a public pool",
            "Any alkalinity from 60 to 180 is accepted; between 80 and 120 pH holds best. It is set"
            " before pH.",
            "Public-pool code",
            "ANSI/APSP/ICC-11 2019, from memory.",
        ),
        Reason(
            "cc_public",
            "Why combined chlorine under 0.4 here",
            "At 0.4 ppm the code asks for action: fresh water, oxidiser, shock, better air indoors.",
            "Public-pool code",
            "CDC Model Aquatic Health Code, from memory.",
        ),
        Reason(
            "cya_public",
            "Why at most 90 of stabilizer here",
            "The code sets no least, and at most 90 ppm; many local codes allow less, or none indoors.",
            "Public-pool code",
            "CDC Model Aquatic Health Code, from memory.",
        ),
        Reason(
            "cya_sun",
            "Why more stabilizer in full sun",
            "All-day sun burns off chlorine so fast that 40 to 100 ppm, aimed at 75, holds more of it than it"
            " binds.",
            _ANY,
            CP,
        ),
        Reason(
            "cya_indoor",
            "Why no stabilizer indoors",
            "There is no sun to shield chlorine from, so stabilizer only binds it.",
            _ANY,
            CP,
        ),
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
            _ANY,
            "Kumpan's own working assumptions from common practice; normal and independent errors.",
        ),
        Reason(
            "sized",
            "Why not all of it at once",
            "The reading, the volume and the product's strength are all a little uncertain. The first"
            " addition is sized so that, on these assumptions, it takes the water past the far edge of its"
            " band in under 1 case in 20: each reading as exact as its method says, the volume within 10 %"
            " unless proved, the strength within 5 %. The re-test decides the rest.",
            _ANY,
            "Kumpan's own working assumptions from common practice (practice of testing; labels); the"
            " arithmetic is a plain Monte Carlo.",
        ),
        Reason(
            "high_fc",
            "Why wait when chlorine is too high",
            "Sun and use take it down for nothing. In sun it halves in about 6 to 10 hours with 30 to 50 ppm"
            " of stabilizer, within the hour without. A neutraliser is quicker; too much of it eats the next"
            " chlorine, so start with half. By full oxidation one ounce takes about a ppm out of 850 gal; in"
            " practice it may take more.",
            _ANY,
            "Half-lives: common practice. Neutraliser: stoichiometry, 4 Cl2 a mole; AWWA C651 doses 1.6 times"
            " that, from memory.",
        ),
        Reason(
            "forbidden",
            "Why this product is not used here",
            "Calcium hypochlorite adds calcium (not with a cell, nor where calcium is high); tablets and"
            " dichlor add stabilizer (not where it is high), and tablets overwhelm a small pool; dry acid"
            " adds sulfate (not on plaster, nor with a cell); borate is not allowed everywhere.",
            _ANY,
            CP,
        ),
        Reason(
            "fc_high",
            "Why chlorine counts as high from here",
            "One day's summer loss (up to about 4 ppm) above the aim is plenty; more bleaches and wastes. Sun"
            " and time take it down. Above 10 ppm nobody swims, and pH and alkalinity tests cannot be"
            " trusted.",
            _SCALED,
            "The margin is our own rule from the daily loss in common practice; the 10: CDC Model Aquatic"
            " Health Code, from memory.",
        ),
        Reason(
            "cc_band",
            "Why combined chlorine should be under 0.5",
            "Combined chlorine (chloramine) is chlorine tied up with sweat and urine. It smells and stings"
            " and kills little. At 0.5 ppm or more the usual answer is a shock at dusk; Kumpan does not plan"
            " shocks yet.",
            _ANY,
            "Common practice; CDC Model Aquatic Health Code acts at 0.4, from memory.",
        ),
        Reason(
            "ph_band",
            "Why pH between 7.2 and 7.8",
            "Low pH corrodes metal, stains and stings; high pH scales, clouds and weakens chlorine. A"
            " correction aims at 7.5 and is judged on the water once the added chlorine is spent.",
            _ANY,
            "ANSI/APSP/ICC-11 2019 (7.2 to 7.8, ideal 7.4 to 7.6), from memory.",
        ),
        Reason(
            "ta_band",
            "Why this alkalinity",
            "Alkalinity is the buffer: too little and pH jumps about, too much and pH keeps climbing as CO2"
            " leaves. It is set before pH.",
            _ANY,
            "ANSI/APSP/ICC-11 2019 (60 to 180; 80 to 120 is the band most use), from memory; common"
            " practice.",
        ),
        Reason(
            "ta_chlorinator",
            "Why less alkalinity with a chlorinator",
            "The cell's hydrogen bubbles strip CO2, which drives pH up; with alkalinity of 60 to 80 it climbs"
            " more slowly.",
            _ANY,
            CP,
        ),
        Reason(
            "ta_soft",
            "Why more alkalinity in a soft-sided pool",
            "Small bodies of water swing quickly; a stronger buffer of 100 to 150 steadies them.",
            _ANY,
            CP,
        ),
        Reason(
            "ta_high",
            "Why high alkalinity is left alone for now",
            "Nothing lowers alkalinity alone: acid takes it down with pH and aeration brings pH back. While"
            " pH holds, up to 180 ppm is not worth the acid; each acid dose for pH lowers it a little"
            " anyway.",
            _ANY,
            "Upper limit 180: ANSI/APSP/ICC-11 2019, from memory. Leaving it alone: common practice.",
        ),
        Reason(
            "ch_plaster",
            "Why calcium on plaster and tile",
            "Water short of calcium takes it from plaster and grout. 200 is the least; a correction aims at"
            " 250 and stays well under 300, since only dilution takes calcium out.",
            _ANY,
            "ANSI/APSP/ICC-11 2019 (200 to 400), from memory; the aim: common practice.",
        ),
        Reason(
            "ch_vinyl",
            "Why low calcium does not matter here",
            "There is no plaster or grout to protect, so calcium is not worth buying. Much of it still scales"
            " heaters and cells.",
            _ANY,
            CP,
        ),
        Reason(
            "cya_band",
            "Why this much stabilizer",
            "Stabilizer keeps sun from burning chlorine off within the hour. More of it binds more chlorine, "
            "and only dilution takes it out, so 30 to 50 is enough for most pools.",
            _ANY,
            "ANSI/APSP/ICC-11 2019 (ideal 30 to 50, at most 100), from memory.",
        ),
        Reason(
            "cya_chlorinator",
            "Why more stabilizer with a chlorinator",
            "A cell makes little chlorine at a time, so it pays to lose less to the sun: makers and owners"
            " mostly use 60 to 80.",
            _ANY,
            CP,
        ),
        Reason(
            "salt_cell",
            "Why this much salt",
            "The cell needs its own salt range to make chlorine, and too little shortens its life. Ranges"
            " differ by maker: when yours says otherwise, its manual wins. This band is 2,700 to 3,400, aimed"
            " at 3,200.",
            _ANY,
            CP,
        ),
        Reason(
            "present",
            "Where these figures come from",
            "From the log alone: each measure's last readings, carried forward through doses, fresh water,"
            " rain, bathers and the chlorine used since, on the same chemistry as the plan. The span holds"
            " the truth about four times in five. It grows with age, and a reading pulls it together by what"
            " its method is worth; this pool's own pace of losing chlorine is learned. Chlorine and pH are"
            " dosed only on today's test, the others while they are recent and sure enough.",
            _ANY,
            "A filter in the statistical sense (Kalman 1960, from memory). How fast measures drift is our"
            " own, from common practice, and corrected by each pool's readings.",
        ),
        Reason(
            "salt_own_cell",
            "Why this much salt",
            "The range is this chlorinator's own, from its record; the middle is aimed at. Makers' ranges lie"
            " anywhere between 2,700 and 5,000 ppm: never below the cell's minimum, which shortens the life"
            " of its plates.",
            _ANY,
            "The maker's range, as typed; the middle is Kumpan's own choice.",
        ),
        Reason(
            "volume",
            "Why the volume is this sure",
            "Every dose scales with the volume, so its error goes into every plan. A volume from papers or"
            " sizes is taken as right within 10 %; a kidney by two widths within 15 %; metered or proved"
            " within 3 %; a guess by size within 30 %. A first addition is smaller where the volume is less"
            " sure.",
            _ANY,
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
            _ANY,
            "Mass balance; the conservative dose is common practice. Inverse-variance mean as in ISO/IEC"
            " Guide 98-3, from memory. Product strength within 5 % and 0.4 % a day for evaporation are"
            " assumptions.",
        ),
        Reason(
            "cell_output",
            "What a chlorinator makes",
            "Rated output x setting x hours, over the water. A season's day takes about 1 to 4 ppm of"
            " chlorine. Cold water throttles or stops the cell, most somewhere near 60 to 65 °F.",
            _ANY,
            "The product is arithmetic (600 g a day into 15,000 gal: 10.57 ppm a day). The demand and the"
            " temperatures: common practice.",
        ),
        Reason(
            "filter_pressure",
            "Why at this pressure",
            "A loaded filter shows as 8 to 10 psi over its clean pressure, at the same pump speed. Some also"
            " clean by the calendar. Cleaning sooner than needed filters worse. DE: about 1 lb for 10 sq ft,"
            " four fifths of it after a backwash. Sand is renewed every 4 to 5 years.",
            _ANY,
            CP,
        ),
        Reason(
            "turnover",
            "Why one turnover a day",
            "The whole pool through the filter at least once a day: 8 hours for most, 12 in heat; with a"
            " chlorinator the hours must make the chlorine too.",
            _ANY,
            CP,
        ),
        Reason(
            "feeder_one",
            "Why a feeder holds one product",
            "What is left of one chlorine in a feeder meets the next: trichlor where calcium hypochlorite was"
            " explodes. One product for life; a change means a new feeder.",
            _ANY,
            CP,
        ),
        Reason(
            "drains",
            "Why the drain cover's date counts",
            "A cover that is missing, broken or past its date can let the suction trap a bather. Nobody swims"
            " until it is replaced; a single drain that can be blocked needs a second one or a vacuum"
            " release, by a licensed trade.",
            _ANY,
            "ANSI/APSP-16, from memory.",
        ),
        Reason(
            "equipment_cp",
            "Why this is said",
            "It is what practitioners do and warn of; the maker's manual and licensed trades come first.",
            _ANY,
            CP,
        ),
        Reason(
            "papers",
            "Why keep the papers here",
            "Receipts and warranties of covers, cells, pumps and liners are lost when they are wanted.",
            _ANY,
            CP,
        ),
        Reason(
            "label",
            "Why the label's rate",
            "Algaecides, phosphate removers, clarifiers, enzymes, sequestrants and mineral packs differ by"
            " maker: the label gives the rate, the protection and the waits. Kumpan scales the rate to the"
            " pool and does not compute what it does to the water. Where you type no rate it shows the common"
            " one.",
            _ANY,
            "The label. Common rates for 10,000 gal (monopersulfate 1 lb, copper algaecide 6 fl oz, phosphate"
            " remover 8 fl oz): common practice.",
        ),
        Reason(
            "storage",
            "Why these stand apart",
            "Acid with chlorine makes chlorine gas; calcium hypochlorite with trichlor explodes; anything"
            " organic with an oxidiser burns. A leak or a torn bag is enough. All of it dry, locked,"
            " ventilated, upright, liquids under dry goods, away from equipment that rusts. The labels and"
            " your fire code come first.",
            _ANY,
            "Acid and chlorine, the two chlorines, organics and oxidisers, apart, dry, locked: common"
            " practice. The other pairs: usual rules of chemical storage, from memory.",
        ),
        Reason(
            "salt_none",
            "Why salt is not judged here",
            "Without a chlorinator salt has no target. Taste starts near 3,500 ppm; sea water is 35,000.",
            _ANY,
            CP,
        ),
        Reason(
            "dilute",
            "Why only fresh water lowers this",
            "No product takes stabilizer, calcium or salt out. The share to replace is 1 - target / reading,"
            " drained and refilled with water that holds none; with hard or salty fill water it takes more."
            " Partial drains on vinyl and fibreglass; follow local discharge rules.",
            _ANY,
            "Mass balance. CYA at most 90: CDC Model Aquatic Health Code; CH at most 1,000: ANSI/APSP/ICC-11"
            " 2019 (from memory).",
        ),
        Reason(
            "order",
            "Why in this order, with these waits",
            "Alkalinity, then pH, then stabilizer, then chlorine, each mixed in before the next; calcium by"
            " itself, a day apart from soda or bicarbonate, or the water clouds; salt any time. Acid and"
            " chlorine are kept apart. A wait holds back only what it must: a pool under its least chlorine"
            " gets chlorine today.",
            _ANY,
            CP,
        ),
        Reason(
            "portions",
            "Why in portions",
            "One addition moves the mixed water by at most 0.4 pH, 40 ppm alkalinity, 60 calcium, 20"
            " stabilizer or 1,000 salt, and takes at most 16 fl oz of muriatic acid or 1 lb of soda ash per"
            " 10,000 gal; the label wins if it allows less. The re-test between decides the rest.",
            _ANY,
            "Common practice and our own rule.",
        ),
        Reason(
            "swim",
            "Why this swim advice",
            "Swim when free chlorine is between its minimum and 10 ppm, pH is 7.2 to 7.8, what was added has"
            " mixed, and the floor is clearly visible. Too little chlorine closes a pool as surely as too"
            " much. Never in thunder, with a drain cover missing, or on any electrical tingle.",
            _ANY,
            "CDC Model Aquatic Health Code (at most 10 ppm; floor visible), from memory; common practice."
            " Label and local code win.",
        ),
        Reason(
            "saturation",
            "What the saturation index says",
            "Whether the water would dissolve calcium carbonate (below zero: it takes it from plaster and"
            " grout) or lay it down as scale (above). Near zero is best; -0.3 to +0.5 is accepted. It is"
            " computed from the equilibrium: pH, alkalinity less what stabilizer, borate and chlorine make of"
            " it, calcium, temperature and salt, with ion pairs and activities. Chlorine just added lifts pH"
            " and the index until it is spent. Where salt or chlorine was not tested, both ends of what they"
            " could be are shown.",
            _ANY,
            "Equilibria: Plummer & Busenberg (1982); PHREEQC 3 (Parkhurst & Appelo 2013); Truesdell & Jones"
            " (1974); from memory, and compared with PHREEQC itself. The band: ANSI/APSP/ICC-11 2019, from"
            " memory.",
        ),
        Reason(
            "langelier",
            "Why a second saturation index",
            "Langelier's closed form is the figure shops and older tables give. It stands beside the"
            " equilibrium so that the two can be compared: over the pool range they differ by 0.13 on"
            " average, from 0.34 lower in cold fresh water to 0.22 higher in hot salty water.",
            _ANY,
            "Langelier (1936), J. AWWA 28, 1500, in the closed form handbooks print; from memory.",
        ),
        Reason(
            "spent",
            "Why three figures",
            "Added chlorine moves pH at once, and gives most of it back as it is used up: liquid chlorine"
            " lifts pH and then lets it fall where it was, stabilized chlorine ends lower. So Kumpan shows"
            " the water as tested, with the plan in, and once the plan's chlorine is spent; acid and base are"
            " judged on the last.",
            _ANY,
            "Stoichiometry: HOCl gives H+, Cl- and half an O2 as it is spent. O'Brien, Morris & Butler"
            " (1974), from memory.",
        ),
        Reason(
            "active",
            "What active chlorine is",
            "The part of free chlorine present as HOCl, computed from pH, stabilizer and temperature. About"
            " 0.03 ppm keeps algae off, 0.05 is a comfortable aim.",
            _SCALED,
            "O'Brien, Morris & Butler (1974); Morris (1966); from memory. The levels: common practice.",
        ),
    )
}
