"""A colour as a person types it."""

import re

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.light.screen import hex_to_lab
from diachrom.errors import InvalidInput
from diachrom.words import say
from diachrom.work.kit.figures import number


def typed_colour(text: str) -> tuple[Floats, str]:
    """Text -> (3,) Lab, and whether it was "hex" or "Lab". Raises InvalidInput."""
    point = hex_to_lab(text.strip())
    if point is not None:
        return point, "hex"
    plain = re.sub(r"[Lab]\*?\s*[=:]?", " ", text).strip()
    parts = [part for part in re.split(r"[\s;]+|,(?=\s)", plain) if part]
    if len(parts) == 1:
        parts = plain.split(",")
    try:
        values = [number(part) for part in parts]
    except ValueError:
        values = []
    if len(values) != 3 or not 0 <= values[0] <= 100 or max(abs(values[1]), abs(values[2])) > 160:
        raise InvalidInput(
            say("'{words}' is no colour: write its words, #rrggbb, or L a b such as 52 10 -8.", words=text[:40]),
            field="typed",
        )
    return np.array(values), "Lab"
