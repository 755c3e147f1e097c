"""The application: what the chapters bring, static files, errors, and looks that are computed before anybody asks."""

import threading
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, suppress
from functools import partial
from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.responses import RedirectResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.types import ASGIApp

from diachrom import __version__
from diachrom.web import chapters
from diachrom.web.api.described import describe, goes_out
from diachrom.web.kit import error_pages
from diachrom.web.kit.answers import came_from
from diachrom.web.kit.dependencies import OpenStore, Text
from diachrom.web.kit.frame import THEME_COOKIE, THEMES
from diachrom.web.kit.guard import Guard
from diachrom.web.kit.keys import KEYS
from diachrom.web.kit.logs import Requests
from diachrom.web.kit.names import Names
from diachrom.web.kit.pages import STATIC, TEMPLATES
from diachrom.web.kit.plot import HEIGHT, WIDTH
from diachrom.web.kit.telling import Telling
from diachrom.work.access.auth import Auth
from diachrom.work.files.backups import Daily
from diachrom.work.kit import bench_settings
from diachrom.work.kit.bench_settings import BenchSettings
from diachrom.work.kit.opened import Watch, opened
from diachrom.work.kit.tasks import Tasks
from diachrom.work.shelf import first_evening
from diachrom.work.sim.bench import devices

PREWARM_AFTER_S = 2.0  # the first page comes first

TEMPLATES.globals.update(rail=chapters.rail(), every_key=KEYS, themes=THEMES, plot_width=WIDTH, plot_height=HEIGHT)


def _prewarm(folder: Path) -> None:
    """What is wanted soon; after this it is remembered."""
    # A folder may go away meanwhile: whoever opens a page is told what is wrong with it.
    with suppress(Exception), opened(folder) as store:
        for prewarm in chapters.prewarming():
            prewarm(store)


@asynccontextmanager
async def _lifespan(app: FastAPI) -> AsyncIterator[None]:
    later = threading.Timer(PREWARM_AFTER_S, _prewarm, (app.state.folder,))
    later.daemon = True
    later.start()
    yield
    later.cancel()
    app.state.tasks.stop_all()
    if app.state.visit is not None:
        app.state.visit.end()
    if app.state.sharing is not None:
        app.state.sharing.end()
    app.state.watch.close()


class Guarded(FastAPI):
    """The guard stands around everything, also around the answer to a fault of ours."""

    def build_middleware_stack(self) -> ASGIApp:
        """What FastAPI builds, with the guard and the log around it."""
        stack = Telling(super().build_middleware_stack(), lambda asked: self.state.settings().reader(asked))
        door = self.state.door
        guard = Guard(
            stack,
            error_pages.answer,
            self.state.names,
            device_of=door.device,
            script_of=door.script,
            goes_out=goes_out,
        )
        return Requests(guard)


def create_app(folder: Path) -> FastAPI:
    """The application on a data folder that is migrated already."""
    app = Guarded(title="Diachrom", version=__version__, lifespan=_lifespan, docs_url=None, redoc_url=None)
    app.state.folder = folder
    app.state.devices = devices(folder)
    app.state.tasks = Tasks(folder)
    app.state.daily = Daily(folder)
    app.state.watch = watch = Watch(folder)
    app.state.settings = partial(watch.now, "settings", bench_settings.read, BenchSettings())
    app.state.door, app.state.sharing = Auth(folder, watch=watch), None  # a server may share it
    app.state.names = Names(lambda: app.state.settings().address)
    app.state.visit, app.state.visited_from, app.state.is_demo = None, "", False  # a server may have them
    error_pages.install(app)
    describe(app)
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    for router in chapters.routers():
        # As they stand: to include a router would build each of its routes once more, at the first request.
        app.router.routes.extend(router.routes)

    @app.get("/", include_in_schema=False)
    def start(store: OpenStore) -> Response:
        return RedirectResponse("/shelf/start" if first_evening.is_empty(store) else "/home", 303)

    @app.post("/theme", include_in_schema=False)
    def theme(request: Request, theme: Text) -> Response:
        answer = RedirectResponse(came_from(request), 303)
        if theme in THEMES:
            answer.set_cookie(THEME_COOKIE, theme, max_age=31_536_000, samesite="strict", httponly=True)
        elif theme == "system":
            answer.delete_cookie(THEME_COOKIE, samesite="strict", httponly=True)
        return answer

    return app
