"""CIEDE2000 colour difference, vectorised [sharma2005; equation numbers are that paper's]."""

import numpy as np

from diachrom.core.light.bands import Floats

POW25_7 = 25.0**7
CHUNK = 8_000  # rows at a time, so that the intermediate arrays stay in cache


def delta_e(first: Floats, second: Floats) -> Floats:
    """CIEDE2000 between two broadcastable arrays (..., 3) of L*, a*, b* -> (...)."""
    one, two = np.asarray(first, dtype=np.float64), np.asarray(second, dtype=np.float64)
    shape = np.broadcast_shapes(one.shape, two.shape)[:-1]
    if not shape:
        return np.asarray(_delta_e(one, two))
    result = np.empty(shape)
    step = max(1, CHUNK // max(1, int(np.prod(shape[1:]))))
    for start in range(0, shape[0], step):
        rows = slice(start, start + step)
        # What is the same for all rows is reckoned with once.
        own, beside = (each[rows] if each.ndim > len(shape) and len(each) > 1 else each for each in (one, two))
        result[rows] = _delta_e(own, beside)
    return result


def _pow7(value: Floats) -> Floats:
    square = value * value
    return square * square * square * value


def _delta_e(one: Floats, two: Floats) -> Floats:
    l1, a1, b1 = np.moveaxis(one, -1, 0).copy()
    l2, a2, b2 = np.moveaxis(two, -1, 0).copy()
    mean_c7 = _pow7((np.hypot(a1, b1) + np.hypot(a2, b2)) / 2)  # (2, 3)
    stretch = 1.5 - 0.5 * np.sqrt(mean_c7 / (mean_c7 + POW25_7))  # 1 + G (4)
    a1, a2 = a1 * stretch, a2 * stretch  # (5)
    c1, c2 = np.hypot(a1, b1), np.hypot(a2, b2)  # (6)
    h1, h2 = np.arctan2(b1, a1) % (2 * np.pi), np.arctan2(b2, a2) % (2 * np.pi)  # (7), radians

    dl, dc = l2 - l1, c2 - c1  # (8, 9)
    turn = h2 - h1  # (10); hues exactly opposite keep their order, as in the published pairs
    turn = turn - 2 * np.pi * np.sign(turn) * (np.abs(turn) > np.pi)
    dh = 2 * np.sqrt(c1 * c2) * np.sin(turn / 2)  # (11)

    mean_l, mean_c = (l1 + l2) / 2, (c1 + c2) / 2  # (12, 13)
    grey = c1 * c2 == 0
    mean_h = np.where(grey, h1 + h2, h1 + turn / 2)  # (14)

    t = (  # (15)
        1
        - 0.17 * np.cos(mean_h - np.pi / 6)
        + 0.24 * np.cos(2 * mean_h)
        + 0.32 * np.cos(3 * mean_h + np.pi / 30)
        - 0.20 * np.cos(4 * mean_h - np.radians(63))
    )
    degrees = np.degrees(mean_h) % 360
    theta = np.radians(30) * np.exp(-(((degrees - 275) / 25) ** 2))  # (16)
    c7 = _pow7(mean_c)
    rc = 2 * np.sqrt(c7 / (c7 + POW25_7))  # (17)
    l50 = (mean_l - 50) ** 2
    dl = dl / (1 + 0.015 * l50 / np.sqrt(20 + l50))  # (18)
    dc = dc / (1 + 0.045 * mean_c)  # (19)
    dh = dh / (1 + 0.015 * mean_c * t)  # (20)
    squared = dl**2 + dc**2 + dh**2 - np.sin(2 * theta) * rc * dc * dh  # (21, 22)
    return np.sqrt(np.maximum(squared, 0))


def mean_delta_e(one: Floats, two: Floats) -> Floats:
    """(..., view, 3) beside (view, 3) or as many -> (...,), the mean over the views or fields."""
    return np.asarray(delta_e(one, two).mean(axis=-1))
