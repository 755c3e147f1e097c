"""What the layers of a plan are: recipes and paints of the bench as light knows them, and their names."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from hashlib import blake2b

import numpy as np

from diachrom.core.bait.coated import Coated, Painted, coated
from diachrom.core.bait.deposit import Skin, open_at, share
from diachrom.core.bait.mask import Polygons
from diachrom.core.bait.masks import MASKS, STENCILS
from diachrom.core.bait.picture import Picture, picture
from diachrom.core.bait.plan import MASK, UNMASK, WHATS, Layer, Plan
from diachrom.core.bait.regions import REGIONS
from diachrom.core.bait.surface import FULL, ROUGH
from diachrom.core.bait.tabled import Kept
from diachrom.core.film.grounds import BY_HAND_DEG, GROUNDS, ON_PLATE_DEG
from diachrom.core.film.paint import Mix, Paint, clear_paint, mix
from diachrom.core.film.surface import CLEARED, SATIN
from diachrom.core.mix.cup import ONLY_THIN
from diachrom.core.mix.draft import RECIPE_GROUND
from diachrom.core.mix.hand import USUAL_THINNED, Hand
from diachrom.errors import DiachromError
from diachrom.exchange import drawings
from diachrom.store import foil, mist, paints, plans, recipes
from diachrom.store.recipes import Version
from diachrom.words import say
from diachrom.work.kit.looks import PaintLook, look
from diachrom.work.mix.contents import Contents, contents_of, cup_of

OWN_STENCIL = "own:"
LEAST_SHARE = 0.02
GONE = "Its {} no longer exists: choose another."
kept = Kept()  # what was solved for any plan, as long as the server runs


@dataclass(frozen=True, eq=False)
class LaidLayer:
    """A layer with what it is made of."""

    layer: Layer
    painted: Painted
    words: str  # what it is, "No. 14, Autumn char, back, version 2"
    look: PaintLook | None = None  # of a bottle
    held: Contents | None = None  # of a recipe
    saved: Version | None = None
    record: paints.PaintRecord | None = None  # of a bottle
    problem: str = ""  # why it cannot be seen
    even: bool = False  # something that colours it is only known as an even film
    thinned: float = 0.0  # of its mix, before more is added
    through: str = ""  # its mask, in words


PLATE = "metal"  # of which a blank is made that foil lies flat on
Instead = Mapping[str, Sequence[tuple[Paint, float]]]  # for a paint, or a layer's source: what is there, by shares
NOTHING: Instead = {}


def laid(connection: sqlite3.Connection, layers: Sequence[Layer], instead: Instead = NOTHING) -> list[LaidLayer]:
    """Layers with what they are made of; one whose recipe or paint is gone says so, and is left out of the picture."""
    numbers = {layer: recipe_numbers(layer.source) for layer in layers}
    known = recipes.several(connection, [number for number in numbers.values() if number is not None])
    held = contents_of(connection, [version.draft for version in known.values()])
    made = {key: (saved, own) for (key, saved), own in zip(known.items(), held, strict=True)}
    names = {one.id: one for one in paints.every_record(connection)}
    shown = [_laid(connection, one, made.get(numbers.get(one) or (0, None)), names) for one in layers]
    hand = mist.hand(connection)
    shown = _with_masks(connection, shown)
    if instead:
        shown = [_with(one, instead) for one in shown]
    return [replace(one, painted=_dotted(one, hand)) for one in shown]


def _with_masks(connection: sqlite3.Connection, shown: Sequence[LaidLayer]) -> list[LaidLayer]:
    """Each with its mask in words: a stencil by its name, what is taken off by what was put on."""
    used = {one.layer.mask.stencil for one in shown if one.layer.mask.kind == "stencil"}
    titles = dict(STENCILS)
    if any(key.startswith(OWN_STENCIL) for key in used):
        titles |= {f"{OWN_STENCIL}{own.id}": own.name for own in plans.drawings(connection, "stencil")}
    found, masks = [], dict[str, str]()
    for one in shown:
        layer, way = one.layer, one.layer.mask
        words = MASKS[way.kind].words
        if way.kind == "stencil" and way.stencil in titles:
            words = say("stencil “{title}”", title=titles[way.stencil])
        own = one.words
        if layer.what == MASK:
            masks[str(layer.number)] = layer.name or words
            own = say("put on: {mask}", mask=words)
        elif layer.what == UNMASK:
            own = say("take off: {mask}", mask=masks.get(layer.source, say("all masks")))
        found.append(replace(one, words=own, through=words))
    return found


def _with(one: LaidLayer, instead: Instead) -> LaidLayer:
    """A layer with other paints in the place of some."""
    if one.layer.source in instead:
        parts = list(instead[one.layer.source])
    elif one.held is not None and one.saved is not None and not (cup := cup_of(one.held)).empty:
        ids = [one.held.shelf[part.bottle].bottle.paint_id for part in one.held.draft.parts]
        if not instead.keys() & set(ids):
            return one
        parts = []
        for paint_id, pour, share in zip(ids, cup.pours, cup.fractions, strict=True):
            own = instead.get(paint_id, [(pour.paint, 1.0)])
            parts += [(paint, float(share) * of) for paint, of in own]
    else:
        return one
    made = mix([paint for paint, _ in parts], np.array([share for _, share in parts]))
    return replace(
        one,
        painted=_painted(_thinned(made, one.layer), one.painted.sealed),
        even=any(paint.even for paint, _ in parts),
        thinned=sum(share for paint, share in parts if paint.kind in ONLY_THIN),
    )


def recipe_numbers(source: str) -> tuple[int, int | None] | None:
    """The recipe that a layer is of, and its version, None for the newest; None for what is no recipe."""
    if not source.startswith(RECIPE_GROUND):
        return None
    number, _, version = source.removeprefix(RECIPE_GROUND).partition(":")
    if not number.isdecimal() or len(number) > 15:
        return None
    return int(number), int(version) if version.isdecimal() and len(version) < 15 else None


def _laid(
    connection: sqlite3.Connection,
    layer: Layer,
    recipe: tuple[Version, Contents] | None,
    names: Mapping[str, paints.PaintRecord],
) -> LaidLayer:
    kind = WHATS[layer.what]
    if layer.what == MASK:
        return LaidLayer(layer, Painted(), kind.words)
    if not kind.lies:
        return LaidLayer(layer, Painted(), kind.words)
    if layer.what == "foil":
        ground = GROUNDS.get(layer.source, GROUNDS["silver-foil"])
        return LaidLayer(layer, Painted(ground=ground), ground.words)
    if layer.what == "part" and layer.source in GROUNDS:
        ground = GROUNDS[layer.source]
        return LaidLayer(layer, Painted(ground=ground), say("a part of {ground}", ground=ground.words))
    sealed = layer.sealed or kind.sealed
    if not kind.paint and layer.what != "part":
        own = mix([clear_paint(kind.words, "medium")], np.ones(1))
        return LaidLayer(layer, Painted(own, sealed=True, digest=b"clear"), kind.words)
    if layer.source.startswith(RECIPE_GROUND):
        if recipe is None:
            return LaidLayer(layer, Painted(), layer.source, problem=GONE.format("recipe"))
        saved, held = recipe
        words = say(
            "{name}, No. {recipe}, version {version}", name=saved.draft.name, recipe=saved.recipe, version=saved.version
        )
        cup = cup_of(held)
        if cup.empty:
            return LaidLayer(layer, Painted(), words, held=held, saved=saved, problem=say("Its recipe is empty."))
        made = _painted(_thinned(cup.mix(), layer), sealed)
        return LaidLayer(layer, made, words, held=held, saved=saved, even=cup.even, thinned=cup.thinned)
    try:
        paint = paints.profile(connection, layer.source)
        record = names[layer.source]
    except (DiachromError, KeyError):
        gone = GONE.format("paint") if layer.source else say("Choose a recipe or a paint.")
        return LaidLayer(layer, Painted(), layer.source or kind.words, problem=gone)
    own = _thinned(mix([paint], np.ones(1)), layer)
    return LaidLayer(
        layer,
        _painted(own, sealed),
        record.full_name,
        look=look(paint),
        problem=paint.problem,
        record=record,
        even=paint.even,
    )


def _thinned(own: Mix, layer: Layer) -> Mix:
    """With medium and reducer added as it is sprayed: there is less of all else in a film."""
    left = 1 / (1 + layer.medium + layer.reducer)
    if left == 1:
        return own
    return replace(
        own,
        absorption=left * own.absorption,
        scattering=left * own.scattering,
        flakes=tuple((flake, left * cover) for flake, cover in own.flakes),
        dyes=tuple((dye, left * absorbed) for dye, absorbed in own.dyes),
        glows=tuple((glow, left * strength) for glow, strength in own.glows),
        bleeding=None if own.bleeding is None else left * own.bleeding,
    )


def _dotted(one: LaidLayer, hand: Hand) -> Painted:
    """What a layer is made of, in the dots that this hand lays it in; what is only known as an even film is one."""
    layer, more = one.layer, 1 + one.layer.medium + one.layer.reducer
    if one.painted.mix is None or not WHATS[layer.what].paint or one.even:
        return one.painted
    thinner = (layer.reducer + one.thinned) / more
    dots = hand.dots_um(layer.film_um, nozzle_mm=layer.nozzle_mm, thinned=thinner or USUAL_THINNED)
    return replace(one.painted, droplet_um=dots)


def _painted(own: Mix, sealed: bool) -> Painted:
    told = blake2b(own.absorption.tobytes() + own.scattering.tobytes(), digest_size=16)
    told.update(repr((own.flakes, own.dyes, own.glows, own.bleeding, own.forward)).encode())
    return Painted(own, sealed=sealed, digest=told.digest())


def stencils_of(connection: sqlite3.Connection, plan: Plan) -> Mapping[str, Polygons]:
    """The stencils that a plan uses: of its own document, of the bench, or of the library."""
    used = {layer.mask.stencil for layer in plan.layers if layer.mask.kind == "stencil"}
    found = dict(plan.stencils)
    if used - found.keys():
        ready = drawings.library()
        found |= {key: ready[key].outlines for key in used if key in ready}
    if any(key.startswith(OWN_STENCIL) for key in used - found.keys()):
        found |= {f"{OWN_STENCIL}{drawing.id}": _outlines(drawing) for drawing in plans.drawings(connection, "stencil")}
    return found


def _outlines(drawing: plans.Drawing) -> Polygons:
    try:
        return tuple(tuple((float(x), float(y)) for x, y in part) for part in drawing.document["outlines"])
    except (TypeError, KeyError, ValueError):
        return ()


def skin_of(connection: sqlite3.Connection, plan: Plan, cells: tuple[int, int] = FULL) -> Skin:
    """A plan's skin with its stencils."""
    blank, tilt_deg = plan.blank, foil.now(connection).tilt_deg
    if blank.made_of == PLATE:
        tilt_deg *= ON_PLATE_DEG / BY_HAND_DEG
    return Skin(blank.surface(cells), blank.form.landmarks, stencils_of(connection, plan), tilt_deg)


