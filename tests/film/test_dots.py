"""Dots of mist against discs that are thrown and counted, and against sums over all their numbers."""

from math import exp, factorial

import numpy as np
import pytest

from diachrom.core.bait.coated import Painted
from diachrom.core.bait.picture import stacks
from diachrom.core.bait.rising import Film
from diachrom.core.bait.tabled import Kept
from diachrom.core.film import cell_clear_dots, cell_dots, cell_stacks, dots, transport
from diachrom.core.film.dots import DIFFUSED
from diachrom.core.film.fast import FastFilms, films_of
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix
from diachrom.core.film.paint import mix as mixed
from diachrom.core.film.stack import diffuse, glance, sprayed
from diachrom.core.film.streams import STREAMS
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.demo.paints import PAINTS

D65 = light("D65")


def paint(chance):
    """Absorption and scattering of a dye, a transparent or an opaque paint."""
    centre, width, strength = chance.uniform(380, 730), chance.uniform(25, 90), 10 ** chance.uniform(-1.3, -0.3)
    absorption = strength * np.exp(-(((WAVELENGTHS_NM - centre) / width) ** 2) / 2) + 10 ** chance.uniform(-4, -2.5)
    return Mix(absorption, chance.choice([1e-4, 0.01, 0.1]) * (WAVELENGTHS_NM / 550) ** -1.2)


def over(mix, film_um, below):
    return transport.over(transport.film(transport.modes(mix), film_um), below)


def seen_sum(mixes, droplets, films, ground, n):
    """The mean over every number of discs of one or two layers, written out."""
    below = [(1.0, ground.matrix(STREAMS))]
    for mix, droplet, film in zip(mixes, droplets, films, strict=True):
        mean = film / droplet
        law = [(exp(-mean) * mean**k / factorial(k), k * droplet) for k in range(int(mean + 8 * mean**0.5 + 10))]
        below = [(weight * share, over(mix, um, matrix)) for share, matrix in below for weight, um in law]
    return sum(weight * transport.out_of_surface(matrix) ** (1 / n) for weight, matrix in below) ** n


def apart(one, other):
    return float(delta_e(lab(one, under=D65), lab(other, under=D65)))


def test_discs_that_are_thrown_cover_and_look_as_they_are_reckoned():
    chance, side, radius, droplet, film = np.random.default_rng(1), 420, 7, 4.0, 6.0
    area = np.pi * radius**2
    counts = []
    for _ in range(2):  # two layers, one thrown on the other
        found = np.zeros((side, side))
        disc = (np.add.outer(np.arange(-radius, radius + 1) ** 2, np.arange(-radius, radius + 1) ** 2)) <= radius**2
        many = chance.poisson(film / droplet * side**2 / disc.sum())
        for x, y in chance.integers(0, side, (many, 2)):
            rows, columns = np.ix_(
                np.arange(x - radius, x + radius + 1) % side, np.arange(y - radius, y + radius + 1) % side
            )
            found[rows, columns] += disc
        counts.append(found.astype(int))
    assert area == pytest.approx(disc.sum(), rel=0.05)
    assert (counts[0] == 0).mean() == pytest.approx(exp(-film / droplet), abs=0.02)
    mixes = [paint(chance), paint(chance)]
    ground = GROUNDS["white"]
    look = {
        pair: transport.out_of_surface(
            over(mixes[1], pair[1] * droplet, over(mixes[0], pair[0] * droplet, ground.matrix(STREAMS)))
        )
        for pair in {*zip(counts[0].ravel().tolist(), counts[1].ravel().tolist(), strict=True)}
    }
    pairs, often = np.unique(np.stack([one.ravel() for one in counts]), axis=1, return_counts=True)
    thrown = sum(
        share * look[first, second] ** (1 / DIFFUSED)
        for (first, second), share in zip(pairs.T.tolist(), often / often.sum(), strict=True)
    )
    films = sprayed([Coat(one, film, droplet_um=droplet) for one in mixes])
    assert apart(diffuse(films, ground, sheen=0.0), thrown**DIFFUSED) < 0.5


@pytest.mark.parametrize("layers", [1, 2])
def test_layers_of_dots_are_the_sum_over_all_numbers_of_discs(layers):
    chance, far = np.random.default_rng(layers), []
    for _ in range(24 if layers == 1 else 8):
        mixes, droplets = [paint(chance) for _ in range(layers)], chance.uniform(2, 6, layers)
        films = chance.choice([1.0, 4.0, 8.0, 24.0], layers)
        ground = GROUNDS[["white", "black", "grey", "bone"][int(chance.integers(4))]]
        coats = [Coat(*each[:2], droplet_um=each[2]) for each in zip(mixes, films, droplets, strict=True)]
        far.append(
            apart(diffuse(sprayed(coats), ground, sheen=0.0), seen_sum(mixes, droplets, films, ground, DIFFUSED))
        )
    assert np.median(far) < 0.05
    assert max(far) < 0.3


