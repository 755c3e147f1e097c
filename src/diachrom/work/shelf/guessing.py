"""A guess at a paint, from a form or from a document."""

from collections.abc import Mapping
from dataclasses import replace

from diachrom.core.film.flakes import Mica
from diachrom.core.film.kinds import KINDS
from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.colour_words import Own, meant
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.profiles.guess import guess
from diachrom.core.profiles.guess_basis import SEEN_WORDS, ToGuess
from diachrom.core.shelf.named import named, of_mica
from diachrom.errors import InvalidInput
from diachrom.words import listed, say

# How a swatch over black and white looks: contrast ratio of three light coats, and its words.
HIDING = {
    "0.1": say("like glass"),
    "0.3": say("a veil"),
    "0.55": say("half"),
    "0.8": say("nearly"),
    "0.97": say("altogether"),
}


MICAS: Mapping[str, Mica] = {"coloured": "coloured", "interference": "interference"}


def to_guess(
    name: str, kind: str, lab: Floats | None, *, mica: Mica | None = None, glows: Floats | None = None
) -> ToGuess:
    """What is known of a paint, of which the name tells what flakes and glow leave open."""
    if kind not in ("pearl", "shift", "glow"):
        return ToGuess(name, kind, lab)
    said = named(name)
    return ToGuess(
        name,
        kind,
        lab,
        mica=(mica or of_mica(name)) if kind == "pearl" else None,
        turns_to=said.turns_to if kind == "shift" else None,
        glows=(said.glows if glows is None else glows) if kind == "glow" else None,
    )


def wanted(name: str, kind: str, given: Mapping[str, str], own: Own | None = None) -> tuple[ToGuess, str]:
    """What a form says of a paint, in its fields colour (#rrggbb or words), seen, hides, mica and glow, and where it
    came from in words; what the form leaves open the name tells. `own` are words that the bench has learned.

    Raises InvalidInput, naming the field.
    """
    colour, seen, hides = (given.get(key, "").strip() for key in ("colour", "seen", "hides"))
    lab = _meant(colour, own)
    if colour and lab is None:
        raise InvalidInput(
            say("'{colour}' is no colour: write it as #rrggbb or in words.", colour=colour[:20]), field="colour"
        )
    if not colour and KINDS[kind].guess == "pigment":
        lab = named(name, own).lab
    known = next((key for key in SEEN_WORDS if key == seen), None)
    if seen and known is None:
        raise InvalidInput(say("A colour cannot be seen '{seen}'.", seen=seen[:20]), field="seen")
    if hides and hides not in HIDING:
        raise InvalidInput(
            say("How it hides is one of {hiding}, not '{hides}'.", hiding=listed(HIDING), hides=hides[:20]),
            field="hides",
        )
    where = SEEN_WORDS[known] if known and colour else ""
    glow, mica = given.get("glow", "").strip(), given.get("mica", "").strip()
    glows = _meant(glow, own)
    if glow and glows is None:
        raise InvalidInput(
            say("'{colour}' is no colour: write it as #rrggbb or in words.", colour=glow[:20]), field="glow"
        )
    source = listed(
        filter(None, [colour or say("kind"), where, say("hides {how}", how=HIDING[hides]) if hides else ""])
    )
    told = to_guess(name, kind, lab, mica=MICAS.get(mica), glows=glows)
    told = replace(told, seen=known, hides=float(hides) if hides else None)
    return told, say("guessed from {source}", source=source)


def _meant(text: str, own: Own | None) -> Floats | None:
    """#rrggbb, or the words of a colour."""
    point = hex_to_lab(text) if text else None
    if point is None and text and not text.startswith("#"):
        found = meant(text, own)
        point = None if found is None else found.lab
    return point


def profile(name: str, kind: str, given: Mapping[str, str]) -> tuple[Paint, str]:
    """The paint that a form's colour stands for, and where it came from. Raises InvalidInput."""
    told, source = wanted(name, kind, given)
    return guess([told])[0], source
