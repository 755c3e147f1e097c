"""What the checks of a plan look at: its layers with what is in their cups, and what the picture says of each."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from diachrom.core.bait.amounts import NONE, Amount
from diachrom.core.bait.coated import Painted
from diachrom.core.bait.deposit import Skin, film_um
from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.picture import Picture, picture
from diachrom.core.bait.plan import MASK, UNMASK, WHATS, Layer, Plan, worn
from diachrom.core.bait.tabled import Kept
from diachrom.core.film import seen as seen_film
from diachrom.core.film.cell_stacks import seen_weights
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.kinds import SURE
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix
from diachrom.core.film.stack import sprayed
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import Bools, Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab_of_radiance, lch
from diachrom.core.light.lights import light
from diachrom.core.mix.drying import TABLE, Dries
from diachrom.core.mix.where import waves
from diachrom.words import say

FINEST_CELLS = 3.0  # a pattern finer than this is not seen as it is
LANDED = 0.05  # of what is meant: less is overspray
THERE = 0.4  # of its thickest film: where a layer is what it is meant to be
LOOKED_AT = (0, 2, 4)  # of the tilts that a picture has
GLANCE, FACING, AWAY = 0, 1, 2
NO_PICTURE = np.zeros((len(LOOKED_AT), 1, 1, 3))
BOTTLED_UM, GLANCE_DEG, FEW_STREAMS = 24.0, 25.0, 4
FLASH = 15.0  # L between glance and turned away that is a flash


@dataclass(frozen=True)
class Bottle:
    """A part of a layer's mix, and the bottle that it comes from."""

    name: str
    kind: str
    share: float  # of the volume
    condition: str = ""  # empty, nearly gone, settled ...
    left_ml: float = 0.0
    discontinued: bool = False
    nozzle_mm: float | None = None  # that it asks for
    drop_ml: float = 0.05
    price_ml: float | None = None
    paint: str = ""  # its id
    bottle: int = 0  # on the shelf
    drops: int = 1  # in the recipe


@dataclass(frozen=True, eq=False)
class Made:
    """What a layer is made of: for the picture, for the eye on its own ground, and bottle by bottle."""

    painted: Painted
    words: str
    bottles: Sequence[Bottle] = ()
    aim: Floats | None = None  # (3,) Lab of the mix as it was meant: on its own ground, in its own coats
    amount: Amount = NONE  # that its layer takes

    @property
    def need_ml(self) -> float:
        """What a layer takes in all, ml."""
        return self.amount.volume_ml


@dataclass(frozen=True)
class Mend:
    """What mends a finding in one press."""

    words: str
    apply: Callable[[Plan], Plan]


@dataclass(frozen=True)
class Found:
    """What a check has found: the layers, where on the bait, the reason in a sentence, what mends it."""

    words: str
    layers: tuple[int, ...] = ()  # by their numbers, the one at fault first
    at: tuple[float, float] | None = None
    mends: tuple[Mend, ...] = ()


