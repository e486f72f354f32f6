"""What grows, or only looks so: a short guided look that ends in ranked causes with odds and reasons.

Odds start from how often each is met (common practice: green is nearly all of it, true mustard two or three
cases a year among one shop's customers, black next) and move with each answer by how often such a cause shows
it. How often is our own estimate from what practitioners look for.
"""

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class Question:
    """One thing to look at. choices: (answer, label)."""

    id: str
    ask: str
    choices: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class Kind:
    """What it may be. often: of a hundred such looks; settles: the test that decides it; does: what follows.
    shows: by question, how often in ten it gives each answer.
    """

    id: str
    label: str
    algae: bool
    often: float
    settles: str
    does: str
    shows: Mapping[str, Mapping[str, float]]


QUESTIONS = (
    Question(
        "where",
        "Where is it?",
        (
            ("water", "In all the water"),
            ("walls", "On walls and floor"),
            ("spots", "In spots or joints"),
            ("floor", "On the floor only"),
            ("surface", "On the surface"),
        ),
    ),
    Question(
        "colour",
        "What colour?",
        (
            ("green", "Green"),
            ("yellow", "Yellow-brown"),
            ("black", "Black or blue-black"),
            ("grey", "Grey or white"),
            ("tea", "Tea brown"),
        ),
    ),
    Question(
        "clear",
        "Is the water itself clear?",
        (("clear", "Clear, only coloured or with deposits"), ("dull", "Dull or cloudy")),
    ),
    Question(
        "feel",
        "How does it feel?",
        (("slimy", "Slimy"), ("powder", "Fine powder"), ("grit", "Gritty"), ("hard", "Hard")),
    ),
    Question(
        "brush",
        "Does it brush off?",
        (
            ("easy", "Easily, in a cloud"),
            ("sinks", "Off, and sinks at once"),
            ("hard", "Hardly"),
            ("none", "Nothing there to brush"),
        ),
    ),
    Question(
        "returns",
        "Does it come back to the same place?",
        (
            ("same", "Yes, within a day or two"),
            ("anywhere", "It comes back elsewhere"),
            ("no", "No, or not seen yet"),
        ),
    ),
    Question(
        "light", "In which light?", (("shade", "On the shady side"), ("sun", "In the sun"), ("both", "Both"))
    ),
    Question(
        "cloud",
        "What colour is the cloud it makes?",
        (
            ("green", "Green"),
            ("yellow", "Yellow-brown"),
            ("dark", "Dark flakes"),
            ("pale", "Grey or pale"),
            ("none", "No cloud"),
        ),
    ),
)

