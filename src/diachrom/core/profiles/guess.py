"""A guess at a paint from its kind and one colour of it, for the bottle that was never measured.

What is known decides: where the colour was seen, and, if somebody looked, how well the paint hides. The rest is usual
for the kind. Each kind has its way: `guess_plain` for pigments and dyes, `guess_flakes`, `guess_light`.
"""

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from diachrom.core.film.kinds import KINDS
from diachrom.core.film.paint import Paint, clear_paint
from diachrom.core.light.bands import Floats
from diachrom.core.profiles import guess_flakes, guess_light, guess_plain
from diachrom.core.profiles.guess_basis import ToGuess, check_guess

LEAST = 1e-30  # 1/um
WAYS: dict[str, Callable[[Sequence[ToGuess]], list[Paint]]] = {
    "pigment": guess_plain.guess,
    "flakes": guess_flakes.guess,
    "fluorescence": guess_light.guess,
    "glow": guess_light.guess,
}


def guess(wanted: Sequence[ToGuess]) -> list[Paint]:
    """A paint each. Raises InvalidInput."""
    for one in wanted:
        check_guess(one)
    paints: dict[int, Paint] = {}
    for way, guesses in WAYS.items():
        places = [index for index, one in enumerate(wanted) if KINDS[one.kind].guess == way]
        # More digits would say more than is known, and take three times the room where it is kept.
        for place, paint in zip(places, guesses([wanted[at] for at in places]) if places else (), strict=True):
            paints[place] = replace(paint, absorption=_rounded(paint.absorption), scattering=_rounded(paint.scattering))
    return [paints.get(at) or clear_paint(one.name, one.kind) for at, one in enumerate(wanted)]


def _rounded(figures: Floats) -> Floats:
    """To seven digits each; what is next to nothing is nothing."""
    scale = 10.0 ** (6 - np.floor(np.log10(np.where(figures > LEAST, figures, 1.0))))
    return np.round(figures * scale) / scale
