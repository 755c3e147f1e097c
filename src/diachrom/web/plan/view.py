"""What the plan's page shows."""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.bait.mask import Field
from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.plan import CLEARS, MASK, ORIGINS, SIDES, UNMASK, WHATS, Layer, Plan
from diachrom.core.bait.regions import REGIONS
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import SURFACES, sheen_of, surface_of
from diachrom.store.plans import PlanNow
from diachrom.web.kit.choices import Choice, Group
from diachrom.web.kit.formatting import coats_words
from diachrom.web.kit.swatches import Bead, BeadString, Swatch, bead_of, bead_string, swatch
from diachrom.words import capitalized, listed, quantity, say, say_count
from diachrom.work.kit import airbrushes
from diachrom.work.kit.airbrushes import Airbrush
from diachrom.work.kit.opened import Store
from diachrom.work.plan import painting, plans, sources
from diachrom.work.plan.here import Here
from diachrom.work.plan.painting import LaidLayer

SMALL_ABOVE, SMALL_RUNS = 8, 3


@dataclass(frozen=True)
class FieldView:
    """A figure of a mask as it is typed."""

    key: str
    words: str
    unit: str
    value: str
    least: float
    most: float


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
    problem: str


@dataclass(frozen=True)
class EditedLayer:
    """The layer that is worked on, as a form shows it."""

    seen: LayerView
    layer: Layer
    sprayed: bool
    paints: bool
    fields: Sequence[FieldView]
    random: bool
    note: str
    lands: str  # what is to be said of where it lands
    edges: str  # of its region, in words
    box: dict[str, float]
    softness_mm: float
    airbrush: str  # in the hand, in words
    differs: str  # what this layer wants otherwise


@dataclass(frozen=True)
class Offered:
    """What there is to choose from."""

    sources: Sequence[Group]
    whats: Sequence[Choice]
    origins: Sequence[Choice]
    regions: Sequence[Choice]
    sides: Sequence[Choice]
    ways: Sequence[Choice]
    foils: Sequence[Choice]
    clears: Sequence[Choice]
    stencils: Sequence[Group]


@dataclass(frozen=True)
class PlanPage:
    number: int
    revision: int
    name: str
    note: str
    blank_words: str
    area_words: str
    layers: Sequence[LayerView]
    edited: EditedLayer | None
    offered: Offered
    undo: str | None
    redo: str | None
    light: str
    fog: bool  # what flies past free edges is seen
    said: str
    problem: str
    reference: int | None
    joints: Sequence[float]
    surfaces: Sequence[tuple[float, str]]  # what each mirrors any way, and its words
    picture_words: str


@dataclass(frozen=True)
class LyingView:
    place: int
    name: str
    film_words: str
    left: Swatch


@dataclass(frozen=True)
class HereView:
    """What lies at a place."""

    seen: Swatch
    glance: Swatch | None
    spread: float
    ground: str
    layers: Sequence[LyingView]
    most: str


def plan_page(store: Store, now: PlanNow, *, chosen: int | None = None, said: str = "") -> PlanPage:
    """A plan as it stands, with the layer that is worked on."""
    laid = painting.laid(store, now.plan.layers)
    views = [_layer(one, place) for place, one in enumerate(laid, start=1)]
    edited = next(
        (
            _edited(one, layer, now.plan, painting.lands(store, now.plan, one.layer), airbrushes.mine(store))
            for one, layer in zip(laid, views, strict=True)
            if layer.number == chosen
        ),
        None,
    )
    surface = now.plan.blank.surface()
    found = sources.offered(store, {one.source for one in now.plan.layers})
    return PlanPage(
        number=now.number,
        revision=now.revision,
        name=now.plan.name,
        note=now.plan.note,
        blank_words=plans.blank_words(now.plan.blank),
        area_words=say(
            "{area} of skin, {girth} around",
            area=quantity(surface.area_mm2 / 100, ".1f", "cm²"),
            girth=quantity(surface.girth_mm, ".0f", "mm"),
        ),
        layers=views,
        edited=edited,
        offered=Offered(
            sources=[Group(words, [Choice(key, name) for key, name in rows]) for words, rows in found.items()],
            whats=[Choice(key, what.words) for key, what in WHATS.items()],
            origins=choices(ORIGINS),
            regions=choices(REGIONS),
            sides=choices(SIDES),
            ways=choices(MASKS),
            clears=choices(CLEARS),
            foils=[
                Choice(key, ground.words)
                for key, ground in GROUNDS.items()
                if ground.mirror is not None and not ground.wall
            ],
            stencils=[
                Group(words, [Choice(key, name) for key, name in rows])
                for words, rows in sources.stencils(store, now.plan).items()
                if rows
            ],
        ),
        undo=now.undo,
        redo=now.redo,
        light=now.plan.light,
        fog=now.plan.fog,
        said=said,
        problem=now.problem,
        reference=now.plan.reference,
        joints=now.plan.blank.form.joints,
        surfaces=[
            (sheen_of(clear_coat=clear, satin=satin), words)
            for (clear, satin), words in ((surface_of(key), words) for key, words in SURFACES.items())
        ],
        picture_words=_picture_words(now.plan, views),
    )