def test_over_foil_dots_blend_plainly_at_every_angle():
    mix, foil, angles = paint(np.random.default_rng(5)), GROUNDS["silver-foil"], [15.0, 45.0, 110.0]
    films = sprayed([Coat(mix, 4.0, droplet_um=4.0)])
    law = [exp(-1.0) / factorial(k) for k in range(12)]
    each = [sprayed([Coat(mix, 4.0 * k)]) for k in range(12)]
    for of in (lambda one: diffuse(one, foil, sheen=0.0), lambda one: glance(one, foil, angles)):
        assert of(films) == pytest.approx(sum(w * of(one) for w, one in zip(law, each, strict=True)), abs=2e-3)


@pytest.mark.parametrize("droplet_um", [0.0, 1e-9, 0.02])
def test_dots_of_no_size_are_an_even_film(droplet_um):
    mix, white = paint(np.random.default_rng(6)), GROUNDS["white"]
    even, dotted = (diffuse(sprayed([Coat(mix, 9.0, droplet_um=each)]), white, sheen=0.0) for each in (0.0, droplet_um))
    assert dotted == pytest.approx(even, abs=1e-3)


def test_dots_lie_between_the_bare_ground_and_the_film_and_many_coats_are_that_film():
    mix, white = paint(np.random.default_rng(7)), GROUNDS["white"]
    bare = diffuse(sprayed([]), white, sheen=0.0)
    even, dotted = (diffuse(sprayed([Coat(mix, 4.0, droplet_um=each)]), white, sheen=0.0) for each in (0.0, 6.0))
    assert ((even < dotted + 1e-6) & (dotted < bare)).all()
    assert diffuse(sprayed([Coat(mix, 0.0, droplet_um=6.0)]), white, sheen=0.0) == pytest.approx(bare, abs=1e-12)
    thick, dots_of_it = (
        diffuse(sprayed([Coat(mix, 1500.0, droplet_um=each)]), white, sheen=0.0) for each in (0.0, 6.0)
    )
    assert dots_of_it == pytest.approx(thick, abs=1e-3)


def test_what_is_batched_is_what_each_is_by_itself():
    mix, black = paint(np.random.default_rng(8)), GROUNDS["black"]
    films_um = np.array([0.0, 2.0, 8.0, 30.0])
    below = Coat(paint(np.random.default_rng(9)), 5.0, droplet_um=3.0)
    together = diffuse(sprayed([below, Coat(mix, films_um, droplet_um=4.0)]), black, sheen=0.0)
    for row, film in zip(together, films_um, strict=True):
        alone = diffuse(sprayed([below, Coat(mix, film, droplet_um=4.0)]), black, sheen=0.0)
        assert apart(row, alone) < 0.4


def test_four_layers_whose_numbers_are_drawn_together_are_near_many_more_draws(monkeypatch):
    chance, white = np.random.default_rng(10), GROUNDS["white"]
    coats = [Coat(paint(chance), 6.0, droplet_um=4.0) for _ in range(4)]
    few = diffuse(sprayed(coats, 4), white, sheen=0.0)
    monkeypatch.setattr(dots, "MOST_STACKS", 1024)
    assert apart(few, diffuse(sprayed(coats, 4), white, sheen=0.0)) < 1.2


@pytest.mark.parametrize("key", ["white", "black", "grey"])
def test_tables_of_dots_are_the_solution(key):
    chance = np.random.default_rng(11)
    mixes = [paint(chance) for _ in range(12)]
    tables = FastFilms.over(GROUNDS[key], dots.shares(8.0, 4.0))
    own = [np.stack([getattr(one, each) for one in mixes]) for each in ("absorption", "scattering")]
    looked = tables.reflectance(films_of(*own, film_um=8.0)).T.astype(np.float64)
    for row, mix in zip(looked, mixes, strict=True):
        exact = diffuse(sprayed([Coat(mix, 8.0, droplet_um=4.0)]), GROUNDS[key], sheen=0.0)
        assert apart(row, exact) < 0.3


def test_what_is_left_of_light_through_dots_is_its_mean():
    depth = np.array([0.0, 0.1, 1.0, 5.0])
    one = dots.shares(8.0, 4.0)
    mean = sum(exp(-2.0) * 2.0**k / factorial(k) * np.exp(-depth * k / 2.0) for k in range(30))
    assert one.left(depth) == pytest.approx(mean, rel=1e-9)
    assert sum(one.weights) == pytest.approx(1, abs=1e-9)
    assert sum(w * t for w, t in zip(one.weights, one.times, strict=True)) == pytest.approx(1, abs=2e-2)


def test_curves_of_a_mosaic_are_dots_over_any_diffuser():
    mix = paint(np.random.default_rng(12))
    most = cell_dots.most_discs_um(16.0, 4.0)
    curves = cell_dots.curves(cell_stacks.tables(mix, most), 4.0)
    film_um = np.array([1.0, 4.0, 9.0, 16.0])
    for reflectance in (0.05, 0.3, 0.8):
        below = np.full((cell_stacks.SOME_BANDS, 4), reflectance, dtype=np.float32)
        ground = cell_dots.internal(below)[0, 0]
        root, square, _ = curves.over([(below ** (1 / DIFFUSED), None)], film_um)
        assert (square >= root**2 - 1e-3).all()
        for at, film in enumerate(film_um):
            own = GROUNDS["white"].__class__("own", "own", np.full(BANDS, float(ground)))
            exact = seen_sum([mix], [4.0], [film], own, DIFFUSED)
            assert apart(cell_stacks.seen_weights() @ root[:, at] ** DIFFUSED, exact) < 0.8


