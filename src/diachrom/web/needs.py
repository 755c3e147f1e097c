"""What routes ask for: the store, opened for one request; the devices; a form as it was filled in."""

from collections.abc import Iterator
from pathlib import Path
from typing import Annotated

from fastapi import Depends, Request

from diachrom.work.devices import Devices
from diachrom.work.opened import Store, opened


def _store(request: Request) -> Iterator[Store]:
    folder: Path = request.app.state.folder
    with opened(folder) as store:
        yield store


OpenStore = Annotated[Store, Depends(_store)]


async def _form(request: Request) -> dict[str, str]:
    form = await request.form()
    return {key: value for key, value in form.items() if isinstance(value, str)}


def _devices(request: Request) -> Devices:
    devices: Devices = request.app.state.devices
    return devices


GivenForm = Annotated[dict[str, str], Depends(_form)]  # every text of it, as typed
AtBench = Annotated[Devices, Depends(_devices)]
