"""Spray-outs as the core knows them: what was sprayed, over what, and what was measured; and what is predicted for many
of them at once under corrected paints, droppers and coats."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from diachrom.core.film import seen
from diachrom.core.film.dots import DIFFUSED, EVEN_DISCS, STRAIGHT, numbered
from diachrom.core.film.fast import FastFilms, Films, films_of, over_any
from diachrom.core.film.grounds import Ground
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix, Paint
from diachrom.core.film.stack import sprayed
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import BANDS, Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab, lab_of_radiance
from diachrom.core.light.lights import light
from diachrom.core.mix.layers import Layer, coat
from diachrom.core.mix.mixes import special
from diachrom.core.mix.spread import EVEN
from diachrom.core.mix.where import FEW_STREAMS, Where

D65 = light("D65")
Others = Sequence[tuple[tuple[object, ...], int]]  # (table, patch) each
THICKNESSES = np.geomspace(0.5, 2.0, 41)
LIGHT, HEAVY = 14, 26  # of them, a fifth below and above
TELLS = 1.5  # dE between those two, below which a film does not tell its thickness
PER_PAINT = 3  # corrections: ln strength, ln scattering, tilt


@dataclass(frozen=True)
class CardPart:
    """Drops in a card's mix: of which paint, out of which bottle."""

    paint: int
    bottle: int
    drops: int
    drop_ml: float


@dataclass(frozen=True, eq=False)
class ReadPatch:
    """A patch of a card: what it lies on, how many coats lie there, and what was read of it."""

    ground: Ground
    coats: int  # none: the ground, bare
    lab: Floats  # (3,) under daylight
    below: tuple[Layer, ...] = ()


@dataclass(frozen=True, eq=False)
class TestCard:
    """A card as it was sprayed and read."""

    __test__: ClassVar = False  # for test runners, which take the name for one of theirs

    parts: Sequence[CardPart]
    film_um: float  # one coat, as it was meant
    sheen: float
    patches: Sequence[ReadPatch]
    droplet_um: float = 0.0  # thickness of a disc of its mist; 0 is an even film


@dataclass(frozen=True)
class ParameterIndex:
    """Where each correction stands in the vector of all: per paint, per bottle, the hand, per card."""

    paints: int
    bottles: int
    cards: int

    @property
    def hand(self) -> int:
        """Where the hand stands among the parameters."""
        return PER_PAINT * self.paints + self.bottles

    @property
    def size(self) -> int:
        """How many parameters there are."""
        return self.hand + 1 + self.cards

    def of_paint(self, at: int) -> list[int]:
        """Strength, scattering, tilt."""
        return [PER_PAINT * at + step for step in range(PER_PAINT)]

    def bottle(self, at: int) -> int:
        """Where a bottle's drop stands."""
        return PER_PAINT * self.paints + at

    def card(self, at: int) -> int:
        """Where a card's film stands."""
        return self.hand + 1 + at

    def touched(self, card: TestCard, at: int) -> list[int]:
        """The corrections that a card tells something of."""
        paints = sorted({part.paint for part in card.parts})
        bottles = sorted({part.bottle for part in card.parts})
        own = [place for paint in paints for place in self.of_paint(paint)]
        return [*own, *(self.bottle(bottle) for bottle in bottles), self.hand, self.card(at)]


