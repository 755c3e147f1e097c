"""The kinds of masks: one row each, with its words, figures, opening, and how it is worked with. A new kind is a row of
`MASKS` and the function that says how open it is.

What is random has a seed, and the same seed draws the same on any machine.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

from diachrom.core.bait import openings
from diachrom.core.bait.mask import MOST_MM, Field, Mask, Polygons
from diachrom.core.bait.outline import Outline
from diachrom.core.bait.regions import Box
from diachrom.core.bait.shapes import Landmarks
from diachrom.core.bait.surface import Places, Surface
from diachrom.core.light.bands import Floats
from diachrom.errors import InvalidInput
from diachrom.words import capitalized, quantity, quantity_range, say

Opening = Callable[[Mask, Places, Box, Polygons], Floats]  # (n, m) shares at places of the skin


@dataclass(frozen=True)
class MaskKind:
    """A kind of mask: its words, how open it is, the figures that it has, and how it is worked with."""

    key: str
    words: str
    opening: Opening
    fields: tuple[Field, ...] = ()
    pattern: bool = True  # else only its region shapes it
    pressed: bool = False  # on what lies beneath, and lifts it while it is wet
    by_hand: bool = False  # drawn, and not sprayed through
    unthinned: bool = False  # laid without an airbrush: thick paint will do
    fine: bool = False  # a line that too much air blows apart
    random: bool = False
    thing: bool = False  # put on, and it stays over several layers
    note: str = ""
    stencil: str = ""  # that it begins with

    def usual(self) -> Mask:
        """A mask of this kind with its usual figures."""
        given = {field.key: field.usual if field.key != "every" else 1 for field in self.fields}
        return Mask(self.key, stencil=self.stencil, **given)  # type: ignore[arg-type]


def _mm(key: str, words: str, usual: float, least: float = 0.1, most: float = 60.0) -> Field:
    return Field(key, words, "mm", least=least, most=most, usual=usual)


def _share(words: str, usual: float) -> Field:
    return Field("amount", words, "%", least=0, most=1, usual=usual)


MOST_MOVED_MM = MOST_MM
_ANGLE = Field("angle_deg", say("slant"), "°", least=-90, most=90, usual=0)
_TURN = Field("angle_deg", say("turned"), "°", least=-180, most=180, usual=0)
_EVERY = Field("every", say("every nth tooth left"), "", least=1, most=9, usual=1)
_LIFT = Field("lift_mm", say("lifted by"), "mm", least=0, most=20, usual=0)

MASKS = {
    kind.key: kind
    for kind in (
        MaskKind("free", say("nothing: sprayed freely"), opening=openings.everywhere, pattern=False),
        MaskKind(
            "net",
            say("netting"),
            opening=openings.net,
            fields=(
                # A cell's diagonal is kept.
                Field("size_mm", say("thread to thread"), "mm", 0.8, 60.0, usual=2.1 * 2**0.5, times=2**0.5),
                _mm("gap_mm", say("thread"), 0.45, 0.1, 4),
                _share(say("stretched"), 0.35),
                _LIFT,
            ),
            note=say("what lies under the thread stays"),
            pressed=True,
            thing=True,
        ),
        MaskKind(
            "comb",
            say("comb"),
            opening=openings.comb,
            fields=(
                _mm("size_mm", say("from tooth to tooth"), 7.0),
                _mm("gap_mm", say("between teeth"), 2.6),
                _EVERY,
                _ANGLE,
                _LIFT,
            ),
            pressed=True,
            thing=True,
        ),
        MaskKind(
            "bars",
            say("bars that taper"),
            opening=openings.bars,
            fields=(
                _mm("size_mm", say("from bar to bar"), 11.0),
                _mm("gap_mm", say("bar"), 4.5),
                _share(say("tapers by"), 0.7),
                _ANGLE,
                _LIFT,
            ),
            pressed=True,
            thing=True,
        ),
        MaskKind(
            "stencil",
            say("stencil"),
            opening=openings.stencil,
            fields=(_mm("size_mm", say("width"), 30.0, 2, MOST_MM), _TURN, _LIFT),
            stencil="bars-tapered",
            pressed=True,
            thing=True,
        ),
        MaskKind(
            "rays",
            say("fin rays: an edge moved a step at a time"),
            opening=openings.rays,
            fields=(_mm("size_mm", say("step"), 1.6), _share(say("run out over"), 0.8), _ANGLE),
            pressed=True,
        ),
        MaskKind(
            "rings",
            say("rings"),
            opening=openings.rings,
            fields=(_mm("size_mm", say("from ring to ring"), 6.0), _mm("gap_mm", say("line"), 0.8)),
            random=True,
            pressed=True,
            thing=True,
        ),
        MaskKind(
            "spots",
            say("spots, thinning out towards the edge"),
            opening=openings.spots,
            fields=(
                _mm("size_mm", say("largest"), 3.2),
                _mm("gap_mm", say("from spot to spot"), 5.0, 0.5),
                _share(say("thins out"), 0.5),
            ),
            random=True,
        ),
        MaskKind(
            "mottle",
            say("mottle"),
            opening=openings.mottle,
            fields=(_mm("size_mm", say("patch"), 5.0), _share(say("open"), 0.45)),
            random=True,
        ),
        MaskKind(
            "paper",
            say("torn paper edge"),
            opening=openings.paper,
            fields=(_mm("size_mm", say("waves"), 9.0), _mm("gap_mm", say("depth"), 2.0)),
            random=True,
            pressed=True,
            thing=True,
        ),
        MaskKind(
            "tape",
            say("tape"),
            opening=openings.everywhere,
            note=say("its edge is the region's, hard"),
            pattern=False,
            pressed=True,
            thing=True,
        ),
        MaskKind(
            "liquid",
            say("liquid mask"),
            opening=openings.liquid,
            fields=(_mm("size_mm", say("patch"), 4.0), _share(say("covered"), 0.4)),
            random=True,
            pressed=True,
            thing=True,
        ),
        MaskKind(
            "splatter",
            say("splatter"),
            opening=openings.splatter,
            fields=(_mm("size_mm", say("drops"), 0.9), _share(say("dense"), 0.3)),
            random=True,
        ),
        MaskKind(
            "dots",
            say("dots from one load: big, middle, small"),
            opening=openings.dots,
            fields=(_mm("size_mm", say("biggest"), 2.6), _mm("gap_mm", say("from dot to dot"), 6.0, 0.5)),
            by_hand=True,
            unthinned=True,
        ),
        MaskKind(
            "line",
            say("line by hand"),
            opening=openings.line_by_hand,
            fields=(_mm("size_mm", say("width"), 2.0), _share(say("wobble"), 0.3)),
            random=True,
            by_hand=True,
            fine=True,
        ),
        MaskKind(
            "dagger",
            say("dagger strokes"),
            opening=openings.dagger,
            fields=(_mm("size_mm", say("from stroke to stroke"), 8.0), _mm("gap_mm", say("width"), 2.4), _ANGLE),
            by_hand=True,
            fine=True,
        ),
        MaskKind(
            "dab",
            say("dabbing with a sponge"),
            opening=openings.dab,
            fields=(_mm("size_mm", say("grain"), 1.4), _share(say("open"), 0.4)),
            random=True,
            by_hand=True,
            unthinned=True,
        ),
        MaskKind(
            "dry",
            say("dry brush"),
            opening=openings.dry,
            fields=(_mm("size_mm", say("bristles"), 0.7), _share(say("open"), 0.4)),
            random=True,
            by_hand=True,
            unthinned=True,
        ),
        MaskKind(
            "stipple",
            say("stipple"),
            opening=openings.stipple,
            fields=(_mm("size_mm", say("point"), 0.9), _share(say("dense"), 0.35)),
            random=True,
            by_hand=True,
        ),
        MaskKind(
            "wash",
            say("wash: stays in recesses"),
            opening=openings.everywhere,
            fields=(_share(say("wiped off the heights"), 0.85),),
            pattern=False,
        ),
        MaskKind(
            "cracks",
            say("cracks"),
            opening=openings.cracks,
            fields=(_mm("size_mm", say("plates"), 8.0), _mm("gap_mm", say("crack"), 0.7)),
            random=True,
        ),
    )
}


def within(mask: Mask) -> Mask:
    """The same with its figures within their bounds: a mask on a larger bait is not lost for being too large."""
    held = {one.key: min(max(getattr(mask, one.key), one.least), one.most) for one in MASKS[mask.kind].fields}
    return replace(mask, **held)


def checked(mask: Mask) -> Mask:
    """Raises InvalidInput for a way that there is not, or figures out of its bounds."""
    way = MASKS.get(mask.kind)
    if way is None:
        raise InvalidInput(say("There is no way of masking called '{kind}'.", kind=mask.kind[:30]), field="through")
    if mask.anchor not in ANCHORS:
        raise InvalidInput(say("There is no place called '{anchor}'.", anchor=mask.anchor[:30]), field="anchor")
    if max(abs(mask.along_mm), abs(mask.down_mm)) > MOST_MOVED_MM:
        raise InvalidInput(say("A stencil is moved by at most 400 mm."), field="along_mm")
    for field in way.fields:
        value = getattr(mask, field.key)
        if not field.least <= value <= field.most:
            scale = 100 if field.unit == "%" else 1 / field.times
            raise InvalidInput(
                say(
                    "{way}: {field} is {range}, not {value}.",
                    way=capitalized(way.words),
                    field=field.words,
                    range=quantity_range(scale * field.least, scale * field.most, "g", field.unit),
                    value=quantity(scale * value, "g"),
                ),
                field=field.key,
            )
    return mask


def opening(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """How open a mask is at places of a bait; what it lets through and what it covers may have changed places.

    Parameters
    ----------
    mask : the mask with its figures.
    at : (n, m) places of the skin.
    box : edges of the region that it lies in, u and v.
    polygons : outlines of a stencil, mm; empty for other masks.

    Returns
    -------
    (n, m) shares from 0, covered, to 1, open.
    """
    found = MASKS[mask.kind].opening(mask, at, box, polygons)
    return 1 - found if mask.turned else found


@dataclass(frozen=True)
class Anchor:
    """What of a blank a stencil is laid at, and which end of it: -1 its end towards the nose, 1 towards the tail."""

    words: str
    place: Callable[[Landmarks], tuple[float, float]] | None = None
    end: int = 0


ANCHORS = {
    "": Anchor(say("the middle of where it goes")),
    "gill": Anchor(say("gill plate's edge"), lambda m: (m.gill_u, 0.25), end=1),
    "eye": Anchor(say("eye"), lambda m: (m.eye_u, m.eye_v)),
    "fin": Anchor(say("fin's root"), lambda m: m.fins[0][:2] if m.fins else (m.gill_u + 0.05, 0.31), end=-1),
    "line": Anchor(say("lateral line, from the gill"), lambda m: (m.gill_u, m.lateral_v), end=-1),
    "tail": Anchor(say("before the tail"), lambda m: (m.tail_u, 0.25), end=1),
    "back": Anchor(say("middle of the back"), lambda m: (0.5 * (m.gill_u + m.tail_u), 0.06)),
}
# The stencils that ship, by their keys.
STENCILS = {
    "bars-forked": say("bars that fork"),
    "bars-tapered": say("seven bars that taper"),
    "bars-wavy": say("wavy bars"),
    "chevrons": say("chevrons"),
    "comb-every-third": say("comb, every third tooth broken out"),
    "comb-fine": say("fine comb"),
    "cracks": say("cracks"),
    "dots-row": say("a row of dots that get smaller"),
    "dots-scattered": say("scattered dots"),
    "fin-back": say("back fin, rays aslant"),
    "fin-rays": say("fin with rays"),
    "gill-arc": say("edge of a gill plate"),
    "gill-plate": say("whole gill plate"),
    "lateral-line": say("lateral line of dashes"),
    "leopard": say("leopard spots"),
    "maze": say("maze of waves"),
    "mottle-coarse": say("coarse mottle"),
    "mottle-fine": say("fine mottle"),
    "net-diamond": say("net of diamonds"),
    "net-six": say("net of six-sided cells"),
    "rings": say("rings in two sizes"),
    "scales-round": say("rows of round scales"),
}
# Where they are laid, by what they are.
ANCHORED = {"gill-arc": "gill", "gill-plate": "gill", "fin-rays": "fin", "fin-back": "back", "lateral-line": "line"}


def placed(mask: Mask, box: Box, marks: Landmarks, length_mm: float) -> Box:
    """About which box a mask lies: its region's, or none but a place where it is anchored."""
    anchor = ANCHORS[mask.anchor]
    if anchor.place is None:
        return box
    u, v = anchor.place(marks)
    u -= anchor.end * mask.size_mm / 2 / length_mm
    return Box(u, u, v, v)


FLAT = Outline(((0, 0.19), (1, 0.19)), ((0, -0.19), (1, -0.19)), ((0, 0.19), (1, 0.19)))
FLAT_MM, FLAT_CELLS = 48.0, (132, 96)


def drawing(mask: Mask, polygons: Polygons = ()) -> Floats:
    """(row, column) how open a mask is, on a straight flank of 48 mm, the spine on top: to be recognised by."""
    at = Surface(FLAT, FLAT_MM, cells=FLAT_CELLS).places
    return opening(mask, at, Box(0, 1, 0.06, 0.44), polygons)[:, : FLAT_CELLS[1] // 2].T
