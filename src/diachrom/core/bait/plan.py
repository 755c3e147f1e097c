"""A plan as a value: a blank and the layers laid on it, from the inside out. Every change makes the next one."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from diachrom.core.bait import blank as blanks
from diachrom.core.bait import masks, stroke
from diachrom.core.bait.blank import Blank
from diachrom.core.bait.mask import FREE, Mask, Polygons
from diachrom.core.bait.regions import REGIONS, Box
from diachrom.core.bait.shapes import Landmarks
from diachrom.core.bait.stroke import MOST_POINTS, MOST_STROKES, Stroke
from diachrom.core.bait.strokes import CLOSE_UP_BAR, CLOSE_UP_MM, disc_mm
from diachrom.core.mix.draft import LONGEST_NAME, LONGEST_NOTE, checked_text
from diachrom.core.mix.layers import MOST_COATS, THICKEST_COAT_UM
from diachrom.errors import InvalidInput, NotFound
from diachrom.words import say

PREPARATIONS = {
    "sanded": say("sanded or keyed"),
    "degreased": "degreased",
    "eyes-taped": say("eyes taped"),
    "bill-taped": say("bill taped"),
    "joints-taped": say("joints taped"),
    "dried": say("dry inside"),
}
CLEARS = {
    "": say("as it comes"),
    "two-part": say("two-part, on a turner"),
    "dip": say("dip that cures by air moisture"),
    "moisture-brushed": say("brushed coats that cure by air moisture"),
    "brushed": say("brushed coats, of one part"),
    "waterborne": "waterborne",
    "hot-dip": say("hot dip for soft baits"),
}
EYES = {
    "before": say("before the clear"),
    "after": say("after the clear"),
    "painted": "painted",
    "factory": say("its maker's own, taped"),
    "none": say("none"),
}
MOST_LAYERS, MOST_BAITS = 40, 500
# What is said of the work on a plan, and within which bounds.
BOUNDS = {
    "temperature_c": (-20.0, 60.0),
    "humidity_percent": (0.0, 100.0),
    "baits": (1, MOST_BAITS),
    "cup_ml": (0.5, 500.0),
}
USUAL = Blank()
NEAREST_MM, FARTHEST_MM, USUAL_MM = 10.0, 500.0, 80.0
MOST_SOFT_MM = 80.0


@dataclass(frozen=True)
class Origin:
    """Where a layer is sprayed from."""

    key: str
    words: str
    towards: tuple[float, float, float] | None  # to the source: from nose to tail, to the side, up; None is all around
    both: bool = False  # from either side in turn


ORIGINS = {
    origin.key: origin
    for origin in (
        Origin("around", say("all around, the bait turned"), None),
        Origin("above", say("straight down the back"), (0, 0, 1)),
        Origin("shoulder", say("from above and aside"), (0, 0.7071, 0.7071), both=True),
        Origin("side", say("from the side"), (0, 1, 0), both=True),
        Origin("low", say("from below and aside"), (0, 0.7071, -0.7071), both=True),
        Origin("below", say("from below"), (0, 0, -1)),
        Origin("behind", say("from behind, raking"), (1, 0.5, 0.25), both=True),
        Origin("front", say("from the front, raking"), (-1, 0.5, 0.25), both=True),
    )
}
SIDES = {"both": say("both sides"), "left": say("left side"), "right": say("right side")}


@dataclass(frozen=True)
class What:
    """Kinds of layers: what is laid, what is taken away again, what is put on to keep paint off."""

    key: str
    words: str
    paint: bool = False  # of a recipe or a bottle
    takes: bool = False  # removes what lies there
    sticks: bool = False  # laid as it is, and not sprayed
    film_um: float = 0.0
    sealed: bool = False

    @property
    def sprayed(self) -> bool:
        """Whether a film of it is laid, coat by coat."""
        return self.film_um > 0 and not self.sticks

    @property
    def lies(self) -> bool:
        """Whether it lies on the bait from then on: a film, foil, a part."""
        return self.sprayed or self.sticks


MASK, UNMASK = "mask", "unmask"
WHATS = {
    what.key: what
    for what in (
        What("recipe", say("a recipe"), paint=True, film_um=8.0),
        What("paint", say("a paint"), paint=True, film_um=8.0),
        What("wash", say("a wash"), paint=True, film_um=6.0),
        What("sealer", say("sealer"), film_um=8.0, sealed=True),
        What("varnish", say("varnish, a sealed stage"), film_um=12.0, sealed=True),
        What("clear", say("clear coat"), film_um=60.0, sealed=True),
        What("foil", say("foil"), sticks=True),
        What("part", say("a part that is stuck on"), sticks=True, film_um=80.0),
        What("wipe", say("wipe off the heights"), takes=True),
        What("rub", say("rub through to the foil"), takes=True),
        What("swab", say("wipe back to the sealed stage"), takes=True),
        What(MASK, say("put a mask on")),
        What(UNMASK, say("take a mask off")),
    )
}


@dataclass(frozen=True)
class Layer:
    """One thing that is done to a bait."""

    number: int  # its own, whatever its place
    what: str = "recipe"
    source: str = ""  # "recipe:14:3", a paint's id, a foil's ground; the number of the mask that is taken off
    name: str = ""
    film_um: float = 8.0
    coats: int = 2
    origin: str = "around"
    rake_deg: float = 0.0  # leaned towards the tail, or towards the nose where less than nothing
    distance_mm: float = USUAL_MM
    region: str = "all"
    box: Box | None = None  # edges that were moved
    soft_mm: float | None = None  # None: as soft as the distance makes it
    sides: str = "both"
    mirrored: bool = True
    mask: Mask = FREE
    strokes: tuple[Stroke, ...] = ()  # laid by hand: then it lies where they go, and nowhere else
    sealed: bool = False
    on: bool = True
    # How it is sprayed, and what is waited before it.
    nozzle_mm: float = 0.3
    pressure_bar: float = 1.4
    medium: float = 0.0  # parts added to one part of the mix
    reducer: float = 0.0
    wait_h: float = 0.0  # beyond its flash-off

    @property
    def softness_mm(self) -> float:
        """Of its edges: a free edge is as wide as a fifth of the distance."""
        if self.soft_mm is not None:
            return self.soft_mm
        hard = self.mask.kind == "tape" or self.mask.anchor or self.what in (MASK, "part")
        return 0.0 if hard else 0.2 * self.distance_mm

    @property
    def by_hand(self) -> "Layer":
        """As strokes are drawn of it: from near, with little air, in one pass, and where they go alone."""
        if self.strokes:
            return self
        gentle = min(self.pressure_bar, CLOSE_UP_BAR)
        return replace(self, coats=1, distance_mm=CLOSE_UP_MM, pressure_bar=gentle, region="all", box=None)

    @property
    def unsprayed(self) -> bool:
        """Whether it is laid by hand without an airbrush: brushed, dabbed, set as marks."""
        if self.strokes:
            return all(one.kind.unthinned for one in self.strokes)
        return masks.MASKS[self.mask.kind].unthinned

    @property
    def disc_mm(self) -> float:
        """How wide a stroke of it is."""
        return disc_mm(self.nozzle_mm, self.distance_mm, self.pressure_bar)

    def edges(self, landmarks: Landmarks) -> Box:
        """Its region's box, as it was moved or as it is usual."""
        box = self.box or REGIONS[self.region].box(landmarks)
        return Box(max(0.0, box.u0), min(1.0, box.u1), max(0.0, box.v0), min(0.5, box.v1))

    def scaled(self, by: float) -> "Layer":
        """Its edges and its mask so many times as large; film and distance are the hand's, and stay."""
        if by == 1:
            return self
        hard = self.soft_mm is None and self.softness_mm == 0
        soft_mm = None if hard else min(self.softness_mm * by, MOST_SOFT_MM)
        strokes = tuple(one.scaled(by) for one in self.strokes)
        return replace(self, soft_mm=soft_mm, mask=masks.within(self.mask.scaled(by)), strokes=strokes)


