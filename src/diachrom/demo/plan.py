"""A plan of the demo bench, as it is written down."""

from dataclasses import dataclass, replace

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.mask import Mask
from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.plan import Layer


@dataclass(frozen=True)
class DemoPlan:
    """A plan as it was saved: its layers name recipes by their names, and paints by their ids."""

    day: str
    name: str
    note: str
    blank: Blank
    layers: tuple[tuple[str, Layer], ...]


def way(kind: str, **figures: object) -> Mask:
    """A mask with its usual figures but for these."""
    return replace(MASKS[kind].usual(), **figures)  # type: ignore[arg-type]


def on(region: str, origin: str = "side", **more: object) -> Layer:
    """A layer over a region."""
    return Layer(0, region=region, origin=origin, **more)  # type: ignore[arg-type]


def plain(what: str, region: str = "all", **more: object) -> Layer:
    """What is no colour: a sealer, a varnish, a clear."""
    usual = {"sealer": 8.0, "varnish": 12.0, "clear": 60.0}
    wait_h = 24.0 if what == "clear" else 0.0
    return Layer(0, what=what, region=region, film_um=usual.get(what, 8.0), coats=1, wait_h=wait_h, **more)  # type: ignore[arg-type]
