"""Dyes that rise over a bait: an unsealed candy gives to the coat that is laid on it, cell by cell, and that to the
next (`film.bleed`, which follows one stack band by band).

A layer over a candy is split into its coats, as far as more than a trace reaches them. Amounts are counted in
micrometres of the candy's film, of which a share rises each time; what rises is taken from where it was.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.bait.coated import Painted
from diachrom.core.film.paint import Mix
from diachrom.core.light.bands import Floats

TRACE = 0.01  # of what a first coat takes up: no coat is told apart for less
LEVELS = (0.0, 0.5, 1.0)  # of the most that a film holds, at which it is solved


@dataclass(frozen=True, eq=False)
class Film:
    """A layer, or a coat of it, in cells: and the dye that it holds more, or less, than it was mixed with."""

    painted: Painted
    mix: Mix
    film_um: Floats  # (cell,)
    dye: Floats | None = None  # (band,) absorption of one strength of it
    strength: Floats | None = None  # (cell,)
    most_um: float = 0.0  # of it anywhere, where these are but some of the cells

    def solved_at(self) -> list[tuple[Mix, bytes, Floats | None]]:
        """Mixes whose films are solved, their digests, and how much each cell is like them (cell,): they sum to 1."""
        if self.dye is None or self.strength is None:
            return [(self.mix, self.painted.digest, None)]
        held = self.strength[(self.film_um > 0) & (self.strength != 0)]
        most = float(np.percentile(held, 98) if held.max() > 0 else held.min())
        share, found = np.clip(self.strength / most, 0, 1.5), []
        for at, one in enumerate(LEVELS):
            others = [other for index, other in enumerate(LEVELS) if index != at]
            weight = np.prod([(share - other) / (one - other) for other in others], axis=0)
            absorption = np.maximum(self.mix.absorption + one * most * self.dye, 0)
            told = self.painted.digest + np.float32(one * most).tobytes() + self.dye.tobytes()
            if weight.any():
                found.append((replace(self.mix, absorption=absorption), told if one else self.painted.digest, weight))
        return found


def risen(painted: Sequence[Painted], films_um: Sequence[Floats], coats: Sequence[int]) -> list[Film]:
    """The films of a bait after what bleeds has risen.

    Parameters
    ----------
    painted : what each layer is made of, bottom first.
    films_um : (cell,) of each.
    coats : in how many each was sprayed.

    Returns
    -------
    Film of each layer, or of each of its coats, that lies anywhere.
    """
    found = _Found()
    for one, film_um, count in zip(painted, films_um, coats, strict=True):
        if one.mix is None or not film_um.any():
            if one.mix is None and one.sealed:
                found.stop()
            continue
        if one.mix.bleeding is not None:
            found.candy(one, one.mix, film_um)
        else:
            found.paint(one, one.mix, film_um, count)
        if one.sealed:
            found.stop()
    return found.films()


class _Found:
    def __init__(self) -> None:
        self.each: list[Film] = []
        self.held: list[Floats | None] = []  # µm of candy's film (cell,), of each
        self.dyes: list[Floats | None] = []
        self.source: list[int] = []  # the films of the candy that gives
        self.holder = np.zeros(0, dtype=np.intp)  # (cell,) which film is to give next, -1 the candy
        self.giving = np.zeros(0)  # (cell,) µm of candy's film that the next coat takes
        self.dye = np.zeros(0)
        self.share = 0.0

    def stop(self) -> None:
        """A seal: nothing rises any more."""
        self.source = []

    def candy(self, one: Painted, mix: Mix, film_um: Floats) -> None:
        """A candy: it takes from one beneath it what that has more of, and gives from then on."""
        assert mix.bleeding is not None
        same = self.source and self.each[self.source[0]].painted.digest == one.digest
        if self.source and not same:
            more = np.clip(1 - np.divide(mix.bleeding, self.dye, out=np.ones_like(self.dye), where=self.dye > 0), 0, 1)
            self._lay(one, mix, film_um, self.dye * more)
        else:
            self._put(one, mix, film_um)
        own = len(self.each) - 1
        if not same:
            self.source, self.dye = [own], mix.bleeding
            absorbed = float(mix.absorption.sum())
            self.share = float(mix.bleeding.sum()) / absorbed if absorbed else 0.0
            self.giving, self.holder = film_um.copy(), np.full(len(film_um), -1)
        elif (self.holder == -1).all():
            self.source.append(own)
            self.giving = self.giving + film_um

    def paint(self, one: Painted, mix: Mix, film_um: Floats, count: int) -> None:
        """A layer that does not bleed itself: coat by coat over what gives."""
        reach = float(self.giving.max(initial=0.0)) if self.source else 0.0
        trace, left = TRACE * float(max((self.each[at].film_um.max() for at in self.source), default=0.0)), count
        while left > 1 and reach > trace:
            self._lay(one, mix, film_um / count, self.dye)
            reach, left = reach * self.share, left - 1
        rest = film_um * (left / count)
        if reach > trace:
            self._lay(one, mix, rest, self.dye)
        else:
            self._put(one, mix, rest)

    def _put(self, one: Painted, mix: Mix, film_um: Floats) -> None:
        self.each.append(Film(one, mix, film_um))
        self.held.append(None)
        self.dyes.append(None)

    def _lay(self, one: Painted, mix: Mix, film_um: Floats, dye: Floats) -> None:
        self._put(one, mix, film_um)
        own, here = len(self.each) - 1, film_um > 0
        amount = np.where(here, self.giving, 0.0)
        for below in range(own):
            mask = here & (self.holder == (-1 if below in self.source else below)) & (amount > 0)
            if mask.any():
                gone = self.each[below].film_um if below in self.source else amount
                self._hold(below, self.dye, np.where(mask, -gone, 0.0))
        self._hold(own, dye, amount)
        self.holder = np.where(here, own, self.holder)
        self.giving = np.where(here, self.share * amount, self.giving)

    def _hold(self, at: int, dye: Floats, amount: Floats) -> None:
        held = self.held[at]
        if held is not None and self.dyes[at] is dye:
            amount = held + amount
        self.held[at], self.dyes[at] = amount, dye

    def films(self) -> list[Film]:
        """With the dye that each holds in the end."""
        found = []
        for film, held, dye in zip(self.each, self.held, self.dyes, strict=True):
            if held is None or dye is None or not held.any():
                found.append(film)
                continue
            strength = np.divide(held, film.film_um, out=np.zeros_like(held), where=film.film_um > 0)
            found.append(replace(film, dye=dye, strength=strength))
        return found
