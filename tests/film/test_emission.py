"""Light that paints make, dyes that migrate, lights of every kind."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from diachrom.core.film import emission, transport
from diachrom.core.film.bleed import bled
from diachrom.core.film.emission import absorbed_each, fluence_each, fluorescence, glow
from diachrom.core.film.grounds import GROUNDS, diffusing
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Fluorescence, Glow, Mix, Paint, mix, of_before
from diachrom.core.film.stack import diffuse, sprayed
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab, lab_of_radiance, lch
from diachrom.core.light.lights import against_water, light
from diachrom.core.light.water import WATERS
from diachrom.core.profiles.guess import guess
from diachrom.core.profiles.guess_basis import ToGuess
from diachrom.errors import InvalidInput, UnknownLight

D65 = light("D65")
DYE = Fluorescence(520.0, 32.0, 0.2, 600.0, 21.0, 1.0)


def shining(scattering=0.02):
    absorption = np.where(WAVELENGTHS_NM < 570, 0.2, 1e-4)
    mix = Mix(absorption, np.full(BANDS, scattering))
    return Mix(mix.absorption, mix.scattering, dyes=((DYE, DYE.absorption(absorption)),))


@given(st.floats(1e-3, 0.5), st.floats(0, 0.5), st.floats(1, 40), st.floats(0, 1))
def test_what_the_layers_absorb_and_what_comes_back_is_all_that_fell_in(absorption, scattering, film_um, rho):
    mix = Mix(np.full(BANDS, absorption), np.full(BANDS, scattering))
    other = Mix(np.full(BANDS, absorption / 3), np.full(BANDS, scattering / 2))
    stack, ground = sprayed([Coat(other, 5.0), Coat(mix, film_um)]), diffusing(np.full(BANDS, rho))
    taken = sum(absorbed_each(stack, ground))
    back = diffuse(stack, ground, sheen=CLEARED)
    if rho == 1:
        np.testing.assert_allclose(taken + back, 0.96, atol=1e-8)
    assert np.all(taken + back <= 0.96 + 1e-9)


def test_a_white_ground_without_loss_gives_back_or_absorbs_all_but_the_surfaces_four_percent():
    mix = Mix(np.full(BANDS, 0.05), np.full(BANDS, 0.3))
    stack, ground = sprayed([Coat(mix, 9.0)]), diffusing(np.ones(BANDS))
    total = absorbed_each(stack, ground)[0] + diffuse(stack, ground, sheen=CLEARED)
    np.testing.assert_allclose(total, 0.96, atol=1e-9)


@given(st.floats(0.005, 0.5), st.floats(1e-4, 0.3), st.floats(1, 60), st.sampled_from(["white", "black", "grey"]))
def test_no_more_photons_come_out_than_the_dye_took_in(strength, scattering, film_um, key):
    absorption = np.where(WAVELENGTHS_NM < 570, strength, 1e-4)
    dye = replace(DYE, strength_per_um=strength)
    own = dye.absorption(absorption)
    stack = sprayed([Coat(Mix(absorption, np.full(BANDS, scattering), dyes=((dye, own),)), film_um)])
    added = fluorescence(stack, GROUNDS[key], D65.power)
    # Of what the layer takes in, the dye's own part; towards the eye leaves 0.96/0.908 of the mean over all directions.
    taken = absorbed_each(stack, GROUNDS[key])[0] * own / absorption
    photons_in, photons_out = ((WAVELENGTHS_NM * one).sum() for one in (D65.power * taken, added * 0.908 / 0.96))
    assert 0 < photons_out < photons_in


def test_a_thin_clear_film_over_black_sends_out_the_cone_that_leaves():
    """A quarter of n squared, once through the surface: of light made all around, (1 - cos of the critical angle)/2."""
    mix = Mix(np.full(BANDS, 1e-4), np.full(BANDS, 1e-7))
    dye = Fluorescence(500.0, 30.0, 1e-4, 600.0, 15.0, 1.0)
    stack = sprayed([Coat(replace(mix, dyes=((dye, dye.absorption(mix.absorption)),)), 1.0)])
    black = diffusing(np.zeros(BANDS))
    made = (D65.power * WAVELENGTHS_NM * 0.96 * dye.absorption(mix.absorption)).sum()
    sent = (WAVELENGTHS_NM * fluorescence(stack, black, D65.power)).sum()
    assert sent / made == pytest.approx(0.96 / (4 * 1.5**2), rel=0.02)


def test_ultraviolet_makes_a_guessed_pink_shine_under_black_light_and_no_led_does():
    pink = guess([ToGuess("Pink", "fluorescent", np.array([65.0, 70.0, 5.0]))])[0]
    stack, lamp = sprayed([Coat(mix([pink], np.ones(1)), 24.0)]), light("black-light")
    assert lab_of_radiance(fluorescence(stack, GROUNDS["white"], lamp.power), under=lamp)[0] > 30
    plain = replace(pink.fluorescence, ultraviolet=0.0)
    for key, least, most in (("D65", 0.02, 0.35), ("led-cool", 0.0, 1e-3)):
        power = light(key).power
        with_it, without = ((power * one.excitation(pink.absorption)).sum() for one in (pink.fluorescence, plain))
        assert least <= with_it / without - 1 < most


def test_light_that_was_written_down_before_is_read_as_it_was_meant():
    old = Paint(
        "x", "fluorescent", np.full(BANDS, 0.1), np.full(BANDS, 0.01), 0.1, fluorescence=replace(DYE, quantum_yield=0.3)
    )
    new = of_before(old)
    assert new.fluorescence.quantum_yield == pytest.approx(0.675)
    assert new.fluorescence.ultraviolet == 0
    powder = of_before(replace(old, fluorescence=None, glow=Glow(520.0, 34.0, 0.012)))
    assert powder.glow.strength_per_um == pytest.approx(0.027)
    assert of_before(replace(old, uncertainty=0.7)).fluorescence.ultraviolet > 0


def test_fluorescence_exceeds_white_in_its_own_bands_and_adds_nothing_elsewhere():
    added = D65.factor(fluorescence(sprayed([Coat(shining(), 16.0)]), GROUNDS["white"], D65.power))
    assert 1.0 < added.max() < 3.0
    assert WAVELENGTHS_NM[added.argmax()] == pytest.approx(600, abs=15)
    assert added[WAVELENGTHS_NM < 500].max() < 1e-3


def test_what_is_made_adds_up_over_depth():
    """A film is the same as all its slices, whatever dye shines in it and however strong it is."""
    for absorbing in (0.05, 0.5, 5.0):
        mix = shining()
        mix = replace(mix, absorption=mix.absorption + absorbing, scattering=mix.scattering + absorbing)
        whole, slices = sprayed([Coat(mix, 24.0)]), sprayed([Coat(mix, 1.0)] * 24)
        one, several = (fluorescence(stack, GROUNDS["white"], D65.power) for stack in (whole, slices))
        np.testing.assert_allclose(one, several, rtol=2e-3, atol=1e-9)
        assert one.max() > 0


def test_the_light_inside_a_film_takes_what_the_film_takes():
    mix = Mix(np.linspace(0.001, 0.4, BANDS), np.linspace(0.3, 0.01, BANDS))
    stack, ground = sprayed([Coat(mix, 12.0)]), GROUNDS["white"]
    node, weight = np.polynomial.legendre.leggauss(60)
    down, up = emission._lit(stack, ground)[0]
    inside = transport.fluence(stack.layers[0].modes, np.asarray(12.0), (down, up), (node + 1) / 2)
    taken = 12.0 * mix.absorption * (inside @ weight) / 2
    np.testing.assert_allclose(taken, absorbed_each(stack, ground)[0], atol=1e-9)
    assert fluence_each(stack, ground)[0].shape == (BANDS, emission.PLACES)


def test_no_factor_where_the_light_has_no_power_and_another_amount_in_another_light():
    stack = sprayed([Coat(shining(), 16.0)])
    deep = light("clear-lake@20")
    made = fluorescence(stack, GROUNDS["white"], deep.power)
    assert np.all(np.isfinite(deep.factor(made)))
    assert deep.factor(made)[deep.power < 1e-6 * deep.power.max()].max(initial=0) == 0
    peaks = [light(key).factor(fluorescence(stack, GROUNDS["white"], light(key).power)).max() for key in ("D65", "A")]
    assert peaks[0] > 2 * peaks[1]  # a bulb has little of what the dye takes


def test_a_dark_partner_quenches_fluorescence():
    bright = shining()
    dark = Mix(bright.absorption + 0.2, bright.scattering, dyes=bright.dyes)
    over = GROUNDS["white"]
    plain, quenched = (fluorescence(sprayed([Coat(mix, 16.0)]), over, D65.power).max() for mix in (bright, dark))
    assert quenched < 0.25 * plain


def test_under_black_light_fluorescence_is_all_there_is():
    black = light("black-light")
    red = sprayed([Coat(Mix(shining().absorption, shining().scattering), 16.0)])
    dark = lab(diffuse(red, GROUNDS["white"], sheen=CLEARED), under=black)
    shone = fluorescence(sprayed([Coat(shining(), 16.0)]), GROUNDS["white"], black.power)
    assert dark[0] < 3
    assert lab_of_radiance(shone, under=black)[0] > 30


def test_glow_grows_with_the_load_and_with_white_below_and_fades_as_a_power_law():
    powder = Glow(520.0, 34.0, 0.012, 1.0, 1.5)

    def shone(strength, key, minutes):
        mix = Mix(np.full(BANDS, 1e-3), np.full(BANDS, 0.06), glows=((powder, np.float64(strength)),))
        return glow(sprayed([Coat(mix, 50.0)]), GROUNDS[key], minutes=minutes).max()

    assert shone(0.012, "white", 0) > 1.5 * shone(0.006, "white", 0)
    assert shone(0.012, "white", 0) > 1.3 * shone(0.012, "black", 0)
    values = [shone(0.012, "white", minutes) for minutes in (0, 1.5, 4.5)]
    assert values[0] / values[1] == pytest.approx(2)
    assert values[0] / values[2] == pytest.approx(4)


def candy(sealed):
    absorption = np.where(WAVELENGTHS_NM < 570, 0.2, 1e-4)
    return Coat(Mix(absorption, np.zeros(BANDS), bleeding=0.12 * absorption), 8.0, 1, sealed)


def test_what_bleeds_is_a_share_of_the_load_handed_on_from_coat_to_coat_and_none_is_lost():
    white = Coat(Mix(np.full(BANDS, 1e-4), np.full(BANDS, 0.5)), 24.0, 2)
    first, second, third = bled([candy(sealed=False), white])
    load = [(coat.mix.absorption * coat.film_um)[0] for coat in (candy(sealed=False), white, first, second, third)]
    assert load[2] == pytest.approx((1 - 0.12) * load[0])
    assert load[4] == pytest.approx(load[1] / 2 + 0.12 * 0.12 * load[0])
    assert sum(load[2:]) == pytest.approx(load[0] + load[1])
    assert bled([candy(sealed=True), white])[1] is white


def test_five_white_coats_over_a_candy_are_the_same_however_they_are_written():
    white = Mix(np.full(BANDS, 1e-4), np.full(BANDS, 0.3))
    red = replace(candy(sealed=False), film_um=16.0, coats=2)
    together = [red, Coat(white, 40.0, 5)]
    apart = [replace(red, film_um=8.0, coats=1)] * 2 + [Coat(white, 8.0)] * 5
    one, other, single = (
        lab(diffuse(sprayed(coats), GROUNDS["white"], sheen=CLEARED), under=D65)
        for coats in (together, apart, [red, Coat(white, 8.0)])
    )
    assert delta_e(one, other) < 1e-6
    assert lch(one)[1] < 0.3 * lch(single)[1]  # five hide what one shows


def test_a_strip_of_coats_bleeds_as_each_of_its_patches_does_alone():
    counts = np.array([0.0, 0.5, 1.0, 3.0])
    white, red = Mix(np.full(BANDS, 1e-4), np.full(BANDS, 0.3)), candy(sealed=False)
    together = diffuse(sprayed([red, Coat(white, 8.0 * counts, counts)]), GROUNDS["white"], sheen=CLEARED)
    for row, count in enumerate(counts):
        alone = diffuse(sprayed([red, Coat(white, 8.0 * count, count)]), GROUNDS["white"], sheen=CLEARED)
        np.testing.assert_allclose(together[row], alone, atol=1e-9)


def test_the_coats_of_one_candy_are_one_film_that_gives_of_all_its_load():
    single, double = candy(sealed=False), replace(candy(sealed=False), film_um=16.0, coats=2)
    white = Coat(Mix(np.full(BANDS, 1e-4), np.full(BANDS, 0.3)), 8.0)
    for written in ([double, white], [single, single, white]):
        reservoir, above = bled(written)
        assert reservoir.film_um == 16.0
        np.testing.assert_allclose((above.mix.absorption - white.mix.absorption) * 8, 0.12 * 16 * double.mix.absorption)
    # A seal between them parts them.
    assert len(bled([replace(single, sealed=True), single, white])) == 3


def test_every_water_takes_red_first_or_blue_first_as_it_should():
    blue, red = WAVELENGTHS_NM == 450, WAVELENGTHS_NM == 700
    assert WATERS["clear-lake"].attenuation[blue] < WATERS["clear-lake"].attenuation[red]
    assert WATERS["tea-stained"].attenuation[blue] > WATERS["tea-stained"].attenuation[red]
    for water in WATERS.values():
        assert np.all((water.own_reflectance > 0) & (water.own_reflectance < 0.34))


@pytest.mark.parametrize("key", ["green-lake@21", "green-lake@-1", "green-lake@x", "dark@61", "green-lake"])
def test_a_depth_or_time_out_of_range_is_refused_with_an_example(key):
    with pytest.raises(InvalidInput, match=r"must name 0 to \d+ (metres|minutes), as in"):
        light(key)


def test_an_unknown_water_is_an_unknown_light():
    with pytest.raises(UnknownLight, match="green-lake@metres"):
        light("pond@3")


def test_under_water_the_eye_adapts_in_part_and_brightness_falls_with_the_light():
    red = np.where(WAVELENGTHS_NM > 600, 0.7, 0.03)
    at = {key: lch(lab(red, under=light(key))) for key in ("D65", "clear-lake@5", "clear-lake@10")}
    assert at["clear-lake@5"][1] < 0.5 * at["D65"][1]
    assert at["clear-lake@10"][1] < 0.6 * at["clear-lake@5"][1]
    white = [lab(np.ones(BANDS), under=light(f"tea-stained@{metres}"))[0] for metres in (1, 5, 20)]
    assert white == sorted(white, reverse=True)
    assert white[2] < 50  # a thousandth of the light shines no more


def test_from_bait_to_eye_the_water_takes_its_share_and_adds_its_own_colour():
    turbid = light("turbid@2")
    own = turbid.water.own_reflectance
    # What is as bright as the water itself stays so, and a black bait is veiled.
    assert against_water(own, under=turbid) == pytest.approx(0, abs=1e-9)
    assert lab(np.zeros(BANDS), under=turbid)[0] > 3
    assert lab(np.zeros(BANDS), under=light("clear-lake@2"))[0] < lab(np.zeros(BANDS), under=turbid)[0]
    through = against_water(np.ones(BANDS), under=turbid)
    assert 0 < through < 1 / float((own * turbid.power).sum() / turbid.power.sum())
