"""Answer a profile document: a drawdown card as measured becomes a paint's profile."""

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.light.lights import light
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.light.smooth import smooth_reflectance
from diachrom.core.profiles.card_fit import Bare, CardFilm, reader
from diachrom.core.profiles.contrast_card import HAND, from_card
from diachrom.core.profiles.dot_size import Card, dot_size
from diachrom.errors import InvalidInput
from diachrom.work.api.profile_documents import ProfileAnswer, ProfileRequest
from diachrom.work.kit import documents
from diachrom.work.kit.document_values import paint_of


def answer(request: ProfileRequest) -> ProfileAnswer:
    """Derive the profile. Raises InvalidInput for a card whose white is not lighter than its black."""
    white, black = measured(request.white), measured(request.black)
    films = [
        CardFilm(film_measured.film_um, measured(film_measured.over_white), measured(film_measured.over_black))
        for film_measured in request.every_film()
    ]
    if (down := request.let_down) is not None:
        share = down.drops / (down.drops + down.white_drops)
        fields = measured(down.over_white), measured(down.over_black)
        films.append(CardFilm(down.film_um, *fields, share, paint_of(down.white_paint)))
    sheen = None if request.clear_coat is False else documents.sheen(request.clear_coat)
    bare = Bare(white, black, sheen)
    if request.droplet_um == "fit":
        droplet_um = dot_size([Card(films, bare, request.kind, reader())]).droplet_um
    else:
        droplet_um = request.droplet_um
    card = from_card(films, bare, kind=request.kind, droplet_um=droplet_um)
    return ProfileAnswer(
        name=request.name,
        kind=request.kind,
        absorption=card.absorption.tolist(),
        scattering=card.scattering.tolist(),
        uncertainty=min(float(np.hypot(card.uncertainty, HAND)), 1.0),  # nobody sprays as thick as meant
        uncertain_bands=list(card.uncertain_nm),
        saturated_bands=list(card.saturated_nm),
        fit_delta_e=card.fit_delta_e,
        droplet_um=droplet_um,
    )


def measured(given: documents.MeasuredSpectrum | documents.MeasuredLab | documents.MeasuredHex) -> Floats:
    """What was measured as a spectrum (band,)."""
    if isinstance(given, documents.MeasuredSpectrum):
        return np.array(given.reflectance)
    point = np.array(given.lab) if isinstance(given, documents.MeasuredLab) else hex_to_lab(given.srgb)
    if point is None:
        raise InvalidInput("A colour must be written as #rrggbb.", field="srgb")
    return smooth_reflectance(point, under=light("D65"))
