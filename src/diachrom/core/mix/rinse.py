"""Which mix may follow another in the cup: what a rest of the first does to the second."""

from collections.abc import Sequence

import numpy as np

from diachrom.core.film.fast import films_of, over_any
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.paint import Mix
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab, lch
from diachrom.core.light.lights import light

LEFT, RINSED = 0.04, 0.006  # of the cup, shaken out and rinsed once
SEEN_DE, BARELY = 1.0, 0.15
WHITE_L, WHITE_CHROMA, CLEAR_PER_UM, THICK_UM = 88.0, 8.0, 3e-5, 120.0
FILM_UM = 16.0  # two light coats
DAY = light("D65")
CLEAN, RINSE, FOLLOWS = "clean", "rinse", "follows"


def stains(mixes: Sequence[Mix], left: float) -> Floats:
    """(first, second) dE over white of each second mix with a rest of each first in it; infinite where flakes or a
    shine would stay that it has not."""
    count = len(mixes)
    absorption = np.stack([one.absorption for one in mixes])
    scattering = np.stack([one.scattering for one in mixes])
    share = np.array([left])[:, None, None]
    stained = [
        ((1 - share) * own[None, :, :] + share * own[:, None, :]).reshape(count * count, -1)
        for own in (absorption, scattering)
    ]
    white = np.broadcast_to(GROUNDS["white"].reflectance, (count * count, absorption.shape[-1]))
    seen = [
        lab(over_any(films_of(a, s, film_um=FILM_UM), np.arange(len(a)), white[: len(a)]).T.astype(float), under=DAY)
        for a, s in ((absorption, scattering), stained)
    ]
    apart = delta_e(seen[1].reshape(count, count, 3), seen[0][None, :, :])
    for first, mix in enumerate(mixes):
        for second, other in enumerate(mixes):
            if (mix.flakes and not other.flakes) or (mix.shines and not other.shines):
                apart[first, second] = np.inf
    return np.asarray(apart)


def touchy(mixes: Sequence[Mix]) -> list[bool]:
    """Those that any rest of a colour spoils, however little the eye is promised: what shines, white, and clear."""
    absorption = np.stack([one.absorption for one in mixes])
    scattering = np.stack([one.scattering for one in mixes])
    black = np.broadcast_to(GROUNDS["black"].reflectance, absorption.shape)
    thick = films_of(absorption, scattering, film_um=THICK_UM)
    hidden = lch(lab(over_any(thick, np.arange(len(mixes)), black).T.astype(float), under=DAY))
    white = (hidden[:, 0] > WHITE_L) & (hidden[:, 1] < WHITE_CHROMA)
    clear = absorption.mean(axis=1) < CLEAR_PER_UM
    return [bool(one.shines) or bool(w) or bool(c) for one, w, c in zip(mixes, white, clear, strict=True)]


def follows(mixes: Sequence[Mix]) -> list[list[str]]:
    """[first][second]: whether the second follows without cleaning, after a rinse, or in a clean airbrush. Between a
    colour and what is touchy the airbrush is always cleaned."""
    if not mixes:
        return []
    as_it_is, rinsed = stains(mixes, LEFT), stains(mixes, RINSED)
    spoiled = touchy(mixes)

    def how(first: int, second: int) -> str:
        if spoiled[second] and (as_it_is[first, second] >= BARELY or bool(mixes[first].shines)) and first != second:
            return CLEAN
        return FOLLOWS if as_it_is[first, second] < SEEN_DE else RINSE if rinsed[first, second] < SEEN_DE else CLEAN

    return [[how(first, second) for second in range(len(mixes))] for first in range(len(mixes))]
