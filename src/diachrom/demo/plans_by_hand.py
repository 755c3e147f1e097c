"""Plans of the bench that are painted by hand: strokes and marks in their places, masks that stay on."""

from dataclasses import replace

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.plan import MASK, UNMASK, Layer
from diachrom.core.bait.strewn import Strewing, strewn
from diachrom.core.bait.stroke import Stroke, drawn
from diachrom.demo.plan import DemoPlan, on, plain, way
from diachrom.store.tools import Tool

POLLACK = Blank("minnow", 120, state="primed-white")
TROUT = Blank("deep", 95, state="primed-white")
# The lateral line runs over the fin and comes down behind it.
BENT = ((0.22, 0.16), (0.28, 0.135), (0.36, 0.15), (0.45, 0.205), (0.54, 0.232), (0.7, 0.238), (0.9, 0.24))


def _by_hand(*strokes: Stroke, film_um: float = 8.0) -> Layer:
    return replace(on("all", coats=1, distance_mm=15.0, pressure_bar=1.0, film_um=film_um), strokes=strokes)


TOOLS = (
    Tool(0, "net", "Fine net from the fishmonger", 2.0, 0.4, 1, "", 2),
    Tool(0, "net", "Orange sack, coarse", 4.2, 0.6, 1, "", 1),
    Tool(0, "comb", "Nit comb, every third tooth left", 2.4, 1.6, 3, "", 1),
    Tool(0, "stencil", "Gill template of tin", 13.0, 0.0, 1, "gill-plate", 1),
    Tool(0, "dab", "Sea sponge", 1.4, 0.0, 1, "", 1),
)


def _spots() -> tuple[Stroke, Stroke]:
    """Pale spots off the midline, and a dark one in each."""
    box, marks = on("sides").edges(TROUT.form.landmarks), TROUT.form.landmarks
    how = Strewing("dot", 2.6, 5.0, ("midline", "belly", "head"), thins=0.3, seed=4)
    pale = strewn(how, "sides", box, TROUT.surface(), marks)
    return pale, replace(pale, size_mm=1.4)


def _off(number: int) -> Layer:
    return Layer(0, UNMASK, source=str(number))


PALE, DARK = _spots()
BY_HAND = (
    DemoPlan(
        "2026-11-12",
        "Pollack",
        "Gill plate through its stencil, lifted a little. The line by hand, slow over the fin; the dot last.",
        POLLACK,
        (
            ("malm-bronse", on("sides", coats=2, soft_mm=14)),
            ("torv-mose", on("back", "above", coats=3, soft_mm=18)),
            ("Autumn char, back", on("shoulder", "shoulder", coats=2, mask=way("net", size_mm=3.2, gap_mm=0.5))),
            ("torv-kritt", on("belly", "below", coats=2, soft_mm=12)),
            (
                "torv-tang",
                on("all", mask=way("stencil", stencil="gill-plate", anchor="gill", size_mm=13.0, lift_mm=0.6)),
            ),
            ("torv-tang", _by_hand(drawn([(u, v, 0.45 * k) for k, (u, v) in enumerate(BENT)]))),
            ("torv-sot", _by_hand(drawn([(0.245, 0.245, 1.0)], "dot", size_mm=3.4))),
            ("", plain("clear")),
        ),
    ),
    DemoPlan(
        "2026-11-15",
        "Sea trout",
        "Spots on spots, strewn and then moved off the midline: pale first, dark in them.",
        TROUT,
        (
            ("malm-solv", on("sides", coats=3, soft_mm=12)),
            ("torv-skifer", on("back", "above", coats=3, soft_mm=16)),
            ("torv-kritt", on("belly", "below", coats=2, soft_mm=12)),
            ("torv-kritt", _by_hand(PALE, film_um=14.0)),
            ("Butterfish, bars", _by_hand(DARK, film_um=12.0)),
            ("", plain("clear")),
        ),
    ),
    DemoPlan(
        "2026-11-18",
        "Spring prawn",
        "One net over three colours, the bars pressed on it for the second; both off before the pearl of the belly.",
        Blank("long-minnow", 120, state="primed-white"),
        (
            ("Spring prawn, body", on("all", "around", coats=2)),
            ("", Layer(0, MASK, region="sides", mask=way("net", size_mm=4.2, gap_mm=0.6, tool=2))),
            ("rav-nype", on("sides", coats=2, soft_mm=10)),
            ("", Layer(0, MASK, mask=way("stencil", stencil="bars-tapered", size_mm=70.0))),
            ("rav-te", on("sides", coats=4)),
            ("", _off(4)),
            ("rav-siv", on("back", "above", coats=2, soft_mm=14)),
            ("", _off(2)),
            ("perlemor-solv", on("belly", "below", coats=2, soft_mm=12)),
            ("", plain("clear")),
        ),
    ),
)
