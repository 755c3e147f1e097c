"""Light that facets mirror: against rays followed one by one, and where its energy goes."""

from dataclasses import dataclass

import numpy as np
import pytest
from foil_rays import ANGLES, BAND, CASES, TILTS_DEG, VEILED, followed, tabled
from truths import rays_over_foil

from diachrom.core.film import mirroring
from diachrom.core.film.facets import LIGHT_DEG, ORDERS, passing, rough
from diachrom.core.film.flakes import Flake
from diachrom.core.film.foil import Mirror
from diachrom.core.film.grounds import GROUNDS, Ground
from diachrom.core.film.layer import Coat
from diachrom.core.film.materials import ALUMINIUM
from diachrom.core.film.paint import Mix
from diachrom.core.film.stack import diffuse, glance, sprayed
from diachrom.core.film.streams import streams
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import BANDS


@pytest.mark.parametrize("case", CASES)
def test_the_table_of_rays_is_what_a_few_rays_come_to(case):
    all_of_it, *factors = followed(case, 24_000)
    tabled_all, *table = tabled(case)
    assert all_of_it == pytest.approx(tabled_all, rel=0.015)
    assert factors[:2] == pytest.approx(table[:2], rel=0.25)


@pytest.mark.parametrize("key", TILTS_DEG)
def test_cleared_foil_is_what_rays_over_it_come_to(key):
    seen = glance(sprayed([]), GROUNDS[key], ANGLES)[:, BAND]
    for angle, own, rays in zip(ANGLES, seen, tabled(key)[1:], strict=True):
        assert own == pytest.approx(rays, rel=0.08, abs=0.012), angle


@pytest.mark.parametrize("reduced", VEILED)
def test_a_veiled_foil_is_what_rays_through_the_veil_come_to(reduced):
    """What a film throws onwards still comes back near the mirror's direction; what it throws about drowns the
    flash."""
    ground = GROUNDS["silver-foil"]
    stack = sprayed([Coat(Mix(np.full(BANDS, 0.005), np.full(BANDS, reduced / 8)), 8.0)])
    seen = (diffuse(stack, ground, sheen=CLEARED) + glance(stack, ground, ANGLES))[:, BAND]
    for angle, own, rays in zip(ANGLES, seen, tabled(str(reduced))[1:], strict=True):
        assert own == pytest.approx(rays, rel=0.12, abs=0.03), angle


class Ideal(Mirror):
    def metal(self, cos_in, index):
        return np.ones((BANDS, *np.shape(cos_in)))


def directed_energy(layers, ground):
    """Of light at 45 degrees, all that leaves without having met a particle."""
    return passing(LIGHT_DEG) * mirroring.directed(tuple(layers), ground, 8)[1]


def test_what_an_ideal_foil_mirrors_leaves_the_clear_coat_sooner_or_later():
    ground = Ground("ideal", "ideal foil", np.zeros(BANDS), Ideal(ALUMINIUM, 10.0, 1.0))
    np.testing.assert_allclose(directed_energy([], ground), passing(LIGHT_DEG), rtol=0.02)
    # And rays agree that nothing is left behind.
    _, carried = rays_over_foil(metal=1e9, share=1.0, tilt_deg=10.0, rays=30_000)
    assert carried.sum() == pytest.approx(passing(LIGHT_DEG), rel=0.01)


@dataclass(frozen=True)
class IdealFlake(Flake):
    def faces(self, cos_in):
        return np.ones(BANDS), np.zeros(BANDS)


def test_ideal_flakes_that_cover_all_give_all_of_it_back():
    mix = Mix(np.zeros(BANDS), np.zeros(BANDS), ((IdealFlake("aluminium", 2.0), np.array(2.0)),))
    stack, black = sprayed([Coat(mix, 400.0)]), Ground("none", "nothing", np.zeros(BANDS))
    back = directed_energy(stack.layers, black) + diffuse(stack, black, sheen=CLEARED)
    np.testing.assert_allclose(back, passing(LIGHT_DEG), rtol=0.02)


@pytest.mark.parametrize("tilt_deg", [1.0, 8.0, 30.0])
@pytest.mark.parametrize("index", [1.0, 1.5])
def test_perfect_facets_lose_nothing_and_treat_both_ways_alike(tilt_deg, index):
    matrices = rough(tilt_deg, 8, index)
    q = streams().q[-matrices.shape[-1] :] * 1.5 / index
    np.testing.assert_allclose(matrices[0] @ q, q, atol=1e-9)
    np.testing.assert_allclose(matrices, np.swapaxes(matrices, 1, 2), atol=1e-12)
    assert matrices.shape[0] == ORDERS


def test_a_dye_over_foil_dims_the_glance_at_least_as_beers_law_says():
    candy = Mix(np.full(BANDS, 0.05), np.zeros(BANDS))
    bare, dyed = (glance(sprayed(coats), GROUNDS["silver-foil"], [15.0])[0] for coats in ([], [Coat(candy, 8.0)]))
    way = 1 / np.cos(np.arcsin(np.sin(np.radians(45)) / 1.5)) + 1 / np.cos(np.arcsin(0.5 / 1.5))
    once = np.exp(-0.4 * way)
    assert np.all(dyed < bare * once)  # what needs more than one turn is dimmed more
    assert np.all(dyed > 0.65 * bare * once)


def test_flakes_in_one_film_are_those_in_several():
    """Light goes through a film with flakes as through its halves: they lie everywhere in it."""
    mix = Mix(np.full(BANDS, 0.02), np.full(BANDS, 0.05), ((Flake("pearl", 0.05, 120.0), np.array(0.05)),))
    for key in ("white", "black", "silver-foil"):
        whole, parts = sprayed([Coat(mix, 24.0)]), sprayed([Coat(mix, 6.0)] * 4)
        one, several = (diffuse(stack, GROUNDS[key], sheen=CLEARED) for stack in (whole, parts))
        np.testing.assert_allclose(one, several, atol=1e-10)
        one, several = (glance(stack, GROUNDS[key], ANGLES) for stack in (whole, parts))
        np.testing.assert_allclose(one, several, rtol=1e-9)
