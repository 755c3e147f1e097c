"""The application: routes, static files, errors, and looks that are computed before anybody asks."""

import threading
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Annotated

from fastapi import FastAPI, Form, Request
from fastapi.responses import RedirectResponse, Response
from fastapi.staticfiles import StaticFiles

from diachrom import __version__
from diachrom.errors import DiachromError
from diachrom.web import api, bottles, compare, mix, recipes, shelf, trouble
from diachrom.web.frame import RAIL, THEME_COOKIE, THEMES
from diachrom.web.guard import Guard
from diachrom.web.pages import STATIC, TEMPLATES
from diachrom.work.opened import opened
from diachrom.work.shelf import shelf as look_along

TEMPLATES.globals.update(rail=RAIL, themes=THEMES)


def _look_along_once(folder: Path) -> None:
    """Every paint's own look is wanted by the Shelf; after this it is remembered."""
    try:
        with opened(folder) as store:
            look_along(store)
    except DiachromError:
        return  # whoever opens a page is told what is wrong with the folder


@asynccontextmanager
async def _lifespan(app: FastAPI) -> AsyncIterator[None]:
    threading.Thread(target=_look_along_once, args=(app.state.folder,), daemon=True).start()
    yield


def create_app(folder: Path) -> FastAPI:
    """The application on a data folder that is migrated already."""
    app = FastAPI(title="Diachrom", version=__version__, lifespan=_lifespan, docs_url=None, redoc_url=None)
    app.state.folder = folder
    app.add_middleware(Guard)
    trouble.install(app)
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    for part in (mix, shelf, bottles, recipes, compare):
        app.include_router(part.router, include_in_schema=False)
    app.include_router(api.router)

    @app.get("/", include_in_schema=False)
    def start() -> Response:
        return RedirectResponse("/mix", 303)

    @app.post("/theme", include_in_schema=False)
    def theme(request: Request, theme: Annotated[str, Form()]) -> Response:
        back = request.headers.get("referer", "/mix")
        answer = RedirectResponse(back if back.startswith(str(request.base_url)) else "/mix", 303)
        if theme in THEMES:
            answer.set_cookie(THEME_COOKIE, theme, max_age=31_536_000, samesite="strict", httponly=True)
        return answer

    return app
