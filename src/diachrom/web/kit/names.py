"""What this server is called: on its machine, on the network, and behind a proxy that speaks for it."""

from collections.abc import Callable
from dataclasses import dataclass
from ipaddress import IPv6Address, ip_address, ip_network
from urllib.parse import urlsplit

from starlette.datastructures import Headers
from starlette.types import Scope

LOOPBACK = ("127.0.0.1", "localhost", "[::1]")
FORWARDED = ("forwarded", "x-forwarded-for", "x-forwarded-host", "x-forwarded-proto", "x-real-ip")


def name_of(host: str) -> str:
    """A Host header without its port."""
    name, _, port = host.rpartition(":")
    return (name if name and port.isdigit() else host).lower()


@dataclass
class Names:
    set_address: Callable[[], str]  # as it is set now, such as that of a proxy; "" while there is none
    network: str = ""  # the address on the network while it is shared, with scheme and port

    @property
    def public(self) -> str:
        """The address that is set for others, "" where none is."""
        return self.set_address()

    @property
    def _schemes(self) -> dict[str, str]:
        """Schemes by name and port of the addresses that it has beside loopback."""
        return {urlsplit(one).netloc: urlsplit(one).scheme for one in (self.network, self.public) if one}

    @property
    def hosts(self) -> tuple[str, ...]:
        """The names by which it is asked for."""
        return (*LOOPBACK, *map(name_of, self._schemes))

    def is_own(self, origin: str, host: str) -> bool:
        """Whether an origin is one of this server's own pages, asked at this host: a proxy may have put another host in
        place of the one that was asked for."""
        if origin and origin == self.public:
            return True
        if origin in (f"http://{host}", f"https://{host}"):
            return self._schemes.get(host, "http") == urlsplit(origin).scheme
        return False

    def address(self, own: str) -> str:
        """What others reach this server by; ends in a slash."""
        return f"{(self.public or self.network or own).rstrip('/')}/"

    def source(self, scope: Scope, headers: Headers) -> str:
        """Where a request is from, as far as it can be told: a network of IPv6 counts as one place. Behind a proxy it
        is what the proxy says last, which nobody else can have written."""
        client = str((scope.get("client") or ("",))[0])
        if self.public and in_at_loopback(scope):
            client = headers.get("x-forwarded-for", "").rpartition(",")[2].strip()[:60] or client
        try:
            own = ip_address(client)
        except ValueError:
            return client
        return str(ip_network((own, 64), strict=False)) if isinstance(own, IPv6Address) else client


def in_at_loopback(scope: Scope) -> bool:
    """It came in by the socket that only this machine reaches."""
    return str((scope.get("server") or ("",))[0]) == "127.0.0.1"


def by_own_hand(scope: Scope, headers: Headers) -> bool:
    """Whether it came in at the machine itself, and nothing says that somebody else handed it on."""
    named = name_of(headers.get("host", "")) in LOOPBACK
    return in_at_loopback(scope) and named and not any(one in headers for one in FORWARDED)
