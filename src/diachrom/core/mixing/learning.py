"""Learning from spray-outs: how strong the paints really are, how they scatter, how their hue leans, how the bottles
drip, how thick the hand sprays.

A regularised fit in logarithms against every patch of every card, by Gauss-Newton: what is usual pulls back, readings
push. Each card may also have been sprayed a little thicker or thinner by itself. A card that fits nothing is set aside,
not averaged in. What is learned is judged by cards left out: a paint's correction that does not help them is not taken.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import mean_delta_e
from diachrom.core.mixing.spray_outs import PER_PAINT, Places, Predictor, SprayOut
from diachrom.errors import InvalidInput

# One standard deviation of what is usual, in logarithms.
STRENGTH, SCATTERING, TILT, DROP, HAND, CARD = 0.20, 0.20, 0.06, 0.08, 0.25, 0.04
NOISE = 0.5  # dE of a reading and of the model together
STEP, ROUNDS = 0.01, 8
HUBER = 2.5  # standard deviations beyond which a reading counts less
FOLDS = 5
ASIDE = 6.0  # dE, the median over a card's patches beyond which it fits nothing, and so many times what others have
ASIDE_TIMES = 4.0
Progress = Callable[[float], None]


@dataclass(frozen=True, eq=False)
class Corrections:
    """What is to be multiplied: strengths and scatterings by paint, drops by bottle, coats by the hand; tilts added."""

    strength: Floats  # (paint,)
    scattering: Floats  # (paint,)
    tilt: Floats  # (paint,)
    drop: Floats  # (bottle,)
    hand: float


@dataclass(frozen=True, eq=False)
class Learned:
    """What the cards say, and what it is worth on cards that were left out."""

    corrections: Corrections
    before: Floats  # (card,) dE of each card's patches, the mean, as predicted so far
    left_out: Floats  # (card,) the same, predicted from the other cards
    aside: Sequence[int]  # cards that fit nothing
    helped: Sequence[int]  # paints whose correction was taken; none where the cards fit neither paints nor each other


def learn(
    paints: Sequence[Paint],
    bottles: int,
    cards: Sequence[SprayOut],
    *,
    progress: Progress = lambda _: None,
) -> Learned:
    """Fit all cards. Raises InvalidInput where there are too few, or one holds what cannot be learned from."""
    if len(cards) < FOLDS:
        raise InvalidInput(f"{FOLDS} cards or more are needed to learn from, not {len(cards)}.", field="cards")
    for card in cards:
        if not card.patches or not card.parts:
            raise InvalidInput("A card without a mix or without a reading tells nothing.", field="cards")
    places = Places(len(paints), bottles, len(cards))
    fit = _Fit(Predictor(paints, cards, places), places)
    every = list(range(len(cards)))
    before = fit.miss(np.zeros(places.size), every)
    steps = FOLDS + 2
    whole = fit.solve(every)
    progress(1 / steps)
    aside = _set_aside(fit, whole, every)
    used = [at for at in every if at not in aside]
    left_out = before.copy()
    for fold, out in enumerate(_folds(used)):
        found = fit.solve([at for at in used if at not in out])
        left_out[out] = fit.miss(_without_cards(found, places), out)
        progress((fold + 2) / steps)
    fits = bool(used) and float(np.median(left_out[used])) < ASIDE
    helped = _helped(cards, before, left_out, used, len(paints)) if fits else []
    frozen = [PER_PAINT * at + step for at in range(len(paints)) if at not in helped for step in range(PER_PAINT)]
    found = fit.solve(used, frozen=frozen) if helped else np.zeros(places.size)
    progress(1.0)
    return Learned(_named(found, places), before, left_out, aside, helped)


def _folds(used: Sequence[int]) -> Iterator[list[int]]:
    for fold in range(FOLDS):
        yield [at for place, at in enumerate(used) if place % FOLDS == fold]


def _without_cards(found: Floats, places: Places) -> Floats:
    """What is known of a card that was not seen: nothing of its own."""
    known = found.copy()
    known[places.hand + 1 :] = 0
    return known


def _set_aside(fit: "_Fit", whole: Floats, every: Sequence[int]) -> list[int]:
    missed = fit.miss(whole, every)
    limit = max(ASIDE, ASIDE_TIMES * float(np.median(missed)))
    return [at for at, far in zip(every, missed.tolist(), strict=True) if far > limit]


def _helped(cards: Sequence[SprayOut], before: Floats, left_out: Floats, used: Sequence[int], paints: int) -> list[int]:
    """Paints on whose cards the others' corrections came nearer."""
    found = []
    for paint in range(paints):
        own = [at for at in used if any(part.paint == paint for part in cards[at].parts)]
        if own and float(np.mean(left_out[own])) < float(np.mean(before[own])):
            found.append(paint)
    return found


