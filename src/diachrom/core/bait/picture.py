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
from diachrom.core.bait.repainted import Before, plain, traits_of
from diachrom.core.bait.rising import Film, risen
from diachrom.core.bait.tabled import Kept, Step, Tabled
from diachrom.core.film import cell_clear_dots, cell_light, cell_mirrors, cell_stacks, stack
from diachrom.core.film.cell_clear_dots import InPlace, under_surface
from diachrom.core.film.cell_dots import Followed
from diachrom.core.film.cell_light import Glowing, Lying, Shining
from diachrom.core.film.cell_mirrors import Seen
from diachrom.core.film.cell_stacks import SOME_BANDS, Cells, level
from diachrom.core.film.dots import left_bare
from diachrom.core.film.fast import Singles
from diachrom.core.film.grounds import GROUNDS, Ground
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
    whole = _looked_at(risen(painted, cells, coats), grounds, ground_at[:, :half].ravel(), kept)

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


def _looked_at(films: Sequence[Film], grounds: list[Ground], ground_at: Cells, kept: Kept) -> "Stacks":
    """What is seen of all cells: those that are as they were are taken from the last look."""
    traits, alone = traits_of(films), plain(films)
    before = kept.seen_before(len(ground_at)) if alone else None
    changed = None if before is None else before.changed(films, grounds, ground_at, traits)
    if before is None or changed is None:
        whole = stacks(films, grounds, ground_at, kept, traits)
    else:
        at = np.flatnonzero(changed)
        factors = before.factors.copy()
        if len(at):
            most = [float(one.film_um.max(initial=0.0)) for one in films]
            some = [
                replace(one, film_um=one.film_um[at], most_um=thick)
                for one, thick in zip(films, most, strict=True)
                if one.film_um[at].any()
            ]
            factors[..., at] = stacks(some, grounds, ground_at[at], kept, traits).factors
        whole = Stacks(factors, [], [])
    if alone:
        kept.see(Before(films, tuple(one.key for one in grounds), ground_at, traits, whole.factors))
    return whole


def _alike(films_um: Floats) -> bool:
    return bool((films_um == films_um[..., ::-1]).all())


@dataclass(frozen=True, eq=False)
class Stacks:
    """What is seen of them, the sheen of the surface left out."""

    factors: Singles  # (angle, band, cell)
    dyes: list[Shining]
    powders: list[Glowing]


def stacks(
    films: Sequence[Film],
    grounds: list[Ground],
    ground_at: Cells,
    kept: Kept,
    traits: tuple[bool, bool] | None = None,
) -> Stacks:
    """Films in cells (cell,) on the grounds that these have, bottom first; `traits` says whether any film of the bait
    has flakes, and whether any is dots, where these are but some of its cells."""
    ready = [_Ready(one, _tabled(one, kept)) for one in films]
    flakes, dotted = traits or traits_of(films)
    told = repr([flakes, dotted, *(ground.key for ground in grounds)]).encode()
    key = blake2b(ground_at.tobytes() + told, digest_size=16).digest()
    mosaic = _Mosaic.bare(grounds, ground_at, flakes=flakes, dotted=dotted)
    followed = Followed.bare(mosaic.whole) if mosaic.dotted else None
    lying: list[Lying] = []
    shines = False
    for one in ready:
        mix, droplet_um = one.film.mix, one.film.painted.droplet_um
        shines |= mix.shines
        first = one.parts[0][0]
        shone = first.shone[level(one.film_um, first.films.most_um)] if mix.dyes and droplet_um else None
        lying.append(Lying(first.films, one.film_um, mosaic.stacks() if shines else mosaic.whole, shone))
        if mix.flakes:
            mosaic.flaked |= one.film_um > 0
        key = one.told(key)
        step = kept.step(key)
        if step is None:
            step = mosaic.step(one)
            kept.keep(key, step)
        if followed is not None and len(cells := np.flatnonzero((one.film_um > 0) & ~mosaic.glossy)):
            known = kept.followed(key)
            if known is None:
                curves = [(part.dots, part.even, weight) for part, weight in one.parts]
                followed.lay(curves, one.film_um, droplet_um, cells)
                kept.follow(key, followed.copy())
            else:
                followed = known.copy()
        mosaic.whole[step.cells] = step.whole
        mosaic.directed[step.mirroring] = step.directed
        if mosaic.dotted:
            mosaic.in_place.bare *= left_bare(one.film_um, droplet_um)
    factors = _seen(ready, mosaic, followed)
    dyes, powders = cell_light.shining(lying, mosaic.stacks(), light("D65").power) if shines else ([], [])
    return Stacks(factors, dyes, powders)


