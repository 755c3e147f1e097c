"""A real scale on a serial line: it sends what it shows again and again, in one of two forms that its lines tell."""

import re
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import dataclass

import serial
from serial.tools import list_ports

from diachrom.errors import InstrumentError
from diachrom.instruments.line import Garbled, Unplugged
from diachrom.words import say

NAME = say("The scale")
SPEEDS = (1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200)  # baud; 8 bits, no parity, one stop
GRAMS = {"g": 1.0, "kg": 1000.0, "mg": 0.001, "ct": 0.2, "oz": 28.349523125, "lb": 453.59237}
# "ST,GS,+00012.34  g": whether it stands still goes before the weight.
STATUS = re.compile(
    r"(?P<status>ST|QT|S|US|SD|D|OL)[ ,]+(?:(?:GS|NT|TR|[GN])[ ,]+)?"
    r"(?P<sign>[+-]?) *(?P<number>\d[\d.]*) *(?P<unit>[a-z]+)?",
    re.IGNORECASE,
)
# "N     +  12.34 g  ": the unit is there once it stands still.
BARE = re.compile(r"(?:[A-Z]\w{0,5} +)?(?P<sign>[+-]?) *(?P<number>\d[\d.]*) *(?P<unit>[a-z]+)?", re.IGNORECASE)
OVER = re.compile(r"(?:OL\b.*|-*(?:H|HIGH|\^+|OVER\w*)-*|S?\+)", re.IGNORECASE)
PULLED: tuple[type[Exception], ...] = (serial.SerialException, OSError)
with suppress(ImportError):  # where lines are files
    import termios

    PULLED += (termios.error,)
LONGEST_HELD = 4096  # bytes without an end of a line
LINE_S, SILENT_S, PATIENCE_S = 0.25, 2.0, 5.0
STILL = ("ST", "QT", "S")


@dataclass(frozen=True)
class Shown:
    """What a line says."""

    grams: float
    still: bool


def read_line(line: str) -> Shown | None:
    """What one line of a scale says; None for what is no weight. Raises InstrumentError above what it carries."""
    text = line.strip("\x02\x03\x00 \t")
    if OVER.fullmatch(text):
        raise InstrumentError(say("{name} is overloaded: take something off it.", name=NAME), field="device")
    found = STATUS.fullmatch(text)
    still = found is not None and found["status"].upper() in STILL
    if found is None:
        found = BARE.fullmatch(text)
        still = found is not None and found["unit"] is not None
    if found is None or found["number"].count(".") > 1:
        return None
    unit = (found["unit"] or "g").lower()
    if unit not in GRAMS or (still and found["unit"] is None):
        return None
    return Shown(float(f"{found['sign']}{found['number']}") * GRAMS[unit], still)


def ports() -> list[tuple[str, str]]:
    """The serial lines of this machine: each with what it is called."""
    return sorted((one.device, one.description or one.device) for one in list_ports.comports())


class SerialScale:
    """Reads what the scale sends; what lies on it when it is tared counts as nothing from then on, here alone."""

    words = NAME
    simulated = False

    def __init__(self, port: str, speed: int, *, clock: Callable[[], float] = time.monotonic) -> None:
        self.port, self.speed, self._clock = port, speed, clock
        self._line: serial.Serial | None = None
        self._zero = 0.0
        self._lock = threading.RLock()

    @property
    def plugged(self) -> bool:
        """Whether its line can be opened."""
        with self._lock, suppress(InstrumentError):
            self._opened()
            return True
        return False

    def plug(self, *, plugged: bool) -> None:
        """A real plug is pulled by hand; this lets its line go, or takes it."""
        with self._lock:
            if plugged:
                self._opened()
            else:
                self.close()

    def close(self) -> None:
        """Let its line go."""
        with self._lock:
            if self._line is not None:
                with suppress(OSError):
                    self._line.close()
            self._line = None

    def tare(self) -> None:
        """Raises InstrumentError."""
        with self._lock:
            grams = self.weigh()  # which may open the line anew, and with it begin at its own zero
            self._zero += grams

    def now(self) -> tuple[float, bool]:
        """Grams as it shows them, and whether they stand still. Raises InstrumentError."""
        with self._lock:
            found = next(self._weights())
            return found.grams - self._zero, found.still

    def weigh(self) -> float:
        """Grams once they stand still, by two lines that say the same. Raises InstrumentError when they do not."""
        with self._lock:
            begun, before = self._clock(), None
            for found in self._weights():
                if found.still and found == before:
                    return found.grams - self._zero
                before = found
                if self._clock() - begun > PATIENCE_S:
                    break
        raise InstrumentError(
            say(
                "{name} does not settle, or sends no unit: keep draughts and hands off it, and set it to grams.",
                name=NAME,
            ),
            field="device",
        )

    def let_fall(self, there: object) -> None:
        """Nothing here lets drops fall."""
        raise InstrumentError(say("Let the drops fall by hand, then press Weigh."), field="device")

    def _weights(self) -> Iterator[Shown]:
        """What it shows from now on, line by line. Raises Unplugged, Garbled, InstrumentError."""
        line, begun, odd = self._opened(), self._clock(), ""
        try:
            line.reset_input_buffer()  # what lies on it now, not what lay on it
            for text in _lines(line):
                found = read_line(text) if text else None
                if found is not None:
                    begun = self._clock()
                    yield found
                odd = text or odd
                if self._clock() - begun > SILENT_S:
                    break
        except PULLED as error:
            self.close()
            raise Unplugged(NAME) from error
        if odd:
            raise Garbled(NAME, "".join(sign if sign.isprintable() else "·" for sign in odd[:20]))
        raise InstrumentError(
            say("{name} sends nothing: switch it on, and set it to send what it shows all the time.", name=NAME),
            field="device",
        )

    def _opened(self) -> serial.Serial:
        if self._line is None:
            try:
                self._line = serial.Serial(self.port, self.speed, timeout=LINE_S, exclusive=True)
            except (serial.SerialException, OSError, ValueError) as error:
                raise Unplugged(NAME) from error
            self._zero = 0.0
        return self._line


def _lines(line: serial.Serial) -> Iterator[str]:
    """Whole lines, however they end; "" where none came for a moment. The first is cut, and left out."""
    held, whole = b"", False
    while True:
        came = line.read(max(1, line.in_waiting))
        *ended, held = re.split(rb"[\r\n]+", (held + came)[-LONGEST_HELD:])
        for one in ended if whole else ended[1:]:
            yield one.decode("latin-1")
        whole = whole or bool(ended)
        if not ended:
            yield ""