class Predictor:
    """Predicts every patch of many cards by the tables, under any corrections."""

    def __init__(self, paints: Sequence[Paint], cards: Sequence[TestCard], places: ParameterIndex) -> None:
        self.cards, self.places, self.paints = cards, places, paints
        self.absorption = np.stack([paint.absorption for paint in paints])
        self.scattering = np.stack([paint.scattering for paint in paints])
        self._tables: dict[tuple[object, ...], FastFilms] = {}
        self._special = [any(special(paints[part.paint]) for part in card.parts) for card in cards]
        self._plans = [_NO_PLAN if own else self._plan(card) for own, card in zip(self._special, cards, strict=True)]

    def labs(self, wanted: Sequence[tuple[int, Floats]]) -> list[Floats]:
        """A card under corrections (row, place) each -> (row, patch, 3) each. Cards with flakes or light of their own
        are solved in few streams, the others are looked up."""
        plain = [one for one in wanted if not self._special[one[0]]]
        looked_up = iter(self._looked_up(plain) if plain else ())
        return [self._solved(*one) if self._special[one[0]] else next(looked_up) for one in wanted]

    def _solved(self, at: int, corrections: Floats) -> Floats:
        card = self.cards[at]
        # A card's mix with batch axes (row, 1), and one coat of it in um.
        shares, own, film_um = self._poured(card, at, corrections)
        strong, tilt = np.exp(own[..., :1]), np.exp(own[..., 2:] * EVEN)  # (row, part, 1), (row, part, band)
        paints = [self.paints[part.paint] for part in card.parts]
        flakes, dyes = [], []
        for which, paint in enumerate(paints):
            share = (shares[:, which, None] * strong[:, which])[:, None]  # (row, 1, 1)
            if paint.flake is not None:
                flakes.append((paint.flake, share[..., 0] * paint.flake.cover_per_um))
            if paint.fluorescence is not None:
                dye = paint.fluorescence.excitation(paint.absorption)
                dyes.append((paint.fluorescence, share * tilt[:, which, None] * dye))
        absorption = np.einsum("rp,rpb->rb", shares, strong * tilt * np.stack([one.absorption for one in paints]))
        scattering = (shares * np.exp(own[..., 1])) @ np.stack([one.scattering for one in paints])
        mixed = Mix(absorption[:, None], scattering[:, None], tuple(flakes), tuple(dyes))
        counts, film_of = np.unique(np.array([patch.coats for patch in card.patches]), return_inverse=True)
        below = {tuple(one.digest for one in patch.below): patch.below for patch in card.patches}
        # The films are solved once for all the grounds that they lie on.
        films = {
            lies: sprayed(
                [*(coat(one) for one in layers), Coat(mixed, film_um * counts, droplet_um=card.droplet_um)], FEW_STREAMS
            )
            for lies, layers in below.items()
        }
        looks: dict[tuple[object, ...], Floats] = {}
        found = np.empty((len(corrections), len(card.patches), 3))
        for place, patch in enumerate(card.patches):
            key = table_of(patch)
            if key not in looks:
                stack = films[tuple(one.digest for one in patch.below)]
                radiance = seen.diffuse(stack, patch.ground, sheen=card.sheen, under=D65)  # (row, coat, band)
                looks[key] = lab_of_radiance(radiance, under=D65)
            found[:, place] = looks[key][:, film_of[place]]
        return found

    def _looked_up(self, wanted: Sequence[tuple[int, Floats]]) -> list[Floats]:
        lost: list[Floats] = []
        kept: list[Floats] = []
        looks, index = [], 0
        for card, corrections in wanted:
            per_um, film_um = self._films(card, corrections)
            look = self._plans[card].look(film_um, self.cards[card].droplet_um)
            for each, one in zip((lost, kept), per_um, strict=True):
                each.append((one[:, None, :] * look.film_um[..., None]).reshape(-1, BANDS))
            looks.append(replace(look, which=look.which + index))
            index += look.film_um.size
        made = films_of(np.concatenate(lost), np.concatenate(kept), film_um=1.0)
        film = np.concatenate([look.which.ravel() for look in looks])
        plans = [self._plans[card] for card, _ in wanted]
        grounds = np.concatenate([look.on(plan.grounds) for look, plan in zip(looks, plans, strict=True)])
        factors = over_any(made, film, grounds).T  # (film of a patch, band)
        # What lies on foil, on plastic or on other films has tables of its own: put it in its place.
        ends = np.cumsum([look.which.size for look in looks])
        apart: dict[tuple[object, ...], list[NDArray[np.intp]]] = {}
        for end, look, plan in zip(ends.tolist(), looks, plans, strict=True):
            own = np.arange(end - look.which.size, end).reshape(look.which.shape)
            for key, place in plan.others:
                apart.setdefault(key, []).append(own[:, place].ravel())
        for key, several in apart.items():
            places = np.concatenate(several)
            own = film[places]
            picked = Films(np.ascontiguousarray(made.absorbed[:, own]), np.ascontiguousarray(made.depth[:, own]))
            factors[places] = self._tables[key].reflectance(picked).T
        found = []
        for (card, _), look, plan, one in zip(wanted, looks, plans, np.split(factors, ends[:-1]), strict=True):
            seen = look.blended(one.reshape(*look.which.shape, BANDS), plan.straight)  # (row, patch, band)
            found.append(lab(seen + self.cards[card].sheen, under=D65))
        return found

    def _plan(self, card: TestCard) -> "_Plan":
        coats, film = np.unique([patch.coats for patch in card.patches], return_inverse=True)
        others = []
        for place, patch in enumerate(card.patches):
            if is_elsewhere(patch):
                key = table_of(patch)
                others.append((key, place))
                if key not in self._tables:
                    self._tables[key] = Where(patch.ground, 1.0, CLEARED, D65, patch.below).tables()
        grounds = np.array([patch.ground.reflectance for patch in card.patches]).reshape(-1, BANDS)
        straight = np.array([patch.ground.glossy for patch in card.patches], dtype=bool)
        return _Plan(coats.astype(np.float64), film.reshape(-1), grounds, others, straight)

    def _poured(self, card: TestCard, at: int, corrections: Floats) -> tuple[Floats, Floats, Floats]:
        """Shares (row, part), what each part's paint is corrected by (row, part, 3), and a coat's thickness (row,
        1)."""
        places = self.places
        poured = np.array([part.drops * part.drop_ml for part in card.parts])
        volumes = poured * np.exp(corrections[:, [places.bottle(part.bottle) for part in card.parts]])  # (row, part)
        own = corrections[:, [places.of_paint(part.paint) for part in card.parts]]
        film_um = card.film_um * np.exp(corrections[:, places.hand] + corrections[:, places.card(at)])[:, None]
        return volumes / volumes.sum(axis=1, keepdims=True), own, film_um

    def _films(self, at: int, corrections: Floats) -> tuple[tuple[Floats, Floats], Floats]:
        """Absorption and scattering (row, band) in 1/um of a card's mix under each row, and its coat (row, 1) in um."""
        card = self.cards[at]
        paints = [part.paint for part in card.parts]
        shares, own, film_um = self._poured(card, at, corrections)
        tilted = self.absorption[paints] * np.exp(own[..., :1] + own[..., 2:] * EVEN)  # (row, part, band)
        lost = np.einsum("rp,rpb->rb", shares, tilted)
        return (lost, (shares * np.exp(own[..., 1])) @ self.scattering[paints]), film_um


