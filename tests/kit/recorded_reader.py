"""A reader on a serial line, as it was once recorded: all that another device needs is one such file."""

import zlib

from diachrom.core.light.bands import WAVELENGTHS_NM
from diachrom.instruments.reader import ColourReader

LINES = [f"{nm:.0f} {0.2 + nm / 2000:.5f}" for nm in WAVELENGTHS_NM]
RECORDED = {
    "STATE": ["STATE ready 300"],
    "TILE": ["OK"],
    "READ": [f"SPECTRUM {len(LINES)}", *LINES, f"END {zlib.crc32(chr(10).join(LINES).encode('ascii')):08x}"],
}


class Recording:
    """The far end of the line."""

    def __init__(self):
        self.asked, self._answer = [], iter(())

    def send(self, line):
        self.asked.append(line)
        self._answer = iter(RECORDED[line])

    def receive(self):
        return next(self._answer)


class SerialReader:
    words, plugged = "The serial reader", True

    def __init__(self, line):
        self._client = ColourReader(self.words, line)
        self.state, self.calibrate = self._client.state, self._client.calibrate

    def plug(self, *, plugged):
        self.plugged = plugged

    def read(self, there):
        return self._client.read()  # what lies there it sees for itself
