"""A paint from its pair of fields on a photographed sheet, with what is doubtful about it.

A photo tells three channels; where one of them shows nothing, the prior decides: what is usual for a paint of this
kind that looks as its thickest film does. A film that does not fit the others is left out.
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.film.paint import GUESSED
from diachrom.core.light.bands import Floats
from diachrom.core.light.lights import light
from diachrom.core.light.smooth import smooth_reflectances
from diachrom.core.profiles.card_fit import Bare, CardFilm
from diachrom.core.profiles.contrast_card import CARD_UM, HAND, UNSURE, FromCard, from_card
from diachrom.core.profiles.guess import guess
from diachrom.core.profiles.guess_basis import ToGuess
from diachrom.core.profiles.phone_eye import SHARED, PhoneEye, linear, phone_eye
from diachrom.errors import InvalidInput
from diachrom.words import listed, quantity, say

OFF = 5.0  # dE of a field from what all of them come to, above which it is doubted
MEASURED = 0.95 * GUESSED
SUSPECTS = 3  # fields that fit worst, each left out by turns
LEAST_FIELDS = 3  # that are left when one is doubted
GROUNDS = ("white", "black")
PairKey = tuple[str, int]  # ground, passes; none are the bare sheet


@dataclass(frozen=True, eq=False)
class ReadField:
    """A field as a photo shows it."""

    lab: Floats  # (3,) under daylight
    lost: str = ""  # why it tells nothing


@dataclass(frozen=True, eq=False)
class PairFit:
    absorption: Floats  # (band,) 1/um
    scattering: Floats
    uncertainty: float
    uncertain_nm: tuple[float, ...]
    fit_delta_e: float
    doubts: tuple[str, ...]


def fit_pair(
    fields: Mapping[PairKey, ReadField],
    bare: Mapping[PairKey, ReadField],
    *,
    film_um: float,
    sheen: float,
    kind: str,
    droplet_um: float = 0.0,
    phone: PhoneEye | None = None,
) -> PairFit:
    """A paint from the fields of a photographed sheet.

    Parameters
    ----------
    fields : Lab of each field, by ground and passes.
    bare : Lab of the bare grounds.
    film_um : a pass, µm.
    droplet_um : thickness of a disc of the mist that they were sprayed in, µm; 0 is even films.
    sheen : share that the surface mirrors before any light enters.
    kind : of paint.
    phone : what took the photo; any phone where it is None.

    Returns
    -------
    PairFit.

    Raises
    ------
    InvalidInput : no film can be told.
    """
    wanted = [(ground, passes) for ground in GROUNDS for passes in {count for _, count in fields}]
    if not wanted or {*wanted, *((ground, 0) for ground in GROUNDS)} - {*fields, *bare}:
        raise InvalidInput(
            say("Not all that a photo showed of it can be read any more: read a photo again."), field="photo"
        )
    doubts = [
        say("{words}: {lost}, left out", words=_words(key), lost=read_field.lost)
        for key, read_field in fields.items()
        if read_field.lost
    ]
    phone = phone or phone_eye({})
    fields, bare = (
        {key: replace(one, lab=phone.right(one.lab)) for key, one in each.items()} for each in (fields, bare)
    )
    spoilt = {key for key, field in fields.items() if field.lost}
    if not any(key[0] == "white" and key not in spoilt for key in fields):
        raise InvalidInput(
            say("None of its films can be read from this photo ({doubts}).", doubts=listed(doubts, "; ")), field="photo"
        )
    white, black = smooth_reflectances(np.stack([bare[one, 0].lab for one in GROUNDS]), under=light("D65"))
    # A paint of this kind that looks in three light coats as this one does; None where no film is that thick.
    told = [count for ground, count in fields if ground == "white" and (ground, count) not in spoilt]
    nearest = min(told, key=lambda one: abs(one * film_um - CARD_UM))
    if abs(nearest * film_um - CARD_UM) > CARD_UM / 2:
        usual = None
    else:
        usual = guess([ToGuess("", kind, fields["white", nearest].lab)])[0]
    ground = Bare(white, black, sheen)

    def fitted(left_out: Collection[PairKey]) -> FromCard:
        films = _films(fields, left_out, film_um)
        return from_card(films, ground, kind=kind, eye=phone.eye, before=usual, droplet_um=droplet_um)

    card = fitted(spoilt)
    if card.fit_delta_e > OFF and len(fields) - len(spoilt) > LEAST_FIELDS:
        passes = sorted({count for _, count in fields})
        suspects = []
        for at in np.argsort(-card.fields_delta_e, axis=None)[:SUSPECTS].tolist():
            film, ground_at = divmod(at, len(GROUNDS))
            key = GROUNDS[ground_at], passes[film]
            suspects.append((key, fitted({*spoilt, key})))
        worst, again = min(suspects, key=lambda one: one[1].fit_delta_e)
        if again.fit_delta_e < card.fit_delta_e / 2:
            doubts.append(
                say(
                    "{words}: does not fit the others, dE {fit_delta_e} off, left out",
                    words=_words(worst),
                    fit_delta_e=quantity(card.fit_delta_e, ".0f"),
                )
            )
            card = again
    return _told(card, doubts)


def _films(fields: Mapping[PairKey, ReadField], spoilt: Collection[PairKey], film_um: float) -> list[CardFilm]:
    passes = sorted({count for _, count in fields})
    films = []
    for one in passes:
        white, black = (linear(fields[ground, one].lab) for ground in GROUNDS)
        lost = ("white", one) in spoilt, ("black", one) in spoilt
        films.append(CardFilm(one * film_um, white, black, spoilt=lost))
    return films


def _told(found: FromCard, doubts: Sequence[str]) -> PairFit:
    strength = min(float(np.hypot(found.uncertainty, HAND)), 1.0)
    # A photo of it is no guess, however far its colour may be off.
    uncertainty = max(strength, min(SHARED * found.colour_off, MEASURED))
    more = []
    if found.fit_delta_e > OFF:
        more.append(
            say(
                "its fields do not fit each other: dE {fit_delta_e} off", fit_delta_e=quantity(found.fit_delta_e, ".0f")
            )
        )
    if strength > UNSURE:
        more.append(
            say(
                "it shows how strong the paint is only within {uncertainty} % only",
                uncertainty=quantity(100 * strength, ".0f"),
            )
        )
    return PairFit(
        absorption=found.absorption,
        scattering=found.scattering,
        uncertainty=uncertainty,
        uncertain_nm=found.uncertain_nm,
        fit_delta_e=found.fit_delta_e,
        doubts=(*doubts, *more),
    )


def _words(key: PairKey) -> str:
    return say("{count} over {key}", count=_count(key[1]), key=key[0])


def _count(passes: int) -> str:
    return f"{passes} {'pass' if passes == 1 else 'passes'}"
