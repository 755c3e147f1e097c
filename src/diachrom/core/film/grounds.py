"""Grounds: what the paint is sprayed on. A table; adding a ground is adding an entry."""

from dataclasses import dataclass

import numpy as np

from diachrom.core.film.foil import ALUMINIUM, Mirror
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.errors import UnknownGround


@dataclass(frozen=True, eq=False)
class Ground:
    """A ground as light inside the first film meets it."""

    key: str
    words: str
    reflectance: Floats  # (band,) internal, diffusing
    mirror: Mirror | None = None

    @property
    def glossy(self) -> bool:
        """Bare foil is smooth; primers dry matte."""
        return self.mirror is not None


def _flat(value: float) -> Floats:
    return np.full(BANDS, value)


# Titanium white swallows the violet end; the edge is that of rutile.
_WHITE = 0.94 / (1 + np.exp(-(WAVELENGTHS_NM - 402) / 7))
_FOIL_DIFFUSED = 0.04  # scratches, dust and the tape's edge

GROUNDS = {
    ground.key: ground
    for ground in (
        Ground("white", "white", np.asarray(_WHITE)),
        Ground("silver-foil", "silver foil", _flat(0.9 * _FOIL_DIFFUSED), Mirror(ALUMINIUM, 8.0, 1 - _FOIL_DIFFUSED)),
        Ground("black", "black", _flat(0.012)),
        Ground("grey", "grey", _flat(0.36)),
    )
}


def ground(key: str) -> Ground:
    """The ground called `key`. Raises UnknownGround."""
    try:
        return GROUNDS[key]
    except KeyError:
        raise UnknownGround(key, list(GROUNDS)) from None


def diffusing(reflectance: Floats) -> Ground:
    """A ground given by its own internal reflectance (band,)."""
    return Ground("given", "the given ground", reflectance)
