"""Sentences, figures, days: a plain English string to all who do not ask, told in the reader's language and units."""

import copy
import json
import pickle
from datetime import UTC, date, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st
from made_up_language import CODE, in_it, spoken
from markupsafe import escape

from diachrom import catalogues, words
from diachrom.store.said import every_kept, every_read, keep_said, read_said
from diachrom.units import FL_OZ_ML, INCH_MM, MIL_UM, PSI_BAR
from diachrom.words import (
    IMPERIAL,
    MARK,
    Quantity,
    Reader,
    capitalized,
    listed,
    quantity,
    quantity_range,
    reading,
    say,
    say_count,
    told,
    when,
)

AMERICAN = Reader(units="imperial", days="month")
COMMA = Reader(decimals="comma", days="year", currency="€")
DAY = date(2026, 9, 2)
SAID = [
    (quantity(84, "g", "ml"), "84 ml", "2.8 fl oz", "84 ml"),
    (quantity(0.61, ".2f", "ml"), "0.61 ml", "0.61 ml", "0,61 ml"),  # below a teaspoon
    (quantity_range(10, 20, "g", "ml"), "10 to 20 ml", "0.34 to 0.68 fl oz", "10 to 20 ml"),
    (Quantity((2, 8, 24), "g", "µm", "and"), "2, 8 and 24 µm", "0.08, 0.31 and 0.94 mil", "2, 8 and 24 µm"),
    (Quantity((64, 33), "g", "mm", "x"), "64 x 33 mm", "2.5 x 1.3 in", "64 x 33 mm"),
    (quantity(0.3, "g", "mm"), "0.3 mm", "0.3 mm", "0,3 mm"),  # a nozzle
    (quantity(1.5, "g", "bar"), "1.5 bar", "22 psi", "1,5 bar"),
    (quantity_range(15, 25, "g", "°C"), "15 to 25 °C", "59 to 77 °F", "15 to 25 °C"),
    (quantity(-5, "g", "°C"), "-5 °C", "23 °F", "-5 °C"),
    (quantity(8, "g", "m"), "8 m", "26 ft", "8 m"),
    (quantity(4.2, ".2f", "money"), "4.20 in your currency", "4.20 in your currency", "4,20 €"),
    (quantity(6.8, ".1f"), "6.8", "6.8", "6,8"),
    (quantity(1e-9, "g"), "1e-09", "1e-09", "1e-09"),
    (when(DAY), "2 September 2026", "September 2, 2026", "2026-09-02"),
    (when(DAY, "short day"), "2 Sep 2026", "Sep 2, 2026", "2026-09-02"),
    (
        when(datetime(2026, 9, 2, 18, 5, tzinfo=UTC), "short weekday, date and time"),
        *("Wed 2 Sep 2026, 18:05", "Wed, Sep 2, 2026, 18:05", "Wed 2026-09-02, 18:05"),
    ),
    (say("2 x {size}", size=quantity(30, "g", "ml")), "2 x 30 ml", "2 x 1.0 fl oz", "2 x 30 ml"),  # a count stays
    (say_count(1, "{count} drop", "{count} drops"), "1 drop", "1 drop", "1 drop"),
    (say_count(3, "{count} drop", "{count} drops"), "3 drops", "3 drops", "3 drops"),
    (listed(["30 ml of mine", quantity(30, "g", "ml")]), "30 ml of mine, 30 ml", "30 ml of mine, 1.0 fl oz", None),
    (listed(["a", "b", "c"], " and "), "a and b and c", "a and b and c", None),
    (capitalized(say("wet {film}", film=quantity(25, "g", "µm"))), "Wet 25 µm", "Wet 0.98 mil", "Wet 25 µm"),
]


@pytest.mark.parametrize(("said", "plain", "american", "comma"), SAID)
def test_a_figure_a_day_and_a_sentence_are_told_as_they_are_read(said, plain, american, comma):
    assert said == plain == str(said) == f"{said}" == escape(said)
    for reader, expected in ((AMERICAN, american), (COMMA, comma or plain)):
        assert told(said, reader) == expected
        with reading(reader):
            assert (str(said), f"{said}", escape(said)) == (expected, expected, expected)
            assert said == plain  # it stays what it is to those who compare it
    assert str(said) == plain


