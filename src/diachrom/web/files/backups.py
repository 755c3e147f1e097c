"""Backups: listed, looked into, and put back after it was said what would be lost."""

from dataclasses import dataclass
from functools import partial
from pathlib import Path

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.errors import InvalidInput
from diachrom.web.kit.answers import go, socket_address
from diachrom.web.kit.dependencies import OpenStore, Text
from diachrom.web.kit.formatting import day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.guard import at_machine
from diachrom.web.kit.pages import render
from diachrom.words import quantity, say
from diachrom.work.files import backups

router = APIRouter(include_in_schema=False)


@dataclass(frozen=True)
class BackupView:
    name: str
    at: str
    words: str
    megabytes: str
    lies: str


@dataclass(frozen=True)
class BackupsPage:
    rows: list[BackupView]
    second: str
    problem: str
    photos: str  # how much they take, and may
    here: bool  # at the machine itself: only there is anything put back


@dataclass(frozen=True)
class ChangeView:
    words: str
    now: int
    then: int
    lost: str


def _folder(request: Request) -> Path:
    folder: Path = request.app.state.folder
    return folder


def _only_here(request: Request) -> None:
    if not at_machine(request):
        raise InvalidInput(say("Backups are restored at the machine itself."), field="backup")


@router.get("/files/backups")
def show(request: Request, store: OpenStore) -> Response:
    """The backups, here and in the second folder."""
    folder = _folder(request)
    rows = [
        BackupView(
            one.backup.name, day(one.backup.at[:10]), one.words, quantity(one.backup.bytes / 1e6, ".1f"), _lies(one)
        )
        for one in backups.listed(folder)
    ]
    second = backups.second(folder)
    here = at_machine(request)
    taken, most = backups.photos(store)
    photos = say("{taken} of at most {most} MB", taken=quantity(taken / 1e6, ".1f"), most=quantity(most / 1e6, ".0f"))
    page = BackupsPage(rows, str(second or ""), request.app.state.daily.problem, photos, here)
    return render("files/backups.html", page=page, frame=frame(request, store, "files"))


def _lies(one: backups.Listed) -> str:
    if one.of:
        return say("in the second folder, of {bench}", bench=one.of)
    return say("in the second folder") if one.elsewhere else say("beside the data")


@router.get("/files/backups/{name}")
def look(request: Request, store: OpenStore, name: str) -> Response:
    """What a backup holds, and what would be lost by going back to it."""
    backup, changes, last = backups.differences(_folder(request), name)
    views = [ChangeView(row.words[1], row.now, row.then, row.lost) for row in changes]
    at = (day(backup.at[:10]), day(last) if last else "")
    here = at_machine(request)
    return render("files/backup.html", name=name, at=at, rows=views, here=here, frame=frame(request, store, "files"))


@router.post("/files/backups/second")
def set_second(request: Request, second: Text = "") -> Response:
    """Set the second folder, or none."""
    _only_here(request)
    backups.set_second(_folder(request), second)
    return go(request, "/files/backups")


@router.post("/files/backups/{name}/open")
def open_beside(request: Request, name: str) -> Response:
    """Open a backup, of this bench or of another, as a bench of its own beside this one."""
    _only_here(request)
    visit = request.app.state.visit
    if visit is None:
        raise InvalidInput(say("From here no other bench is opened: go back to your own first."), field="backup")
    folder = _folder(request)
    put = partial(backups.put_beside, folder, name)
    return go(request, visit.begin(socket_address(request), name, put))


@router.post("/files/backups/{name}/restore")
def restore(request: Request, name: str) -> Response:
    """Put a backup in place of what is there; a copy of that is kept."""
    _only_here(request)
    backups.restore(_folder(request), name)
    return go(request, "/files/backups")
