"""Spray-outs as the core knows them: what was sprayed, over what, and what was measured; and what is predicted for many
of them at once under corrected paints, droppers and coats."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film.fast import FastFilms, films_of
from diachrom.core.film.grounds import Ground
from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import WAVELENGTHS_NM, Floats
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.core.mixing.where import Where

D65 = light("D65")
EVEN = (WAVELENGTHS_NM - 555) / 175  # (band,), -1 to 1: along it a hue tilts
PER_PAINT = 3  # corrections: ln strength, ln scattering, tilt


@dataclass(frozen=True)
class Poured:
    """Drops in a card's mix: of which paint, out of which bottle."""

    paint: int
    bottle: int
    drops: int
    drop_ml: float


@dataclass(frozen=True, eq=False)
class Measured:
    """A field of a card: what it lay on, and what was read there."""

    ground: Ground
    lab: Floats  # (3,) under daylight


@dataclass(frozen=True, eq=False)
class SprayOut:
    """A test card."""

    parts: Sequence[Poured]
    film_um: float  # one coat, as it was meant
    coats: int
    clear_coat: bool
    fields: Sequence[Measured]


@dataclass(frozen=True)
class Places:
    """Where each correction stands in the vector of all: per paint, per bottle, the hand, per card."""

    paints: int
    bottles: int
    cards: int

    @property
    def hand(self) -> int:
        return PER_PAINT * self.paints + self.bottles

    @property
    def size(self) -> int:
        return self.hand + 1 + self.cards

    def bottle(self, at: int) -> int:
        return PER_PAINT * self.paints + at

    def card(self, at: int) -> int:
        return self.hand + 1 + at

    def touched(self, card: SprayOut, at: int) -> list[int]:
        """The corrections that a card tells something of."""
        paints = sorted({part.paint for part in card.parts})
        bottles = sorted({part.bottle for part in card.parts})
        own = [PER_PAINT * paint + step for paint in paints for step in range(PER_PAINT)]
        return [*own, *(self.bottle(one) for one in bottles), self.hand, self.card(at)]


class Predictor:
    """Predicts every field of many cards by the tables, under any corrections."""

    def __init__(self, paints: Sequence[Paint], cards: Sequence[SprayOut], places: Places) -> None:
        self.cards, self.places = cards, places
        self.absorption = np.stack([paint.absorption for paint in paints])
        self.scattering = np.stack([paint.scattering for paint in paints])
        self.tables: dict[tuple[object, ...], FastFilms] = {}
        for card in cards:
            for field in card.fields:
                key = (field.ground.key, field.ground.reflectance.tobytes(), card.clear_coat)
                if key not in self.tables:
                    self.tables[key] = Where(field.ground, 1.0, card.clear_coat, D65).tables()

    def labs(self, rows: Sequence[tuple[int, Floats]]) -> list[Floats]:
        """(card, corrections (place,)) each -> (field, 3) each."""
        lost, kept = np.empty((len(rows), len(EVEN))), np.empty((len(rows), len(EVEN)))
        for at, (card, corrections) in enumerate(rows):
            lost[at], kept[at] = self._film(card, corrections)
        found = [np.empty((len(self.cards[card].fields), 3)) for card, _ in rows]
        wanted: dict[tuple[object, ...], list[tuple[int, int]]] = {}
        for at, (card, _) in enumerate(rows):
            own = self.cards[card]
            for place, field in enumerate(own.fields):
                key = (field.ground.key, field.ground.reflectance.tobytes(), own.clear_coat)
                wanted.setdefault(key, []).append((at, place))
        for table, places in wanted.items():
            which = [at for at, _ in places]
            seen = self.tables[table].reflectance(films_of(lost[which], kept[which], film_um=1.0))
            for (at, place), point in zip(places, lab(seen.T.astype(np.float64), under=D65), strict=True):
                found[at][place] = point
        return found

    def _film(self, at: int, corrections: Floats) -> tuple[Floats, Floats]:
        """Optical depth of absorption and of scattering (band,) of a card's film."""
        card, places = self.cards[at], self.places
        paints = [part.paint for part in card.parts]
        volumes = np.array(
            [part.drops * part.drop_ml * np.exp(corrections[places.bottle(part.bottle)]) for part in card.parts]
        )
        own = corrections[: PER_PAINT * places.paints].reshape(places.paints, PER_PAINT)[paints]  # (part, 3)
        shares = volumes / volumes.sum()
        film_um = card.film_um * card.coats * np.exp(corrections[places.hand] + corrections[places.card(at)])
        tilted = self.absorption[paints] * np.exp(own[:, :1] + own[:, 2:] * EVEN)
        return film_um * shares @ tilted, film_um * (shares * np.exp(own[:, 1])) @ self.scattering[paints]
