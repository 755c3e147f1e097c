"""One reader of figures for every form."""

import pytest

from diachrom.errors import InvalidInput
from diachrom.units import BAR, ML, MM
from diachrom.work.kit.figures import figure, whole


@pytest.mark.parametrize(
    ("text", "units", "value"),
    [
        ("2.5", None, 2.5),
        ("2,5", None, 2.5),
        (" 1 200,5 ", None, 1200.5),
        ("1.200,5", None, 1200.5),
        ("\u22123", None, -3.0),
        ("2 fl oz", ML, 59.147),
        ("3 l", ML, 3000.0),
        ("29 psi", BAR, 1.99948),
        ("4 in", MM, 101.6),
        ("0,125", None, 0.125),
    ],
)
def test_a_figure_is_read_as_people_write_it(text, units, value):
    assert figure(text, "Length", units=units) == pytest.approx(value, rel=1e-6)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "Length: '' is no number in mm, in."),
        ("1,234", "Length: '1,234' can be 1234 or 1.234: write which, without the comma."),
        ("5 miles", "Length: '5 miles' is no number in mm, in."),
        ("nan", "is no number"),
        ("1e999", "is no number"),
        ("9" * 80, "is no number"),
        ("0.5", "Length: 1 to 600 mm, not 0.5."),
        ("60 in", "Length: 1 to 600 mm, not 60 in."),
    ],
)
def test_what_is_none_is_said_at_its_field(text, said):
    with pytest.raises(InvalidInput) as refused:
        figure(text, "Length", key="length_mm", least=1, most=600, units=MM)
    assert said in str(refused.value)
    assert refused.value.field == "length_mm"


def test_a_whole_number_is_one():
    assert whole(" 12 ", "Drops") == 12
    assert whole("-3", "By", least=-9) == -3
    for text in ("", "1.5", "1,5", "twelve", "--3", "1" * 9):
        with pytest.raises(InvalidInput, match="Drops: a whole number"):
            whole(text, "Drops")
    with pytest.raises(InvalidInput, match="Drops: 2 to 200, not 500"):
        whole("500", "Drops", least=2, most=200)
