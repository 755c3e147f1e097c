"""What is done at the bench, step by step, as it was planned when the session began."""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.words import say

CAUTIONS = {
    "spray": say(
        "Spraying: a fitted respirator for paint mist and vapours, a booth or a fan to the "
        "outside, gloves, eye protection."
    ),
    "dust": say("Sanding dust of foil, resin or old paint: a mask, wet sanding; old paint may hold lead."),
    "powder": say("Glow powder and flakes: a dust mask until they are wet."),
    "solvent": say(
        "No open flame and no sparks near solvent; warm air only once it has flashed off. Soaked "
        "rags can heat themselves: a metal can with a lid."
    ),
    "resin": say(
        "Two-part resin sensitises skin: gloves, fresh air, the breathing protection that its data sheet names."
    ),
    "dip": say(
        "Moisture-cure and solvent clears may hold isocyanates: only as the data sheet says, "
        "with the breathing protection that it names."
    ),
    "hot-dip": say("Hot plastisol burns, fumes when it is too hot and erupts on moisture: the bait must be bone dry."),
}
FIRST_GO = say("The product's data sheet, local rules and licensed practice come first.")
DRIES, POT = "dries", "pot"  # what a step's timer is of
LEFT, RIGHT = "left", "right"
SIDES = {LEFT: say("left side"), RIGHT: say("right side")}


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
    kind: str  # "make", "spray", "mask", "prepare", "weigh", "clear" ...
    words: str
    block: str = ""  # of the order's schedule
    line: int = 0
    plan: int = 0
    version: int = 0
    layer: int | None = None
    steps: int | None = None  # layers of the plan that lie there after it
    first: int = 0  # baits, from 0
    last: int = 0  # after the last
    side: str = ""  # LEFT or RIGHT, "" where both are met at once
    twin: str = ""  # key of the same step on the other side, done before
    mix: str = ""
    pours: tuple[Pour, ...] = ()
    coats: int = 0  # that are laid in it
    figures: tuple[tuple[str, str], ...] = ()  # what to set: words and value with its unit
    notes: tuple[str, ...] = ()  # how it is done
    eyes: int = 0  # of the stock, of which a pair goes on each bait
    paint: str = ""  # its row of the drying table
    timer: str = DRIES
    dries_s: int = 0
    closes_s: int | None = None
    cautions: tuple[str, ...] = ()

    @property
    def drops(self) -> int:
        """Drops that it pours."""
        return sum(pour.drops for pour in self.pours)

    @property
    def mixes(self) -> bool:
        """Whether it makes a cup of its mix, not a little more of it for a spot."""
        return bool(self.pours) and ("+" not in self.key or "+new" in self.key)

    def holds(self, bait: int) -> bool:
        """Whether it is done to a bait; -1 is any."""
        return bait < 0 or self.first <= bait < self.last


@dataclass(frozen=True)
class Script:
    steps: Sequence[BenchStep]
    before: Sequence[BenchStep] = ()  # that were done before it began, in their order

    def at(self, position: int) -> BenchStep | None:
        """The step at a place, None after the last."""
        return self.steps[position] if 0 <= position < len(self.steps) else None

    def like(self, key: str) -> BenchStep | None:
        """A step by its key, also one that was done before."""
        return next((step for step in (*self.steps, *self.before) if step.key == key), None)
