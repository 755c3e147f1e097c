"""Errors become an answer in one place: a status, and a sentence in the form that was asked for."""

from collections.abc import Callable
from http import HTTPStatus

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, Response
from starlette.exceptions import HTTPException

from diachrom.errors import Busy, DiachromError, NotFound, StoreError
from diachrom.web.guard import TooLarge
from diachrom.web.pages import is_fragment_wanted, render
from diachrom.work.documents import Refusal, first_problem

STATUS: tuple[tuple[type[DiachromError], int], ...] = (
    (NotFound, 404),
    (Busy, 503),
    (StoreError, 507),
    (DiachromError, 422),
)


def answer(request: Request, status: int, sentence: str, field: str | None = None) -> Response:
    """A sentence as JSON for the API, as a fragment for htmx, as a page otherwise."""
    if request.url.path.startswith("/api/"):
        return JSONResponse(Refusal(error=sentence, field=field).model_dump(), status)
    if is_fragment_wanted(request):
        return render("said.html", status=status, sentence=sentence)
    return render("trouble.html", status=status, title=HTTPStatus(status).phrase, sentence=sentence)


def known(request: Request, error: DiachromError) -> Response:
    status = next(status for kind, status in STATUS if isinstance(error, kind))
    return answer(request, status, str(error), error.field)


def invalid(request: Request, error: RequestValidationError) -> Response:
    field, sentence = first_problem(list(error.errors()))
    return answer(request, 422, sentence, field)


def refused(request: Request, error: HTTPException) -> Response:
    if isinstance(error.__cause__, TooLarge):  # met while the framework was reading the body
        return too_large(request, error.__cause__)
    sentence = {
        404: f"There is no page at {request.url.path}.",
        405: f"{request.method} is not answered at {request.url.path}.",
    }.get(error.status_code, str(error.detail))
    return answer(request, error.status_code, sentence)


def too_large(request: Request, error: TooLarge) -> Response:
    return answer(request, 413, str(error), "body")


def broken(request: Request, error: Exception) -> Response:
    """A fault of this program; the server's log has the rest."""
    return answer(
        request, 500, "Something is wrong in Diachrom itself. This step was not saved; the rest is as it was."
    )


def install(app: FastAPI) -> None:
    handlers: tuple[tuple[type[Exception], Callable[..., Response]], ...] = (
        (DiachromError, known),
        (RequestValidationError, invalid),
        (HTTPException, refused),
        (TooLarge, too_large),
        (Exception, broken),
    )
    for kind, handler in handlers:
        app.add_exception_handler(kind, handler)