KINDS: dict[str, Kind] = {
    k.id: k
    for k in (
        Kind(
            "green", "Green algae", True, 70,
            "A night's reading: free chlorine falls by more than 1 ppm between sunset and sunrise.",
            "Clear-up at the level that kills a bloom.",
            {
                "where": {"water": 6, "walls": 3, "floor": 0.7, "spots": 0.2, "surface": 0.1},
                "colour": {"green": 9.3, "yellow": 0.4, "grey": 0.2, "black": 0.05, "tea": 0.05},
                "clear": {"dull": 9, "clear": 1},
                "feel": {"slimy": 8.5, "powder": 1.2, "grit": 0.2, "hard": 0.1},
                "brush": {"easy": 7.5, "none": 2, "hard": 0.3, "sinks": 0.2},
                "returns": {"anywhere": 4.5, "no": 4, "same": 1.5},
                "light": {"both": 6, "sun": 2.5, "shade": 1.5},
                "cloud": {"green": 8.5, "none": 1, "yellow": 0.3, "pale": 0.15, "dark": 0.05},
            },
        ),
        Kind(
            "mustard", "Mustard algae", True, 3,
            "Brush it off and look next day: it is back in the same shady place, and chlorine was at"
            " its aim.",
            "A higher level, held longer; treat what hung in the water too.",
            {
                "where": {"walls": 7, "floor": 2.5, "spots": 0.4, "water": 0.1, "surface": 0.05},
                "colour": {"yellow": 9, "green": 0.6, "tea": 0.3, "black": 0.05, "grey": 0.1},
                "clear": {"clear": 8.5, "dull": 1.5},
                "feel": {"powder": 7.5, "slimy": 2, "grit": 0.4, "hard": 0.1},
                "brush": {"easy": 9.4, "hard": 0.1, "sinks": 0.3, "none": 0.2},
                "returns": {"same": 9, "anywhere": 0.5, "no": 0.5},
                "light": {"shade": 8.5, "both": 1.2, "sun": 0.3},
                "cloud": {"yellow": 9, "green": 0.5, "pale": 0.3, "dark": 0.1, "none": 0.1},
            },
        ),
        Kind(
            "black", "Black algae", True, 5,
            "A stiff brush on one spot: the head stays, or comes off and is back within days.",
            "Weeks of hard brushing at a raised level; a shock alone only bleaches its cap.",
            {
                "where": {"spots": 9, "walls": 0.8, "floor": 0.15, "water": 0.02, "surface": 0.02},
                "colour": {"black": 9.4, "green": 0.4, "yellow": 0.1, "grey": 0.1, "tea": 0.02},
                "clear": {"clear": 9, "dull": 1},
                "feel": {"hard": 8, "slimy": 1.8, "powder": 0.1, "grit": 0.1},
                "brush": {"hard": 9.3, "easy": 0.5, "sinks": 0.1, "none": 0.1},
                "returns": {"same": 9, "no": 0.8, "anywhere": 0.2},
                "light": {"shade": 7.5, "both": 2, "sun": 0.5},
                "cloud": {"dark": 5, "none": 4, "green": 0.8, "pale": 0.1, "yellow": 0.1},
            },
        ),
        Kind(
            "pollen", "Pollen", False, 7,
            "A fine sock over the skimmer basket overnight: it is caught there, and chlorine holds"
            " overnight.",
            "Skim, and catch it in a sock; no shock.",
            {
                "where": {"surface": 7, "floor": 2, "walls": 0.8, "water": 0.2, "spots": 0.05},
                "colour": {"yellow": 8, "green": 1.7, "grey": 0.2, "tea": 0.1, "black": 0.02},
                "clear": {"clear": 8.5, "dull": 1.5},
                "feel": {"powder": 9.5, "grit": 0.3, "slimy": 0.1, "hard": 0.05},
                "brush": {"easy": 7, "sinks": 1, "none": 2, "hard": 0.05},
                "returns": {"anywhere": 6, "no": 3.5, "same": 0.5},
                "light": {"both": 8.5, "sun": 1, "shade": 0.5},
                "cloud": {"yellow": 7, "none": 2, "pale": 0.8, "green": 0.2, "dark": 0.02},
            },
        ),
        Kind(
            "sand", "Sand or dirt", False, 5,
            "A pinch of it between the fingers: it grits, and sinks in a glass within seconds.",
            "Vacuum it; if it comes back under a return, the filter lets sand through.",
            {
                "where": {"floor": 9, "walls": 0.3, "spots": 0.6, "water": 0.05, "surface": 0.05},
                "colour": {"yellow": 6, "grey": 3, "tea": 0.5, "black": 0.4, "green": 0.1},
                "clear": {"clear": 9.3, "dull": 0.7},
                "feel": {"grit": 9, "powder": 0.9, "slimy": 0.05, "hard": 0.05},
                "brush": {"sinks": 9, "easy": 0.8, "none": 0.1, "hard": 0.1},
                "returns": {"same": 4.5, "anywhere": 2, "no": 3.5},
                "light": {"both": 9, "sun": 0.5, "shade": 0.5},
                "cloud": {"none": 7.5, "pale": 1.5, "yellow": 0.9, "green": 0.05, "dark": 0.05},
            },
        ),
        Kind(
            "dead", "Dead algae", False, 5,
            "A night's reading: free chlorine holds, and combined chlorine is 0.5 or less.",
            "Vacuum and filter; a clarifier helps.",
            {
                "where": {"floor": 6, "water": 3.5, "walls": 0.4, "spots": 0.05, "surface": 0.05},
                "colour": {"grey": 9.3, "green": 0.5, "yellow": 0.2, "black": 0.02, "tea": 0.02},
                "clear": {"dull": 7, "clear": 3},
                "feel": {"powder": 7, "slimy": 2.8, "grit": 0.15, "hard": 0.05},
                "brush": {"easy": 8.8, "none": 1, "sinks": 0.2, "hard": 0.05},
                "returns": {"anywhere": 7, "no": 2.5, "same": 0.5},
                "light": {"both": 9, "sun": 0.5, "shade": 0.5},
                "cloud": {"pale": 9, "green": 0.5, "none": 0.4, "yellow": 0.1, "dark": 0.02},
            },
        ),
        Kind(
            "copper", "Dissolved copper", False, 2.5,
            "A copper test; a white bucket of the water is clear and green all the same.",
            "Sequestrant by its label; find where it comes from. More chlorine stains.",
            {
                "where": {"water": 9.3, "walls": 0.5, "spots": 0.1, "floor": 0.1, "surface": 0.02},
                "colour": {"green": 9.4, "black": 0.3, "tea": 0.1, "yellow": 0.05, "grey": 0.1},
                "clear": {"clear": 9.6, "dull": 0.4},
                "feel": {"slimy": 1, "powder": 3, "grit": 2, "hard": 4},
                "brush": {"none": 9.5, "hard": 0.4, "easy": 0.1, "sinks": 0.02},
                "returns": {"no": 8.5, "same": 1, "anywhere": 0.5},
                "light": {"both": 9.6, "sun": 0.2, "shade": 0.2},
                "cloud": {"none": 9.5, "green": 0.3, "pale": 0.1, "yellow": 0.05, "dark": 0.05},
            },
        ),
        Kind(
            "iron", "Iron", False, 2,
            "An iron test; chlorine in a bucket of it turns it browner.",
            "Sequestrant by its label; fill through a hose filter. More chlorine stains.",
            {
                "where": {"water": 8.5, "walls": 0.8, "spots": 0.4, "floor": 0.3, "surface": 0.02},
                "colour": {"tea": 8.5, "yellow": 1, "green": 0.4, "grey": 0.05, "black": 0.05},
                "clear": {"clear": 7.5, "dull": 2.5},
                "feel": {"powder": 5, "hard": 3, "grit": 1.5, "slimy": 0.5},
                "brush": {"none": 8.3, "hard": 1, "easy": 0.6, "sinks": 0.1},
                "returns": {"no": 7.5, "same": 2, "anywhere": 0.5},
                "light": {"both": 9.6, "sun": 0.2, "shade": 0.2},
                "cloud": {"none": 8.5, "yellow": 1.2, "pale": 0.2, "green": 0.05, "dark": 0.05},
            },
        ),
        Kind(
            "tannin", "Tannin from leaves", False, 1.5,
            "No copper, no iron; chlorine in a bucket of it bleaches the colour.",
            "Leaves out, chlorine at its aim: it fades.",
            {
                "where": {"water": 8.5, "floor": 1, "surface": 0.2, "walls": 0.2, "spots": 0.1},
                "colour": {"tea": 9.5, "yellow": 0.3, "green": 0.1, "grey": 0.05, "black": 0.05},
                "clear": {"clear": 8.5, "dull": 1.5},
                "feel": {"slimy": 5, "powder": 3, "grit": 1, "hard": 1},
                "brush": {"none": 9.3, "easy": 0.5, "sinks": 0.15, "hard": 0.05},
                "returns": {"no": 8.5, "anywhere": 1, "same": 0.5},
                "light": {"both": 9.6, "sun": 0.2, "shade": 0.2},
                "cloud": {"none": 9.3, "pale": 0.3, "yellow": 0.3, "green": 0.05, "dark": 0.05},
            },
        ),
    )
}  # fmt: skip