def _picture_words(plan: Plan, views: Sequence[LayerView]) -> str:
    name, blank = plan.name or say("The bait"), plans.blank_words(plan.blank)
    if not views:
        return say("{name}: {blank}, nothing on it yet", name=name, blank=blank)
    layers = say_count(len(views), "{count} layer", "{count} layers")
    return say(
        "{name}: {blank}, {layers}: {names}",
        name=name,
        blank=blank,
        layers=layers,
        names=listed(one.name for one in views),
    )


def _layer(laid: LaidLayer, place: int) -> LayerView:
    layer, kind = laid.layer, WHATS[laid.layer.what]
    beads = None
    if laid.held is not None:
        beads = bead_string(laid.held.draft.parts, laid.held.shelf, fold_above=SMALL_ABOVE, most_runs=SMALL_RUNS)
    # "back, straight down the back, through netting"
    parts = [
        say("{region}, edges moved", region=REGIONS[layer.region].words) if layer.box else REGIONS[layer.region].words
    ]
    if layer.strokes:
        by_hand = say_count(len(layer.strokes), "{count} stroke by hand", "{count} strokes by hand")
        parts = [by_hand, *(parts if layer.region != "all" or layer.box else [])]
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
        through = say("through {what}", what=way.words) if layer.what != "wash" else way.words
        if layer.mask.lift_mm and layer.what != "wash":
            lifted = quantity(layer.mask.lift_mm, "g", "mm")
            through = say("through {what}, lifted {lifted}", what=way.words, lifted=lifted)
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
        problem=laid.problem,
    )


def _edited(laid: LaidLayer, view: LayerView, plan: Plan, lands: str, mine: Airbrush) -> EditedLayer:
    layer, blank = laid.layer, plan.blank
    way = MASKS[layer.mask.kind]
    fields = [_field(field, getattr(layer.mask, field.key)) for field in way.fields]
    box = layer.edges(blank.form.landmarks)
    return EditedLayer(
        seen=view,
        layer=layer,
        sprayed=WHATS[layer.what].sprayed,
        paints=WHATS[layer.what].paint,
        fields=fields,
        random=way.random,
        note=way.note,
        lands=lands,
        edges=say(
            "{u0} to {u1} % from nose to tail, {v0} to {v1} % from spine to belly",
            u0=quantity(100 * box.u0, ".0f"),
            u1=quantity(100 * box.u1, ".0f"),
            v0=quantity(200 * box.v0, ".0f"),
            v1=quantity(200 * box.v1, ".0f"),
        ),
        box={"u0": box.u0, "u1": box.u1, "v0": box.v0, "v1": box.v1},
        softness_mm=layer.softness_mm,
        airbrush=say("{name}: {words}", name=mine.name or say("My airbrush"), words=mine.words),
        differs=listed(f"{words} {value}" for words, value in mine.differs(layer)),
    )


def _field(field: Field, value: float) -> FieldView:
    scale = 100 if field.unit == "%" else 1 / field.times
    told = quantity(scale * value, ".0f" if field.unit == "%" else "g" if field.times == 1 else ".3g")
    return FieldView(field.key, field.words, field.unit, told, least=scale * field.least, most=scale * field.most)


def choices(table: dict) -> list[Choice]:  # type: ignore[type-arg]
    """Words to choose from, by their keys."""
    return [Choice(key, getattr(one, "words", one)) for key, one in table.items()]


def here_view(here: Here) -> HereView:
    """What lies at a place, layer by layer."""
    return HereView(
        seen=swatch(here.seen),
        glance=None if here.glance is None else swatch(here.glance),
        spread=here.spread,
        ground=here.ground,
        layers=[
            LyingView(layer.place, layer.name, quantity(layer.film_um, ".1f", "µm"), swatch(layer.left))
            for layer in here.layers
        ],
        most=here.most,
    )