@dataclass(eq=False)
class _Mosaic:
    """What the stacks send back so far, and what of that met no particle; where they are dots over what keeps light in
    its place, what comes up under the surface of all that lies there (`cell_clear_dots`)."""

    grounds: list[Ground]
    whole: Singles  # (cell, pair, band)
    directed: Singles  # the same, of stacks with flakes
    glossy: Bools  # (cell,)
    flaked: Bools
    flakes: bool  # whether any layer has them
    dotted: bool
    in_place: InPlace

    @classmethod
    def bare(cls, grounds: list[Ground], ground_at: Cells, *, flakes: bool, dotted: bool) -> "_Mosaic":
        """Grounds on which nothing lies."""
        rows = [cell_stacks.ground_rows(ground) for ground in grounds]
        whole, directed = (np.stack([row[at] for row in rows])[ground_at] for at in (0, 1))
        glossy = np.array([ground.glossy for ground in grounds])[ground_at]
        return cls(
            grounds=grounds,
            whole=whole,
            directed=directed,
            glossy=glossy,
            flaked=np.zeros(len(ground_at), dtype=bool),
            flakes=flakes,
            dotted=dotted,
            in_place=InPlace(ground_at, np.ones(len(ground_at))),
        )

    def step(self, one: _Ready) -> Step:
        """What they become with one layer more."""
        cells = np.flatnonzero(one.film_um > 0)
        in_place = cells[self.glossy[cells] & self.dotted]
        others = cells[~(self.glossy[cells] & self.dotted)]
        parts = [(part.films.whole, weight) for part, weight in one.parts]
        whole = cell_stacks.lay(parts, one.film_um, self.whole, others)
        mirroring = others[(self.glossy | self.flaked)[others]] if self.flakes else cells[:0]
        base = one.parts[0][0].films.directed
        if one.film.mix.flakes:
            directed = cell_stacks.lay([(base, None)], one.film_um, self.directed, mirroring)
        else:
            directed = cell_stacks.dim(base, one.film_um, self.directed, mirroring)
        if not len(in_place):
            return Step(others, whole, mirroring, directed)
        whole = np.concatenate([whole, self._lay_in_place(one, 0, self.whole, in_place)])
        if self.flakes:
            directed = np.concatenate([directed, self._lay_in_place(one, 1, self.directed, in_place)])
            mirroring = np.concatenate([mirroring, in_place])
        return Step(np.concatenate([others, in_place]), whole, mirroring, directed)

    def _lay_in_place(self, one: _Ready, which: int, mean: Singles, cells: Cells) -> Singles:
        """A layer over what keeps light in its place: of all light, or (1) of what met no particle."""
        laid = []
        for part, weight in one.parts[:1] if which else one.parts:
            on = [part.on(ground, which) if ground.glossy else None for ground in self.grounds]
            laid.append((part.clear(which).table, on, None if which else weight))
        return self.in_place.lay(laid, one.film_um, one.film.painted.droplet_um, mean, cells)

    def stacks(self) -> Singles:
        """(cell, pair, band) what the stacks send back."""
        found = self.whole.copy()
        if self.dotted and self.glossy.any():
            cells = np.flatnonzero(self.glossy)
            bare = self.in_place.bare[cells].astype(np.float32)[:, None, None]
            grounds = np.stack([under_surface(cell_stacks.ground_rows(ground)[0]) for ground in self.grounds])
            mean = (1 - bare) * self.whole[cells] + bare * grounds[self.in_place.ground_at[cells]]
            found[cells] = np.moveaxis(under_surface(np.moveaxis(mean, 0, -1), -1.0), -1, 0)
        return found


