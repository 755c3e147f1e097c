"""Every sentence in one catalogue, by chapter, and each language's beside it: `catalogue.py` writes them anew, what is
translated is kept; `--check` says what is missing or stale in them, and what is said to people without being in one."""

import ast
import re
import sys
from collections.abc import Iterable, Iterator, Sequence
from io import BytesIO
from pathlib import Path
from typing import Any

from babel.messages import Catalog
from babel.messages.extract import extract_javascript
from babel.messages.pofile import read_po, write_po
from jinja2.ext import babel_extract

from diachrom.web.kit.telling import braces

SOURCE = Path(__file__).parents[1] / "src" / "diachrom"
POT = SOURCE / "locale" / "diachrom.pot"
PLACE = re.compile(r"\{\w+\}|<[^>]*>")
TEMPLATES, SCRIPTS = SOURCE / "web" / "templates", SOURCE / "web" / "static"
# What the core and the work call a chapter's matter, by the chapter under which a painter meets it.
CHAPTERS = (
    ("what all pages share", ("kit", "errors.py", "words.py", "home", "light", "film")),
    ("Mix", ("mix", "pour", "recipes", "rail_cup")),
    ("Match", ("match",)),
    ("Shelf and profiles", ("shelf", "profiles")),
    ("Plan", ("plan", "bait")),
    ("Orders", ("orders", "schedule")),
    ("Bench", ("bench", "session")),
    ("Cards and the eye", ("cards", "eye")),
    ("Finish", ("finish",)),
    ("Log", ("log",)),
    ("Files, devices and the network", ("files", "store", "exchange", "instruments", "access", "sim", "server.py")),
)
PLACES = {word: place for place, (_, words) in enumerate(CHAPTERS) for word in words}
ENGLISH = ("web/api", "work/api", "cli.py", "demo")  # scripts, the command line and the invented bench stay English
OURS = {"TypeError", "KeyError", "RuntimeError", "AssertionError", "NotImplementedError"}  # for developers
JINJA = {
    "trimmed": "true",
    "trim_blocks": "true",
    "lstrip_blocks": "true",
    "silent": "false",
    "newstyle_gettext": "true",
}
SHOWN = re.compile(r'\b(?:placeholder|title|aria-label|alt|aria-valuetext|label)="([^"]*)"')
NAMES = re.compile(r'[\w-]+="[^"]*"|&\w+;|#rrggbb|(?:https?:/)?/[\w./-]+|Diachrom|CSV|SHA-256|\b(?:ml|dE|MB)\b')
WORD = re.compile(r"[^\W\d_]{2,}")

Message = tuple[Path, str | tuple[str, str], str]  # where, what, and as what it is said


def chapter(path: Path) -> int:
    """Which of CHAPTERS a file belongs to."""
    parts = path.relative_to(SOURCE).parts
    words = [word for part in parts for word in (part, *re.split(r"[_.]", part))]
    return next((PLACES[word] for word in words if word in PLACES), 0)


def files(folder: Path, pattern: str) -> list[Path]:
    """Those whose sentences are told."""
    found = (path for path in sorted(folder.rglob(pattern)) if "vendor" not in path.parts)
    return [path for path in found if not path.relative_to(SOURCE).as_posix().startswith(ENGLISH)]


