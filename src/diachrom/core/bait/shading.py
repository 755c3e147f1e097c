"""How light falls on a bait: one lamp a little above the eye, and the room around it. Pages, paper and lists are lit
alike: a page is told the same figures.

What a flank's middle shows is the colour itself, so that a picture does not lie about it; above, light is rolled off
instead of burning out.
"""

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.light.screen import greyed

LAMP = np.array([-0.15, 0.5, 0.85]) / np.linalg.norm([-0.15, 0.5, 0.85])  # along the bait, up, to the eye
DIRECT, AROUND, ABOVE = 0.40, 0.66, 0.10  # of the lamp; of the room, more of it from above
SHOULDER, SOFT = 0.9, 0.6  # of a screen's light, from where it is rolled off, and how slowly
TURNED = 3  # of the picture's angles, at which the room is seen


def lit(direct: Floats, around: Floats, falls: Floats, rises: Floats) -> Floats:
    """Linear light (..., 3) of places that have these colours (..., 3) towards the lamp's mirror image and turned away.

    Parameters
    ----------
    falls : (...) cosine between the skin's normal and the lamp.
    rises : (...) how far the normal points up, -1 to 1.
    """
    lamp = DIRECT * np.maximum(falls, 0.0)
    room = AROUND + ABOVE * rises
    return np.asarray(direct * lamp[..., None] + around * room[..., None])


def rolled(light: Floats) -> Floats:
    """Linear light (..., 3) as a screen shows it: nothing burns out, no hue moves, and what is more colourful than the
    screen is greyed."""
    most = light.max(axis=-1, keepdims=True)
    soft = SHOULDER + (1 - SHOULDER) * -np.expm1(-np.maximum(most - SHOULDER, 0.0) / SOFT)
    return greyed(light * np.where(most > SHOULDER, soft / np.maximum(most, SHOULDER), 1.0))


def described() -> dict[str, object]:
    """What a page needs to light a bait in the same way."""
    return {
        "lamp": LAMP.tolist(),
        "direct": DIRECT,
        "around": AROUND,
        "above": ABOVE,
        "shoulder": SHOULDER,
        "soft": SOFT,
        "turned": TURNED,
    }
