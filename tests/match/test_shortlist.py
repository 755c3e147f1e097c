"""A shelf of hundreds: few of its paints are looked at closely, and they are the right ones."""

import numpy as np
import pytest

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.lights import light
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.match.search import Search
from diachrom.core.match.shortlist import MANY, shortlist
from diachrom.core.mix.where import ALL_ANGLES, DIFFUSE, Where
from diachrom.core.profiles.guess import guess
from diachrom.core.profiles.guess_basis import ToGuess

KINDS = ("opaque", "transparent", "transparent", "candy", "ink")
WHITE = Where(GROUNDS["white"], 16.0, CLEARED, light("D65"))


@pytest.fixture(scope="module")
def many():
    """Three hundred paints without flakes, and thirty with them."""
    chance = np.random.default_rng(5)
    kinds = [KINDS[chance.integers(len(KINDS))] for _ in range(300)]
    plain = guess([ToGuess("", kind, hex_to_lab(f"#{chance.integers(1 << 24):06x}")) for kind in kinds])
    few = guess([ToGuess("", "pearl", hex_to_lab(one)) for one in ("#4060c0", "#c0a040", "#c04070")])
    return [*plain, *few * 10]


def made(target, paints, where=WHITE, **more):
    how = {"most_paints": 4, "most_drops": 24, "dilution": 0.3, **more}
    return Search(target, paints, [0.05] * len(paints), where, **how)


def test_a_recipe_hidden_among_hundreds_is_found_again(many):
    chance = np.random.default_rng(2)
    some = sorted(chance.choice(300, 4, replace=False).tolist())
    hidden = tuple(zip(some, chance.integers(1, 7, 4).tolist(), strict=True))
    (aim,) = made(np.zeros(3), many).judge.exactly([hidden])
    steps = list(made(aim.labs, many[:300]).steps())
    assert len(steps) > 2
    assert steps[-1].matches[0].delta_e < 0.3


@pytest.mark.sweep
@pytest.mark.parametrize("target", [(45.0, 30.0, 40.0), (15.0, -60.0, 60.0)], ids=["within reach", "out of it"])
def test_it_comes_as_near_as_a_search_over_all(many, target):
    paints = many[:80]
    *_, listed = made(np.array(target), paints).steps()
    *_, whole = made(np.array(target), paints, many=1000).steps()
    assert listed.matches[0].delta_e <= whole.matches[0].delta_e + 0.05
    assert listed.evaluated < whole.evaluated


def test_what_is_to_be_in_every_mix_is_and_places_are_those_of_the_whole_shelf(many):
    search = made(np.array([50.0, 20.0, 30.0]), many[:300], kept_in=(299,))
    *_, found = search.steps()
    assert all(299 in dict(one.parts) for one in found.matches)
    (again,) = made(np.array([50.0, 20.0, 30.0]), many[:300]).judge.exactly([found.matches[0].parts])
    assert again.delta_e == pytest.approx(found.matches[0].delta_e)


@pytest.mark.parametrize("views", [DIFFUSE, ALL_ANGLES], ids=["without a direction", "at five angles"])
def test_the_list_is_short_and_holds_flakes_where_there_are_any(many, views):
    where = Where(GROUNDS["black"], 16.0, CLEARED, light("D65"), views=views)
    judge = made(np.tile([50.0, 10.0, -30.0], (len(views), 1)), many, where).judge
    found = shortlist(judge, range(300), range(300, 330))
    assert len(set(found)) == len(found) <= MANY
    assert 0 < sum(at >= 300 for at in found) <= 10
