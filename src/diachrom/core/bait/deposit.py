"""Where paint lands: film at a place = coats x film x what it faces x reach x region x mask.

Paint travels in straight lines: a skin turned away from the source gets less, and none at its back. That alone makes
the fades of a back sprayed straight down, and leaves one side of each scale bare when raked.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from diachrom.core.bait import strokes
from diachrom.core.bait.mask import FREE, Polygons
from diachrom.core.bait.masks import MASKS, opening, placed
from diachrom.core.bait.plan import MASK, ORIGINS, UNMASK, USUAL_MM, WHATS, Layer, worn
from diachrom.core.bait.regions import REGIONS, soft
from diachrom.core.bait.shapes import Landmarks
from diachrom.core.bait.surface import MIRRORED, Surface
from diachrom.core.film.grounds import BY_HAND_DEG
from diachrom.core.light.bands import Floats

REACH_MM = 120.0  # farther away part of a coat dries before it lands
GRAIN_MM = 150.0
THREAD_HEIGHT = 0.9  # of its width: what a raking spray leaves bare behind it
BLUR = 0.4  # of the height of a lifted stencil
HEIGHTS_CATCH = 0.8  # of a dry brush
MOST_COATS_MET = 2.0  # where both sides meet
FOG, FOG_BAR, MOST_FOG = 0.015, 1.4, 0.04  # of a coat, at the usual distance and this pressure; at most
FOG_FALLS = 0.35  # of the distance, over which it falls to a third
NOTHING_UM = 0.02  # less than this is no film


@dataclass(frozen=True, eq=False)
class Skin:
    """What layers are laid on: a surface, its landmarks, and the stencils that there are."""

    surface: Surface
    landmarks: Landmarks
    stencils: Mapping[str, Polygons]
    foil_deg: float = BY_HAND_DEG  # of the facets of foil that is laid on it


def source(layer: Layer) -> Floats | None:
    """(3,) unit vector towards the left hand's source, None where it comes from all around."""
    towards = ORIGINS[layer.origin].towards
    if towards is None and not layer.rake_deg:
        return None
    way = np.array(towards if towards is not None else (0.0, 1.0, 0.0))
    way = way / np.linalg.norm(way)
    lean = np.radians(layer.rake_deg)
    across = way - way[0] * np.array([1.0, 0, 0])
    leaned = np.array([np.sin(lean), 0, 0]) + np.cos(lean) * (across if np.linalg.norm(across) > 1e-6 else way)
    return leaned / np.linalg.norm(leaned) if layer.rake_deg else way


def faced(surface: Surface, layer: Layer) -> Floats:
    """(u, v) share of a coat that lands, by how the skin faces the source; from both sides the sum."""
    way = source(layer)
    if way is None:
        return np.ones(surface.cells)
    left, right = (np.maximum(surface.normals @ one, 0) for one in (way, way * MIRRORED))
    origin = ORIGINS[layer.origin]
    if origin.towards is None:
        return np.maximum(left, right)  # the bait is turned: each place is met once
    if not origin.both:
        return left
    # From either side in turn: what faces both gets both, up to 1.41 coats on the spine between two shoulders.
    return {"left": left, "right": right}.get(layer.sides, left + right)


def open_at(holder: Layer, skin: Skin, rake_deg: float = 0.0) -> Floats:
    """(fine u, fine v) how open a layer's mask is, its lift left out; beyond a mask that was put on it is open.

    Parameters
    ----------
    holder : the layer whose mask it is, or the mask that was put on.
    rake_deg : how what is sprayed leans: the lee of each thread of a net stays bare.
    """
    at, way = skin.surface.fine_places, holder.mask
    edges = holder.edges(skin.landmarks)
    if way.kind == "net" and rake_deg:
        lee = THREAD_HEIGHT * way.gap_mm * abs(np.tan(np.radians(rake_deg)))
        way = replace(way, gap_mm=float(min(way.gap_mm + lee, 0.6 * way.size_mm)))
    box = placed(way, edges, skin.landmarks, skin.surface.length_mm)
    found = opening(way, at, box, skin.stencils.get(way.stencil, ()))
    # Both sides alike, unless the layer says otherwise: then the right one is as the same hand would do it again.
    half = found.shape[1] // 2
    if holder.mirrored:
        found = np.concatenate([found[:, :half], found[:, :half][:, ::-1]], axis=1)
    else:
        found = np.concatenate([found[:, :half], found[::-1, :half][:, ::-1]], axis=1)
    side = 1.0 if holder.sides == "both" else at.left if holder.sides == "left" else 1 - at.left
    if holder.what != MASK:
        return found if holder.strokes else found * side  # those lie where they are drawn
    lies = REGIONS[holder.region].share(at, edges, skin.landmarks, holder.softness_mm) * side
    return 1 - lies * (1 - (found if MASKS[way.kind].pattern else 0.0))


