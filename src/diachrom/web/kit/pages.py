"""Templates and the ways an answer is given: a page, the fragment of it that changed, or a sentence."""

import hashlib
import sys
from contextlib import suppress
from functools import cache
from pathlib import Path
from typing import Any

from fastapi import Request
from fastapi.responses import HTMLResponse
from jinja2 import Environment, FileSystemBytecodeCache, FileSystemLoader, StrictUndefined
from jinja2.bccache import Bucket

from diachrom.web.kit import telling
from diachrom.words import current

HERE = Path(__file__).parents[1]
STATIC = HERE / "static"


@cache
def static_url(name: str) -> str:
    """The address of a static file with its content's digest, so that a browser may keep it for good."""
    digest = hashlib.sha256((STATIC / name).read_bytes()).hexdigest()[:12]
    return f"/static/{name}?v={digest}"


def chapter_style(chapter: str) -> str | None:
    """The address of a chapter's stylesheet, if it has one beside what all pages share."""
    return static_url(f"{chapter}.css") if chapter != "kit" and (STATIC / f"{chapter}.css").is_file() else None


class Compiled(FileSystemBytecodeCache):
    """Compiled templates beside Python's own compiled modules; where they cannot be kept, they are made anew."""

    def load_bytecode(self, bucket: Bucket) -> None:
        """Read a compiled template; what cannot be read is made anew."""
        try:
            super().load_bytecode(bucket)
        except Exception:  # cut off by a power cut, or no such file at all: whatever is wrong with it
            bucket.reset()

    def dump_bytecode(self, bucket: Bucket) -> None:
        """Keep a compiled template where there is room."""
        with suppress(OSError):
            super().dump_bytecode(bucket)


def _environment() -> Environment:
    if sys.dont_write_bytecode:
        compiled = None
    else:
        folder = Path(sys.pycache_prefix or HERE) / "__pycache__" / "templates"
        with suppress(OSError):
            folder.mkdir(parents=True, exist_ok=True)
        compiled = Compiled(str(folder))
    environment = Environment(
        loader=FileSystemLoader(HERE / "templates"),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
        bytecode_cache=compiled,
    )
    telling.install(environment)
    environment.globals.update(static_url=static_url, chapter_style=chapter_style, reader=current)
    return environment


TEMPLATES = _environment()


def is_fragment_wanted(request: Request) -> bool:
    """Whether htmx asks, for the part of a page that changed."""
    return request.headers.get("HX-Request") == "true"


def render(template: str, *, status: int = 200, **context: Any) -> HTMLResponse:
    """Render a template with its typed contexts; its folder is its chapter, whose stylesheet dresses the page."""
    chapter, _, _ = template.partition("/")
    return HTMLResponse(TEMPLATES.get_template(template).render(context, chapter=chapter), status)
