"""Where the data lies."""

import os
from pathlib import Path


def data_folder(given: Path | None = None) -> Path:
    """The folder that holds everything: the one given, else DIACHROM_DATA, else the user's own data folder."""
    if given is not None:
        return given.expanduser().resolve()
    named = os.environ.get("DIACHROM_DATA")
    if named:
        return Path(named).expanduser().resolve()
    shared = os.environ.get("XDG_DATA_HOME") or Path.home() / ".local/share"
    return Path(shared).expanduser().resolve() / "diachrom"