# Two causes nearer than this are both named (our own).
APART = 2.0


@dataclass(frozen=True)
class Likely:
    """A cause: its share of all, the answers that speak for it and against it, in words."""

    kind: Kind
    share: float
    speaks_for: tuple[str, ...]
    against: tuple[str, ...]


@dataclass(frozen=True)
class Identified:
    """Causes, the likeliest first. named: the one it is, None while two stand within a factor of two.
    settles: what decides between the first two, or proves the named one.
    """

    ranked: tuple[Likely, ...]
    named: Kind | None
    settles: tuple[str, ...]


def identify(answers: Mapping[str, str]) -> Identified:
    """Rank what it may be by the answers given; unknown questions and answers are left out.

    Odds multiply as if the answers were independent (naive Bayes), which is why two causes within a factor of
    two are both named.
    """
    known = {q.id: a for q in QUESTIONS if (a := answers.get(q.id)) and a in dict(q.choices)}
    weights = {k.id: k.often for k in KINDS.values()}
    for question, answer in known.items():
        for kind in KINDS.values():
            weights[kind.id] *= _share(kind, question, answer)
    total = sum(weights.values())
    ranked = sorted(
        (Likely(k, weights[k.id] / total, *_reasons(k, known)) for k in KINDS.values()),
        key=lambda o: -o.share,
    )
    first, second = ranked[0], ranked[1]
    named = first.kind if known and first.share >= APART * second.share else None
    settles = (first.kind.settles,) if named else (first.kind.settles, second.kind.settles)
    return Identified(tuple(ranked), named, settles)


def _share(kind: Kind, question: str, answer: str) -> float:
    shows = kind.shows[question]
    return shows.get(answer, 0.02) / sum(shows.values())


def _reasons(kind: Kind, known: Mapping[str, str]) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Answers that such a cause gives at least twice as often as the rest do, and at most half as often."""
    speaks: tuple[list[str], list[str]] = ([], [])
    for question in QUESTIONS:
        answer = known.get(question.id)
        if answer is None:
            continue
        others = [_share(k, question.id, answer) * k.often for k in KINDS.values() if k is not kind]
        weight = sum(k.often for k in KINDS.values() if k is not kind)
        ratio = _share(kind, question.id, answer) / (sum(others) / weight)
        words = dict(question.choices)[answer].lower()
        if ratio >= 2:
            speaks[0].append(words)
        elif ratio <= 0.5:
            speaks[1].append(words)
    return tuple(speaks[0]), tuple(speaks[1])