def test_two_values_have_the_moments_of_many():
    chance = np.random.default_rng(13)
    values, weights = chance.uniform(0.05, 0.95, (9, 40)), chance.dirichlet(np.ones(9), 40).T
    moments = [(weights * values**power).sum(axis=0).astype(np.float32) for power in (1, 2, 3)]
    found = cell_dots.two_roots(moments)
    for power, moment in zip((1, 2, 3), moments, strict=True):
        assert sum(share * value**power for value, share in found) == pytest.approx(moment, abs=2e-3)


def test_two_films_have_the_moments_of_discs_where_one_lies_or_more():
    film_um, numbers = np.array([0.2, 3.0, 20.0]), np.arange(1, 60)
    law = np.array([[exp(-one / 4) * (one / 4) ** int(k) / factorial(int(k)) for k in numbers] for one in film_um])
    law /= law.sum(axis=1, keepdims=True)
    found = cell_clear_dots.two_films(film_um, 4.0)
    for power in (1, 2, 3):
        exact = (law * (4.0 * numbers) ** power).sum(axis=1)
        assert sum(share * one**power for one, share in found) == pytest.approx(exact, rel=1e-3)


def mosaic_and_exact(mixes, droplet_um, films_um, ground):
    """(angle, band) of a mosaic's cell and of the exact stack, at 15, 45 and 110 degrees."""
    painted = [Painted(one, digest=bytes([at]), droplet_um=droplet_um) for at, one in enumerate(mixes)]
    films = [Film(one, mix, np.array([film])) for one, mix, film in zip(painted, mixes, films_um, strict=True)]
    shown = stacks(films, [ground], np.zeros(1, dtype=np.intp), Kept()).factors[[0, 2, 4], :, 0]
    coats = sprayed([Coat(mix, float(film), droplet_um=droplet_um) for mix, film in zip(mixes, films_um, strict=True)])
    exact = glance(coats, ground, [15.0, 45.0, 110.0]) + diffuse(coats, ground, sheen=0.0)
    return shown @ cell_stacks.seen_weights().T, np.broadcast_to(exact, (3, BANDS))


@pytest.mark.parametrize(("key", "median", "most"), [("silver-foil", 0.4, 2.0), ("clear-body", 0.4, 2.0)])
def test_a_mosaic_of_dots_over_what_keeps_light_in_its_place_is_the_sum_over_all_numbers(key, median, most):
    chance, far = np.random.default_rng(14), []
    for _ in range(12):
        mixes, droplet_um = [paint(chance) for _ in range(2)], float(chance.choice([2.5, 4.0, 5.5]))
        shown, exact = mosaic_and_exact(mixes, droplet_um, chance.choice([1.5, 3.0, 8.0, 14.0], 2), GROUNDS[key])
        far += [apart(one, other) for one, other in zip(shown, exact, strict=True)]
    assert np.median(far) < median
    assert max(far) < most


def test_dots_over_foil_that_is_covered_all_over_are_dots_over_what_covers_it():
    chance, droplets = np.random.default_rng(16), (0.0, 4.0)
    mixes = [Mix(np.full(BANDS, 0.01), np.full(BANDS, 0.3)), paint(chance)]
    painted = [Painted(one, digest=bytes([at]), droplet_um=droplets[at]) for at, one in enumerate(mixes)]
    films = [Film(one, mix, np.array([40.0, 6.0])) for one, mix in zip(painted, mixes, strict=True)]
    grounds = [GROUNDS["silver-foil"], GROUNDS["white"]]
    shown = stacks(films, grounds, np.array([0, 1]), Kept()).factors[2]
    coats = [Coat(mix, 40.0, droplet_um=one) for mix, one in zip(mixes, droplets, strict=True)]
    exact = diffuse(sprayed(coats), GROUNDS["silver-foil"], sheen=0.0)
    assert apart(cell_stacks.seen_weights() @ shown[:, 0], exact) < 1.0


@pytest.mark.parametrize(("key", "median"), [("black", 0.5), ("white", 0.7), ("silver-foil", 3.0)])
def test_a_mosaic_of_dots_with_flakes_is_near_the_exact_one(key, median):
    chance, far = np.random.default_rng(15), []
    names = ("perlemor-gull", "perlemor-solv", "nordlys-fiol")
    pearls = [mixed([one.profile()], np.ones(1)) for one in PAINTS if one.id in names]
    for _ in range(8):
        mixes = [paint(chance), pearls[int(chance.integers(3))]]
        shown, exact = mosaic_and_exact(mixes, 4.0, chance.choice([1.5, 3.0, 8.0], 2), GROUNDS[key])
        far += [apart(one, other) for one, other in zip(shown, exact, strict=True)]
    assert np.median(far) < median