@dataclass(frozen=True, eq=False)
class Seen:
    """A layer as the picture has it."""

    layer: Layer
    place: int  # from 1
    made: Made
    film_um: Floats  # (u, v)
    below: Floats  # (angle, u, v, 3) Lab of the bait before it
    after: Floats  # and with it
    cell_mm: float  # along the bait

    @property
    def number(self) -> int:
        """The layer's number."""
        return self.layer.number

    @property
    def name(self) -> str:
        """How the layer is called."""
        return say("layer {place}, {what}", place=self.place, what=self.layer.name or self.made.words)

    @cached_property
    def there(self) -> Bools:
        """(u, v) whether it lies there."""
        most, meant = float(self.film_um.max(initial=0.0)), self.layer.coats * self.layer.film_um
        return self.film_um > max(THERE * most, LANDED * meant, 0.05)

    @property
    def lands(self) -> bool:
        """Whether it lies anywhere."""
        return bool(self.there.any())

    @cached_property
    def at(self) -> tuple[float, float] | None:
        """A place in the middle of where it lies thickest."""
        if not self.lands:
            return None
        rows, columns = np.nonzero(self.there)
        half = columns < self.film_um.shape[1] // 2
        rows, columns = (rows[half], columns[half]) if half.any() else (rows, columns)
        middle = int(np.argmin((rows - np.median(rows)) ** 2 + (columns - np.median(columns)) ** 2))
        u, v = self.film_um.shape
        return (float(rows[middle]) + 0.5) / u, (float(columns[middle]) + 0.5) / v

    def before(self, angle: int = FACING) -> Floats:
        """(3,) Lab below it, in the middle of the cells where it lies."""
        return np.asarray(np.median(self.below[angle][self.there], axis=0))

    def reached(self, angle: int = FACING) -> Floats:
        """(3,) Lab where it lies, in the median, as the bait is seen once it was sprayed."""
        return np.asarray(np.median(self.after[angle][self.there], axis=0))

    def flash(self, *, before: bool = False) -> float:
        """How much lighter the glance is than what is turned away."""
        field_ = self.below if before else self.after
        return float(np.median((field_[GLANCE, ..., 0] - field_[AWAY, ..., 0])[self.there]))

    def flashes(self) -> Bools:
        """Where it lies on something that flashes."""
        return self.there & (self.below[GLANCE, ..., 0] - self.below[AWAY, ..., 0] > FLASH)

    def of_kind(self, *kinds: str, least: float = 0.1) -> bool:
        """Whether so much of what colours in its cup is of these kinds."""
        colouring = [bottle for bottle in self.made.bottles if bottle.kind not in ("reducer", "medium")]
        whole = sum(one.share for one in colouring)
        return whole > 0 and sum(one.share for one in colouring if one.kind in kinds) >= least * whole

    def share(self, *kinds: str) -> float:
        """What these kinds are of its mix, 0 to 1."""
        return sum(bottle.share for bottle in self.made.bottles if bottle.kind in kinds)

    @property
    def thinned_by(self) -> float:
        """Parts of what is sprayed to one of the mix."""
        return 1 + self.layer.medium + self.layer.reducer

    @property
    def paints(self) -> bool:
        """Whether it lays colour."""
        return WHATS[self.layer.what].paint and bool(self.made.bottles)

    @property
    def resolved(self) -> bool:
        """Whether what it is sprayed through is larger than the cells that are looked at."""
        way, wide = self.layer.mask, FINEST_CELLS * self.cell_mm
        if not MASKS[way.kind].pattern:
            return True
        return min(way.size_mm, way.gap_mm or way.size_mm) >= wide

    @property
    def dark(self) -> bool:
        """Whether it is meant to be dark."""
        return self.made.aim is not None and float(self.made.aim[0]) < 35

    def meets(self, other: "Seen") -> Bools:
        """Where both lie."""
        return self.there & other.there


@dataclass(frozen=True, eq=False)
class Look:
    """A plan, looked at layer by layer."""

    plan: Plan
    seen: Sequence[Seen]  # those that are on, from the inside out
    final: Floats  # (angle, u, v, 3)
    without: Callable[[int], Floats] = field(repr=False)  # the bait without a layer, by its number
    drying: Mapping[str, Dries] = field(default_factory=lambda: TABLE, repr=False)  # at this bench
    white: str = ""  # paints of the shelf to block out and to deepen with, "" where there is none
    black: str = ""
    reported: Sequence[str] = ()  # faults that were told later of baits of this plan
    scale: tuple[float, float] = (0.0, 0.0)  # g that it shows; ml of two-part clear that it can weigh at least

    def dries(self, one: "Seen") -> Dries:
        """A layer's row of the drying table."""
        return self.drying.get(kind_of(one), self.drying[SURE])

    def above(self, one: Seen) -> Sequence[Seen]:
        """The layers that lie on one, nearest first."""
        return [other for other in self.seen if other.place > one.place]

    def beneath(self, one: Seen) -> Sequence[Seen]:
        """The layers that lie under one, nearest first."""
        return [other for other in self.seen if other.place < one.place]

    @property
    def painting(self) -> Sequence[Seen]:
        """The layers that lay colour, from the inside out."""
        return [one for one in self.seen if one.paints and one.lands]

    @property
    def masking(self) -> Sequence[Seen]:
        """The layers that bring a mask: for themselves, or to stay on the bait."""
        return [one for one in self.seen if one.layer.what == MASK or (one.paints and one.lands)]


def kind_of(one: Seen) -> str:
    """What a layer dries as: a row of the drying table."""
    what = one.layer.what
    if what == "clear":
        return one.layer.source if one.layer.source in TABLE else "two-part"
    if what in ("sealer", "varnish"):
        return what
    shares: dict[str, float] = {}
    for bottle in one.made.bottles:
        if bottle.kind in TABLE:
            shares[bottle.kind] = shares.get(bottle.kind, 0.0) + bottle.share
    return max(shares, key=lambda kind: shares[kind], default=SURE)


