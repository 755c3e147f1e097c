"""The log: what was done, how it fared, and the same again."""

from dataclasses import replace
from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.session.script import SIDES
from diachrom.units import ML, MM
from diachrom.web.kit.answers import file, go
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import AtBench, FormRowId, GivenForm, MaybeRowId, OpenStore, RowId, Text, Upload
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.log.view import FIELDS, bars, entry_page, given_pictures, plots, wall
from diachrom.words import say
from diachrom.work.kit.figures import figure, whole
from diachrom.work.log import again as repeating
from diachrom.work.log import answers, customer, entries, used, year
from diachrom.work.plan import bringing

router = APIRouter(include_in_schema=False)
WAYS = {"done": True, "planned": False}  # an entry is repeated so


@router.get("/log")
def every(request: Request, store: OpenStore, q: str = "", bottle: MaybeRowId = None) -> Response:
    """The log, found by anything that stands in it."""
    page = wall(store, q[:200], bottle)
    template = "log/wall.html" if is_fragment_wanted(request) else "log/log.html"
    return render(template, page=page, frame=frame(request, store, "log"))


@router.get("/log/year")
def in_figures(request: Request, store: OpenStore, of: int | None = None) -> Response:
    """A year in figures."""
    found = year.year(store, of)
    return render("log/year.html", year=found, bars=bars(found), frame=frame(request, store, "log"))


@router.get("/log/answers")
def asked(request: Request, store: OpenStore) -> Response:
    """What the log answers, as plots."""
    found = answers.answers(store)
    coats, takes, earns = plots(found)
    return render(
        "log/answers.html", found=found, coats=coats, takes=takes, earns=earns, frame=frame(request, store, "log")
    )


@router.get("/log/answers/takes")
def takes(store: OpenStore) -> Response:
    """How long baits really take, beside their plans."""
    found = answers.answers(store)
    _, rows, _ = plots(replace(found, takes=answers.beside_plans(store, found)))
    return render("log/takes.html", takes=rows)


@router.get("/log/new")
def blank(request: Request, store: OpenStore) -> Response:
    """An entry for what was finished without a session."""
    plans = [Choice(str(one.now.number), one.now.plan.name or "") for one in bringing.listed(store, "")]
    return render("log/new.html", fields=FIELDS, plans=plans, frame=frame(request, store, "log"))


@router.post("/log/new")
def new(request: Request, store: OpenStore, form: GivenForm) -> Response:
    """A bait that was painted before."""
    return go(request, f"/log/{entries.new(store, form, at=clock.now())}")


@router.get("/log/{number}")
def show(request: Request, store: OpenStore, number: RowId) -> Response:
    """An entry: what was planned beside what was done, and how it fared."""
    page = entry_page(store, entries.one(store, number), used.used(store, number))
    return render("log/entry.html", page=page, frame=frame(request, store, "log"))


@router.get("/log/{number}/card")
def card(request: Request, store: OpenStore, number: RowId) -> Response:
    """To print, for the one who gets it."""
    own = customer.page(store, number)
    pictures = given_pictures(entries.one(store, number))
    return render("log/card.html", own=own, pictures=pictures, frame=frame(request, store, "log"))


@router.get("/log/{number}/page.html")
def page(store: OpenStore, number: RowId) -> Response:
    """The same as a file by itself, without scripts."""
    own = customer.page(store, number)
    made = render("log/alone.html", own=own, pictures=[(picture.words, picture.picture) for picture in own.pictures])
    return file(bytes(made.body), f"bait-{number}.html", "text/html")


@router.post("/log/{number}")
def change(request: Request, store: OpenStore, number: RowId, form: GivenForm) -> Response:
    """Change what was written of it."""
    entries.change(store, number, form)
    return go(request, f"/log/{number}")


@router.post("/log/{number}/faults")
def tell_fault(
    request: Request, store: OpenStore, number: RowId, fault: Text = "", note: Text = "", day: Text = ""
) -> Response:
    """Tell a fault that came later."""
    entries.tell_fault(store, number, fault, note, day, at=clock.now())
    return go(request, f"/log/{number}")


@router.post("/log/{number}/faults/back")
def take_back(request: Request, store: OpenStore, number: RowId, fault: FormRowId) -> Response:
    """Take back the fault that was told last."""
    entries.take_back_fault(store, number, fault)
    return go(request, f"/log/{number}")


@router.post("/log/{number}/used")
def put_right(
    request: Request,
    store: OpenStore,
    devices: AtBench,
    number: RowId,
    bottle: FormRowId,
    used_ml: Text = "",
    eye: Text = "",
    scale: Text = "",
) -> Response:
    """The ledger says what was really used: by weight, by ml, or by eye."""
    ml = None
    if scale:
        ml = used.by_scale(store, devices, bottle)
    elif used_ml.strip():
        ml = figure(used_ml, say("Really used, ml"), key="used_ml", least=0, most=1e4, units=ML)
    used.put_right(store, number, bottle, used_ml=ml, eye=eye[:20], at=clock.now())
    return go(request, f"/log/{number}")


@router.post("/log/{number}/photo")
def photo(request: Request, store: OpenStore, number: RowId, photo: Upload, side: Text = "") -> Response:
    """Bring a photo."""
    name = (photo.filename or "photo")[:80]
    content = photo.file.read()
    entries.add_photo(store, number, side if side in SIDES else "", name, content, at=clock.now())
    return go(request, f"/log/{number}")


def _length(text: str) -> float | None:
    """In mm; None for as it was. Raises InvalidInput."""
    if not text.strip():
        return None
    return figure(text, say("Length, mm"), key="length_mm", least=15, most=600, units=MM)


def _baits(text: str) -> int:
    return whole(text or "1", say("Baits"), key="baits")


@router.get("/log/{number}/again")
def again(
    request: Request,
    store: OpenStore,
    number: RowId,
    baits: str = "1",
    length_mm: Annotated[str, Query()] = "",
    way: str = "",
) -> Response:
    """The same again: what has changed since, the worst first."""
    found = repeating.again(store, number, baits=_baits(baits), length_mm=_length(length_mm), as_done=WAYS.get(way))
    template = "log/changed.html" if is_fragment_wanted(request) else "log/again.html"
    return render(template, found=found, number=number, length_mm=length_mm[:20], frame=frame(request, store, "log"))


@router.post("/log/{number}/again")
def order(
    request: Request, store: OpenStore, number: RowId, baits: Text = "1", length_mm: Text = "", way: Text = ""
) -> Response:
    """An order comes of it."""
    made = repeating.order(
        store,
        number,
        baits=_baits(baits),
        length_mm=_length(length_mm),
        as_done=WAYS.get(way),
        at=clock.now(),
    )
    return go(request, f"/orders/{made}")
