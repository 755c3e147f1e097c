"""From plain words to a colour, and smooth spectra for many colours at once."""

import numpy as np
import pytest

from diachrom.core.light.bands import BANDS
from diachrom.core.light.colour_words import each_meant, entries, meant, modifiers, plain
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab, lch
from diachrom.core.light.lights import light
from diachrom.core.light.names import name
from diachrom.core.light.screen import hex_to_lab, shown
from diachrom.core.light.smooth import smooth_reflectances


def seen(words):
    """L*, C*, h as a screen shows what the words mean."""
    return lch(hex_to_lab(shown(meant(words).lab)[0].srgb))


# What painters mean: ranges of L*, C* and h (which may pass 360).
@pytest.mark.parametrize(
    ("words", "lightness", "chroma", "hue"),
    [
        ("yellow", (80, 100), (85, 140), (88, 97)),
        ("medium yellow", (75, 100), (70, 140), (80, 97)),
        ("magenta", (30, 70), (60, 140), (345, 365)),
        ("sepia", (25, 40), (8, 25), (50, 75)),
        ("burnt umber", (25, 38), (10, 40), (45, 65)),
        ("raw sienna", (45, 60), (30, 80), (65, 80)),
        ("bone", (85, 100), (8, 20), (80, 95)),
        ("mustard", (58, 72), (55, 100), (80, 92)),
        ("silver", (85, 100), (0, 5), (0, 360)),
        ("aluminum", (85, 100), (0, 5), (0, 360)),
        ("sand", (65, 90), (10, 40), (65, 95)),
        ("baby blue", (70, 92), (10, 40), (220, 265)),
        ("navy", (8, 28), (10, 60), (265, 300)),
        ("red oxide", (25, 45), (25, 60), (30, 52)),
        ("blood red", (20, 42), (40, 80), (15, 42)),
        ("tangerine", (60, 80), (60, 110), (52, 72)),
        ("lime", (70, 95), (60, 120), (110, 135)),
        ("fluorescent yellow", (90, 100), (80, 130), (98, 112)),
        ("olive", (35, 60), (20, 60), (90, 115)),
        ("dark olive", (20, 42), (10, 40), (90, 115)),
        ("teal", (30, 60), (15, 50), (180, 225)),
        ("Hellblau", (65, 90), (15, 50), (225, 265)),
        ("dunkelgruen", (15, 45), (15, 60), (130, 170)),
        ("olivbraun", (25, 55), (10, 50), (65, 100)),
        ("Weiße", (92, 100), (0, 5), (0, 360)),
    ],
)
def test_words_mean_what_painters_mean(words, lightness, chroma, hue):
    found = seen(words)
    for value, (low, high) in zip(found, (lightness, chroma, hue), strict=True):
        assert low <= value <= high or low <= value + 360 <= high, found


@pytest.mark.parametrize("word", ["olive", "orange", "turquoise", "violet", "pink", "brown", "red", "lemon"])
def test_the_colour_of_a_word_is_called_by_that_word(word):
    assert word in name(meant(word).lab)


def test_the_dictionary_is_large_and_german_stands_beside_english():
    assert len(entries()) > 1000
    german = {"gelb", "grun", "blaugrun", "schiefergrau", "meerschaum", "gebrannte umbra"}
    assert german <= set(entries())
    assert not {word for word in modifiers() if " " in word}


def test_modifiers_pull_towards_their_end():
    dark, usual, pale = (seen(words) for words in ("darker teal", "teal", "pale teal"))
    assert dark[0] < usual[0] - 5 < pale[0] - 15
    assert seen("dull blue")[1] < seen("strong blue")[1] - 12
    assert 30 < seen("warm grey")[2] < 110 < seen("cool grey")[2] < 290


def test_the_last_colour_is_the_colour_and_those_before_tinge_it():
    olive, brownish, brown = (meant(words).lab for words in ("olive", "brownish olive", "brown"))
    assert 2 < delta_e(brownish, olive) < delta_e(brown, olive)
    assert delta_e(meant("pale yellow-green").lab, meant("pale green yellow").lab) > 3
    assert meant("moss grey").words == ("moss", "grey")
    assert lch(meant("moss grey").lab)[1] < 12


def test_words_that_say_no_colour_say_none():
    for words in ("", "kritt", "dark", "🐟", "黒", "very strong", "x" * 5000):
        assert meant(words) is None, words
    assert "kritt" not in entries()


def test_a_bench_has_words_of_its_own_and_they_come_first():
    own = {"kritt": np.array([30.0, 0.0, 40.0]), "red": np.array([50.0, 10.0, 10.0])}
    assert meant("dark kritt", own).lab[0] < 30
    assert meant("RED", own).lab.tolist() == [50, 10, 10]
    assert plain("  Payne’s  GRAY ") == "paynes grey"


def test_several_colours_are_told_apart():
    assert [one.words for one in each_meant("violet to green")] == [("violet",), ("green",)]
    assert [one.words for one in each_meant("Blau/Gold und Rot")] == [("Blau",), ("Gold",), ("Rot",)]


def test_smooth_reflectances_give_back_their_colours_and_stay_between_nothing_and_all():
    chance = np.random.default_rng(4)
    labs = np.stack([hex_to_lab(f"#{value:06x}") for value in chance.integers(0, 1 << 24, 300)])
    found = smooth_reflectances(labs, under=light("D65"))
    assert found.shape == (300, BANDS)
    assert ((found >= 0) & (found <= 1)).all()
    assert delta_e(lab(found, under=light("D65")), labs).max() < 1e-3