def blurred(found: Floats, lift_mm: float, surface: Surface) -> Floats:
    """(u, v) shares behind a mask that is lifted: by a Gaussian, along the bait and around it."""
    blur_mm = BLUR * lift_mm
    per_u = surface.length_mm / surface.cells[0]
    per_v = float(np.median(surface.girths_mm)) / surface.cells[1]
    for axis, pitch in ((0, per_u), (1, per_v)):
        count = found.shape[axis]
        wave = np.fft.rfftfreq(2 * count if axis == 0 else count)
        weight = np.exp(-2 * (np.pi * wave * blur_mm / pitch) ** 2)
        if axis == 0:
            # Mirrored at nose and tail, so that nothing runs from one to the other.
            whole = np.concatenate([found, found[::-1]])
            found = np.fft.irfft(np.fft.rfft(whole, axis=0) * weight[:, None], 2 * count, axis=0)[:count]
        else:
            found = np.fft.irfft(np.fft.rfft(found, axis=1) * weight, count, axis=1)
    return found


def share(layer: Layer, skin: Skin, over: Sequence[Layer] = (), *, fog: bool = False) -> Floats:
    """(u, v) share of a full coat that lands at each cell of the skin: up to 1, where two sides meet more.

    Parameters
    ----------
    over : masks that lie on the bait meanwhile.
    fog : with what flies past its free edges, or without.
    """
    surface, at = skin.surface, skin.surface.fine_places
    way, box = layer.mask, layer.edges(skin.landmarks)
    region = REGIONS[layer.region].share(at, box, skin.landmarks, layer.softness_mm)
    if fog and has_fog(layer):
        outside = np.maximum(-REGIONS[layer.region].depth_mm(at, box, skin.landmarks), 0)
        region = np.maximum(region, fog_share(layer) * np.exp(-outside / (FOG_FALLS * layer.distance_mm)))
    lifted = []
    for holder in (*over, layer):
        open_ = open_at(holder, skin, layer.rake_deg)
        if holder.mask.lift_mm and holder.mask.kind != FREE.kind:
            lifted.append(blurred(at.coarse(open_), holder.mask.lift_mm, surface))
        else:
            region = region * open_
    found = at.coarse(region)
    for open_ in lifted:
        found = found * open_
    if layer.strokes:
        # The airbrush is held towards the skin that it is drawn over.
        both = layer.sides == "both" and layer.mirrored
        return np.asarray(found * strokes.share(layer.strokes, surface, layer.disc_mm, mirrored=both))
    found = found * faced(surface, layer) * reach(layer)
    if layer.distance_mm > GRAIN_MM:
        # Dust from afar: droplets that land singly.
        rough = min(0.6, (layer.distance_mm - GRAIN_MM) / 400)
        chance = np.random.default_rng([layer.mask.seed, layer.number, 9])
        half = surface.cells[1] // 2
        grain = np.exp(chance.normal(0, rough, (surface.cells[0], half)))
        grain = grain / grain.mean()
        found = found * np.concatenate([grain, grain[:, ::-1]], axis=1)
    if way.kind == "dry":
        found = found * (1 - HEIGHTS_CATCH * surface.recess)
    if way.kind == "wash" or layer.what == "wash":
        found = found * (1 - way.amount * (1 - surface.recess))
    found = np.clip(found, 0, MOST_COATS_MET)
    if layer.sides == "both" and layer.mirrored:
        half = surface.cells[1] // 2  # to the cell, whatever rounding did
        found[:, half:] = found[:, :half][:, ::-1]
    return found


