"""Guesses at what shines: a fluorescent dye that gives light of the colour's own hue, or a glow powder, and beside it a
dissolved colour that makes the whole what was seen."""

from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from diachrom.core.film.kinds import KINDS
from diachrom.core.film.paint import SHOULDER, Fluorescence, Glow, Mix, Paint, takes_ultraviolet
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab_of_radiance, lab_to_xyz, lch, xyz_to_lab
from diachrom.core.light.smooth import smooth_reflectances
from diachrom.core.profiles.guess_basis import D65, FALLING, SWATCH_UM, Seen, ToGuess, radiance

UNCERTAINTY = 0.7  # of strength
STREAMS = 4
BODY = 0.015 * FALLING  # 1/um, of the resin in which the dye is dissolved
POWDER = 0.09 * FALLING
DYE = 0.2  # 1/um at its peak
YIELDS = (0.68, 0.45, 0.27, 1.0, 0.14, 0.0)  # the first with which a colour can be met is taken
NEAR, MET = 0.8, 0.1  # dE
STOKES_NM = 62.0  # from where it absorbs to where it shines
TURNS, SETTLING = 90, 4  # of the search, and between two corrections of what is aimed at
SHOWN = np.array([[0.5, -140.0, -140.0], [99.5, 140.0, 140.0]])  # Lab that a reflectance is looked for
# Hue in degrees -> nm of the peak. Pinks shine red or orange, and the rest is a dye in the green.
HUES_DEG = (0.0, 35.0, 55.0, 75.0, 95.0, 112.0, 140.0, 190.0, 225.0, 270.0, 312.0, 325.0, 360.0)
PEAKS_NM = (612.0, 612.0, 600.0, 580.0, 552.0, 528.0, 515.0, 500.0, 482.0, 456.0, 440.0, 612.0, 612.0)
GLOWS_NM, USUAL_NM, GLOW_WIDTH_NM = np.arange(440.0, 626, 2), 520.0, 34.0
FAINT = 6.0  # chroma
GLOWS = 0.027  # strength of a usual powder, 1/um


def guess(wanted: Sequence[ToGuess]) -> list[Paint]:
    """The paints that show these colours."""
    return [_fluorescent(one) if KINDS[one.kind].guess == "fluorescence" else _glowing(one) for one in wanted]


def _fluorescent(one: ToGuess) -> Paint:
    colour = np.array([70.0, 60.0, 60.0]) if one.colour is None else one.colour
    peak = float(np.interp(lch(colour)[2], HUES_DEG, PEAKS_NM))
    found = []
    for amount in YIELDS:
        dye = Fluorescence(
            absorbs_nm=peak - STOKES_NM,
            absorbs_width_nm=30.0,
            strength_per_um=DYE,
            emits_nm=peak,
            emits_width_nm=21.0,
            quantum_yield=amount,
            ultraviolet=SHOULDER,
        )
        absorption = _body(colour, one.seen_at, dye, BODY)
        paint = Paint(one.name, one.kind, absorption, BODY, UNCERTAINTY, fluorescence=dye)
        got = lab_of_radiance(_radiance(absorption[None], BODY, one.seen_at, dye)[0], under=D65)
        found.append((float(delta_e(got, colour)), paint))
        if found[-1][0] < NEAR:
            break
    return min(found, key=lambda one: one[0])[1]


def _radiance(absorption: Floats, scattering: Floats, where: Seen, dye: Fluorescence | None) -> Floats:
    """(row, band)"""
    dyes = () if dye is None else ((dye, dye.excitation(absorption)),)
    mixed = Mix(absorption, np.broadcast_to(scattering, absorption.shape), dyes=dyes)
    if where == "cup" and dyes:
        return np.stack([radiance(_row(mixed, index), where, count=STREAMS) for index in range(len(absorption))])
    return radiance(mixed, where, count=STREAMS)


def _row(mixed: Mix, at: int) -> Mix:
    return Mix(mixed.absorption[at], mixed.scattering[at], dyes=tuple((dye, own[at]) for dye, own in mixed.dyes))


def _body(colour: Floats, where: Seen, dye: Fluorescence | None, scattering: Floats) -> Floats:
    """Absorption (band,), the dye's own included, with which the whole shows this colour: what the dye does not send is
    to be thrown back, and that is a smooth reflectance."""
    wanted, day = lab_to_xyz(colour, white=D65.white), D65.white
    least = np.full(BANDS, 1e-5) if dye is None else takes_ultraviolet(np.full(BANDS, 1e-5), dye.strength_per_um)
    absorption, fall = np.maximum(least, 0.01)[None], np.full((1, BANDS), 1.2 * SWATCH_UM)
    aim, best, nearest = wanted, absorption[0], np.inf
    before: tuple[Floats, Floats] | None = None
    for turn in range(TURNS):
        whole, plain = (_radiance(absorption, scattering, where, fluorescence) for fluorescence in (dye, None))
        got = whole[0] @ D65.observer
        far = float(delta_e(xyz_to_lab(got, white=day), colour))
        if far < nearest:
            best, nearest = absorption[0], far
        if far < MET:
            break
        now = np.log(np.maximum(D65.factor(plain), 1e-6))
        if turn % SETTLING == 0:
            # What smooth reflectances fall short of is aimed beyond.
            shining = (whole - plain)[0] @ D65.observer
            aim = np.maximum(wanted - shining if before is None else aim + (wanted - got), 1e-4 * day)
        target = smooth_reflectances(np.clip(xyz_to_lab(aim, white=day), *SHOWN)[None], under=D65)
        if before is not None:
            step = absorption - before[0]
            fallen = np.divide(before[1] - now, step, out=fall.copy(), where=np.abs(step) > 1e-7)
            fall = np.clip(fallen, 0.15 * SWATCH_UM, 8 * SWATCH_UM)
        before = absorption, now
        absorption = np.clip(absorption + (now - np.log(np.maximum(target, 1e-5))) / fall, least, 20.0)
    return best


def _glowing(one: ToGuess) -> Paint:
    """A powder's body is near white by day; where nobody says what it shines in the dark, its body's hue tells."""
    told = one.glows if one.glows is not None else one.colour
    peak = USUAL_NM if told is None or lch(told)[1] < FAINT else _peak_nm(told)
    glow = Glow(peak, GLOW_WIDTH_NM, GLOWS, 1.0, 1.5)
    absorption = np.full(BANDS, 1e-4)
    if one.colour is not None:
        absorption = _body(one.colour, one.seen_at, None, POWDER)
    return Paint(one.name, one.kind, absorption, POWDER, UNCERTAINTY, glow=glow)


def _peak_nm(colour: Floats) -> float:
    """The peak of a glow that is seen in a colour's hue; purples, which no one peak makes, get the nearer end."""
    hue, hues = float(lch(colour)[2]), _hues_of_glow()
    apart = np.abs((hues - hue + 180) % 360 - 180)
    return float(GLOWS_NM[int(np.argmin(apart))])


@lru_cache(maxsize=1)
def _hues_of_glow() -> Floats:
    """(peak,) degrees of hue of what glows at each of GLOWS_NM."""
    shapes = np.exp(-0.5 * ((WAVELENGTHS_NM - GLOWS_NM[:, None]) / GLOW_WIDTH_NM) ** 2)
    values = shapes @ D65.observer
    return lch(xyz_to_lab(50 * values / values[:, 1:2], white=D65.white))[:, 2]
