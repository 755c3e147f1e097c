"""A mix kept in a jar, as one paint."""

from collections.abc import Sequence
from dataclasses import replace
from typing import TypeVar

import numpy as np

from diachrom.core.film.paint import Fluorescence, Glow, Paint
from diachrom.core.light.bands import Floats
from diachrom.errors import InvalidInput
from diachrom.words import say

Parts = Sequence[tuple[Paint, float]]  # (paint, share)
ONE_OF_EACH = (("flake", "flakes"), ("fluorescence", say("fluorescent dyes")), ("glow", say("glow powders")))


Strong = TypeVar("Strong", Fluorescence, Glow)


def as_paint(name: str, parts: Parts) -> Paint:
    """Of (paint, ml) parts: coefficients add by volume.

    Raises InvalidInput for more than one kind of flake or light.
    """
    total = sum(ml for _, ml in parts)
    shares = [(paint, ml / total) for paint, ml in parts]
    for key, words in ONE_OF_EACH:
        if sum(getattr(paint, key) is not None for paint, _ in shares) > 1:
            raise InvalidInput(
                say("Two kinds of {words} in one jar cannot be kept as one paint yet.", words=words), field="recipe"
            )
    if all(paint.thins for paint, _ in shares):
        raise InvalidInput(say("Nothing in that recipe has a colour."), field="recipe")
    absorption = _sum(shares, [paint.absorption for paint, _ in shares])
    bled = _sum(shares, [paint.bleeds * paint.absorption for paint, _ in shares])
    flakes = [(paint.flake, share) for paint, share in shares if paint.flake is not None]
    return Paint(
        name=name,
        kind=_kind(shares),
        absorption=absorption,
        scattering=_sum(shares, [paint.scattering for paint, _ in shares]),
        uncertainty=sum((share * paint.uncertainty) ** 2 for paint, share in shares) ** 0.5,
        flake=next((replace(flake, cover_per_um=share * flake.cover_per_um) for flake, share in flakes), None),
        fluorescence=_weaker([(paint.fluorescence, share) for paint, share in shares]),
        glow=_weaker([(paint.glow, share) for paint, share in shares]),
        bleeds=float(bled.sum() / absorption.sum()) if bled.any() else 0.0,
    )


def _sum(shares: Parts, values: Sequence[Floats]) -> Floats:
    return np.asarray(np.sum([share * own for (_, share), own in zip(shares, values, strict=True)], axis=0))


def _weaker(found: Sequence[tuple[Strong | None, float]]) -> Strong | None:
    """The one that there is, by its share."""
    there = ((one, share) for one, share in found if one is not None)
    return next((replace(one, strength_per_um=share * one.strength_per_um) for one, share in there), None)


def _kind(shares: Parts) -> str:
    """What glows is a glow paint, what flakes is of its flakes' kind, then what shines; else the largest part says."""
    for key in ("glow", "flake", "fluorescence"):
        for paint, _ in shares:
            if getattr(paint, key) is not None:
                return paint.kind
    return max((share, paint.kind) for paint, share in shares if not paint.thins)[1]
