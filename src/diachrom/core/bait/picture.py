"""What a bait looks like: every cell of its skin a stack of films, seen at several angles.

Stacks that lie under the layer that changed are kept. Where both sides are alike one is reckoned.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from hashlib import blake2b

import numpy as np

from diachrom.core.bait.coated import Painted, coated
from diachrom.core.bait.deposit import Skin
from diachrom.core.bait.grain import grained
from diachrom.core.bait.plan import Plan
from diachrom.core.bait.rising import Film, risen
from diachrom.core.bait.tabled import Kept, Step, Tabled
from diachrom.core.film import cell_light, cell_mirrors, cell_stacks, stack, transport
from diachrom.core.film.cell_dots import Followed
from diachrom.core.film.cell_light import Glowing, Lying, Shining
from diachrom.core.film.cell_stacks import Cells, level
from diachrom.core.film.fast import Singles
from diachrom.core.film.grounds import GROUNDS, Ground
from diachrom.core.film.streams import STREAMS, streams
from diachrom.core.light.bands import Bools, Floats
from diachrom.core.light.lights import light

ANGLES = (15.0, 25.0, 45.0, 75.0, 110.0)


@dataclass(frozen=True, eq=False)
class Picture:
    """A bait's skin as it is seen: radiance factors (angle, some band, u, v) at ANGLES, and what shines."""

    factors: Singles
    dyes: Sequence[Shining]
    powders: Sequence[Glowing]
    films_um: Floats  # (layer, u, v)
    grounds: Sequence[Ground]
    ground_at: Cells  # (u, v) which of them
    alike: bool  # both sides are
    bare: Floats  # (u, v) 1 where nothing lies on a glossy ground, which has no sheen of its own
    foil: Floats  # (u, v) 1 where foil lies
    grain: str = "along"  # which way it was laid

    @property
    def cells(self) -> tuple[int, int]:
        """Cells along and around."""
        return self.films_um.shape[1], self.films_um.shape[2]


@dataclass(frozen=True, eq=False)
class _Ready:
    """A layer, or a coat of it, in cells that are reckoned."""

    film: Film
    parts: list[tuple[Tabled, Singles | None]]  # with how much each cell is like it (cell,), summing to 1

    @property
    def film_um(self) -> Floats:
        """(cell,)"""
        return self.film.film_um

    def told(self, below: bytes) -> bytes:
        """The same for the same layer over the same layers."""
        painted = self.film.painted
        told = blake2b(below + painted.digest + np.float64(painted.droplet_um).tobytes(), digest_size=16)
        told.update(self.film_um.tobytes())
        if self.film.strength is not None:
            told.update(self.film.strength.tobytes())
        return told.digest()


def picture(plan: Plan, painted: Sequence[Painted], skin: Skin, kept: Kept) -> Picture:
    """Every cell of a plan's bait as light finds it.

    Parameters
    ----------
    plan : the plan.
    painted : what each layer is made of, in their order.
    skin : the surface that they lie on.
    kept : what was worked out before; it is used again and added to.

    Returns
    -------
    Picture, radiance factors (angle, u, v, some band) and what glows or fluoresces.
    """
    lies = coated(plan, painted, skin, kept.film)
    grounds, ground_at = lies.grounds, lies.ground_at
    films_um = grained(lies.films_um, plan, painted, skin)
    alike = _alike(films_um) and bool((ground_at == ground_at[:, ::-1]).all())
    count_u, count_v = skin.surface.cells
    half = count_v // 2 if alike else count_v
    cells = [one[:, :half].ravel() for one in films_um]
    coats = [layer.coats for layer in plan.layers]
    whole = stacks(risen(painted, cells, coats), grounds, ground_at[:, :half].ravel(), kept)

    def spread(values: Singles) -> Singles:
        shaped = values.reshape(*values.shape[:-1], count_u, half)
        return np.concatenate([shaped, shaped[..., ::-1]], axis=-1) if alike else shaped

    glossy = np.array([ground.glossy for ground in grounds])[ground_at]
    covered = films_um.sum(axis=0) > 0 if len(films_um) else np.zeros(skin.surface.cells, dtype=bool)
    return Picture(
        factors=spread(whole.factors),
        dyes=[replace(dye, made=spread(dye.made)) for dye in whole.dyes],
        powders=[replace(powder, made=spread(powder.made)) for powder in whole.powders],
        films_um=films_um,
        grounds=grounds,
        ground_at=ground_at,
        alike=alike,
        bare=(glossy & ~covered).astype(np.float64),
        foil=np.array([float(ground.mirror is not None) for ground in grounds])[ground_at],
        grain=plan.blank.foil_direction,
    )


def _alike(films_um: Floats) -> bool:
    return bool((films_um == films_um[..., ::-1]).all())


