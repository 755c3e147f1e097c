"""Documents in, documents out, for the command line."""

from pathlib import Path

from pydantic import ValidationError

from diachrom.errors import InvalidInput
from diachrom.store.connection import connected
from diachrom.work import documents
from diachrom.work.predicting import answer, from_shelf, nothing_on_shelf


def predict_text(content: bytes, folder: Path) -> str:
    """A predict document as JSON -> its answer as JSON. Raises InvalidInput, naming the field, and NotFound."""
    try:
        request = documents.PredictRequest.model_validate_json(content)
    except ValidationError as error:
        field, sentence = documents.first_problem(error)
        raise InvalidInput(sentence, field=field) from None
    if request.paint_ids():
        with connected(folder) as connection:
            return answer(request, from_shelf(connection)).model_dump_json()
    return answer(request, nothing_on_shelf).model_dump_json()