@dataclass(frozen=True)
class Plan:
    """A blank, and its layers from the inside out."""

    name: str = ""
    note: str = ""
    blank: Blank = USUAL
    layers: tuple[Layer, ...] = ()
    light: str = "D65"
    reference: int | None = None  # a photo
    stencils: tuple[tuple[str, Polygons], ...] = ()  # those of one's own that it uses, so that it stands by itself
    prepared: tuple[str, ...] = tuple(PREPARATIONS)  # what was done to the blank
    eyes: str = "before"
    temperature_c: float = 20.0
    humidity_percent: float = 50.0
    baits: int = 1
    cup_ml: float = 9.0
    accepted: tuple[tuple[str, str], ...] = ()  # checks that were accepted for it, with a note
    fog: bool = True  # what flies past free edges is seen

    def layer(self, number: int) -> Layer:
        """Raises NotFound."""
        for layer in self.layers:
            if layer.number == number:
                return layer
        raise NotFound(say("Layer {number} is no longer on this plan.", number=number))

    def place(self, number: int) -> int:
        """Where a layer lies, from the inside out, from 0."""
        return self.layers.index(self.layer(number))

    def worn(self, number: int) -> tuple[Layer, ...]:
        """The masks that lie on the bait while a layer is laid."""
        return worn(self.layers)[self.place(number)]

    @property
    def left_on(self) -> tuple[Layer, ...]:
        """Masks that nobody takes off."""
        return worn((*self.layers, Layer(0)))[-1]

    def taking_off(self) -> Layer:
        """A layer that takes off what was put on last. Raises InvalidInput."""
        if not self.left_on:
            raise InvalidInput(say("No mask is on: put one on first."), field="what")
        return Layer(0, UNMASK, source=str(self.left_on[-1].number))

    def with_layer(self, layer: Layer, *, at: int | None = None) -> "Plan":
        """Another layer, on top or at a place; it gets the next number. Raises InvalidInput."""
        if len(self.layers) >= MOST_LAYERS:
            raise InvalidInput(
                say("A plan takes at most {most_layers} layers.", most_layers=MOST_LAYERS), field="layers"
            )
        number = 1 + max((one.number for one in self.layers), default=0)
        where = len(self.layers) if at is None else min(max(at, 0), len(self.layers))
        new = checked_layer(replace(layer, number=number))
        return replace(self, layers=(*self.layers[:where], new, *self.layers[where:]))

    @property
    def beneath_clear(self) -> int:
        """Where another layer goes: on top, but for the clear coats that end the plan."""
        index = len(self.layers)
        while index and self.layers[index - 1].what == "clear":
            index -= 1
        return index

    def changed(self, number: int, change: Callable[[Layer], Layer]) -> "Plan":
        """Raises InvalidInput, NotFound."""
        old = self.layer(number)
        new = checked_layer(change(old))
        return replace(self, layers=tuple(new if layer is old else layer for layer in self.layers))

    def moved(self, number: int, to: int) -> "Plan":
        """A layer at another place, counted from the inside."""
        layer = self.layer(number)
        rest = [other for other in self.layers if other is not layer]
        where = min(max(to, 0), len(rest))
        return replace(self, layers=(*rest[:where], layer, *rest[where:]))

    def without(self, number: int) -> "Plan":
        """The plan without a layer."""
        gone = self.layer(number)
        return replace(self, layers=tuple(layer for layer in self.layers if layer is not gone))

    def copied(self, number: int) -> "Plan":
        """The plan with a layer once more, right above it."""
        layer = self.layer(number)
        return self.with_layer(
            replace(layer, name=f"{layer.name} again" if layer.name else ""), at=self.place(number) + 1
        )

    def on_blank(self, blank: Blank, *, scaled: bool) -> "Plan":
        """On another blank or size: its elements as large as they are, or as large as the blank has become."""
        wanted = blanks.checked(blank)
        by = wanted.length_mm / self.blank.length_mm if scaled else 1.0
        return replace(self, blank=wanted, layers=tuple(layer.scaled(by) for layer in self.layers))

    def named(self, *, name: str, note: str) -> "Plan":
        """Raises InvalidInput."""
        return replace(
            self, name=checked_text("name", name, LONGEST_NAME), note=checked_text("note", note, LONGEST_NOTE)
        )

    def to_save(self) -> "Plan":
        """Raises InvalidInput."""
        if not self.name.strip():
            raise InvalidInput(say("Give the plan a name before saving it."), field="name")
        if not self.layers:
            raise InvalidInput(say("Add at least one layer before saving the plan."), field="layers")
        return replace(self, name=self.name.strip(), note=self.note.strip(), light="D65")


