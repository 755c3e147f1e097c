"""Who comes in from the network: shared or not, the passphrase, devices paired by a code and sent away, links, keys of
scripts."""

from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.errors import InvalidInput
from diachrom.store.access import Device
from diachrom.web.access.welcome import door_of, give_token, name_of
from diachrom.web.kit.dependencies import FormRowId, OpenStore, Text
from diachrom.web.kit.formatting import day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.guard import at_machine
from diachrom.web.kit.pages import render
from diachrom.web.kit.qr import qr
from diachrom.web.kit.sharing import Sharing
from diachrom.words import say
from diachrom.work.kit import bench_settings
from diachrom.work.kit.opened import Store

router = APIRouter(include_in_schema=False)
USUAL_PORT = 8765


@dataclass(frozen=True)
class DeviceView:
    device: Device
    since: str


@dataclass(frozen=True)
class AccessPage:
    locked: bool
    can_share: bool
    shared: str  # the address, "" while it is not
    fingerprint: str
    devices: list[DeviceView]
    code: str  # drawn
    code_address: str
    link: str  # a new one, to be copied
    keys: list[DeviceView]  # of scripts
    key: str  # a new one, to be copied
    address: str
    said: str


def _only_here(request: Request) -> None:
    if not at_machine(request):
        raise InvalidInput(
            say(
                "Only the machine itself decides who is let in: run 'diachrom open' there, and open the "
                "address it prints."
            ),
            field="device",
        )


def _page(request: Request, store: Store, *, code: str = "", link: str = "", key: str = "", said: str = "") -> Response:
    door, names = door_of(request), request.app.state.names
    sharing: Sharing | None = request.app.state.sharing
    shared = sharing.now if sharing is not None else None
    base = names.address(str(request.base_url))
    address = f"{base}pair/{code}" if code else ""
    known = [DeviceView(device, day(device.at)) for device in door.every()]
    page = AccessPage(
        locked=door.locked,
        can_share=sharing is not None,
        shared=shared.address if shared else "",
        fingerprint=shared.fingerprint if shared else "",
        devices=[one for one in known if not one.device.may],
        code=qr(address) if address else "",
        code_address=address,
        link=f"{base}guest/{link}" if link else "",
        keys=[one for one in known if one.device.may],
        key=key,
        address=bench_settings.read(store).address,
        said=said,
    )
    return render("access/page.html", page=page, frame=frame(request, store, "settings"))


@router.get("/access")
def see(request: Request, store: OpenStore) -> Response:
    """On the network: whether it is shared, which devices are let in, the address for others."""
    _only_here(request)
    return _page(request, store)


@router.post("/access/passphrase")
def set_passphrase(request: Request, store: OpenStore, passphrase: Text = "") -> Response:
    """Set what other devices sign in with; devices that were let in by another one are sent away."""
    _only_here(request)
    door_of(request).set_passphrase(passphrase)
    return _page(request, store, said=say("Saved. Devices paired with the old passphrase are signed out."))


@router.post("/access/share")
def share(
    request: Request,
    store: OpenStore,
    on: Text = "",
    secured: Text = "",
    port: Text = str(USUAL_PORT),
) -> Response:
    """Share the bench on the network, or end it."""
    _only_here(request)
    sharing: Sharing | None = request.app.state.sharing
    if sharing is None:
        raise InvalidInput(say("This server cannot be shared: start it with 'diachrom serve'."), field="share")
    sharing.end()
    request.app.state.names.network = ""
    if on:
        if not (port.isdecimal() and int(port[:6]) <= 65_535):
            raise InvalidInput(say("A port is a number up to 65535, not '{port}'.", port=port[:20]), field="port")
        begin_sharing(request.app.state, int(port), secured=bool(secured))
    return _page(request, store)


def begin_sharing(state: object, port: int, *, secured: bool) -> str:
    """Share a server's application; the address. Raises InvalidInput without a passphrase."""
    door, sharing, names = (getattr(state, one) for one in ("door", "sharing", "names"))
    if not door.locked:
        raise InvalidInput(
            say("Set a passphrase first: without one nobody can sign in from the network."), field="passphrase"
        )
    files, told = None, ""
    if secured:
        from diachrom.work.access import certificate  # takes a while, and few need it

        files = certificate.certificate(door.folder, sharing.host())
        told = certificate.fingerprint(files[0])
    shared = sharing.begin(port, files, told)
    names.network = shared.address
    return str(shared.address)


@router.post("/access/pair")
def show_code(request: Request, store: OpenStore) -> Response:
    """Show a code by which another device is let in, for five minutes."""
    _only_here(request)
    return _page(request, store, code=door_of(request).new_code())


@router.post("/access/key")
def make_key(request: Request, store: OpenStore, name: Text = "", may: Text = "") -> Response:
    """Make a key for a script, and show it this once."""
    _only_here(request)
    return _page(request, store, key=door_of(request).new_key(name, may, at=clock.now()))


@router.post("/access/away")
def send_away(request: Request, store: OpenStore, number: Annotated[int, Form(ge=0)]) -> Response:
    """Send a device or a key away, at once."""
    _only_here(request)
    door_of(request).send_away(number)
    return _page(request, store, said=say("Sent away."))


@router.post("/access/address")
def set_address(request: Request, store: OpenStore, address: Text = "") -> Response:
    """From here on a browser of this machine needs a token as well: this one is given it."""
    _only_here(request)
    door, names = door_of(request), request.app.state.names
    was_open = not names.public
    bench_settings.change(store, {"address": address})
    if not names.public or not was_open:
        return _page(request, store, said=say("Saved. Codes printed from now on use it."))
    token = door.pair_here(name_of(request), at=clock.now())
    answer = _page(
        request,
        store,
        said=say(
            "Saved. Codes printed from now on use it. This browser is let in as this machine's own; "
            "for another one run 'diachrom open'."
        ),
    )
    give_token(request, answer, token)
    return answer


@router.post("/access/link")
def make_link(request: Request, store: OpenStore, entry: FormRowId) -> Response:
    """A read-only link to a customer's page."""
    _only_here(request)
    return _page(request, store, link=door_of(request).link(entry, at=clock.now()))
