"""One box for everything."""

from typing import cast

from fastapi import APIRouter
from fastapi.responses import Response

from diachrom.web.kit.dependencies import OpenStore
from diachrom.web.kit.frame import RailEntry
from diachrom.web.kit.pages import TEMPLATES, render
from diachrom.web.kit.terms import TERMS
from diachrom.work.home import search

router = APIRouter(include_in_schema=False)
LONGEST, MOST_TERMS = 200, 4


@router.get("/home/search")
def find(store: OpenStore, q: str = "") -> Response:
    """What was found, chapter by chapter; pages and terms by their names as well."""
    words = q[:LONGEST].casefold().split()
    rail = cast("list[RailEntry]", TEMPLATES.globals["rail"])
    pages = [(one.href, one.words) for one in rail if words and _all(words, str(one.words))]
    terms = [(name, said) for rows in TERMS.values() for name, said in rows if words and _all(words, f"{name} {said}")]
    found = search.search(store, q[:LONGEST])
    return render("home/found.html", found=found, pages=pages, terms=terms[:MOST_TERMS], query=q[:LONGEST].strip())


def _all(words: list[str], text: str) -> bool:
    return all(word in text.casefold() for word in words)
