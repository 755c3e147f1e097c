"""Errors become an answer in one place: a status, and a sentence in the form that was asked for."""

from collections.abc import Callable
from http import HTTPStatus

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, Response
from starlette.exceptions import HTTPException
from starlette.routing import Match

from diachrom.errors import Busy, Damaged, DiachromError, NotADatabase, NotFound, ReadersBusy, Repeated, StoreError
from diachrom.web.kit.answers import counted_already
from diachrom.web.kit.guard import TooLarge, is_script
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.words import say
from diachrom.work.kit.documents import Refusal, first_problem

# What it is answered with, and what such a page is called; the first that fits.
STATUS: tuple[tuple[type[DiachromError], int, str], ...] = (
    (NotFound, 404, say("Not found")),
    (Busy, 503, say("Busy")),
    (ReadersBusy, 503, say("Busy")),
    (Damaged, 503, say("The data are damaged")),
    (NotADatabase, 503, say("The data are damaged")),
    (StoreError, 507, say("The data folder")),
    (DiachromError, 422, say("That did not work")),
)
SAVED = say("Saved; this page could not be drawn")


def answer(request: Request, status: int, sentence: str, field: str | None = None, title: str = "") -> Response:
    """A sentence as JSON for the API and for scripts, as a fragment for htmx, as a page otherwise."""
    if request.url.path.startswith("/api/") or is_script(request):
        return JSONResponse(Refusal(error=sentence, field=field).model_dump(), status)
    if is_fragment_wanted(request):
        return render("kit/said.html", status=status, sentence=sentence)
    return render(
        "kit/error.html",
        status=status,
        title=title or next((words for _, known, words in STATUS if known == status), HTTPStatus(status).phrase),
        sentence=sentence,
    )


def _has_saved(request: Request) -> bool:
    """Something of this request stands in the store, whatever happened after it."""
    store = getattr(request.state, "store", None)
    return store is not None and store.saved


def _saved(request: Request, why: str) -> Response:
    """What was done is done; only the answer to it failed, and that is what is said."""
    said = answer(request, 200, f"{SAVED}. {why}".strip(), title=say("Saved"))
    said.headers.update({"HX-Retarget": "#said", "HX-Reswap": "innerHTML"})
    return said


def known(request: Request, error: DiachromError) -> Response:
    """Answer what this program raises for people: by its status, with its sentence."""
    if isinstance(error, Repeated):
        return counted_already(request)
    if _has_saved(request):
        # A StoreError says that nothing was saved, which is true only of what came after.
        return _saved(request, "" if isinstance(error, StoreError) else str(error))
    _, status, title = next(row for row in STATUS if isinstance(error, row[0]))
    return answer(request, status, str(error), error.field, title)


def invalid(request: Request, error: RequestValidationError) -> Response:
    """Answer a request that is not as the route is described."""
    field, sentence = first_problem(list(error.errors()))
    return answer(request, 422, sentence, field)


def refused(request: Request, error: HTTPException) -> Response:
    """Answer what the framework refuses: no such page, no such method."""
    if isinstance(error.__cause__, TooLarge):  # met while the framework was reading the body
        return too_large(request, error.__cause__)
    sentence = {
        404: say("There is no page at {path}.", path=request.url.path[:200]),
        405: say("{method} is not answered at {path}.", method=request.method, path=request.url.path[:200]),
    }.get(error.status_code, str(error.detail))
    said = answer(request, error.status_code, sentence)
    if error.status_code == 405:
        # What is answered at an address.
        found: set[str] = set()
        for route in request.app.router.routes:
            match, _ = route.matches({**request.scope, "method": "GET"})
            if match is not Match.NONE:
                found |= getattr(route, "methods", None) or set()
        said.headers["Allow"] = ", ".join(sorted(found | ({"HEAD"} if "GET" in found else set())))
    return said


def too_large(request: Request, error: TooLarge) -> Response:
    """Answer a body that is too large."""
    return answer(request, 413, str(error), "body")


def broken(request: Request, error: Exception) -> Response:
    """A fault of this program; the server's log has the rest."""
    if _has_saved(request):
        return _saved(request, say("Something went wrong in Diachrom itself."))
    return answer(
        request,
        500,
        say("Something went wrong in Diachrom itself. This step was not saved; everything else is as it was."),
    )


def install(app: FastAPI) -> None:
    """Let an application answer all errors here."""
    handlers: tuple[tuple[type[Exception], Callable[..., Response]], ...] = (
        (DiachromError, known),
        (RequestValidationError, invalid),
        (HTTPException, refused),
        (TooLarge, too_large),
        (Exception, broken),
    )
    for kind, handler in handlers:
        app.add_exception_handler(kind, handler)
