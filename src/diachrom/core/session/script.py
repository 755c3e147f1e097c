"""What is done at the bench, step by step, as it was planned when the session began."""

from collections.abc import Sequence
from dataclasses import dataclass

CAUTIONS = {
    "spray": "Spraying: a fitted respirator for paint mist and vapours, a booth or a fan to the outside, gloves, eye "
    "protection.",
    "dust": "Sanding dust of foil, resin or old paint: a mask, wet sanding; old paint may hold lead.",
    "resin": "Two-part resin sensitises skin: gloves, fresh air, the breathing protection that its data sheet names.",
    "dip": "Moisture-cure and solvent clears may hold isocyanates: only as the data sheet says, with the breathing "
    "protection that it names.",
    "hot-dip": "Hot plastisol burns, fumes when it is too hot and erupts on moisture: the bait must be bone dry.",
}
FIRST_GO = "The product's data sheet, local rules and licensed practice come first."


@dataclass(frozen=True)
class Pour:
    """Drops of a bottle that a mix asks for."""

    bottle: int
    name: str
    drops: int
    drop_ml: float
    fill: str = ""  # "#rrggbb"


@dataclass(frozen=True)
class BenchStep:
    """One step that fills the screen."""

    key: str
    kind: str  # "make", "spray", "mask", "prepare", "clear" ...
    words: str
    block: str = ""  # of the order's schedule
    line: int = 0
    plan: int = 0
    version: int = 0
    layer: int | None = None
    steps: int | None = None  # layers of the plan that lie there after it
    first: int = 0  # baits, from 0
    last: int = 0  # after the last
    mix: str = ""
    pours: tuple[Pour, ...] = ()
    figures: tuple[tuple[str, str], ...] = ()  # what to set: words and value with its unit
    dries_s: int = 0
    closes_s: int | None = None
    cautions: tuple[str, ...] = ()

    @property
    def drops(self) -> int:
        return sum(one.drops for one in self.pours)


@dataclass(frozen=True)
class Script:
    steps: Sequence[BenchStep]

    def at(self, position: int) -> BenchStep | None:
        """The step at a place, None after the last."""
        return self.steps[position] if 0 <= position < len(self.steps) else None

    def place(self, key: str) -> int | None:
        return next((at for at, one in enumerate(self.steps) if one.key == key), None)