def _named(found: Floats, places: Places) -> Corrections:
    paints = found[: PER_PAINT * places.paints].reshape(places.paints, PER_PAINT)
    drops = found[PER_PAINT * places.paints : places.hand]
    return Corrections(
        np.exp(paints[:, 0]), np.exp(paints[:, 1]), paints[:, 2], np.exp(drops), float(np.exp(found[places.hand]))
    )


class _Fit:
    def __init__(self, predictor: Predictor, places: Places) -> None:
        self.predictor, self.places = predictor, places
        usual = np.tile([STRENGTH, SCATTERING, TILT], places.paints)
        rest = [np.full(places.bottles, DROP), [HAND], np.full(places.cards, CARD)]
        self.usual = np.concatenate([usual, *rest])
        self.measured = [np.array([patch.lab for patch in card.patches]) for card in predictor.cards]

    def miss(self, corrections: Floats, cards: Sequence[int]) -> Floats:
        """(card,) dE between prediction and reading, the mean over the patches."""
        seen = self.predictor.labs([(at, corrections) for at in cards])
        return np.array([float(mean_delta_e(one, self.measured[at])) for at, one in zip(cards, seen, strict=True)])

    def solve(self, cards: Sequence[int], *, frozen: Sequence[int] = ()) -> Floats:
        """The corrections that fit these cards best."""
        places = self.places
        free = np.ones(places.size, dtype=bool)
        free[list(frozen)] = False
        now = np.zeros(places.size)
        for _ in range(ROUNDS):
            normal, pull = np.diag(self.usual**-2), -now / self.usual**2
            for touched, residual, slope in self._slopes(now, cards):
                weight = np.minimum(1.0, HUBER * NOISE / np.maximum(np.linalg.norm(residual, axis=1), 1e-9))
                scaled = slope * (weight[:, None, None] / NOISE**2)
                normal[np.ix_(touched, touched)] += np.einsum("fcp,fcq->pq", scaled, slope)
                pull[touched] += np.einsum("fcp,fc->p", scaled, residual)
            step = np.zeros(places.size)
            step[free] = np.linalg.solve(normal[np.ix_(free, free)], pull[free])
            largest = float(np.abs(step).max())
            now = now + step * min(1.0, 0.4 / max(largest, 1e-12))
            if largest < 1e-3:
                break
        return now

    def _slopes(self, now: Floats, cards: Sequence[int]) -> Iterator[tuple[list[int], Floats, Floats]]:
        """Per card: the corrections that it touches, residuals (patch, 3) and slopes (patch, 3, correction)."""
        rows, touched = [], {}
        for at in cards:
            touched[at] = self.places.touched(self.predictor.cards[at], at)
            rows.append((at, now))
            for place in touched[at]:
                moved = now.copy()
                moved[place] += STEP
                rows.append((at, moved))
        seen = iter(self.predictor.labs(rows))
        for at in cards:
            base = next(seen)
            moves = np.stack([next(seen) for _ in touched[at]], axis=-1)  # (patch, 3, correction)
            even = _even(self.measured[at])  # (patch, 3, 3)
            slope = even @ ((moves - base[..., None]) / STEP)
            residual = (even @ (self.measured[at] - base)[..., None])[..., 0]
            yield touched[at], residual, slope


def _even(labs: Floats) -> Floats:
    """(patch, 3, 3) what turns small steps in Lab around these colours into steps of about a dE in any direction."""
    lightness, a, b = labs.T
    chroma = np.hypot(a, b)
    cos, sin = (
        np.divide(a, chroma, where=chroma > 1e-6, out=np.ones_like(a)),
        np.divide(b, chroma, where=chroma > 1e-6, out=np.zeros_like(b)),
    )
    off = (lightness - 50) ** 2
    in_l = 1 / (1 + 0.015 * off / np.sqrt(20 + off))
    in_c, in_h = 1 / (1 + 0.045 * chroma), 1 / (1 + 0.015 * chroma)
    found = np.zeros((len(labs), 3, 3))
    found[:, 0, 0] = in_l
    found[:, 1, 1], found[:, 1, 2] = in_c * cos, in_c * sin
    found[:, 2, 1], found[:, 2, 2] = -in_h * sin, in_h * cos
    return found
