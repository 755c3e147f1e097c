"""How a mishap is put right, gentlest first, by what lies beneath: lifted, swabbed, rubbed flat, sprayed through a
hole, covered, blocked out, taken back to the seal. There alone, and on that side."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from diachrom.core.bait.mask import FREE
from diachrom.core.bait.plan import MOST_LAYERS, WHATS, Layer, Plan
from diachrom.core.bait.stroke import drawn
from diachrom.core.session.places import Spot
from diachrom.core.session.script import LEFT
from diachrom.words import listed, say

SAVES = ("varnish", "clear", "sealer")
TOOL = {"hole": "swab", "block": "dot"}  # the form of what is sprayed through a hole: soft around, or hard
WHITE_UM, WHITE_COATS = 12.0, 4
NAMELESS: Mapping[int, str] = {}
LAYER_MIN = 3  # to lay a layer again at one spot


@dataclass(frozen=True)
class Means:
    """What is done by hand, how long that takes, what it will look like, and what it risks."""

    words: str
    by_hand: tuple[tuple[str, int], ...]  # words and minutes, waits among them
    looks: str
    risks: str = ""
    wet: bool | None = None  # only while the paint is wet, or only once it is dry

    @property
    def at_once(self) -> str:
        """All of it in one sentence."""
        return listed((words for words, _ in self.by_hand), "; ")


_HOLE = (say("Hold paper with a torn hole, a little larger than the place, 5 mm above it"), 1)
MEANS = {
    "needle": Means(
        say("Clean the needle and go on"),
        ((say("Wipe the needle with cleaner on a swab, spray it clear on paper"), 1),),
        say("specks that landed stay"),
    ),
    "again": Means(say("Spray it there"), (), say("as planned"), say("a second edge beside the first, if it was dry")),
    "lift": Means(
        say("Let it dry and lift it off"),
        ((say("Let it dry by itself"), 10), (say("Lift it with a dry cotton bud"), 1)),
        say("a dull speck, gone under clear"),
        say("pulls paint that is not dry through"),
    ),
    "swab": Means(
        say("Take it off with a damp swab"),
        ((say("Swab it off there, damp, from outside in"), 1), (say("Dry the place with warm air"), 2)),
        say("as planned"),
        say("its rim has to be met again"),
        wet=True,
    ),
    "bare": Means(
        say("Rub it off the foil"),
        ((say("Rub it off the foil with a dry swab while it is fresh"), 1),),
        say("as planned"),
        say("scratches soft foil"),
        wet=True,
    ),
    "flat": Means(
        say("Rub it flat"),
        ((say("Let it dry through"), 60), (say("Rub it flat there, wet, with the finest paper"), 4)),
        say("as planned, where the hand was light"),
        say("goes through to what lies beneath"),
        wet=False,
    ),
    "hole": Means(
        say("Spray what lies beneath through a hole in paper"),
        (_HOLE,),
        say("soft around, close to what it was"),
        say("a ring shows where the paper touched"),
        wet=False,
    ),
    "cover": Means(
        say("Make something of it"),
        ((say("Make it a spot, a scar or a mark of the gill"), 3),),
        say("a mark that was not planned"),
        say("the other side may want one too"),
    ),
    "block": Means(
        say("Block it out there"),
        ((say("Let it dry"), 10), _HOLE, (say("White through it until it hides, dried between"), 6)),
        say("as planned, thicker there"),
        say("seen at a low angle"),
        wet=False,
    ),
    "seal": Means(
        say("Wipe back to the sealed stage"),
        ((say("Wipe the place back to the sealed stage"), 3), (say("Dry it with warm air"), 2)),
        say("as planned"),
        say("its rim has to be met again"),
    ),
    "on": Means(say("Go on"), (), say("covered, if the next layer is at the same place")),
}

# Which ways each mishap has, gentlest first.
ORDER = {
    "splatter": ("lift", "swab", "bare", "hole", "on", "cover", "block", "seal"),
    "run": ("swab", "bare", "flat", "hole", "on", "cover", "block", "seal"),
    "spider-web": ("swab", "bare", "flat", "hole", "on", "cover", "block", "seal"),
    "fingerprint": ("swab", "flat", "hole", "on", "cover", "block", "seal"),
    "dust": ("lift", "flat", "on", "hole", "cover", "block", "seal"),
    "missed": ("again", "on", "cover"),
    "too-much": ("swab", "bare", "hole", "on", "flat", "block", "seal"),
    "wrong-side": ("swab", "bare", "hole", "on", "flat", "block", "seal"),
    "wrong-bottle": ("swab", "bare", "on", "hole", "flat", "block", "seal"),
    "tip-dry": ("needle", "lift", "flat", "hole", "cover"),
    "lifted": ("hole", "again", "on", "cover", "block", "seal"),
    "scratch": ("again", "hole", "flat", "cover", "block"),
}
USUAL = ("swab", "hole", "on", "cover", "block", "seal")
AGAIN = ("again", "swab", "bare", "flat")  # after which its own layer is laid there again


@dataclass(frozen=True)
class Way:
    """One way out of a mishap."""

    key: str
    words: str
    by_hand: str  # all that is done before anything is laid, in a sentence
    again: tuple[int, ...] = ()  # layers that are laid there again, by their numbers
    minutes: int = 0
    looks: str = ""
    risks: str = ""


def ways(plan: Plan, layer: int, slip: str, *, wet: bool = True, names: Mapping[int, str] = NAMELESS) -> Sequence[Way]:
    """The ways to put right what happened at this layer, gentlest first; `wet` while its paint is, `names` of what
    layers are made of, by their numbers. Raises NotFound."""

    def name(one: Layer) -> str:
        return one.name or names.get(one.number, "") or WHATS[one.what].words

    own, place = plan.layer(layer), plan.place(layer)
    below = [one for one in plan.layers[:place] if one.on]
    painted = [one for one in below if WHATS[one.what].paint]
    saves = [index for index, one in enumerate(below) if one.what in SAVES or one.sealed]
    lost = [one for one in below[saves[-1] + 1 :] if WHATS[one.what].paint] if saves else []
    foil = plan.blank.comes.foil or any(one.what == "foil" for one in below)
    coming = [one for one in plan.layers[place + 1 :] if one.on and WHATS[one.what].paint]
    laid: dict[str, tuple[Layer, ...] | None] = {
        "needle": (),
        "lift": (),
        "cover": (),
        "again": (own,),
        "swab": (own,),
        "flat": (own,),
        "bare": (own,) if foil and not painted else None,
        "hole": (painted[-1], own) if painted else None,
        "block": (*painted, own) if not foil else None,
        "seal": (*lost, own) if saves else None,
        "on": () if coming else None,
    }
    found = []
    for key in ORDER.get(slip, USUAL):
        means, layers = MEANS[key], laid[key]
        if layers is None or (means.wet is not None and means.wet != wet):
            continue
        words, risks = means.words, means.risks
        if key == "on":
            words = say("Go on: {cover} covers it", cover=name(coming[0]))
        elif key == "seal":
            words = say("Wipe back to {seal}", seal=name(below[saves[-1]]))
        elif key == "hole":
            words = say("Spray {beneath} through a hole in paper", beneath=name(painted[-1]))
        elif key == "swab" and painted and not (saves and saves[-1] == len(below) - 1):
            risks = say("takes {beneath} with it: nothing seals that", beneath=name(painted[-1]))
        minutes = sum(spent for _, spent in means.by_hand) + LAYER_MIN * len(layers)
        again = tuple(one.number for one in layers)
        found.append(
            Way(
                key=key,
                words=words,
                by_hand=means.at_once,
                again=again,
                minutes=minutes,
                looks=means.looks,
                risks=risks,
            )
        )
    return found


def repaired(plan: Plan, way: str, again: Sequence[int], spot: Spot, white: str) -> Plan:
    """A plan as its bait is after a way that leaves more on it than was planned: what was sprayed there lies there
    once more, over white where it was blocked out.

    Parameters
    ----------
    way : a key of MEANS; those that take off what was too much leave the plan as it is.
    again : numbers of the layers that were laid there.
    white : the paint that blocks out, "" where there is none.
    """
    known = {one.number: one for one in plan.layers}
    layers = [known[number] for number in again if number in known]
    if way not in ("hole", "block") or not layers:
        return plan
    stroke = drawn([(spot.u, spot.v if spot.side == LEFT else 1 - spot.v, 1.0)], TOOL[way], size_mm=spot.wide_mm)
    local = [replace(one, strokes=(stroke,), sides=spot.side, mirrored=False, mask=FREE) for one in layers]
    if way == "block" and white:
        cover = Layer(0, "paint", white, say("White, to block out"), film_um=WHITE_UM, coats=WHITE_COATS)
        local.insert(0, replace(cover, strokes=(stroke,), sides=spot.side, mirrored=False))
    at = max(plan.place(one.number) for one in layers) + 1
    for index, one in enumerate(local[: max(MOST_LAYERS - len(plan.layers), 0)]):
        plan = plan.with_layer(one, at=at + index)
    return plan
