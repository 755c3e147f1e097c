"""The sentences in other languages, as their files have them. Babel, which takes a while to load, is asked only where
a bench reads otherwise than in English."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from gettext import c2py
from pathlib import Path

LOCALES = Path(__file__).parent / "locale"
AS = "\x04"  # between what a word is said as and the word, where one word of English is several of another language


@dataclass(frozen=True)
class Catalogue:
    """What sentences are in a language: by their English, the forms of each; `form` says which is for a count."""

    forms: Mapping[str, Sequence[str]]
    form: Callable[[int], int]
    scripts: Mapping[str, str] = field(default_factory=dict)  # what scripts say


@cache
def catalogue(language: str) -> Catalogue:
    """The catalogue of a language, empty where there is none."""

    from babel.messages.pofile import read_po

    path = LOCALES / f"{language}.po"
    if not path.is_file():
        return Catalogue({}, lambda count: int(count != 1))
    with path.open("rb") as file:
        found = read_po(file, locale=language)
    forms, scripts = {}, {}
    for message in found:
        one, many = (message.id, "") if isinstance(message.id, str) else message.id[:2]
        one = f"{message.context}{AS}{one}" if message.context else one
        said = (message.string,) if isinstance(message.string, str) else tuple(message.string or ())
        if one and said and all(said):
            forms[one] = forms[many] = said
            if any(path.endswith(".js") for path, _ in message.locations):
                scripts[one] = said[0]
    return Catalogue(forms, c2py(str(found.plural_expr)), scripts)
