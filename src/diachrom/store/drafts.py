"""Drafts as they are kept: JSON out, and whatever was kept back in, brought within what can be counted."""

import json
import sqlite3
from dataclasses import asdict

from diachrom.core.mix import sound
from diachrom.core.mix.draft import Draft
from diachrom.core.mix.story import Verdict
from diachrom.store import bottles


def to_json(draft: Draft) -> str:
    """A draft as it is kept."""
    return json.dumps(asdict(draft))


def from_json(connection: sqlite3.Connection, text: str, known: set[int] | None = None) -> tuple[Draft, str]:
    """A draft, and what is wrong with what was kept of it, "" when nothing is. `known` are bottles that there are."""
    values = sound.parse_or_default(json.loads, text, None)
    return sound.draft(values, there=lambda ids: bottles.there(connection, ids) if known is None else known)


def verdict(values: object) -> Verdict | None:
    """None for what is none, or cannot be read."""
    if not isinstance(values, dict) or not isinstance(values.get("words"), str):
        return None
    return Verdict(values["words"][:80], str(values.get("source", ""))[:80], sound.triple(values.get("lab")))
