"""Rays over cleared foil, bare and veiled: what they come to at some angles, followed once in great number.

`python tests/film/foil_rays.py` follows them anew, some minutes, and writes tests/reference/foil_rays.json; the tests
follow a few of them again and hold the table to it.
"""

import json
import sys
from pathlib import Path

import numpy as np

sys.path.insert(0, str(Path(__file__).parents[1]))
from truths import radiance_factor, rays_over_foil

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.materials import ALUMINIUM
from diachrom.core.light.bands import WAVELENGTHS_NM

TABLE = Path(__file__).parents[1] / "reference/foil_rays.json"
MANY = 1_500_000
ANGLES = (15.0, 25.0, 45.0, 75.0, 110.0)
BAND = int(np.argmin(abs(WAVELENGTHS_NM - 550)))
VEILED = (0.02, 0.15, 0.4)  # reduced depth of the film's scattering
CASES = ("silver-foil", "stamped-foil", *map(str, VEILED))
TILTS_DEG = {"silver-foil": 14.0, "stamped-foil": 7.0}


def followed(case, rays):
    """All that leaves, and the radiance factor at each of ANGLES."""
    key = case if case in TILTS_DEG else "silver-foil"
    ground = GROUNDS[key]
    film = {}
    if case not in TILTS_DEG:
        diffused = float(ground.reflectance[BAND])
        film = {"diffused": diffused, "absorbing": 0.04, "scattering": float(case) / 0.45}
    share, tilt_deg = ground.mirror.share, TILTS_DEG[key]
    ways, carried = rays_over_foil(metal=ALUMINIUM[BAND], share=share, tilt_deg=tilt_deg, rays=rays, **film)
    cone_deg = 4.0 if film else 3.0
    return [float(carried.sum()), *(float(radiance_factor(ways, carried, one, cone_deg=cone_deg)) for one in ANGLES)]


def tabled(case):
    return json.loads(TABLE.read_text(encoding="utf-8"))[case]


if __name__ == "__main__":
    found = {case: [round(one, 5) for one in followed(case, MANY)] for case in CASES}
    TABLE.write_text(json.dumps(found, indent=1) + "\n", encoding="utf-8")
