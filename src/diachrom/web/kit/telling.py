"""Sentences and figures in templates, and around each request to whom they are told."""

import json
import re
from collections.abc import Callable, Mapping, Sequence
from functools import cache
from typing import Any

from jinja2 import Environment
from markupsafe import Markup
from starlette.types import ASGIApp, Receive, Scope, Send

from diachrom.catalogues import catalogue
from diachrom.words import (
    PLAIN,
    Quantity,
    Reader,
    Sentence,
    current,
    every_told,
    quantity,
    reading,
    say_as,
    say_count,
)

PLACE = re.compile(r"%\((\w+)\)s")
ENGLISH = ("/api/", "/static/")  # scripts read these, and English


def braces(text: str) -> str:
    """A template's sentence with its places as everywhere else: {name}."""
    return PLACE.sub(r"{\1}", text).replace("%%", "%")


_braces = cache(braces)


def sentence(text: str, /, **places: Any) -> str:
    """A sentence in a template's line, told at once."""
    reader = current()
    if reader is PLAIN:
        return text.format_map(places) if places else text
    return Sentence(text, figures=places).tell(reader)


def word(what: str, text: str, /) -> str:
    """A word in a template's line that is said as `what`."""
    return str(say_as(what, text))


def many(count: int, one: str, several: str, /, **places: Any) -> str:
    """The same for a count."""
    return str(say_count(count, one, several, **places))


def gettext(text: str, /, **places: Any) -> Markup:
    """A sentence in a template's text, which may hold inline tags; what is put into its places is escaped."""
    reader, own = current(), _braces(text)
    told = own if reader is PLAIN else Sentence(own).form(reader)
    return Markup(told).format_map(places) if places else Markup(told)


def ngettext(one: str, several: str, count: int, /, **places: Any) -> Markup:
    """The same for a count."""
    reader = current()
    if reader is PLAIN:
        told = _braces(one if count == 1 else several)
    else:
        names = dict.fromkeys((*PLACE.findall(one), *PLACE.findall(several)), "")
        told = Sentence(_braces(several), _braces(one), {**names, "count": count}).form(reader)
    return Markup(told).format_map(places)


def script_words() -> Mapping[str, str]:
    """What scripts say in a reader's language; nothing where that is theirs."""
    return catalogue(current().language).scripts if current().language else {}


def span(values: Sequence[float], spec: str, unit: str = "", joint: str = "to") -> Quantity:
    """From a figure to another, or sides: "64 x 33 mm"."""
    return Quantity(values, spec, unit, joint)


def lower(value: Any) -> str:
    """Within a sentence."""
    return str(value).lower()


def capitalize(value: Any) -> str:
    """At the beginning of a sentence."""
    words = str(value)
    return words[:1].upper() + words[1:]


def install(environment: Environment) -> None:
    """What templates say sentences and figures with: `_` in a line, {% trans %} in a text."""
    environment.add_extension("jinja2.ext.i18n")
    environment.policies["ext.i18n.trimmed"] = True
    environment.newstyle_gettext = True  # type: ignore[attr-defined]
    environment.globals.update(
        _=sentence, _as=word, many=many, script_words=script_words, gettext=gettext, ngettext=ngettext
    )
    # For attributes: what is in it is escaped like all else.
    environment.filters.update(json=lambda value: json.dumps(every_told(value)))
    environment.filters.update(lower=lower, capitalize=capitalize, quantity=quantity, span=span)


class Telling:
    """Around the application: pages are told to the bench's reader, in its language or the browser's."""

    def __init__(self, app: ASGIApp, to: Callable[[str], Reader]) -> None:
        self.app, self.to = app, to

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer a request."""
        if scope["type"] != "http" or scope["path"].startswith(ENGLISH):
            await self.app(scope, receive, send)
            return
        asked = next((value for name, value in scope["headers"] if name == b"accept-language"), b"")
        with reading(self.to(asked.decode("latin-1"))):
            await self.app(scope, receive, send)
