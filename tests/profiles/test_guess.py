"""Guesses: the colour that was given comes back, whatever the kind; what is known of hiding is kept."""

import numpy as np
import pytest

from diachrom.core.film.kinds import KINDS, keys
from diachrom.core.film.paint import GUESSED
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab, lch
from diachrom.core.light.lights import light
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.profiles.contrast_card import contrast_ratio, on_card
from diachrom.core.profiles.guess import guess
from diachrom.core.profiles.guess_basis import ToGuess, seen_lab
from diachrom.demo.paints import PAINTS
from diachrom.errors import InvalidInput

D65 = light("D65")
COLOURS = ("#9ab0e0", "#b87333", "#d4af37", "#ff5a1e", "#e03050", "#2040a0", "#3fa34d", "#8040a0", "#40c0c0", "#202428")


def guessed(kind, *colours, **more):
    return guess([ToGuess("x", kind, hex_to_lab(colour), **more) for colour in colours])


def hue_off(one, other):
    first, second = lch(one), lch(other)
    return 0.0 if min(first[1], second[1]) < 8 else abs(float((first[2] - second[2] + 180) % 360 - 180))


@pytest.mark.parametrize("where", ["white", "cup"])
@pytest.mark.parametrize("kind", ["opaque", "transparent", "candy", "ink", "primer", "fluorescent", "glow"])
def test_the_colour_of_pigments_dyes_and_what_shines_comes_back(kind, where):
    colours = COLOURS[::2] if kind == "fluorescent" else COLOURS  # a second each
    far = []
    for colour, paint in zip(colours, guessed(kind, *colours, seen=where), strict=True):
        assert paint.uncertainty >= GUESSED
        far.append(float(delta_e(seen_lab(paint, where), hex_to_lab(colour))))
    assert np.median(far) < 0.3
    if (kind, where) != ("fluorescent", "cup"):
        assert max(far) < 1


@pytest.mark.parametrize("kind", keys("flakes"))
def test_the_colour_of_what_flakes_comes_back_at_the_glance_over_black(kind):
    far, hues = [], []
    for colour, paint in zip(COLOURS, guessed(kind, *COLOURS), strict=True):
        got = seen_lab(paint, "black-glance")
        far.append(float(delta_e(got, hex_to_lab(colour))))
        hues.append(hue_off(got, hex_to_lab(colour)))
        assert paint.flake is not None
    assert np.median(far) < 4
    assert max(hues) < 15


def test_paints_that_are_known_are_guessed_from_what_is_seen_of_them():
    known = [paint for paint in (one.profile() for one in PAINTS) if not paint.thins]
    where = ["black-glance" if paint.flake else "white" for paint in known]
    colours = [seen_lab(paint, at) for paint, at in zip(known, where, strict=True)]
    told = [
        ToGuess(paint.name, paint.kind, np.clip(colour, [0, -128, -128], [100, 128, 128]), at)
        for paint, colour, at in zip(known, colours, where, strict=True)
        if colour[0] <= 97  # brighter than a colour that is typed can be
    ]
    assert len(told) > 40
    for one, paint in zip(told, guess(told), strict=True):
        assert delta_e(seen_lab(paint, one.seen_at), one.colour) < (4 if paint.flake else 1), paint.name


def test_a_pearl_keeps_its_interference_and_a_copper_is_copper():
    pearl, rust, blue, green = (one.flake for one in guessed("pearl", "#2a50c0", "#7a4424", "#3050b0", "#30a060"))
    assert (pearl.material, rust.material) == ("pearl", "rust")
    assert abs(blue.thickness_nm - green.thickness_nm) >= 10
    copper, silver = guessed("metallic", "#a8683c", "#a0a4a8")
    assert copper.flake.material in ("copper", "bronze")
    assert silver.flake.material == "aluminium"


@pytest.mark.parametrize("colour", ["#c8dcf0", "#e8d0e0", "#f0e0b8", "#b8e0c8", "#a8c0a0", "#d8a8c8"])
def test_a_pale_colour_shift_is_met_and_still_turns(colour):
    paint = guessed("shift", colour)[0]
    assert delta_e(seen_lab(paint, "black-glance"), hex_to_lab(colour)) < 3
    assert paint.flake.material == "silica"


def test_a_blue_fluorescent_shines_blue_and_a_pink_one_red():
    blue, orange, pink = (one.fluorescence for one in guessed("fluorescent", "#3060e0", "#ff6010", "#ff60b0"))
    assert blue.emits_nm < 470
    assert 580 < orange.emits_nm < 610
    assert pink.emits_nm > 600
    assert all(one.quantum_yield > 0 for one in (blue, orange, pink))


@pytest.mark.parametrize("kind", ["opaque", "transparent"])
@pytest.mark.parametrize("hides", [0.2, 0.5, 0.8])
def test_how_it_hides_is_kept_where_somebody_looked(kind, hides):
    colours = ("#e0a060", "#9ab0e0")
    for colour, paint in zip(colours, guessed(kind, *colours, hides=hides), strict=True):
        assert contrast_ratio(on_card(paint, "black"), on_card(paint, "white")) == pytest.approx(hides, abs=0.02)
        assert delta_e(lab(on_card(paint, "white"), under=D65), hex_to_lab(colour)) < 1


def test_the_paler_an_opaque_paint_the_more_white_is_in_it():
    dark, pale = guessed("opaque", "#203a80", "#c8d4f0")
    assert pale.scattering.mean() > 4 * dark.scattering.mean()


def test_what_cannot_be_guessed_is_said():
    with pytest.raises(InvalidInput, match="say its colour"):
        guess([ToGuess("x", "opaque", None)])
    with pytest.raises(InvalidInput, match="no kind"):
        guess([ToGuess("x", "gold leaf", None)])
    with pytest.raises(InvalidInput, match="how it hides"):
        guess([ToGuess("x", "opaque", np.array([50.0, 0, 0]), hides=1.2)])


def test_every_kind_can_be_guessed_at_once():
    paints = guess([ToGuess(kind, kind, hex_to_lab("#30a060")) for kind in KINDS])
    assert [paint.kind for paint in paints] == list(KINDS)
    for paint in paints:
        assert np.all(np.isfinite([paint.absorption, paint.scattering]))
        assert (paint.absorption.max() > 0) != paint.thins
