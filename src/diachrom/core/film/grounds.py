"""Grounds: what the paint is sprayed on. A table; adding a ground is adding an entry."""

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from diachrom.core.film.facets import LIGHT_DEG, ORDERS, passing, view
from diachrom.core.film.foil import HoloFoil, Mirror
from diachrom.core.film.materials import ALUMINIUM
from diachrom.core.film.streams import INDEX, streams
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.errors import UnknownGround
from diachrom.words import say

# Share of diffuse light in air that a smooth surface turns back from outside, at n = 1.5 [duntley1942].
OUTSIDE = 0.092
TRAPPED = 0.97  # of light held between the two sides of a wall; the plastic takes the rest at each turn


@dataclass(frozen=True, eq=False)
class Ground:
    """A ground as light inside the first film meets it."""

    key: str
    words: str
    reflectance: Floats  # (band,) diffusing; internal, or of what stands behind the wall of a clear body
    mirror: Mirror | None = None
    wall: bool = False  # a clear body: light must leave the body and come back in
    sparkle: bool = False
    note: str = ""

    @property
    def glossy(self) -> bool:
        """Bare foil and plastic are smooth; primers dry matte."""
        return self.mirror is not None or self.wall

    @property
    def has_direction(self) -> bool:
        """Whether it looks otherwise at the glance."""
        return self.mirror is not None

    # A ground is a constant and asked for again and again: what it answers is kept.
    @lru_cache(maxsize=64)  # noqa: B019
    def matrix(self, count: int) -> Floats:
        """Reflection matrix (band, stream, stream) in flux amplitudes."""
        grid = streams(count)
        directed = self.matrices(count)[0]
        if not self.wall:
            return self.reflectance[:, None, None] * np.outer(grid.q, grid.q) + directed
        out = grid.q * (1 - grid.inner)
        gain = self.reflectance * INDEX**2 / (1 - self.reflectance * OUTSIDE)
        return gain[:, None, None] * np.outer(out, out) + directed

    @lru_cache(maxsize=64)  # noqa: B019
    def matrices(self, count: int) -> Floats:
        """The part that is no diffuser, facets and the smooth inner side of a wall, for each wave around the circle:
        (order, band, stream, stream)."""
        grid = streams(count)
        if not self.wall:
            shape = (ORDERS, BANDS, count, count)
            return np.zeros(shape) if self.mirror is None else self.mirror.matrices(grid.mu, count)
        smooth = np.tile(np.diag(np.minimum(grid.inner, TRAPPED)), (ORDERS, BANDS, 1, 1))
        if self.mirror is None:
            return smooth
        # Out through the surface, back from the facets, and in again, as often as it happens.
        half = slice(count // 2, None)
        cos_out = np.sqrt(1 - INDEX**2 * (1 - grid.mu[half] ** 2))
        facets, turned = self.mirror.matrices(cos_out, count, 1.0), grid.inner[half]
        again = np.linalg.solve(np.eye(len(turned)) - facets * turned, facets)
        smooth[:, :, half, half] += np.sqrt(1 - turned)[:, None] * again * np.sqrt(1 - turned)
        return smooth

    @lru_cache(maxsize=512)  # noqa: B019
    def towards(self, count: int, out_deg: float) -> Floats:
        """What facets and smooth wall make of a unit of light from this angle: amplitudes (order, band, stream)."""
        found = np.zeros((ORDERS, BANDS, count))
        if self.wall:
            # The inner side of the wall mirrors it as the outer one does, into the stream in which it came.
            mu, cos_in = streams(count).mu, view(LIGHT_DEG - out_deg).cos_out
            own = int(np.argmin(abs(mu - cos_in)))
            found[..., own] = (1 - passing(out_deg)) / streams(count).q[own]
        if self.mirror is None:
            return found
        if self.wall:
            return found + passing(out_deg) * self.mirror.towards(count, out_deg, 1.0)
        return self.mirror.towards(count, out_deg)

    @lru_cache(maxsize=1024)  # noqa: B019
    def glance(self, angle_deg: float) -> Floats:
        """Radiance factor (band,) of the light that the bare ground mirrors once."""
        if self.mirror is None:
            return np.zeros(BANDS)
        if self.wall:
            return self.mirror.glance([angle_deg], 1.0)[0] * view(angle_deg).surface
        return self.mirror.glance([angle_deg])[0]


def _flat(value: float) -> Floats:
    return np.full(BANDS, value)


def _absorbing_below(at_nm: float, width_nm: float, top: float) -> Floats:
    return np.asarray(top / (1 + np.exp((at_nm - WAVELENGTHS_NM) / width_nm)))


# Titanium white swallows the violet end; the edge is that of rutile. Bone is white with a yellowed binder.
_WHITE = _absorbing_below(402, 7, 0.94)
_BONE = 0.90 - 0.42 * np.exp(-((WAVELENGTHS_NM - 380) / 85))
# Gold foil is aluminium under a yellow lacquer, passed twice.
_LACQUER = np.exp(-2 * 0.75 / (1 + np.exp((WAVELENGTHS_NM - 508) / 16)))
_DIFFUSED = 0.04  # scratches, dust and the tape's edge
_FOIL = 0.9 * _DIFFUSED

BY_HAND_DEG, ON_PLATE_DEG = 14.0, 8.0  # of the facets of foil that a hand laid on a bait, and on a flat plate
_TAPED = Mirror(ALUMINIUM, BY_HAND_DEG, 1 - _DIFFUSED)
_HOLO = HoloFoil(ALUMINIUM, BY_HAND_DEG, 1 - _DIFFUSED)
_STAMPED = Mirror(ALUMINIUM, 7.0, 1 - _DIFFUSED / 2)

GROUNDS = {
    ground.key: ground
    for ground in (
        Ground("white", say("white"), _WHITE, note=say("makes colours bright")),
        Ground("bone", say("bone"), _BONE, note=say("white, softened")),
        Ground("grey", say("grey"), _flat(0.36), note=say("between")),
        Ground("primer-grey", say("primer grey"), _flat(0.22), note=say("as it comes from the can")),
        Ground("black", say("black"), _flat(0.012), note=say("depth for pearls and metallics")),
        Ground("silver-foil", say("silver foil"), _flat(_FOIL), _TAPED, note=say("tape, laid by hand")),
        Ground(
            "stamped-foil", say("stamped foil"), _flat(_FOIL / 2), _STAMPED, note=say("hot-stamped: a harder flash")
        ),
        Ground("gold-foil", say("gold foil"), _FOIL * _LACQUER, replace(_TAPED, lacquer=_LACQUER)),
        Ground(
            "holo-foil",
            say("holographic foil"),
            _flat(_FOIL),
            _HOLO,
            note=say("a rainbow that travels"),
        ),
        Ground("clear-body", say("clear body"), _flat(0.05), wall=True, note=say("air and a dark inside")),
        Ground(
            "clear-body-foil", say("clear body, foil inside"), _flat(_FOIL), _TAPED, True, note=say("an insert of foil")
        ),
        Ground("glitter", say("glitter ground"), _flat(0.30), Mirror(ALUMINIUM, 12.0, 0.45), sparkle=True),
    )
}


LAID = ("silver-foil", "gold-foil", "holo-foil", "clear-body-foil")  # by hand


def ground(key: str) -> Ground:
    """The ground called `key`. Raises UnknownGround."""
    try:
        return GROUNDS[key]
    except KeyError:
        raise UnknownGround(key, list(GROUNDS)) from None


@lru_cache(maxsize=64)
def laid(key: str, tilt_deg: float) -> Ground:
    """The ground called `key` as somebody lays it, its facets tilted so far, °; any other as it is. Raises
    UnknownGround."""
    usual = ground(key)
    if usual.mirror is None or key not in LAID or tilt_deg == usual.mirror.tilt_deg:
        return usual
    own = f"{key} at {tilt_deg:g} degrees"  # what is computed of it is kept by this
    return replace(usual, key=own, mirror=replace(usual.mirror, tilt_deg=tilt_deg))


def diffusing(reflectance: Floats) -> Ground:
    """A ground given by its own internal reflectance (band,)."""
    return Ground("given", say("the given ground"), reflectance)
