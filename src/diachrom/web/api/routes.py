"""The HTTP API: the same documents as the command line."""

from typing import Any

from fastapi import APIRouter

from diachrom.web.kit.dependencies import OpenStore
from diachrom.work.api import adjusting, batches, guessing, listing, matching, predicting, profiling, reading
from diachrom.work.api.adjusting import AdjustAnswer, AdjustRequest
from diachrom.work.api.batches import BatchAnswer, BatchRequest
from diachrom.work.api.listing import ListedPaint
from diachrom.work.api.match_documents import MatchAnswer, MatchRequest
from diachrom.work.api.profile_documents import GuessAnswer, GuessRequest, ProfileAnswer, ProfileRequest
from diachrom.work.api.reading import ReadListAnswer, ReadListRequest
from diachrom.work.kit.documents import PredictAnswer, PredictRequest, Refusal
from diachrom.work.mix.candidates import in_stock

REFUSALS: dict[int | str, dict[str, Any]] = {
    status: {"model": Refusal} for status in (400, 401, 403, 404, 405, 413, 421, 422, 503, 507)
}
router = APIRouter(prefix="/api", responses=REFUSALS)


@router.get("/paints", summary="The paints on the shelf, by their ids", operation_id="paints")
def paints(store: OpenStore) -> list[ListedPaint]:
    """The paints on the shelf, by their ids."""
    return listing.paints_of(store)


@router.post("/predict", operation_id="predict", summary="Predict the colour of a stack of coats")
def predict(request: PredictRequest, store: OpenStore) -> PredictAnswer:
    """Predict the colour of layers over a ground, at every angle."""
    return predicting.answer(request, predicting.from_shelf(store))


@router.post("/match", operation_id="match", summary="Find the mixes of whole drops that come nearest to a colour")
def match(request: MatchRequest, store: OpenStore) -> MatchAnswer:
    """Find the mixes of whole drops that come nearest to a colour."""
    from_shelf = predicting.from_shelf(store)
    candidates = matching.given(request, from_shelf) if request.paints else matching.of_shelf(request, store)
    return matching.answer(request, candidates, from_shelf)


@router.post(
    "/profile",
    operation_id="profile",
    summary="Derive a paint's profile from a drawdown card",
    response_model_exclude_none=True,
)
def profile(request: ProfileRequest) -> ProfileAnswer:
    """Derive a paint's profile from a drawdown card."""
    return profiling.answer(request)


@router.post(
    "/guess",
    operation_id="guess",
    summary="Guess a paint's profile from its kind and one colour",
    response_model_exclude_none=True,
)
def guess(request: GuessRequest) -> GuessAnswer:
    """Guess a paint's profile from its kind and one colour."""
    return guessing.answer(request)


@router.post("/read-list", operation_id="read_list", summary="Read a list of bottles, one a line")
def read_list(request: ReadListRequest) -> ReadListAnswer:
    """Read a list of bottles, one a line: kinds, sizes and first colours."""
    return reading.answer(request)


@router.post(
    "/batch",
    operation_id="batch",
    summary="Count so much of a mix in whole drops, its ratio kept",
    response_model_exclude_none=True,
)
def batch(request: BatchRequest, store: OpenStore) -> BatchAnswer:
    """So much of a mix in whole drops, its ratio kept unless it may change."""
    return batches.answer(request, predicting.from_shelf(store))


@router.post("/adjust", operation_id="adjust", summary="Find the drops that help a mix that is too yellow, too light")
def adjust(request: AdjustRequest, store: OpenStore) -> AdjustAnswer:
    """The drops that take a mix the way that the eye wishes, gentlest first."""
    stock = in_stock(store) if request.paints is None else []
    return adjusting.answer(request, predicting.from_shelf(store), stock)
