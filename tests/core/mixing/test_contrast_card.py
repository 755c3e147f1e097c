"""A profile from a card: given back when it is what made the card, honest about what the card cannot tell."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix
from diachrom.core.film.stack import diffuse, sprayed
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.core.light.smooth import smooth_reflectance
from diachrom.core.mixing.contrast_card import bare_to_internal, from_card
from diachrom.demo.paints import PAINTS

D65 = light("D65")
SHELF = {paint.id: paint for paint in PAINTS}
FIELDS = ("white", "black")


def card(absorption, scattering, film_um, sheen=CLEARED):
    films = sprayed([Coat(Mix(absorption, scattering), film_um)])
    return [diffuse(films, GROUNDS[key], sheen=sheen) for key in FIELDS]


def derived(paint, *, noise=0.0, sheen=CLEARED, film_um=12.0):
    profile = paint.profile()
    random = np.random.default_rng(2)
    over = card(profile.absorption, profile.scattering, film_um, clear_coat)
    over = [np.clip(one + noise * random.standard_normal(36), 0, 1) for one in over]
    bare = [diffuse(sprayed([]), GROUNDS[key], sheen=sheen) for key in FIELDS]
    return from_card(
        over_white=over[0],
        over_black=over[1],
        white=bare[0],
        black=bare[1],
        film_um=film_um,
        sheen=sheen,
        kind=paint.kind,
    )


@pytest.mark.parametrize("clear_coat", [True, False])
@pytest.mark.parametrize("key", FIELDS)
def test_a_bare_ground_as_measured_is_turned_back_into_what_light_inside_meets(key, clear_coat):
    seen = diffuse(sprayed([]), GROUNDS[key], sheen=sheen)
    np.testing.assert_allclose(bare_to_internal(seen, sheen=sheen), GROUNDS[key].reflectance, atol=1e-6)


@pytest.mark.parametrize("clear_coat", [True, False])
@pytest.mark.parametrize(
    "paint", ["torv-kritt", "torv-smor", "torv-mose", "rav-nype", "rav-fjord", "rav-melk", "lykt-rod"]
)
def test_a_profile_from_a_perfect_card_predicts_more_coats_of_the_same_paint(paint, clear_coat):
    found, truth = derived(SHELF[paint], sheen=sheen), SHELF[paint].profile()
    assert found.fit_delta_e < 0.5
    for coats in (2, 3):
        pairs = zip(
            card(found.absorption, found.scattering, 12.0 * coats),
            card(truth.absorption, truth.scattering, 12.0 * coats),
            strict=True,
        )
        assert all(delta_e(lab(one, under=D65), lab(other, under=D65)) < 0.6 for one, other in pairs)


@pytest.mark.parametrize("paint", ["torv-kritt", "torv-mose", "rav-fjord", "lykt-rod"])
def test_a_readers_noise_does_not_throw_it_off(paint):
    found, truth = derived(SHELF[paint], noise=0.002), SHELF[paint].profile()
    pairs = zip(
        card(found.absorption, found.scattering, 24.0), card(truth.absorption, truth.scattering, 24.0), strict=True
    )
    assert all(delta_e(lab(one, under=D65), lab(other, under=D65)) < 2 for one, other in pairs)


def test_bands_that_hide_and_films_that_do_not_scatter_are_named_as_doubtful():
    assert len(derived(SHELF["torv-sot"]).uncertain_nm) == 36
    assert len(derived(SHELF["torv-skifer"]).uncertain_nm) <= 3
    hidden = derived(SHELF["torv-rogn"]).uncertain_nm
    assert 450 in hidden
    assert 650 not in hidden


def test_it_never_leaves_what_a_coefficient_can_be():
    found = from_card(
        over_white=np.ones(36),
        over_black=np.zeros(36),
        white=np.full(36, 0.8),
        black=np.full(36, 0.05),
        film_um=12.0,
        sheen=CLEARED,
        kind="opaque",
    )
    assert np.all(np.isfinite([found.absorption, found.scattering]))
    assert np.all((found.absorption > 0) & (found.scattering > 0))


@given(st.floats(5, 95), st.floats(-40, 40), st.floats(-40, 40))
def test_a_smooth_reflectance_stays_between_none_and_all_and_is_the_colour_where_one_can_be(lightness, a, b):
    target = np.array([lightness, a, b])
    found = smooth_reflectance(target, under=D65)
    assert np.all((found >= 0) & (found <= 1))
    if 30 < lightness < 80 and np.hypot(a, b) < 25:
        assert delta_e(lab(found, under=D65), target) < 0.05
