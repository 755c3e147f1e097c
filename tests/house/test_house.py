"""The house: who knows whom, and that a page's address leads to its code in one guess."""

import ast
import re
from collections import defaultdict
from importlib import import_module
from pathlib import Path
from pkgutil import walk_packages

import grimp

from diachrom.web import chapters
from diachrom.web.kit.pages import HERE

SOURCE = HERE.parent
TEMPLATES, STATIC = HERE / "templates", HERE / "static"
CHAPTERS = {chapter.__name__.rpartition(".")[2] for chapter in chapters.chapters()}


def test_no_module_knows_itself_by_way_of_others():
    graph = grimp.build_graph("diachrom", cache_dir=None)
    knows = {module: graph.find_modules_directly_imported_by(module) for module in graph.modules}
    assert sum(map(len, knows.values())) > 1000
    while leaves := [module for module, others in knows.items() if not others]:
        for leaf in leaves:
            del knows[leaf]
        knows = {module: others - set(leaves) for module, others in knows.items()}
    assert not knows


def test_the_first_word_of_an_address_names_its_chapter_or_its_file():
    homes = defaultdict(set)
    for chapter in chapters.chapters():
        for one in walk_packages(chapter.__path__, f"{chapter.__name__}."):
            for route in getattr(getattr(import_module(one.name), "router", None), "routes", ()):
                homes[route.path.split("/")[1]].add(one.name.removeprefix("diachrom.web."))
    assert len(homes) > 15
    for word, files in homes.items():
        (chapter,) = {file.split(".")[0] for file in files}
        in_file = any(file.endswith(f".{word.replace('-', '_')}") for file in files)
        assert word in CHAPTERS or in_file or word.endswith(f"-{chapter}"), word


def test_templates_and_styles_are_found_under_their_chapters_word_and_each_is_used():
    code = "".join(path.read_text(encoding="utf-8") for path in [*HERE.rglob("*.py"), *TEMPLATES.rglob("*.html")])
    for template in TEMPLATES.rglob("*.html"):
        assert template.parent.name in CHAPTERS
        assert f'"{template.parent.name}/{template.name}"' in code, template
    for style in STATIC.glob("*.css"):
        assert style.stem in CHAPTERS


WORD = re.compile(r"[\w-]+")


def test_every_choice_is_sent_by_its_value_and_not_by_its_words():
    """The words are turned into what a bench reads."""
    for template in TEMPLATES.rglob("*.html"):
        bare = re.findall(r"<option(?![^>]*value=)[^>]*>", template.read_text(encoding="utf-8"))
        assert not bare, template


def test_every_class_that_a_style_knows_is_worn_in_its_chapter():
    """A rule of one chapter cannot reach another: its stylesheet is loaded there only. What it names is there."""
    for style in [*STATIC.glob("*.css"), STATIC / "kit/parts.css"]:
        worn = {
            word
            for path in _where_worn("kit" if style.parent.name == "kit" else style.stem)
            for word in WORD.findall(path.read_text(encoding="utf-8"))
        }
        plain = re.sub(r"\{[^{}]*\}", "", re.sub(r"/\*.*?\*/", "", style.read_text(encoding="utf-8"), flags=re.S))
        assert not set(re.findall(r"\.([a-z][\w-]*)", plain)) - worn, style.name


def _where_worn(chapter: str) -> list[Path]:
    scripts = [STATIC / "kit", *STATIC.glob(f"{chapter}*.js")]
    places = [HERE / "kit", TEMPLATES / "kit", *scripts]
    places += [HERE / chapter, TEMPLATES / chapter] if chapter != "kit" else [HERE, TEMPLATES, STATIC]
    files = (path for place in places for path in ([place] if place.is_file() else place.rglob("*")))
    return [path for path in files if path.suffix in (".html", ".js", ".py")]


def test_calls_name_what_they_give():
    """At most five arguments that only their order tells apart; the demo's tables of paints aside."""
    unnamed = []
    for path in SOURCE.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Call) and len(node.args) > 5 and not path.is_relative_to(SOURCE / "demo"):
                unnamed += [f"{path.name}: {ast.unparse(node.func)}"]
    assert unnamed == []


def test_no_page_asks_a_connection_itself():
    """What pages are handed is passed on to work: what asks or writes is a function there."""
    asking = {"execute", "executemany", "executescript", "cursor", "commit", "rollback", "backup", "memory"}
    asked = []
    for path in (SOURCE / "web").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if (
                isinstance(node, ast.Attribute)
                and node.attr in asking
                and ast.unparse(node.value) in ("store", "connection")
            ):
                asked += [f"{path.name}:{node.lineno} {ast.unparse(node)}"]
    assert asked == []
