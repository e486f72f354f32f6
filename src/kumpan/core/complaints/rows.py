"""Foam, a falling level, stinging eyes; and all complaints. Common practice, no source."""

from kumpan.core.complaints.guide import Complaint, Row, Suspect, read
from kumpan.core.complaints.looks import CHLORINE, CLOUDY, STAINS
from kumpan.core.work.sheet import Do, Look, Wait, Words

FOAM = Complaint(
    "foam",
    "Foam",
    "Foam stands on the water",
    (
        Suspect(
            "air",
            (
                Row(
                    "lid",
                    Do(),
                    Words(
                        "Look at the returns and through the pump's lid",
                        "Bubbles from the returns that burst at once are air, not foam.",
                    ),
                ),
            ),
            Words("What do you see?"),
            (("air", "Bubbles, and air under the lid"), ("foam", "Foam that stands")),
            ("air",),
            Words(
                "Air drawn in before the pump",
                "Level half up the skimmer's mouth, lid's ring clean and greased, basket seated.",
            ),
        ),
        Suspect(
            "product",
            (
                Row(
                    "bottle",
                    Do(),
                    Words(
                        "Shake a bottle half full of it",
                        "Beside one of tap water. Foam that stands for more than a few seconds is soap or"
                        " algaecide.",
                    ),
                ),
            ),
            Words("What went in within the last two weeks?", "The log knows, and the bottle proves it."),
            (
                ("product", "An algaecide or a cleaner, and the bottle foams"),
                ("none", "None, or the bottle does not foam"),
            ),
            ("product",),
            Words(
                "An algaecide that foams, or soap",
                "It goes by itself in days: skim it off, no more of it, less next time or one that does"
                " not foam.",
            ),
        ),
        Suspect(
            "organics",
            (CHLORINE,),
            Words("Is combined chlorine 0.5 or more, or free under its minimum?"),
            (("high", "Yes"), ("fine", "No")),
            ("high",),
            Words(
                "What people bring: lotion, sweat, soap",
                "A shock at dusk, showers before swimming, an enzyme by its label against the oil ring.",
            ),
        ),
        Suspect(
            "soft",
            (Row("read", read("ch"), Words("Test calcium hardness")),),
            Words("Is calcium under 100 ppm?"),
            (("low", "Yes"), ("fine", "No")),
            ("low",),
            Words(
                "Soft water",
                "Soap foams in it. Calcium by the Bench, where the surface asks for it anyway.",
            ),
        ),
    ),
)

LEVEL = Complaint(
    "level",
    "The level falls",
    "The water falls more than it should",
    (
        Suspect(
            "waste",
            (
                Row(
                    "look",
                    Do(),
                    Words(
                        "Look where water may run off",
                        "The waste line's end with the pump on, the pad, the heater's feet, wet ground by"
                        " the pipes.",
                    ),
                ),
            ),
            Words("Is anything wet?"),
            (("wet", "Yes, water runs or drips"), ("dry", "All is dry")),
            ("wet",),
            Words(
                "It runs off where you saw it",
                "A valve's gasket lets by to waste: pump off, the handle pressed and seated; then a new"
                " gasket."
                " A pipe or heater: the trade.",
            ),
        ),
        Suspect(
            "bucket",
            (
                Row(
                    "set",
                    Do(),
                    Words(
                        "A bucket on the step, filled to the pool's level",
                        "A stone in it. Mark the water inside and outside. Automatic filling off; nobody"
                        " in, no"
                        " backwash, no rain.",
                    ),
                ),
                Row("wait", Wait(24 * 60.0, "a day has gone"), Words("A day", "Pump as it usually runs.")),
                Row(
                    "pool",
                    Look("The pool fell by", unit="rain"),
                    Words("How far did the pool fall?", "From the mark outside the bucket."),
                ),
                Row(
                    "inside",
                    Look("The bucket fell by", unit="rain"),
                    Words("And the bucket?", "From the mark inside: what evaporated."),
                ),
            ),
            Words(
                "Did the pool fall more than the bucket?", "By more than an eighth of an inch (3 mm) a day."
            ),
            (("same", "About the same"), ("more", "Yes, the pool fell more")),
            ("same",),
            Words(
                "Evaporation, not a leak",
                "Wind, dry air and warm water take it: a cover by night keeps most. The loss brings"
                " calcium and salt"
                " up as it is filled again.",
            ),
        ),
        Suspect(
            "pipes",
            (
                Row(
                    "again",
                    Wait(24 * 60.0, "a day has gone"),
                    Words(
                        "The same once more, the pump off",
                        "For a day, both marks anew. What is lost only with the pump on is lost under"
                        " pressure.",
                        "With chlorine at its aim first: a day without a pump.",
                    ),
                ),
            ),
            Words("Does it lose less with the pump off?"),
            (("less", "Yes, less"), ("same", "No, as much")),
            ("less",),
            Words(
                "A line after the pump leaks",
                "Returns, filter, heater, waste valve; a leak trade presses the lines one by one.",
            ),
        ),
        Suspect(
            "shell",
            (
                Row(
                    "dye",
                    Do(),
                    Words(
                        "Dye at the fittings, pump off",
                        "A drop of food colour, still water, close to the light, skimmer's throat,"
                        " returns, main"
                        " drain, seams: a leak draws it in.",
                        "No cover of a main drain is touched.",
                    ),
                ),
            ),
            Words("Where was it drawn in?"),
            (("fitting", "At a fitting, a seam or a crack"), ("none", "Nowhere")),
            ("fitting",),
            Words(
                "The shell or a fitting leaks",
                "A gasket or a patch under water where it is small; else the trade. Where the fall stops"
                " by itself,"
                " it is at that height.",
            ),
        ),
    ),
)

EYES = Complaint(
    "eyes",
    "Eyes sting, or it smells",
    "Eyes sting, skin itches, it smells of chlorine",
    (
        Suspect(
            "combined",
            (CHLORINE,),
            Words("Is combined chlorine 0.5 or more?"),
            (("high", "Yes"), ("fine", "No")),
            ("high",),
            Words(
                "Combined chlorine: too little free, not too much",
                "A shock at dusk to ten times what is combined, then air: cover off, doors open.",
            ),
        ),
        Suspect(
            "ph",
            (Row("read", read("ph"), Words("Test pH", "Drops or photometer rather than a strip.")),),
            Words("Is pH out of 7.2 to 7.8?"),
            (("out", "Yes"), ("fine", "No")),
            ("out",),
            Words("pH", "The Bench brings it back; until it reads 7.2 to 7.8 nobody swims."),
        ),
        Suspect(
            "much",
            (Row("read", read("fc"), Words("Test free chlorine", "Over 10 it is read thinned.")),),
            Words("Is free chlorine over the pool's swim limit?"),
            (("over", "Yes"), ("fine", "No")),
            ("over",),
            Words(
                "Too much chlorine", "Feed off, cover off: sun takes it down. Closed until it reads in range."
            ),
        ),
    ),
)

COMPLAINTS: dict[str, Complaint] = {c.id: c for c in (CLOUDY, STAINS, FOAM, LEVEL, EYES)}
