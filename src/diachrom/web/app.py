"""The application: routes, static files, errors, and looks that are computed before anybody asks."""

import threading
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Annotated

from fastapi import FastAPI, Form, Request
from fastapi.responses import RedirectResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.types import ASGIApp

from diachrom import __version__
from diachrom.errors import DiachromError
from diachrom.web import (
    amounts,
    api,
    bottles,
    card_sheet,
    cards,
    compare,
    devices,
    drops,
    family,
    files,
    job,
    learning,
    match,
    mix,
    next_drop,
    paints,
    photos,
    pouring,
    prints,
    recipes,
    record,
    rest,
    shelf,
    spray_outs,
    target_forms,
    trainer,
    trouble,
)
from diachrom.web.answers import came_from
from diachrom.web.frame import RAIL, THEME_COOKIE, THEMES
from diachrom.web.guard import Guard
from diachrom.web.pages import STATIC, TEMPLATES
from diachrom.web.plot import HEIGHT, WIDTH
from diachrom.work.devices import Devices
from diachrom.work.finding import Wanted
from diachrom.work.importing import Jobs
from diachrom.work.learn_jobs import LearnJobs
from diachrom.work.match_jobs import MatchJobs
from diachrom.work.opened import opened
from diachrom.work.shelf import page as look_along

TEMPLATES.globals.update(rail=RAIL, themes=THEMES, plot_width=WIDTH, plot_height=HEIGHT)


def _look_along_once(folder: Path) -> None:
    """The looks on the Shelf's first page are wanted soon; after this they are remembered."""
    try:
        with opened(folder) as store:
            look_along(store, Wanted(), most=shelf.PAGE)
    except DiachromError:
        return  # whoever opens a page is told what is wrong with the folder


@asynccontextmanager
async def _lifespan(app: FastAPI) -> AsyncIterator[None]:
    threading.Thread(target=_look_along_once, args=(app.state.folder,), daemon=True).start()
    yield


class Guarded(FastAPI):
    """The guard stands around everything, also around the answer to a fault of ours."""

    def build_middleware_stack(self) -> ASGIApp:
        return Guard(super().build_middleware_stack())


def create_app(folder: Path) -> FastAPI:
    """The application on a data folder that is migrated already."""
    app = Guarded(title="Diachrom", version=__version__, lifespan=_lifespan, docs_url=None, redoc_url=None)
    app.state.folder = folder
    app.state.devices = Devices()
    app.state.jobs = Jobs()
    app.state.matches = MatchJobs()
    app.state.learning = LearnJobs()
    trouble.install(app)
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    for part in (
        match,
        amounts,
        mix,
        next_drop,
        pouring,
        spray_outs,
        card_sheet,
        learning,
        record,
        trainer,
        family,
        job,
        rest,
        prints,
        shelf,
        target_forms,
        bottles,
        drops,
        paints,
        cards,
        photos,
        devices,
        files,
        recipes,
        compare,
    ):
        app.include_router(part.router, include_in_schema=False)
    app.include_router(api.router)

    @app.get("/", include_in_schema=False)
    def start() -> Response:
        return RedirectResponse("/mix", 303)

    @app.post("/theme", include_in_schema=False)
    def theme(request: Request, theme: Annotated[str, Form()]) -> Response:
        answer = RedirectResponse(came_from(request), 303)
        if theme in THEMES:
            answer.set_cookie(THEME_COOKIE, theme, max_age=31_536_000, samesite="strict", httponly=True)
        return answer

    return app
