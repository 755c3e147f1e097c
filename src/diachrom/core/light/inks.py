"""The colours that every printer makes, of three inks: full, and pale where half of the paper is left."""

from dataclasses import dataclass

from diachrom.words import say


@dataclass(frozen=True)
class Ink:
    """A printed colour: the inks on each other, whether pale, and what a page prints it by."""

    inks: str  # of C, M, Y
    pale: bool
    rgb: str
    words: str


INKS = {
    "cyan": Ink("C", False, "#00ffff", say("cyan")),
    "magenta": Ink("M", False, "#ff00ff", say("magenta")),
    "yellow": Ink("Y", False, "#ffff00", say("yellow")),
    "red": Ink("MY", False, "#ff0000", say("red")),
    "green": Ink("CY", False, "#00ff00", say("green")),
    "blue": Ink("CM", False, "#0000ff", say("blue")),
    "pale-cyan": Ink("C", True, "#80ffff", say("pale cyan")),
    "pale-magenta": Ink("M", True, "#ff80ff", say("pale magenta")),
    "pale-yellow": Ink("Y", True, "#ffff80", say("pale yellow")),
    "pale-red": Ink("MY", True, "#ff8080", say("pale red")),
    "pale-green": Ink("CY", True, "#80ff80", say("pale green")),
    "pale-blue": Ink("CM", True, "#8080ff", say("pale blue")),
}
