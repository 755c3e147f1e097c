"""Answer a profile document: a contrast card as measured becomes a paint's profile."""

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.light.lights import light
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.light.smooth import smooth_reflectance
from diachrom.core.mixing.contrast_card import from_card
from diachrom.errors import InvalidInput
from diachrom.work import documents

MEASURED_UNCERTAINTY = 0.04  # of strength, when it was measured on a card


def answer(request: documents.ProfileRequest) -> documents.ProfileAnswer:
    """Derive the profile. Raises InvalidInput for a card whose white is not lighter than its black."""
    fields = {name: measured(getattr(request, name)) for name in ("over_white", "over_black", "white", "black")}
    if fields["white"].mean() <= fields["black"].mean():
        raise InvalidInput("The bare white field is not lighter than the black one: are they swapped?", field="white")
    found = from_card(**fields, film_um=request.film_um, clear_coat=request.clear_coat, kind=request.kind)
    return documents.ProfileAnswer(
        name=request.name,
        kind=request.kind,
        absorption=found.absorption.tolist(),
        scattering=found.scattering.tolist(),
        uncertainty=MEASURED_UNCERTAINTY,
        uncertain_bands=list(found.uncertain_nm),
        fit_delta_e=found.fit_delta_e,
    )


def measured(given: documents.MeasuredSpectrum | documents.MeasuredLab | documents.MeasuredHex) -> Floats:
    """What was measured as a spectrum (band,)."""
    if isinstance(given, documents.MeasuredSpectrum):
        return np.array(given.reflectance)
    point = np.array(given.lab) if isinstance(given, documents.MeasuredLab) else hex_to_lab(given.srgb)
    if point is None:
        raise InvalidInput("A colour must be written as #rrggbb.", field="srgb")
    return smooth_reflectance(point, under=light("D65"))
