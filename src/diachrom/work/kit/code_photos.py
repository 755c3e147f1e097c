"""The code in a photo that somebody brings."""

from diachrom.exchange import codes


def read(name: str, content: bytes) -> str:
    """What it says. Raises BadFile, Crowded."""
    return codes.read(name, content)
