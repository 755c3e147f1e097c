"""The colours that every printer makes, of three inks: full, and pale where half of the paper is left."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Ink:
    """A printed colour: the inks on each other, whether pale, and what a page prints it by."""

    inks: str  # of C, M, Y
    pale: bool
    rgb: str


INKS = {
    "cyan": Ink("C", False, "#00ffff"),
    "magenta": Ink("M", False, "#ff00ff"),
    "yellow": Ink("Y", False, "#ffff00"),
    "red": Ink("MY", False, "#ff0000"),
    "green": Ink("CY", False, "#00ff00"),
    "blue": Ink("CM", False, "#0000ff"),
    "pale-cyan": Ink("C", True, "#80ffff"),
    "pale-magenta": Ink("M", True, "#ff80ff"),
    "pale-yellow": Ink("Y", True, "#ffff80"),
    "pale-red": Ink("MY", True, "#ff8080"),
    "pale-green": Ink("CY", True, "#80ff80"),
    "pale-blue": Ink("CM", True, "#8080ff"),
}
