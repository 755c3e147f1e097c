"""A paint as light sees it, and what a mixture of paints is."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.film.flakes import Flake, check_flake
from diachrom.core.film.kinds import KINDS
from diachrom.core.film.phase import FORWARD, MOST_FORWARD
from diachrom.core.film.streams import INDEX
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.words import quantity, say

USUAL_BLEED = 0.12  # share of a dye that each coat above takes up
LIGHT = 2  # of what yield and glow mean: 1 was 2.25 times of what leaves
GUESSED = 0.3  # a profile this uncertain was never measured
SHOULDER = 0.3  # of its peak that a fluorescent dye absorbs below it, down into the ultraviolet
BANDS_BELOW = 3.4  # 340 to 370 nm, by their photons, beside the band at 380
MOST_PER_UM = 1000.0  # 1/um; a tenth of a micrometre would be opaque


def _bell(at_nm: float, width_nm: float) -> Floats:
    """(band,), 1 at its peak; the width is a standard deviation."""
    return np.asarray(np.exp(-(((WAVELENGTHS_NM - at_nm) / width_nm) ** 2) / 2))


@dataclass(frozen=True)
class Fluorescence:
    """A dye that absorbs a band of light and gives part of it back at longer wavelengths."""

    absorbs_nm: float
    absorbs_width_nm: float
    strength_per_um: float  # of the dye's absorption at its peak; part of the paint's own absorption
    emits_nm: float
    emits_width_nm: float
    quantum_yield: float  # photons made for photons absorbed, 0 to 1
    ultraviolet: float = 0.0  # of its absorption at the peak, what it takes in from 340 to 375 nm

    def absorption(self, of_paint: Floats) -> Floats:
        """(band,) 1/um, never more than the whole paint absorbs. Shorter light is taken too, though less of it."""
        shape = _bell(self.absorbs_nm, self.absorbs_width_nm)
        shape = np.where(self.absorbs_nm > WAVELENGTHS_NM, np.maximum(shape, SHOULDER), shape)
        return np.minimum(self.strength_per_um * shape, of_paint)

    def excitation(self, of_paint: Floats) -> Floats:
        """(band,) 1/um that makes it shine: what it absorbs, and below the first band, where lights have about as much
        power a band as there (daylight 0.8 to 1.04 times [cie15], LEDs none), what it takes in of ultraviolet."""
        found = self.absorption(of_paint)
        found[..., 0] += BANDS_BELOW * self.ultraviolet * self.strength_per_um
        return found

    @property
    def emission(self) -> Floats:
        """(band,) share of the photons in each band, sum 1."""
        bell = _bell(self.emits_nm, self.emits_width_nm)
        return bell / bell.sum()


@dataclass(frozen=True)
class Glow:
    """A powder that stores light: it shines as `strength` (1 + t / half_minutes)^-decay after t minutes in the dark."""

    emits_nm: float
    emits_width_nm: float
    strength_per_um: float  # radiance factor of 1 um in a uniform field, just after the light went out
    decay: float = 1.0
    half_minutes: float = 1.0

    @property
    def emission(self) -> Floats:
        """(band,), 1 at its peak."""
        return _bell(self.emits_nm, self.emits_width_nm)

    def left_after(self, minutes: float) -> float:
        """What it gives after so many minutes in the dark, of what it gave at first."""
        return float((1 + minutes / self.half_minutes) ** -self.decay)


@dataclass(frozen=True, eq=False)
class Paint:
    """A profile: transport coefficients in 1/um of wet film as bottled. They add by volume in any mixture."""

    name: str
    kind: str
    absorption: Floats  # (band,) mu_a
    scattering: Floats  # (band,) reduced, mu_s' = mu_s (1 - g)
    uncertainty: float = 0.10  # relative, one standard deviation of strength
    flake: Flake | None = None
    fluorescence: Fluorescence | None = None
    glow: Glow | None = None
    bleeds: float = 0.0  # share of a dye's load that migrates into each coat above it while unsealed
    anisotropy: float | None = None  # mean cosine of its scattering, 0 to 0.9; None is what all pigments share
    even: bool = False  # its figures are those of even films, and no readings are left to fit them as dots
    problem: str = ""  # why these are not its own figures: it counts as clear

    @property
    def thins(self) -> bool:
        """Whether it counts as reducer or medium."""
        return KINDS[self.kind].thins


def clear_paint(name: str, kind: str) -> Paint:
    """A reducer or a medium: no colour of its own."""
    return Paint(name, kind, np.zeros(BANDS), np.zeros(BANDS), 0.0)


def checked(paint: Paint) -> Paint:
    """The paint itself. Raises ValueError for figures that no paint can have, naming them."""
    curves = {"absorption": paint.absorption, "scattering": paint.scattering}
    for words, curve in curves.items():
        if curve.shape != (BANDS,) or not np.all((curve >= 0) & (curve <= MOST_PER_UM)):
            raise ValueError(
                say(
                    "{words} is not {bands} figures from 0 to {most_per} per µm",
                    words=words,
                    bands=BANDS,
                    most_per=quantity(MOST_PER_UM, "g"),
                )
            )
    forward = FORWARD if paint.anisotropy is None else paint.anisotropy
    bounds = [("bleeds", paint.bleeds, 0.0, 1.0), ("anisotropy", forward, 0.0, MOST_FORWARD)]
    if paint.flake is not None:
        bounds += check_flake(paint.flake)
    for one in (paint.fluorescence, paint.glow):
        if one is not None:
            bounds += [
                ("emits_nm", one.emits_nm, 300, 900),
                ("emits_width_nm", one.emits_width_nm, 1, 200),
                ("strength_per_um", one.strength_per_um, 0, MOST_PER_UM),
            ]
    if paint.fluorescence is not None:
        bounds += [
            ("absorbs_nm", paint.fluorescence.absorbs_nm, 300, 900),
            ("absorbs_width_nm", paint.fluorescence.absorbs_width_nm, 0.1, 200),
            ("quantum_yield", paint.fluorescence.quantum_yield, 0, 1),
            ("ultraviolet", paint.fluorescence.ultraviolet, 0, 1),
        ]
    if paint.glow is not None:
        bounds += [("decay", paint.glow.decay, 0, 5), ("half_minutes", paint.glow.half_minutes, 1e-3, 600)]
    for words, value, least, most in bounds:
        if not least <= value <= most:
            raise ValueError(
                say(
                    "{words} is {least} to {most}, not {value}",
                    words=words,
                    least=quantity(least, "g"),
                    most=quantity(most, "g"),
                    value=quantity(value, "g"),
                )
            )
    return paint


def of_before(paint: Paint) -> Paint:
    """A paint whose light was written down as 2.25 times of what leaves: until then what shines inside was taken to
    leave a film as it is made, and not by 1/n^2. A guess takes in ultraviolet besides, as such dyes do."""
    dye, powder, guessed = paint.fluorescence, paint.glow, paint.uncertainty >= GUESSED
    if dye is not None:
        made = min(1.0, INDEX**2 * dye.quantum_yield)
        dye = replace(dye, quantum_yield=made, ultraviolet=SHOULDER if guessed else dye.ultraviolet)
    if powder is not None:
        powder = replace(powder, strength_per_um=INDEX**2 * powder.strength_per_um)
    absorption = paint.absorption
    if dye is not None and guessed:
        absorption = takes_ultraviolet(absorption, dye.strength_per_um)
    return replace(paint, absorption=absorption, fluorescence=dye, glow=powder)


def takes_ultraviolet(absorption: Floats, strength_per_um: float) -> Floats:
    """(band,) with what a fluorescent dye takes in up to 400 nm, which no eye sees."""
    least = np.where(WAVELENGTHS_NM <= 400, SHOULDER * strength_per_um, 0.0)
    return np.maximum(absorption, least)


def unknown_paint(name: str, kind: str, problem: str) -> Paint:
    """A paint whose figures cannot be had: it adds nothing, and says why."""
    return Paint(name, kind, np.zeros(BANDS), np.zeros(BANDS), 1.0, problem=problem)


@dataclass(frozen=True, eq=False)
class Mix:
    """What a mixture is, per um of wet film; batch axes may stand in front."""

    absorption: Floats  # (..., band)
    scattering: Floats  # (..., band)
    flakes: tuple[tuple[Flake, Floats], ...] = ()  # with the cover per um (...)
    dyes: tuple[tuple[Fluorescence, Floats], ...] = ()  # with what excites the dye (..., band), 1/um
    glows: tuple[tuple[Glow, Floats], ...] = ()  # with the strength per um (...)
    bleeding: Floats | None = None  # (..., band) share per coat times absorption of dyes that migrate
    forward: Floats | None = None  # (..., band) mean cosine of scattering, where it is not the shared one

    @property
    def shines(self) -> bool:
        """Whether it makes light of its own."""
        return bool(self.dyes or self.glows)


def mix(paints: Sequence[Paint], fractions: Floats) -> Mix:
    """Blend by volume: fractions (..., paint) that sum to 1 -> Mix with (..., band)."""
    absorption = np.stack([paint.absorption for paint in paints])  # (paint, band)
    scattering = np.stack([paint.scattering for paint in paints])
    bled = np.stack([paint.bleeds * paint.absorption for paint in paints])
    share = [fractions[..., index] for index in range(len(paints))]  # (...,) each
    # (..., band) mean cosine, weighed by scattering; None where all share the usual one.
    if all(paint.anisotropy is None for paint in paints):
        forward = None
    else:
        own = np.array([FORWARD if paint.anisotropy is None else paint.anisotropy for paint in paints])
        reduced, whole = fractions @ scattering, fractions @ (scattering / (1 - own)[:, None])
        forward = 1 - np.divide(reduced, whole, out=np.full_like(reduced, 1 - FORWARD), where=whole > 0)
    return Mix(
        absorption=fractions @ absorption,
        scattering=fractions @ scattering,
        flakes=tuple((p.flake, part * p.flake.cover_per_um) for p, part in zip(paints, share, strict=True) if p.flake),
        dyes=tuple(
            (p.fluorescence, part[..., None] * p.fluorescence.excitation(p.absorption))
            for p, part in zip(paints, share, strict=True)
            if p.fluorescence
        ),
        glows=tuple((p.glow, part * p.glow.strength_per_um) for p, part in zip(paints, share, strict=True) if p.glow),
        bleeding=fractions @ bled if bled.any() else None,
        forward=forward,
    )
