"""What happens at the bench, and what can be said of it."""

from collections.abc import Mapping
from dataclasses import dataclass

from diachrom.errors import InvalidInput
from diachrom.words import capitalized, listed, quantity, say, say_count

LONGEST_NOTE = 500
COLOURS = {"darker": say("darker than meant"), "lighter": say("lighter than meant")}


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
            raise InvalidInput(
                say("{words}: '{other_words}' is no number.", words=self.words, other_words=text[:20]), field=field
            ) from None
        if not self.least <= found <= self.most:
            raise InvalidInput(
                f"{self.words}: {self.least:g} to {self.most:g} {self.unit}".rstrip() + f", not {found:g}.", field=field
            )
        return found


# What was different: told by a figure, where there is one.
DIFFERENT: Mapping[str, tuple[str, Figure | None]] = {
    "coats": (say("other coats"), Figure(say("Coats"), "", 0, 50)),
    "pressure": (say("another pressure"), Figure(say("Pressure"), "bar", 0.2, 6)),
    "thinned": (say("thinned more"), Figure(say("Thinner added"), "%", 1, 300)),
    "nozzle": (say("another nozzle"), Figure(say("Nozzle"), "mm", 0.1, 2)),
    "distance": (say("from farther or nearer"), Figure(say("Distance"), "mm", 5, 500)),
    "bottle": (say("a bottle that stood in"), None),
    "colour": (say("the colour is not as it was meant"), None),
    "wait": (say("waited longer or shorter"), Figure(say("Waited"), "min", 0, 100_000)),
}
SLIPS = {
    "splatter": say("a splatter"),
    "run": say("a run"),
    "spider-web": say("a spider web"),
    "wrong-bottle": say("the wrong bottle"),
    "fingerprint": say("a fingerprint"),
    "dust": say("dust or a hair in it"),
    "missed": say("a place that was missed"),
    "too-much": say("too much there"),
    "wrong-side": say("the wrong side"),
    "scratch": say("a scratch"),
    "tip-dry": say("tip dry"),
    "lifted": say("lifted by the net or tape"),
}
# What is measured at a step.
FACTS = {
    "a_g": Figure(say("Part A"), "g", 0.001, 5000),
    "b_g": Figure(say("Part B"), "g", 0.001, 5000),
    "temperature_c": Figure(say("Temperature"), "°C", -20, 60),
    "humidity_percent": Figure(say("Humidity"), "%", 0, 100),
    "used_ml": Figure(say("Used"), "ml", 0, 5000),
}
# What becomes of a mix that is left over.
LEFTOVERS = {
    "jar": say("into a jar, with a label"),
    "next": say("it goes into the next step"),
    "waste": say("to the waste, as its label and local rules say"),
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
    layer: int = 0  # at which it went wrong, where that is not the step's
    place: str = ""  # on the bait, as a Spot is kept
    drop_ml: float = 0.0  # of a bottle that was not asked for
    by: str = ""  # the device that it was pressed on

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
    elif event.kind == "astray":
        return say_count(
            int(event.number or 0),
            "{count} drop of {bottle} that should not have fallen",
            "{count} drops of {bottle} that should not have fallen",
            bottle=event.note,
        )
    elif event.kind == "mend":
        words = say("mended")
    elif event.kind == "afresh":
        words = say("a new cup, the other given up")
    elif event.kind == "photo":
        words = say("a photo")
    elif event.kind == "left":
        words = say("left over, {what}", what=LEFTOVERS.get(event.what, ""))
    else:
        words, figure = DIFFERENT.get(event.what, ("", None))
    value = COLOURS.get(event.value, event.value)
    if event.kind in ("mend", "photo", "afresh"):
        value = ""
    elif event.kind == "left":
        value = quantity(event.number or 0.0, "g", "ml") if event.value else ""
    elif event.what == "bottle":
        value = ""  # its name stands in the note
    elif figure is not None and event.number is not None:
        value = quantity(event.number, "g", figure.unit)
    rest = listed((part for part in (value, event.note) if part), " ")
    words = capitalized(words)
    if event.bait >= 0:
        words = say("{what} on bait {bait}", what=words, bait=event.bait + 1)
    return say("{what}: {rest}", what=words, rest=rest) if rest else words
