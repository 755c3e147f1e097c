"""A profile from a card: given back when it is what made the card, honest about what the card cannot tell."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from truths import film, reflectance

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix
from diachrom.core.film.stack import diffuse, sprayed
from diachrom.core.film.surface import CLEARED, MATTE
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.core.light.smooth import smooth_reflectance
from diachrom.core.profiles.card_fit import USUAL_SCATTERING, Bare, CardFilm, bare_to_internal
from diachrom.core.profiles.contrast_card import from_card
from diachrom.demo.paints import PAINTS

D65 = light("D65")
SHELF = {paint.id: paint for paint in PAINTS}
FIELDS = ("white", "black")
STEP_CARD = (2.0, 8.0, 24.0)


def card(absorption, scattering, film_um, sheen=CLEARED):
    films = sprayed([Coat(Mix(absorption, scattering), film_um)])
    return [diffuse(films, GROUNDS[key], sheen=sheen) for key in FIELDS]


def bare(sheen, *, told=None):
    white, black = (diffuse(sprayed([]), GROUNDS[key], sheen=sheen) for key in FIELDS)
    return Bare(white, black, told)


def derived(paint, *, noise=0.0, sheen=CLEARED, films_um=(12.0,), told=CLEARED):
    profile, random = paint.profile(), np.random.default_rng(2)
    films = [
        CardFilm(
            um,
            *(
                np.clip(one + noise * random.standard_normal(36), 0, 1)
                for one in card(profile.absorption, profile.scattering, um, sheen)
            ),
        )
        for um in films_um
    ]
    return from_card(films, bare(sheen, told=told), kind=paint.kind)


@pytest.mark.parametrize("sheen", [CLEARED, 0.02, MATTE])
@pytest.mark.parametrize("key", FIELDS)
def test_a_bare_ground_as_measured_is_turned_back_into_what_light_inside_meets(key, sheen):
    seen = diffuse(sprayed([]), GROUNDS[key], sheen=sheen)
    np.testing.assert_allclose(bare_to_internal(seen, sheen=sheen), GROUNDS[key].reflectance, atol=1e-6)


@pytest.mark.parametrize("sheen", [CLEARED, 0.02, MATTE])
@pytest.mark.parametrize(
    "paint", ["torv-kritt", "torv-smor", "torv-mose", "rav-nype", "rav-fjord", "rav-melk", "lykt-rod"]
)
def test_a_profile_from_a_perfect_card_predicts_more_coats_of_the_same_paint(paint, sheen):
    """Uncleared, how much its surface shines is found with the rest."""
    found = derived(SHELF[paint], sheen=sheen, films_um=STEP_CARD, told=CLEARED if sheen == CLEARED else None)
    truth = SHELF[paint].profile()
    assert found.fit_delta_e < 0.6
    assert found.sheen == pytest.approx(sheen, abs=0.01)  # a pale paint hardly tells it
    for um in (16.0, 36.0):
        pairs = zip(
            card(found.absorption, found.scattering, um), card(truth.absorption, truth.scattering, um), strict=True
        )
        assert all(delta_e(lab(one, under=D65), lab(other, under=D65)) < 0.6 for one, other in pairs)


@pytest.mark.parametrize("paint", ["torv-kritt", "torv-mose", "rav-fjord", "lykt-rod"])
def test_a_readers_noise_does_not_throw_one_film_off(paint):
    found, truth = derived(SHELF[paint], noise=0.002), SHELF[paint].profile()
    pairs = zip(
        card(found.absorption, found.scattering, 24.0), card(truth.absorption, truth.scattering, 24.0), strict=True
    )
    assert all(delta_e(lab(one, under=D65), lab(other, under=D65)) < 2 for one, other in pairs)


class Bench:
    """Paints that scatter each in its own way, sprayed and read by an outside truth: noise of about dE 0.3."""

    def __init__(self, seed):
        self.random = np.random.default_rng(seed)
        self.paints = [paint.profile() for paint in PAINTS if paint.kind in USUAL_SCATTERING]
        self.forward = self.random.choice([0.4, 0.5, 0.6, 0.7], len(self.paints)).tolist()

    def true(self, parts, film_um, key):
        absorption = sum(share * self.paints[at].absorption for at, share in parts)
        scatterers = [
            (share * self.paints[at].scattering / (1 - self.forward[at]), self.forward[at]) for at, share in parts
        ]
        return reflectance([film(absorption, scatterers, film_um)], GROUNDS[key].reflectance)

    def read(self, values):
        gain = 1 + 0.004 * self.random.standard_normal()
        return np.clip(gain * values + 0.0015 * self.random.standard_normal(36), 0, 1)

    def card(self, at, films_um, white=None):
        own = [(at, 1.0)] if white is None else [(at, 0.1), (white, 0.9)]
        return [(um, *(self.read(self.true(own, um, key)) for key in FIELDS)) for um in films_um]

    def profile(self, at, films_um, let_down=None):
        films = [CardFilm(*one) for one in self.card(at, films_um)]
        if let_down is not None:
            films += [CardFilm(*one, 0.1, self.paints[let_down]) for one in self.card(at, [8.0], let_down)]
        white, black = (self.read(diffuse(sprayed([]), GROUNDS[key], sheen=CLEARED)) for key in FIELDS)
        return from_card(films, Bare(white, black), kind=self.paints[at].kind)

    def off(self, at, found):
        """ln of strength found to true, as the uncertainty means it."""
        paint = self.paints[at]
        both = np.concatenate([paint.absorption, paint.scattering])
        ratio = np.log(np.concatenate([found.absorption, found.scattering]) / np.maximum(both, 1e-9))
        return float(both**2 @ ratio / (both**2).sum())


@pytest.fixture(scope="module")
def step_cards():
    bench = Bench(5)
    return bench, [bench.profile(at, STEP_CARD) for at in range(len(bench.paints))]


def test_a_step_card_tells_the_strength_and_how_sure_it_is(step_cards):
    bench, found = step_cards
    off = np.array([abs(bench.off(at, one)) for at, one in enumerate(found)])
    sure = np.array([one.uncertainty for one in found])
    assert off.max() < 0.05
    assert np.mean(off < 1.645 * sure) >= 0.9
    assert sure.max() < 0.06


def test_mixes_of_what_step_cards_told_are_what_is_sprayed(step_cards):
    bench, found = step_cards
    white = next(at for at, paint in enumerate(bench.paints) if paint.name == "Torv Kritt")
    candies = [at for at, paint in enumerate(bench.paints) if paint.kind == "candy"]
    far = {"mixes": [], "dye in white": []}
    for turn in range(60):
        if turn % 3 == 0:
            kind, parts = "dye in white", [(white, 0.63), (int(bench.random.choice(candies)), 0.07)]
        else:
            some = bench.random.choice(len(found), bench.random.integers(2, 5), replace=False).tolist()
            shares = (0.7 * bench.random.dirichlet(np.ones(len(some)))).tolist()
            kind, parts = "mixes", list(zip(some, shares, strict=True))
        um, key = 8.0 * bench.random.integers(1, 5), str(bench.random.choice(["white", "black", "grey"]))
        own = Mix(
            sum(share * found[at].absorption for at, share in parts),
            sum(share * found[at].scattering for at, share in parts),
        )
        seen = diffuse(sprayed([Coat(own, um)]), GROUNDS[key], sheen=CLEARED)
        far[kind].append(float(delta_e(lab(seen, under=D65), lab(bench.true(parts, um, key), under=D65))))
    assert np.median(far["mixes"]) < 0.6
    assert np.quantile(far["mixes"], 0.95) < 2
    assert np.median(far["dye in white"]) < 0.8
    assert np.quantile(far["dye in white"], 0.95) < 1.5


def test_one_thick_film_does_not_tell_the_strength_of_strong_paints_and_says_so():
    bench = Bench(6)
    strong = [at for at, paint in enumerate(bench.paints) if paint.name in ("Torv Sot", "Lykt Rod", "Torv Rogn")]
    for at in strong:
        found = bench.profile(at, (24.0,))
        assert found.uncertainty > 0.25
        assert abs(bench.off(at, found)) < 2 * found.uncertainty
    white = next(at for at, paint in enumerate(bench.paints) if paint.name == "Torv Kritt")
    for at in strong:  # a let-down with white, or a thin film, tells it
        assert bench.profile(at, (24.0,), let_down=white).uncertainty < 0.25
        assert bench.profile(at, (2.0, 24.0)).uncertainty < 0.1


def test_bands_in_which_a_film_takes_all_the_light_are_named():
    black = derived(SHELF["torv-sot"], films_um=(24.0,))
    assert len(black.saturated_nm) > 25
    assert not derived(SHELF["torv-sot"], films_um=(0.5, 8.0)).saturated_nm
    assert not derived(SHELF["torv-kritt"], films_um=STEP_CARD).saturated_nm
    # What there is next to nothing of need not be told: a dye's scattering.
    assert len(derived(SHELF["lykt-rod"], films_um=STEP_CARD).uncertain_nm) < 6
    assert len(black.uncertain_nm) == 36


def test_it_never_leaves_what_a_coefficient_can_be():
    odd = CardFilm(12.0, np.ones(36), np.zeros(36))
    found = from_card([odd], Bare(np.full(36, 0.8), np.full(36, 0.05)), kind="opaque")
    assert np.all(np.isfinite([found.absorption, found.scattering]))
    assert np.all((found.absorption > 0) & (found.scattering > 0))
    assert 0 < found.uncertainty <= 1


@given(st.floats(5, 95), st.floats(-40, 40), st.floats(-40, 40))
def test_a_smooth_reflectance_stays_between_none_and_all_and_is_the_colour_where_one_can_be(lightness, a, b):
    target = np.array([lightness, a, b])
    found = smooth_reflectance(target, under=D65)
    assert np.all((found >= 0) & (found <= 1))
    if 30 < lightness < 80 and np.hypot(a, b) < 25:
        assert delta_e(lab(found, under=D65), target) < 0.05
