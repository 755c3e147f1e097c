"""Answer a predict document: paints from the shelf or given in place, through the core, back to a document."""

import sqlite3
from collections.abc import Callable

from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import WAVELENGTHS_NM
from diachrom.core.light.lights import light
from diachrom.core.mix.cup import USUAL_DROP_ML, Cup, Pour
from diachrom.core.mix.layers import Layer
from diachrom.core.mix.prediction import Colour, predict
from diachrom.errors import EmptyCup, InvalidInput, PaintNotFound
from diachrom.store import bottles, paints
from diachrom.work.kit import documents
from diachrom.work.kit.document_values import ground_of, paint_of

MOST_WEIGHT, FEWEST_LAYERS = 1200, 10  # about 250 MB and 10 s

# From a paint's id and where it stands in the document to the paint and its bottle's drop in ml.
FindPaint = Callable[[str, str], tuple[Paint, float]]


def from_shelf(connection: sqlite3.Connection) -> FindPaint:
    """Find paints in a database."""

    def find(paint_id: str, field: str) -> tuple[Paint, float]:
        try:
            paint = paints.profile(connection, paint_id)
        except PaintNotFound:
            raise PaintNotFound(paint_id, field) from None
        own = bottles.of_paint(connection, paint_id)
        return paint, own[0].drop_ml if own else USUAL_DROP_ML

    return find


def nothing_on_shelf(paint_id: str, field: str) -> tuple[Paint, float]:
    """For documents that bring their own paints."""
    raise PaintNotFound(paint_id, field)


def answer(request: documents.PredictRequest, find: FindPaint) -> documents.PredictAnswer:
    """Predict. Raises InvalidInput and NotFound, naming the field."""
    layers = [_layer(layer, f"layers.{index}", find) for index, layer in enumerate(request.layers)]
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


def _layer(layer: documents.Layer, field: str, find: FindPaint) -> Layer:
    pours = tuple(pour(part, f"{field}.parts.{index}", find) for index, part in enumerate(layer.parts))
    cup = Cup(pours)
    if cup.empty:
        raise EmptyCup("asking for its colour", field=f"{field}.parts")
    return Layer(cup, layer.film_um, layer.coats, layer.sealed)


def pour(part: documents.Part, field: str, find: FindPaint) -> Pour:
    """A part of a mix. Raises PaintNotFound, InvalidInput, naming the field."""
    if isinstance(part.paint, str):
        paint, drop_ml = find(part.paint, f"{field}.paint")
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
