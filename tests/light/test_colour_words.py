"""From plain words to a colour, and smooth spectra for many colours at once."""

import numpy as np
import pytest

from diachrom.core.light.bands import BANDS
from diachrom.core.light.colour_words import colour_of, vocabulary
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab, lch
from diachrom.core.light.lights import light
from diachrom.core.light.names import name
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.light.smooth import smooth_reflectances


@pytest.mark.parametrize("word", ["olive", "orange", "turquoise", "violet", "pink", "brown", "red", "lemon"])
def test_the_colour_of_a_word_is_called_by_that_word(word):
    assert word in name(colour_of((word,)))


def test_modifiers_pull_towards_their_end():
    dark, plain, light_ = (lch(colour_of(words)) for words in (("dark", "green"), ("green",), ("light", "green")))
    assert dark[0] < plain[0] - 5 < light_[0] - 15
    assert lch(colour_of(("dull", "blue")))[1] < lch(colour_of(("strong", "blue")))[1] - 20


def test_words_that_mean_no_colour_together_mean_none():
    assert colour_of(("pink", "olive")) is None
    assert "kritt" not in vocabulary()
    assert {"olive", "grey", "gold", "dark"} <= vocabulary()


def test_smooth_reflectances_give_back_their_colours_and_stay_between_nothing_and_all():
    chance = np.random.default_rng(4)
    labs = np.stack([hex_to_lab(f"#{value:06x}") for value in chance.integers(0, 1 << 24, 300)])
    found = smooth_reflectances(labs, under=light("D65"))
    assert found.shape == (300, BANDS)
    assert ((found >= 0) & (found <= 1)).all()
    assert delta_e(lab(found, under=light("D65")), labs).max() < 1e-3