@pytest.mark.parametrize("said", [row[0] for row in SAID])
def test_what_is_kept_is_told_as_it_was_said(said):
    for again in (read_said(keep_said(said)), pickle.loads(pickle.dumps(said)), copy.deepcopy(said)):
        assert again == said
        assert told(again, AMERICAN) == told(said, AMERICAN)
    kept = json.loads(json.dumps(every_kept({"rows": [[said, 3, None]]})))
    assert every_read(kept)["rows"][0][0].tell(COMMA) == told(said, COMMA)
    assert json.loads(json.dumps([said])) == [said]  # what asks nothing gets the plain string


@pytest.mark.parametrize(
    "kept",
    [
        "{",
        "[1]",
        "null",
        '{"say": "x"}',
        '{"say": "{a.__class__}", "one": "", "figures": {"a": "x"}}',
        '{"say": "{a:>999999999}", "one": "", "figures": {"a": "x"}}',
        '{"say": "{b}", "one": "", "figures": {}}',
        '{"values": [1], "spec": ".999999999f", "unit": "", "joint": "to"}',
        '{"values": ["x"], "spec": "g", "unit": "", "joint": "to"}',
        '{"when": "yesterday", "form": "day"}',
        '{"when": "2026-09-02", "form": "%n"}',
        "[" * 100_000,
    ],
)
def test_what_is_damaged_or_meant_to_hurt_is_read_as_nothing(kept):
    assert read_said(MARK + kept) == ""


@given(st.text(max_size=40).filter(lambda text: not text.startswith(MARK)))
def test_what_people_wrote_and_what_was_kept_before_stands_as_it_is(text):
    assert read_said(text) == keep_said(text) == text
    assert str(say("{name} is here", name=text)) == f"{text} is here"
    assert told(say("{name}: {ml}", name=text, ml=quantity(60, "g", "ml")), AMERICAN) == f"{text}: 2.0 fl oz"


@given(st.floats(-1e4, 1e4), st.sampled_from(sorted(IMPERIAL)))
def test_a_figure_in_other_units_is_the_same_quantity(value, unit):
    exact = {
        "ml": value / FL_OZ_ML,
        "µm": value / MIL_UM,
        "bar": value / PSI_BAR,
        "mm": value / INCH_MM,
        "m": value / 0.3048,
        "cm²": value / 6.4516,
        "°C": 32 + 1.8 * value,
    }[unit]
    figure, _, other = told(quantity(value, ".3f", unit), AMERICAN).partition(" ")
    if other == unit:
        assert abs(value) < IMPERIAL[unit][2]
    else:
        assert other == IMPERIAL[unit][0]
        assert float(figure) == pytest.approx(exact, abs=0.5001 * 10.0 ** -len(figure.partition(".")[2]))


def test_a_catalogue_is_read_with_its_places_and_plurals(tmp_path):
    (tmp_path / "de.po").write_text(
        'msgid ""\nmsgstr "Plural-Forms: nplurals=2; plural=(n != 1);\\n"\n\n'
        'msgid "{count} drop of {name}"\nmsgid_plural "{count} drops of {name}"\n'
        'msgstr[0] "ein Tropfen {name}"\nmsgstr[1] "{count} Tropfen {name}"\n\n'
        'msgid "Poured on {day}"\nmsgstr "Gegossen am {day}"\n\nmsgid "not told yet"\nmsgstr ""\n',
        encoding="utf-8",
    )
    before, catalogues.LOCALES = catalogues.LOCALES, tmp_path
    catalogues.catalogue.cache_clear()
    try:
        german = Reader(language="de", decimals="comma")
        drops = [say_count(many, "{count} drop of {name}", "{count} drops of {name}", name="Rot") for many in (1, 4)]
        assert [told(one, german) for one in drops] == ["ein Tropfen Rot", "4 Tropfen Rot"]
        assert told(say("Poured on {day}", day=when(DAY)), german) == "Gegossen am 2. September 2026"
        assert told(say("not told yet"), german) == "not told yet"
    finally:
        catalogues.LOCALES = before
        catalogues.catalogue.cache_clear()


def test_each_sentence_of_the_catalogue_keeps_its_places_in_another_language(tmp_path):
    with spoken(tmp_path):
        other = catalogues.catalogue(CODE)
        assert len(other.forms) > 3000
        assert other.scripts["Now touch the tail."] == in_it("Now touch the tail.")
        for text, forms in other.forms.items():
            assert all(set(words.PLACE.findall(form)) <= set(words.PLACE.findall(text)) for form in forms), text
            assert words.TEXT.fullmatch(text), text  # no place reaches further than its figure
