"""Labels for bottles, to be printed: black on white; words stand for hue."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from urllib.parse import urlencode

from fastapi import APIRouter, Request
from fastapi.responses import Response
from markupsafe import Markup

from diachrom.core.film.kinds import KINDS
from diachrom.core.shelf.label_sheet import PAGES_MM, LabelSheet
from diachrom.web.kit.answers import code_for, go
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import FormNumbers, GivenForm, Numbers, OpenStore, WholeNumber
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
from diachrom.work.shelf import label_sheets
from diachrom.work.shelf.on_shelf import OnShelf, on_shelf, seen
from diachrom.work.shelf.shelf_index import WantedBottles, find

router = APIRouter(include_in_schema=False)


MOST_LABELS = 200
SMALL_MM = (52.0, 28.0)
PAPERS = [Choice("a4", "A4"), Choice("letter", "Letter")]


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


PX = 96 / 25.4  # of a style sheet in a millimetre


@dataclass(frozen=True)
class LabelsPage:
    sheet: LabelSheet
    width: float  # of a label, px
    height: float
    page: tuple[float, float]  # wide, high, px
    small: bool  # a label without room for more than name, number and code
    sheets: Sequence[Sequence[tuple[float, float, LabelView | None]]]  # left, top, px; no label where it is a test
    count: int
    fields: Sequence[tuple[str, str, str]]  # key, words, value
    test: bool
    first: int  # the place of the first sheet at which printing begins, from 1
    query: str
    bottles: Sequence[int]


@router.get("/shelf/labels")
def labels(
    request: Request,
    store: OpenStore,
    bottle: Numbers = None,
    q: str = "",
    first: WholeNumber = 1,
    test: bool = False,
) -> Response:
    """Of these bottles, or of those that a search finds, on sheets as they are bought."""
    sheet = label_sheets.now(store)
    if bottle:
        rows = list(on_shelf(store, bottle[:MOST_LABELS]).values())
    else:
        rows = seen(store, [one.bottle for one in find(store, WantedBottles(q[:200])).rows[:MOST_LABELS]])
    views = [] if test else [_label(request, store, row) for row in rows]
    laid_out = sheet.laid_out([None] * sheet.count, 1) if test else sheet.laid_out(views, first)
    wide, high = PAGES_MM[sheet.page]
    page = LabelsPage(
        sheet=sheet,
        width=PX * sheet.width_mm,
        height=PX * sheet.height_mm,
        page=(PX * wide, PX * high),
        small=sheet.height_mm < SMALL_MM[1] or sheet.width_mm < SMALL_MM[0],
        sheets=[[(PX * x, PX * y, label) for x, y, label in own] for own in laid_out],
        count=len(rows),
        fields=[(key, words, quantity(value, "g")) for key, words, value in label_sheets.fields(sheet)],
        test=test,
        first=min(max(first, 1), sheet.count),
        query=q,
        bottles=bottle or (),
    )
    return render("shelf/labels.html", page=page, papers=PAPERS, frame=frame(request, store, "shelf"))


@router.post("/shelf/labels")
def lay_out(request: Request, store: OpenStore, given: GivenForm, bottle: FormNumbers = None) -> Response:
    """On another sheet, which is remembered; or its test."""
    label_sheets.keep(store, given)
    asked = [("bottle", str(number)) for number in bottle or ()]
    asked += [(key, given[key]) for key in ("q", "first", "test") if given.get(key)]
    return go(request, f"/shelf/labels?{urlencode(asked)}")


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
