"""What a connection has read already in the moment that it reads: asked for again it is not read again.

Values are shared by who asks; nobody changes them. While a connection writes nothing is remembered.
"""

import sqlite3
from collections.abc import Callable, Hashable, Iterable, Mapping
from functools import wraps
from typing import Any, Concatenate, ParamSpec, TypeAlias, TypeVar

Given = ParamSpec("Given")
Value = TypeVar("Value")
Key = TypeVar("Key", bound=Hashable)
Reads: TypeAlias = Callable[Concatenate[sqlite3.Connection, Given], Value]


def cached(read: Reads[Given, Value]) -> Reads[Given, Value]:
    """Decorates a function that reads: with the same arguments it is asked once in a moment."""

    @wraps(read)
    def cached_read(connection: sqlite3.Connection, /, *args: Given.args, **more: Given.kwargs) -> Value:
        memory: dict[Any, Any] | None = getattr(connection, "memory", None)
        if memory is None:
            return read(connection, *args, **more)
        what = (read, args, *more.items())
        if what not in memory:
            memory[what] = read(connection, *args, **more)
        value: Value = memory[what]
        return value

    return cached_read


def cached_many(
    connection: object, what: str, keys: Iterable[Key], read: Callable[[list[Key]], Mapping[Key, Value]]
) -> dict[Key, Value]:
    """Several of a kind, in the order asked for; those that are missing are read at once, and left out when there are
    none."""
    wanted = list(dict.fromkeys(keys))
    memory: dict[Any, Any] | None = getattr(connection, "memory", None)
    known: dict[Key, Value] = {} if memory is None else memory.setdefault(what, {})
    missing = [key for key in wanted if key not in known]
    if missing:
        known.update(read(missing))
    return {key: known[key] for key in wanted if key in known}
