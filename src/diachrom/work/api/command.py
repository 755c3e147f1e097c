"""Documents in, documents out, for the command line."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TypeVar

from pydantic import BaseModel, ValidationError

from diachrom import clock
from diachrom.errors import FileExists, InvalidInput, pluralize
from diachrom.store.connection import Connection, connected
from diachrom.store.migrate import migrate
from diachrom.store.staged import write_beside
from diachrom.words import say
from diachrom.work.api import adjusting, batches, guessing, matching, predicting, profiling, reading
from diachrom.work.api.match_documents import MatchRequest
from diachrom.work.api.profile_documents import GuessRequest, ProfileRequest
from diachrom.work.files import exporting, importing, whole
from diachrom.work.files.backups import Daily
from diachrom.work.kit import documents
from diachrom.work.mix.candidates import in_stock
from diachrom.work.orders import calendars

BENCH = "zip"  # the suffix of a whole bench
Kind = TypeVar("Kind", bound=BaseModel)


def predict_text(content: bytes, folder: Path) -> str:
    """A predict document as JSON -> its answer as JSON. Raises InvalidInput, naming the field, and NotFound."""
    request = _read(documents.PredictRequest, content)
    with _finding(folder, needed=bool(request.paint_ids())) as shelf:
        return predicting.answer(request, shelf).model_dump_json()


def match_text(content: bytes, folder: Path) -> str:
    """A match document as JSON -> its answer as JSON. Raises InvalidInput, naming the field, and NotFound."""
    request = _read(MatchRequest, content)
    if request.paints is not None and not any(isinstance(paint, str) for paint in request.paints):
        return matching.answer(
            request, matching.given(request, predicting.NO_SHELF), predicting.NO_SHELF
        ).model_dump_json()
    with connected(folder) as connection:
        from_shelf = predicting.from_shelf(connection)
        candidates = matching.given(request, from_shelf) if request.paints else matching.of_shelf(request, connection)
        return matching.answer(request, candidates, from_shelf).model_dump_json()


def profile_text(content: bytes) -> str:
    """A profile document as JSON -> its answer as JSON. Raises InvalidInput, naming the field."""
    return profiling.answer(_read(ProfileRequest, content)).model_dump_json(exclude_none=True)


def guess_text(content: bytes) -> str:
    """A guess document as JSON -> its answer as JSON. Raises InvalidInput, naming the field."""
    return guessing.answer(_read(GuessRequest, content)).model_dump_json(exclude_none=True)


def read_list_text(content: bytes) -> str:
    """A read-list document as JSON, or the bare list, -> its answer as JSON. Raises InvalidInput, naming the field."""
    if content.lstrip()[:1] == b"{":
        return reading.answer(_read(reading.ReadListRequest, content)).model_dump_json()
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise InvalidInput(say("The list is no UTF-8 text."), field="FILE") from None
    return reading.answer(reading.ReadListRequest(text=text)).model_dump_json()


def batch_text(content: bytes, folder: Path) -> str:
    """A batch document as JSON -> its answer as JSON. Raises InvalidInput, naming the field, and NotFound."""
    request = _read(batches.BatchRequest, content)
    with _finding(folder, needed=bool(request.paint_ids())) as shelf:
        return batches.answer(request, shelf).model_dump_json(exclude_none=True)


def adjust_text(content: bytes, folder: Path) -> str:
    """An adjust document as JSON -> its answer as JSON. Raises InvalidInput, naming the field, and NotFound."""
    request = _read(adjusting.AdjustRequest, content)
    if request.paints is not None:
        with _finding(folder, needed=bool(request.paint_ids())) as shelf:
            return adjusting.answer(request, shelf, []).model_dump_json()
    with connected(folder) as connection:
        return adjusting.answer(request, predicting.from_shelf(connection), in_stock(connection)).model_dump_json()


@contextmanager
def _finding(folder: Path, *, needed: bool) -> Iterator[predicting.Shelf]:
    """Where paints are found: on the shelf where a document names one."""
    if not needed:
        yield predicting.NO_SHELF
        return
    with connected(folder) as connection:
        yield predicting.from_shelf(connection)


def exported(folder: Path, form: str) -> bytes:
    """The shelf in a form, or the whole bench as a zip. Raises InvalidInput, StoreError."""
    at = clock.now()
    with connected(folder) as connection:
        if form == BENCH:
            return whole.out(connection, at=at, calendars=calendars.of_every(connection, at=at))
        return exporting.export(connection, form, at=at)


def bring_bench(file: str, folder: Path) -> str:
    """Fill an empty folder, made where there is none, with a whole bench; what was done. Raises BadFile, InvalidInput,
    StoreError."""
    try:
        with open(file, "rb") as content:
            migrate(folder)
            count = whole.bring(folder, Path(file).name[:80], content)
    except OSError as error:
        raise InvalidInput(f"{file} cannot be read: {error.strerror}.", field="FILE") from error
    return f"{folder} holds the whole bench: {pluralize(count, 'row')}."


def export_to(target: Path, folder: Path) -> None:
    """Write the shelf or the bench to a new file, in the form of its suffix; all of it, or no file. Raises FileExists,
    InvalidInput, StoreError."""
    if target.exists():
        raise FileExists(target)
    content = exported(folder, target.suffix.lstrip("."))
    try:
        with open(target, "xb") as file:
            file.write(content)
    except OSError as error:
        if not isinstance(error, FileExistsError):
            target.unlink(missing_ok=True)
        raise InvalidInput(f"{target} cannot be written: {error.strerror}.", field="FILE") from error


def import_from(file: str, content: bytes, folder: Path, asked: importing.Asked, *, write: bool) -> Iterator[str]:
    """Read a file and say what becomes of each row; write it when it is wanted and nothing is wrong.

    Raises BadFile, StoreError, and InvalidInput when a row is wrong, after every error was said.
    """
    name = Path(file).name if file != "-" else "standard input"

    def again(copy: Connection) -> None:
        importing.read_as(copy, name, content, asked).write(copy, at=clock.now())

    with connected(folder) as connection:
        found = importing.read_as(connection, name, content, asked)
        yield f"{name}, read as {'; '.join([found.what, *found.notes])}"
        for wrong in found.errors:
            yield f"row {wrong.row}, {wrong.column or 'all of it'}: {wrong.sentence}"
        for left_out in found.left_out:
            yield f"row {left_out.row}, left out: {left_out.why} ({left_out.text})"
        for outcome in found.fates:
            yield f"row {outcome.row}, {outcome.name}: {outcome.fate}" + (
                f" ({outcome.warning})" if outcome.warning else ""
            )
        if found.errors:
            raise InvalidInput(
                f"{name} has {pluralize(len(found.errors), 'error')}; nothing was imported.", field="FILE"
            )
        if found.question:
            if found.columns is not None:
                raise InvalidInput(f"{found.question} Say it with --column, as --column left=4.", field="FILE")
            raise InvalidInput(found.question, field="--values")
        if write:
            Daily(folder).before_change()
            write_beside(folder, again)
            yield f"{pluralize(len(found.fates), 'row')} written."


def _read(kind: type[Kind], content: bytes) -> Kind:
    try:
        return kind.model_validate_json(content)
    except ValidationError as error:
        field, sentence = documents.first_problem(error)
        raise InvalidInput(sentence, field=field) from None
