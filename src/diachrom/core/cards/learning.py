"""Learning from spray-out cards: how strong the paints really are, how they scatter, how their hue leans, how the
bottles drip, how thick the hand sprays.

A regularised fit in logarithms against every patch of every card, by Gauss-Newton: what is usual pulls back, readings
push. Each card may also have been sprayed a little thicker or thinner by itself. A card that fits nothing is set aside,
not averaged in. What is learned is judged by cards left out: a paint's correction that does not help them is not taken.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.cards.spray_out_cards import PER_PAINT, ParameterIndex, Predictor, TestCard
from diachrom.core.film.flakes import MOST_COVER
from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e, mean_delta_e
from diachrom.core.mix.spread import EVEN
from diachrom.errors import InvalidInput
from diachrom.words import say

# One standard deviation of what is usual, in logarithms.
STRENGTH, SCATTERING, TILT, DROP, HAND, CARD = 0.20, 0.20, 0.06, 0.08, 0.25, 0.04
NOISE = 0.5  # dE of a reading and of the model together
STEP, ROUNDS = 0.01, 8
HUBER = 2.5  # standard deviations beyond which a reading counts less
FEWEST = 5  # cards, and times that some are left out
MOST_FOLDS, FEW = 24, 60
TINY = 1e-4  # dE that is no gain
SUREST = 0.03  # a profile's uncertainty, however many cards speak for it
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
    strength_sure: Floats  # (paint,) one standard deviation of the logarithm that is left


@dataclass(frozen=True)
class Apart:
    """dE of cards left out that one correction touches, the mean: without it, and with it; all others in place."""

    without: float = 0.0
    with_it: float = 0.0

    @property
    def helps(self) -> bool:
        """Whether a correction helps cards that it was not learned from."""
        return self.with_it < self.without - TINY


@dataclass(frozen=True, eq=False)
class Learned:
    """What the cards say, and what it is worth on cards that were left out."""

    corrections: Corrections
    before: Floats  # (card,) dE of each card's patches, the mean, as predicted so far
    left_out: Floats  # (card,) the same, predicted from the other cards
    aside: Sequence[int]  # cards that fit nothing
    helped: Sequence[int]  # paints whose correction was taken; none where the cards fit neither paints nor each other
    apart: Sequence["Apart"]  # (paint,) what its own correction is worth


def learn(
    paints: Sequence[Paint],
    bottles: int,
    cards: Sequence[TestCard],
    *,
    progress: Progress = lambda _: None,
) -> Learned:
    """Fit strengths, hiding, hue, drops and the hand to all cards at once.

    Parameters
    ----------
    paints : profiles that cards name by place.
    bottles : how many bottles cards name.
    cards : sprayed and read.
    progress : is told the share that is done, 0 to 1; it may raise to stop.

    Returns
    -------
    Learned.

    Raises
    ------
    InvalidInput : there are too few cards, or one holds what cannot be learned from.
    """
    if len(cards) < FEWEST:
        raise InvalidInput(
            say("{least} cards or more are needed to learn from, not {count}.", least=FEWEST, count=len(cards)),
            field="cards",
        )
    if not all(card.patches and card.parts for card in cards):
        raise InvalidInput(say("A card without a mix or without a reading tells nothing."), field="cards")
    places = ParameterIndex(len(paints), bottles, len(cards))
    fit = _Fitting(Predictor(paints, cards, places), places, progress)
    every = list(range(len(cards)))
    before = fit.miss(np.zeros(places.size), every)
    whole, _ = fit.solve(every)
    missed = fit.miss(whole, every)
    limit = max(ASIDE, ASIDE_TIMES * float(np.median(missed)))
    aside = [index for index, far in zip(every, missed.tolist(), strict=True) if far > limit]
    used = [at for at in every if at not in aside]
    left_out, trial = _leave_out(fit, whole, used, before)
    apart = trial.found()
    helping = [group for group, one in zip(trial.groups, apart, strict=True) if one.helps]
    if not _better(before[used], left_out[used]):
        helping = []
    found, sure = np.zeros(places.size), fit.usual
    if helping:
        kept = [*helping, *([places.card(at)] for at in used)]
        found, sure = fit.solve(used, start=whole, free=[place for own in kept for place in own])
    progress(1.0)
    by_paint = found[: PER_PAINT * places.paints].reshape(places.paints, PER_PAINT)
    drops = found[PER_PAINT * places.paints : places.hand]
    return Learned(
        corrections=Corrections(
            strength=np.exp(by_paint[:, 0]),
            scattering=np.exp(by_paint[:, 1]),
            tilt=by_paint[:, 2],
            drop=np.exp(drops),
            hand=float(np.exp(found[places.hand])),
            strength_sure=sure[: PER_PAINT * places.paints : PER_PAINT],
        ),
        before=before,
        left_out=left_out,
        aside=aside,
        helped=[at for at in range(len(paints)) if places.of_paint(at) in helping],
        apart=apart[: len(paints)],
    )


def _leave_out(fit: "_Fitting", whole: Floats, used: Sequence[int], before: Floats) -> tuple[Floats, "_Trial"]:
    """dE of each card (card,) predicted from the others, and what each correction is worth there."""
    # Which cards are left out together: with few cards each by itself, so that the others are enough to learn from.
    count = min(len(used), MOST_FOLDS if len(used) <= FEW else FEWEST)
    folds = [[index for place, index in enumerate(used) if place % count == fold] for fold in range(count)]
    left_out, trial = before.copy(), _Trial(fit)
    fit.solves = 2 + len(folds)
    for out in folds:
        found, _ = fit.solve([at for at in used if at not in out], start=whole)
        # What is known of a card that was not seen: nothing of its own.
        known = found.copy()
        known[fit.places.hand + 1 :] = 0
        left_out[out] = fit.miss(known, out)
        trial.judge(known, out)
    return left_out, trial


def _better(before: Floats, left_out: Floats) -> bool:
    """The cards fit the paints, and each other."""
    return len(before) > 0 and float(np.median(left_out)) < min(ASIDE, float(np.median(before)))


def corrected(paint: Paint, corrections: Corrections, at: int) -> Paint:
    """The paint as it was learned to be; `at` is its place among the corrections."""
    sure = min(paint.uncertainty, max(SUREST, float(corrections.strength_sure[at])))
    strength = float(corrections.strength[at])
    flake, dye, glow = paint.flake, paint.fluorescence, paint.glow
    return replace(
        paint,
        absorption=paint.absorption * strength * np.exp(corrections.tilt[at] * EVEN),
        scattering=paint.scattering * corrections.scattering[at],
        uncertainty=sure,
        flake=flake and replace(flake, cover_per_um=min(MOST_COVER, flake.cover_per_um * strength)),
        fluorescence=dye and replace(dye, strength_per_um=dye.strength_per_um * strength),
        glow=glow and replace(glow, strength_per_um=glow.strength_per_um * strength),
    )


class _Fitting:
    def __init__(self, predictor: Predictor, places: ParameterIndex, progress: Progress) -> None:
        self.predictor, self.places, self.progress = predictor, places, progress
        self.solved, self.solves = 0, 2 + MOST_FOLDS
        usual = np.tile([STRENGTH, SCATTERING, TILT], places.paints)
        rest = [np.full(places.bottles, DROP), [HAND], np.full(places.cards, CARD)]
        self.usual = np.concatenate([usual, *rest])
        self.touched = [places.touched(card, index) for index, card in enumerate(predictor.cards)]
        self.measured = [np.array([patch.lab for patch in card.patches]) for card in predictor.cards]
        self.even = [_even(labs) for labs in self.measured]  # (patch, 3, 3) each

    def miss(self, corrections: Floats, cards: Sequence[int]) -> Floats:
        """(card,) dE between prediction and reading, the mean over the patches."""
        seen = self.predictor.labs([(index, corrections[None]) for index in cards])
        return np.array([float(mean_delta_e(one[0], self.measured[at])) for at, one in zip(cards, seen, strict=True)])

    def solve(
        self, cards: Sequence[int], *, start: Floats | None = None, free: Sequence[int] | None = None
    ) -> tuple[Floats, Floats]:
        """The corrections that fit these cards best, and one standard deviation of each; all, or those at `free`.

        With r_f the reading less the prediction of patch f, in steps of about a dE, J_f its slopes, s the noise, w_f =
        min(1, k s / |r_f|) the weight and t what is usual of each correction c, a turn solves
            (sum_f J_f^T w_f J_f / s^2 + diag(1/t^2)) dc = sum_f J_f^T w_f r_f / s^2 - c/t^2;
        the variances are the diagonal of the first bracket's inverse [madsen2004].
        """
        places, own = self.places, np.zeros(self.places.size, dtype=bool)
        own[slice(None) if free is None else list(free)] = True
        now = np.zeros(places.size) if start is None else np.where(own, start, 0.0)
        for turn in range(ROUNDS):
            self.progress((self.solved + turn / ROUNDS) / self.solves)
            normal, pull = np.diag(self.usual**-2), -now / self.usual**2
            for touched, residual, slope in self._slopes(now, cards):
                weight = np.minimum(1.0, HUBER * NOISE / np.maximum(np.linalg.norm(residual, axis=1), 1e-9))
                scaled = slope * (weight[:, None, None] / NOISE**2)
                normal[np.ix_(touched, touched)] += np.einsum("fcp,fcq->pq", scaled, slope)
                pull[touched] += np.einsum("fcp,fc->p", scaled, residual)
            step = np.zeros(places.size)
            step[own] = np.linalg.solve(normal[np.ix_(own, own)], pull[own])
            largest = float(np.abs(step).max())
            now = now + step * min(1.0, 0.4 / max(largest, 1e-12))
            if largest < 1e-3:
                break
        self.solved += 1
        sure = self.usual.copy()
        sure[own] = np.sqrt(np.diagonal(np.linalg.inv(normal[np.ix_(own, own)])))
        return now, sure

    def _slopes(self, now: Floats, cards: Sequence[int]) -> Iterator[tuple[list[int], Floats, Floats]]:
        """Per card: the corrections that it touches, residuals (patch, 3) and slopes (patch, 3, correction)."""
        wanted = []
        for index in cards:
            touched = self.touched[index]
            rows = np.repeat(now[None], 1 + len(touched), axis=0)
            rows[np.arange(1, len(rows)), touched] += STEP
            wanted.append((index, rows))
        for (index, _), seen in zip(wanted, self.predictor.labs(wanted), strict=True):
            base, moves = seen[0], np.moveaxis(seen[1:] - seen[0], 0, -1)  # (patch, 3, correction)
            even = self.even[index]
            residual = (even @ (self.measured[index] - base)[..., None])[..., 0]
            yield self.touched[index], residual, even @ (moves / STEP)


class _Trial:
    """What each correction by itself is worth on cards that it was not learned from."""

    def __init__(self, fit: _Fitting) -> None:
        self.fit, places = fit, fit.places
        self.groups: list[list[int]] = [
            *(places.of_paint(index) for index in range(places.paints)),
            *([places.bottle(at)] for at in range(places.bottles)),
            [places.hand],
        ]
        self.sums = np.zeros((len(self.groups), 3))  # without, with, cards

    def judge(self, known: Floats, out: Sequence[int]) -> None:
        """Corrections that were learned from other cards, on these."""
        wanted, whose = [], []
        for index in out:
            touched = set(self.fit.touched[index])
            groups = [group for group, own in enumerate(self.groups) if touched.issuperset(own)]
            rows = np.repeat(known[None], 1 + len(groups), axis=0)
            for row, group in enumerate(groups, start=1):
                rows[row, self.groups[group]] = 0
            wanted.append((index, rows))
            whose.append(groups)
        for (index, _), groups, seen in zip(wanted, whose, self.fit.predictor.labs(wanted), strict=True):
            missed = delta_e(seen, self.fit.measured[index]).mean(axis=-1)
            for group, without in zip(groups, missed[1:].tolist(), strict=True):
                self.sums[group] += without, float(missed[0]), 1

    def found(self) -> list[Apart]:
        """Of each group: the paints, the bottles, the hand."""
        return [Apart(one[0] / max(one[2], 1), one[1] / max(one[2], 1)) for one in self.sums.tolist()]


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
