"""What really was sprayed, by the truth that the simulated devices have of the bottles, the droppers and the hand."""

import sqlite3
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.light.lights import light
from diachrom.core.mix.cup import LARGEST_DROP_ML, SMALLEST_DROP_ML, Cup
from diachrom.core.mix.draft import Draft
from diachrom.core.mix.layers import by_hand
from diachrom.core.mix.strip import strip
from diachrom.instruments import truth
from diachrom.work.mix.contents import contents, cup_of
from diachrom.work.mix.sprayed_over import over


def really(
    connection: sqlite3.Connection,
    draft: Draft,
    patches: Sequence[tuple[str, int]],
    *,
    card: int | None = None,
    thinned: float = 0.0,
) -> list[Floats]:
    """Radiance factor (band,) of each patch (ground, coats) of a draft, as a perfect reader would see it."""
    held = contents(connection, draft)
    pours = [
        replace(
            pour,
            paint=truth.of_paint(held.shelf[part.bottle].bottle.paint_id, pour.paint),
            drop_ml=min(max(truth.of_drop(part.bottle, part.drop_ml), SMALLEST_DROP_ML), LARGEST_DROP_ML),
        )
        for part, pour in zip(draft.parts, cup_of(held).pours, strict=True)
    ]
    grounds = list(dict.fromkeys(ground for ground, _ in patches))
    seen = strip(
        Cup(pours),
        film_um=by_hand(draft.film_um, truth.of_hand(card)) * (1 - thinned),
        coats=max(1, *(coats for _, coats in patches)),
        over=[over(connection, ground) for ground in grounds],
        sheen=draft.sheen,
        under=light("D65"),
    )
    columns = dict(zip(grounds, seen.columns, strict=True))
    return [
        np.clip((columns[ground].bare if coats == 0 else columns[ground].after(coats)).diffuse.radiance_factor, 0, 1)
        for ground, coats in patches
    ]
