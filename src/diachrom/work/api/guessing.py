"""Answer a guess document: a paint from its kind and one colour."""

from dataclasses import replace

import numpy as np

from diachrom.core.light.difference import delta_e
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.profiles.guess import guess
from diachrom.core.profiles.guess_basis import seen_lab
from diachrom.work.api.profile_documents import GuessAnswer, GuessRequest
from diachrom.work.kit.documents import FlakeProfile, FluorescenceProfile, GlowProfile
from diachrom.work.shelf.guessing import to_guess


def answer(request: GuessRequest) -> GuessAnswer:
    """Raises InvalidInput, naming the field."""
    lab = np.array(request.lab) if request.lab is not None else hex_to_lab(request.srgb or "")
    glows = hex_to_lab(request.glow_srgb) if request.glow_srgb else None
    told = to_guess(request.name, request.kind, lab, mica=request.mica, glows=glows)
    told = replace(told, seen=request.seen, hides=request.hides)
    paint = guess([told])[0]
    met = 0.0 if lab is None or paint.thins else float(delta_e(seen_lab(paint, told.seen_at), lab))
    return GuessAnswer(
        name=paint.name,
        kind=paint.kind,
        absorption=paint.absorption.tolist(),
        scattering=paint.scattering.tolist(),
        uncertainty=paint.uncertainty,
        flake=FlakeProfile(**vars(paint.flake)) if paint.flake else None,
        fluorescence=FluorescenceProfile(**vars(paint.fluorescence)) if paint.fluorescence else None,
        glow=GlowProfile(**vars(paint.glow)) if paint.glow else None,
        bleeds=paint.bleeds,
        met_delta_e=met,
    )
