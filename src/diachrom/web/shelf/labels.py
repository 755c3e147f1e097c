"""Labels for bottles, to be printed: black on white; words stand for hue."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import Response
from markupsafe import Markup

from diachrom.core.film.kinds import KINDS
from diachrom.web.kit.answers import code_for
from diachrom.web.kit.dependencies import Numbers, OpenStore
from diachrom.web.kit.formatting import short_day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.qr import qr
from diachrom.web.kit.strip_view import columns
from diachrom.web.kit.swatches import Bead, BeadString, bead, bead_string
from diachrom.words import listed, quantity, say
from diachrom.work.kit.opened import Store
from diachrom.work.mix.contents import contents
from diachrom.work.recipes import recipe_list
from diachrom.work.shelf.on_shelf import OnShelf, on_shelf, seen
from diachrom.work.shelf.shelf_index import WantedBottles, find

router = APIRouter(include_in_schema=False)


MOST_LABELS = 200


@dataclass(frozen=True)
class LabelView:
    bottle: int
    name: str
    kind: str
    bead: Bead
    colour: str
    lines: Sequence[str]
    beads: BeadString | None  # of what an own mix was made of
    qr: Markup


@router.get("/shelf/labels")
def labels(request: Request, store: OpenStore, bottle: Numbers = None, q: str = "") -> Response:
    """Of these bottles, or of those that a search finds."""
    if bottle:
        rows = list(on_shelf(store, bottle[:MOST_LABELS]).values())
    else:
        rows = seen(store, [one.bottle for one in find(store, WantedBottles(q[:200])).rows[:MOST_LABELS]])
    views = [_label(request, store, row) for row in rows]
    return render("shelf/labels.html", labels=views, frame=frame(request, store, "shelf"))


def _label(request: Request, store: Store, row: OnShelf) -> LabelView:
    bottle = row.bottle
    # A jar of one's own leads to its recipe, any other label to the bottle.
    jar = None if bottle.recipe is None else recipe_list.made_of(store, bottle.paint_id)
    # What it is on white; what has no colour is told by its kind.
    if row.look.bead is None:
        colour = KINDS[row.bottle.kind].note
    else:
        colour = columns(row.look.strip)[0].patches[-1].swatch.name
    return LabelView(
        bottle=bottle.id,
        name=bottle.full_name,
        kind=KINDS[bottle.kind].words,
        bead=bead(row),
        colour=colour,
        lines=[one for one in _lines(row) if one],
        beads=None if jar is None else bead_string(jar.draft.parts, contents(store, jar.draft).shelf),
        qr=qr(code_for(request, f"bottles/{bottle.id}" if jar is None else f"recipes/{jar.recipe}")),
    )


def _lines(row: OnShelf) -> Iterator[str]:
    bottle = row.bottle
    yield say(
        "{size} · drop {drop_ml} µl",
        size=quantity(bottle.size_ml, "g", "ml"),
        drop_ml=quantity(1000 * bottle.drop_ml, ".0f"),
    )
    yield listed(filter(None, (bottle.place, f"batch {bottle.batch}" if bottle.batch else "")), " · ")
    if bottle.opened_on:
        yield say("opened {opened_on}", opened_on=short_day(bottle.opened_on))
    elif bottle.bought_on:
        yield say("bought {bought_on}", bought_on=short_day(bottle.bought_on))
    if row.guess:
        yield say("profile: a guess")
