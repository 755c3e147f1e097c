"""Where targets come from: typed, a file, a recipe, a paint, the reader, a photo."""

from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Depends, Form, Query, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.film.surface import SURFACES, surface_of
from diachrom.core.mix.prediction import check_angles
from diachrom.store.targets import SeenAs
from diachrom.web.kit import choices
from diachrom.web.kit.answers import go
from diachrom.web.kit.dependencies import AtBench, FormRowId, OpenStore, RowId, Text, Upload
from diachrom.web.kit.devices import chosen_reader
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.photos import GreyPatch, PhotoPage, PickedSpot
from diachrom.web.kit.spectral_file import BroughtFile
from diachrom.web.kit.target_view import target_view
from diachrom.web.match.routes import SEEN_AT
from diachrom.words import say
from diachrom.work.kit import photo_picks
from diachrom.work.kit.figures import figure
from diachrom.work.match import own_targets, targets

router = APIRouter(include_in_schema=False)
Within = Annotated[int | None, Query(ge=0, le=20_000)]


def _seen(on: Text = "", under: Text = "", seen_at: Text = "") -> SeenAs:
    """On what, under what, at which angle: what is left empty is not known."""
    angle = None if not seen_at.strip() else figure(seen_at, say("Seen at"))
    if angle is not None:
        check_angles([angle])
    clear_coat, satin = (None, False) if under not in SURFACES else surface_of(under)
    return SeenAs(on[:80] or None, clear_coat, satin, (angle,))


GivenSeenAs = Annotated[SeenAs, Depends(_seen)]


@router.post("/match/target")
def typed(request: Request, store: OpenStore, seen: GivenSeenAs, typed: Text = "", name: Text = "") -> Response:
    """A target as typed: a hex colour, Lab, or a colour's name."""
    targets.typed(store, typed[:60], name[:80], seen, at=clock.now())
    return go(request, "/match")


@router.post("/match/example")
def from_example(request: Request, store: OpenStore, example: Text) -> Response:
    """A target from the examples."""
    targets.from_example(store, example, at=clock.now())
    return go(request, "/match")


@router.post("/match/file")
def from_file(request: Request, store: OpenStore, seen: GivenSeenAs, brought: BroughtFile, name: Text = "") -> Response:
    """A target from a spectrum in a file."""
    targets.from_sample(store, brought.sample, name, seen, at=clock.now())
    return go(request, "/match")


@router.post("/match/recipe")
def from_recipe(request: Request, store: OpenStore, recipe: FormRowId) -> Response:
    """A recipe's own look as the target."""
    own_targets.from_recipe(store, recipe, at=clock.now())
    return go(request, "/match")


@router.post("/match/paint")
def from_paint(request: Request, store: OpenStore, paint: Text) -> Response:
    """A paint's own look as the target."""
    own_targets.from_paint(store, paint, at=clock.now())
    return go(request, "/match")


@router.post("/match/choose")
def choose(request: Request, store: OpenStore, target: FormRowId) -> Response:
    """Take a target that is kept."""
    targets.choose(store, target)
    return go(request, "/match")


@router.post("/match/away")
def away(request: Request, store: OpenStore, target: FormRowId) -> Response:
    """Take a target away."""
    targets.take_away(store, target)
    return go(request, "/match")


@router.post("/match/read")
def read(request: Request, store: OpenStore, devices: AtBench, recipe: FormRowId) -> Response:
    """A target read with a device."""
    targets.read_bait(store, devices, chosen_reader(request, devices), recipe, at=clock.now())
    return go(request, "/match")


@router.post("/match/photo")
def photo(request: Request, store: OpenStore, file: Upload) -> Response:
    """Bring a photo to touch a colour in."""
    return go(
        request, f"/match/photo/{photo_picks.keep(store, file.filename or 'photo', file.file.read(), at=clock.now())}"
    )


@router.get("/match/photo/{photo}")
def show_photo(
    request: Request,
    store: OpenStore,
    photo: RowId,
    grey_x: Within = None,
    grey_y: Within = None,
    no_grey: bool = False,
    grey_percent: Annotated[str, Query(max_length=20)] = "18",
    radius: Annotated[int, Query(ge=1, le=200)] = 12,
) -> Response:
    """A photo, to be touched where the grey patch and the colour are."""
    kept = photo_picks.photo(store, photo)
    own = [target for target in targets.latest(store, 8) if target.source.startswith(f"the photo {kept.name}")]
    page = PhotoPage(
        photo,
        kept.name,
        kept.width,
        kept.height,
        action=f"/match/photo/{photo}",
        field="",
        title=say("colours from the photo"),
        back="/match",
        palette=[target_view(store, one) for one in reversed(own)],  # as they were picked
        grounds=[choices.grounds()],
        seen_at=SEEN_AT,
        grey=None if grey_x is None or grey_y is None else (grey_x, grey_y),
        bare=no_grey,
        grey_percent=grey_percent,
        radius=radius,
    )
    return render("kit/photo.html", page=page, frame=frame(request, store, "match"))


@router.post("/match/photo/{photo}")
def pick(
    request: Request,
    store: OpenStore,
    photo: RowId,
    spot: PickedSpot,
    grey: GreyPatch,
    seen: GivenSeenAs,
    name: Text = "",
    grey_percent: Text = "18",
    radius: Annotated[int, Form()] = 12,
) -> Response:
    """The grey patch stays what it is and where it is: the next colour of the same photo is one touch away."""
    targets.from_photo(store, spot, name, photo_picks.photo(store, photo).name, seen, at=clock.now())
    patch = {"no_grey": "true"} if grey is None else {"grey_x": grey[0], "grey_y": grey[1]}
    stays = urlencode({**patch, "grey_percent": grey_percent[:20], "radius": radius})
    return go(request, f"/match/photo/{photo}?{stays}")