def messages() -> Iterator[Message]:
    """Each sentence where it stands; a pair for one that has a plural."""
    for path in files(SOURCE, "*.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Call) and _name(node) in ("say", "say_as", "say_count"):
                yield from _of(path, _name(node), [one.value for one in node.args if isinstance(one, ast.Constant)])
    for path in files(TEMPLATES, "*.html"):
        with path.open("rb") as file:
            for _, function, found, _ in babel_extract(file, ("_", "_as", "gettext", "ngettext", "many"), (), JINJA):
                yield from _of(path, str(function), found if isinstance(found, tuple) else (found,))
    for path in files(SCRIPTS, "*.js"):
        with path.open("rb") as file:
            for _, _, told, _ in extract_javascript(file, {"_": None}, (), {"parse_template_string": False}):
                first = told[0] if isinstance(told, tuple) else told  # the other one names places
                yield from _of(path, "_", (first,))


def _of(path: Path, function: str, found: Iterable[Any]) -> Iterator[Message]:
    told = [braces(one) for one in found if isinstance(one, str)]
    if function in ("say_count", "ngettext", "many"):
        if len(told) > 1:  # else it hands on what it was given
            yield path, (told[0], told[1]), ""
    elif function in ("say_as", "_as"):
        if len(told) > 1:
            yield path, told[1], told[0]
    elif told:
        yield path, told[0], ""


def catalogue() -> Catalog:
    """All of it, by chapter and file; what several say stands where the first says it."""
    made = Catalog(
        project="Diachrom", charset="utf-8", fuzzy=False, header_comment="# Every sentence of Diachrom, by chapter."
    )
    met: set[int] = set()
    for path, told, said_as in sorted(messages(), key=lambda one: chapter(one[0])):
        place = chapter(path)
        heading = []
        if place not in met and made.get(_key(told), said_as or None) is None:
            heading = [f"----- {CHAPTERS[place][0]} -----"]
            met.add(place)
        where = [(path.relative_to(SOURCE).as_posix(), 0)]
        made.add(told, locations=where, auto_comments=heading, context=said_as or None)
    return made


def written(made: Catalog) -> bytes:
    """As it stands in its file; the same for the same sentences, whenever it is written."""
    out = BytesIO()
    write_po(out, made, width=0, include_lineno=False, omit_header=True)
    return out.getvalue()


def translated(path: Path, made: Catalog) -> Catalog:
    """The catalogue in the language of a file, with what that file says of it."""
    language = path.stem
    with path.open("rb") as file:
        before = read_po(file, locale=language)
    own = Catalog(locale=language, charset="utf-8", fuzzy=False)
    for message in made:
        if message.id:
            kept = before.get(_key(message.id), message.context)
            own.add(
                message.id,
                kept.string if kept else None,
                locations=[(place, 0) for place, _ in message.locations],
                auto_comments=message.auto_comments,
                context=message.context,
            )
    return own


def untranslated(own: Catalog) -> Iterator[str]:
    """What has no translation, or one that lacks a place or has one too many."""
    for message in own:
        if not message.id:
            continue
        said = [message.string] if isinstance(message.string, str) else list(message.string or [""])
        asked = [message.id] if isinstance(message.id, str) else list(message.id)
        if not all(said):
            yield f"{own.locale}: not translated: {_key(message.id)}"
        elif len(said) == len(asked):
            for one, other in zip(asked, said, strict=True):
                if sorted(PLACE.findall(one)) != sorted(PLACE.findall(other)):
                    yield f"{own.locale}: other places than in English: {other}"


def _key(told: Any) -> str:
    return told if isinstance(told, str) else str(told[0])


def unmarked() -> Iterator[str]:
    """What is said without being in the catalogue: in templates, in what is raised for people, in scripts."""
    for path in files(TEMPLATES, "*.html"):
        for text in _bare(path.read_text(encoding="utf-8")):
            yield f"{path.relative_to(SOURCE)}: {text}"
    for path in files(SOURCE, "*.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Raise) and node.exc is not None and _name(node.exc) not in OURS:
                for text in _said(node.exc):
                    yield f"{path.relative_to(SOURCE)}:{node.lineno}: {text}"
    for path in files(SCRIPTS, "*.js"):
        text = re.sub(r"(?m)//.*$|/\*.*?\*/", "", path.read_text(encoding="utf-8"))
        for quoted in re.findall(
            r'(?<!_\()(?<!_\(\n)"([A-Z][a-z]+(?: [\w,;:]+)+[.?!]?)"', re.sub(r"_\(\s+", "_(", text)
        ):
            yield f"{path.relative_to(SOURCE)}: {quoted}"


def _bare(page: str) -> Iterator[str]:
    page = re.sub(r"(?s)\{#.*?#\}|<(script|style|kbd|samp)\b.*?</\1>|\{% ?trans\b.*?endtrans %\}", " ", page)
    attributes = [re.sub(r"\{\{.*?\}\}|\{%.*?%\}", " ", one) for one in SHOWN.findall(page)]
    texts = re.sub(r"\{\{.*?\}\}|\{%.*?%\}", " ", page, flags=re.S)
    for text in (*attributes, *re.sub(r"<[^>]*>", "\n", texts).split("\n")):
        if WORD.search(NAMES.sub("", text)):
            yield text.strip()


def _name(call: ast.expr) -> str:
    function = call.func if isinstance(call, ast.Call) else call
    return function.id if isinstance(function, ast.Name) else ""


def _said(node: ast.AST) -> Iterator[str]:
    """Sentences in an expression that are not in `say`."""
    if isinstance(node, ast.Call) and _name(node) in ("say", "say_as", "say_count"):
        return
    if isinstance(node, ast.keyword) and node.arg == "field":
        return
    if (
        isinstance(node, ast.Constant)
        and isinstance(node.value, str)
        and " " in node.value.strip()
        and len(WORD.findall(node.value)) > 1
    ):
        yield node.value
    for child in ast.iter_child_nodes(node):
        yield from _said(child)


def main(arguments: Sequence[str]) -> int:
    """Write the catalogue, or check it."""
    made = catalogue()
    now = written(made)
    if "--check" not in arguments:
        POT.parent.mkdir(exist_ok=True)
        POT.write_bytes(now)
        for path in sorted(POT.parent.glob("*.po")):
            path.write_bytes(written(translated(path, made)))
        return 0
    problems = list(unmarked())
    if not POT.is_file() or POT.read_bytes() != now:
        with BytesIO(now) as one, POT.open("rb") as other:
            fresh, old = ({(message.context, message.id) for message in read_po(file)} for file in (one, other))
        problems += [f"missing: {told}" for _, told in fresh - old] + [f"stale: {told}" for _, told in old - fresh]
        problems.append("The catalogue is not as its sentences are: run 'make words'.")
    for path in sorted(POT.parent.glob("*.po")):
        own = translated(path, made)
        problems += untranslated(own)
        if path.read_bytes() != written(own):
            problems.append(f"{path.name} is not as the catalogue is: run 'make words'.")
    print(*problems, sep="\n", file=sys.stderr)
    return int(bool(problems))


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
