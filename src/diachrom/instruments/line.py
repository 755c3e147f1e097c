"""The line between Diachrom and a device: text lines out, text lines in, as over a serial port. docs/instruments.md has
the words that are spoken over it."""

from collections.abc import Callable, Mapping
from typing import Protocol

from diachrom.errors import InstrumentError
from diachrom.words import say


class Unplugged(InstrumentError):
    def __init__(self, device: str) -> None:
        super().__init__(
            say("{device} is unplugged. What was read before is kept; plug it in and go on.", device=device),
            field="device",
        )


class Garbled(InstrumentError):
    def __init__(self, device: str, why: str) -> None:
        super().__init__(
            say(
                "{device} answered what cannot be read ({why}). Nothing was kept of it; read again.",
                device=device,
                why=why,
            ),
            field="device",
        )


class Line(Protocol):
    """A device at the other end. Either call raises Unplugged when there is none any more."""

    def send(self, line: str) -> None: ...

    def receive(self) -> str:
        """The next line of the answer. Raises Garbled when none comes."""
        ...


Refusals = Mapping[str, Callable[..., str]]


def refusal(device: str, answer: str, words: Refusals) -> InstrumentError | None:
    """The error that an answer "ERR code detail" stands for; None when it is no error."""
    if not answer.startswith("ERR "):
        return None
    code, _, detail = answer.removeprefix("ERR ").partition(" ")
    told = words.get(code)
    sentence = (
        told(device=device, detail=detail) if told else say("{device} answered '{code}'.", device=device, code=code)
    )
    return InstrumentError(sentence, field="device")
