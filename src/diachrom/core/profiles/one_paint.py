"""A mix kept in a jar, as one paint."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from diachrom.core.film.paint import Paint
from diachrom.errors import InvalidInput


def as_paint(name: str, parts: Sequence[tuple[Paint, float]]) -> Paint:
    """Of (paint, ml) parts: coefficients add by volume.

    Raises InvalidInput for more than one kind of flake or light.
    """
    total = sum(ml for _, ml in parts)
    shares = [(paint, ml / total) for paint, ml in parts]
    for key, words in (("flake", "flakes"), ("fluorescence", "fluorescent dyes"), ("glow", "glow powders")):
        if sum(getattr(paint, key) is not None for paint, _ in shares) > 1:
            raise InvalidInput(f"Two kinds of {words} in one jar cannot be kept as one paint yet.", field="recipe")
    if all(paint.thins for paint, _ in shares):
        raise InvalidInput("Nothing in that recipe colours.", field="recipe")
    absorption, scattering, bled = (
        np.sum([share * values for share, values in rows], axis=0)
        for rows in (
            [(share, paint.absorption) for paint, share in shares],
            [(share, paint.scattering) for paint, share in shares],
            [(share, paint.bleeds * paint.absorption) for paint, share in shares],
        )
    )
    kind, flake, shine, glow = "", None, None, None
    for paint, share in shares:
        if paint.flake is not None:
            kind, flake = paint.kind, replace(paint.flake, cover_per_um=share * paint.flake.cover_per_um)
        if paint.fluorescence is not None:
            dye = paint.fluorescence
            kind, shine = kind or paint.kind, replace(dye, strength_per_um=share * dye.strength_per_um)
        if paint.glow is not None:
            kind, glow = paint.kind, replace(paint.glow, strength_per_um=share * paint.glow.strength_per_um)
    coloured = [(share, paint.kind) for paint, share in shares if not paint.thins]
    sure = sum((share * paint.uncertainty) ** 2 for paint, share in shares) ** 0.5
    bleeds = float(bled.sum() / absorption.sum()) if bled.any() else 0.0
    return Paint(
        name=name,
        kind=kind or max(coloured)[1],
        absorption=absorption,
        scattering=scattering,
        uncertainty=sure,
        flake=flake,
        fluorescence=shine,
        glow=glow,
        bleeds=bleeds,
    )
