"""The command line without another interpreter: arguments in, status and texts out."""

import contextlib
import io
import os
import sys
from types import SimpleNamespace
from unittest import mock

from diachrom.cli import main


def diachrom(*arguments, input="", env=None, cwd=None):  # noqa: A002 - as subprocess calls it
    """What `diachrom ARGUMENTS` answers: returncode, stdout, stderr."""
    given = input if isinstance(input, bytes) else input.encode()
    out, told = io.TextIOWrapper(io.BytesIO(), encoding="utf-8"), io.StringIO()
    with (
        contextlib.redirect_stdout(out),
        contextlib.redirect_stderr(told),
        mock.patch.object(sys, "argv", ["diachrom", *map(str, arguments)]),
        mock.patch.object(sys, "stdin", io.TextIOWrapper(io.BytesIO(given))),
        mock.patch.dict(os.environ, env or {}),
        contextlib.chdir(cwd or "."),
    ):
        try:
            status = main()
        except SystemExit as stop:
            status = stop.code or 0
    out.flush()
    return SimpleNamespace(returncode=status, stdout=out.buffer.getvalue().decode(), stderr=told.getvalue())
