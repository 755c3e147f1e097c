"""Light that a mosaic of stacks makes itself: fluorescence, and glow. See `emission` for the physics.

A layer is lit and seen as much at every depth as in the mean, and a dye takes the light of all its places in the same
proportions. Against the exact stack this is within dE 2 for coats as they are sprayed; tested.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film import transport
from diachrom.core.film.cell_stacks import (
    FOUR,
    SOME,
    SOME_BANDS,
    Cells,
    MixTables,
    gathered,
    level,
    rising,
    seen_weights,
    solve,
    surface,
)
from diachrom.core.film.emission import CHARGING, LEAVES
from diachrom.core.film.fast import Singles
from diachrom.core.film.paint import Glow
from diachrom.core.film.streams import STREAMS
from diachrom.core.light.bands import WAVELENGTHS_NM, Floats

FEW = 1e-12
Vector = list[Singles]  # by direction, (band, cell) each


@dataclass(frozen=True, eq=False)
class Shining:
    """What a dye makes: its radiance under a light of power `power` (some band, cell), and the share that each band of
    any light would have in exciting it, per unit of power: (band,)."""

    made: Singles
    excited_by: Floats


@dataclass(frozen=True, eq=False)
class Glowing:
    """What a powder gives just after the light went out (some band, cell)."""

    powder: Glow
    made: Singles


@dataclass(frozen=True, eq=False)
class Lying:
    """A layer of the stacks, bottom first: its tables, its thickness (cell,), and what lies below it."""

    tables: MixTables
    film_um: Floats
    below: Singles  # (cell, pair, band)
    dotted: Singles | None = None  # (cell,) how many times as much a layer of dots makes as an even one


def shining(layers: Sequence[Lying], whole: Singles, power: Floats) -> tuple[list[Shining], list[Glowing]]:
    """Of all layers that shine; `whole` is what all of them send back (cell, pair, band)."""
    dyes: list[Shining] = []
    powders: list[Glowing] = []
    count = len(whole)
    for index, layer in enumerate(layers):
        if not layer.tables.mix.shines:
            continue
        cells = np.flatnonzero(layer.film_um > 0)
        if not len(cells):
            continue
        fluence = _fluence(layers[index:], gathered(whole, cells), cells)  # (band, cell)
        film_um = layer.film_um[cells].astype(np.float32)
        for dye, absorption in layer.tables.mix.dyes:
            # Light made (band, cell) before it leaves, and what excites it (band,).
            lit = fluence * (film_um if layer.dotted is None else film_um * layer.dotted[cells])
            taken = WAVELENGTHS_NM * absorption  # (all bands,)
            photons = ((power * taken) @ seen_weights()) @ lit  # (cell,)
            shape = taken * (seen_weights() @ lit.mean(axis=1))
            fluorescence = dye.quantum_yield * (dye.emission / WAVELENGTHS_NM)[SOME][:, None] * photons * LEAVES
            made, excited = fluorescence, shape / max(float(power @ shape), FEW)
            dyes.append(Shining(_spread(made * fluence, cells, count), excited))
        for powder, strength in layer.tables.mix.glows:
            field = fluence[CHARGING[SOME]].mean(axis=0)
            made = float(strength) * powder.emission[SOME][:, None] * film_um * field / (1 + field) * LEAVES
            powders.append(Glowing(powder, _spread(made * fluence, cells, count)))
    return dyes, powders


def _spread(values: Floats, cells: Cells, count: int) -> Singles:
    found = np.zeros((SOME_BANDS, count), dtype=np.float32)
    found[:, cells] = values
    return found


def _fluence(layers: Sequence[Lying], whole: Singles, cells: Cells) -> Singles:
    """(band, cell) of the mean fluence in the first of these layers, through those above it."""
    entering = np.float32(transport.entering(STREAMS))
    back, _, straight = surface()
    up = rising(whole)
    down = [
        entering * (straight[i] + np.sum([back[i, j] * up[j] for j in range(4)], axis=0, dtype=np.float32))
        for i in range(4)
    ]
    for layer in reversed(layers[1:]):
        down, _ = _through(layer, down, cells)
    own = layers[0]
    _, below = _through(own, down, cells)
    rows = gathered(own.tables.mean_fluence, level(own.film_um[cells], own.tables.most_um))  # (direction, band, cell)
    return np.asarray(sum(rows[i] * (down[i] + below[i]) for i in range(4)), dtype=np.float32)


def _through(layer: Lying, down: Vector, cells: Cells) -> tuple[Vector, Vector]:
    """What leaves a layer downwards, and what of it comes back from below."""
    rows = layer.tables.whole.at(layer.film_um[cells])
    film, through, below = rows[:10], rows[10:], gathered(layer.below, cells)
    at, size = FOUR.at, range(4)
    left = [[-sum(film[at(i, k)] * below[at(k, j)] for k in size) for j in size] for i in size]
    for i in size:
        left[i][i] += 1
    right = [[sum(through[at(i, k)] * down[k] for k in size)] for i in size]
    solve(left, right)
    out = [row[0] for row in right]
    return out, [sum(below[at(i, k)] * out[k] for k in size) for i in size]
