"""What a mosaic of stacks mirrors: foil and flakes under films, seen at several angles.

As in `mirroring`: once in closed form; then as often as the surface sends it back, in four streams and two waves
around the circle. Left out is what goes from one flake to the next without the surface in between. Over foil without
flakes all of it is a function of the depth that lies above, and is looked up.
Against the exact stack: dE 0.4 at the 95th percentile; tested.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any, cast

import numpy as np

from diachrom.core.film import mirroring, transport
from diachrom.core.film.cell_stacks import (
    BLOCK,
    FOUR,
    SOME,
    SOME_BANDS,
    by_level,
    entering_straight,
    finer,
    gathered,
    level,
    nodes,
    over,
    projected,
    seen_straight,
    solve,
)
from diachrom.core.film.dots import left, left_bare
from diachrom.core.film.facets import GRAZING_DEG, LIGHT_DEG, passing, view
from diachrom.core.film.fast import Singles
from diachrom.core.film.flakes import Flake
from diachrom.core.film.grounds import Ground
from diachrom.core.film.layer import Laid
from diachrom.core.film.paint import Mix
from diachrom.core.film.streams import INDEX, STREAMS, streams
from diachrom.core.light.bands import BANDS, Floats

COUNT = mirroring.STREAMS
WAVES = 2
MOST_DEPTH = 60.0
WAYS = (2.1, 2.6, 4.5, 8.0, 16.0, 40.0)  # through films of a depth of 1, there and back, once and more often
FITTED, FITTED_TO = 60, 12.0  # depths
FEW, MOST_RATIO, FEWEST = 1e-9, 2.0, 1e-3


@dataclass(frozen=True, eq=False)
class MirrorTables:
    """A mix as light meets it that keeps its direction."""

    dimming: Singles  # (band,) 1/um
    covers: tuple[tuple[Flake, float], ...]  # area in 1 um
    most_um: float
    rows: Singles | None  # (level, wave, pair of R then of T, band), of a mix with flakes
    droplet_um: float = 0.0  # thickness of a disc of its mist; 0 is an even film

    def left(self, path: Singles, film_um: Singles) -> Singles:
        """What of light on paths (band, cell) through films (cell,) is left, in the mean."""
        return np.asarray(left(cast(Floats, path), cast(Floats, film_um), self.droplet_um), dtype=np.float32)


def mirror_tables(mix: Mix, most_um: float, droplet_um: float = 0.0) -> MirrorTables:
    """Solve a mix."""
    dimming = transport.dimming(mix, COUNT)
    covers = tuple((flake, float(cover)) for flake, cover in mix.flakes)
    rows = None
    if covers:
        film = Laid(nodes(most_um), dimming, mix.flakes).directed(COUNT, WAVES)  # (node, wave, band, stream, stream)
        both = [FOUR.of(one[:, :, SOME]) for one in (film.reflection, film.transmission)]
        rows = by_level(np.moveaxis(np.concatenate(both), (2, 1), (0, -1)))
    return MirrorTables(dimming[SOME].astype(np.float32), covers, most_um, rows, droplet_um)


@dataclass(frozen=True, eq=False)
class Seen:
    """What is mirrored: radiance factors (angle, band, cell); and of light that falls straight and at 45 degrees, the
    shares that leave without having met a particle (band, cell)."""

    glance: Singles
    straight: Singles
    slanted: Singles

    @property
    def ratio(self) -> Singles:
        """(band, cell) of the latter to the former."""
        return np.asarray(np.minimum(self.slanted / np.maximum(self.straight, np.float32(FEW)), np.float32(MOST_RATIO)))


Films = Sequence[tuple[MirrorTables, Singles]]  # bottom first, with their thicknesses (cell,)


def seen(films: Films, ground: Ground, angles_deg: tuple[float, ...], count: int) -> Seen:
    """So many stacks on one ground, as flakes and ground mirror them.

    Parameters
    ----------
    films : (table, (cell,) thickness in µm) each, bottom first.
    ground : what they lie on.
    angles_deg : aspecular angles, °.
    count : cells.

    Returns
    -------
    Seen, radiance factors (angle, some band, cell).
    """
    found = np.empty((len(angles_deg) + 2, SOME_BANDS, count), np.float32)
    flaked = np.zeros(count, dtype=bool)
    for table, film_um in films:
        if table.rows is not None:
            flaked |= film_um > 0
    for cells, turn in ((np.flatnonzero(~flaked), _over_ground), (np.flatnonzero(flaked), _with_flakes)):
        for start in range(0, len(cells), BLOCK):
            some = cells[start : start + BLOCK]
            own = [(table, film_um[some]) for table, film_um in films]
            found[:, :, some] = turn(own, ground, angles_deg, len(some))
    return Seen(found[:-2], found[-2], found[-1])


@lru_cache(maxsize=32)
def bare(ground: Ground, angles_deg: tuple[float, ...]) -> Singles:
    """(angle and then straight and slanted, band) of a ground on which nothing lies."""
    if not ground.glossy:
        return np.zeros((len(angles_deg) + 2, SOME_BANDS), dtype=np.float32)
    return _over_depths(ground, angles_deg, np.zeros(1))[0].astype(np.float32)


def _over_ground(films: Films, ground: Ground, angles_deg: tuple[float, ...], count: int) -> Singles:
    """(angle and then straight and slanted, band, cell) where no flakes lie."""
    if not ground.glossy:
        return np.zeros((len(angles_deg) + 2, SOME_BANDS, count), np.float32)
    if any(one.droplet_um for one, _ in films):
        return _through_dots(films, ground, angles_deg, count)
    table, band = _by_depth(ground, angles_deg), np.arange(SOME_BANDS)[:, None]
    depth = np.zeros((SOME_BANDS, count), dtype=np.float32)
    for one, film_um in films:
        depth += np.outer(one.dimming, film_um)
    return np.asarray(table[:, band, level(depth, MOST_DEPTH)])


def _through_dots(films: Films, ground: Ground, angles_deg: tuple[float, ...], count: int) -> Singles:
    """The same of all numbers of discs: of a depth at which e^-way x depth is left, dots leave as much in the mean."""
    falls = _falls(ground, angles_deg)  # (way, angle and then straight and slanted, band)
    found = np.zeros((*falls.shape[1:], count), dtype=np.float32)
    for way, shares in zip(WAYS, falls, strict=True):
        passed = np.ones((SOME_BANDS, count), dtype=np.float32)
        for one, film_um in films:
            passed *= one.left(np.float32(way) * np.outer(one.dimming, film_um), film_um)
        found += shares[..., None] * passed
    return np.maximum(found, 0)


@lru_cache(maxsize=32)
def _falls(ground: Ground, angles_deg: tuple[float, ...]) -> Singles:
    """(way, angle and then straight and slanted, band): `_over_depths` as a sum of e^-way x depth, fitted."""
    depths = np.linspace(0, 1, FITTED) ** 3 * FITTED_TO
    values = _over_depths(ground, angles_deg, depths)
    shares = np.linalg.lstsq(np.exp(-np.outer(depths, WAYS)), values.reshape(len(depths), -1), rcond=None)[0]
    return shares.reshape(len(WAYS), *values.shape[1:]).astype(np.float32)


@lru_cache(maxsize=32)
def _by_depth(ground: Ground, angles_deg: tuple[float, ...]) -> Singles:
    """(angle and then straight and slanted, band, level of depth)."""
    return finer(np.moveaxis(_over_depths(ground, angles_deg, nodes(MOST_DEPTH)), 0, -1))


def _over_depths(ground: Ground, angles_deg: tuple[float, ...], depths: Floats) -> Floats:
    """(depth, angle and then straight and slanted, band) what is mirrored through films of such depths (depth,), and
    what leaves of light that falls straight, in the directions that a mosaic follows, and at 45 degrees."""
    above = Laid(depths, np.ones(BANDS), ())
    glance = mirroring.glance((above,), ground, angles_deg)[..., SOME]
    straight, slanted = (one[:, SOME] for one in mirroring.directed((above,), ground, COUNT))
    through = projected(np.exp(-above.paths(STREAMS))[:, SOME, :, None] * np.eye(STREAMS))
    rows = FOUR.of(through @ projected(ground.matrices(STREAMS)[0][SOME]) @ through)  # (pair, depth, band)
    own = seen_straight(np.moveaxis(rows, 0, 1).astype(np.float32)).T / entering_straight()
    ratio = slanted / np.maximum(straight, FEW)
    return np.concatenate([glance, own[:, None], (own * ratio)[:, None]], axis=1)


def _with_flakes(films: Films, ground: Ground, angles_deg: tuple[float, ...], count: int) -> Singles:
    """The same where they do. What no disc covers is seen by itself; the films are what lies on the rest."""
    none = np.ones(count, dtype=np.float32)
    for table, film_um in films:
        none *= left_bare(film_um.astype(np.float64), table.droplet_um).astype(np.float32)
    some: Singles = np.maximum(1 - none, np.float32(FEWEST))
    own: Films = [(table, film_um / some) for table, film_um in films]
    found = _flaked(_Stack(own, ground, none), angles_deg)
    return np.asarray(none * bare(ground, angles_deg)[..., None] + some * found)


def _flaked(stack: "_Stack", angles_deg: tuple[float, ...]) -> Singles:
    grid = streams(COUNT)
    lit = stack.towards(LIGHT_DEG)
    up = stack.rising(lit)  # (wave, stream, band, cell)
    leaves = (grid.q * (1 - grid.inner)).astype(np.float32)
    slanted = np.tensordot(leaves, up[0], 1)
    straight = np.tensordot(leaves, stack.rising(stack.straight[None])[0], 1) / np.float32(grid.q[-1])
    down = grid.inner.astype(np.float32)[:, None, None] * up
    rows = []
    sent: dict[float, Singles] = {}  # to either side alike, but for the waves' signs
    for angle in angles_deg:
        out_deg = float(np.clip(LIGHT_DEG - angle, -GRAZING_DEG, GRAZING_DEG))
        waves = np.where(np.arange(WAVES) > 0, 2.0, 1.0) * (1.0 if out_deg >= 0 else (-1.0) ** np.arange(WAVES))
        if abs(out_deg) not in sent:
            sent[abs(out_deg)] = (stack.towards(abs(out_deg)) * down).sum(axis=1)  # (wave, band, cell)
        share = np.float32(passing(LIGHT_DEG) * passing(out_deg) / INDEX**2)
        rows.append(stack.once(angle) + share * np.tensordot(waves.astype(np.float32), sent[abs(out_deg)], 1))
    return np.stack([*rows, straight, slanted])


def _shaded(path: Singles, passed: Singles | None = None) -> Singles:
    """`mirroring.shaded` in single figures."""
    known = None if passed is None else cast(Floats, passed)
    return np.asarray(mirroring.shaded(cast(Floats, path), known), dtype=np.float32)


@dataclass(frozen=True, eq=False)
class _Stack:
    """Some stacks on one ground, in single figures."""

    films: Films
    ground: Ground
    none: Singles  # (cell,) the share of all on which nothing lies, which is left aside

    def _left(self, table: MirrorTables, path: Singles, film_um: Singles) -> Singles:
        """What of light on paths (band, cell) through films (cell,) is left in the mean, where anything lies."""
        if not table.droplet_um:
            return np.asarray(np.exp(-path))
        some = np.maximum(1 - self.none, np.float32(FEWEST))
        return np.maximum((table.left(path * some, film_um * some) - self.none) / some, 0)

    @cached_property
    def _depths(self) -> list[Singles]:
        """(band, cell) of each film, straight down, without flakes."""
        return [np.outer(table.dimming, film_um) for table, film_um in self.films]

    def _path(self, at: int, lost_to: Sequence[float]) -> Singles:
        """(band, cell) on ways at these cosines."""
        (table, film_um), found = self.films[at], self._depths[at] * np.float32(sum(1 / one for one in lost_to))
        for flake, cover in table.covers:
            lost = np.sum([flake.lost(one)[SOME] for one in lost_to], axis=0).astype(np.float32)
            found = found + np.outer(lost, np.float32(cover) * film_um)
        return found

    def once(self, angle_deg: float) -> Singles:
        """(band, cell) mirrored once."""
        way = view(angle_deg)
        through: Any = np.float32(1)
        total: Any = np.float32(0)
        for index in reversed(range(len(self.films))):
            table, film_um = self.films[index]
            path = self._path(index, (way.cos_in, way.cos_out))
            passed = self._left(table, path, film_um)
            part = _shaded(path, passed) if table.covers else path
            for flake, cover in table.covers:
                own = np.outer(flake.glance(angle_deg)[SOME].astype(np.float32), np.float32(cover) * film_um)
                total = total + through * own * part
            through = through * passed
        below = self.ground.glance(angle_deg)[SOME].astype(np.float32) if self.ground.glossy else np.zeros(SOME_BANDS)
        return np.asarray(total + through * below[:, None], dtype=np.float32)

    @cached_property
    def _ways_up(self) -> list[tuple[Singles, Singles, Singles]]:
        """Of each film, (stream, band, cell): its depth along each stream, what that lets through, and what all films
        above it do."""
        grid = streams(COUNT)
        above: Any = np.float32(1)
        found = []
        for index in reversed(range(len(self.films))):
            table, film_um = self.films[index]
            own = np.stack([self._path(index, (float(mu),)) for mu in grid.mu])
            passed = self._left(table, own, film_um)
            found.append((own, passed, above))
            above = above * passed
        return [*found[::-1], (above, above, above)]

    def towards(self, out_deg: float) -> Singles:
        """(wave, stream, band, cell) amplitudes of what is made of a unit of light from this angle in air."""
        cos_in = view(LIGHT_DEG - out_deg).cos_out
        found = np.zeros((WAVES, COUNT, *self._depths[0].shape), dtype=np.float32)
        falling: Any = np.float32(1)
        for index in reversed(range(len(self.films))):
            table, film_um = self.films[index]
            down = self._path(index, (cos_in,))
            through = self._left(table, down, film_um)
            if table.covers:
                own, passed, above = self._ways_up[index]
                both = above * falling * _shaded(own + down, passed * through)
                for flake, cover in table.covers:
                    made = np.moveaxis(flake.towards(COUNT, out_deg)[:WAVES, SOME], 1, 2).astype(np.float32)
                    found += made[..., None] * (both * (np.float32(cover) * film_um))
            falling = falling * through
        if self.ground.glossy:
            made = np.moveaxis(self.ground.towards(COUNT, out_deg)[:WAVES, SOME], 1, 2).astype(np.float32)
            found += made[..., None] * (self._ways_up[-1][0] * falling)
        return found

    @cached_property
    def whole(self) -> Singles:
        """(wave, pair, band, cell) from flake to flake and to the ground as often as it happens."""
        count = self._depths[0].shape[1]
        own = np.moveaxis(FOUR.of(self.ground.matrices(COUNT)[:WAVES, SOME]), 1, 0)
        below = np.repeat(own.astype(np.float32)[..., None], count, axis=-1)
        mu = streams(COUNT).mu.astype(np.float32)
        through: list[Any] = [np.float32(1)] * COUNT  # each stream, by what lies on what was reckoned
        dark = not self.ground.glossy

        def dimmed() -> Singles:
            shape = self._depths[0].shape
            return below * np.stack([np.broadcast_to(through[i] * through[j], shape) for i, j in FOUR.pairs])

        for (table, film_um), depth in zip(self.films, self._depths, strict=True):
            if table.rows is None:
                through = [
                    one * self._left(table, depth / each, film_um) for one, each in zip(through, mu, strict=True)
                ]
                continue
            below = below if dark else dimmed()
            rows = gathered(table.rows, level(film_um, table.most_um))
            if dark:  # nothing below it mirrors
                below = rows[:, :10].copy()
            else:
                below = np.stack(
                    [over(FOUR, rows[index, :10], rows[index, 10:], below[index]) for index in range(WAVES)]
                )
            dark = False
            through = [np.float32(1)] * COUNT
        return dimmed()

    @cached_property
    def straight(self) -> Singles:
        """(stream, band, cell) what light straight down becomes."""
        return np.stack([self.whole[0, FOUR.at(i, 3)] for i in range(4)])

    def rising(self, first: Singles) -> Singles:
        """(wave, stream, band, cell) all that comes up under the surface, of what comes up at first."""
        inner = streams(COUNT).inner.astype(np.float32)
        found = []
        for index in range(len(first)):
            left = [[self.whole[index, FOUR.at(i, j)] * -inner[j] for j in range(4)] for i in range(4)]
            for i in range(4):
                left[i][i] += 1
            right = [[first[index, i].copy()] for i in range(4)]
            solve(left, right)
            found.append([row[0] for row in right])
        return np.array(found)
