"""How thick the dots of a painter's mist lie, by the misfit of cards.

A card's films in few and in many passes fit each other only when they are taken for the dots that they are: taken for
even films, a thin one seems to hide too little for what the thick one shows. One thickness is looked for that fits all
cards of a hand best.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.profiles.card_fit import Bare, CardEye, CardFilm, CardFit

TRIED_UM = np.array([0.0, 1.0, 1.5, 2.0, 2.5, 3.0, 3.5, 4.0, 4.5, 5.0, 6.0, 7.5, 10.0])
SUREST, VAGUEST = 0.03, 0.6  # one standard deviation of the logarithm
TELLS = 9.0  # of the misfit, in squared standard deviations, that dots must bring to be believed
Progress = Callable[[float], None]


@dataclass(frozen=True)
class Card:
    """A card of one paint, as it is fitted."""

    films: Sequence[CardFilm]
    bare: Bare
    kind: str
    eye: CardEye


@dataclass(frozen=True, eq=False)
class DotSize:
    """Dots as thick as they fit best."""

    droplet_um: float  # 0: films were even
    off: float  # one standard deviation of its logarithm
    misfits: Floats  # (tried,) of all cards, squared standard deviations a field and channel


def misfits(card: Card) -> Floats:
    """(tried,) how badly a card fits with dots of each of TRIED_UM, in squared standard deviations."""
    found: list[float] = []
    start: Floats | None = None
    for droplet in TRIED_UM.tolist():
        fit = CardFit(card.films, card.bare, card.kind, card.eye, droplet_um=droplet)
        start, _ = fit.solved(start)  # from where a little less thick dots fitted best
        found.append(fit.cost(fit.fields(start), start, preferring=False))
    return np.array(found)


def dot_size(cards: Sequence[Card], progress: Progress = lambda _: None) -> DotSize:
    """The thickness of dots (um) that fits all cards best.

    Parameters
    ----------
    cards : of one hand, nozzle and thinning.
    progress : told the share that is done.

    Returns
    -------
    DotSize.
    """
    each = []
    for index, card in enumerate(cards):
        each.append(misfits(card))
        progress((index + 1) / len(cards))
    figures = sum(2 * len(card.films) * len(card.eye.channels) for card in cards)
    return _likeliest(np.sum(each, axis=0), figures)


def _likeliest(costs: Floats, figures: int) -> DotSize:
    best = int(np.argmin(costs))
    per_figure = costs / max(figures, 1)
    # What the model leaves out makes every card fit worse than its noise: the misfit is measured by its own least.
    unit = max(1.0, float(costs[best]) / max(figures, 1))
    if best == 0 or costs[0] - costs[best] < TELLS * unit:
        return DotSize(0.0, 0.0, per_figure)
    inside = slice(max(1, min(best - 1, len(costs) - 3)), max(1, min(best - 1, len(costs) - 3)) + 3)
    bend, slope, _ = np.polyfit(np.log(TRIED_UM[inside]), costs[inside] / unit, 2)
    if bend <= 0:
        return DotSize(float(TRIED_UM[best]), VAGUEST, per_figure)
    droplet = float(np.exp(np.clip(-slope / (2 * bend), *np.log(TRIED_UM[[1, -1]]))))
    return DotSize(droplet, float(np.clip(bend**-0.5, SUREST, VAGUEST)), per_figure)
