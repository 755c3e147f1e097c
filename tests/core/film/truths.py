"""Truths that share nothing with the model: adding and doubling with a phase function summed over the circle, and rays
that are followed one by one over foil."""

from functools import cache

import numpy as np

N = 1.5
STREAMS, HALVINGS, AROUND = 24, 12, 360


def fresnel(mu, inside=N, outside=1.0):
    """Unpolarised, from a medium of index `inside`; 1 beyond the critical angle. `outside` may be complex."""
    below = 1 - (inside / outside) ** 2 * (1 - mu * mu)
    cos_out = np.sqrt(np.asarray(below, dtype=complex))
    s = (inside * mu - outside * cos_out) / (inside * mu + outside * cos_out)
    p = (outside * mu - inside * cos_out) / (outside * mu + inside * cos_out)
    return (abs(s) ** 2 + abs(p) ** 2) / 2


@cache
def _quadrature():
    critical = np.sqrt(1 - 1 / N**2)
    node, weight = np.polynomial.legendre.leggauss(STREAMS // 2)
    low, high = critical / 2, (1 - critical) / 2
    return np.concatenate([low * (node + 1), critical + high * (node + 1)]), np.concatenate(
        [low * weight, high * weight]
    )


@cache
def _phase(g):
    """Henyey and Greenstein's, onwards and back, in these directions: each of them keeps all its light."""
    mu, weight = _quadrature()
    turned = np.cos(np.pi * (np.arange(AROUND) + 0.5) / AROUND)
    one, other = mu[:, None, None], mu[None, :, None]
    across = np.sqrt((1 - one**2) * (1 - other**2)) * turned
    both = [((1 - g * g) / (1 + g * g - 2 * g * (side * one * other + across)) ** 1.5).mean(-1) for side in (1, -1)]
    whole = (weight[:, None] * (both[0] + both[1])).sum(0) / 2
    return both[0] / whole, both[1] / whole


def film(absorption, scatterers, film_um):
    """Reflection and transmission (band, stream, stream) of radiances; `scatterers` are (mu_s (band,), g) each."""
    mu, weight = _quadrature()
    one = np.eye(STREAMS)
    extinction = absorption + sum(amount for amount, _ in scatterers)
    onwards, back = (sum(amount[:, None, None] * _phase(g)[side] for amount, g in scatterers) for side in (0, 1))
    thin = film_um / 2**HALVINGS
    alpha = (extinction[:, None, None] * one - onwards * weight / 2) / mu[:, None] * thin / 2
    beta = back * weight / 2 / mu[:, None] * thin / 2
    p = np.linalg.inv(one + alpha)
    g = np.linalg.inv(one + alpha - beta @ p @ beta)
    r, t = 2 * g @ beta @ p, 2 * g - one
    for _ in range(HALVINGS):
        x = t @ np.linalg.inv(one - r @ r)
        r, t = r + x @ r @ t, x @ t
    return r, t


def reflectance(films, ground):
    """Cleared films, bottom first, on a diffusing ground (band,): directional-hemispherical, straight down."""
    mu, weight = _quadrature()
    one, below = np.eye(STREAMS), ground[:, None, None] * np.ones((STREAMS, 1)) * 2 * mu * weight
    for r, t in films:
        below = r + t @ np.linalg.solve(one - below @ r, below @ t)
    turned = fresnel(mu)
    rising = np.linalg.solve(one - below * turned, below)
    leaving = np.einsum("i,bij->bj", 2 * mu * weight * (1 - turned), rising) / (2 * mu * weight)
    # No node lies straight down: a cubic through the last four leads there.
    straight = np.linalg.solve(np.vander(1 - mu[-4:], 4, increasing=True), leaving[:, -4:].T)[0]
    return (1 - fresnel(np.array(1.0), 1.0, N)) * straight


def rays_over_foil(*, metal, share, tilt_deg, standing=0.15, spread=2.2, light_deg=45.0, rays=600_000, seed=1):
    """Rays that meet cleared foil until they are out: their directions in air (ray, 2) and what each still carries,
    as a share of the light that fell on it."""
    chance = np.random.default_rng(seed)
    sine = np.sin(np.radians(light_deg)) / N
    way = np.tile([sine, 0.0, -np.sqrt(1 - sine**2)], (rays, 1))
    carried = np.full(rays, 1 - float(fresnel(np.cos(np.radians(light_deg)), 1.0, N))) / rays
    gone, left = [], []
    while len(way):
        normal = _facets(chance, way, tilt_deg, standing, spread)
        meets = -(way * normal).sum(-1)
        way = way + 2 * meets[:, None] * normal
        carried = carried * share * fresnel(meets, N, metal)
        up = way[:, 2] > 0
        turned = np.where(up, fresnel(np.clip(way[:, 2], 1e-9, 1)), 1.0)
        gone.append(N * way[up, :2])
        left.append((carried * (1 - turned))[up])
        carried = carried * turned
        way = np.where(up[:, None], way * [1, 1, -1], way)
        going = carried > 1e-3 / rays
        way, carried = way[going], carried[going]
    return np.concatenate(gone), np.concatenate(left)


def _facets(chance, way, tilt_deg, standing, spread):
    """A facet for each ray, of those that face it, as often as it shows itself to it."""
    normals, todo = np.empty_like(way), np.arange(len(way))
    while len(todo):
        slope = np.tan(np.radians(tilt_deg)) * np.where(chance.random(len(todo)) < standing, spread, 1.0)
        steep = slope[:, None] * chance.standard_normal((len(todo), 2))
        tried = np.column_stack([steep, np.ones(len(todo))])
        shows = -(way[todo] * tried).sum(-1)
        taken = chance.random(len(todo)) * 3 < shows
        normals[todo[taken]] = tried[taken] / np.linalg.norm(tried[taken], axis=-1, keepdims=True)
        todo = todo[~taken]
    return normals


def radiance_factor(ways, carried, aspecular_deg, *, light_deg=45.0, cone_deg=3.0):
    """What rays carry into a cone around a view in the plane of light and eye."""
    out = np.radians(light_deg - aspecular_deg)
    rest = 1 - (ways**2).sum(-1)
    seen = np.column_stack([ways, np.sqrt(np.maximum(rest, 0))]) @ [np.sin(out), 0, np.cos(out)]
    within = (rest > 0) & (seen > np.cos(np.radians(cone_deg)))
    return np.pi * carried[within].sum() / (2 * np.pi * (1 - np.cos(np.radians(cone_deg))) * np.cos(out))
