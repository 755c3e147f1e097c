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
    return by_doubling(alpha, beta, HALVINGS)


def by_doubling(alpha, beta, times):
    """Reflection and transmission of 2^times thin films that each keep 1 - alpha onwards and send beta back, in
    halves."""
    one = np.eye(alpha.shape[-1])
    p = np.linalg.inv(one + alpha)
    g = np.linalg.inv(one + alpha - beta @ p @ beta)
    r, t = 2 * g @ beta @ p, 2 * g - one
    for _ in range(times):
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


def rays_over_foil(*, metal, share, tilt_deg, diffused=0.0, absorbing=0.0, scattering=0.0, g=0.55, rays):
    """Rays at 45 degrees that meet a cleared film, of these optical depths, on foil until they are out: their
    directions in air (ray, 2) and what each still carries, as a share of the light that fell on it."""
    chance = np.random.default_rng(1)
    sine = np.sin(np.radians(45)) / N
    way, height = np.tile([sine, 0.0, -np.sqrt(1 - sine**2)], (rays, 1)), np.ones(rays)
    carried = np.full(rays, 1 - float(fresnel(np.cos(np.radians(45)), 1.0, N))) / rays
    gone, left = [], []
    while len(way):
        free = chance.exponential(1, len(way)) / scattering if scattering else np.full(len(way), np.inf)
        steep = np.maximum(abs(way[:, 2]), 1e-9)
        edge = np.where(way[:, 2] < 0, height, 1 - height) / steep
        step = np.minimum(free, edge)
        carried = carried * np.exp(-absorbing * step)
        height = np.clip(height + step * way[:, 2], 0, 1)
        met, low, high = free < edge, (free >= edge) & (way[:, 2] < 0), (free >= edge) & (way[:, 2] > 0)
        way[met] = _thrown(chance, way[met], g)
        carried[low] *= share + diffused
        spread = low & (chance.random(len(way)) < diffused / (share + diffused))
        way[spread] = _diffused(chance, int(spread.sum()))
        mirrored = low & ~spread
        way[mirrored], bright = _mirrored(chance, way[mirrored], metal, tilt_deg)
        carried[mirrored] *= bright
        turned = fresnel(np.clip(way[high, 2], 1e-9, 1))
        gone.append(N * way[high, :2])
        left.append(carried[high] * (1 - turned))
        carried[high] *= turned
        way[high] *= [1, 1, -1]
        going = carried > 1e-3 / rays
        way, height, carried = way[going], height[going], carried[going]
    return np.concatenate(gone), np.concatenate(left)


def _thrown(chance, way, g):
    """Onwards, as Henyey and Greenstein say."""
    spot = 2 * chance.random(len(way)) - 1
    cos = (1 + g * g - ((1 - g * g) / (1 + g * spot)) ** 2) / (2 * g)
    aside = np.cross(way, np.where(abs(way[:, 2:]) < 0.9, [[0.0, 0.0, 1.0]], [[1.0, 0.0, 0.0]]))
    aside /= np.linalg.norm(aside, axis=1, keepdims=True)
    turned = 2 * np.pi * chance.random((len(way), 1))
    across = np.cos(turned) * aside + np.sin(turned) * np.cross(way, aside)
    return cos[:, None] * way + np.sqrt(np.maximum(1 - cos**2, 0))[:, None] * across


def _diffused(chance, count):
    up, turned = np.sqrt(chance.random(count)), 2 * np.pi * chance.random(count)
    flat = np.sqrt(1 - up**2)
    return np.column_stack([flat * np.cos(turned), flat * np.sin(turned), up])


def _mirrored(chance, way, metal, tilt_deg):
    normal = _facets(chance, way, tilt_deg, 0.15, 2.2)
    meets = -(way * normal).sum(-1)
    way = way + 2 * meets[:, None] * normal
    way[:, 2] = abs(way[:, 2])  # a ray that a steep facet sends down meets the next one
    return way, fresnel(meets, N, metal)


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


def radiance_factor(ways, carried, aspecular_deg, *, cone_deg=3.0):
    """What rays carry into a cone around a view in the plane of light and eye."""
    out = np.radians(45 - aspecular_deg)
    rest = 1 - (ways**2).sum(-1)
    seen = np.column_stack([ways, np.sqrt(np.maximum(rest, 0))]) @ [np.sin(out), 0, np.cos(out)]
    within = (rest > 0) & (seen > np.cos(np.radians(cone_deg)))
    return np.pi * carried[within].sum() / (2 * np.pi * (1 - np.cos(np.radians(cone_deg))) * np.cos(out))
