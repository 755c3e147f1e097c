"""Backups: listed, looked into, and put back after it was said what would be lost."""

from dataclasses import dataclass
from pathlib import Path

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.errors import InvalidInput
from diachrom.web.kit.answers import go
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
    elsewhere: bool


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
            one.backup.name, day(one.backup.at[:10]), one.words, quantity(one.backup.bytes / 1e6, ".1f"), one.elsewhere
        )
        for one in backups.listed(folder)
    ]
    second = backups.second(folder)
    here = at_machine(request)
    taken, most = backups.photos(store)
    photos = say("{taken} of at most {most} MB", taken=quantity(taken / 1e6, ".1f"), most=quantity(most / 1e6, ".0f"))
    page = BackupsPage(rows, str(second or ""), request.app.state.daily.problem, photos, here)
    return render("files/backups.html", page=page, frame=frame(request, store, "files"))


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


@router.post("/files/backups/{name}/restore")
def restore(request: Request, name: str) -> Response:
    """Put a backup in place of what is there; a copy of that is kept."""
    _only_here(request)
    backups.restore(_folder(request), name)
    return go(request, "/files/backups")
