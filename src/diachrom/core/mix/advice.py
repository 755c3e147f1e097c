"""What a painter should hear about a cup before spraying it: small checks, each a sentence with its reason."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film.grounds import Ground
from diachrom.core.film.kinds import KINDS, keys
from diachrom.core.light.bands import WAVELENGTHS_NM
from diachrom.core.mix.cup import Cup
from diachrom.core.mix.layers import Layer
from diachrom.words import quantity, say

CARRIERS = keys("carries")
LEAST_CARRIER = 0.05  # of the mix, for a dye to grip
MOST_THINNER = 0.65  # of the mix, before a film breaks into drops
NOZZLES_MM = (0.2, 0.3, 0.4, 0.5)
DYES = keys("dye")
SHEER = keys("sheer")
COVERING = tuple(key for key, kind in KINDS.items() if not (kind.sheer or kind.thins))
DARK, LIGHT = 0.15, 0.6  # mean reflectance of a ground


@dataclass(frozen=True, eq=False)
class Situation:
    """A cup, what it goes over, and with what."""

    cup: Cup
    ground: Ground
    below: Sequence[Layer] = ()
    nozzle_mm: float = 0.3

    def of_kind(self, *kinds: str) -> list[str]:
        """Names of the paints in the cup that are of these kinds."""
        return [pour.paint.name for pour in self.cup.pours if pour.drops and pour.paint.kind in kinds]

    def share(self, *kinds: str) -> float:
        """Their part of the volume."""
        volume = sum(pour.volume_ml for pour in self.cup.pours if pour.paint.kind in kinds)
        return volume / self.cup.volume_ml

    @property
    def below_reflectance(self) -> float:
        """How light what lies below is, roughly: the last layer that hides, else the ground."""
        for layer in reversed(self.below):
            mix = layer.cup.mix()
            depth = mix.scattering.mean() * layer.total_um
            if depth > 1 or mix.absorption.min() * layer.total_um > 1:
                albedo = mix.scattering / (mix.scattering + mix.absorption + 1e-12)
                return float(np.mean(albedo**4))  # white scatters, black does not
        visible = WAVELENGTHS_NM >= 420
        return float(np.mean(self.ground.reflectance[visible])) if self.ground.mirror is None else 0.5


Check = Callable[[Situation], Iterator[str]]


def _carrier(now: Situation) -> Iterator[str]:
    for name in now.of_kind(*DYES)[:1]:
        if now.share(*DYES) > 0.3 and now.share(*CARRIERS) < LEAST_CARRIER:
            yield say(
                "{name} is dissolved dye without a binder: with no medium it has no grip and chips off "
                "with the clear. Give it medium, from one part in twenty up to as much again, and ten "
                "minutes of rest.",
                name=name,
            )


def _over_candy(now: Situation) -> Iterator[str]:
    if now.below and now.below[-1].cup.mix().bleeding is not None and not now.below[-1].sealed:
        yield say("The candy below is not sealed: it bleeds up into this coat. Seal it first, or spray the candy last.")


def _nozzle(now: Situation) -> Iterator[str]:
    for key, kind in KINDS.items():
        for name in now.of_kind(key)[:1]:
            if now.nozzle_mm < kind.nozzle_mm:
                yield say(
                    "{name} has particles that clog a {nozzle} nozzle: take {other_nozzle} or more, stir "
                    "often and raise the pressure a little.",
                    name=name,
                    nozzle=quantity(now.nozzle_mm, "g", "mm"),
                    other_nozzle=quantity(kind.nozzle_mm, "g", "mm"),
                )


def _glow_ground(now: Situation) -> Iterator[str]:
    for name in now.of_kind("glow")[:1]:
        if now.below_reflectance < LIGHT:
            yield say(
                "{name} shines as far as the ground sends its light back: put white under it, three coats or more.",
                name=name,
            )


def _fluorescent_ground(now: Situation) -> Iterator[str]:
    for name in now.of_kind("fluorescent")[:1]:
        if now.below_reflectance < DARK:
            yield say("{name} hides little, and the dark ground swallows its light: put white under it.", name=name)


def _pearl_ground(now: Situation) -> Iterator[str]:
    for name in now.of_kind("pearl")[:1]:
        if now.below_reflectance > LIGHT:
            yield say(
                "Over a light ground {name} is pale: what it does not mirror comes back through it. Black shows it.",
                name=name,
            )
    for name in now.of_kind("shift")[:1]:
        if now.below_reflectance > LIGHT:
            yield say(
                "Over a light ground the travel of {name} drowns until it covers: black is pure, metal bright.",
                name=name,
            )


def _thinned(now: Situation) -> Iterator[str]:
    if not now.cup.only_thinner and now.cup.thinned > MOST_THINNER and not now.of_kind("candy", "ink"):
        yield say(
            "{dilution} % of the cup is reducer: the film may break or crawl. Many mist "
            "coats, dried between, or less of it.",
            dilution=quantity(100 * now.cup.thinned, ".0f"),
        )


def _dark_only(now: Situation) -> Iterator[str]:
    dyes = [name for name in now.of_kind(*SHEER) if now.below_reflectance < DARK]
    covering = now.share(*COVERING)
    if dyes and covering == 0 and now.ground.mirror is None:
        yield say("{dyes} only absorbs light: over a dark ground there is none left to colour.", dyes=dyes[0])


CHECKS: dict[str, Check] = {
    "carrier": _carrier,
    "over-candy": _over_candy,
    "nozzle": _nozzle,
    "glow-ground": _glow_ground,
    "fluorescent-ground": _fluorescent_ground,
    "pearl-ground": _pearl_ground,
    "thinned": _thinned,
    "dark-ground": _dark_only,
}


def advice(now: Situation) -> list[str]:
    """Every sentence that the checks have to say; none for an empty cup."""
    if now.cup.empty:
        return []
    return [sentence for check in CHECKS.values() for sentence in check(now)]