def worn(layers: Sequence[Layer]) -> list[tuple[Layer, ...]]:
    """For each layer, in their order, the masks that lie on the bait while it is laid."""
    lying: tuple[Layer, ...] = ()
    found = []
    for layer in layers:
        found.append(lying)
        if layer.on and layer.what == MASK:
            lying = (*lying, layer)
        elif layer.on and layer.what == UNMASK:
            lying = tuple(one for one in lying if layer.source and str(one.number) != layer.source)
    return found


def checked_layer(layer: Layer) -> Layer:
    """Raises InvalidInput for what cannot be done, naming it."""
    for words, given, known in (
        (say("kind of layer"), layer.what, WHATS),
        (say("way to spray from"), layer.origin, ORIGINS),
        ("region", layer.region, REGIONS),
        ("side", layer.sides, SIDES),
    ):
        if given not in known:
            raise InvalidInput(
                say("There is no {words} called '{given}'.", words=words, given=given[:30]), field="layer"
            )
    for words, value, least, most, unit in (
        (say("A coat"), layer.film_um, 0.5, THICKEST_COAT_UM, "µm"),
        (say("The number of coats"), layer.coats, 1, MOST_COATS, ""),
        (say("The distance"), layer.distance_mm, NEAREST_MM / 4, FARTHEST_MM, "mm"),
        (say("The lean"), layer.rake_deg, -80, 80, "°"),
        (say("An edge's softness"), layer.soft_mm or 0.0, 0, MOST_SOFT_MM, "mm"),
        (say("A nozzle"), layer.nozzle_mm, 0.1, 2, "mm"),
        (say("The pressure"), layer.pressure_bar, 0.2, 6, "bar"),
        (say("Medium"), layer.medium, 0, 5, "parts"),
        (say("Reducer"), layer.reducer, 0, 5, "parts"),
        (say("A wait"), layer.wait_h, 0, 1000, "h"),
    ):
        if not least <= value <= most:
            raise InvalidInput(f"{words} is {least:g} to {most:g} {unit}".rstrip() + f", not {value:g}.", field="layer")
    if len(layer.strokes) > MOST_STROKES:
        raise InvalidInput(say("A layer takes at most {most} strokes.", most=MOST_STROKES), field="strokes")
    if sum(len(one.points) for one in layer.strokes) > MOST_STROKES * MOST_POINTS:
        raise InvalidInput(say("That is more than one layer takes: go on in another layer."), field="strokes")
    for one in layer.strokes:
        stroke.checked(one)
    if layer.what == MASK and not masks.MASKS[masks.checked(layer.mask).kind].thing:
        raise InvalidInput(say("Choose what is put on: a net, a comb, a stencil, tape, paper."), field="kind")
    if layer.box is not None and not layer.box.within():
        raise InvalidInput(say("The edges of a region must lie on the bait, and in their order."), field="box")
    checked_text("name", layer.name, LONGEST_NAME)
    masks.checked(layer.mask)
    return layer
