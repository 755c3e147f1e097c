"""Your foil: how far the facets of hand-laid foil are tilted, from two photos, and what that changes in the flash."""

from collections.abc import Sequence
from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from diachrom.core.film.grounds import BY_HAND_DEG
from diachrom.store import foil
from diachrom.web.kit.dependencies import AtBench, OpenStore, Text, Upload
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.plot import Axes, Curve, Plot
from diachrom.words import quantity, say
from diachrom.work.cards import foil_photos
from diachrom.work.cards.foil_photos import USUAL_TURN_DEG, Read
from diachrom.work.kit.opened import Store

router = APIRouter(include_in_schema=False)
SOURCES = {
    "usual": say("Usual for foil that was laid by hand. Two photos tell yours."),
    "photos": say("Read off two photos of your foil."),
    "typed": say("As you typed it."),
}


@dataclass(frozen=True)
class FoilPage:
    tilt: str
    words: str
    usual: bool
    plot: Plot
    told: str
    found: str  # the tilt, as the button sends it
    turned_deg: str
    tilt_deg: str
    said: str


def foil_page(store: Store, read: Read | None = None, said: str = "") -> FoilPage:
    """The foil as it is believed, and as two photos show it."""
    now = foil.now(store)
    tilts = [(say("now"), now.tilt_deg)]
    if read is not None and read.tilt_deg != now.tilt_deg:
        tilts.append((say("photos"), read.tilt_deg))
    elif read is None and now.tilt_deg != BY_HAND_DEG:
        tilts.append((say("usual"), BY_HAND_DEG))
    told = ""
    if read is not None:
        told = say(
            "Turned by {turned} the foil sends {share} of its flash: its facets are tilted by {tilt}.",
            turned=_deg(read.turned_deg),
            share=quantity(100 * read.turned.foil / read.flash.foil, ".0f", "%"),
            tilt=_deg(read.tilt_deg),
        )
    return FoilPage(
        tilt=_deg(now.tilt_deg),
        words=SOURCES[now.source],
        usual=now.source == "usual",
        plot=_plot(tilts),
        told=told,
        found="" if read is None else f"{read.tilt_deg:g}",
        turned_deg=f"{read.turned_deg if read else USUAL_TURN_DEG:g}",
        tilt_deg=f"{now.tilt_deg:g}",
        said=said,
    )


def _deg(value: float) -> str:
    return say("{value}°", value=quantity(value, "g"))


def _plot(tilts: Sequence[tuple[str, float]]) -> Plot:
    """How bright foil is, against how far it is turned."""
    lines = [(words, foil_photos.curve(tilt)) for words, tilt in tilts]
    top = max(value for _, line in lines for _, value in line)
    axes = Axes(0.0, lines[0][1][-1][0], top)
    return Plot(
        key="flash",
        title=say("How bright the foil is, in white paper's light, turned away from the flash"),
        words=say("brightest {times} times white paper", times=quantity(lines[0][1][0][1], ".1f")),
        curves=[Curve(words, axes.y(line[len(line) // 4][1]), axes.line(line)) for words, line in lines],
        x_ticks=[(axes.x(at), say("{at}°", at=at) if at == 40 else str(at)) for at in (0, 10, 20, 30, 40)],
        y_ticks=[(axes.y(float(at)), str(at)) for at in range(int(top) + 1)],
    )


def _answer(request: Request, store: Store, read: Read | None = None, said: str = "") -> Response:
    if is_fragment_wanted(request):
        return render("cards/foil_body.html", page=foil_page(store, read, said))
    if read is None:
        return RedirectResponse("/foil", 303)
    return _whole(request, store, read)  # what was read is kept nowhere else


def _whole(request: Request, store: Store, read: Read | None = None) -> Response:
    return render("cards/foil.html", page=foil_page(store, read), frame=frame(request, store, "test-cards"))


@router.get("/foil")
def show(request: Request, store: OpenStore) -> Response:
    """How this bench's foil lies."""
    return _whole(request, store)


@router.post("/foil/photos")
def read_photos(
    request: Request, store: OpenStore, flash: Upload, turned: Upload, turned_deg: Text = "", surface: Text = "bare"
) -> Response:
    """Read two photos of foil; nothing is changed yet."""
    found = foil_photos.read(flash.file.read(), turned.file.read(), turned_deg=turned_deg, cleared=surface == "cleared")
    return _answer(request, store, found)


@router.post("/foil/camera")
def camera(request: Request, store: OpenStore, devices: AtBench, turned_deg: Text = "") -> Response:
    """The simulated camera takes both."""
    first, second = foil_photos.take_photos(devices, turned_deg)
    return _answer(request, store, foil_photos.read(first, second, turned_deg=turned_deg, cleared=False))


@router.post("/foil/take")
def take(request: Request, store: OpenStore, tilt_deg: Text = "", photographed: Text = "") -> Response:
    """Foil lies like that from now on."""
    foil_photos.take(store, tilt_deg, photographed=photographed == "yes")
    return _answer(request, store, said=say("In use: foil laid by hand is shown like this from now on."))


@router.post("/foil/forget")
def forget(request: Request, store: OpenStore) -> Response:
    """The usual foil again."""
    foil_photos.forget(store)
    return _answer(request, store, said=say("Foil is as usual again."))
