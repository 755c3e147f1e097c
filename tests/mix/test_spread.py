"""How sure a colour is, counted: of what is really sprayed, nine in ten lie within what is said."""

from dataclasses import replace

import numpy as np
import pytest

from diachrom.core.film import seen
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab_of_radiance
from diachrom.core.light.lights import light
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.hand import Hand
from diachrom.core.mix.layers import Layer, spray
from diachrom.core.mix.spread import spread
from diachrom.core.profiles.guess import guess
from diachrom.core.profiles.guess_basis import ToGuess, seen_lab
from diachrom.demo.paints import PAINTS

D65 = light("D65")
TRUE = [paint for one in PAINTS if not (paint := one.profile()).thins]


class Bench:
    """Random recipes of what is believed, and what comes of them with what is really in the bottles."""

    def __init__(self, seed):
        self.random = np.random.default_rng(seed)

    def recipe(self, flaked):
        able = [at for at, paint in enumerate(TRUE) if flaked or not paint.flake]
        some = self.random.choice(able, self.random.integers(1, 4), replace=False).tolist()
        drops = self.random.integers(1, 8, len(some)).tolist()
        film_um, coats = float(self.random.choice([4, 8, 14])), int(self.random.integers(1, 4))
        ground = str(self.random.choice(["white", "black", "grey", "silver-foil"]))
        turns = ground == "silver-foil" or any(TRUE[at].flake for at in some)
        return list(zip(some, drops, strict=True)), film_um, coats, ground, 25.0 if turns else None

    def sprayed(self, paints, recipe, *, film_um, droplet_um=0.0):
        parts, _, coats, ground, angle = recipe
        drops = 0.05 * np.exp(0.08 * self.random.standard_normal(len(parts)))
        pours = [Pour(paint, count, float(ml)) for paint, (_, count), ml in zip(paints, parts, drops, strict=True)]
        return look([Layer(Cup(pours), film_um, coats, droplet_um=droplet_um)], ground, angle)

    def thickness(self, film_um):
        return film_um * max(0.1, 1 + 0.2 * self.random.standard_normal())


def look(layers, ground, angle):
    films = spray(layers)
    found = seen.diffuse(films, GROUNDS[ground], sheen=CLEARED, under=D65)
    if angle is not None:
        found = found + seen.glance(films, GROUNDS[ground], [angle], under=D65)[0]
    return lab_of_radiance(found, under=D65)


def within(bench, believed, real, *, recipes, sprayings, hand=Hand()):  # noqa: B008
    """Share of sprayings that lie within the spread of their recipe, in dots that may be others than believed."""
    inside = []
    for turn in range(recipes):
        recipe = bench.recipe(flaked=turn % 2 == 0)
        parts, film_um, coats, ground, angle = recipe
        layer = hand.layer(Cup([Pour(believed[at], count) for at, count in parts]), film_um, coats)
        said = spread([layer], over=GROUNDS[ground], sheen=CLEARED, under=D65, angle_deg=angle).delta_e
        middle = look([layer], ground, angle)
        for _ in range(sprayings):
            dots = layer.droplet_um * float(np.exp(layer.droplet_off * bench.random.standard_normal()))
            paints, film = [real(at) for at, _ in parts], bench.thickness(film_um)
            got = bench.sprayed(paints, recipe, film_um=film, droplet_um=min(dots, 50.0))
            inside.append(float(delta_e(got, middle)) <= said)
    return np.mean(inside)


@pytest.mark.sweep
def test_nine_in_ten_sprayings_of_measured_paints_lie_within_it():
    bench, sigma = Bench(1), 0.05

    def real(at):
        """A little stronger or weaker than it was measured."""
        factor, paint = np.exp(sigma * bench.random.standard_normal()), TRUE[at]
        return replace(
            paint,
            absorption=factor * paint.absorption,
            scattering=factor * paint.scattering,
            flake=paint.flake and replace(paint.flake, cover_per_um=factor * paint.flake.cover_per_um),
        )

    believed = [replace(paint, uncertainty=sigma) for paint in TRUE]
    assert 0.86 <= within(bench, believed, real, recipes=50, sprayings=8) <= 0.94
    for off in (0.1, 0.4):  # dots that were measured, and usual ones
        hand = Hand(1.0, 4.0, off)
        assert 0.85 <= within(bench, believed, real, recipes=30, sprayings=5, hand=hand) <= 0.95


@pytest.mark.sweep
def test_more_than_eight_in_ten_sprayings_of_guessed_paints_lie_within_it():
    where = ["black-glance" if paint.flake else "white" for paint in TRUE]
    wanted = [
        ToGuess(paint.name, paint.kind, np.clip(seen_lab(paint, key), [0, -128, -128], [100, 128, 128]))
        for paint, key in zip(TRUE, where, strict=True)
    ]
    assert within(Bench(2), guess(wanted), lambda at: TRUE[at], recipes=70, sprayings=3) >= 0.82


def test_a_guess_says_that_its_hue_or_its_hiding_is_what_is_least_known():
    paint = guess([ToGuess("Guessed", "opaque", np.array([50.0, 40.0, 30.0]))])[0]
    layer = Layer(Cup([Pour(paint, 3)]), 8.0, 1)
    found = spread([layer], over=GROUNDS["black"], sheen=CLEARED, under=D65)
    assert found.cause in ("how well Guessed hides", "the hue of Guessed", "the profile of Guessed")
    sure = spread(
        [Layer(Cup([Pour(replace(paint, uncertainty=0.05), 3)]), 8.0, 1)],
        over=GROUNDS["black"],
        sheen=CLEARED,
        under=D65,
    )
    assert found.delta_e > 2 * sure.delta_e
