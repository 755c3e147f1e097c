"""The size of a drop: count, weigh, and see how many are enough."""

from collections.abc import Sequence
from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.units import ML
from diachrom.web.kit.answers import go
from diachrom.web.kit.dependencies import AtBench, FormRowId, OpenStore, RowId, Text
from diachrom.web.kit.devices import DevicePanel, scale_panel
from diachrom.web.kit.formatting import day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.words import quantity, say, say_count
from diachrom.work.kit.devices import SCALE, Devices
from diachrom.work.kit.figures import figure, whole
from diachrom.work.kit.opened import Store
from diachrom.work.shelf import droppers
from diachrom.work.shelf.droppers import DropsSeen

router = APIRouter(include_in_schema=False)


@dataclass(frozen=True)
class WeighingView:
    id: int
    drops: int
    detail: str
    each: str
    counts: bool


@dataclass(frozen=True)
class DropsPage:
    bottle: int
    name: str
    now_ul: str
    density: str
    mean_ul: str | None
    spread: str
    sure: str
    enough: str
    weighings: Sequence[WeighingView]
    device: DevicePanel
    said: str


def drops_page(seen: DropsSeen, device: DevicePanel, said: str = "") -> DropsPage:
    """How large a bottle's drop is, by what was counted and weighed."""
    drop_volume = seen.volume
    usual = " " + say("(usual for its kind)") if seen.density_is_usual else ""
    enough = ""
    if drop_volume:
        enough = (
            say(
                "{drops} counted: enough to be sure within 3 %.",
                drops=say_count(drop_volume.drops, "{count} drop", "{count} drops"),
            )
            if drop_volume.more_drops == 0
            else say(
                "{drops} would make it sure within 3 %.",
                drops=say_count(drop_volume.more_drops, "{count} more drop", "{count} more drops"),
            )
        )
    return DropsPage(
        bottle=seen.bottle.id,
        name=seen.bottle.full_name,
        now_ul=quantity(1000 * seen.bottle.drop_ml, ".1f"),
        density=say("{density} g/ml{usual}", density=quantity(seen.density, ".2f"), usual=usual),
        mean_ul=quantity(1000 * drop_volume.mean_ml, ".1f", "µl") if drop_volume else None,
        spread=say(
            "one drop from the next: ± {mean_ml} %",
            mean_ml=quantity(100 * drop_volume.spread_ml / drop_volume.mean_ml, ".0f"),
        )
        if drop_volume
        else "",
        sure=say(
            "the mean is sure within ± {sure_ml} µl, {mean_ml} %",
            sure_ml=quantity(1000 * drop_volume.sure_ml, ".1f"),
            mean_ml=quantity(100 * drop_volume.sure_ml / drop_volume.mean_ml, ".0f"),
        )
        if drop_volume
        else "",
        enough=enough,
        weighings=[
            WeighingView(
                row.id,
                row.drops,
                f"{day(row.at)} · {row.source}",
                say("{drops} µl each", drops=quantity(1000 * row.ml / row.drops, ".1f")),
                row.counts,
            )
            for row in seen.weighings
        ],
        device=device,
        said=said,
    )


def _answer(request: Request, store: Store, devices: Devices, bottle: int, said: str = "") -> Response:
    if not is_fragment_wanted(request):
        return go(request, f"/bottles/{bottle}/drops")
    return render("shelf/drops_body.html", page=drops_page(droppers.see(store, bottle), scale_panel(devices), said))


@router.get("/bottles/{bottle}/drops")
def show(request: Request, store: OpenStore, devices: AtBench, bottle: RowId) -> Response:
    """Measure a bottle's drop."""
    page = drops_page(droppers.see(store, bottle), scale_panel(devices))
    return render("shelf/drops.html", page=page, frame=frame(request, store, "shelf"))


@router.post("/bottles/{bottle}/drops/by-hand")
def by_hand(
    request: Request,
    store: OpenStore,
    devices: AtBench,
    bottle: RowId,
    drops: Text = "",
    grams: Text = "",
    ml: Text = "",
) -> Response:
    """Enter drops that were counted by hand."""
    droppers.add(
        store,
        bottle,
        drops=whole(drops, say("Drops"), key="drops"),
        grams=figure(grams, say("Grams"), key="grams") if grams.strip() else None,
        ml=figure(ml, say("Millilitres"), key="ml", units=ML) if ml.strip() else None,
        at=clock.now(),
    )
    return _answer(request, store, devices, bottle)


@router.post("/bottles/{bottle}/drops/drip")
def drip(request: Request, store: OpenStore, devices: AtBench, bottle: RowId, drops: Text = "") -> Response:
    """Let drops fall onto a simulated scale."""
    fell = whole(drops, say("Drops"), key="drops")
    droppers.drip(store, bottle, devices, SCALE, fell)
    return _answer(
        request,
        store,
        devices,
        bottle,
        say("{drops} on the pan.", drops=say_count(fell, "{count} drop", "{count} drops")),
    )


@router.post("/bottles/{bottle}/drops/weigh")
def weigh(request: Request, store: OpenStore, devices: AtBench, bottle: RowId, drops: Text = "") -> Response:
    """Weigh the drops that fell."""
    droppers.weigh(store, bottle, devices, SCALE, drops=whole(drops, say("Drops"), key="drops"), at=clock.now())
    return _answer(request, store, devices, bottle, say("Weighed; the scale is back at zero."))


@router.post("/bottles/{bottle}/drops/aside")
def aside(request: Request, store: OpenStore, devices: AtBench, bottle: RowId, weighing: FormRowId) -> Response:
    """Set a count aside, or let it count again."""
    droppers.set_aside(store, bottle, weighing)
    return _answer(request, store, devices, bottle)


@router.post("/bottles/{bottle}/drops/accept")
def accept(request: Request, store: OpenStore, bottle: RowId) -> Response:
    """Take the drop that was measured."""
    droppers.accept(store, bottle, at=clock.now())
    return go(request, f"/bottles/{bottle}")
