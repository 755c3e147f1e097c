"""The first evening: a list of bottles, read, corrected in place and put on the shelf."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.film.kinds import KINDS
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.shelf.bottle_list import MOST_LINES, STARTER, USUAL_ML, ListedBottle, read, read_line, srgb
from diachrom.errors import DiachromError, InvalidInput
from diachrom.store.bottles import Bottle
from diachrom.web.kit.answers import go, socket_address
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import GivenForm, OpenStore, Text, Upload
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.kit import photo_picks
from diachrom.work.kit.colour_words import own
from diachrom.work.kit.figures import whole
from diachrom.work.kit.opened import Store
from diachrom.work.shelf import droppers, first_evening
from diachrom.work.shelf.first_evening import Wrong
from diachrom.work.shelf.shelf_index import index

router = APIRouter(include_in_schema=False)
FIELDS = ("name", "kind", "size_ml", "colour", "glow", "mica")
NAMED = re.compile(r"(name|kind|size_ml|colour|glow|mica|asks|told_by)-(\d{1,4})")
EXAMPLES = (
    say("Olive green, 60 ml, opaque"),
    say("Pearl white 2 oz"),
    say("Candy red"),
    say("Blue PB15:3, transparent"),
    say("Fish belly #f0e8d0"),
)


@dataclass(frozen=True)
class RowView:
    """A bottle of the list as it can be corrected."""

    name: str
    kind: str
    size_ml: str
    colour: str
    told_by: str
    fill: str  # "" where there is no colour that can be shown
    glow: str = ""  # in the dark
    mica: str = ""
    asks: bool = False  # which mica it is
    turns_to: str = ""  # at the flop
    unknown: str = ""  # the words that the dictionary has not
    told: bool = False  # the colour is not what the name says, so where it is from is
    wrong: str = ""
    wrong_field: str = ""  # that it is about, or its name

    @property
    def kind_words(self) -> str:
        """What it is called."""
        return KINDS[self.kind].words

    @property
    def colours(self) -> bool:
        """Whether it has a colour."""
        return KINDS[self.kind].colours


@dataclass(frozen=True)
class StartPage:
    text: str
    unread: bool  # the text is the rest of a list, of which the rows are the beginning
    rows: Sequence[RowView]
    kinds: Sequence[Choice]
    said: str
    empty: bool  # nothing is on the shelf yet
    missing: int  # rows without a colour
    examples: Sequence[tuple[str, RowView, str]]  # lines, how they are read, and how much is in the bottle
    can_visit: bool  # the demo bench


@dataclass(frozen=True)
class _List:
    """A list as far as it was read."""

    text: str = ""
    unread: bool = False
    rows: Sequence[RowView] = ()


def _page(request: Request, store: Store, listed: _List, *, said: str = "", status: int = 200) -> Response:
    rows = listed.rows
    page = StartPage(
        text=listed.text,
        unread=listed.unread,
        rows=rows,
        kinds=[Choice(key, kind.words) for key, kind in KINDS.items()],
        said=said,
        empty=first_evening.is_empty(store),
        examples=[_example(str(line)) for line in EXAMPLES],
        can_visit=request.app.state.visit is not None,
        missing=sum(1 for row in rows if not row.fill and row.colours),
    )
    return render("shelf/start.html", status=status, page=page, frame=frame(request, store, "shelf"))


@router.get("/shelf/start")
def start(request: Request, store: OpenStore, starter: bool = False) -> Response:
    """An empty bench: a list of bottles, or the demo."""
    return _read(request, store, STARTER) if starter else _page(request, store, _List())


@router.post("/shelf/start/demo")
def visit(request: Request) -> Response:
    """To the demo bench, at its own address: what is done there stays there."""
    if request.app.state.visit is None:
        raise InvalidInput(say("Visit the demo bench from a bench of your own."), field="demo")
    return go(request, request.app.state.visit.begin(socket_address(request)))


@router.post("/shelf/start/read")
def read_list(request: Request, store: OpenStore, bottles: Text = "") -> Response:
    """Read a list of bottles, one a line."""
    return _read(request, store, bottles)


def _read(request: Request, store: Store, text: str, *, kept: int = 0) -> Response:
    """The page with a list as it is read, after so many bottles that were kept of it already."""
    found, unread = read(text, own(store))
    said = (
        [say("{bottles} put on the shelf.", bottles=say_count(kept, "{count} bottle", "{count} bottles"))]
        if kept
        else []
    )
    if not found:
        said.append(say("This list names no bottle: write one per line."))
        return _page(request, store, _List(text), said=listed(said, " "))
    twice = sum(bottle.count - 1 for bottle in found)
    said.append(
        say(
            "{bottles} read. Check them and correct what is wrong in its field.",
            bottles=say_count(len(found), "{count} bottle", "{count} bottles"),
        )
    )
    if twice:
        said.append(
            say(
                "{lines}: each bottle is listed once.",
                lines=say_count(twice, "{count} repeated line", "{count} repeated lines"),
            )
        )
    if unread:
        said.append(
            say(
                "From a long list {most_lines} lines are read at a time: {unread} more wait in the box above.",
                most_lines=MOST_LINES,
                unread=unread,
            )
        )
        text = "\n".join([line for line in text.splitlines() if line.strip()][MOST_LINES:])
    rows = [_row(one) for one in found]
    wrong = first_evening.wrong_already(store, [{key: getattr(row, key) for key in FIELDS} for row in rows])
    rows = [_told_wrong(row, wrong.get(at)) for at, row in enumerate(rows)]
    if wrong:
        said.append(_to_mend(wrong))
    return _page(request, store, _List(text, bool(unread), rows), said=listed(said, " "))


def _example(line: str) -> tuple[str, RowView, str]:
    bottle = read_line(line)  # as it stands in the reader's language
    return line, _row(bottle), quantity(bottle.size_ml or USUAL_ML, "g", "ml")


def _row(bottle: ListedBottle) -> RowView:
    return RowView(
        name=bottle.name,
        kind=bottle.kind,
        size_ml=f"{bottle.size_g:g} g" if bottle.size_g else f"{bottle.size_ml or USUAL_ML:g} ml",
        colour=bottle.colour,
        told_by=bottle.told_by,
        fill=bottle.colour,
        glow=srgb(bottle.said.glows),
        mica=bottle.said.mica or "",
        asks=bottle.said.asks,
        turns_to=srgb(bottle.said.turns_to),
        unknown=bottle.said.unknown,
        told=bottle.said.colour_from in ("pigment", "kind"),
    )


@router.get("/shelf/start/micas")
def micas(at: int = 0, colour: str = "", mica: str = "") -> Response:
    """A pearl as clear and as coloured mica, over white and black, for the eye to choose."""
    return render("shelf/micas.html", at=at, looks=first_evening.micas(colour), mica=mica)


@router.post("/shelf/start/photo")
def photo(file: Upload) -> Response:
    """A photo that a browser cannot read, as one that it can; nothing of it is kept."""
    read = photo_picks.taken(file.filename or say("the photo"), file.file.read())
    return Response(read.png, media_type="image/png")


@router.post("/shelf/start/keep")
def keep(request: Request, store: OpenStore, given: GivenForm) -> Response:
    """Put the bottles of a list on the shelf."""
    rows: dict[int, dict[str, str]] = {}
    for key, value in given.items():
        found = NAMED.fullmatch(key)
        if found:
            rows.setdefault(int(found[2]), dict.fromkeys((*FIELDS, "told_by", "asks"), ""))[found[1]] = value
    typed = [
        row for row in [rows[at] for at in sorted(rows)] if row["name"].strip()
    ]  # a row whose name was emptied is left out
    wrong = first_evening.put_all(store, [{key: row[key] for key in FIELDS} for row in typed], at=clock.now())
    text, unread = given.get("bottles", ""), given.get("unread") == "true"
    if wrong or not typed:
        listed = _List(text, unread, [_told_wrong(_typed_row(row), wrong.get(at)) for at, row in enumerate(typed)])
        said = say("Nothing is on the shelf yet. {to_mend}", to_mend=_to_mend(wrong))
        return _page(request, store, listed, said=said if typed else say("No bottle is left in the list."), status=422)
    return _read(request, store, text, kept=len(typed)) if unread and text.strip() else go(request, "/shelf/start/next")


@dataclass(frozen=True)
class NextPage:
    """What a new shelf still wants."""

    bottles: str
    guesses: int
    uncounted: Sequence[Bottle]
    said: str


def _next(request: Request, store: Store, said: str = "", status: int = 200) -> Response:
    shelf = index(store)
    page = NextPage(
        say_count(len(shelf.rows), "{count} bottle", "{count} bottles"), shelf.guesses, droppers.unknown(store), said
    )
    return render("shelf/start_next.html", status=status, page=page, frame=frame(request, store, "shelf"))


@router.get("/shelf/start/next")
def what_next(request: Request, store: OpenStore) -> Response:
    """What comes after: one sheet, one count of drops."""
    return go(request, "/shelf/start") if first_evening.is_empty(store) else _next(request, store)


@router.post("/shelf/start/droppers")
def count_drops(request: Request, store: OpenStore, drops: Text = "") -> Response:
    """Count the drops of the droppers."""
    try:
        many = droppers.count_for_all(store, whole(drops, say("Drops"), key="drops"), at=clock.now())
    except InvalidInput as error:
        return _next(request, store, str(error), 422)
    return _next(
        request,
        store,
        say(
            "{given} drops in a millilitre, for {bottles}.",
            given=drops.strip(),
            bottles=say_count(many, "{count} bottle", "{count} bottles"),
        ),
    )


def _to_mend(wrong: Wrong) -> str:
    """ "To mend: rows 3 and 17." """
    rows = [str(at + 1) for at in sorted(wrong)]
    named = listed(rows[:8]) + (" and more" if len(rows) > 8 else "")
    return say_count(len(rows), "To mend: row {named}.", "To mend: rows {named}.", named=named)


def _told_wrong(row: RowView, wrong: DiachromError | None) -> RowView:
    if wrong is None:
        return row
    return replace(row, wrong=str(wrong), wrong_field=wrong.field if wrong.field in FIELDS else "name")


def _typed_row(row: Mapping[str, str]) -> RowView:
    kind = row["kind"] if row["kind"] in KINDS else "opaque"
    fill = row["colour"] if hex_to_lab(row["colour"]) is not None else ""
    return RowView(
        name=row["name"],
        kind=kind,
        size_ml=row["size_ml"],
        colour=row["colour"],
        told_by=row["told_by"],
        fill=fill,
        glow=row["glow"],
        mica=row["mica"],
        asks=row["asks"] == "yes",
    )
