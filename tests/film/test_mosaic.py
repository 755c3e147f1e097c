"""Mosaics of stacks against each stack solved by itself, in all streams and waves."""

import numpy as np
import pytest

from diachrom.core.bait.coated import Painted
from diachrom.core.bait.picture import ANGLES
from diachrom.core.bait.picture import stacks as seen_of
from diachrom.core.bait.rising import risen
from diachrom.core.bait.tabled import Kept
from diachrom.core.film import cell_stacks, emission, stack, transport
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import mix
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab, lab_of_radiance
from diachrom.core.light.lights import light
from diachrom.demo.paints import PAINTS

PROFILES = [paint.profile() for paint in PAINTS]
PLAIN = [one for one in PROFILES if not (one.flake or one.fluorescence or one.glow)]
FLAKED = [one for one in PROFILES if one.flake]
SHINING = [one for one in PROFILES if one.fluorescence]
D65 = light("D65")
CELLS = 5


def stacks(seed, count, grounds, *, special=(), most=8):
    """Random stacks: what lies on each other, thicknesses (layer, cell), and the ground."""
    chance = np.random.default_rng(seed)
    for _ in range(count):
        layers = int(chance.integers(1, most + 1))
        odd = set(chance.choice(layers, min(layers, int(chance.integers(1, 3))), replace=False)) if special else set()
        mixes = []
        for at in range(layers):
            pool = special if at in odd else PLAIN
            pair = [pool[int(chance.integers(len(pool)))], PLAIN[int(chance.integers(len(PLAIN)))]]
            share = chance.uniform(0.4, 1.0) if at in odd else chance.uniform()
            mixes.append(mix(pair, np.array([share, 1 - share])))
        film_um = chance.choice([4.0, 8.0, 16.0], (layers, 1)) * chance.uniform(0.05, 1.3, (layers, CELLS))
        yield mixes, film_um, GROUNDS[grounds[int(chance.integers(len(grounds)))]]


def in_mosaic(mixes, film_um, ground):
    made = [Painted(one, sealed=True, digest=bytes([at])) for at, one in enumerate(mixes)]
    films = risen(made, list(film_um), [1] * len(made))
    return seen_of(films, [ground], np.zeros(CELLS, dtype=np.intp), Kept())


def differences(found):
    """dE (stack, angle) of a mosaic's colours to those of stacks solved one by one."""
    told = []
    for mixes, film_um, ground in found:
        seen = in_mosaic(mixes, film_um, ground)
        for cell in range(CELLS):
            coats = [Coat(one, um, 1, sealed=True) for one, um in zip(mixes, film_um[:, cell], strict=True)]
            exact = stack.sprayed(coats)
            factors = stack.diffuse(exact, ground, sheen=0.0) + stack.glance(exact, ground, ANGLES)
            own = seen.factors[:, :, cell] @ cell_stacks.seen_weights().T
            told.append(delta_e(lab(own, under=D65), lab(factors, under=D65)))
    return np.array(told)


def test_stacks_of_up_to_eight_films_are_within_half_a_delta_e_of_the_exact_ones():
    far = differences(stacks(1, 24, ["white", "black", "grey", "bone"]))[:, 0]
    assert np.median(far) < 0.12
    assert np.percentile(far, 95) < 0.5


@pytest.mark.parametrize("grounds", [["black", "white"], ["silver-foil", "holo-foil", "gold-foil", "clear-body"]])
def test_flakes_and_foil_are_within_one_at_every_angle(grounds):
    far = differences(stacks(2, 14, grounds, special=FLAKED))
    assert np.percentile(far, 95) < 1.0


def test_no_stack_sends_back_more_than_falls_on_it():
    for mixes, film_um, ground in stacks(3, 10, ["white", "silver-foil"], special=FLAKED):
        exact = in_mosaic(mixes, film_um, ground)
        if not ground.glossy and not any(one.flakes for one in mixes):
            assert exact.factors.max() <= 1.0
        assert exact.factors.min() > -1e-4
    white = mix([next(one for one in PLAIN if one.name == "Torv Kritt")], np.ones(1))
    thick = in_mosaic([white] * 6, np.full((6, CELLS), 100.0), GROUNDS["white"])
    assert thick.factors.max() <= 1.0


def test_what_shines_is_near_the_exact_light_in_daylight_and_under_black_light():
    far = {"D65": [], "black-light": []}
    for mixes, film_um, ground in stacks(4, 16, ["white", "black"], special=SHINING, most=4):
        seen = in_mosaic(mixes, film_um, ground)
        for cell in range(CELLS):
            exact = stack.sprayed([Coat(o, um, 1, sealed=True) for o, um in zip(mixes, film_um[:, cell], strict=True)])
            for key, told in far.items():
                under = light(key)
                plain = transport.out_of_surface(stack.below_each(exact, ground)[-1])
                wanted = under.power * plain + emission.fluorescence(exact, ground, under.power)
                own = under.power * (cell_stacks.seen_weights() @ seen.factors[0, :, cell])
                for dye in seen.dyes:
                    own = own + float(under.power @ dye.excited_by) * (cell_stacks.seen_weights() @ dye.made[:, cell])
                told.append(float(delta_e(*lab_of_radiance(np.stack([wanted, own]), under=under))))
    assert np.percentile(far["D65"], 95) < 1.5
    assert np.percentile(far["black-light"], 95) < 4.0


@pytest.mark.parametrize("ground", ["clear-body", "clear-body-foil", "silver-foil", "white"])
def test_dots_over_anything_stay_within_what_dots_and_films_send_back(ground):
    """Flakes between layers of dots: each angle lies near what even films give, and nothing runs away."""
    chance = np.random.default_rng(7)
    for _ in range(6):
        plain = [PLAIN[int(chance.integers(len(PLAIN)))] for _ in range(2)]
        flaked = FLAKED[int(chance.integers(len(FLAKED)))]
        mixes = [mix([one], np.ones(1)) for one in (plain[0], flaked, plain[1])]
        film_um = [chance.uniform(0.1, 12.0, CELLS) for _ in mixes]
        seen = []
        for droplet_um in (0.0, 4.0):
            made = [
                Painted(one, sealed=True, digest=bytes([at]), droplet_um=droplet_um) for at, one in enumerate(mixes)
            ]
            cells = np.zeros(CELLS, dtype=np.intp)
            seen.append(seen_of(risen(made, film_um, [1] * 3), [GROUNDS[ground]], cells, Kept()).factors)
        even, dotted = seen
        assert dotted.min() > -1e-3
        assert dotted.max() < max(1.5, 1.5 * even.max())
