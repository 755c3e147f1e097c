"""What a connection has read already in the moment that it reads: asked for again it is not read again.

Values are shared by who asks; nobody changes them. While a connection writes nothing is remembered.
"""

from collections.abc import Callable, Hashable, Iterable, Mapping
from typing import Any, TypeVar

Value = TypeVar("Value")
Key = TypeVar("Key", bound=Hashable)


def once(connection: object, what: Hashable, read: Callable[[], Value]) -> Value:
    """A single thing."""
    memory: dict[Any, Any] | None = getattr(connection, "memory", None)
    if memory is None:
        return read()
    if what not in memory:
        memory[what] = read()
    found: Value = memory[what]
    return found


def each(
    connection: object, what: str, keys: Iterable[Key], read: Callable[[list[Key]], Mapping[Key, Value]]
) -> dict[Key, Value]:
    """Several of a kind, in the order asked for; those that are missing are read at once, and left out when there are
    none."""
    wanted = list(dict.fromkeys(keys))
    known: dict[Key, Value] = once(connection, what, dict)
    missing = [key for key in wanted if key not in known]
    if missing:
        known.update(read(missing))
    return {key: known[key] for key in wanted if key in known}
