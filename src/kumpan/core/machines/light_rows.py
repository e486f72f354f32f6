"""What a chlorinator's light means, as data, in the trade's order: reminder or fault, salt, flow, cold, a
restart, a look at the plates. Common practice, no source.
"""

from kumpan.core.machines.guide import Row
from kumpan.core.work.sheet import END, Decide, Do, MetBy, Test, Words

_READS_SALT = MetBy("water_test", frozenset({"salt"}))
_LOOK = f"{END}:cell"
_WHICH = Row(
    "which",
    Decide(
        "Which light?",
        (
            ("salt", "Low salt", ""),
            ("flow", "No flow", ""),
            ("fault", "Check cell, or a fault", ""),
            ("reminder", "Inspect, nothing else", _LOOK),
        ),
    ),
    Words(
        "A reminder, or a fault?",
        "An inspect light alone often only counts three months: look at the plates, then reset it.",
    ),
)
_LOW = Row(
    "low",
    Decide(
        "What did the test say?",
        (("fine", "Salt is enough", ""), ("low", "Low: salt goes in", END)),
    ),
    Words(
        "Is there enough salt?",
        "Low: the Bench has the bags. Cell off until it is dissolved, pump on for a day, test, then"
        " the rest.",
    ),
)
_FLOW = Row(
    "flow",
    Decide(
        "How does the water run?",
        (("strong", "Strong jets, no bubbles", ""), ("weak", "Weak, or air in it", "filter")),
    ),
    Words(
        "Bubbles or a weak flow?",
        "Full baskets, a loaded filter, a low level, a lid that draws air: each of them stops the cell.",
        "Never bypass the flow switch.",
    ),
)
_CYCLE = Row(
    "cycle",
    Do(),
    Words("Power off at the breaker, a minute, on again", "The box starts afresh.", "Dry hands."),
)
_BACK = Row(
    "back",
    Decide(
        "Is the light back within minutes?",
        (("gone", "It stays out", END), ("back", "It is back: look at the plates", _LOOK)),
    ),
    Words("Give it ten minutes", "Back at once, with salt enough: the plates want a look."),
)


def light_rows(cutout: str, salt: str) -> tuple[Row, ...]:
    """What a light means, in the trade's order. cutout: under which the cell stops, salt: what it wants, in
    words.
    """
    tested = Row(
        "salt",
        Test(("salt",)),
        Words(
            "Test the salt, not by the panel",
            f"Strip, drops or meter. This cell wants {salt}. The panel guesses salt from its current, and"
            " reads low in cold water or on scaled plates.",
            "Never pour salt on a panel's word.",
        ),
        met_by=_READS_SALT,
    )
    cold = Row(
        "cold",
        Decide(
            "How warm is the water?",
            (("warm", "Warm enough", ""), ("cold", "Colder than that", END)),
        ),
        Words(
            "Is it simply cold?",
            f"Under {cutout} the cell makes little or nothing, and a low-salt light is false. Dose by"
            f" hand"
            " until it is warmer.",
        ),
    )
    return (_WHICH, tested, _LOW, _FLOW, cold, _CYCLE, _BACK)