@dataclass(frozen=True, eq=False)
class Stacks:
    """What is seen of them, the sheen of the surface left out."""

    factors: Singles  # (angle, band, cell)
    dyes: list[Shining]
    powders: list[Glowing]


def stacks(films: Sequence[Film], grounds: list[Ground], ground_at: Cells, kept: Kept) -> Stacks:
    """Films in cells (cell,) on the grounds that these have, bottom first."""
    ready = [_Ready(one, _tabled(one, kept)) for one in films]
    rows = [cell_stacks.ground_rows(ground) for ground in grounds]
    key = blake2b(ground_at.tobytes() + repr([ground.key for ground in grounds]).encode(), digest_size=16).digest()
    glossy = np.array([ground.glossy for ground in grounds])[ground_at]
    flaked = np.zeros(len(ground_at), dtype=bool)
    whole, directed = (np.stack([row[at] for row in rows])[ground_at] for at in (0, 1))
    lying: list[Lying] = []
    shines = False
    followed = Followed.bare(whole) if any(one.film.painted.droplet_um for one in ready) else None
    for one in ready:
        mix = one.film.mix
        shines |= mix.shines
        first = one.parts[0][0]
        dotted = first.shone[level(one.film_um, first.films.most_um)] if mix.dyes and first.droplet_um else None
        lying.append(Lying(first.films, one.film_um, whole.copy() if shines else whole, dotted))
        if mix.flakes:
            flaked |= one.film_um > 0
        key = one.told(key)
        step = kept.step(key)
        if step is None:
            step = _step(one, whole, directed, glossy, flaked)
            kept.keep(key, step)
        if followed is not None and len(cells := np.flatnonzero((one.film_um > 0) & ~glossy)):
            followed.lay([(part.dots, part.even, weight) for part, weight in one.parts], one.film_um, cells)
        whole[step.cells] = step.whole
        directed[step.mirroring] = step.directed
    diffuse = cell_stacks.seen_straight(whole)
    if followed is not None:
        diffuse = np.where(glossy, diffuse, followed.seen(diffuse))
    factors = _seen(ready, diffuse, directed, grounds, ground_at=ground_at, flaked=flaked)
    dyes, powders = cell_light.shining(lying, whole, light("D65").power)
    return Stacks(factors, dyes, powders)


def _tabled(film: Film, kept: Kept) -> list[tuple[Tabled, Singles | None]]:
    most, droplet_um = float(film.film_um.max()), film.painted.droplet_um
    return [
        (kept.tabled(mix, most, digest, droplet_um), None if weight is None else weight.astype(np.float32))
        for mix, digest, weight in film.solved_at()
    ]


def _step(one: _Ready, whole: Singles, directed: Singles, glossy: Bools, flaked: Bools) -> Step:
    """What all light, and what light that met no particle, becomes with one layer more."""
    cells, film_um = np.flatnonzero(one.film_um > 0), one.film_um
    laid = np.empty((len(cells), *whole.shape[1:]), dtype=np.float32)
    for straight in (False, True):
        own = glossy[cells] == straight
        if own.any():
            tables = [(part.straight if straight else part.films.whole, weight) for part, weight in one.parts]
            laid[own] = cell_stacks.lay(tables, film_um, whole, cells[own])
    mirrored = np.flatnonzero((film_um > 0) & (glossy | flaked))
    base = one.parts[0][0].films.directed
    if one.film.mix.flakes:
        return Step(cells, laid, mirrored, cell_stacks.lay([(base, None)], film_um, directed, mirrored))
    return Step(cells, laid, mirrored, cell_stacks.dim(base, film_um, directed, mirrored))


def _seen(
    ready: list[_Ready], diffuse: Singles, directed: Singles, grounds: list[Ground], ground_at: Cells, flaked: Bools
) -> Singles:
    """(angle, band, cell) radiance factors, the surface's own sheen left out."""
    factors = np.repeat(diffuse[None], len(ANGLES), axis=0)
    films = [(one.parts[0][0].mirrors, one.film_um.astype(np.float32)) for one in ready]
    for which, ground in enumerate(grounds):
        cells = np.flatnonzero((ground_at == which) & (flaked | ground.glossy))
        if not len(cells):
            continue
        own = [(table, film_um[cells]) for table, film_um in films]
        mirrors = cell_mirrors.seen(own, ground if ground.glossy else GROUNDS["black"], ANGLES, len(cells))
        straight = cell_stacks.seen_straight(directed[cells]) / np.float32(
            transport.entering(STREAMS) * streams(STREAMS).q[-1]
        )
        slanted = straight * mirrors.slanted_to_straight
        left = np.maximum(diffuse[:, cells] - np.float32(stack.STRAIGHT_IN) * straight, 0)
        left = left * (1 - slanted) / np.maximum(1 - straight, 1e-6)
        factors[:, :, cells] = left[None] + mirrors.glance
    return factors
