"""What a painter sprays: cups, coat by coat. Checks the amounts and hands them to the film."""

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.film.layer import Coat
from diachrom.core.film.stack import Sprayed, sprayed
from diachrom.core.film.streams import STREAMS
from diachrom.core.mix.cup import Cup
from diachrom.errors import InvalidInput
from diachrom.words import quantity, say

# Usual coats, wet micrometres as they leave the airbrush.
COATS_UM = {"mist": 4.0, "light": 8.0, "medium": 14.0, "wet": 25.0}
THICKEST_COAT_UM = 200.0
THICKEST_DISC_UM = 50.0  # of mist, once it lies
MOST_COATS = 50
MOST_LAYERS = 40
THICKEST_STACK_UM = 5_000.0


@dataclass(frozen=True)
class Layer:
    """Some coats of one cup, `film_um` wet micrometres each, in dots `droplet_um` thick; 0 where they flow together."""

    cup: Cup
    film_um: float
    coats: int = 1
    sealed: bool = False
    droplet_um: float = 0.0
    droplet_off: float = 0.0  # one standard deviation of its logarithm

    def __post_init__(self) -> None:
        check_droplet(self.droplet_um)
        if not 0 <= self.film_um <= THICKEST_COAT_UM:
            raise InvalidInput(
                say(
                    "A coat must be 0 to {thickest_coat}, not {film}.",
                    thickest_coat=quantity(THICKEST_COAT_UM, ".0f", "µm"),
                    film=quantity(self.film_um, "g"),
                ),
                field="film_um",
            )
        if not 1 <= self.coats <= MOST_COATS:
            raise InvalidInput(
                say(
                    "Coats must be a whole number from 1 to {most_coats}, not {coats}.",
                    most_coats=MOST_COATS,
                    coats=self.coats,
                ),
                field="coats",
            )

    @property
    def total_um(self) -> float:
        """All of its coats together, µm wet."""
        return self.film_um * self.coats

    @property
    def digest(self) -> bytes:
        """The same for all layers that are the same to light."""
        told = hashlib.blake2b(repr((self.film_um, self.coats, self.sealed, self.droplet_um)).encode(), digest_size=16)
        for pour in self.cup.pours:
            paint = pour.paint
            told.update(repr((pour.volume_ml, paint.flake, paint.fluorescence, paint.glow, paint.bleeds)).encode())
            told.update(paint.absorption.tobytes() + paint.scattering.tobytes())
        return told.digest()


def check_droplet(droplet_um: float) -> float:
    """How thick a disc of mist lies. Raises InvalidInput for what no airbrush lays."""
    if not 0 <= droplet_um <= THICKEST_DISC_UM:
        raise InvalidInput(
            say(
                "A dot of mist must be 0 (it flows together) to {thickest} thick, not {droplet}.",
                thickest=quantity(THICKEST_DISC_UM, ".0f", "µm"),
                droplet=quantity(droplet_um, "g"),
            ),
            field="droplet_um",
        )
    return droplet_um


def check_layers(layers: Sequence[Layer]) -> None:
    """Raises InvalidInput when a stack is too high to be a paint job."""
    if len(layers) > MOST_LAYERS:
        raise InvalidInput(
            say("{count} layers are too many: at most {most_layers}.", count=len(layers), most_layers=MOST_LAYERS),
            field="layers",
        )
    total = sum(layer.total_um for layer in layers)
    if total > THICKEST_STACK_UM:
        raise InvalidInput(
            say(
                "All coats together are {total}; at most {thickest_stack} can be predicted.",
                total=quantity(total, ".0f", "µm"),
                thickest_stack=quantity(THICKEST_STACK_UM, ".0f", "µm"),
            ),
            field="film_um",
        )


def spray(layers: Sequence[Layer], *, streams: int = STREAMS) -> Sprayed:
    """The films of a stack, from the bottom up."""
    check_layers(layers)
    return sprayed([coat(layer) for layer in layers], streams)


def coat(layer: Layer) -> Coat:
    """A layer as the film knows it."""
    return Coat(layer.cup.mix(), layer.total_um, layer.coats, layer.sealed, layer.droplet_um)
