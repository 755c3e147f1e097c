"""Pictures of plans: what the page turns by itself, PNG and SVG, and what lies at a place."""

from typing import Annotated, Literal

from fastapi import APIRouter, Query, Request
from fastapi.responses import Response

from diachrom.web.kit.answers import file, packed
from diachrom.web.kit.dependencies import OpenStore, RowId
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.plan.card_view import card_of
from diachrom.web.plan.view import here_view, plan_page
from diachrom.words import current
from diachrom.work.plan import here, pictures, plans

router = APIRouter(include_in_schema=False)
Place = Annotated[float, Query(ge=0, le=1)]


@router.get("/plan/lights")
def lights(request: Request) -> Response:
    """What a browser needs of the lights to draw by itself."""
    return packed(request, pictures.lights(current().language), "application/json", cache="max-age=86400")


@router.get("/plan/masks/{kind}.png")
def mask(store: OpenStore, kind: str, stencil: str = "") -> Response:
    """A mask, drawn to be recognised by."""
    made = pictures.mask(store, kind, stencil[:80])
    return Response(made, media_type="image/png", headers={"Cache-Control": "max-age=3600"})


@router.get("/plan/{number}/skin")
def skin(request: Request, store: OpenStore, number: RowId, steps: int | None = None, rough: bool = False) -> Response:
    """A bait's skin for the browser: every cell in a few components."""
    made = pictures.skin(store, plans.now(store, number).plan, steps=steps, rough=rough)
    return packed(request, made, "application/octet-stream", cache="no-store")


@router.get("/plan/{number}/at")
def at(store: OpenStore, number: RowId, u: Place, v: Place, light: str = "D65") -> Response:
    """What lies at a place that was touched."""
    found = here.here(store, plans.now(store, number).plan, u, v, light_key=light[:40])
    return render("plan/here.html", here=here_view(found))


@router.get("/plan/{number}/picture.png")
def picture(
    store: OpenStore,
    number: RowId,
    side: str = "left",
    width: int = 600,
    light: str = "D65",
    version: int | None = None,
    steps: int | None = None,
    save: bool = False,
) -> Response:
    """A bait's picture."""
    plan = plans.now(store, number).plan if version is None else plans.version(store, number, version).document
    made = pictures.image(store, plan, side=side, width=width, light_key=light[:40], steps=steps)
    if save:
        return file(pictures.to_keep(plan, made, side), f"plan-{number}-{side}.png", "image/png")
    return Response(made, media_type="image/png", headers={"Cache-Control": "no-cache"})


@router.get("/plan/{number}/picture.svg")
def as_svg(store: OpenStore, number: RowId, side: str = "left") -> Response:
    """A bait's picture at its true size."""
    made = pictures.as_svg(store, plans.now(store, number).plan, side=side)
    return file(made, f"plan-{number}-{side}.svg", "image/svg+xml")


@router.get("/plan/{number}/card.{kind}")
def card(store: OpenStore, number: RowId, kind: Literal["png", "svg"]) -> Response:
    """A card to show: the bait, its name, its layers and their drops."""
    now = plans.now(store, number)
    made = pictures.shown(store, now.plan, card_of(plan_page(store, now)), as_svg=kind == "svg")
    return file(made, f"plan-{number}-card.{kind}", "image/png" if kind == "png" else "image/svg+xml")


@router.get("/plan/{number}/print")
def paper(request: Request, store: OpenStore, number: RowId, true_size: bool = False) -> Response:
    """A plan on one page, for the printer; at its true size if wanted, with a ruler."""
    now = plans.now(store, number)
    return render(
        "plan/paper.html",
        page=plan_page(store, now),
        length_mm=now.plan.blank.length_mm,
        nose_mm=pictures.true_mm(now.plan, "left")[1],
        true_size=true_size,
        frame=frame(request, store, "plan"),
    )
