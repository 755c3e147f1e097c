"""A real scale on a serial line: two forms told by their lines, and whatever else comes over it said in a sentence."""

import pytest
from serial_line import SerialLine

from diachrom.errors import InstrumentError
from diachrom.instruments.serial_scale import SerialScale, Shown, read_line

KINDS = {
    "status first": ("ST,GS,+00012.34  g\r\n", "US,GS,+00012.61  g\r\n"),
    "the unit once it stands still": ("N     +   12.34 g  \r\n", "N     +   12.61    \r\n"),
    "ended by a carriage return alone": ("+   12.34 g\r", "+   12.61  \r"),
}


@pytest.fixture
def line():
    with SerialLine() as line:
        yield line


@pytest.mark.parametrize(
    ("text", "shown"),
    [
        ("ST,GS,+00012.34  g", (12.34, True)),
        ("US,NT,-  0.05 g", (-0.05, False)),
        ("S S     12.340 g", None),
        ("S     12.340 g", (12.34, True)),
        ("SD    12.340 g", (12.34, False)),
        ("+   12.34 g", (12.34, True)),
        ("-  12.34", (-12.34, False)),
        ("N     +    0.00 g", (0.0, True)),
        ("  1.2345 kg", (1234.5, True)),
        ("0.5 oz", (14.17476, True)),
        ("ST,GS,+12.3", None),  # of what?
        ("12.3 bananas", None),
        ("1.2.3 g", None),
        ("GET / HTTP/1.1", None),
        ("", None),
    ],
)
def test_a_line_tells_its_form(text, shown):
    found = read_line(text)
    assert found == (None if shown is None else Shown(pytest.approx(shown[0], abs=1e-4), shown[1]))


@pytest.mark.parametrize("text", ["OL,GS,+9999.99 g", "OL", "H", "--HIGH--", "S+"])
def test_above_what_it_carries_it_is_said(text):
    with pytest.raises(InstrumentError, match="overloaded"):
        read_line(text)


@pytest.mark.parametrize("kind", KINDS)
def test_both_forms_are_read_once_they_stand_still_and_tared_here(line, kind):
    still, moving = KINDS[kind]
    line.send(moving)
    scale = SerialScale(line.port, 9600)
    assert scale.now() == (12.61, False)
    line.send(still)
    assert scale.weigh() == 12.34
    scale.tare()
    assert scale.weigh() == 0
    line.send(still.replace("12.34", "14.59"))
    assert scale.weigh() == pytest.approx(2.25)
    scale.close()


def test_what_never_settles_is_silent_or_is_no_scale_is_each_said(line, monkeypatch):
    monkeypatch.setattr("diachrom.instruments.serial_scale.PATIENCE_S", 0.6)
    monkeypatch.setattr("diachrom.instruments.serial_scale.SILENT_S", 0.6)
    scale = SerialScale(line.port, 9600)
    with pytest.raises(InstrumentError, match="sends nothing"):
        scale.weigh()
    line.send("US,GS,+00012.61  g\r\n")
    with pytest.raises(InstrumentError, match="does not settle"):
        scale.weigh()
    line.send("\x00\xff\x13 noise 7\r\n")
    with pytest.raises(InstrumentError, match="cannot be read"):
        scale.weigh()
    line.send("ÿ" * 50)  # never an end of a line
    with pytest.raises(InstrumentError, match="sends nothing"):
        scale.now()
    line.send("OL\r\n")
    with pytest.raises(InstrumentError, match="overloaded"):
        scale.weigh()
    scale.close()


def test_pulled_out_in_the_middle_it_is_said_and_plugged_in_again_it_goes_on(line):
    line.send("ST,GS,+00003.00  g\r\n")
    scale = SerialScale(line.port, 9600)
    assert scale.weigh() == 3
    line.pull()
    for ask in (scale.weigh, scale.now, scale.tare):
        with pytest.raises(InstrumentError, match="is unplugged"):
            ask()
    assert not scale.plugged
    line.plug()
    line.send("ST,GS,+00004.00  g\r\n")
    assert scale.weigh() == 4
    scale.close()
    with pytest.raises(InstrumentError, match="is unplugged"):
        SerialScale("/dev/nothing-is-called-so", 9600).now()
