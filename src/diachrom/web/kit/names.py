"""What this server is called: on its machine, on the network, and behind a proxy that speaks for it."""

from dataclasses import dataclass
from urllib.parse import urlsplit

from starlette.datastructures import Headers
from starlette.types import Scope

LOOPBACK = ("127.0.0.1", "localhost", "[::1]")
FORWARDED = ("forwarded", "x-forwarded-for", "x-forwarded-host", "x-forwarded-proto")


def name_of(host: str) -> str:
    """A Host header without its port."""
    name, _, port = host.rpartition(":")
    return (name if name and port.isdigit() else host).lower()


@dataclass
class Names:
    network: str = ""  # the address on the network while it is shared, with scheme and port
    public: str = ""  # an address that was set, such as that of a proxy

    @property
    def hosts(self) -> tuple[str, ...]:
        told = (urlsplit(one).netloc for one in (self.network, self.public) if one)
        return (*LOOPBACK, *(name_of(one) for one in told))

    def is_own(self, origin: str, host: str) -> bool:
        """Whether an origin is one of this server's own pages, asked at this host."""
        if origin in (f"http://{host}", f"https://{host}"):
            scheme = urlsplit(origin).scheme
            told = {urlsplit(one).netloc: urlsplit(one).scheme for one in (self.network, self.public) if one}
            return told.get(host, "http") == scheme
        return False

    def address(self, own: str) -> str:
        """What others reach this server by; ends in a slash."""
        return f"{(self.public or self.network or own).rstrip('/')}/"


def at_machine(scope: Scope, headers: Headers) -> bool:
    """Whether it came in at the machine itself, by nobody else's hand."""
    server = scope.get("server") or ("", 0)
    return (
        server[0] == "127.0.0.1"
        and name_of(headers.get("host", "")) in LOOPBACK
        and not any(one in headers for one in FORWARDED)
    )
