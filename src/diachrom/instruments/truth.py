"""What really is in the bottles: near the profile on the shelf, but not the same.

The simulated devices measure this, so that a measurement tells something that the shelf did not know.
"""

import zlib
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from diachrom.core.film import seen
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Paint, mix
from diachrom.core.film.stack import sprayed
from diachrom.core.light.bands import Floats
from diachrom.core.light.lights import light
from diachrom.core.mix.hand import Hand
from diachrom.core.mix.spread import EVEN

STRENGTH, HIDING, SLOPE, HAND = 0.10, 0.12, 0.06, 0.05  # one standard deviation each, relative
THE_HAND = 0.14  # of the whole bench, the same for every card
DROP = 0.07
DROPLET_UM = 3.7  # of the bench's mist, once it lies


def _random(key: str) -> np.random.Generator:
    return np.random.default_rng(zlib.crc32(key.encode("utf-8")))


def of_paint(paint_id: str, paint: Paint) -> Paint:
    """The true paint behind a profile: stronger or weaker, more or less hiding, its curve a little tilted."""
    chance = _random(paint_id)
    strength, hiding = np.exp(STRENGTH * chance.standard_normal()), np.exp(HIDING * chance.standard_normal())
    tilt = np.exp(SLOPE * chance.standard_normal() * EVEN)
    flake, dye, glow = paint.flake, paint.fluorescence, paint.glow
    return replace(
        paint,
        absorption=paint.absorption * strength * tilt,
        scattering=paint.scattering * hiding,
        flake=flake and replace(flake, cover_per_um=flake.cover_per_um * strength),
        fluorescence=dye and replace(dye, strength_per_um=dye.strength_per_um * strength),
        glow=glow and replace(glow, strength_per_um=glow.strength_per_um * strength),
    )


def of_field(
    mixed: Sequence[tuple[str, Paint, float]], *, ground: str, film_um: float, sheen: float, card: int, dots: bool
) -> Floats:
    """What a perfect reader would see (band,) of a card's field of (id, profile, share): bare when the film is none.
    A hand sprays a card a little thicker or thinner than it thinks, all of it alike; in dots, or wet."""
    hand = np.exp(HAND * _random(f"card {card}").standard_normal()) if film_um else 1.0
    true = mix([of_paint(key, paint) for key, paint, _ in mixed], np.array([share for _, _, share in mixed]))
    droplet_um = DROPLET_UM if dots else 0.0
    films = sprayed([Coat(true, film_um * hand, droplet_um=droplet_um)] if film_um else [])
    day = light("D65")
    return np.clip(day.factor(seen.diffuse(films, GROUNDS[ground], sheen=sheen, under=day)), 0, 1)


def of_hand(card: int | None) -> float:
    """How many times as thick as meant a coat of this card came out; without a card, of the bench on the whole."""
    own = 0.0 if card is None else HAND * _random(f"card {card}").standard_normal()
    return float(np.exp(THE_HAND + own))


def hand(card: int | None) -> Hand:
    """How this card was sprayed; without a card, how the bench sprays on the whole."""
    return Hand(of_hand(card), DROPLET_UM)


def of_drop(bottle: int, drop_ml: float) -> float:
    """The true drop of a bottle, ml."""
    return float(drop_ml * np.exp(DROP * _random(f"bottle {bottle}").standard_normal()))


def of_air(seconds: float) -> tuple[float, float]:
    """°C and % relative humidity of the room: warmer and drier as the stove goes, over some hours."""
    swing = float(np.sin(seconds / 3600))
    return 18.5 + 1.5 * swing, 56.0 - 6.0 * swing
