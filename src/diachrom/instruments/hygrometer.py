"""A thermo-hygrometer: the temperature and the relative humidity of the air around it."""

from diachrom.instruments.line import Garbled, Line, Refusals, refusal
from diachrom.words import say

REFUSALS: Refusals = {
    "settling": lambda **at: say("{device} still feels the hand that held it: {detail} s to go.", **at)
}


class Hygrometer:
    """Speaks to a thermo-hygrometer over its line."""

    def __init__(self, name: str, line: Line) -> None:
        self.name, self._line = name, line

    def air(self) -> tuple[float, float]:
        """°C, and % relative humidity. Raises InstrumentError."""
        self._line.send("AIR")
        answer = self._line.receive()
        error = refusal(self.name, answer, REFUSALS)
        if error is not None:
            raise error
        try:
            word, temperature, humidity = answer.split()
            found = float(temperature), float(humidity)
        except ValueError:
            raise Garbled(self.name, answer[:40]) from None
        if word != "AIR" or not (-40 <= found[0] <= 80 and 0 <= found[1] <= 100):
            raise Garbled(self.name, answer[:40])
        return found
