"""The bench by script: its bottles, recipes, plans, orders, sessions and log, read and written."""

from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter, Depends, Header, HTTPException, Query, Request
from fastapi.responses import Response
from pydantic import BaseModel

from diachrom import clock
from diachrom.web.api.routes import REFUSALS
from diachrom.web.kit.dependencies import OpenStore, RowId
from diachrom.web.kit.guard import asker, device_name, may_write
from diachrom.words import say
from diachrom.work.api import bench_reading, bench_writing
from diachrom.work.api.bench_documents import (
    Asked,
    BottleAnswer,
    BottlesAnswer,
    LogAnswer,
    LogEntry,
    OrdersAnswer,
    PlanDocument,
    PlanKept,
    PlansAnswer,
    RecipeAnswer,
    RecipesAnswer,
    SessionAnswer,
    SessionsAnswer,
)
from diachrom.work.api.bench_writing import EntrySent, LineSent, PressSent, RecipeSent

router = APIRouter(prefix="/api", responses=REFUSALS)
Wanted = Annotated[Asked, Query()]


Write = Callable[[], BaseModel]
Once = Callable[[Write], Response]


async def _once(
    request: Request,
    store: OpenStore,
    key: Annotated[
        str,
        Header(
            alias="Idempotency-Key",
            description="of your own choice, another for each: what is sent again with it is done once",
        ),
    ] = "",
) -> Once:
    """Does what a route writes, once, and answers with the status that it declares."""
    if not may_write(request):
        raise HTTPException(403, say("This key reads only. One that writes is made at On the network."))
    asked = f"{request.method} {request.url.path}\n".encode() + await request.body()
    status = request.scope["route"].status_code or 200

    def once(write: Write) -> Response:
        sent = bench_writing.Request(asker(request), key, asked)
        answered = bench_writing.once(store, sent, write, status=status)
        return Response(answered.body, answered.status, media_type="application/json")

    return once


Writes = Annotated[Once, Depends(_once)]


@router.get("/bottles", operation_id="bottles", summary="The bottles on the shelf")
def bottles(store: OpenStore, asked: Wanted) -> BottlesAnswer:
    """The bottles on the shelf, found as on its page."""
    return bench_reading.bottles_of(store, asked)


@router.get("/bottles/{number}", operation_id="bottle", summary="A bottle and its ledger")
def bottle(store: OpenStore, number: RowId, asked: Wanted) -> BottleAnswer:
    """A bottle and its ledger, which `q`, `limit` and `after` are of."""
    return bench_reading.bottle_of(store, number, asked)


@router.post(
    "/bottles/{number}/ledger",
    operation_id="enter_in_ledger",
    summary="Enter what happened to a bottle",
    status_code=201,
    response_model=BottleAnswer,
)
def enter(store: OpenStore, number: RowId, sent: LineSent, once: Writes) -> Response:
    """Bought, poured, spilled, thrown away, or corrected to what is left. The shelf's Undo takes it back."""
    return once(lambda: bench_writing.ledger_line(store, number, sent, at=clock.now()))


@router.get("/recipes", operation_id="recipes", summary="The recipes, each as it is now")
def recipes(store: OpenStore, asked: Wanted) -> RecipesAnswer:
    """The newest version of each recipe, found as on their page."""
    return bench_reading.recipes_of(store, asked)


@router.get("/recipes/{number}", operation_id="recipe", summary="A recipe and its versions")
def recipe(store: OpenStore, number: RowId, asked: Wanted) -> RecipeAnswer:
    """A recipe as it is now, and its versions, which `q`, `limit` and `after` are of."""
    return bench_reading.recipe_of(store, number, asked)


@router.post(
    "/recipes",
    operation_id="save_recipe",
    summary="Save a new recipe",
    status_code=201,
    response_model=RecipeAnswer,
)
def save_recipe(store: OpenStore, sent: RecipeSent, once: Writes) -> Response:
    """A new recipe. Its page's Retire takes it back."""
    return once(lambda: bench_writing.recipe(store, sent, at=clock.now()))


@router.post(
    "/recipes/{number}",
    operation_id="save_version",
    summary="Save the next version of a recipe",
    status_code=201,
    response_model=RecipeAnswer,
)
def save_version(store: OpenStore, number: RowId, sent: RecipeSent, once: Writes) -> Response:
    """The next version of a recipe; those before it stay."""
    return once(lambda: bench_writing.recipe(store, sent, number, at=clock.now()))


@router.get("/plans", operation_id="plans", summary="The plans of baits")
def plans(store: OpenStore, asked: Wanted) -> PlansAnswer:
    """The plans, found as on their page."""
    return bench_reading.plans_of(store, asked)


@router.get("/plans/{number}", operation_id="plan", summary="A plan's document")
def plan(store: OpenStore, number: RowId) -> PlanDocument:
    """A plan's document, as it stands."""
    return bench_reading.plan_of(store, number)


@router.post("/plans", operation_id="bring_plan", summary="Bring a new plan", status_code=201, response_model=PlanKept)
def bring_plan(store: OpenStore, sent: PlanDocument, once: Writes) -> Response:
    """A new plan out of a document. Its page's Put away takes it back."""
    return once(lambda: bench_writing.plan(store, sent, at=clock.now()))


@router.post(
    "/plans/{number}",
    operation_id="change_plan",
    summary="Change a plan to a document",
    status_code=201,
    response_model=PlanKept,
)
def change_plan(store: OpenStore, number: RowId, sent: PlanDocument, once: Writes) -> Response:
    """A plan becomes as the document has it, in one step that its page's Undo takes back."""
    return once(lambda: bench_writing.plan(store, sent, number, at=clock.now()))


@router.get("/orders", operation_id="orders", summary="The orders, open and done")
def orders(store: OpenStore, asked: Wanted) -> OrdersAnswer:
    """The orders of every state, by name, customer and wish."""
    return bench_reading.orders_of(store, asked)


@router.get("/sessions", operation_id="sessions", summary="The sessions at the bench")
def sessions(store: OpenStore, asked: Wanted) -> SessionsAnswer:
    """The sessions at the bench, by their names."""
    return bench_reading.sessions_of(store, asked)


@router.get("/sessions/{number}", operation_id="session", summary="A session as it stands")
def session(store: OpenStore, number: RowId, asked: Wanted) -> SessionAnswer:
    """A session as it stands, and what happened in it, which `q`, `limit` and `after` are of."""
    return bench_reading.session_of(store, number, asked)


@router.post(
    "/sessions/{number}/press",
    operation_id="press",
    summary="Press what happens at the bench",
    response_model=SessionAnswer,
)
def press(store: OpenStore, number: RowId, sent: PressSent, once: Writes, who: Request) -> Response:
    """Something happens at the bench: a drop, the next step. A press of back, undo or unsay takes it back, as there."""
    by = device_name(who)
    return once(lambda: bench_writing.press(store, number, sent, by=by))


@router.get("/log", operation_id="log", summary="The log of what was finished")
def log(store: OpenStore, asked: Wanted) -> LogAnswer:
    """The log, found as on its page."""
    return bench_reading.log_of(store, asked)


@router.post(
    "/log",
    operation_id="enter_in_log",
    summary="Enter a bait that was painted elsewhere",
    status_code=201,
    response_model=LogEntry,
)
def enter_in_log(store: OpenStore, sent: EntrySent, once: Writes) -> Response:
    """A batch that was painted before, or elsewhere."""
    return once(lambda: bench_writing.log_entry(store, sent, at=clock.now()))
