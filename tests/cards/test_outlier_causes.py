"""A card that fits nothing, and the likeliest reason."""

from dataclasses import replace

import pytest
from test_residual_causes import PAINTS_HERE, PROFILES, sprayed

from diachrom.core.cards.outlier_causes import reason

OTHERS = [*PAINTS_HERE, PROFILES["rav-fjord"], PROFILES["torv-hav"], PROFILES["tynn-reducer"]]


def test_four_times_the_coats_are_told_as_coats():
    found = reason(sprayed(PAINTS_HERE, film=4.0), OTHERS)
    assert found.key == "coats"
    assert found.film == pytest.approx(4, rel=0.1)


def test_a_red_that_settled_is_told_as_not_shaken():
    weak = replace(
        PAINTS_HERE[2], absorption=0.15 * PAINTS_HERE[2].absorption, scattering=0.15 * PAINTS_HERE[2].scattering
    )
    found = reason(sprayed([*PAINTS_HERE[:2], weak]), OTHERS)
    assert (found.key, found.paint) == ("not shaken", 2)
    assert found.left < 1


def test_a_blue_poured_for_a_red_is_told_as_the_wrong_bottle():
    found = reason(sprayed([*PAINTS_HERE[:2], PROFILES["torv-hav"]]), OTHERS)
    assert (found.key, found.paint, found.instead) == ("wrong bottle", 2, 4)
    assert found.left < 1


def test_a_reading_of_something_else_altogether_has_no_reason():
    card = sprayed(PAINTS_HERE)
    odd = replace(card, patches=[replace(one, lab=one.lab * [1, -3, -3]) for one in card.patches])
    assert reason(odd, OTHERS[:3]) is None
