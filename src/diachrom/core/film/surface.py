"""How a dried surface mirrors: under clear the mirror image is out of the view; matte, it is spread over every
direction."""

from diachrom.core.film.streams import INDEX
from diachrom.errors import InvalidInput
from diachrom.words import listed, say

CLEARED = 0.0
MATTE = ((INDEX - 1) / (INDEX + 1)) ** 2  # all of what the surface mirrors at n = 1.5
SATIN = 0.02  # most uncleared coats: part of it goes where a mirror would send it, and is not seen

# Key -> words; what is not cleared is satin or matte.
SURFACES = {"clear": say("under clear"), "satin": say("satin"), "matte": say("matte")}


def sheen_of(*, clear_coat: bool, satin: bool = False) -> float:
    """Radiance factor that a surface adds in every direction."""
    return CLEARED if clear_coat else SATIN if satin else MATTE


def surface_key(*, clear_coat: bool, satin: bool) -> str:
    """The key of a surface: cleared, satin, matte."""
    return "clear" if clear_coat else "satin" if satin else "matte"


class Surfaced:
    """What lies under a surface that is cleared, satin or matte."""

    clear_coat: bool
    satin: bool

    @property
    def sheen(self) -> float:
        """What the surface itself mirrors, of what falls on it."""
        return sheen_of(clear_coat=self.clear_coat, satin=self.satin)

    @property
    def surface(self) -> str:
        """Its key in SURFACES."""
        return surface_key(clear_coat=self.clear_coat, satin=self.satin)


def surface_of(key: str) -> tuple[bool, bool]:
    """Whether it is cleared, whether it is satin. Raises InvalidInput."""
    if key not in SURFACES:
        raise InvalidInput(
            say("A surface is {surfaces}, not '{key}'.", surfaces=listed(SURFACES), key=key[:20]), field="surface"
        )
    return key == "clear", key == "satin"
