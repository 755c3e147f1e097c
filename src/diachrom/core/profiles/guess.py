"""A guess at a paint from its kind and one colour of it, for the bottle that was never measured.

What is known decides: where the colour was seen, and, if somebody looked, how well the paint hides. The rest is usual
for the kind. Each kind has its way: `guess_plain` for pigments and dyes, `guess_flakes`, `guess_light`.
"""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from diachrom.core.film.paint import Paint, clear_paint
from diachrom.core.light.bands import Floats
from diachrom.core.profiles import guess_flakes, guess_light, guess_plain
from diachrom.core.profiles.guess_basis import FLAKED, ToGuess, check_guess

LEAST = 1e-30  # 1/um


def guess(wanted: Sequence[ToGuess]) -> list[Paint]:
    """A paint each. Raises InvalidInput."""
    for one in wanted:
        check_guess(one)
    paints: dict[int, Paint] = {}
    for ways, kinds in (
        (guess_plain.guess, guess_plain.KINDS_OF),
        (guess_flakes.guess, FLAKED),
        (guess_light.guess, ("fluorescent", "glow")),
    ):
        own = [index for index, one in enumerate(wanted) if one.kind in kinds]
        # More would say more than is known, and take three times the room where it is kept.
        made = (
            [
                replace(one, absorption=_rounded(one.absorption), scattering=_rounded(one.scattering))
                for one in ways([wanted[at] for at in own])
            ]
            if own
            else []
        )
        paints |= dict(zip(own, made, strict=True))
    return [paints.get(at) or clear_paint(one.name, one.kind) for at, one in enumerate(wanted)]


def _rounded(figures: Floats) -> Floats:
    """To seven digits each; what is next to nothing is nothing."""
    scale = 10.0 ** (6 - np.floor(np.log10(np.where(figures > LEAST, figures, 1.0))))
    return np.round(figures * scale) / scale
