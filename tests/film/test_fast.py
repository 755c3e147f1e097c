"""The fast path against the transport solution that it stands for."""

import numpy as np
import pytest

from diachrom.core.film.fast import FastFilms, films, films_of, over_any
from diachrom.core.film.grounds import GROUNDS, diffusing
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix
from diachrom.core.film.stack import diffuse, sprayed
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import BANDS
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light

D65 = light("D65")


def random_paints(random, count):
    band = np.linspace(0, 1, BANDS)
    centre, width = random.uniform(0, 1, (count, 1)), random.uniform(0.05, 0.4, (count, 1))
    absorption = 10 ** random.uniform(-3, 0.3, (count, 1)) * (np.exp(-(((band - centre) / width) ** 2)) + 0.01)
    scattering = 10 ** random.uniform(-4, 0.3, (count, 1)) * (1.3 - 0.6 * band)
    return absorption, scattering


@pytest.mark.parametrize("key", ["white", "bone", "grey", "black"])
def test_a_looked_up_cup_is_within_a_fifth_of_delta_e_of_the_transport_solution(key):
    random = np.random.default_rng(5)
    absorption, scattering = random_paints(random, 12)
    shares = random.dirichlet(np.full(12, 0.3), 400)
    film_um = float(random.uniform(4, 40))
    fast = FastFilms.over(GROUNDS[key]).reflectance(
        films(shares, absorption=absorption, scattering=scattering, film_um=film_um)
    )
    stack = sprayed([Coat(Mix(shares @ absorption, shares @ scattering), film_um)])
    slow = diffuse(stack, GROUNDS[key], sheen=CLEARED)
    errors = delta_e(lab(fast.T.astype(np.float64), under=D65), lab(slow, under=D65))
    assert errors.max() < 0.15
    assert np.median(errors) < 0.03


def test_no_paint_at_all_shows_the_ground():
    nothing = films(np.ones((1, 1)), absorption=np.zeros((1, BANDS)), scattering=np.zeros((1, BANDS)), film_um=8.0)
    bare = diffuse(sprayed([]), GROUNDS["white"], sheen=CLEARED)
    seen = FastFilms.over(GROUNDS["white"]).reflectance(nothing)[:, 0]
    np.testing.assert_allclose(seen[2:33], bare[2:33], atol=2e-3)
    assert delta_e(lab(seen.astype(np.float64), under=D65), lab(bare, under=D65)) < 0.1


def test_foil_is_not_its_business():
    with pytest.raises(ValueError, match="diffusing"):
        FastFilms.over(GROUNDS["silver-foil"])


def test_films_over_any_plain_ground_are_looked_up_together():
    random = np.random.default_rng(6)
    absorption, scattering = random_paints(random, 40)
    grounds = np.clip(random.uniform(0, 0.95, (40, 1)) + random.normal(0, 0.02, (40, BANDS)), 0, 0.95)
    made = films_of(absorption, scattering, film_um=12.0)
    fast = over_any(made, np.arange(40), grounds)
    for at in range(40):
        stack = sprayed([Coat(Mix(absorption[at], scattering[at]), 12.0)])
        slow = diffuse(stack, diffusing(grounds[at]), sheen=CLEARED)
        assert delta_e(lab(fast[:, at].astype(np.float64), under=D65), lab(slow, under=D65)) < 0.2
