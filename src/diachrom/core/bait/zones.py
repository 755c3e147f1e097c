"""Zones of a bait in a photo that was straightened: clusters of colour and place, named by where they lie and by how
they are scattered. A proposal; the painter decides."""

from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.bait.outline import Outline
from diachrom.core.light.bands import Bools, Floats
from diachrom.errors import InvalidInput
from diachrom.words import say

MOST_ZONES, FEWEST_ZONES = 8, 3
APART = 13.0  # Lab: clusters nearer than this are one zone
HEIGHT_COUNTS = 30.0  # Lab that the whole height of a bait counts
ROUNDS = 24
SMOOTH = 4  # pixels around, over which a net and grain are one colour
NO_BAIT = 7.0  # Lab between what lies inside and around the outline
SMALL = 0.012  # of the bait: less is no zone
STRIPES, SPECKS = 3.0, 2.2  # runs a row

# From back to belly: up to which height, 0 spine to 1 belly, and what a zone there is called.
BY_HEIGHT = ((0.16, "back"), (0.34, "shoulder"), (0.68, "flank"), (1.01, "belly"))


@dataclass(frozen=True)
class Zone:
    """A zone that was found, or corrected."""

    name: str
    region: str
    through: str  # a way of masking
    lab: tuple[float, float, float]
    share: float  # of the bait as it is seen
    target: int | None = None


def silhouette(outline: Outline, shape: tuple[int, int], margin: float) -> Bools:
    """(row, column) of a picture from nose to tail with such a margin at its ends, in lengths: what of it is bait."""
    height, width = shape
    x = (np.arange(width) + 0.5) / width * (1 + 2 * margin) - margin
    upper, lower, _ = outline.edges(np.clip(x, 0, 1))
    pixel = (1 + 2 * margin) / width
    rise = (height / 2 - np.arange(height) - 0.5) * pixel
    inside = (rise[:, None] < upper) & (rise[:, None] > lower)
    return inside & (x > 0) & (x < 1)


def proposed(lab: Floats, inside: Bools) -> list[Zone]:
    """Zones of a straightened picture (row, column, 3), the largest first. Raises InvalidInput where no bait is."""
    rows, columns = np.nonzero(inside)
    if len(rows) < 200:
        raise InvalidInput(
            say("The bait is too small in the photo: touch nose and tail of a larger one."), field="photo"
        )
    # What lies near the bait, and is not it.
    wide = max(3, inside.shape[0] // 12)
    grown = inside.copy()
    for step in range(1, wide + 1):
        grown[step:] |= inside[:-step]
        grown[:-step] |= inside[step:]
    around = grown & ~inside
    difference = np.linalg.norm(lab[inside].mean(axis=0) - lab[around].mean(axis=0))
    if difference < NO_BAIT and lab[inside].std(axis=0).max() < NO_BAIT:
        raise InvalidInput(
            say(
                "Between these two places the photo shows nothing that differs from what is around it: "
                "touch the bait's nose and its tail."
            ),
            field="photo",
        )
    last = np.asarray(inside.shape[0] - 1 - inside[::-1].argmax(axis=0))
    top, bottom = (np.where(inside.any(0), found, 0) for found in (inside.argmax(0), last))
    height = (rows - top[columns]) / np.maximum(bottom[columns] - top[columns], 1)
    # The mean of what lies around each place and is bait.
    total, weight = np.where(inside[..., None], lab, 0.0), inside.astype(np.float64)[..., None]
    steps = range(-SMOOTH, SMOOTH + 1)
    for axis in (0, 1):
        total, weight = (np.sum([np.roll(one, step, axis) for step in steps], axis=0) for one in (total, weight))
    points = np.column_stack([(total / np.maximum(weight, 1e-9))[rows, columns], HEIGHT_COUNTS * height])
    which = _clusters(points)
    zones = []
    for one in range(which.max() + 1):
        own = which == one
        share = float(own.mean())
        if share >= SMALL:
            mask = np.zeros(inside.shape, dtype=bool)
            mask[rows[own], columns[own]] = True
            zones.append(_zone(lab[rows[own], columns[own]], height[own], mask, share))
    zones.sort(key=lambda zone: -zone.share)
    return _named(zones[:MOST_ZONES])


def _clusters(points: Floats) -> Floats:
    """Which cluster each point (n, 4) is of: as few as keep `APART`. The same points give the same clusters."""
    chance = np.random.default_rng(5)
    some = points[chance.choice(len(points), min(len(points), 6000), replace=False)]
    centres = [some.mean(axis=0)]
    for _ in range(MOST_ZONES - 1):  # the farthest next, so that small strong marks are found
        far = np.min([np.linalg.norm(some - centre, axis=1) for centre in centres], axis=0)
        centres.append(some[np.argsort(far)[int(0.995 * (len(far) - 1))]])
    found = np.array(centres)
    for _ in range(ROUNDS):
        which = _nearest(some, found)
        found = np.array(
            [
                some[which == index].mean(axis=0) if (which == index).any() else found[index]
                for index in range(len(found))
            ]
        )
    while len(found) > FEWEST_ZONES:
        apart = np.linalg.norm(found[:, None] - found[None], axis=-1) + 1e9 * np.eye(len(found))
        one, other = np.unravel_index(np.argmin(apart), apart.shape)
        if apart[one, other] > APART:
            break
        which = _nearest(some, found)
        weights = [max((which == at).sum(), 1) for at in (one, other)]
        merged = np.average([found[one], found[other]], axis=0, weights=weights)
        found = np.vstack([np.delete(found, [one, other], axis=0), merged])
    return _nearest(points, found)


def _nearest(points: Floats, centres: Floats) -> Floats:
    return np.asarray(((points[:, None] - centres[None]) ** 2).sum(axis=-1).argmin(axis=1))


def _zone(lab: Floats, height: Floats, mask: Bools, share: float) -> Zone:
    middle = float(np.median(height))
    region = next(key for limit, key in BY_HEIGHT if middle < limit)
    colour = np.median(lab, axis=0)
    # How many pieces a row has in the mean, of rows that have any; what is smaller than a speck aside.
    kept = mask & np.roll(mask, 1, 1) & np.roll(mask, -1, 1)
    starts = (kept & ~np.roll(kept, 1, 1)).sum(axis=1)
    rows = starts[starts > 0]
    across = float(np.mean(rows)) if len(rows) else 0.0
    through, name = "free", region
    if share < 0.3 and across > STRIPES and float(np.ptp(np.percentile(height, [10, 90]))) > 0.45:
        through, name, region = "bars", "bars", "flank"
    elif share < 0.12 and across > SPECKS:
        through, name = "spots", "spots"
    return Zone(name, region, through, (float(colour[0]), float(colour[1]), float(colour[2])), share)


def _named(zones: list[Zone]) -> list[Zone]:
    """With names of their own: "flank", "flank 2"."""
    seen: dict[str, int] = {}
    found = []
    for zone in zones:
        seen[zone.name] = seen.get(zone.name, 0) + 1
        found.append(zone if seen[zone.name] == 1 else replace(zone, name=f"{zone.name} {seen[zone.name]}"))
    return found


def in_order(zones: list[Zone]) -> list[Zone]:
    """As they are laid: plain zones before patterns, light ones before dark ones."""
    return sorted(zones, key=lambda zone: (zone.through != "free", -zone.lab[0]))
