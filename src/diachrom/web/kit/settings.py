"""How this bench reads figures and days."""

from dataclasses import asdict
from datetime import date

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.core.mix.reducing import HANDS
from diachrom.core.shelf.bottle_list import srgb
from diachrom.errors import InvalidInput
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import GivenForm, OpenStore, Text, now_at
from diachrom.web.kit.devices import scale_panel
from diachrom.web.kit.frame import frame
from diachrom.web.kit.guard import at_machine
from diachrom.web.kit.pages import render
from diachrom.words import say, when
from diachrom.work.kit import airbrushes, bench_settings, colour_words, devices
from diachrom.work.kit.airbrushes import Airbrush
from diachrom.work.kit.bench_settings import CHOICES, BenchSettings
from diachrom.work.kit.figures import whole
from diachrom.work.kit.opened import Store

router = APIRouter(include_in_schema=False)
WORDS = {
    "language": say("Language"),
    "units": say("Units"),
    "decimals": say("Decimals are written with"),
    "days": say("Days are written"),
    "codes": say("Printed codes hold"),
}

DEVICES = ("scale_port", "scale_speed", "simulated")  # of this machine

EXAMPLE_DAY = when(date(2026, 9, 2))


def _page(request: Request, store: Store, chosen: BenchSettings, said: str = "", status: int = 200) -> Response:
    groups = [
        (key, words, [Choice(one, named) for one, named in CHOICES[key].items()], asdict(chosen)[key])
        for key, words in WORDS.items()
    ]
    brushes, in_hand = airbrushes.every(store)
    return render(
        "kit/settings.html",
        status=status,
        groups=groups,
        currency=chosen.currency,
        day=EXAMPLE_DAY,
        said=said,
        brushes=[*brushes, *([Airbrush()] if len(brushes) < airbrushes.MOST else [])],
        many=len(brushes),
        in_hand=in_hand,
        learned=[(phrase, srgb(lab)) for phrase, lab in sorted(colour_words.own(store).items())],
        hands=[Choice(key, words) for key, words in HANDS.items()],
        lines=devices.lines(),
        scale=scale_panel(now_at(request)),
        scale_port=chosen.scale_port,
        scale_speed=chosen.scale_speed,
        speeds=[Choice(key, words) for key, words in CHOICES["scale_speed"].items()],
        simulated=chosen.simulated,
        pretending=[Choice(key, words) for key, words in CHOICES["simulated"].items()],
        frame=frame(request, store, "settings"),
    )


@router.get("/settings")
def see(request: Request, store: OpenStore) -> Response:
    """The settings: units, decimals, days, codes, currency."""
    return _page(request, store, bench_settings.read(store))


@router.post("/settings")
def choose(request: Request, store: OpenStore, given: GivenForm) -> Response:
    """Change some of them."""
    own = {key: value for key, value in given.items() if key in WORDS or key == "currency"}
    chosen = bench_settings.change(store, own)
    return _page(request, store, chosen, say("Saved in this bench's folder; every page follows."))


@router.post("/settings/devices")
def connect(request: Request, store: OpenStore, given: GivenForm) -> Response:
    """Connect a scale, or let simulated devices be shown."""
    own = {key: value for key, value in given.items() if key in DEVICES}
    try:
        if not at_machine(request):
            raise InvalidInput(say("Devices are connected at the machine itself."), field="scale_port")
        chosen = bench_settings.change(store, own)
    except InvalidInput as error:
        return _page(request, store, bench_settings.read(store), str(error), 422)
    return _page(request, store, chosen, say("Saved for this machine."))


@router.post("/settings/forget")
def forget(request: Request, store: OpenStore, phrase: Text) -> Response:
    """Forget a learned word of a colour."""
    colour_words.forget(store, phrase)
    said = say("“{phrase}” is read by the dictionary again.", phrase=phrase[:40])
    return _page(request, store, bench_settings.read(store), said)


@router.post("/settings/airbrush")
def airbrush(request: Request, store: OpenStore, given: GivenForm) -> Response:
    """Say how an airbrush is used, take one into the hand, or remove it."""
    at = whole(given.get("airbrush", ""), say("Airbrush"), key="airbrush", most=airbrushes.MOST)
    chosen = bench_settings.read(store)
    try:
        match given.get("do", "save"):
            case "choose":
                airbrushes.choose(store, at)
            case "remove":
                airbrushes.remove(store, at)
            case _:
                airbrushes.save(store, at, given)
    except InvalidInput as error:
        return _page(request, store, chosen, str(error), 422)
    words = airbrushes.mine(store).words
    return _page(request, store, chosen, say("In the hand: {words}. New layers take it.", words=words))
