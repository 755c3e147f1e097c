"""What documents say, as the core takes it."""

import numpy as np

from diachrom.core.film.flakes import MATERIALS, Flake
from diachrom.core.film.grounds import Ground, diffusing, ground
from diachrom.core.film.paint import LIGHT, Fluorescence, Glow, Paint, of_before
from diachrom.work.kit import documents


def paint_of(given: documents.Profile) -> Paint:
    """A profile given in place."""
    flake = None
    if given.flake is not None:
        usual = MATERIALS[given.flake.material].usual_nm
        values = given.flake.model_dump() | {"thickness_nm": usual}
        if given.flake.thickness_nm is not None:
            values["thickness_nm"] = given.flake.thickness_nm
        flake = Flake(**values)
    found = Paint(
        name=given.name,
        kind=given.kind,
        absorption=np.array(given.absorption),
        scattering=np.array(given.scattering),
        uncertainty=given.uncertainty,
        flake=flake,
        fluorescence=Fluorescence(**given.fluorescence.model_dump()) if given.fluorescence else None,
        glow=Glow(**given.glow.model_dump()) if given.glow else None,
        bleeds=given.bleeds,
        anisotropy=given.anisotropy,
        even=given.even,
    )
    return found if given.version == LIGHT else of_before(found)


def ground_of(given: str | documents.GivenGround) -> Ground:
    """A ground of a document. Raises InvalidInput."""
    return ground(given) if isinstance(given, str) else diffusing(np.array(given.reflectance))
