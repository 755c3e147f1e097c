"""What routes ask for: the store, opened for one request; the devices; a form as it was filled in."""

from collections.abc import Iterator
from pathlib import Path
from typing import Annotated

from fastapi import Depends, File, Form, Query, Request, UploadFile
from fastapi import Path as InPath

from diachrom.core.mix.sound import LARGEST_NUMBER
from diachrom.errors import InvalidInput
from diachrom.words import say
from diachrom.work.kit.bench_settings import BenchSettings
from diachrom.work.kit.devices import Devices
from diachrom.work.kit.opened import Store, opened
from diachrom.work.kit.tasks import Tasks

TAP = "X-Tap"  # the id of the press that a request carries
LONGEST_TAP = 80


def _store(request: Request) -> Iterator[Store]:
    folder: Path = request.app.state.folder
    if request.method not in ("GET", "HEAD"):
        request.app.state.daily.before_change()
    with opened(folder) as store:
        tap = request.headers.get(TAP)
        if tap is not None and not (tap.isascii() and tap.isprintable() and 0 < len(tap) <= LONGEST_TAP):
            raise InvalidInput(
                say(
                    "{tap}: the id of a press has 1 to {longest_tap} plain characters.",
                    tap=TAP,
                    longest_tap=LONGEST_TAP,
                ),
                field=TAP,
            )
        store.tap = tap
        request.state.store = store  # what an error is answered with depends on whether anything was saved
        yield store


Text = Annotated[str, Form()]
Upload = Annotated[UploadFile, File()]
RowId = Annotated[int, InPath(ge=0, le=LARGEST_NUMBER)]
FormRowId = Annotated[int, Form(ge=0, le=LARGEST_NUMBER)]
MaybeFormRowId = Annotated[int | None, Form(ge=0, le=LARGEST_NUMBER)]
WholeNumber = Annotated[int, Query(ge=-LARGEST_NUMBER, le=LARGEST_NUMBER)]  # beyond it the store has no numbers
MaybeRowId = Annotated[int | None, Query(ge=0, le=LARGEST_NUMBER)]
Numbers = Annotated[list[int] | None, Query()]
FormNumbers = Annotated[list[int] | None, Form()]
OpenStore = Annotated[Store, Depends(_store)]


async def _form(request: Request) -> dict[str, str]:
    form = await request.form()
    return {key: value for key, value in form.items() if isinstance(value, str)}


def now_at(request: Request) -> Devices:
    """The devices of the bench as it is set now."""
    devices: Devices = request.app.state.devices
    chosen: BenchSettings = request.app.state.settings()
    return devices.at(simulated=chosen.simulated == "yes", port=chosen.scale_port, speed=int(chosen.scale_speed))


def _tasks(request: Request) -> Tasks:
    tasks: Tasks = request.app.state.tasks
    return tasks


Background = Annotated[Tasks, Depends(_tasks)]
GivenForm = Annotated[dict[str, str], Depends(_form)]  # every text of it, as typed
AtBench = Annotated[Devices, Depends(now_at)]
