"""What happens at the bench, and what can be said of it."""

from collections.abc import Mapping
from dataclasses import dataclass

from diachrom.errors import InvalidInput

LONGEST_NOTE = 500
COLOURS = {"darker": "darker than meant", "lighter": "lighter than meant"}


@dataclass(frozen=True)
class Figure:
    """Something that is told in a number."""

    words: str
    unit: str
    least: float
    most: float

    def value(self, text: str, field: str) -> float:
        """Raises InvalidInput, naming it."""
        try:
            found = float(text.replace(",", ".").strip())
        except ValueError:
            raise InvalidInput(f"{self.words}: '{text[:20]}' is no number.", field=field) from None
        if not self.least <= found <= self.most:
            raise InvalidInput(
                f"{self.words}: {self.least:g} to {self.most:g} {self.unit}".rstrip() + f", not {found:g}.", field=field
            )
        return found


# What was different: told by a figure, where there is one.
DIFFERENT: Mapping[str, tuple[str, Figure | None]] = {
    "coats": ("other coats", Figure("Coats", "", 0, 50)),
    "pressure": ("another pressure", Figure("Pressure", "bar", 0.2, 6)),
    "nozzle": ("another nozzle", Figure("Nozzle", "mm", 0.1, 2)),
    "distance": ("from farther or nearer", Figure("Distance", "mm", 5, 500)),
    "bottle": ("a bottle that stood in", None),
    "colour": ("the colour is not as it was meant", None),
    "wait": ("waited longer or shorter", Figure("Waited", "min", 0, 100_000)),
}
SLIPS = {
    "splatter": "a splatter",
    "run": "a run",
    "spider-web": "a spider web",
    "wrong-bottle": "the wrong bottle",
    "scratch": "a scratch",
    "tip-dry": "tip dry",
    "lifted": "lifted by the net",
}
# What is measured at a step.
FACTS = {
    "a_g": Figure("Part A", "g", 0.001, 5000),
    "b_g": Figure("Part B", "g", 0.001, 5000),
    "temperature_c": Figure("Temperature", "°C", -20, 60),
    "humidity_percent": Figure("Humidity", "%", 0, 100),
    "used_ml": Figure("Used", "ml", 0, 5000),
}
# What becomes of a mix that is left over.
LEFTOVERS = {
    "jar": "into a jar, with a label",
    "next": "it goes into the next step",
    "waste": "to the waste, as its label and local rules say",
}


@dataclass(frozen=True)
class Event:
    """Something that happened at the bench."""

    kind: str
    at: float  # seconds
    step: str = ""  # its key
    bottle: int = 0
    what: str = ""
    value: str = ""
    note: str = ""
    bait: int = -1  # from 0; -1 is all that the step is of

    @property
    def number(self) -> float | None:
        """Its value, where that is one."""
        try:
            return float(self.value)
        except ValueError:
            return None


def told(event: Event) -> str:
    """ "Other coats: 3", "A run on bait 2: swabbed off" """
    figure = None
    if event.kind == "slip":
        words = SLIPS.get(event.what, "")
    elif event.kind == "mend":
        words = "mended"
    elif event.kind == "photo":
        words = "a photo"
    elif event.kind == "left":
        words = f"left over, {LEFTOVERS.get(event.what, '')}"
    else:
        words, figure = DIFFERENT.get(event.what, ("", None))
    value = COLOURS.get(event.value, event.value)
    if event.kind in ("mend", "photo"):
        value = ""
    elif event.kind == "left":
        value = f"{event.value} ml" if event.value else ""
    elif event.what == "bottle":
        value = ""  # its name stands in the note
    unit = figure.unit if figure is not None else ""
    rest = " ".join(part for part in (value, unit if value else "", event.note) if part)
    which = f" on bait {event.bait + 1}" if event.bait >= 0 else ""
    return f"{words[:1].upper()}{words[1:]}{which}{': ' + rest if rest else ''}"
