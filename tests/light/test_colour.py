"""Light and colour against published tables and the reference package."""

import warnings
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from diachrom.core.light import names, words
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, spectrum
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab, lab_to_xyz, lch, xyz_to_lab
from diachrom.core.light.lights import all_lights, light
from diachrom.core.light.screen import hex_to_lab, shown
from diachrom.errors import BadSpectrum, UnknownLight

PAIRS = np.loadtxt(Path(__file__).parents[1] / "reference/ciede2000.csv", delimiter=",", skiprows=2)
coordinates = st.tuples(st.floats(0, 100), st.floats(-100, 100), st.floats(-100, 100)).map(np.array)


def test_ciede2000_gives_the_34_published_values_both_ways_round():
    assert len(PAIRS) == 34
    for one, two in ((PAIRS[:, :3], PAIRS[:, 3:6]), (PAIRS[:, 3:6], PAIRS[:, :3])):
        np.testing.assert_allclose(delta_e(one, two), PAIRS[:, 6], atol=5e-5)


def test_the_committed_tables_are_the_reference_packages_own_samples():
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour
    cmfs = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"]
    samples = np.array([cmfs[float(nm)] for nm in WAVELENGTHS_NM])
    d65 = np.array([colour.SDS_ILLUMINANTS["D65"][float(nm)] for nm in WAVELENGTHS_NM])
    weights = d65[:, None] * samples / (d65 @ samples[:, 1])
    np.testing.assert_allclose(light("D65").weights, weights, rtol=1e-7)


@pytest.mark.parametrize("key", [key for key in all_lights() if key != "black-light"])
def test_a_perfect_diffuser_is_white_and_black_is_black_in_every_light(key):
    both = lab(np.stack([np.ones(BANDS), np.zeros(BANDS)]), under=light(key))
    np.testing.assert_allclose(both, [[100, 0, 0], [0, 0, 0]], atol=1e-9)


def test_a_grey_stays_grey_under_a_light_bulb():
    grey = lab(np.full(BANDS, 0.2), under=light("A"))
    np.testing.assert_allclose(grey[1:], 0, atol=1e-9)


def test_an_unknown_light_is_named_with_those_that_exist():
    with pytest.raises(UnknownLight, match=r"'sodium'.*D65.*led-warm"):
        light("sodium")


@given(coordinates)
def test_lab_to_tristimulus_and_back_is_lossless(point):
    white = light("D65").white
    np.testing.assert_allclose(xyz_to_lab(lab_to_xyz(point, white=white), white=white), point, atol=1e-8)


@given(coordinates)
def test_every_colour_has_a_name_and_a_colour_the_screen_can_show(point):
    assert names.name(point)
    one = shown(point)[0]
    if one.in_gamut:
        assert delta_e(hex_to_lab(one.srgb), point) < 2.5  # eight bits a channel, and the mark's tolerance
    else:
        assert hex_to_lab(one.srgb)[0] < point[0] + 2.0  # never brighter than it is


def test_a_colour_outside_the_screen_is_marked_and_the_wide_screen_shows_more_of_it():
    strong_orange = np.array([62.0, 55.0, 75.0])
    one = shown(strong_orange)[0]
    assert not one.in_gamut
    assert one.in_p3
    assert one.p3.startswith("color(display-p3 ")


def test_a_glance_brighter_than_white_keeps_its_hue_and_is_marked():
    one = shown(np.array([140.0, 5.0, 40.0]))[0]
    assert one.too_bright
    assert not one.in_gamut
    assert lch(hex_to_lab(one.srgb))[2] == pytest.approx(83, abs=8)


def test_a_colour_that_leaves_the_screen_little_by_little_is_shown_changing_little_by_little():
    # An orange glance off foil, from dark to twice the screen's white.
    path = np.linspace([40.0, 40.0, 50.0], [130.0, 60.0, 120.0], 90)
    points = np.array([hex_to_lab(one.srgb) for one in shown(path)])
    assert delta_e(points[1:], points[:-1]).max() < 2.5


@pytest.mark.parametrize(
    ("text", "known"), [("#ffffff", (100, 0, 0)), ("000000", (0, 0, 0)), ("#ff0000", (53.24, 80.09, 67.20))]
)
def test_hex_colours_have_their_known_lab(text, known):
    np.testing.assert_allclose(hex_to_lab(text), known, atol=0.02)


@pytest.mark.parametrize("text", ["#12345", "red", "#12345g", "", "#1234567"])
def test_what_is_no_hex_colour_is_none(text):
    assert hex_to_lab(text) is None


@pytest.mark.parametrize(
    ("point", "name"),
    [
        ((97, 0, 1), "white"),
        ((5, 0, 0), "black"),
        ((60, 32, 66), "strong warm orange"),
        ((30, 45, 33), "deep brick red"),
        ((46, -6, 34), "olive"),
        ((45, -38, 22), "green"),
        ((22, 4, -26), "navy blue"),
        ((44, 18, 30), "brown"),
    ],
)
def test_colours_are_called_what_a_painter_calls_them(point, name):
    assert names.name(np.array(point, dtype=float)) == name


@pytest.mark.parametrize(
    ("one", "two", "said"),
    [
        ((59, 37, 59), (59.2, 37, 59), "the same side by side"),
        ((59, 37, 59), (62, 38, 60), "a touch lighter"),
        ((59, 37, 59), (62, 41, 57), "a touch redder and lighter"),
        ((50, 0, 0), (50, 4, 1), "somewhat redder"),
        ((40, -30, 20), (40, -31, 11), "somewhat bluer"),
        ((30, 45, 33), (60, 40, 62), "far lighter and yellower"),
    ],
)
def test_differences_are_said_in_words_largest_first(one, two, said):
    assert words.difference(np.array(one, dtype=float), np.array(two, dtype=float)) == said


@given(coordinates, coordinates)
def test_words_turn_round_when_the_colours_are_swapped_in_lightness(one, two):
    forth, back = words.difference(one, two), words.difference(two, one)
    assert ("lighter" in forth) == ("darker" in back) or delta_e(one, two) <= 1.01


@pytest.mark.parametrize(
    ("values", "says"),
    [
        ([0.5] * 35, "expected 36 values"),
        ([0.5] * 35 + [float("nan")], "730 nm is not a number"),
        ([-0.1] + [0.5] * 35, "380 nm is -0.1"),
        (["a"] * 36, "list of numbers"),
        ([[0.5] * 36], "another shape"),
    ],
)
def test_a_bad_spectrum_is_refused_by_name_and_wavelength(values, says):
    with pytest.raises(BadSpectrum, match=says) as caught:
        spectrum(values, field="over_white")
    assert caught.value.field == "over_white"
