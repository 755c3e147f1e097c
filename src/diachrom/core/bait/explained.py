"""What would explain that a bait's photo differs from its picture: the causes are tried one by one, and ranked by how
much of what is seen each leaves unexplained."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.light.bands import Floats

MOST_TIMES = 3.0  # of the step that was tried: beyond that the picture no longer follows it in a line
LIGHT_COSTS = 0.2  # a cast over everything has three figures to fit with, a cause has one
EXPLAINS = 0.75  # of the difference may be left by a cause that is worth a word


@dataclass(frozen=True)
class Explanation:
    """A cause, how many times the step that was tried it is, and the share of the difference that it leaves."""

    key: str
    times: float
    left: float


LIGHT = "light"


def explanations(seen: Floats, weights: Floats, causes: Mapping[str, Floats]) -> Sequence[Explanation]:
    """Ranked, the one that leaves least first.

    Parameters
    ----------
    seen : (zone, 3) Lab of the photo less that of the picture.
    weights : (zone,) how much each counts.
    causes : what a step of each would do to the picture, (zone, 3).

    Returns
    -------
    Those that leave less than EXPLAINS of what is seen, a cast of the light among them.
    """
    w = np.sqrt(weights / weights.sum())[:, None]
    whole = float(np.linalg.norm(w * seen))
    if whole <= 0:
        return []
    found = []
    for key, does in causes.items():
        length = float(np.sum((w * does) ** 2))
        if length <= 1e-9:
            continue
        times = float(np.clip(np.sum(w * w * seen * does) / length, 0.0, MOST_TIMES))
        left = float(np.linalg.norm(w * (seen - times * does))) / whole
        found.append(Explanation(key, times, left))
    cast = np.sum(w * w * seen, axis=0) / np.sum(w * w)
    left = float(np.linalg.norm(w * (seen - cast))) / whole
    found.append(Explanation(LIGHT, 1.0, left + LIGHT_COSTS))
    return sorted((one for one in found if one.left < EXPLAINS and one.times > 0), key=lambda one: one.left)