def _tabled(film: Film, kept: Kept) -> list[tuple[Tabled, Singles | None]]:
    most, droplet_um = max(float(film.film_um.max()), film.most_um), film.painted.droplet_um
    return [
        (kept.tabled(mix, most, digest, droplet_um), None if weight is None else weight.astype(np.float32))
        for mix, digest, weight in film.solved_at()
    ]


def _seen(ready: list[_Ready], mosaic: _Mosaic, followed: Followed | None) -> Singles:
    """(angle, band, cell) radiance factors, the surface's own sheen left out."""
    keeps = mosaic.glossy if mosaic.dotted else np.zeros_like(mosaic.glossy)
    left = np.zeros((SOME_BANDS, len(keeps)), dtype=np.float32)
    left[:, ~keeps] = cell_stacks.seen_straight(mosaic.whole[~keeps])
    glance = np.zeros((len(ANGLES), 1, 1), dtype=np.float32) * left
    films = [(one.parts[0][0].mirrors, one.film_um.astype(np.float32)) for one in ready]
    for which, ground in enumerate(mosaic.grounds):
        cells = np.flatnonzero((mosaic.in_place.ground_at == which) & (mosaic.flaked | ground.glossy))
        if not len(cells):
            continue
        own = [(table, film_um[cells]) for table, film_um in films]
        mirrors = cell_mirrors.seen(own, ground if ground.glossy else GROUNDS["black"], ANGLES, len(cells))
        glance[..., cells] = mirrors.glance
        if mosaic.dotted and ground.glossy:
            left[:, cells] = _left_in_place(mosaic, ground, cells, mirrors)
        else:
            straight, slanted, flaked = mirrors.straight, mirrors.slanted, mosaic.flaked[cells]
            met_none = cell_stacks.seen_straight(mosaic.directed[cells[flaked]]) / cell_stacks.entering_straight()
            straight[:, flaked], slanted[:, flaked] = met_none, met_none * mirrors.ratio[:, flaked]
            left[:, cells] = _thrown(left[:, cells], straight, slanted)
    if followed is not None:
        left[:, ~keeps] = followed.seen(left, np.flatnonzero(~keeps))
    return left[None] + glance


def _left_in_place(mosaic: _Mosaic, ground: Ground, cells: Cells, mirrors: Seen) -> Singles:
    """(band, cell) what has no direction of dots over what keeps light in its place: of bare ground and of the rest."""
    none = cell_mirrors.bare(ground, ANGLES)[-2:, :, None]
    bare, flaked = mosaic.in_place.bare[cells].astype(np.float32), mosaic.flaked[cells]
    straight, slanted = (
        np.clip((one - bare * first) / np.maximum(1 - bare, np.float32(1e-6)), 0, 1)
        for one, first in zip((mirrors.straight, mirrors.slanted), none, strict=True)
    )
    met_none = cell_clear_dots.seen(mosaic.directed[cells[flaked]]) / cell_stacks.entering_straight()
    straight[:, flaked], slanted[:, flaked] = met_none, met_none * mirrors.ratio[:, flaked]
    under = cell_clear_dots.seen(under_surface(cell_stacks.ground_rows(ground)[0])[None])
    laid = _thrown(cell_clear_dots.seen(mosaic.whole[cells]), straight, slanted)
    return np.asarray((1 - bare) * laid + bare * _thrown(under, none[0], none[1]))


def _thrown(all_light: Singles, straight: Singles, slanted: Singles) -> Singles:
    """(band, cell) what has no direction, of all light straight down and the shares of light straight down and at 45
    degrees that met no particle."""
    left = np.maximum(all_light - np.float32(stack.STRAIGHT_IN) * straight, 0)
    return np.asarray(left * (1 - slanted) / np.maximum(1 - straight, np.float32(1e-6)))
