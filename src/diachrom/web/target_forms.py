"""Where targets come from: typed, a file, a recipe, a paint, the reader, a photo."""

from typing import Annotated

from fastapi import APIRouter, File, Form, Path, Request, UploadFile
from fastapi.responses import Response

from diachrom import clock
from diachrom.exchange.spectra import one_of, read_spectra
from diachrom.store import targets
from diachrom.web.answers import go
from diachrom.web.devices import chosen_reader
from diachrom.web.frame import frame
from diachrom.web.match import target_view
from diachrom.web.needs import AtBench, OpenStore
from diachrom.web.pages import render
from diachrom.web.photos import PhotoPage, PickedSpot
from diachrom.work import aiming, picking

router = APIRouter()
Number = Annotated[int, Path()]
Text = Annotated[str, Form()]


@router.post("/match/target")
def typed(request: Request, store: OpenStore, typed: Text = "", name: Text = "") -> Response:
    aiming.typed(store, typed[:60], name[:80], at=clock.now())
    return go(request, "/match")


@router.post("/match/file")
def from_file(
    request: Request, store: OpenStore, file: Annotated[UploadFile, File()], name: Text = "", sample: Text = ""
) -> Response:
    label = file.filename or "the file"
    aiming.from_sample(store, one_of(label, read_spectra(label, file.file.read()), sample), name, at=clock.now())
    return go(request, "/match")


@router.post("/match/recipe")
def from_recipe(request: Request, store: OpenStore, recipe: Annotated[int, Form()]) -> Response:
    aiming.from_recipe(store, recipe, at=clock.now())
    return go(request, "/match")


@router.post("/match/paint")
def from_paint(request: Request, store: OpenStore, paint: Text) -> Response:
    aiming.from_paint(store, paint, at=clock.now())
    return go(request, "/match")


@router.post("/match/choose")
def choose(request: Request, store: OpenStore, target: Annotated[int, Form(ge=0, le=2**53)]) -> Response:
    aiming.choose(store, target)
    return go(request, "/match")


@router.post("/match/away")
def away(request: Request, store: OpenStore, target: Annotated[int, Form(ge=0, le=2**53)]) -> Response:
    aiming.take_away(store, target)
    return go(request, "/match")


@router.post("/match/read")
def read(request: Request, store: OpenStore, devices: AtBench, recipe: Annotated[int, Form()]) -> Response:
    aiming.read_bait(store, devices, chosen_reader(request, devices), recipe, at=clock.now())
    return go(request, "/match")


@router.post("/match/photo")
def photo(request: Request, store: OpenStore, file: Annotated[UploadFile, File()]) -> Response:
    return go(
        request, f"/match/photo/{picking.keep(store, file.filename or 'photo', file.file.read(), at=clock.now())}"
    )


@router.get("/match/photo/{photo}")
def show_photo(request: Request, store: OpenStore, photo: Number) -> Response:
    kept = picking.photo(store, photo)
    own = [one for one in targets.latest(store, 8) if one.source.startswith(f"the photo {kept.name}")]
    page = PhotoPage(
        photo,
        kept.name,
        kept.width,
        kept.height,
        action=f"/match/photo/{photo}",
        field="",
        title="a colour of the fish",
        back="/match",
        palette=[target_view(one) for one in own],
    )
    return render("photo.html", page=page, frame=frame(request, store, "match"))


@router.post("/match/photo/{photo}")
def pick(request: Request, store: OpenStore, photo: Number, spot: PickedSpot, name: Text = "") -> Response:
    aiming.from_photo(store, spot, name, picking.photo(store, photo).name, at=clock.now())
    return go(request, f"/match/photo/{photo}")
