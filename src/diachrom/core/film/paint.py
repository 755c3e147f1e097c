"""A paint as light sees it, and what a mixture of paints is."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.light.bands import BANDS, Floats

MOST_PER_UM = 1000.0  # 1/um; a tenth of a micrometre would be opaque


@dataclass(frozen=True)
class Kind:
    """A kind of paint: how it is called and what it does in a cup."""

    key: str
    words: str
    colours: bool = True
    thins: bool = False  # counts as reducer or medium in a mix
    note: str = ""


KINDS = {
    kind.key: kind
    for kind in (
        Kind("opaque", "opaque", note="hides what is beneath"),
        Kind("transparent", "transparent", note="lets the ground through; many coats veil it"),
        Kind("candy", "candy dye", note="never hides, only deepens"),
        Kind("primer", "primer", note="a ground for what follows"),
        Kind("reducer", "reducer", colours=False, thins=True, note="no colour, thins the coat"),
        Kind("medium", "medium", colours=False, thins=True, note="no colour, keeps body and grip"),
    )
}


@dataclass(frozen=True, eq=False)
class Paint:
    """A profile: transport coefficients in 1/um of wet film as bottled. They add by volume in any mixture."""

    name: str
    kind: str
    absorption: Floats  # (band,) mu_a
    scattering: Floats  # (band,) reduced, mu_s' = mu_s (1 - g)
    uncertainty: float = 0.10  # relative, one standard deviation of strength

    @property
    def thins(self) -> bool:
        return KINDS[self.kind].thins


def clear_paint(name: str, kind: str) -> Paint:
    """A reducer or a medium: no colour of its own."""
    return Paint(name, kind, np.zeros(BANDS), np.zeros(BANDS), 0.0)


@dataclass(frozen=True, eq=False)
class Mix:
    """Coefficients of a mixture; batch axes may stand in front of `band`."""

    absorption: Floats  # (..., band)
    scattering: Floats  # (..., band)


def mix(paints: Sequence[Paint], fractions: Floats) -> Mix:
    """Blend by volume: fractions (..., paint) that sum to 1 -> Mix with (..., band)."""
    absorption = np.stack([paint.absorption for paint in paints])  # (paint, band)
    scattering = np.stack([paint.scattering for paint in paints])
    return Mix(fractions @ absorption, fractions @ scattering)
