"""The HTTP API: the same documents as the command line."""

from fastapi import APIRouter

from diachrom.web.needs import OpenStore
from diachrom.work.documents import PredictAnswer, PredictRequest, Refusal
from diachrom.work.predicting import answer, from_shelf

router = APIRouter(
    prefix="/api",
    responses={status: {"model": Refusal} for status in (400, 403, 404, 413, 422, 507)},
)


@router.post("/predict", summary="Predict the colour of a stack of coats")
def predict(request: PredictRequest, store: OpenStore) -> PredictAnswer:
    return answer(request, from_shelf(store))
