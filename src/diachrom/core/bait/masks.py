"""What a layer is sprayed through: how open each place is, 0 to 1. Sizes are in mm on the bait.

What is random has a seed, and the same seed draws the same on any machine.
"""

from dataclasses import dataclass, replace

from diachrom.errors import InvalidInput

MOST_MM = 400.0
Polygons = tuple[
    tuple[tuple[float, float], ...], ...
]  # closed outlines in mm; what lies in an odd number of them is open


@dataclass(frozen=True)
class Field:
    """A figure of a mask: what it is called, its unit and bounds, and what is usual."""

    key: str
    words: str
    unit: str
    least: float
    most: float
    usual: float


@dataclass(frozen=True)
class Mask:
    """A mask, or a way of laying paint without one."""

    kind: str = "free"
    size_mm: float = 0.0
    gap_mm: float = 0.0
    angle_deg: float = 0.0
    amount: float = 0.5
    lift_mm: float = 0.0
    every: int = 1  # nth tooth that a comb still has
    seed: int = 1
    stencil: str = ""
    turned: bool = False  # what it lets through and what it covers change places

    def scaled(self, by: float) -> "Mask":
        """The same on a bait so many times as long."""
        return replace(self, size_mm=self.size_mm * by, gap_mm=self.gap_mm * by, lift_mm=self.lift_mm * by)


@dataclass(frozen=True)
class MaskKind:
    """A kind of mask: its words, and the figures that it has."""

    key: str
    words: str
    fields: tuple[Field, ...] = ()
    random: bool = False
    note: str = ""
    stencil: str = ""  # that it begins with

    def usual(self) -> Mask:
        given = {field.key: field.usual if field.key != "every" else 1 for field in self.fields}
        return Mask(self.key, stencil=self.stencil, **given)  # type: ignore[arg-type]


def _mm(key: str, words: str, usual: float, least: float = 0.1, most: float = 60.0) -> Field:
    return Field(key, words, "mm", least=least, most=most, usual=usual)


def _share(words: str, usual: float) -> Field:
    return Field("amount", words, "%", least=0, most=1, usual=usual)


_ANGLE = Field("angle_deg", "slant", "°", least=-90, most=90, usual=0)
_EVERY = Field("every", "every nth tooth left", "", least=1, most=9, usual=1)
_LIFT = Field("lift_mm", "lifted by", "mm", least=0, most=20, usual=0)

MASKS = {
    way.key: way
    for way in (
        MaskKind("free", "nothing: sprayed freely"),
        MaskKind(
            "net",
            "netting",
            (_mm("size_mm", "cell", 3.0, 0.8), _mm("gap_mm", "thread", 0.45, 0.1, 4), _share("stretched", 0.35), _LIFT),
            note="what lies under the thread stays",
        ),
        MaskKind(
            "comb",
            "comb",
            (_mm("size_mm", "from tooth to tooth", 7.0), _mm("gap_mm", "between teeth", 2.6), _EVERY, _ANGLE, _LIFT),
        ),
        MaskKind(
            "bars",
            "bars that taper",
            (
                _mm("size_mm", "from bar to bar", 11.0),
                _mm("gap_mm", "bar", 4.5),
                _share("tapers by", 0.7),
                _ANGLE,
                _LIFT,
            ),
        ),
        MaskKind(
            "stencil", "stencil", (_mm("size_mm", "width", 30.0, 2, MOST_MM), _ANGLE, _LIFT), stencil="bars-tapered"
        ),
        MaskKind(
            "rays",
            "fin rays: an edge moved a step at a time",
            (_mm("size_mm", "step", 1.6), _share("run out over", 0.8), _ANGLE),
        ),
        MaskKind("rings", "rings", (_mm("size_mm", "from ring to ring", 6.0), _mm("gap_mm", "line", 0.8)), random=True),
        MaskKind(
            "spots",
            "spots, thinning out towards the edge",
            (_mm("size_mm", "largest", 3.2), _mm("gap_mm", "from spot to spot", 5.0, 0.5), _share("thins out", 0.5)),
            random=True,
        ),
        MaskKind("mottle", "mottle", (_mm("size_mm", "patch", 5.0), _share("open", 0.45)), random=True),
        MaskKind("paper", "torn paper edge", (_mm("size_mm", "waves", 9.0), _mm("gap_mm", "depth", 2.0)), random=True),
        MaskKind("tape", "tape", note="its edge is the region's, hard"),
        MaskKind("liquid", "liquid mask", (_mm("size_mm", "patch", 4.0), _share("covered", 0.4)), random=True),
        MaskKind("splatter", "splatter", (_mm("size_mm", "drops", 0.9), _share("dense", 0.3)), random=True),
        MaskKind(
            "dots",
            "dots from one load: big, middle, small",
            (_mm("size_mm", "biggest", 2.6), _mm("gap_mm", "from dot to dot", 6.0, 0.5)),
        ),
        MaskKind("line", "line by hand", (_mm("size_mm", "width", 2.0), _share("wobble", 0.3)), random=True),
        MaskKind(
            "dagger",
            "dagger strokes",
            (_mm("size_mm", "from stroke to stroke", 8.0), _mm("gap_mm", "width", 2.4), _ANGLE),
        ),
        MaskKind("dab", "dabbing with a sponge", (_mm("size_mm", "grain", 1.4), _share("open", 0.4)), random=True),
        MaskKind("dry", "dry brush", (_mm("size_mm", "bristles", 0.7), _share("open", 0.4)), random=True),
        MaskKind("stipple", "stipple", (_mm("size_mm", "point", 0.9), _share("dense", 0.35)), random=True),
        MaskKind("wash", "wash: stays in recesses", (_share("wiped off the heights", 0.85),)),
        MaskKind("cracks", "cracks", (_mm("size_mm", "plates", 8.0), _mm("gap_mm", "crack", 0.7)), random=True),
    )
}


FREE = Mask()


def checked(mask: Mask) -> Mask:
    """Raises InvalidInput for a way that there is not, or figures out of its bounds."""
    way = MASKS.get(mask.kind)
    if way is None:
        raise InvalidInput(f"There is no way of masking called '{mask.kind[:30]}'.", field="through")
    for field in way.fields:
        value = getattr(mask, field.key)
        if not field.least <= value <= field.most:
            scale = 100 if field.unit == "%" else 1
            raise InvalidInput(
                f"{way.words[:1].upper()}{way.words[1:]}: {field.words} is {scale * field.least:g} to "
                f"{scale * field.most:g} {field.unit}, not {scale * value:g}.",
                field=field.key,
            )
    return mask
