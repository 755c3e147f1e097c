"""What the plan's page shows."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from diachrom.core.bait.masks import ANCHORS, MASKS
from diachrom.core.bait.plan import CLEARS, ORIGINS, SIDES, WHATS, Layer, Plan, worn
from diachrom.core.bait.regions import REGIONS
from diachrom.core.bait.strewn import KEPT_FREE, LINES
from diachrom.core.bait.stroke import TOOLS
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import SURFACES, sheen_of, surface_of
from diachrom.store.plans import PlanNow
from diachrom.web.kit.choices import Choice, Group
from diachrom.web.kit.swatches import Swatch, swatch
from diachrom.web.plan.edited import EditedLayer, edited_layer
from diachrom.web.plan.layer_view import LayerView, layer_view
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.kit import airbrushes
from diachrom.work.kit.opened import Store
from diachrom.work.plan import painting, plans, sources, tools
from diachrom.work.plan.here import Here


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
    parts: Sequence[Group]  # what is stuck on can be of
    clears: Sequence[Choice]
    stencils: Sequence[Group]
    things: Sequence[Choice]  # masks that are put on
    anchors: Sequence[Choice]
    tools: Sequence[Choice]  # to lay paint with, beside the airbrush
    stamps: Sequence[Choice]  # those of them that are set, mark by mark
    lines: Sequence[Choice]
    kept_free: Sequence[Choice]
    mine: Sequence[Choice]  # tools of the bench


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
    marks: Sequence[tuple[Choice, float]]  # with their usual size, mm


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
    over = worn(now.plan.layers)
    views = [layer_view(one, place, masked=bool(over[place - 1])) for place, one in enumerate(laid, start=1)]
    mine = airbrushes.mine(store)
    edited = next(
        (
            edited_layer(one.layer, layer, now.plan, _lands(store, now.plan, one.layer), mine)
            for one, layer in zip(laid, views, strict=True)
            if layer.number == chosen
        ),
        None,
    )
    surface = now.plan.blank.surface()
    foils = [
        Choice(key, ground.words) for key, ground in GROUNDS.items() if ground.mirror is not None and not ground.wall
    ]
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
            sources=_groups(found),
            whats=[Choice(key, what.words) for key, what in WHATS.items()],
            origins=choices(ORIGINS),
            regions=choices(REGIONS),
            sides=choices(SIDES),
            ways=choices(MASKS),
            things=choices({key: way for key, way in MASKS.items() if way.thing}),
            anchors=choices(ANCHORS),
            tools=choices({key: tool for key, tool in TOOLS.items() if key}),
            stamps=choices({key: tool for key, tool in TOOLS.items() if not tool.path}),
            lines=choices(LINES),
            kept_free=choices(KEPT_FREE),
            mine=[Choice(str(tool.id), tool.name) for tool in tools.every(store)],
            clears=choices(CLEARS),
            foils=foils,
            parts=[Group(say("Foils"), foils), *_groups(found)[1:2]],
            stencils=[one for one in _groups(sources.stencils(store, now.plan)) if one.choices],
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
        marks=[(Choice(key, tool.words), tool.usual_mm) for key, tool in TOOLS.items() if key],
    )


def _groups(rows: Mapping[str, sources.Rows]) -> list[Group]:
    return [Group(words, [Choice(key, name) for key, name in own]) for words, own in rows.items()]


def _lands(store: Store, plan: Plan, layer: Layer) -> str:
    """What is to be said of where a layer lands, and of what it goes through."""
    told = painting.lands(store, plan, layer), tools.missing(store, layer), tools.too_few(store, plan, layer)
    return " ".join(one for one in told if one)


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
