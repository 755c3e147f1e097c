"""Bodies other than a primed hard bait: each a template of blank and layers that a plan starts from.

A layer names what it wants of the shelf (a kind of paint, a colour); what answers that there is chosen where the plan
is begun.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.plan import PREPARATIONS, Layer
from diachrom.words import say

WHITE, BLACK = (96.0, 0.0, 2.0), (5.0, 0.0, 0.0)
BLUE, OLIVE, ORANGE, RED = (40.0, 0.0, -40.0), (45.0, -8.0, 35.0), (65.0, 45.0, 60.0), (42.0, 55.0, 30.0)
GOLD = (72.0, 8.0, 60.0)


@dataclass(frozen=True)
class Want:
    """A paint that a layer asks the shelf for: of one of these kinds, the first that there is, nearest to a colour
    over white (Lab)."""

    kinds: tuple[str, ...]
    lab: tuple[float, float, float]


@dataclass(frozen=True)
class Body:
    """A body to begin with."""

    key: str
    words: str
    note: str
    blank: Blank
    layers: tuple[tuple[Layer, Want | None], ...]
    prepared: tuple[str, ...] = tuple(PREPARATIONS)
    eyes: str = "before"


def _dots(size_mm: float) -> Layer:
    mask = replace(MASKS["dots"].usual(), size_mm=size_mm, gap_mm=2.4 * size_mm)
    return Layer(0, "paint", region="sides", origin="side", mask=mask, coats=1, film_um=14.0)


def _paint(region: str, origin: str, *, coats: int = 2, film_um: float = 8.0, **more: object) -> Layer:
    return Layer(0, "paint", region=region, origin=origin, coats=coats, film_um=film_um, **more)  # type: ignore[arg-type]


def _clear(source: str, *, coats: int = 1, name: str = "") -> Layer:
    return Layer(0, "clear", source=source, name=name, coats=coats, film_um=60.0, wait_h=24.0)


OPAQUE, SHEER = ("opaque", "craft"), ("transparent", "candy", "ink")
BODIES: Mapping[str, Body] = {
    body.key: body
    for body in (
        Body(
            "spoon",
            say("metal spoon"),
            say(
                "Degrease until water runs off as a film; a thin clear grips the metal. Dots from one load: big, "
                "middle, small. Glitter goes into the last clear, some 2.5 % by weight."
            ),
            Blank("spoon-flat", 60, state="bare"),
            (
                (Layer(0, "varnish", name="grip coat, thin", coats=1, film_um=12.0), None),
                (_paint("all", "side", coats=2, film_um=10.0, name="white ground"), Want(("primer", *OPAQUE), WHITE)),
                (_paint("sides", "side", coats=3, film_um=25.0, nozzle_mm=0.5, name="glow"), Want(("glow",), WHITE)),
                (_dots(4.5), Want(OPAQUE, BLACK)),
                (_clear("two-part", name="two-part with glitter"), None),
            ),
            prepared=("degreased",),
            eyes="none",
        ),
        Body(
            "soft",
            say("soft bait"),
            say(
                "Wash off the mould's oil, dry completely: moisture erupts in hot plastisol. By brush or airbrush "
                "in thin coats; the dip seals them in. Trim the drip while it is warm."
            ),
            Blank("soft-minnow", 100, state="primed-white"),
            (
                (_paint("back", "above", name="back"), Want(SHEER, OLIVE)),
                (_paint("flank", "side", coats=1, name="flank"), Want(("pearl", *SHEER), WHITE)),
                (_clear("hot-dip"), None),
            ),
            prepared=("degreased", "dried"),
            eyes="painted",
        ),
        Body(
            "foiled",
            say("foiled bait"),
            say("Burnish from the middle out, cut at the seam. Overspray on the foil rubs off while it is fresh."),
            Blank("minnow", 110, state="foil-silver"),
            (
                (_paint("back", "above", coats=3, name="back"), Want(SHEER, BLUE)),
                (Layer(0, "rub", region="flank"), None),
                (_paint("throat", "below", coats=1, name="throat"), Want(SHEER, RED)),
                (_clear("two-part"), None),
            ),
        ),
        Body(
            "clear",
            say("clear body, foil inside"),
            say("The foil inside is the ground: nothing opaque over it. What is painted is seen from both sides."),
            Blank("minnow", 110, state="clear-foil"),
            (
                (_paint("back", "above", coats=2, name="back"), Want(SHEER, OLIVE)),
                (_paint("belly", "below", coats=1, name="belly"), Want(SHEER, ORANGE)),
                (_clear("two-part"), None),
            ),
        ),
        Body(
            "repaint",
            say("repaint of a maker's bait"),
            say("Scuff it wet, eyes and bill taped; old paint may hold lead. A sealer keeps it down."),
            Blank("minnow", 110, state="repaint"),
            (
                (Layer(0, "sealer", coats=1, film_um=8.0), None),
                (_paint("all", "around", name="white ground"), Want(OPAQUE, WHITE)),
                (_paint("back", "above", coats=3, name="back"), Want((*OPAQUE, *SHEER), OLIVE)),
                (_clear("two-part"), None),
            ),
            prepared=("sanded", "degreased", "eyes-taped", "bill-taped"),
            eyes="factory",
        ),
    )
}
# Painted eyes, from the outside in: a share of the region around the eye, and what each is of.
EYE: tuple[tuple[str, float, Want], ...] = (
    (say("eye, rim"), 1.0, Want(OPAQUE, BLACK)),
    (say("eye, iris"), 0.78, Want(("fluorescent", "metallic", *OPAQUE), GOLD)),
    (say("eye, pupil"), 0.42, Want(OPAQUE, BLACK)),
)