def at_the_glance(mix: Mix) -> Floats:
    """(3,) Lab of what flakes, at the glance over black: how it shows in its bottle."""
    films, over, day = sprayed([Coat(mix, BOTTLED_UM)], FEW_STREAMS), GROUNDS["black"], light("D65")
    shone = seen_film.glance(films, over, [GLANCE_DEG], under=day, orders=waves(FEW_STREAMS))[..., 0, :]
    return lab_of_radiance(seen_film.diffuse(films, over, sheen=CLEARED, under=day) + shone, under=day)


def counted(plan: Plan, made: Sequence[Made], skin: Skin) -> Look:
    """A plan's layers with what is in their cups and where it lands, for what asks about amounts alone: no picture."""
    rows = [
        counted_layer(layer, place, made[place - 1], film_um(layer, skin, over), skin)
        for place, (layer, over) in enumerate(zip(plan.layers, worn(plan.layers), strict=True), start=1)
        if layer.on
    ]
    return Look(plan, rows, NO_PICTURE, lambda number: NO_PICTURE)


def counted_layer(layer: Layer, place: int, made: Made, film: Floats, skin: Skin) -> Seen:
    """A layer of which no picture was made."""
    cell_mm = skin.surface.length_mm / skin.surface.cells[0]
    return Seen(layer, place, made, film_um=film, below=NO_PICTURE, after=NO_PICTURE, cell_mm=cell_mm)


def looked(
    plan: Plan,
    made: Sequence[Made],
    skin: Skin,
    kept: Kept,
    *,
    drying: Mapping[str, Dries] = TABLE,
    white: str = "",
    black: str = "",
    scale: tuple[float, float] = (0.0, 0.0),
) -> Look:
    """A plan seen after each of its layers, with all that checks ask of it.

    Parameters
    ----------
    plan : the plan.
    made : what each of its layers is made of here, in their order.
    skin : the bait's surface with its regions and stencils.
    kept : films that were worked out before, by what they are of.
    drying : the drying table of the bench, by kind of paint.
    white, black : grounds that hiding is judged on.
    scale : g that the scale shows, and ml of two-part clear that it can weigh at least.

    Returns
    -------
    Look, with a Seen for each layer.
    """
    painted = [one.painted for one in made]

    def labs(some: Plan) -> tuple[Picture, Floats]:
        found = picture(some, painted, skin, kept)
        return found, labs_of(found)

    _, below = labs(_only(plan, lambda at, one: False))
    nothing = np.zeros(skin.surface.cells)
    rows = []
    for place, layer in enumerate(plan.layers, start=1):
        if not layer.on:
            continue
        if layer.what in (MASK, UNMASK):
            rows.append(replace(counted_layer(layer, place, made[place - 1], nothing, skin), below=below, after=below))
            continue
        found, after = labs(_only(plan, lambda at, one, last=place: at < last and one.on))
        own = counted_layer(layer, place, made[place - 1], found.films_um[place - 1], skin)
        rows.append(replace(own, below=below, after=after))
        below = after

    def without(number: int) -> Floats:
        return labs(_only(plan, lambda at, one: one.on and one.number != number))[1]

    return Look(plan, rows, below, without, drying=drying, white=white, black=black, scale=scale)


def _only(plan: Plan, keep: Callable[..., bool]) -> Plan:
    """With some of its layers alone; `keep` is asked with a layer's place from 0, and the layer."""
    return replace(
        plan, layers=tuple(one if keep(index, one) else replace(one, on=False) for index, one in enumerate(plan.layers))
    )


def labs_of(found: Picture) -> Floats:
    """(angle, u, v, 3) in daylight, glossy."""
    day = light("D65")
    factors = np.moveaxis(found.factors[list(LOOKED_AT)], 1, -1) @ seen_weights().T  # (angle, u, v, band)
    radiance = factors * day.power
    for dye in found.dyes:
        radiance = radiance + np.moveaxis(dye.made, 0, -1) @ seen_weights().T
    return lab_of_radiance(radiance, under=day)


def off(one: Floats, other: Floats) -> float:
    """dE between two colours."""
    return float(delta_e(one, other))


def chroma(lab: Floats) -> float:
    """C* of a colour."""
    return float(lch(lab)[1])


def hue_apart(one: Floats, other: Floats) -> float:
    """Degrees between two hues."""
    turn = float(lch(one)[2] - lch(other)[2])
    return abs((turn + 180) % 360 - 180)
