"""What a bait looks like: every cell of its skin a stack of films, seen at several angles.

Stacks that lie under the layer that changed are kept. Where both sides are alike one is reckoned.
"""

from collections import OrderedDict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from hashlib import blake2b
from threading import Lock

import numpy as np

from diachrom.core.bait.coated import Painted, coated
from diachrom.core.bait.deposit import Skin
from diachrom.core.bait.plan import Plan
from diachrom.core.film import cell_light, cell_mirrors, cell_stacks, stack, transport
from diachrom.core.film.bleed import bled
from diachrom.core.film.cell_light import Glowing, Lying, Shining
from diachrom.core.film.cell_stacks import Cells, MixTables
from diachrom.core.film.fast import Singles
from diachrom.core.film.grounds import GROUNDS, Ground
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix
from diachrom.core.film.streams import STREAMS, streams
from diachrom.core.light.bands import Bools, Floats
from diachrom.core.light.lights import light

ANGLES = (15.0, 25.0, 45.0, 75.0, 110.0)
MOST_BYTES = 60_000_000  # of what layers have made of their cells
TABLES_KEPT, FILMS_KEPT = 32, 120
THICKEST_UM = 400.0


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
class Step:
    """What a layer has made of the cells on which it lies."""

    cells: Cells
    whole: Singles  # (cell, pair, band)
    mirroring: Cells
    directed: Singles

    @property
    def nbytes(self) -> int:
        """What it takes to keep, bytes."""
        return self.cells.nbytes + self.whole.nbytes + self.mirroring.nbytes + self.directed.nbytes


@dataclass(eq=False)
class Kept:
    """What was solved and reckoned before, for the next look; what was asked for longest ago goes first."""

    tables: OrderedDict[bytes, tuple[MixTables, cell_mirrors.MirrorTables]] = field(default_factory=OrderedDict)
    steps: OrderedDict[bytes, Step] = field(default_factory=OrderedDict)
    films: OrderedDict[object, Floats] = field(default_factory=OrderedDict)
    lock: Lock = field(default_factory=Lock)
    nbytes: int = 0  # of the steps
    reckoned: int = 0  # layers laid anew, in all

    def tabled(self, mix: Mix, most_um: float, digest: bytes) -> tuple[MixTables, cell_mirrors.MirrorTables]:
        """Tables of a mix up to a thickness, µm."""
        # Thickest films by powers of two, so that a little more of a paint is the same table.
        most = min(THICKEST_UM, 16.0 * 2.0 ** np.ceil(np.log2(max(most_um, 1.0) / 16.0)))
        key = digest + np.float64(most).tobytes()
        with self.lock:
            found = self.tables.get(key)
        if found is None:
            found = cell_stacks.tables(mix, most), cell_mirrors.mirror_tables(mix, most)
        with self.lock:
            self.tables[key] = found
            self.tables.move_to_end(key)
            while len(self.tables) > TABLES_KEPT:
                self.tables.popitem(last=False)
        return found

    def film(self, key: object, make: Callable[[], Floats]) -> Floats:
        """A layer's film, laid before or now."""
        with self.lock:
            found = self.films.get(key)
        if found is None:
            found = make()
        with self.lock:
            self.films[key] = found
            self.films.move_to_end(key)
            while len(self.films) > FILMS_KEPT:
                self.films.popitem(last=False)
        return found

    def step(self, key: bytes) -> Step | None:
        """A step that was reckoned before, None where it was not."""
        with self.lock:
            step = self.steps.get(key)
            if step is not None:
                self.steps.move_to_end(key)
            return step

    def keep(self, key: bytes, step: Step) -> None:
        """Keep a step, and let go of the oldest beyond the room."""
        with self.lock:
            self.reckoned += 1
            if key in self.steps:
                self.nbytes -= self.steps[key].nbytes
            self.steps[key] = step
            self.nbytes += step.nbytes
            while self.nbytes > MOST_BYTES and len(self.steps) > 1:
                self.nbytes -= self.steps.popitem(last=False)[1].nbytes


@dataclass(frozen=True, eq=False)
class _Ready:
    """A layer in cells that are reckoned."""

    painted: Painted
    film_um: Floats  # (cell,)
    whole: MixTables
    mirrors: cell_mirrors.MirrorTables
    bled: tuple[MixTables, Floats] | None  # what a dye below has made of it, and how much of that each cell has (cell,)


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
    films_um, grounds, ground_at = lies.films_um, lies.grounds, lies.ground_at
    alike = _alike(films_um) and bool((ground_at == ground_at[:, ::-1]).all())
    count_u, count_v = skin.surface.cells
    half = count_v // 2 if alike else count_v
    cells = [one[:, :half].ravel() for one in films_um]
    whole = _stacks(painted, cells, grounds, ground_at[:, :half].ravel(), kept)

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
class _Whole:
    factors: Singles  # (angle, band, cell)
    dyes: list[Shining]
    powders: list[Glowing]