def by_this_hand(connection: sqlite3.Connection, plan: Plan) -> Plan:
    """Coats as they are really sprayed at this bench; clear is brushed or dipped as thick as its sheet says."""
    hand = mist.hand(connection)
    if hand.times == 1:
        return plan
    layers = tuple(
        layer if layer.what == "clear" else replace(layer, film_um=hand.film_um(layer.film_um)) for layer in plan.layers
    )
    return replace(plan, layers=layers)


def up_to(plan: Plan, steps: int | None) -> Plan:
    """The plan with its first layers alone; all of them without a number."""
    if steps is None or steps >= len(plan.layers):
        return plan
    return replace(
        plan,
        layers=tuple(layer if index < steps else replace(layer, on=False) for index, layer in enumerate(plan.layers)),
    )


def painted_bait(
    connection: sqlite3.Connection,
    plan: Plan,
    *,
    cells: tuple[int, int] = FULL,
    steps: int | None = None,
    instead: Instead = NOTHING,
) -> tuple[Picture, Skin]:
    """A plan's bait, after all of its layers or the first few."""
    plan = up_to(plan, steps)
    skin = skin_of(connection, plan, cells)
    made = [one.painted for one in laid(connection, plan.layers, instead)]
    return picture(by_this_hand(connection, plan), made, skin, kept), skin


