"""The devices at the bench as a page shows them: which, in what state, and what can be done with them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import JSONResponse, Response

from diachrom.errors import InstrumentError
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import AtBench, Text
from diachrom.web.kit.pages import render
from diachrom.words import listed, quantity, say
from diachrom.work.kit.devices import SCALE, Devices

router = APIRouter(include_in_schema=False)
READER_COOKIE = "reader"
SOON_S, LATER_S = 1, 10


@dataclass(frozen=True)
class DevicePanel:
    """A device with its state in words."""

    key: str
    words: str
    kind: str  # "reader", "scale" or "air"
    state: str
    choices: Sequence[Choice] = ()
    plugged: bool = True
    ready: bool = False
    shows: str = ""  # what a scale or a hygrometer shows now
    can_calibrate: bool = False
    ask_again_s: int | None = None
    simulated: bool = True
    missing: bool = False  # none is connected


def chosen_reader(request: Request, devices: Devices) -> str:
    """The reader that this browser chose last, or the first."""
    wanted = request.cookies.get(READER_COOKIE, "")
    return wanted if wanted in devices.readers else next(iter(devices.readers), wanted)


def shots(devices: Devices) -> list[Choice]:
    """The ways in which the bench's camera takes a photo."""
    return [Choice(key, words) for key, words in devices.camera.shots.items()]


def reader_panel(devices: Devices, key: str) -> DevicePanel:
    """A reader: whether it is plugged in, warm, calibrated."""
    if key not in devices.readers:
        return _missing(key, "reader", say("No colour reader is connected"))
    choices = [Choice(key, one.words) for key, one in devices.readers.items()]
    with devices.reader(key) as reader:
        panel = DevicePanel(key, reader.words, "reader", say("unplugged"), choices)
        if not reader.plugged:
            return replace(panel, plugged=False)
        try:
            now = reader.state()
        except InstrumentError as error:
            return replace(panel, state=str(error), ask_again_s=SOON_S)
    match now.state:
        case "warming":
            return replace(
                panel,
                state=say("warming up, {seconds} s to go", seconds=quantity(now.seconds, ".0f")),
                ask_again_s=SOON_S,
            )
        case "uncalibrated":
            return replace(panel, state=say("needs its white tile"), can_calibrate=True)
    minutes = max(1, round(now.seconds / 60))
    said = (
        say("ready; its tile holds {minutes} min more", minutes=minutes)
        if now.seconds > 60
        else say("ready; its tile is due in a minute")
    )
    return replace(panel, state=said, ready=True, can_calibrate=True, ask_again_s=LATER_S)


def scale_panel(devices: Devices, key: str = SCALE) -> DevicePanel:
    """A scale, with what lies on it."""
    if key not in devices.scales:
        return _missing(key, "scale", say("No scale is connected"))
    with devices.scale(key) as scale:
        panel = DevicePanel(key, scale.words, "scale", say("unplugged"), simulated=scale.simulated)
        if not scale.plugged:
            return replace(panel, plugged=False, ask_again_s=None if scale.simulated else LATER_S)
        try:
            grams, stable = scale.now()
        except InstrumentError as error:
            return replace(panel, state=str(error), can_calibrate=True, ask_again_s=SOON_S)
    said = say("stands still") if stable else say("settling")
    # A hand puts things on a real scale; on a simulated one only this program does.
    again = None if stable and scale.simulated else SOON_S
    shown = quantity(grams, ".2f", "g")
    return replace(panel, state=said, ready=stable, shows=shown, can_calibrate=True, ask_again_s=again)


def air_panel(devices: Devices, key: str = "air") -> DevicePanel:
    """The thermo-hygrometer, with its air."""
    if key not in devices.hygrometers:
        return _missing(key, "air", say("No thermo-hygrometer is connected"))
    with devices.hygrometer(key) as hygrometer:
        panel = DevicePanel(key, hygrometer.words, "air", say("unplugged"))
        if not hygrometer.plugged:
            return replace(panel, plugged=False)
        try:
            temperature, humidity = hygrometer.air()
        except InstrumentError as error:
            return replace(panel, state=str(error), ask_again_s=SOON_S)
    shown = listed([quantity(temperature, ".1f", "°C"), quantity(humidity, ".0f", "%")])
    return replace(panel, state=say("in the room"), ready=True, shows=shown, ask_again_s=LATER_S)


def _missing(key: str, kind: str, words: str) -> DevicePanel:
    return DevicePanel(key, words, kind, "", plugged=False, missing=True)


def _panel(devices: Devices, key: str) -> Response:
    if key in devices.scales:
        panel = scale_panel(devices, key)
    elif key in devices.hygrometers:
        panel = air_panel(devices, key)
    else:
        with devices.reader(key):  # raises for what is not there
            panel = reader_panel(devices, key)
    return render("kit/device.html", device=panel)


@router.get("/devices/scale/grams")
def grams(devices: AtBench) -> Response:
    """What lies on the scale once it stands still, for a field that asks for a weight."""
    with devices.scale(SCALE) as scale:
        return JSONResponse({"grams": round(scale.weigh(), 3)})


@router.get("/devices/{key}")
def show(devices: AtBench, key: str) -> Response:
    """A device's panel as it is now."""
    return _panel(devices, key)


@router.post("/devices/choose")
def choose(devices: AtBench, key: Text) -> Response:
    """Choose another reader."""
    answer = _panel(devices, key)
    answer.set_cookie(READER_COOKIE, key, max_age=31_536_000, samesite="strict", httponly=True)
    return answer


@router.post("/devices/plug")
def plug(devices: AtBench, key: Text, plugged: Annotated[bool, Form()]) -> Response:
    """Plug a simulated device in, or pull its plug."""
    devices.plug(key, plugged=plugged)
    return _panel(devices, key)


@router.post("/devices/calibrate")
def calibrate(devices: AtBench, key: Text) -> Response:
    """A reader on its tile; a scale is tared."""
    if key in devices.scales:
        with devices.scale(key) as scale:
            scale.tare()
    else:
        with devices.reader(key) as reader:
            reader.calibrate()
    return _panel(devices, key)