def _stacks(
    painted: Sequence[Painted], films_um: list[Floats], grounds: list[Ground], ground_at: Cells, kept: Kept
) -> _Whole:
    ready = _ready(painted, films_um, kept)
    rows = [cell_stacks.ground_rows(ground) for ground in grounds]
    key = blake2b(ground_at.tobytes() + repr([ground.key for ground in grounds]).encode(), digest_size=16).digest()
    glossy = np.array([ground.glossy for ground in grounds])[ground_at]
    flaked = np.zeros(len(ground_at), dtype=bool)
    whole, directed = (np.stack([row[at] for row in rows])[ground_at] for at in (0, 1))
    lying: list[Lying] = []
    shines = False
    for one in ready:
        mix = one.painted.mix
        shines |= mix is not None and mix.shines
        lying.append(Lying(one.whole, one.film_um, whole.copy() if shines else whole))
        if mix is not None and mix.flakes:
            flaked |= one.film_um > 0
        key = _told(key, one)
        step = kept.step(key)
        if step is None:
            # What all, and what light that met no particle, becomes with one layer more.
            cells = np.flatnonzero(one.film_um > 0)
            laid = cell_stacks.lay(one.whole.whole, one.film_um, whole, cells)
            if one.bled is not None:
                tables, load = one.bled
                dyed = cell_stacks.lay(tables.whole, one.film_um, whole, cells)
                laid += load[cells].astype(np.float32)[:, None, None] * (dyed - laid)
            mirrored = np.flatnonzero((one.film_um > 0) & (glossy | flaked))
            flakes = one.painted.mix is not None and one.painted.mix.flakes
            lay = cell_stacks.lay if flakes else cell_stacks.dim
            step = Step(cells, laid, mirrored, lay(one.whole.directed, one.film_um, directed, mirrored))
            kept.keep(key, step)
        whole[step.cells] = step.whole
        directed[step.mirroring] = step.directed
    below = whole, directed
    factors = _seen(ready, (below[0], below[1]), grounds, ground_at, flaked)
    dyes, powders = cell_light.shining(lying, below[0], light("D65").power)
    return _Whole(factors, dyes, powders)


def _told(below: bytes, ready: _Ready) -> bytes:
    """The same for the same layer over the same layers."""
    told = blake2b(below + ready.painted.digest + ready.film_um.tobytes(), digest_size=16)
    if ready.bled is not None:
        told.update(ready.bled[1].tobytes())
    return told.digest()


def _ready(painted: Sequence[Painted], films_um: list[Floats], kept: Kept) -> list[_Ready]:
    layers: list[_Ready] = []
    last: tuple[Painted, Floats] | None = None  # the layer that dye may rise from
    for one, film_um in zip(painted, films_um, strict=True):
        if one.mix is None:
            if one.sealed and last is not None:
                last = None
            continue
        most = float(film_um.max(initial=0.0))
        if most <= 0:
            continue
        whole, mirrors = kept.tabled(one.mix, most, one.digest)
        rises = None if last is None else _rising(last, one, film_um, kept)
        layers.append(_Ready(one, film_um, whole, mirrors, rises))
        last = None if one.sealed else (one, film_um)
    return layers


def _rising(
    below: tuple[Painted, Floats], above: Painted, film_um: Floats, kept: Kept
) -> tuple[MixTables, Floats] | None:
    """What an unsealed dye below makes of a layer, at the thickest of both; and how much of that each cell has."""
    under, under_um = below
    if under.mix is None or under.mix.bleeding is None or above.mix is None:
        return None
    most_under, most = float(under_um.max()), float(film_um.max())
    coats = bled([Coat(under.mix, most_under), Coat(above.mix, most)])
    reached = coats[-1].mix
    load = np.divide(under_um, film_um, out=np.zeros_like(film_um), where=film_um > 0) * (most / most_under)
    digest = blake2b(under.digest + above.digest + np.array([most_under, most]).tobytes(), digest_size=16).digest()
    tables, _ = kept.tabled(reached, most, digest)
    return tables, np.minimum(load, 1.0)


def _seen(
    ready: list[_Ready], below: tuple[Singles, Singles], grounds: list[Ground], ground_at: Cells, flaked: Bools
) -> Singles:
    """(angle, band, cell) radiance factors, the surface's own sheen left out."""
    whole, directed = below
    diffuse = cell_stacks.seen_straight(whole)
    factors = np.repeat(diffuse[None], len(ANGLES), axis=0)
    films = [(one.mirrors, one.film_um.astype(np.float32)) for one in ready]
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
