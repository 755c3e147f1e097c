"""Films: the solution of the transport equation against an independent one, its invariants and its limits."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from truths import by_doubling

from diachrom.core.film import seen as film_seen
from diachrom.core.film import transport
from diachrom.core.film.facets import lobe, view
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.materials import ALUMINIUM
from diachrom.core.film.paint import Mix
from diachrom.core.film.stack import diffuse, glance, sprayed
from diachrom.core.film.streams import INDEX, fresnel, streams
from diachrom.core.film.surface import CLEARED, MATTE
from diachrom.core.light.bands import BANDS
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light

coefficients = st.floats(0, 5).map(lambda value: value**3)  # 0 to 125 per um, mostly small


def flat(absorption, scattering):
    return Mix(np.full(BANDS, float(absorption)), np.full(BANDS, float(scattering)))


def doubled(absorption, scattering, film_um, *, halvings=24):
    """Reflection and transmission by adding and doubling from a thin diamond layer, as another way to the same film."""
    grid = streams()
    tau, albedo = (absorption + scattering) * film_um, scattering / (absorption + scattering)
    thin = tau / 2**halvings
    alpha = (np.eye(8) - albedo * grid.weight / 2) / grid.mu[:, None]
    beta = np.ones((8, 1)) * albedo * grid.weight / 2 / grid.mu[:, None]
    r, t = by_doubling(alpha * thin / 2, beta * thin / 2, halvings)
    to_amplitude = grid.q[:, None] / grid.q[None, :]
    return r * to_amplitude, t * to_amplitude


@pytest.mark.parametrize(
    ("absorption", "scattering", "film_um"), [(0.3, 0.05, 8), (0.001, 0.6, 14), (0.2, 1e-6, 25), (2.0, 3.0, 40)]
)
def test_a_film_equals_the_same_film_built_by_doubling(absorption, scattering, film_um):
    r, t = doubled(absorption, scattering, film_um)
    made = transport.film(transport.modes(replace(flat(absorption, scattering), forward=np.zeros(BANDS))), film_um)
    np.testing.assert_allclose(made.reflection[0], r, atol=2e-7)
    np.testing.assert_allclose(made.transmission[0], t, atol=2e-7)


def test_two_films_of_the_same_mix_are_one_film_of_both_thicknesses():
    modes = transport.modes(flat(0.05, 0.3))
    ground = np.full(BANDS, 0.4)
    once = transport.over_diffuser(transport.film(modes, 12.0), ground)
    thin = transport.film(modes, 5.0)
    twice = transport.over(transport.film(modes, 7.0), transport.over_diffuser(thin, ground))
    np.testing.assert_allclose(twice, once, atol=1e-12)


@given(coefficients, coefficients, st.floats(0, 60))
def test_reflectance_transmittance_and_absorptance_sum_to_one(absorption, scattering, film_um):
    film = transport.film(transport.modes(flat(absorption, scattering)), film_um)
    q = streams().q
    reflected, passed = q @ film.reflection[0] @ q, q @ film.transmission[0] @ q
    absorbed = 1 - reflected - passed
    assert min(reflected, passed, absorbed) >= -1e-9
    assert max(reflected, passed, absorbed) <= 1 + 1e-9


@given(st.floats(1e-9, 1e4))
def test_a_film_that_absorbs_nothing_loses_nothing(film_um):
    film = transport.film(transport.modes(flat(0, 1)), film_um)
    q = streams().q
    assert (film.reflection[0] + film.transmission[0]) @ q == pytest.approx(q, abs=1e-9)


def test_a_film_that_scatters_nothing_follows_beers_law_in_every_direction():
    film = transport.film(transport.modes(flat(0.1, 0)), 8.0)
    np.testing.assert_allclose(film.transmission[0], np.diag(np.exp(-0.8 / streams().mu)), atol=1e-12)
    np.testing.assert_allclose(film.reflection[0], 0, atol=1e-12)


def test_zero_thickness_changes_nothing():
    for ground in GROUNDS.values():
        none = diffuse(sprayed([Coat(flat(0.3, 0.2), 0.0)]), ground, sheen=CLEARED)
        np.testing.assert_allclose(none, diffuse(sprayed([]), ground, sheen=CLEARED), atol=1e-12)


def test_a_thick_film_tends_to_its_own_limit_whatever_lies_below():
    mix = flat(0.02, 0.5)
    thick = sprayed([Coat(mix, 4000.0)])
    for ground in GROUNDS.values():
        np.testing.assert_allclose(
            diffuse(thick, ground, sheen=CLEARED),
            light("D65").factor(film_seen.cup(mix, under=light("D65"))),
            atol=1e-9,
        )


@given(st.floats(0, 0.5), st.floats(0, 0.5), st.floats(1e-4, 0.2))
def test_more_dye_never_lightens(absorption, scattering, dye):
    white = GROUNDS["white"]
    weak = sprayed([Coat(flat(absorption, scattering), 10.0)])
    strong = sprayed([Coat(flat(absorption + dye, scattering), 10.0)])
    assert np.all(diffuse(strong, white, sheen=CLEARED) <= diffuse(weak, white, sheen=CLEARED) + 1e-12)


@given(st.floats(1e-9, 1e4), st.floats(0, 1), st.sampled_from(list(GROUNDS)))
def test_extreme_stacks_stay_finite_and_between_none_and_all(tau, albedo, key):
    films = sprayed([Coat(flat(tau * (1 - albedo), tau * albedo), 1.0)])
    seen = diffuse(films, GROUNDS[key], sheen=CLEARED)
    assert np.all(np.isfinite(seen))
    assert np.all((seen >= 0) & (seen <= 1))


def test_eight_streams_are_within_a_tenth_of_delta_e_of_thirty_two():
    random = np.random.default_rng(7)
    many = 200
    band = np.linspace(0, 1, BANDS)
    centre, width = random.uniform(0, 1, (many, 1)), random.uniform(0.05, 0.4, (many, 1))
    absorption = 10 ** random.uniform(-3, 0.3, (many, 1)) * (np.exp(-(((band - centre) / width) ** 2)) + 0.01)
    scattering = 10 ** random.uniform(-4, 0.3, (many, 1)) * (1.3 - 0.6 * band)
    film_um = random.uniform(2, 60, many)
    ground = np.where(random.random((many, 1)) < 0.5, 0.93, 0.03) * np.ones(BANDS)

    def points(count):
        film = transport.film(transport.modes(Mix(absorption, scattering), count), film_um)
        return lab(transport.out_of_surface(transport.over_diffuser(film, ground, count)), under=light("D65"))

    assert delta_e(points(8), points(32)).max() < 0.1


def test_diffuse_light_inside_is_kept_by_the_surface_as_the_literature_says():
    # 59.6 % at n = 1.5 [duntley1942]; the plain quadrature gives 60.0 %.
    grid = streams()
    assert 1 - grid.q**2 @ (1 - grid.inner) == pytest.approx(0.5963, abs=1e-4)


def test_without_scattering_the_stack_is_the_closed_form_of_saunderson():
    # A clear film over a diffusing ground: R = (1 - r) (1 - ri) rho / (1 - ri rho) [saunderson1942].
    clear = sprayed([Coat(flat(0, 0), 10.0)])
    rho, inner = GROUNDS["grey"].reflectance, 0.5963457597
    outer = float(fresnel(cos_in=1.0, index_in=INDEX, index_out=1.0))
    expected = (1 - outer) * (1 - inner) * rho / (1 - inner * rho)
    np.testing.assert_allclose(diffuse(clear, GROUNDS["grey"], sheen=CLEARED), expected, rtol=1e-6)


def test_a_matte_surface_adds_its_sheen_and_bare_foil_has_none():
    films = sprayed([Coat(flat(0.2, 0.02), 8.0)])
    matte, glossy = (diffuse(films, GROUNDS["black"], sheen=CLEARED if clear else MATTE) for clear in (False, True))
    np.testing.assert_allclose(matte - glossy, MATTE)
    assert pytest.approx(0.04) == MATTE
    foil = GROUNDS["silver-foil"]
    np.testing.assert_array_equal(diffuse(sprayed([]), foil, sheen=MATTE), diffuse(sprayed([]), foil, sheen=CLEARED))


@pytest.mark.parametrize("tilt_deg", [4.0, 8.0])
def test_the_lobe_of_facets_holds_all_the_light_that_one_mirror_would_send_back(tilt_deg):
    # From what is seen in the plane back to the facets' density, which sums to one over all of them.
    total, last = 0.0, view(0.0).facet_deg
    for angle in np.arange(0.25, 130, 0.25):
        seen = view(angle)
        facet, step = np.radians(seen.facet_deg), np.radians(seen.facet_deg - last)
        density = lobe(seen, tilt_deg=tilt_deg) * INDEX**2 / seen.surface * 4 * seen.cos_in * seen.cos_out / np.pi
        total += density * np.cos(facet) * 2 * np.pi * np.sin(facet) * step
        last = seen.facet_deg
    assert total == pytest.approx(1, abs=0.02)


def test_aluminium_mirrors_about_nine_tenths_of_light_in_air():
    bare = fresnel(cos_in=1.0, index_in=1.0, index_out=ALUMINIUM)
    assert np.all((bare > 0.86) & (bare < 0.94))


def test_foil_is_bright_at_the_glance_and_dark_turned_away():
    foil = GROUNDS["silver-foil"]
    bare = diffuse(sprayed([]), foil, sheen=CLEARED) + glance(sprayed([]), foil, (15.0, 45.0, 110.0))
    lightness = lab(bare, under=light("D65"))[:, 0]
    assert lightness[0] > 100
    assert lightness[0] > lightness[1] + 15 > lightness[2] + 40
    assert lightness[2] < 60  # what the clear coat keeps and lets go later shines there
