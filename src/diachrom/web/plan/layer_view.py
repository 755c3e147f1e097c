"""A layer as the list of a plan shows it."""

from dataclasses import dataclass

from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.plan import MASK, ORIGINS, SIDES, UNMASK, WHATS
from diachrom.core.bait.regions import REGIONS
from diachrom.core.bait.stroke import counted
from diachrom.web.kit.formatting import coats_words
from diachrom.web.kit.swatches import Bead, BeadString, bead_of, bead_string
from diachrom.words import capitalized, listed, quantity, say
from diachrom.work.plan import hand_work
from diachrom.work.plan.painting import LaidLayer

SMALL_ABOVE, SMALL_RUNS = 8, 3


@dataclass(frozen=True)
class LayerView:
    """A layer in the list."""

    number: int
    place: int
    name: str
    what: str
    source: str
    where: str
    how: str
    beads: BeadString | None
    bead: Bead | None
    on: bool
    sealed: bool
    masked: bool  # a mask lies on the bait meanwhile
    problem: str


def layer_view(laid: LaidLayer, place: int, *, masked: bool) -> LayerView:
    """A layer at its place, counted from 1; `masked` while a mask lies on the bait."""
    layer, kind = laid.layer, WHATS[laid.layer.what]
    beads = None
    if laid.held is not None:
        beads = bead_string(laid.held.draft.parts, laid.held.shelf, fold_above=SMALL_ABOVE, most_runs=SMALL_RUNS)
    # "back, straight down the back, through netting"
    parts = [
        say("{region}, edges moved", region=REGIONS[layer.region].words) if layer.box else REGIONS[layer.region].words
    ]
    if layer.strokes:
        sides = counted([one for one in layer.strokes if one.tool], mirrored=layer.sides == "both" and layer.mirrored)
        parts = [hand_work.all_words(layer.strokes, sides), *(parts if layer.region != "all" or layer.box else [])]
    elif kind.sprayed:
        origin = ORIGINS[layer.origin]
        parts.append(
            say("{origin}, leaning {angle}°", origin=origin.words, angle=quantity(abs(layer.rake_deg), "g"))
            if layer.rake_deg
            else origin.words
        )
    way = MASKS[layer.mask.kind]
    if layer.what == UNMASK:
        parts = []
    if layer.mask.kind != "free" and layer.what != MASK:
        through = say("through {what}", what=laid.through) if layer.what != "wash" else way.words
        if layer.mask.lift_mm and layer.what != "wash":
            lifted = quantity(layer.mask.lift_mm, "g", "mm")
            through = say("through {what}, lifted {lifted}", what=laid.through, lifted=lifted)
        parts.append(through)
    if layer.sides != "both":
        parts.append(say("{sides} alone", sides=SIDES[layer.sides]))
    return LayerView(
        number=layer.number,
        place=place,
        name=layer.name or capitalized(laid.words),
        what=kind.words,
        source=laid.words,
        where=listed(parts, " · "),
        how="" if not kind.sprayed else coats_words(layer.coats, layer.film_um),
        beads=beads,
        bead=None if laid.look is None else bead_of(laid.look, "paint"),
        on=layer.on,
        sealed=layer.sealed or kind.sealed,
        masked=masked,
        problem=laid.problem,
    )