def coated_bait(connection: sqlite3.Connection, plan: Plan) -> Coated:
    """What lies on a plan's bait, not what is seen of it."""
    own = by_this_hand(connection, plan)
    made = [one.painted for one in laid(connection, plan.layers)]
    return coated(own, made, skin_of(connection, plan), kept.film)


def lands(connection: sqlite3.Connection, plan: Plan, layer: Layer) -> str:
    """What is to be said of where a layer lands, "" when nothing is."""
    if not WHATS[layer.what].sprayed and layer.what != MASK:
        return ""
    skin = skin_of(connection, plan, ROUGH)
    if layer.what != MASK and not layer.strokes and share(layer, skin, plan.worn(layer.number)).max() < LEAST_SHARE:
        return say("None of it lands: masks cover the whole region, or the region faces away from the spray.")
    if MASKS[layer.mask.kind].pattern or layer.what == MASK:
        at, box = skin.surface.fine_places, layer.edges(skin.landmarks)
        inside = REGIONS[layer.region].share(at, box, skin.landmarks, 0.0) > 0.5
        open_ = open_at(layer, skin)[inside]
        if open_.min(initial=1.0) > 1 - LEAST_SHARE:
            return say("Its mask covers nothing of its region.")
        if layer.what == MASK and open_.max(initial=0.0) < LEAST_SHARE and layer.region == "all":
            return say("It covers the whole bait: nothing lands until it is taken off.")
    return ""


def sheen_of(plan: Plan) -> float:
    """Of its surface: what was cleared last has none."""
    seen = [layer for layer in plan.layers if layer.on and WHATS[layer.what].lies]
    return CLEARED if seen and seen[-1].what == "clear" else SATIN
