"""Flakes and thin films: against an independent solver, in energy, and in what they show."""

from itertools import pairwise

import numpy as np
import pytest
import tmm
from hypothesis import given
from hypothesis import strategies as st

from diachrom.core.film.facets import lobe, view
from diachrom.core.film.flakes import MATERIALS, Flake
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.materials import ALUMINIUM, CHROMIUM, MICA, SPACER, TITANIA
from diachrom.core.film.multilayer import multilayer
from diachrom.core.film.paint import Mix
from diachrom.core.film.stack import diffuse, glance, sprayed
from diachrom.core.film.streams import streams
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab, lch
from diachrom.core.light.lights import light

D65 = light("D65")
STACKS = {
    "shift": ([(CHROMIUM, 6.0), (SPACER, 400.0)], ALUMINIUM),
    "pearl": ([(TITANIA, 120.0), (MICA, 400.0), (TITANIA, 120.0)], np.full(BANDS, 1.5 + 0j)),
    "absorbing in the middle": ([(SPACER, 150.0), (CHROMIUM, 12.0), (TITANIA, 80.0)], np.full(BANDS, 1.5 + 0j)),
}


@pytest.mark.parametrize("angle_deg", [0, 30, 60])
@pytest.mark.parametrize("name", STACKS)
def test_thin_films_equal_an_independent_solver_to_1e_9(name, angle_deg):
    layers, below = STACKS[name]
    mirrored, passed = multilayer(layers, below=below, cos_in=np.cos(np.radians(angle_deg)))
    for band, nm in enumerate(WAVELENGTHS_NM):
        indices = [1.5, *(complex(index[band]) for index, _ in layers), complex(below[band])]
        depths = [np.inf, *(depth for _, depth in layers), np.inf]
        both = [tmm.coh_tmm(s_or_p, indices, depths, np.radians(angle_deg), nm) for s_or_p in "sp"]
        assert mirrored[band] == pytest.approx(np.mean([one["R"] for one in both]), abs=1e-9)
        assert passed[band] == pytest.approx(np.mean([one["T"] for one in both]), abs=1e-9)


@pytest.mark.parametrize(
    ("oxide_nm", "lowest", "highest"), [(75, 70, 110), (95, 0, 45), (120, 265, 300), (145, 160, 225)]
)
def test_the_oxides_thickness_decides_a_pearls_colour(oxide_nm, lowest, highest):
    mirrored, passed = Flake("pearl", 1.0, oxide_nm).faces(0.93)
    hue = lch(lab(mirrored, under=D65))[2]
    assert lowest <= hue <= highest
    # What is not mirrored goes through: the complement.
    np.testing.assert_allclose(mirrored + passed, 1, atol=1e-9)


def test_fifty_nanometres_of_oxide_are_silver_white():
    assert lch(lab(Flake("pearl", 1.0, 50).faces(1.0)[0], under=D65))[1] < 4


def test_the_lobe_of_flakes_only_falls_with_the_tilt():
    angles = np.arange(0.5, 40, 0.5)
    values = [lobe(view(2 * angle), tilt_deg=6) / lobe(view(0), tilt_deg=6) for angle in angles]
    assert all(later <= earlier for earlier, later in pairwise(values))


def test_a_pale_colour_shift_turns_its_hue_and_is_light():
    turning = Flake("silica", 1.0, 300.0)
    face, edge = turning.faces(1.0), turning.faces(0.75)
    np.testing.assert_allclose(face[0] + face[1], 1, atol=1e-9)  # nothing is lost in silica
    hues = [lch(lab(mirrored, under=D65))[2] for mirrored, _ in (face, edge)]
    assert abs((hues[1] - hues[0] + 180) % 360 - 180) > 60
    assert min(lab(mirrored, under=D65)[0] for mirrored, _ in (face, edge)) > 60


flakes = st.builds(
    Flake,
    st.sampled_from(list(MATERIALS)),
    st.floats(1e-4, 2.0),
    st.floats(30, 500),
    st.floats(1, 30),
)


@given(flakes, st.floats(0, 1), st.floats(0, 1), st.floats(0, 100), st.sampled_from(list(GROUNDS)))
def test_with_flakes_no_more_comes_back_than_falls_in(flake, absorption, scattering, film_um, key):
    mix = Mix(np.full(BANDS, absorption), np.full(BANDS, scattering), flakes=((flake, np.float64(flake.cover_per_um)),))
    stack = sprayed([Coat(mix, film_um)])
    film, q = stack.layers[0].film, streams().q
    gone = 1 - q @ (film.reflection + film.transmission) @ q
    assert np.all(gone >= -1e-9)
    seen = diffuse(stack, GROUNDS[key], sheen=CLEARED)
    assert np.all(np.isfinite(seen))
    assert np.all((seen >= 0) & (seen <= 1))
    assert np.all(np.isfinite(glance(stack, GROUNDS[key], (15, 45, 110))))


def test_no_flakes_are_the_film_without_them():
    mix = Mix(np.full(BANDS, 0.1), np.full(BANDS, 0.2))
    few = Mix(mix.absorption, mix.scattering, flakes=((Flake("aluminium", 1e-9), np.float64(1e-9)),))
    for key in ("white", "silver-foil"):
        np.testing.assert_allclose(
            diffuse(sprayed([Coat(few, 12.0)]), GROUNDS[key], sheen=CLEARED),
            diffuse(sprayed([Coat(mix, 12.0)]), GROUNDS[key], sheen=CLEARED),
            atol=1e-7,
        )


@pytest.mark.parametrize("key", GROUNDS)
def test_every_ground_has_words_and_keeps_to_its_energy(key):
    ground = GROUNDS[key]
    assert ground.words
    q = streams().q
    back = q @ ground.matrix(8) @ q
    assert np.all((back >= 0) & (back <= 1))


@pytest.mark.parametrize("key", [key for key in GROUNDS if key != "holo-foil"])
@pytest.mark.parametrize("film_um", [0.0, 8.0])
def test_the_tilt_is_smooth(key, film_um):
    mix = Mix(np.full(BANDS, 0.01), np.full(BANDS, 0.01), flakes=((Flake("shift", 0.05, 340.0), np.float64(0.02)),))
    stack = sprayed([Coat(mix, film_um)])
    angles = np.arange(15.0, 111.0)
    seen = diffuse(stack, GROUNDS[key], sheen=CLEARED) + glance(stack, GROUNDS[key], angles)
    points = lab(seen, under=D65)
    # Behind a wall nothing refracts the lobe: it is narrower.
    assert delta_e(points[1:], points[:-1]).max() < (2.5 if key == "clear-body-foil" else 2.0)


def test_holographic_foil_shows_a_rainbow_that_travels():
    hues = lch(lab(glance(sprayed([]), GROUNDS["holo-foil"], (25.0, 33.0, 45.0)), under=D65))
    assert np.all(hues[:, 1] > 40)
    assert len({round(hue / 40) for hue in hues[:, 2]}) == 3
