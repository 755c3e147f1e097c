"""What is laid under a device: said to every device, and heeded by those that only pretend to measure."""

from dataclasses import dataclass

from diachrom.core.mix.draft import Draft


@dataclass(frozen=True)
class SprayedPatch:
    """Coats of a draft on a ground; of a spray-out card, with the share by which it was thinned further."""

    draft: Draft
    ground: str
    coats: int
    card: int | None = None
    thinned: float = 0.0


@dataclass(frozen=True)
class ContrastField:
    """A field of a drawdown card, by its key."""

    card: int
    field: str


@dataclass(frozen=True)
class CardSheet:
    """The printed and sprayed sheet of a card, and the whole address that its code leads to."""

    card: int
    contrast: bool
    address: str


@dataclass(frozen=True)
class PairsSheet:
    """The printed and sprayed sheet of many paints."""

    sheet: int
    address: str


@dataclass(frozen=True)
class FallingDrops:
    bottle: int
    drops: int


MeasurementTarget = SprayedPatch | ContrastField | None  # None: nothing; the reader is held in the air
