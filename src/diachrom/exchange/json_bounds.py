"""How much a JSON document may hold, counted before any of it is made: keys and lists take many times their text."""

import re

import numpy as np

from diachrom.errors import BadFile
from diachrom.words import say

MOST_KEYS, MOST_LISTS, MOST_VALUES, DEEPEST = 250_000, 100_000, 600_000, 40
STRING = re.compile(rb'"(?:[^"\\]|\\.)*"')


def check_json(name: str, content: bytes) -> None:
    """Raises BadFile. What is no JSON passes: that is found by who reads it."""
    signs = np.frombuffer(STRING.sub(b"", content), dtype=np.uint8)
    opens, closes = (signs == 0x7B) | (signs == 0x5B), (signs == 0x7D) | (signs == 0x5D)
    depth = np.cumsum(opens.astype(np.int8) - closes.astype(np.int8), dtype=np.int32)
    keys, lists, values = int((signs == 0x3A).sum()), int(opens.sum()), int((signs == 0x2C).sum())
    if len(depth) and depth.max() > DEEPEST:
        raise BadFile(name, say("it is more than {deepest} brackets deep: refused.", deepest=DEEPEST))
    for many, most, what in ((keys, MOST_KEYS, "keys"), (lists, MOST_LISTS, "lists"), (values, MOST_VALUES, "values")):
        if many > most:
            raise BadFile(
                name, say("it holds {number} {what}; at most {most} are read.", number=many, what=what, most=most)
            )
