"""Guesses at what flakes: the usual flakes of the kind, of the thickness that shows the hue, and a dissolved colour for
what these do not show by themselves."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import product

import numpy as np

from diachrom.core.film.flakes import Flake
from diachrom.core.film.kinds import KINDS
from diachrom.core.film.paint import Mix, Paint
from diachrom.core.light.bands import BANDS, Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab_of_radiance, lch
from diachrom.core.light.smooth import smooth_reflectances
from diachrom.core.profiles.guess_basis import D65, FALLING, SWATCH_UM, Seen, ToGuess, met, radiance

UNCERTAINTY = 0.6  # of strength
STREAMS = {"silica": 8}  # whose hue turns most with the angle; 4 for the others
HAZE = 0.0015 * FALLING  # (band,) 1/um of the binder and the flakes' edges
BARE = 1e-5  # 1/um, of a binder that takes next to nothing
FULL_COVER, MOST_COVER = 0.12, 0.2  # 1/um: more flakes than that do not spray
SECANTS, MET = 10, 0.002  # turns at most, and of the logarithm: a fifth of a percent
PALE, FEWEST, FEW, COVERS = 8.0, 0.025, 0.04, (0.03, 0.055, 0.09)  # chroma of white mica, and 1/um
FAINT, FAINT_MISS = 5.0, 60.0  # chroma below which no hue is seen, and the degrees that it counts as
LITTLE = 0.15  # of a dE that a dissolved colour has to make up for, against one that it cannot
DEEPEST_FALL = 30.0  # films of a swatch's thickness that light goes through at most
MILKS = (1.0, 30.0)  # times the usual haze
TILTS_DEG, TIMES, ENOUGH = (12.0, 18.0, 26.0), (1.0, 1.8, 3.0, 6.0, 12.0), 0.5
NEAR, NEAR_HUE = 2.5, 8.0  # dE and degrees: near enough for flakes without a dissolved colour
TRIED = 5  # of the likeliest flakes, until one comes near
MORE, TINGE = 1.25, 0.002  # of the dissolved colour, and 1/um: what meets it exactly is hardly more of a dye
HEADROOM, HALVINGS = 0.6, 9  # of L, that a tinge takes again
SHARES = (0.0, 0.35, 0.7, 1.0)  # of the dissolved colour that would meet it altogether


@dataclass(frozen=True)
class _Made:
    """Flakes, and how milky the binder is that they lie in."""

    flake: Flake
    milk: float = 1.0

    @property
    def scattering(self) -> Floats:
        """(band,) 1/µm of what lies between the flakes."""
        return self.milk * HAZE

    def look(self, absorption: Floats, where: Seen, *, flop: bool = False) -> Floats:
        """Radiance factor (row, band) in binders of these absorptions (row, band)."""
        scattering = np.broadcast_to(self.scattering, absorption.shape)
        mixed = Mix(absorption, scattering, ((self.flake, np.array(self.flake.cover_per_um)),))
        return D65.factor(radiance(mixed, where, count=STREAMS.get(self.flake.material, 4), flop=flop))


def guess(wanted: Sequence[ToGuess]) -> list[Paint]:
    """The paints that show these colours."""
    return [_one(one) for one in wanted]


def _one(one: ToGuess) -> Paint:
    nothing = np.full(BANDS, BARE)
    if one.colour is None:
        return _paint(one, _Made(KINDS[one.kind].tries[0]), nothing)
    if one.mica is not None:
        return _mica(one, one.colour)
    best, nearest = None, np.inf
    for flake in _likely(one, one.colour):
        made, absorption = _of_flakes(one, one.colour, flake)
        miss = float(delta_e(_lab(made.look(absorption[None], one.seen_at))[0], one.colour))
        if miss < nearest:
            best, nearest = _paint(one, made, absorption), miss
        if miss < NEAR:
            break
    assert best is not None
    return best


def _of_flakes(one: ToGuess, colour: Floats, flake: Flake) -> tuple[_Made, Floats]:
    """These flakes, and the absorption (band,) of what is dissolved around them, for the colour that is wanted."""
    made = _bright_enough(flake, colour, one.seen_at)
    whole = _dissolved(made, colour, one.seen_at)
    # A pearl is no dye: as little of it as brings the colour near. Of a metal all of it, since its own colour is known.
    for share in SHARES if not KINDS[one.kind].mirrors_metal else SHARES[-1:]:
        absorption = share * whole + BARE
        got = _lab(made.look(absorption[None], one.seen_at))[0]
        if float(delta_e(got, colour)) < NEAR and _apart(got, colour) < NEAR_HUE:
            break
    if share < 1:
        # With fewer flakes where these are lighter than the colour; a little lighter, for what is dissolved still.
        low, high = 0.2, 1.0
        for _ in range(HALVINGS):
            light_share = (low + high) / 2
            tried = replace(made, flake=replace(made.flake, cover_per_um=light_share * made.flake.cover_per_um))
            light = float(_lab(tried.look(absorption[None], one.seen_at))[0, 0])
            low, high = (low, light_share) if light > colour[0] + HEADROOM else (light_share, high)
        made = replace(made, flake=replace(made.flake, cover_per_um=high * made.flake.cover_per_um))
        rest = _dissolved(made, colour, one.seen_at)
        if float(rest.mean()) < MORE * float(absorption.mean()) + TINGE:
            absorption = rest
    return made, absorption


def _likely(one: ToGuess, colour: Floats) -> list[Flake]:
    """The kind's flakes, the likeliest first: those of which a dissolved colour makes this one, and how little it would
    have to; of a colour-shift of which both colours are known, those that turn from the one to the other."""
    tries = KINDS[one.kind].tries
    shown, target = _shown(one.kind, one.seen_at), smooth_reflectances(colour[None], under=D65)
    alone = _lab(shown)
    alone[:, 0] = colour[0]  # lightness is a matter of how many they are
    far = delta_e(_lab(np.minimum(shown, target)), colour) + LITTLE * delta_e(alone, colour)
    if one.turns_to is not None:
        far = _hue_miss(alone, colour) + _hue_miss(_lab(_shown(one.kind, one.seen_at, flop=True)), one.turns_to)
        far += [np.inf if flake.material == "silica" else 0.0 for flake in tries]  # two colours by name are strong ones
    return [tries[at] for at in np.argsort(far)[: TRIED if one.turns_to is None else 1]]


def _hue_miss(labs: Floats, wanted: Floats) -> Floats:
    """Degrees of hue between Lab (flake, 3) and the one that is wanted; a flake without a hue misses by far."""
    found, hue = lch(labs), float(lch(wanted)[2])
    return np.abs((found[:, 2] - hue + 180) % 360 - 180) + np.where(found[:, 1] < FAINT, FAINT_MISS, 0.0)


def _mica(one: ToGuess, colour: Floats) -> Paint:
    """Clear mica, whose colour over black is its complement over white; or coloured, which takes light away and keeps
    its colour over both. White mica leaves white white: there are few of its flakes."""
    tries = [flake for flake in KINDS[one.kind].tries if flake.material == "pearl"]
    alone = _lab(_shown(one.kind, "black-glance"))[: len(tries)]
    white = float(lch(colour)[1]) < PALE
    nearest = tries[0] if white else tries[int(np.argmin(_hue_miss(alone, colour) - alone[:, 0] * 0.2))]
    if one.mica == "interference":
        return _paint(one, _covering(nearest, colour, FEW if white else FULL_COVER), np.full(BANDS, BARE))
    found = []
    for flake, cover in product(dict.fromkeys((nearest, tries[0])), COVERS):
        made = _Made(replace(flake, cover_per_um=cover))
        absorption = _dissolved(made, colour, "white")
        looks = np.concatenate([made.look(absorption[None], where) for where in ("white", "black-glance")])
        found.append((float(delta_e(_lab(looks), colour).sum()), made, absorption))
    _, made, absorption = min(found, key=lambda each: each[0])
    return _paint(one, made, absorption)


def _covering(flake: Flake, colour: Floats, most: float) -> _Made:
    """As many flakes, up to so many, as are as light over black as the colour."""
    low, high, nothing = FEWEST, most, np.full((1, BANDS), BARE)
    for _ in range(HALVINGS):
        cover = (low + high) / 2
        made = _Made(replace(flake, cover_per_um=cover))
        low, high = (low, cover) if _lab(made.look(nothing, "black-glance"))[0, 0] > colour[0] else (cover, high)
    return _Made(replace(flake, cover_per_um=high))


def _paint(one: ToGuess, made: _Made, absorption: Floats) -> Paint:
    return Paint(
        name=one.name,
        kind=one.kind,
        absorption=absorption,
        scattering=made.scattering,
        uncertainty=UNCERTAINTY,
        flake=made.flake,
    )


def _lab(factors: Floats) -> Floats:
    return lab_of_radiance(D65.power * factors, under=D65)


def _apart(one: Floats, other: Floats) -> float:
    """Degrees of hue between two Lab (3,); none where there is hardly a hue."""
    first, second = lch(one), lch(other)
    return 0.0 if min(first[1], second[1]) < 5 else abs(float((first[2] - second[2] + 180) % 360 - 180))


@lru_cache(maxsize=16)
def _shown(kind: str, where: Seen, *, flop: bool = False) -> Floats:
    """Radiance factor (flake, band) of the flakes of a kind where they cover all but all."""
    nothing = np.full((1, BANDS), BARE)
    return np.concatenate(
        [_Made(replace(flake, cover_per_um=FULL_COVER)).look(nothing, where, flop=flop) for flake in KINDS[kind].tries]
    )


def _bright_enough(flake: Flake, colour: Floats, where: Seen) -> _Made:
    """So many flakes, lying so flat, in so milky a binder, that the colour can be made by taking light away."""
    target, nothing = smooth_reflectances(colour[None], under=D65), np.full((1, BANDS), BARE)
    best, nearest = _Made(flake), np.inf
    tilts = (flake.tilt_deg, *(TILTS_DEG if where != "black-glance" else ()))
    for milk, tilt, times in product(MILKS, tilts, TIMES):
        cover = min(MOST_COVER, times * flake.cover_per_um)
        tried = _Made(replace(flake, cover_per_um=cover, tilt_deg=tilt), milk)
        short = float(delta_e(_lab(np.minimum(tried.look(nothing, where), target)), colour)[0])
        if short < ENOUGH:
            return tried
        if short < nearest - ENOUGH:
            best, nearest = tried, short
    return best


def _dissolved(made: _Made, colour: Floats, where: Seen) -> Floats:
    """Absorption (band,) of a dissolved colour with which the flakes show this one, by secants in its logarithm."""

    def make(target: Floats) -> tuple[Floats, Floats]:
        aim = np.log(np.maximum(target, 1e-5))
        absorption = np.full_like(target, BARE)
        now, fall = np.log(made.look(absorption, where)), np.full_like(target, 2.5 * SWATCH_UM)
        for _ in range(SECANTS):
            moved = np.clip(absorption + (now - aim) / fall, 0, 5.0)
            if (np.abs(moved - absorption) * fall).max() < MET:
                break
            then = np.log(np.maximum(made.look(moved, where), 1e-6))
            step = moved - absorption
            own = np.divide(now - then, step, out=fall.copy(), where=np.abs(step) > 1e-7)
            fall, absorption, now = np.clip(own, 0.5, DEEPEST_FALL * SWATCH_UM), moved, then
        return absorption, _lab(np.exp(now))

    return met(colour[None], make)[0]