def is_elsewhere(patch: ReadPatch) -> bool:
    """It lies on foil, on plastic or on other films, which takes a table of its own."""
    return patch.ground.glossy or bool(patch.below)


def table_of(patch: ReadPatch) -> tuple[object, ...]:
    """What tells the table of such a patch from another."""
    ground = patch.ground
    return ground.key, ground.reflectance.tobytes(), tuple(one.digest for one in patch.below)


@dataclass(frozen=True, eq=False)
class _Look:
    """Which films a card's patches are seen as under each row of corrections: one a patch, or those of all numbers of
    discs."""

    film_um: Floats  # (row, film) thicknesses
    which: NDArray[np.intp]  # (row, patch, number of discs) of the films of all rows
    weights: Floats  # (row, patch, number of discs)

    def on(self, grounds: Floats) -> Floats:
        """Grounds (patch, band) beneath each of them."""
        return np.broadcast_to(grounds[None, :, None], (*self.which.shape, BANDS)).reshape(-1, BANDS)

    def blended(self, seen: Floats, straight: NDArray[np.bool_]) -> Floats:
        """(row, patch, number of discs, band) -> (row, patch, band); `straight` (patch,) keeps its place."""
        if self.which.shape[-1] == 1:
            return seen[:, :, 0]
        n = np.where(straight, STRAIGHT, DIFFUSED)[:, None]  # (patch, 1)
        return (self.weights[..., None] * np.maximum(seen, 0) ** (1 / n[..., None])).sum(axis=2).clip(0) ** n


@dataclass(frozen=True, eq=False)
class _Plan:
    """How a card's patches are looked up."""

    coats: Floats  # (film,) as they differ
    film: NDArray[np.intp]  # (patch,) which of them
    grounds: Floats  # (patch, band)
    others: Others  # the patches that no plain ground is under
    straight: NDArray[np.bool_]  # (patch,) what is beneath keeps light in its place

    def look(self, film_um: Floats, droplet_um: float) -> _Look:
        """For coats (row, 1) in µm."""
        thick, patches = film_um * self.coats, len(self.film)  # (row, film)
        first = thick.shape[0]
        if not droplet_um or thick.max() / droplet_um > EVEN_DISCS:
            which = self.film + thick.shape[1] * np.arange(first)[:, None]
            return _Look(thick, which[..., None], np.ones((first, patches, 1)))
        numbers, chances = numbered(thick / droplet_um)
        count = len(numbers)
        which = np.arange(count) + count * np.arange(first)[:, None]  # (row, number)
        weights = np.moveaxis(chances, 0, -1)[:, self.film]  # (row, patch, number)
        thick = np.broadcast_to(numbers * droplet_um, (first, count))
        return _Look(thick, np.broadcast_to(which[:, None], (first, patches, count)), weights)


_NO_PLAN = _Plan(np.zeros(0), np.zeros(0, dtype=np.intp), np.zeros((0, BANDS)), (), np.zeros(0, dtype=bool))


def thickness_of(predictor: Predictor, card: int) -> tuple[float, float | None]:
    """dE of a card as it is predicted, the mean over its patches, and how many times as thick it would fit best; None
    for a film whose thickness shows too little to tell."""
    places = predictor.places
    rows = np.zeros((1 + len(THICKNESSES), places.size))
    rows[1:, places.hand] = np.log(THICKNESSES)
    seen = predictor.labs([(card, rows)])[0]  # (row, patch, 3)
    measured = np.array([patch.lab for patch in predictor.cards[card].patches])
    far = delta_e(seen, measured).mean(axis=-1)
    shows = float(delta_e(seen[1 + LIGHT], seen[1 + HEAVY]).mean())
    best = int(np.argmin(far[1:]))
    inside = 0 < best < len(THICKNESSES) - 1 and shows > TELLS
    return float(far[0]), float(THICKNESSES[best]) if inside else None
