"""What a colour is matched over, and how it is looked at: without a direction, at one angle, or at several together."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from threading import Lock
from typing import TypeVar, cast

import numpy as np

from diachrom.core.film import emission, mirroring, seen, stack
from diachrom.core.film.dots import DIFFUSED, STRAIGHT, Shares, shares
from diachrom.core.film.facets import ORDERS
from diachrom.core.film.fast import FastFilms
from diachrom.core.film.fast_flakes import FEW_STREAMS as FEW_STREAMS
from diachrom.core.film.fast_flakes import FlakedFilms
from diachrom.core.film.flakes import Flake
from diachrom.core.film.grounds import Ground
from diachrom.core.film.layer import Coat
from diachrom.core.film.stack import sprayed
from diachrom.core.film.streams import STREAMS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import Floats
from diachrom.core.light.lights import Light
from diachrom.core.mix.layers import Layer, coat
from diachrom.core.mix.prediction import ANGLES_DEG

Table = TypeVar("Table", FastFilms, FlakedFilms)
FEW_ORDERS = 3  # dE 0.1 at most, where few streams themselves cost 0.2 in the mean
MOST_BYTES = 90_000_000  # of tables that are kept in memory
ABSORBED_NODES = 17
Kept = dict[tuple[object, ...], FastFilms | FlakedFilms]
_kept_tables: Kept = {}
_keeping = Lock()

Views = tuple[float | None, ...]  # aspecular angles; None looks without a direction
DIFFUSE: Views = (None,)
ALL_ANGLES: Views = ANGLES_DEG
FACING_DEG = 45.0


def waves(count: int) -> int:
    """Around the circle, that are followed where light is followed in so many streams: where few do, few of these do
    too."""
    return ORDERS if count == STREAMS else FEW_ORDERS


def facing(views: Views) -> int:
    """The view in which a colour is shown and named, where there is room for one."""
    return min(range(len(views)), key=lambda index: abs(_angle(views[index]) - FACING_DEG))


def _angle(view: float | None) -> float:
    return FACING_DEG if view is None else view


@dataclass(frozen=True, eq=False)
class Where:
    """Ground, film and light, and the views in which the eye compares."""

    ground: Ground
    film_um: float  # all coats together
    sheen: float
    under: Light
    below: tuple[Layer, ...] = ()
    views: Views = DIFFUSE
    droplet_um: float = 0.0  # thickness of a disc of mist; 0 is an even film

    def radiance(self, top: Coat, *, count: int = STREAMS) -> Floats:
        """What is seen of a coat: radiance (..., view, band)."""
        films = sprayed([*self._below, replace(top, droplet_um=self.droplet_um)], count)
        turned = [angle for angle in self.views if angle is not None]
        # First what needs all waves around the circle: what needs the even one alone finds it solved.
        glances = seen.glance(films, self.ground, turned, under=self.under, orders=waves(count)) if turned else None
        found = seen.diffuse(films, self.ground, sheen=self.sheen, under=self.under)[..., None, :]
        if glances is None:
            return found
        none = np.zeros_like(glances[..., :1, :])
        order = iter(range(len(turned)))
        rows = [none if angle is None else glances[..., (index := next(order)) : index + 1, :] for angle in self.views]
        return found + np.concatenate(rows, axis=-2)

    @property
    def _below(self) -> list[Coat]:
        return [coat(layer) for layer in self.below]

    @property
    def dots(self) -> Shares:
        """The film as the dots that it is laid in."""
        return shares(self.film_um, self.droplet_um)

    @property
    def _n(self) -> float:
        return STRAIGHT if self.ground.glossy else DIFFUSED

    @property
    def turned(self) -> bool:
        """The same looked at from other angles."""
        return self.views != DIFFUSE

    def tables(self) -> FastFilms:
        """Of films without flakes, without a direction, under a gloss."""
        dots, n = self.dots, self._n
        if self.ground.glossy or self.below:
            return self._kept("films", lambda: FastFilms.solved(self._diffuse, dots, n))
        return self._kept("films", lambda: FastFilms.over(self.ground, dots))

    def absorbed(self) -> FastFilms:
        """The share of the light that a film without flakes absorbs, in each band."""
        dots = self.dots
        return self._kept("absorbed", lambda: FastFilms.solved(self._absorbed, dots, STRAIGHT, ABSORBED_NODES))

    def flaked(self, flake: Flake) -> FlakedFilms:
        """Of films with this make of flakes, without a direction."""
        return self._kept(
            f"flakes {flake.material} {flake.thickness_nm} {flake.tilt_deg}",
            lambda: FlakedFilms.over(flake, self.ground, below=self._below, dots=self.dots, n=self._n),
        )

    def behind(self, angle_deg: float) -> tuple[Floats, Floats]:
        """(band,) radiance factors of what mirrors below the top film, seen without it: once, and in all turns
        after."""
        below = sprayed(self._below, FEW_STREAMS)
        each = mirroring.once(below.layers, self.ground.glance(angle_deg), angle_deg)
        first = below.blend.seen(each, STRAIGHT)
        return first, stack.glance(below, self.ground, [angle_deg])[..., 0, :] - first

    def _diffuse(self, top: Coat) -> Floats:
        return stack.diffuse(sprayed([*self._below, top]), self.ground, sheen=CLEARED)

    def _absorbed(self, top: Coat) -> Floats:
        films = sprayed([*self._below, top], FEW_STREAMS)
        return films.blend.seen(emission.absorbed_each(films, self.ground)[-1], STRAIGHT)

    def _kept(self, kind: str, build: Callable[[], Table]) -> Table:
        """From memory."""
        kept, below = _kept_tables, tuple(layer.digest for layer in self.below)
        key = (kind, self.ground.key, self.ground.reflectance.tobytes(), below, round(self.dots.discs, 4))
        found = kept.get(key)
        if found is None:
            found = build()
            with _keeping:
                while kept and found.nbytes + sum(one.nbytes for one in kept.values()) > MOST_BYTES:
                    del kept[next(iter(kept))]
                kept[key] = found
        return cast(Table, found)
