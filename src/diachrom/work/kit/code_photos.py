"""The codes in a photo that somebody brings."""

from diachrom.exchange import codes


def read(name: str, content: bytes) -> list[str]:
    """What they say. Raises BadFile, Crowded."""
    return codes.read(name, content)
