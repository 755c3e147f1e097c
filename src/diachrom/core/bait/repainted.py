"""What of a bait changed since it was last looked at: a stroke meets few cells, and only these are reckoned anew."""

from collections.abc import Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher

import numpy as np

from diachrom.core.bait.rising import Film
from diachrom.core.film.cell_stacks import Cells
from diachrom.core.film.fast import Singles
from diachrom.core.film.grounds import Ground
from diachrom.core.light.bands import Bools

MOST_CHANGED = 0.6  # of the cells: beyond that all are reckoned at once


@dataclass(frozen=True, eq=False)
class Before:
    """Films in cells on their grounds, and what was seen of them."""

    films: Sequence[Film]
    grounds: tuple[str, ...]
    ground_at: Cells
    traits: tuple[bool, bool]  # whether any film has flakes, and whether any is dots
    factors: Singles  # (angle, band, cell)

    def changed(
        self, films: Sequence[Film], grounds: Sequence[Ground], ground_at: Cells, traits: tuple[bool, bool]
    ) -> Bools | None:
        """(cell,) whether other films lie there than did; None where all has to be reckoned.

        Parameters
        ----------
        films : bottom first, none of which bleeds or shines.
        ground_at : (cell,) which of the grounds each has.
        """
        same_ground = self.grounds == tuple(one.key for one in grounds) and len(ground_at) == len(self.ground_at)
        if not same_ground or traits != self.traits:
            return None
        found = ground_at != self.ground_at
        old, new = ([_key(one) for one in each] for each in (self.films, films))
        for what, a, b, c, d in SequenceMatcher(None, old, new, autojunk=False).get_opcodes():
            if what == "equal":
                for one, other in zip(self.films[a:b], films[c:d], strict=True):
                    found |= one.film_um != other.film_um
            else:
                for one in (*self.films[a:b], *films[c:d]):
                    found |= one.film_um > 0
        return None if found.mean() > MOST_CHANGED else found


def _key(film: Film) -> bytes:
    return film.painted.digest + np.float64(film.painted.droplet_um).tobytes()


def traits_of(films: Sequence[Film]) -> tuple[bool, bool]:
    """Whether any film has flakes, and whether any is dots."""
    return any(one.mix.flakes for one in films), any(one.painted.droplet_um for one in films)


def plain(films: Sequence[Film]) -> bool:
    """Whether each cell stands for itself: nothing bleeds into what lies on it, and nothing shines."""
    return not any(one.dye is not None or one.mix.shines for one in films)
