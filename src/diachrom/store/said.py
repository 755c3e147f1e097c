"""What the program said, as the store keeps it: as a key with its figures, so that it is told in the language of whom
a page is for."""

import json
from collections.abc import Mapping
from dataclasses import fields, is_dataclass, replace
from functools import lru_cache
from typing import Any

from diachrom.words import MARK, Told, of_kept

SHORT = 400  # characters of what is read once and for all


def keep_said(value: str) -> str:
    """As the store keeps what the program said: key and figures; what people wrote, as it stands."""
    return MARK + json.dumps(value.kept(), ensure_ascii=False) if isinstance(value, Told) else value


def every_kept(value: Any) -> Any:
    """The same for all that is in what is written as JSON."""
    if isinstance(value, Mapping):
        return {key: every_kept(one) for key, one in value.items()}
    if isinstance(value, list | tuple):
        return [every_kept(one) for one in value]
    return keep_said(value) if isinstance(value, str) else value


def read_said(text: str) -> str:
    """What was kept; what is none of it is a plain string as it stands. What is damaged, or meant to hurt, is empty."""
    if not text.startswith(MARK):
        return text
    return _read_often(text) if len(text) < SHORT else _read_marked(text)


def _read_marked(text: str) -> str:
    try:
        return of_kept(json.loads(text[1:]))
    except (ValueError, TypeError, LookupError, ArithmeticError, RecursionError):
        return ""


_read_often = lru_cache(8192)(_read_marked)  # what is said does not change, and a log says the same again and again


def every_read(value: Any) -> Any:
    """The same for all that is in a document, or in dataclasses and tuples made of one."""
    if isinstance(value, str):
        return read_said(value)
    if isinstance(value, Mapping):
        return {key: every_read(one) for key, one in value.items()}
    if isinstance(value, list | tuple):
        return type(value)(every_read(one) for one in value)
    if is_dataclass(value) and not isinstance(value, type):
        return replace(value, **{one.name: every_read(getattr(value, one.name)) for one in fields(value)})
    return value
