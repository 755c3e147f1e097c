"""Flakes: what they are made of decides what they mirror and what they let through, at every angle inside the film."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np

from diachrom.core.film.facets import LIGHT_DEG, lobe, rough, towards, view
from diachrom.core.film.materials import ALUMINIUM, CHROMIUM, COPPER, GOLD, MICA, RUST, SILICA, SPACER, TITANIA
from diachrom.core.film.multilayer import multilayer
from diachrom.core.film.streams import INDEX, fresnel, streams
from diachrom.core.light.bands import BANDS, Floats, Indices
from diachrom.words import say

EDGE = 0.04  # of a flake's area that scatters into all directions
SMALLEST_TILT_DEG, LARGEST_TILT_DEG = 1.0, 30.0
MOST_COVER = 2.0  # flakes that would cover the area twice in one micrometre do not fit into it
THICKEST_NM = 1000.0

Mica = Literal["coloured", "interference"]  # a pearl's: it takes light away, or is clear and shows a colour

# From the cosine of the angle on the flake, inside the binder, to reflectance and transmittance (band,).
Faces = Callable[[float, float], tuple[Floats, Floats]]


def _opaque(index: Indices) -> Faces:
    def faces(cos_in: float, thickness_nm: float) -> tuple[Floats, Floats]:
        return fresnel(cos_in=cos_in, index_in=INDEX, index_out=index), np.zeros(BANDS)

    return faces


# Mica platelets differ in thickness; the mean over them takes the platelet's own fringes away.
MICA_NM = np.linspace(250, 550, 31)[:, None]  # (platelet, 1)


def _pearl(cos_in: float, oxide_nm: float) -> tuple[Floats, Floats]:
    """Oxide on both sides of mica: what it does not mirror it lets through."""
    oxide = (TITANIA, oxide_nm)
    mirrored, passed = multilayer([oxide, (MICA, MICA_NM), oxide], below=INDEX, cos_in=cos_in)  # (platelet, band)
    return mirrored.mean(axis=0), passed.mean(axis=0)


def _rust(cos_in: float, oxide_nm: float) -> tuple[Floats, Floats]:
    """Iron oxide on both sides of mica, for bronze, copper and russet: what it neither mirrors nor passes is lost."""
    oxide = (RUST, oxide_nm)
    mirrored, passed = multilayer([oxide, (MICA, MICA_NM), oxide], below=INDEX, cos_in=cos_in)
    return mirrored.mean(axis=0), passed.mean(axis=0)


CHROMIUM_NM = 6.0


def _shift(cos_in: float, spacer_nm: float) -> tuple[Floats, Floats]:
    """A thin absorber, a clear spacer, a mirror: the hue that it mirrors travels with the angle."""
    mirrored, _ = multilayer([(CHROMIUM, CHROMIUM_NM), (SPACER, spacer_nm)], below=ALUMINIUM, cos_in=cos_in)
    return mirrored, np.zeros(BANDS)


SILICA_OXIDE_NM = 60.0


def _silica(cos_in: float, core_nm: float) -> tuple[Floats, Floats]:
    """Titanium dioxide on both sides of a silica platelet of one thickness: pale, and its hue travels with the
    angle."""
    oxide = (TITANIA, SILICA_OXIDE_NM)
    return multilayer([oxide, (SILICA, core_nm), oxide], below=INDEX, cos_in=cos_in)


@dataclass(frozen=True)
class Material:
    """What flakes can be made of; `layer` says what its thickness is the thickness of, if it has one."""

    key: str
    words: str
    faces: Faces
    layer: str = ""
    usual_nm: float = 0.0


MATERIALS = {
    material.key: material
    for material in (
        Material("aluminium", say("aluminium"), _opaque(ALUMINIUM)),
        Material("copper", say("copper"), _opaque(COPPER)),
        Material("bronze", say("pale bronze"), _opaque((COPPER + GOLD) / 2)),
        Material("pearl", say("mica with titanium dioxide"), _pearl, "oxide", 50.0),
        Material("rust", say("mica with iron oxide"), _rust, "oxide", 60.0),
        Material("silica", say("silica with titanium dioxide"), _silica, "core", 400.0),
        Material("shift", say("chromium on a spacer on aluminium"), _shift, "spacer", 400.0),
    )
}


@dataclass(frozen=True)
class Flake:
    """The flakes of a paint: what they are, how much of the area those in 1 um of wet film cover, how flat they lie."""

    material: str
    cover_per_um: float
    thickness_nm: float = 0.0
    tilt_deg: float = 6.0
    sparkle: bool = False  # few and large: drawn as sparkles

    def faces(self, cos_in: float) -> tuple[Floats, Floats]:
        """Reflectance and transmittance (band,) for light at this cosine inside the binder."""
        return _faces(self.material, self.thickness_nm, round(cos_in, 6))

    @lru_cache(maxsize=256)  # noqa: B019
    def by_stream(self, count: int) -> tuple[Floats, Floats]:
        """Reflectance and transmittance (band, stream) for the directions followed inside a film."""
        both = [self.faces(float(mu)) for mu in streams(count).mu]
        return np.stack([one for one, _ in both], axis=-1), np.stack([other for _, other in both], axis=-1)

    def lost(self, cos_in: float) -> Floats:
        """(band,) what a unit of their area takes out of light that keeps its direction."""
        return 1 - (1 - EDGE) * self.faces(cos_in)[1]

    def lost_by_stream(self, count: int) -> Floats:
        """The same (band, stream)."""
        return 1 - (1 - EDGE) * self.by_stream(count)[1]

    @lru_cache(maxsize=256)  # noqa: B019
    def mirrors(self, count: int) -> Floats:
        """What a unit of their area mirrors, for each wave around the circle: (order, band, stream, stream)."""
        root = np.sqrt((1 - EDGE) * self.by_stream(count)[0])
        return root[:, :, None] * rough(self.tilt_deg, count)[:, None] * root[:, None, :]

    @lru_cache(maxsize=256)  # noqa: B019
    def matrices(self, count: int) -> tuple[Floats, Floats]:
        """What a unit of their area takes from each direction and gives to the others on the same side, and all that it
        sends back: (band, stream, stream) in flux amplitudes."""
        edges = EDGE / 2 * np.outer(streams(count).q, streams(count).q)
        lost = self.lost_by_stream(count)[:, :, None] * np.eye(count)
        return lost - edges, self.mirrors(count)[0] + edges

    @lru_cache(maxsize=1024)  # noqa: B019
    def towards(self, count: int, out_deg: float) -> Floats:
        """What a unit of their area makes of a unit of light from this angle in air: amplitudes (order, band,
        stream)."""
        own = self.faces(view(LIGHT_DEG - out_deg).cos_out)[0]
        root = (1 - EDGE) * np.sqrt(self.by_stream(count)[0] * own[:, None])
        return root * towards(self.tilt_deg, count, out_deg)[:, None]

    @lru_cache(maxsize=1024)  # noqa: B019
    def glance(self, angle_deg: float) -> Floats:
        """Radiance factor in air (band,) of what a unit of their area mirrors once."""
        seen = view(angle_deg)
        return (1 - EDGE) * self.faces(seen.cos_facet)[0] * lobe(seen, tilt_deg=self.tilt_deg)


def check_flake(flake: Flake) -> list[tuple[str, float, float, float]]:
    """(figure, its value, least, most) of what bounds it. Raises ValueError for what flakes are not made of."""
    if flake.material not in MATERIALS:
        raise ValueError(say("no flakes are made of '{material}'", material=str(flake.material)[:20]))
    return [
        ("cover_per_um", flake.cover_per_um, 0, MOST_COVER),
        ("thickness_nm", flake.thickness_nm, 0, THICKEST_NM),
        ("tilt_deg", flake.tilt_deg, SMALLEST_TILT_DEG, LARGEST_TILT_DEG),
    ]


@lru_cache(maxsize=4096)
def _faces(material: str, thickness_nm: float, cos_in: float) -> tuple[Floats, Floats]:
    return MATERIALS[material].faces(cos_in, thickness_nm)
