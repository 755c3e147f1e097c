"""The codes in a photo that somebody brings, and what they stand for."""

import re
from dataclasses import dataclass

from diachrom.exchange import codes
from diachrom.exchange.codes import Code

SORTS = ("bottles", "recipes", "test-cards", "contrast-cards", "shelf-sheets", "bench", "log", "orders", "plan")


@dataclass(frozen=True)
class Place:
    """The page that a label or a card was printed for."""

    sort: str
    number: int
    rest: str = ""  # of the address

    @property
    def path(self) -> str:
        """Of its page."""
        return f"/{self.sort}/{self.number}{self.rest}"


def read(name: str, content: bytes) -> list[str]:
    """What they say. Raises BadFile, Crowded."""
    return codes.read(name, content)


def seen(name: str, content: bytes) -> list[Code]:
    """Where they are; those too that could not be read. Raises BadFile, Crowded."""
    return codes.seen(name, content)


def place_of(text: str) -> Place | None:
    """Where a code leads, whatever address it was printed with; None for what is no page of ours."""
    path = re.sub(r"^[a-z]+://[^/]*", "", text) if "://" in text else text.strip().replace(" ", "/")
    found = re.fullmatch(rf"/?({'|'.join(SORTS)})/(\d{{1,9}})(/[a-z-]{{1,20}})?", path.partition("?")[0])
    return Place(found[1], int(found[2]), found[3] or "") if found else None
