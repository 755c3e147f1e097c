"""Answer a predict document: paints from the shelf or given in place, through the core, back to a document."""

import sqlite3
from collections.abc import Callable
from dataclasses import dataclass, replace

from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import WAVELENGTHS_NM
from diachrom.core.light.lights import light
from diachrom.core.mix.cup import USUAL_DROP_ML, Cup, Pour
from diachrom.core.mix.hand import EVEN_HAND, Hand
from diachrom.core.mix.layers import Layer
from diachrom.core.mix.prediction import Colour, predict
from diachrom.errors import EmptyCup, InvalidInput, PaintNotFound
from diachrom.store import bottles, mist, paints
from diachrom.work.kit import documents
from diachrom.work.kit.document_values import ground_of, paint_of

MOST_WEIGHT, FEWEST_LAYERS = 1200, 10  # about 250 MB and 10 s

# From a paint's id and where it stands in the document to the paint and its bottle's drop in ml.
FindPaint = Callable[[str, str], tuple[Paint, float]]


@dataclass(frozen=True)
class Shelf:
    """Where a document's paints are found, and the hand whose dots its coats are where it does not say: documents say
    themselves how thick they are."""

    find: FindPaint
    hand: Hand = EVEN_HAND


def from_shelf(connection: sqlite3.Connection) -> Shelf:
    """Paints of a database, and its mist."""

    def find(paint_id: str, field: str) -> tuple[Paint, float]:
        try:
            paint = paints.profile(connection, paint_id)
        except PaintNotFound:
            raise PaintNotFound(paint_id, field) from None
        own = bottles.of_paint(connection, paint_id)
        return paint, own[0].drop_ml if own else USUAL_DROP_ML

    return Shelf(find, replace(mist.hand(connection), times=1.0))


def _nothing(paint_id: str, field: str) -> tuple[Paint, float]:
    raise PaintNotFound(paint_id, field)


NO_SHELF = Shelf(_nothing)  # for documents that bring their own paints


def answer(request: documents.PredictRequest, shelf: Shelf) -> documents.PredictAnswer:
    """Predict; in the hand's dots where the document does not say and all paints are the shelf's. Raises InvalidInput
    and NotFound, naming the field."""
    usual = shelf if request.of_shelf else replace(shelf, hand=EVEN_HAND)
    layers = [_layer(layer, f"layers.{index}", usual) for index, layer in enumerate(request.layers)]
    # What is reckoned grows with layers times all that may meet in them. Raises InvalidInput.
    poured = [pour.paint for layer in layers for pour in layer.cup.pours if pour.drops]
    met = sum(1 + sum(one is not None for one in (paint.flake, paint.fluorescence, paint.glow)) for paint in poured)
    weight = max(len(layers), FEWEST_LAYERS) * met
    if weight > MOST_WEIGHT:
        raise InvalidInput(
            f"{len(layers)} layers of {len(poured)} paints with their flakes and dyes are more than can be reckoned"
            f" together: at most {MOST_WEIGHT}, layers times what meets in them, not {weight}.",
            field="layers",
        )
    result = predict(
        layers,
        over=ground_of(request.ground),
        sheen=documents.sheen(request.clear_coat),
        under=light(request.light),
        angles_deg=request.angles,
    )
    angled = [_colour(colour) for colour in result.at_angle]
    return documents.PredictAnswer(
        wavelengths=WAVELENGTHS_NM.tolist(),
        angles=list(result.angles_deg),
        radiance_factor=[colour.radiance_factor for colour in angled],
        lab=[colour.lab for colour in angled],
        srgb=[colour.srgb for colour in angled],
        in_gamut=[colour.in_gamut for colour in angled],
        diffuse=_colour(result.diffuse),
        cup=_colour(result.cup) if result.cup else None,
        contrast_ratio=result.contrast_ratio,
        spread_delta_e=result.spread.delta_e,
        spread_cause=result.spread.cause,
    )


def _layer(layer: documents.Layer, field: str, shelf: Shelf) -> Layer:
    pours = tuple(pour(part, f"{field}.parts.{index}", shelf) for index, part in enumerate(layer.parts))
    cup = Cup(pours)
    if cup.empty:
        raise EmptyCup("asking for its colour", field=f"{field}.parts")
    droplet_um = shelf.hand.dots_of(cup, layer.film_um) if layer.droplet_um is None else layer.droplet_um
    return Layer(cup, layer.film_um, layer.coats, layer.sealed, droplet_um)


def pour(part: documents.Part, field: str, shelf: Shelf) -> Pour:
    """A part of a mix. Raises PaintNotFound, InvalidInput, naming the field."""
    if isinstance(part.paint, str):
        paint, drop_ml = shelf.find(part.paint, f"{field}.paint")
    else:
        paint, drop_ml = paint_of(part.paint), USUAL_DROP_ML
    return Pour(paint, part.drops, part.drop_ml or drop_ml)


def _colour(colour: Colour) -> documents.Colour:
    return documents.Colour(
        radiance_factor=colour.radiance_factor.tolist(),
        lab=colour.lab.tolist(),
        srgb=colour.shown.srgb,
        in_gamut=colour.shown.in_gamut,
    )
