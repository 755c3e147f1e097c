"""A drop scale: grams on its pan, in hundredths."""

import time
from collections.abc import Callable

from diachrom.errors import InstrumentError
from diachrom.instruments.line import Garbled, Line, Refusals, refusal
from diachrom.words import say

REFUSALS: Refusals = {
    "overload": lambda **at: say(
        "{device} is overloaded: it carries up to {detail} g. Take the cup off and use a lighter one.", **at
    )
}
PATIENCE_S, EVERY_S = 4.0, 0.2


class DropScale:
    """Speaks to a scale over its line."""

    def __init__(self, name: str, line: Line, *, wait: Callable[[float], None] = time.sleep) -> None:
        self.name, self._line, self._wait = name, line, wait

    def tare(self) -> None:
        """What is on the pan counts as nothing from now on. Raises InstrumentError."""
        answer = self._ask("TARE")
        if answer != "OK":
            raise Garbled(self.name, answer[:40])

    def now(self) -> tuple[float, bool]:
        """Grams as it shows them, and whether they stand still. Raises InstrumentError."""
        parts = self._ask("WEIGH").split()
        try:
            return float(parts[1]), parts[2] == "stable"
        except (ValueError, IndexError):
            raise Garbled(self.name, " ".join(parts)[:40]) from None

    def weigh(self) -> float:
        """Grams once they stand still. Raises InstrumentError when they do not."""
        waited = 0.0
        while True:
            grams, stable = self.now()
            if stable:
                return grams
            if waited >= PATIENCE_S:
                raise InstrumentError(
                    say("{name} does not settle: keep draughts and hands off it.", name=self.name), field="device"
                )
            self._wait(EVERY_S)
            waited += EVERY_S

    def _ask(self, command: str) -> str:
        self._line.send(command)
        answer = self._line.receive()
        error = refusal(self.name, answer, REFUSALS)
        if error is not None:
            raise error
        return answer
