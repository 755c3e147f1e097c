"""The Match page: a target, how it is matched, and the mixes that come nearest, each best at something."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.film.kinds import KINDS
from diachrom.core.film.surface import SURFACES, surface_of
from diachrom.core.mix.layers import COATS_UM
from diachrom.core.mix.prediction import ANGLES_DEG
from diachrom.errors import InvalidInput
from diachrom.web.kit import choices
from diachrom.web.kit.answers import go
from diachrom.web.kit.choices import Choice, Group
from diachrom.web.kit.dependencies import AtBench, Background, FormRowId, GivenForm, OpenStore, Text
from diachrom.web.kit.devices import DevicePanel, chosen_reader, reader_panel
from diachrom.web.kit.formatting import SIZES
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.target_view import TargetView, target_view
from diachrom.web.match.view import NOTHING_FOUND, FoundPage, found_page
from diachrom.words import listed, quantity, say
from diachrom.work.kit.figures import figure, whole
from diachrom.work.kit.opened import Store
from diachrom.work.kit.tasks import Tasks
from diachrom.work.match import searching, targets
from diachrom.work.match.settings import Settings
from diachrom.work.mix.sprayed_over import called, offered
from diachrom.work.pour import aim_at_cup, let_downs
from diachrom.work.profiles import substitutes
from diachrom.work.shelf import shelf_index

router = APIRouter(include_in_schema=False)
ANGLE_WORDS = {15.0: say("the flash"), 45.0: say("face on"), 110.0: say("the flop")}
HOW_CLOSE = [
    Choice("last-shade", say("to the last shade")),
    Choice("side-by-side", say("side by side")),
    Choice("arms-length", say("at arm's length")),
]
SEEN_AT = [
    Choice("", say("from all around")),
    *(Choice(f"{angle:g}", listed(filter(None, (f"{angle:g}°", ANGLE_WORDS.get(angle))))) for angle in ANGLES_DEG),
]


@dataclass(frozen=True)
class MatchPage:
    target: TargetView | None
    targets: Sequence[TargetView]
    settings: Settings
    dilution: str
    grounds: Sequence[Group]
    thicknesses: Sequence[tuple[float, str]]
    seen_at: Sequence[Choice]
    recipes: Sequence[Choice]
    paints: Sequence[Choice]
    found: FoundPage
    device: DevicePanel
    how_close: Sequence[Choice] = field(default_factory=lambda: HOW_CLOSE)
    surfaces: Mapping[str, str] = field(default_factory=lambda: SURFACES)
    angles: Sequence[float] = ANGLES_DEG  # that the tilt goes through


def _found(store: Store, tasks: Tasks) -> FoundPage:
    task = searching.start(tasks)
    return found_page(store, task) if task else NOTHING_FOUND


@router.get("/match")
def show(request: Request, store: OpenStore, tasks: Background, devices: AtBench) -> Response:
    """Match: targets, and how one is brought."""
    target, settings = targets.active_target(store)
    recipes = offered(store)
    # Those with a colour that stand on the shelf, by name.
    rows = shelf_index.index(store).rows
    names = {row.bottle.paint_id: row.bottle.full_name for row in rows if KINDS[row.bottle.kind].colours}
    page = MatchPage(
        target=target_view(store, target) if target else None,
        targets=[target_view(store, one) for one in targets.latest(store)],
        settings=settings,
        dilution=quantity(100 * settings.dilution, "g"),
        grounds=[choices.grounds(), choices.recipe_grounds(recipes)],
        thicknesses=[(um, SIZES[key]) for key, um in COATS_UM.items()],
        seen_at=SEEN_AT,
        recipes=[Choice(str(version.recipe), called(version)) for version in recipes],
        paints=[Choice(key, name) for key, name in sorted(names.items(), key=lambda item: item[1].casefold())],
        found=_found(store, tasks),
        device=reader_panel(devices, chosen_reader(request, devices)),
    )
    return render("match/page.html", page=page, frame=frame(request, store, "match"))


@router.get("/match/found")
def found(store: OpenStore, tasks: Background) -> Response:
    """How far the search is, and what it has found."""
    return render("match/changed.html", found=_found(store, tasks))


@router.post("/match/stop")
def stop(request: Request, store: OpenStore, tasks: Background) -> Response:
    """Stop the search; what was found stays."""
    task = searching.stop(tasks)
    return go(request, "/match") if task is None else render("match/changed.html", found=found_page(store, task))


@router.post("/match/settings")
def settings(request: Request, store: OpenStore, tasks: Background, given: GivenForm) -> Response:
    """Change what it is matched over, with how many bottles and drops."""
    targets.set_up(store, lambda old: _as_given(old, given))
    if is_fragment_wanted(request):
        return render("match/changed.html", found=_found(store, tasks))
    return go(request, "/match")


def _as_given(old: Settings, given: Mapping[str, str]) -> Settings:
    """What the form says; the rest stays. Raises InvalidInput."""
    clear_coat, satin = surface_of(given.get("surface", old.surface))

    def whole_of(key: str, words: str, now: int) -> int:
        return whole(given.get(key, str(now)), words, key=key)

    dilution = figure(given.get("dilution", quantity(100 * old.dilution, "g")), say("Thinned, %"), key="dilution")
    return replace(
        old,
        ground=given.get("ground", old.ground)[:80],
        film_um=figure(given.get("film_um", str(old.film_um)), "A coat, µm", key="film_um"),
        coats=whole_of("coats", "Coats", old.coats),
        clear_coat=clear_coat,
        satin=satin,
        max_paints=whole_of("max_paints", "Bottles", old.max_paints),
        max_drops=whole_of("max_drops", "Drops", old.max_drops),
        open_first=given.get("open_first", "true" if old.open_first else "false") == "true",
        closeness=given.get("closeness", old.closeness),
        special=given.get("special", "true" if old.special else "false") == "true",
        dilution=dilution / 100,
        needed_ml=figure(given.get("needed_ml", f"{old.needed_ml:g}"), say("For, ml"), key="needed_ml"),
    )


@router.post("/match/leave-out")
def leave_out(request: Request, store: OpenStore, tasks: Background, bottle: FormRowId) -> Response:
    """Leave a bottle out, or let it in again."""
    targets.leave_out(store, bottle)
    if is_fragment_wanted(request):
        return render("match/changed.html", found=_found(store, tasks))
    return go(request, "/match")


@router.post("/match/keep-in")
def keep_in(request: Request, store: OpenStore, tasks: Background, bottle: FormRowId) -> Response:
    """Keep a bottle in, or let it go."""
    targets.keep_in(store, bottle)
    if is_fragment_wanted(request):
        return render("match/changed.html", found=_found(store, tasks))
    return go(request, "/match")


@router.post("/match/pour")
def pour(request: Request, store: OpenStore, parts: Text) -> Response:
    """Pour a mix that was found into the cup."""
    aim_at_cup.into_cup(store, substitutes.read_key(parts), at=clock.now())
    return go(request, "/mix")


@router.post("/match/let-down")
def let_down(request: Request, store: OpenStore, first: Text, parts: Text = "") -> Response:
    """Make first cups, keep them as bottles, and pour the mix in drops of them."""
    cups = []
    for one in first.split("-")[:4]:
        own, _, used = one.partition("*")
        if not used.isdecimal() or len(used) > 3:
            raise InvalidInput(say("This let-down cannot be read: match again."), field="first")
        cups.append((substitutes.read_key(own.replace("+", "-")), int(used)))
    let_downs.make(store, cups, substitutes.read_key(parts) if parts else (), at=clock.now())
    return go(request, "/mix")
