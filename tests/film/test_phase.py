"""Particles that throw light onwards: the closed form against adding and doubling with their phase functions."""

import numpy as np
import pytest
from truths import film, reflectance

from diachrom.core.film import transport
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix, Paint, mix
from diachrom.core.film.stack import diffuse, sprayed
from diachrom.core.film.streams import streams
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import BANDS
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.demo.pigments import PIGMENTS

D65 = light("D65")


def far(one, other):
    return float(delta_e(lab(one, under=D65), lab(other, under=D65)))


def seen(absorption, reduced, film_um, key, forward=None):
    coat = Coat(Mix(absorption, reduced, forward=forward), film_um)
    return diffuse(sprayed([coat]), GROUNDS[key], sheen=CLEARED)


def test_one_mean_cosine_stands_for_pigments_that_each_have_their_own():
    random = np.random.default_rng(3)
    pigments = list(PIGMENTS.values())
    shared, isotropic = [], []
    for _ in range(30):
        some = random.choice(len(pigments), random.integers(1, 5), replace=False)
        shares = random.dirichlet(np.ones(len(some))) * random.uniform(0.3, 0.8)
        own = random.choice([0.4, 0.5, 0.6, 0.7], len(some)).tolist()
        absorption = sum(share * pigments[at].absorption for at, share in zip(some, shares, strict=True))
        reduced = [share * pigments[at].scattering for at, share in zip(some, shares, strict=True)]
        film_um, key = float(random.choice([8, 16, 32])), str(random.choice(["white", "black", "grey"]))
        scatterers = [(one / (1 - g), g) for one, g in zip(reduced, own, strict=True)]
        true = reflectance([film(absorption, scatterers, film_um)], GROUNDS[key].reflectance)
        shared.append(far(seen(absorption, sum(reduced), film_um, key), true))
        isotropic.append(far(seen(absorption, sum(reduced), film_um, key, np.zeros(BANDS)), true))
    assert np.median(shared) < 0.15
    assert np.quantile(shared, 0.95) < 0.6
    assert np.median(isotropic) > 1.0  # what it would be without


@pytest.mark.parametrize("g", [0.0, 0.4, 0.8])
def test_a_mean_cosine_of_its_own_is_followed_exactly(g):
    absorption, reduced = np.linspace(0.001, 0.2, BANDS), np.linspace(0.3, 0.02, BANDS)
    for key in ("white", "black"):
        true = reflectance([film(absorption, [(reduced / (1 - g), g)], 12.0)], GROUNDS[key].reflectance)
        assert far(seen(absorption, reduced, 12.0, key, np.full(BANDS, g)), true) < 0.2


def test_a_mix_takes_the_mean_cosine_of_what_scatters_in_it():
    flat = np.full(BANDS, 0.2)
    back, on = Paint("a", "opaque", flat, flat, anisotropy=0.0), Paint("b", "opaque", flat, flat, anisotropy=0.8)
    clear = Paint("c", "medium", 0 * flat, 0 * flat)
    blend = mix([back, on, clear], np.array([0.5, 0.25, 0.25]))
    # mu_s = 0.5 x 0.2 / 1 + 0.25 x 0.2 / 0.2 = 0.35, of which 0.15 is left when reduced.
    np.testing.assert_allclose(blend.forward, 1 - 0.15 / 0.35)
    assert mix([clear], np.ones(1)).forward is None


@pytest.mark.parametrize("g", [0.0, 0.55, 0.9])
def test_scattering_alone_loses_nothing(g):
    modes = transport.modes(Mix(np.zeros(BANDS), np.full(BANDS, 0.4), forward=np.full(BANDS, g)))
    one, q = transport.film(modes, 30.0), streams().q
    np.testing.assert_allclose((one.reflection + one.transmission) @ q, np.broadcast_to(q, (BANDS, 8)), atol=1e-9)
