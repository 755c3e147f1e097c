"""Answer a read-list document: bottles as somebody wrote them down, a line each."""

from typing import Literal

from pydantic import Field

from diachrom.core.film.kinds import KINDS
from diachrom.core.profiles.guess_basis import Seen
from diachrom.core.shelf.bottle_list import ListedBottle, each_line, srgb
from diachrom.core.shelf.named import ColourFrom
from diachrom.errors import InvalidInput
from diachrom.words import say
from diachrom.work.kit.documents import Document

MOST_LINES, LONGEST_TEXT = 1000, 200_000


class ReadListRequest(Document):
    """A list of bottles as somebody wrote it."""

    text: str = Field(max_length=LONGEST_TEXT, description="a bottle to a line")


class ReadBottle(Document):
    """A line as it is read. It goes into a guess document as it is."""

    line: int = Field(description="counted from 1 over all lines, blank ones too")
    name: str = Field(description="its first piece, without the size")
    kind: Literal[tuple(KINDS)]  # type: ignore[valid-type]
    size_ml: float | None = Field(description="ml; null where the line says none")
    size_g: float | None = Field(description="of a powder, g")
    srgb: str | None = Field(description="of glow by day; of what flakes head-on over black; null of what has none")
    glow_srgb: str | None = Field(description="of glow, in the dark")
    seen: Seen = Field(description="where `srgb` is seen, in the words of a guess document")
    colour_from: ColourFrom = Field(description="what said the colour")


class ReadListAnswer(Document):
    """An entry for each line that is not blank, in their order."""

    bottles: list[ReadBottle] = Field(description="as they are read")


def answer(request: ReadListRequest) -> ReadListAnswer:
    """Raises InvalidInput where there are more lines than can be read at a time."""
    found = each_line(request.text)
    if len(found) > MOST_LINES:
        raise InvalidInput(
            say("A list has at most {most} lines at a time, not {count}.", most=MOST_LINES, count=len(found)),
            field="text",
        )
    return ReadListAnswer(bottles=[_entry(one) for one in found])


def _entry(one: ListedBottle) -> ReadBottle:
    return ReadBottle(
        line=one.line,
        name=one.name,
        kind=one.kind,
        size_ml=one.size_ml,
        size_g=one.size_g,
        srgb=one.colour or None,
        glow_srgb=srgb(one.said.glows) or None,
        seen="black-glance" if KINDS[one.kind].flakes else "white",
        colour_from=one.said.colour_from,
    )
