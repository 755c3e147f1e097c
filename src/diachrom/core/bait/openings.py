"""How open each mask is: (n, m) shares at the places of a bait's skin, whatever light or paint comes through."""

import numpy as np

from diachrom.core.bait.mask import Mask, Polygons
from diachrom.core.bait.regions import Box
from diachrom.core.bait.surface import Places
from diachrom.core.light.bands import Bools, Floats

MOST_SPOTS, MOST_PLATES = 6000, 400


def _turned(mask: Mask, at: Places, box: Box) -> tuple[Floats, Floats]:
    """Places in mm from the middle of the region, turned by the slant: (along, up)."""
    length = float(at.along_mm.max())
    x = at.along_mm - (box.u0 + box.u1) / 2 * length
    y = at.up_mm - at.girth_mm * (0.25 - (box.v0 + box.v1) / 2)
    x, y = x - mask.along_mm, y + mask.down_mm
    turn = np.radians(mask.angle_deg)
    return x * np.cos(turn) + y * np.sin(turn), y * np.cos(turn) - x * np.sin(turn)


def _edge(depth: Floats, at: Places) -> Floats:
    """Inside or outside of a hard edge, at fine places."""
    return (depth > 0).astype(np.float64)


def net(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """A lattice of diamonds, longer along the bait the more it is stretched."""
    wide = mask.size_mm * (1 + mask.amount)
    high = mask.size_mm / (1 + 0.6 * mask.amount)
    a, b = (at.along_mm - mask.along_mm) / wide, (at.up_mm + mask.down_mm) / high
    lean = np.hypot(1 / wide, 1 / high)
    far = [np.abs(np.mod(one + 0.5, 1.0) - 0.5) / lean for one in (a + b, a - b)]
    return _edge(np.minimum(*far) - mask.gap_mm / 2, at)


def comb(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """Teeth cover; where some were broken out it is open from one that is left to the next."""
    x, _ = _turned(mask, at, box)
    pitch = mask.size_mm * max(1, mask.every)
    tooth = max(mask.size_mm - mask.gap_mm, 0.0)
    return _edge(np.abs(np.mod(x / pitch, 1.0) - 0.5) * pitch - tooth / 2, at)


def bars(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """Bars that taper towards the belly."""
    x, _ = _turned(mask, at, box)
    down = np.clip((at.folded - box.v0) / max(box.v1 - box.v0, 1e-6), 0, 1)
    wide = mask.gap_mm * (1 - mask.amount * down)
    return _edge(wide / 2 - np.abs(np.mod(x / mask.size_mm + 0.5, 1.0) - 0.5) * mask.size_mm, at)


def rays(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """At each step the edge's near side is dark, and runs out."""
    x, _ = _turned(mask, at, box)
    run = np.mod(x / mask.size_mm, 1.0)
    return np.clip(1 - run / max(mask.amount, 0.05), 0, 1)


def _scattered(at: Places, pitch_mm: float, seed: int) -> tuple[Floats, Floats, Floats, Floats]:
    """Points over one side, about so far from each other: (n,) u, folded v, a size and a chance from 0 to 1."""
    chance = np.random.default_rng([seed, 15])
    length, girth = float(at.along_mm.max()), float(at.girth_mm.max())
    count = int(np.clip(length * girth / 2 / pitch_mm**2, 1, MOST_SPOTS))
    # Rows that are shaken: evenly spread, yet without a lattice.
    rows = max(1, int(np.sqrt(count * girth / 2 / length)))
    columns = max(1, count // rows)
    i, j = (each.ravel() for each in np.meshgrid(np.arange(columns), np.arange(rows), indexing="ij"))
    shake = chance.uniform(-0.45, 0.45, (2, len(i)))
    u = (i + 0.5 * np.mod(j, 2) + 0.5 + shake[0]) / columns
    v = 0.5 * (j + 0.5 + shake[1]) / rows
    return np.mod(u, 1.0), v, chance.random(len(i)), chance.random(len(i))


def _discs(at: Places, discs: list[tuple[float, float, float]], line_mm: float | None = None) -> Floats:
    """Discs (u, folded v, radius in mm), or rings of them. A spot on the flank stays round there."""
    open_ = np.zeros(at.u.shape, dtype=bool)
    length, count = float(at.along_mm.max()), at.u.shape
    girth = at.girth_mm[:, 0]
    half = count[1] // 2
    for u, v, radius in discs:
        reach = radius + (line_mm or 0) / 2
        low, high = (int((u * length + side * reach) / length * count[0]) for side in (-1, 1))
        rows = slice(max(0, low), min(count[0], high + 2))
        if rows.start >= rows.stop:
            continue
        dx = (at.u[rows, :half] - u) * length
        dy = (at.folded[rows, :half] - v) * girth[rows, None]
        far = np.hypot(dx, dy)
        inside = far < radius if line_mm is None else np.abs(far - radius) < line_mm / 2
        open_[rows, :half] |= inside
    open_[:, half:] = open_[:, :half][:, ::-1]
    return open_.astype(np.float64)


def rings(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """Rings around the middle, no two alike."""
    u, v, size, _ = _scattered(at, mask.size_mm, mask.seed)
    radius = mask.size_mm * (0.22 + 0.16 * size)
    return _discs(at, list(zip(u, v, radius, strict=True)), mask.gap_mm)


def spots(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """Spots strewn at a distance from each other, thinning out towards the edge."""
    u, v, size, kept = _scattered(at, mask.gap_mm, mask.seed)
    # Towards the region's lower edge spots get smaller and fewer.
    down = np.clip((v - box.v0) / max(box.v1 - box.v0, 1e-6), 0, 1) * mask.amount
    radius = mask.size_mm / 2 * (0.55 + 0.45 * size) * (1 - 0.7 * down)
    return _discs(
        at, [one for one, there in zip(zip(u, v, radius, strict=True), kept > 0.8 * down, strict=True) if there]
    )


def _noise(at: Places, size_mm: float, seed: int, *, stretched: float = 1.0, octaves: int = 2) -> Floats:
    """Smooth noise 0 to 1, evenly distributed, alike on both sides."""
    chance = np.random.default_rng([seed, 7])
    total = np.zeros(at.u.shape)
    finest = 2 * float(at.along_mm.max()) / at.u.shape[0]  # what is smaller than a place is not seen
    for octave in range(octaves):
        pitch = max(size_mm / 2**octave, finest)
        x, y = at.along_mm / (pitch * stretched), (at.up_mm - at.up_mm.min()) / pitch
        grid = chance.random((int(x.max()) + 3, int(y.max()) + 3))
        i, j = x.astype(int), y.astype(int)
        fx, fy = (t * t * (3 - 2 * t) for t in (x - i, y - j))
        low = grid[i, j] * (1 - fx) + grid[i + 1, j] * fx
        high = grid[i, j + 1] * (1 - fx) + grid[i + 1, j + 1] * fx
        total += (low * (1 - fy) + high * fy) / 2**octave
    order = np.argsort(np.argsort(total, axis=None, kind="stable"), kind="stable")
    return (order.reshape(total.shape) / total.size).astype(np.float64)


def mottle(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """Patches without an edge of their own."""
    return _edge(_noise(at, mask.size_mm, mask.seed) - (1 - mask.amount), at)


def paper(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """Covers what lies below a torn edge along the region's lower edge."""
    wave = _noise(at, mask.size_mm, mask.seed, octaves=3)
    depth = (box.v1 - at.folded) * at.girth_mm - mask.gap_mm * (0.5 + wave)
    return _edge(depth, at)


def liquid(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """Patches of liquid mask: what they cover stays."""
    return _edge(_noise(at, mask.size_mm, mask.seed, octaves=1) - mask.amount, at)


def splatter(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """Drops whose sizes are log-normal: many small, few large; the large ones are thin."""
    pitch = mask.size_mm * 1.1 / max(np.sqrt(mask.amount), 0.1)
    u, v, _, _ = _scattered(at, pitch, mask.seed)
    rng = np.random.default_rng([mask.seed, 3])
    radius = np.minimum(mask.size_mm / 2 * np.exp(rng.normal(-0.35, 0.6, len(u))), 2.5 * mask.size_mm)
    return _discs(at, list(zip(u, v, radius, strict=True)))


def dots(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """A row along the middle of the region, each load three dots that get smaller."""
    length = float(at.along_mm.max())
    count = int((box.u1 - box.u0) * length / mask.gap_mm)
    middle = (box.v0 + box.v1) / 2
    rows = [
        (box.u0 + (at_ + 0.5) * mask.gap_mm / length, middle, mask.size_mm / 2 * (1.0, 0.72, 0.45)[at_ % 3])
        for at_ in range(min(count, MOST_SPOTS))
    ]
    return _discs(at, rows)


def line_by_hand(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """Along the middle of the region: it starts faint, swells, and wobbles as a hand does."""
    along = np.clip((at.u - box.u0) / max(box.u1 - box.u0, 1e-6), 0, 1)
    rng = np.random.default_rng([mask.seed, 5])
    waves = rng.uniform(0, 2 * np.pi, 4), np.array([1.0, 0.5, 0.35, 0.2])
    wobble = sum(w * np.sin((k + 1) * 2.3 * np.pi * along + p) for k, (p, w) in enumerate(zip(*waves, strict=True)))
    middle = at.girth_mm * (0.25 - (box.v0 + box.v1) / 2) + mask.amount * mask.size_mm * 0.6 * wobble
    wide = mask.size_mm * (0.25 + 0.75 * np.sin(np.pi * along) ** 0.7)
    inside = np.clip((wide / 2 - np.abs(at.up_mm - middle)) / (0.35 * mask.size_mm) + 0.5, 0, 1)
    faint = np.clip(along / 0.12, 0, 1) * np.clip((1 - along) / 0.2, 0, 1)
    return inside * faint


def dagger(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """Strokes that begin broad at the region's upper edge and end in a point."""
    x, _ = _turned(mask, at, box)
    down = np.clip((at.folded - box.v0) / max(box.v1 - box.v0, 1e-6), 0, 1)
    wide = mask.gap_mm * np.sqrt(np.clip(1 - down, 0, 1)) * np.clip(down / 0.08, 0, 1)
    return _edge(wide / 2 - np.abs(np.mod(x / mask.size_mm + 0.5, 1.0) - 0.5) * mask.size_mm, at)


def dab(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """The grain of a sponge."""
    return _edge(_noise(at, mask.size_mm, mask.seed, octaves=3) - (1 - mask.amount), at)


def dry(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """Streaks along the stroke; more of it catches on what stands out, see `deposit`."""
    return np.clip(3 * (_noise(at, mask.size_mm, mask.seed, stretched=9.0) - (1 - mask.amount)) + 0.5, 0, 1)


def stipple(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """Points set by a stiff brush."""
    pitch = mask.size_mm / max(np.sqrt(mask.amount), 0.1)
    u, v, size, _ = _scattered(at, pitch, mask.seed)
    return _discs(at, list(zip(u, v, mask.size_mm / 2 * (0.7 + 0.5 * size), strict=True)))


def cracks(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """Open where the nearest two plates' middles are about as far."""
    length, girth, half = float(at.along_mm.max()), float(at.girth_mm.max()), at.u.shape[1] // 2
    pitch = max(mask.size_mm, np.sqrt(length * girth / 2 / MOST_PLATES))
    u, v, _, _ = _scattered(at, pitch, mask.seed)
    x, y = at.along_mm[:, :half], at.folded[:, :half] * girth
    first, second = np.full(x.shape, 1e9), np.full(x.shape, 1e9)
    for cx, cy in zip(u * length, v * girth, strict=True):
        far = np.hypot(x - cx, y - cy)
        second = np.minimum(second, np.maximum(first, far))
        first = np.minimum(first, far)
    inside = (second - first < mask.gap_mm).astype(np.float64)
    return np.concatenate([inside, inside[:, ::-1]], axis=1)


def everywhere(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """Open at every place."""
    return np.ones(at.u.shape)


# Stencils without an end: cut large enough, they cover a whole side.
ALL_OVER = {"chevrons", "cracks", "dots-scattered", "leopard", "maze", "mottle-coarse", "mottle-fine", "net-diamond"}
ALL_OVER |= {"net-six", "scales-round"}


def stencil(mask: Mask, at: Places, box: Box, polygons: Polygons = ()) -> Floats:
    """A stencil laid with its middle on the region's middle, so wide. One that has no end goes on mirrored at its
    edges."""
    points = [point for polygon in polygons for point in polygon]
    if not points:
        return np.zeros(at.u.shape)
    xs, ys = zip(*points, strict=True)
    wide = max(max(xs) - min(xs), 1e-6)
    scale = mask.size_mm / wide
    x, y = _turned(mask, at, box)
    x, y = x / scale + (max(xs) + min(xs)) / 2, (max(ys) + min(ys)) / 2 - y / scale  # a drawing's y runs down
    if mask.stencil in ALL_OVER:
        x, y = _mirrored(x, min(xs), max(xs)), _mirrored(y, min(ys), max(ys))
    near = np.flatnonzero((x >= min(xs)) & (x <= max(xs)) & (y >= min(ys)) & (y <= max(ys)))
    found = np.zeros(x.size)
    found[near] = inside(polygons, x.ravel()[near], y.ravel()[near])
    return found.reshape(x.shape)


def _mirrored(values: Floats, low: float, high: float) -> Floats:
    span = max(high - low, 1e-6)
    return np.asarray(low + span * (1 - np.abs(1 - np.mod((values - low) / span, 2.0))))


def inside(polygons: Polygons, x: Floats, y: Floats) -> Bools:
    """Whether points (n,) lie in an odd number of the outlines."""
    odd = np.zeros(x.shape, dtype=bool)
    for outline in polygons:
        for (x0, y0), (x1, y1) in zip(outline, (*outline[1:], outline[0]), strict=True):
            if y0 == y1:
                continue
            crossing = (y >= min(y0, y1)) & (y < max(y0, y1))
            odd[crossing] ^= x[crossing] < x0 + (y[crossing] - y0) * (x1 - x0) / (y1 - y0)
    return odd


def outlined(mask: Mask, polygons: Polygons, box: Box, girths_mm: Floats, length_mm: float) -> list[list[list[float]]]:
    """Where a stencil's outlines lie on the skin, [u, folded v] each, that a page shows them while they are dragged.

    Parameters
    ----------
    box : about which it lies.
    girths_mm : (n,) of rows of cells from nose to tail.
    """
    points = [point for polygon in polygons for point in polygon]
    if not points:
        return []
    xs, ys = zip(*points, strict=True)
    scale, turn = mask.size_mm / max(max(xs) - min(xs), 1e-6), np.radians(mask.angle_deg)
    places = np.linspace(0, 1, len(girths_mm))
    found = []
    for polygon in polygons:
        x, y = np.array(polygon).T
        x, y = (x - (max(xs) + min(xs)) / 2) * scale, ((max(ys) + min(ys)) / 2 - y) * scale
        x, y = x * np.cos(turn) - y * np.sin(turn), x * np.sin(turn) + y * np.cos(turn)
        u = (box.u0 + box.u1) / 2 + (x + mask.along_mm) / length_mm
        v = (box.v0 + box.v1) / 2 - (y - mask.down_mm) / np.interp(u, places, girths_mm)
        found.append([[round(float(a), 4), round(float(b), 4)] for a, b in zip(u, v, strict=True)])
    return found
