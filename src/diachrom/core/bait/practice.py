"""Practice on a flat card with a line to follow: what the film came to along it."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.bait.stroke import LONGEST_S, MOST_POINTS
from diachrom.core.bait.strokes import film_of
from diachrom.core.light.bands import Bools, Floats
from diachrom.errors import InvalidInput
from diachrom.words import listed, quantity, say

CARD_MM = (100.0, 50.0)
STEP_MM = 0.5  # along the line
ASIDE_MM = 4.0  # to either side of it, within which paint counts as meant for it
COAT_UM = 8.0
EVEN, MET_UM = 0.18, 0.5  # spread of an even line, of its mean; less than this is bare
BANDED_MM = (2.0, 16.0)  # a period of a hand that stops and goes
BANDED_SHARE = 0.35  # of the spread that lies in such periods
# A judged rule: an air jet pushes aside a wet film that is thicker than this at 20 mm and 1.4 bar; nearer, less.
SPIDERS_UM, SPIDERS_MM, SPIDERS_BAR = 20.0, 20.0, 1.4
MOST_STROKES = 60


@dataclass(frozen=True)
class Line:
    """A line to follow: its words, and places in mm on the card, y down."""

    key: str
    words: str
    points: tuple[tuple[float, float], ...]


def _wave(y: float, high: float) -> tuple[tuple[float, float], ...]:
    return tuple((float(x), float(y + high * np.sin((x - 10) / 80 * 2 * np.pi))) for x in np.linspace(10, 90, 41))


BENT = ((10.0, 17.0), (22.0, 13.0), (36.0, 18.0), (48.0, 26.0), (62.0, 29.0), (90.0, 29.0))
TARGETS = {
    line.key: line
    for line in (
        Line("straight", say("a straight line"), ((10.0, 25.0), (90.0, 25.0))),
        Line("bent", say("a lateral line, bent over the fin"), BENT),
        Line("wave", say("a wave"), _wave(25.0, 9.0)),
        Line("bar", say("a bar, from above"), ((50.0, 6.0), (50.0, 44.0))),
    )
}


@dataclass(frozen=True, eq=False)
class Practised:
    """What came of it."""

    along_mm: Floats  # (n,) from the line's beginning
    film_um: Floats  # (n,) where it is thickest beside each
    off_mm: Floats  # (n,) how far aside that is, nan where it is bare
    verdict: str  # even, banded, uneven, spidered, missed
    words: str

    @property
    def mean_um(self) -> float:
        """Of what lies there, 0 where nothing does."""
        met = self.film_um > MET_UM
        return float(self.film_um[met].mean()) if met.any() else 0.0


def drawn(strokes: Sequence[Sequence[Sequence[float]]]) -> list[Floats]:
    """(n, 3) each: mm and seconds of what was drawn on the card. Raises InvalidInput."""
    found = []
    for stroke in strokes[:MOST_STROKES]:
        try:
            points = np.array(stroke, dtype=np.float64).reshape(-1, 3)
        except (ValueError, TypeError, OverflowError):
            points = np.zeros((0, 3))
        if not len(points) or not np.isfinite(points).all() or abs(points[:, :2]).max() > 500:
            raise InvalidInput(say("A stroke is places on the card with their times: draw it again."), field="points")
        if len(points) > 4 * MOST_POINTS:
            points = points[np.unique(np.linspace(0, len(points) - 1, 4 * MOST_POINTS).astype(int))]
        points[:, 2] = np.clip(np.maximum.accumulate(points[:, 2] - points[0, 2]), 0, LONGEST_S)
        found.append(points)
    if not found:
        raise InvalidInput(say("Draw along the line first."), field="points")
    return found


def practised(
    strokes: Sequence[Floats], target: Line, *, disc_mm: float, distance_mm: float, pressure_bar: float
) -> Practised:
    """What strokes left along a line.

    Parameters
    ----------
    strokes : (n, 3) each, mm and seconds.
    disc_mm : how wide paint lands.
    distance_mm, pressure_bar : how the airbrush was held; for whether it spiders.
    """
    path = np.array(target.points)
    lengths = np.hypot(*np.diff(path, axis=0).T)
    ends = np.concatenate([[0], np.cumsum(lengths)])
    along = np.arange(0, ends[-1], STEP_MM)
    at = np.stack([np.interp(along, ends, one) for one in path.T], axis=1)
    way = np.gradient(at, axis=0)
    way = way / np.hypot(*way.T)[:, None]
    aside = np.arange(-ASIDE_MM, ASIDE_MM + 0.1, 0.2)
    places = at[:, None] + aside[:, None] * np.stack([-way[:, 1], way[:, 0]], axis=1)[:, None]
    film = np.zeros(places.shape[:2])
    for stroke in strokes:
        film += COAT_UM * film_of(stroke, places[..., 0], places[..., 1], disc_mm)
    best = film.argmax(axis=1)
    thick = film[np.arange(len(along)), best]
    met = thick > MET_UM
    off = np.where(met, aside[best], np.nan)
    return Practised(along, thick, off, *_told(thick, off, disc_mm, _most_wet_um(distance_mm, pressure_bar)))


def _most_wet_um(distance_mm: float, pressure_bar: float) -> float:
    return SPIDERS_UM * (distance_mm / SPIDERS_MM) / (pressure_bar / SPIDERS_BAR)


def _told(thick: Floats, off: Floats, disc_mm: float, most_um: float) -> tuple[str, str]:
    met = thick > MET_UM
    share, mean = float(met.mean()), float(thick[met].mean()) if met.any() else 0.0
    if share < 0.2:
        return "missed", say("Hardly any of the line was met: go along it from its beginning to its end.")
    spread = float(thick[met].std() / mean)
    aside = float(np.abs(off[met]).mean())
    wet = float((thick > most_um).mean())
    figures = listed(
        (
            say("{film} thick in the mean", film=quantity(mean, ".1f", "µm")),
            say("{spread} % up and down", spread=quantity(100 * spread, ".0f")),
            say("{aside} off the line", aside=quantity(aside, ".1f", "mm")),
            say("{share} % of it met", share=quantity(100 * share, ".0f")),
        )
    )
    if wet > 0.02:
        verdict = "spidered"
        why = say("Spidered: so wet from so near, the air pushes it aside. Hold farther, or go faster.")
    elif spread <= EVEN:
        verdict, why = "even", say("Even: the hand went at one speed.")
    elif _in_bands(thick, met, mean) > BANDED_SHARE:
        verdict = "banded"
        why = say("Banded: the hand stopped and went. Begin beside the line, and go on past its end.")
    else:
        verdict, why = "uneven", say("Uneven: thick where the hand was slow. Keep one speed from end to end.")
    if aside > disc_mm / 2:
        why = f"{why} {say('It lies beside the line.')}"
    return verdict, f"{why} {figures}."


def _in_bands(thick: Floats, met: Bools, mean: float) -> float:
    """Of the spread, what lies in the periods of a hand that stops and goes."""
    values = np.where(met, thick - mean, 0.0)
    power = np.abs(np.fft.rfft(values * np.hanning(len(values)))) ** 2
    waves = np.fft.rfftfreq(len(values), STEP_MM)
    banded = (waves > 1 / BANDED_MM[1]) & (waves < 1 / BANDED_MM[0])
    return float(power[banded].sum() / max(power[1:].sum(), 1e-12))
