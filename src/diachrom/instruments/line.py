"""The line between Diachrom and a device: text lines out, text lines in, as over a serial port. docs/instruments.md has
the words that are spoken over it."""

from typing import Protocol

from diachrom.errors import InstrumentError


class Unplugged(InstrumentError):
    def __init__(self, device: str) -> None:
        super().__init__(f"{device} is unplugged. What was read before is kept; plug it in and go on.", field="device")


class Garbled(InstrumentError):
    def __init__(self, device: str, why: str) -> None:
        super().__init__(
            f"{device} answered what cannot be read ({why}). Nothing was kept of it; read again.", field="device"
        )


class Line(Protocol):
    """A device at the other end. Either call raises Unplugged when there is none any more."""

    def send(self, line: str) -> None: ...

    def receive(self) -> str:
        """The next line of the answer. Raises Garbled when none comes."""
        ...


def refusal(device: str, answer: str, words: dict[str, str]) -> InstrumentError | None:
    """The error that an answer "ERR code detail" stands for; None when it is no error."""
    if not answer.startswith("ERR "):
        return None
    code, _, detail = answer.removeprefix("ERR ").partition(" ")
    sentence = words.get(code, f"{{device}} answered '{code}'.").format(device=device, detail=detail)
    return InstrumentError(sentence, field="device")