def film_um(layer: Layer, skin: Skin, over: Sequence[Layer] = (), *, fog: bool = False) -> Floats:
    """(u, v) wet um of all coats together, of what comes past masks that lie on the bait."""
    if layer.what in (MASK, UNMASK):
        return np.zeros(skin.surface.cells)
    found = layer.coats * layer.film_um * share(layer, skin, over, fog=fog)
    return np.where(found < NOTHING_UM, 0.0, found)


def has_fog(layer: Layer) -> bool:
    """Whether paint flies past its edges: it is sprayed, and neither masked nor taped."""
    return WHATS[layer.what].paint and layer.what != "wash" and layer.mask.kind == FREE.kind and not layer.strokes


def fog_share(layer: Layer) -> float:
    """Of a coat, what lies just outside a free edge: more from afar, and with more pressure."""
    return float(min(FOG * (layer.distance_mm / USUAL_MM) * (layer.pressure_bar / FOG_BAR), MOST_FOG))


def reach(layer: Layer) -> float:
    """From farther away less of a coat arrives wet."""
    return float(min(1.0, (REACH_MM / layer.distance_mm) ** 2))


def taken(layer: Layer, skin: Skin, over: Sequence[Layer] = ()) -> Floats:
    """(u, v) the share that a wipe, a rub or a swab takes away, where no mask lies on it."""
    near = min(layer.distance_mm, REACH_MM)
    found = share(replace(layer, origin="around", distance_mm=near, rake_deg=0), skin, over)
    if layer.what == "wipe":
        found = found * (1 - skin.surface.recess)
    return np.minimum(found, 1.0)


Remember = Callable[[object, Callable[[], Floats]], Floats]


def _anew(key: object, make: Callable[[], Floats]) -> Floats:
    return make()


def films(layers: tuple[Layer, ...], skin: Skin, remember: Remember = _anew, *, fog: bool = False) -> list[Floats]:
    """(u, v) of each layer in um, after what takes away has taken it; a layer that is off, or takes, leaves none.
    `remember` may know what was laid before, by what it depends on."""
    found: list[Floats] = []
    for index, (layer, over) in enumerate(zip(layers, worn(layers), strict=True)):
        nothing = np.zeros(skin.surface.cells)
        kind = WHATS[layer.what]
        if not layer.on or not (kind.lies or kind.takes):
            found.append(nothing)
        elif kind.takes:
            left = 1 - taken(layer, skin, over)
            # The lowest layer that what stands at a place takes away: a wipe the last one, a rub all above the foil,
            # a swab all above the last save point.
            if layers[index].what == "wipe":
                lain = [below for below in range(index) if layers[below].on and WHATS[layers[below].what].lies]
                first_taken = lain[-1] if lain else index
            else:
                stops = ("foil",) if layers[index].what == "rub" else ("varnish", "clear", "foil")
                held = [below for below in range(index) if layers[below].on and layers[below].what in stops]
                first_taken = held[-1] + 1 if held else 0
            for below in range(first_taken, index):
                found[below] = found[below] * left
            found.append(nothing)
        else:
            # All that its film depends on.
            surface = skin.surface
            own = replace(layer, name="", source="", what="wash" if layer.what == "wash" else "recipe")
            stencils = tuple(skin.stencils.get(one.mask.stencil, ()) for one in (*over, layer))
            depends_on = (
                fog,
                own,
                surface.outline,
                surface.length_mm,
                surface.relief,
                surface.cells,
                skin.landmarks,
                stencils,
                tuple(replace(one, name="", number=0) for one in over),
            )
            found.append(remember(depends_on, partial(film_um, layer, skin, over, fog=fog)))
    return found


def foiled(blank_foil: str, skin: Skin, soft_mm: float = 0.0) -> Floats:
    """(u, v) where the blank's own foil lies."""
    region = REGIONS.get(blank_foil, REGIONS["all"])
    at = skin.surface.places
    box = region.box(skin.landmarks)
    return soft(region.depth_mm(at, box, skin.landmarks), soft_mm)
