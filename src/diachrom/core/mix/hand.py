"""How coats come out of a painter's hand: how many times as thick as meant, and in what dots.

A mist or a light coat is dots; a medium or a wet one flows together. How thick a dot lies follows from its droplet: a
wider nozzle breaks the paint less, thinner paint breaks and spreads more. By how much is this project's judgement;
the dots of a bench are measured (`dot_size`).
"""

from dataclasses import dataclass

from diachrom.core.mix.cup import Cup
from diachrom.core.mix.layers import THICKEST_COAT_UM, THICKEST_DISC_UM, Layer

FLOWS_UM = 11.0  # a coat that is meant to be so thick flows together
USUAL_DROPLET_UM = 4.0  # of a usual mist, with the nozzle and the thinning below
USUAL_NOZZLE_MM, USUAL_THINNED = 0.3, 0.3
BY_NOZZLE = 0.5  # power of the nozzle's width
BY_THINNING = 0.5  # share of a dot's thickness that all thinner and no paint would take


@dataclass(frozen=True)
class Hand:
    """One painter's, with one airbrush."""

    times: float = 1.0
    droplet_um: float = 0.0  # with a usual nozzle and usual thinning; 0 lays even films
    droplet_off: float = 0.0  # how far that may be off, one standard deviation of its logarithm

    def film_um(self, meant_um: float) -> float:
        """A coat as it comes out, µm wet; never thicker than can be predicted."""
        return min(meant_um * self.times, THICKEST_COAT_UM)

    def dots_um(self, meant_um: float, *, nozzle_mm: float = USUAL_NOZZLE_MM, thinned: float = USUAL_THINNED) -> float:
        """Thickness of a dot of a coat that is meant to be so thick, µm; 0 where it flows together."""
        if meant_um >= FLOWS_UM:
            return 0.0
        usual = self.droplet_um * conditions(nozzle_mm, thinned)
        return min(usual, THICKEST_DISC_UM)

    def layer(
        self, cup: Cup, meant_um: float, coats: int = 1, *, sealed: bool = False, nozzle_mm: float = USUAL_NOZZLE_MM
    ) -> Layer:
        """Coats of a cup as they come out."""
        dots = self.dots_of(cup, meant_um, nozzle_mm=nozzle_mm)
        off = self.droplet_off if dots else 0.0
        return Layer(cup, self.film_um(meant_um), coats, sealed=sealed, droplet_um=dots, droplet_off=off)

    def dots_of(self, cup: Cup, meant_um: float, *, nozzle_mm: float = USUAL_NOZZLE_MM, reduced: float = 0.0) -> float:
        """The same for a cup: what has a paint in it that is only known as an even film is one. A share of reducer
        that comes to it besides, `reduced`, flashes off."""
        if cup.even:
            return 0.0
        thinned = reduced + (1 - reduced) * cup.thinned or USUAL_THINNED
        return (1 - reduced) * self.dots_um(meant_um, nozzle_mm=nozzle_mm, thinned=thinned)


EVEN_HAND = Hand()


def conditions(nozzle_mm: float, thinned: float) -> float:
    """How many times as thick as usual dots lie, with this nozzle and this share of reducer."""
    return float((nozzle_mm / USUAL_NOZZLE_MM) ** BY_NOZZLE * (1 - BY_THINNING * (thinned - USUAL_THINNED)))
