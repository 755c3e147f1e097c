"""A blank as it lies on the bench: its shape at its size, of what it is, and in what state it comes."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import pairwise

from diachrom.core.bait.outline import Outline
from diachrom.core.bait.shapes import SHAPES, Shape
from diachrom.core.bait.surface import FULL, RELIEFS, Relief, Surface
from diachrom.errors import InvalidInput
from diachrom.words import listed, quantity, quantity_range, say

Points = Sequence[tuple[float, float]]
SHORTEST_MM, LONGEST_MM = 15.0, 600.0
MATERIALS = (say("wood"), say("resin"), say("plastic"), say("metal"), say("soft plastic"))


@dataclass(frozen=True)
class State:
    """How a blank comes to the bench, and which ground of the film that is."""

    key: str
    words: str
    ground: str
    foil: bool = False  # the foil may lie on a region only, and has a direction


STATES = {
    state.key: state
    for state in (
        State("primed-white", say("primed white"), "white"),
        State("primed-grey", say("primed grey"), "primer-grey"),
        State("primed-black", say("primed black"), "black"),
        State("bare", say("bare"), "bone"),
        State("repaint", say("painted by its maker, keyed"), "grey"),
        State("foil-silver", say("silver foil, laid by hand"), "silver-foil", foil=True),
        State("foil-stamped", say("stamped foil"), "stamped-foil", foil=True),
        State("foil-gold", say("gold foil"), "gold-foil", foil=True),
        State("foil-holo", say("holographic foil"), "holo-foil", foil=True),
        State("clear", say("clear body"), "clear-body"),
        State("clear-foil", say("clear body, foil inside"), "clear-body-foil"),
    )
}
FOIL_DIRECTIONS = {"along": say("along the body"), "around": say("around the body"), "slant": say("at a slant")}


@dataclass(frozen=True)
class Blank:
    """A blank that was chosen. `own` is an outline of one's own in place of one of the family."""

    shape: str = "minnow"
    length_mm: float = 110.0
    material: str = ""  # of the shape, unless another
    state: str = "primed-white"
    foil_on: str = "all"  # a region, or "all"; the rest is primed white
    foil_direction: str = "along"
    tail_painted: bool | None = None  # fittings of soft or hard stuff: as the shape says, unless said
    own: Shape | None = None
    smooth: tuple[str, ...] = ()  # keys of RELIEFS that it does not have, though its shape does

    @property
    def form(self) -> Shape:
        """Its outline, fittings and landmarks."""
        shape = self.own if self.own is not None else SHAPES.get(self.shape, SHAPES["minnow"])
        if self.tail_painted is None:
            return shape
        wanted = tuple(
            replace(fitting, painted=self.tail_painted) if fitting.stuff != "clear" else fitting
            for fitting in shape.fittings
        )
        return replace(shape, fittings=wanted)

    @property
    def made_of(self) -> str:
        """What it is made of, in words."""
        return self.material or self.form.material

    @property
    def comes(self) -> State:
        """How it comes to the bench: bare, primed, foiled."""
        return STATES.get(self.state, STATES["primed-white"])

    def surface(self, cells: tuple[int, int] = FULL) -> Surface:
        """Its skin, in so many cells."""
        form = self.form
        relief = Relief(form.scales, tuple(one for one in form.reliefs if one not in self.smooth), form.landmarks)
        return _surface(form.outline, self.length_mm, relief, cells)


@lru_cache(maxsize=6)
def _surface(outline: Outline, length_mm: float, relief: Relief, cells: tuple[int, int]) -> Surface:
    """Its geometry is worked out once, however often it is looked at."""
    return Surface(outline, length_mm, relief, cells)


def checked(blank: Blank) -> Blank:
    """Raises InvalidInput for what no blank can be."""
    if not SHORTEST_MM <= blank.length_mm <= LONGEST_MM:
        raise InvalidInput(
            say(
                "A blank is {range} long, not {length}.",
                range=quantity_range(SHORTEST_MM, LONGEST_MM, "g", "mm"),
                length=quantity(blank.length_mm, "g"),
            ),
            field="length_mm",
        )
    if blank.own is None and blank.shape not in SHAPES:
        raise InvalidInput(say("There is no shape called '{shape}'.", shape=blank.shape[:30]), field="shape")
    if blank.state not in STATES:
        raise InvalidInput(say("There is no state called '{state}'.", state=blank.state[:30]), field="state")
    if blank.material and blank.material not in MATERIALS:
        raise InvalidInput(
            say(
                "A blank is of {materials}, not '{material}'.",
                materials=listed(MATERIALS),
                material=blank.material[:30],
            ),
            field="material",
        )
    if any(one not in RELIEFS for one in blank.smooth):
        raise InvalidInput(say("Relief is {reliefs}.", reliefs=listed(RELIEFS.values())), field="relief")
    if blank.foil_direction not in FOIL_DIRECTIONS:
        raise InvalidInput(
            say("Foil lies {foil_directions}.", foil_directions=listed(FOIL_DIRECTIONS)), field="foil_direction"
        )
    return blank


def outline_of(side: Points, back: Points) -> Outline:
    """An outline from two closed ones in mm, x from nose to tail: seen from the side (height up) and from the back.

    Raises InvalidInput when they are not those of one body.
    """
    low, high = min(x for x, _ in side), max(x for x, _ in side)
    length = high - low
    spread = max(x for x, _ in back) - min(x for x, _ in back)
    if length <= 0 or abs(spread - length) > 0.15 * length:
        raise InvalidInput(
            say(
                "From the side the blank is {length} long, from the back {spread}: draw both at one size.",
                length=quantity(length, ".0f", "mm"),
                spread=quantity(spread, ".0f", "mm"),
            ),
            field="svg",
        )
    upper, lower = _edges(side, low, length)
    one, other = _edges(back, min(x for x, _ in back), spread)
    # The axis runs through the middle of nose and tail.
    axis = (upper[0][1] + lower[0][1] + upper[-1][1] + lower[-1][1]) / 4
    half = tuple((u, max(1e-4, (a - b) / 2 * spread / length)) for (u, a), (_, b) in zip(one, other, strict=True))
    return Outline(tuple((u, value - axis) for u, value in upper), tuple((u, value - axis) for u, value in lower), half)


def _edges(points: Points, low: float, length: float) -> tuple[Points, Points]:
    """Upper and lower edge of a closed outline at places along it, in shares of the length."""
    import numpy as np

    closed = [*points, points[0]]
    upper, lower = [], []
    for u in (1 - np.cos(np.linspace(0, np.pi, 33))) / 2:
        x = low + length * min(max(float(u), 1e-4), 1 - 1e-4)
        at = [
            y0 + (x - x0) * (y1 - y0) / (x1 - x0)
            for (x0, y0), (x1, y1) in pairwise(closed)
            if x0 != x1 and min(x0, x1) <= x < max(x0, x1)
        ]
        upper.append((float(u), max(at, default=0.0) / length))
        lower.append((float(u), min(at, default=0.0) / length))
    return upper, lower
