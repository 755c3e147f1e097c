"""A coat of mist is dots: discs of paint that fall anywhere, so that a place has none, one or several.

Discs h thick that lie m thick in the mean leave a place with k of them by Poisson's law of the mean m/h. Seen from
afar, the stacks of all numbers blend. Light that is thrown about beneath them comes up through other dots than it went
down through, which Yule and Nielsen's mean tells, R^(1/n) averaged, n = 1.8 [yule1951]; what a mirror sends back or a
clear body lets through keeps its place, and n is 1.

Numbers of discs are looked at where they tell something: all of the first few, then ever farther apart, with the
weights of a cubic between them. So a layer is solved at some ten thicknesses, whatever its coats, and these stand on an
axis of its own in front of all others; the lower layers' axes stand in front of the upper ones'.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from diachrom.core.film.layer import Coat
from diachrom.core.film.streams import STREAMS
from diachrom.core.light.bands import Floats

DIFFUSED, STRAIGHT = 1.8, 1.0  # Yule and Nielsen's n, over what throws light about, and over what keeps its place
EVEN_DISCS = 400.0  # so many in the mean are an even film
FAR = 2.5  # standard deviations beyond which no number is looked at
FINE, COARSE = (3, 1.1), (2, 1.4)  # numbers looked at one by one, then steps in square roots of the number
MOST_STACKS = 64  # of all layers below the top one; beyond it their numbers are drawn together
CUBIC = 4
MOST_LEAN = 20.0  # half the skewness beyond which it is not followed
Figures = TypeVar("Figures", Floats, NDArray[np.float32])


@dataclass(frozen=True, eq=False)
class Blend:
    """How the stacks of all numbers of discs blend, an axis a layer or one for several."""

    weights: tuple[Floats, ...]  # (number, 1 for each axis behind it, ...) each

    def seen(self, values: Floats, n: float) -> Floats:
        """The mean of (axes, ..., band) over the axes: (..., band). Radiances are not below 0."""
        if not self.weights:
            return values
        found = values if n == STRAIGHT else np.maximum(values, 0) ** (1 / n)
        for weight in self.weights:
            found = (weight[..., None] * found).sum(axis=0)
        return found if n == STRAIGHT else np.asarray(np.maximum(found, 0) ** n)

    def straight(self, values: Floats) -> Floats:
        """The plain mean of (axes, ..., angle, band): what keeps its place."""
        for weight in self.weights:
            values = (weight[..., None, None] * values).sum(axis=0)
        return values


EVEN = Blend(())  # of films that are no dots


@dataclass(frozen=True)
class Shares:
    """A layer of dots as even films side by side: how thick each is, of the mean, and its weight."""

    times: tuple[float, ...] = (1.0,)
    weights: tuple[float, ...] = (1.0,)
    discs: float = 0.0  # in the mean; 0 is an even film

    def left(self, depth: Floats) -> Floats:
        """What is left (...) in the mean of light that loses e^-depth in the mean film, and keeps its place."""
        return np.exp(-depth) if not self.discs else np.exp(self.discs * np.expm1(-depth / self.discs))


EVEN_FILM = Shares()


def left(depth: Floats, film_um: Floats, droplet_um: float) -> Floats:
    """The same of many films (...) in µm."""
    if not droplet_um:
        return np.exp(-depth)
    discs = np.maximum(film_um, 1e-9) / droplet_um
    return np.asarray(np.exp(discs * np.expm1(-depth / discs)))


def left_bare(film_um: Floats, droplet_um: float) -> Floats:
    """The share (cell,) of films (cell,) that no disc covers."""
    return np.exp(-film_um / droplet_um) if droplet_um else np.where(film_um > 0, 0.0, 1.0)


def two_points(mean: Figures, square: Figures, cube: Figures, least: float) -> list[tuple[Figures, Figures]]:
    """Two values (...) and their weights (...) that have a mean, a mean square and a mean cube: Gauss's quadrature of
    two points. A variance below `least` counts as that."""
    variance = np.maximum(square - mean * mean, mean.dtype.type(least))
    spread = np.sqrt(variance)
    lean = (cube - mean * (3 * square - 2 * mean * mean)) / (2 * variance * spread)
    lean = np.clip(lean, -MOST_LEAN, MOST_LEAN)
    reach = np.sqrt(1 + lean * lean)
    share = (1 - lean / reach) / 2
    return [(mean + spread * (lean + reach), share), (mean + spread * (lean - reach), 1 - share)]


def shares(film_um: float, droplet_um: float) -> Shares:
    """One film of so many µm, in discs of so many."""
    discs = film_um / droplet_um if droplet_um else 0.0
    if not 0 < discs < EVEN_DISCS:
        return EVEN_FILM
    numbers, weights = numbered(np.array(discs), FINE)
    return Shares(tuple((numbers / discs).tolist()), tuple(weights.tolist()), discs)


def dotted(coats: Sequence[Coat], count: int = STREAMS, under: tuple[int, ...] = ()) -> tuple[list[Coat], Blend]:
    """Coats from the bottom up with an axis for the discs of each that is dots, and how what is seen of them blends.
    `under` are the batch axes of what is laid on them besides."""
    places = [at for at, one in enumerate(coats) if is_dots(one)]
    if not places:
        return list(coats), EVEN
    batch = np.broadcast_shapes(under, *(shape for one in coats for shape in _shapes(one)))
    below, top = places[:-1], places[-1]
    found, axes = list(coats), 1 + len(batch)
    found[top], weight = _laid(coats[top], FINE if count == STREAMS else COARSE, axes)
    weights = [weight]
    each = [_numbers(_discs(coats[at]), COARSE) for at in below]
    if np.prod([len(one) for one in each], dtype=np.int64) <= MOST_STACKS:
        for at in reversed(below):
            axes += 1
            found[at], weight = _laid(coats[at], COARSE, axes)
            weights.insert(0, weight)
    else:
        axes += 1
        for at, numbers in zip(below, drawn([_discs(coats[at]) for at in below]), strict=True):
            found[at] = _with_axis(coats[at], numbers, axes)
        weights.insert(0, np.full((MOST_STACKS, *[1] * (axes - 1)), 1 / MOST_STACKS))
    return found, Blend(tuple(weights))


def is_dots(coat: Coat) -> bool:
    """Whether it is dots, few enough to be told from an even film."""
    droplet = np.asarray(coat.droplet_um)
    return bool(droplet.any()) and float(np.max(_discs(coat))) < EVEN_DISCS


def _discs(coat: Coat) -> Floats:
    """(...) discs at a place, in the mean."""
    return np.asarray(coat.film_um, dtype=np.float64) / coat.droplet_um


def _shapes(coat: Coat) -> list[tuple[int, ...]]:
    mix = coat.mix
    return [np.shape(coat.film_um), np.shape(coat.coats), np.shape(coat.droplet_um), mix.absorption.shape[:-1]]


def _laid(coat: Coat, how: tuple[int, float], axes: int) -> tuple[Coat, Floats]:
    """A coat at some numbers of discs, and their weights (number, ...)."""
    discs = _discs(coat)
    numbers, weights = numbered(discs, how)
    return _with_axis(coat, numbers, axes), weights.reshape(len(numbers), *[1] * (axes - weights.ndim), *discs.shape)


def _with_axis(coat: Coat, numbers: Floats, axes: int) -> Coat:
    """The numbers stand on the first of so many axes."""
    standing = numbers.reshape(-1, *[1] * (axes - 1))
    return replace(coat, film_um=standing * coat.droplet_um, droplet_um=0.0)


def _numbers(discs: Floats, how: tuple[int, float]) -> Floats:
    low, high = float(np.min(discs)), float(np.max(discs))
    return numbers_between(low, high, *how)


def numbered(discs: Floats, how: tuple[int, float] = COARSE) -> tuple[Floats, Floats]:
    """Numbers of discs to look at (number,) for means (...), and the weights of each (number, ...)."""
    numbers = _numbers(discs, how)
    return numbers, chances(discs, numbers)


@lru_cache(maxsize=256)
def numbers_between(low: float, high: float, single: int, step: float) -> Floats:
    """Numbers of discs to look at (number,), where their mean is between these: at least four."""
    first, last = max(0.0, np.floor(low - FAR * low**0.5)), high + FAR * high**0.5 + 1
    found = [first]
    while found[-1] < last or len(found) < CUBIC:
        at = found[-1]
        found.append(at + (1.0 if at < single else max(1.0, step * at**0.5)))
    numbers = np.array(found)
    numbers.setflags(write=False)
    return numbers


def chances(discs: Floats, numbers: Floats) -> Floats:
    """Weights (number, ...) of some numbers of discs for means (...), with a cubic between the numbers: they sum to
    1."""
    low, high = int(numbers[0]), int(np.ceil(numbers[-1]))
    whole = np.arange(low, high + 1)
    logs = _log_factorials(high)[low:]
    mean = np.maximum(discs, 1e-300)
    shape = (-1, *[1] * np.ndim(discs))
    law = np.exp(whole.reshape(shape) * np.log(mean) - mean - logs.reshape(shape))
    law /= law.sum(axis=0)
    return np.tensordot(_between(tuple(numbers.tolist())), law, (0, 0))


@lru_cache(maxsize=64)
def _log_factorials(most: int) -> Floats:
    return np.concatenate([[0.0], np.cumsum(np.log(np.arange(1, most + 1)))])


@lru_cache(maxsize=256)
def _between(numbers: tuple[float, ...]) -> Floats:
    """Lagrange's cubic: what each whole number from the first to the last takes of the numbers (whole, number)."""
    nodes = np.array(numbers)
    whole = np.arange(nodes[0], np.ceil(nodes[-1]) + 1)
    matrix = np.zeros((len(whole), len(nodes)))
    for row, at in enumerate(np.minimum(whole, nodes[-1])):
        start = int(np.clip(np.searchsorted(nodes, at) - 2, 0, len(nodes) - CUBIC))
        for one in range(start, start + CUBIC):
            others = [nodes[k] for k in range(start, start + CUBIC) if k != one]
            matrix[row, one] = np.prod([(at - other) / (nodes[one] - other) for other in others])
    return matrix


def drawn(discs: Sequence[Floats]) -> list[Floats]:
    """Numbers of discs (stack,) of several layers together, drawn evenly: each layer's by its own law, at the points
    of a lattice in as many dimensions [korobov1959]."""
    points = np.arange(MOST_STACKS)
    found, factor = [], 1
    for mean in discs:
        own = float(np.max(mean))
        whole = np.arange(int(own + 8 * own**0.5 + 10))
        law = np.exp(whole * np.log(max(own, 1e-300)) - own - _log_factorials(len(whole) - 1))
        share = (points * factor / MOST_STACKS + 0.5 / MOST_STACKS) % 1
        found.append(np.searchsorted(np.cumsum(law / law.sum()), share).astype(np.float64))
        factor = factor * 19 % MOST_STACKS
    return found
