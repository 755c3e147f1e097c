"""Documents in, documents out, for the command line."""

from pathlib import Path
from typing import TypeVar

from pydantic import BaseModel, ValidationError

from diachrom.errors import InvalidInput
from diachrom.store.connection import connected
from diachrom.work import documents, predicting, profiling

Kind = TypeVar("Kind", bound=BaseModel)


def predict_text(content: bytes, folder: Path) -> str:
    """A predict document as JSON -> its answer as JSON. Raises InvalidInput, naming the field, and NotFound."""
    request = _read(documents.PredictRequest, content)
    if request.paint_ids():
        with connected(folder) as connection:
            return predicting.answer(request, predicting.from_shelf(connection)).model_dump_json()
    return predicting.answer(request, predicting.nothing_on_shelf).model_dump_json()


def profile_text(content: bytes) -> str:
    """A profile document as JSON -> its answer as JSON. Raises InvalidInput, naming the field."""
    return profiling.answer(_read(documents.ProfileRequest, content)).model_dump_json(exclude_none=True)


def _read(kind: type[Kind], content: bytes) -> Kind:
    try:
        return kind.model_validate_json(content)
    except ValidationError as error:
        field, sentence = documents.first_problem(error)
        raise InvalidInput(sentence, field=field) from None
