"""What routes ask for: the store, opened for one request."""

from collections.abc import Iterator
from pathlib import Path
from typing import Annotated

from fastapi import Depends, Request

from diachrom.work.opened import Store, opened


def _store(request: Request) -> Iterator[Store]:
    folder: Path = request.app.state.folder
    with opened(folder) as store:
        yield store


OpenStore = Annotated[Store, Depends(_store)]
