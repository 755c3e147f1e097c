"""How a bench reads figures and days: kept in its folder, metric with a point unless somebody says otherwise."""

import re
import sqlite3
from collections.abc import Mapping
from dataclasses import asdict, dataclass, fields
from urllib.parse import urlsplit

from diachrom.errors import InvalidInput
from diachrom.instruments.serial_scale import SPEEDS
from diachrom.store import settings
from diachrom.store.connection import writing
from diachrom.words import PLAIN, Reader, say

LANGUAGES = {"en": "English", "de": "Deutsch"}
COMMA = ("de",)  # where decimals are written with a comma
CHOICES = {
    "language": {"": say("as the browser asks for it"), **LANGUAGES},
    "units": {"metric": say("metric: ml, µm, bar, °C"), "imperial": say("imperial: fl oz, mil, psi, °F")},
    "decimals": {"": say("as in the language"), "point": say("a point: 0.61"), "comma": say("a comma: 0,61")},
    "codes": {"address": say("the address of the page"), "number": say("the number alone")},
    "days": {
        "day": say("day first: 2 September 2026"),
        "month": say("month first: September 2, 2026"),
        "year": "2026-09-02",
    },
    "simulated": {"no": say("not shown"), "yes": say("shown")},
    "scale_speed": {str(one): str(one) for one in SPEEDS},
}

PORT = re.compile(r"(?:/[\w./:+-]{1,160}|COM\d{1,3})?")
CURRENCY = re.compile(r"[^\W\d_]{0,3}\.?[$€£¥]?|[\u20a0-\u20cf]", re.UNICODE)  # "€", "kr", "CHF", "US$"


@dataclass(frozen=True)
class BenchSettings:
    """One of CHOICES each, the address by which others reach this bench, "" for the machine's own, and its currency."""

    units: str = "metric"
    language: str = ""
    decimals: str = ""
    days: str = "day"
    codes: str = "address"
    address: str = ""
    currency: str = ""  # as prices are written; "" where nobody said
    simulated: str = "no"  # devices that only pretend to measure are offered
    scale_speed: str = "9600"  # baud
    scale_port: str = ""  # the serial line of the bench's scale, "" without one

    def reader(self, asked: str = "") -> Reader:
        """To whom pages are told; `asked` is what a browser asks for, as in Accept-Language."""
        language = self.language or _language_of(asked)
        reader = Reader(
            language="" if language == "en" else language,
            units=self.units,
            decimals=self.decimals or ("comma" if language in COMMA else "point"),
            days=self.days,
            currency=self.currency,
        )
        return PLAIN if reader == PLAIN else reader


def _language_of(asked: str) -> str:
    """The language of LANGUAGES that is asked for most; English where none of them is."""
    found = []
    for place, part in enumerate(asked[:400].split(",")):
        tag, _, weight = part.strip().partition(";q=")
        number = weight.strip() or "1"
        share = float(number) if re.fullmatch(r"[01](?:\.\d{0,3})?", number) else 0.0
        found.append((-share, place, tag.lower().partition("-")[0]))
    return next((tag for share, _, tag in sorted(found) if tag in LANGUAGES and share), "en")


def read(connection: sqlite3.Connection) -> BenchSettings:
    """What was chosen; what is none of the choices counts as never chosen."""
    kept = settings.every(connection)
    known = {one.name: kept.get(one.name, "") for one in fields(BenchSettings) if one.name in CHOICES}
    own = {key: value for key, value in known.items() if value in CHOICES[key]}
    currency = kept.get("currency", "")
    return BenchSettings(
        **own,
        address=_address(kept.get("address", "")) or "",
        currency=currency if CURRENCY.fullmatch(currency) else "",
        scale_port=kept.get("scale_port", "") if PORT.fullmatch(kept.get("scale_port", "")) else "",
    )


def _address(text: str) -> str | None:
    """An address as scheme, name and port; None for what is none."""
    if not text.strip():
        return ""
    try:
        parts = urlsplit(text.strip())
        told = parts.port
    except ValueError:
        return None
    plain = parts.scheme in ("http", "https") and parts.hostname and parts.path in ("", "/") and not parts.username
    if not plain or parts.query or parts.fragment or not re.fullmatch(r"[a-z0-9.-]+|[0-9a-f:]+", parts.hostname or ""):
        return None
    return f"{parts.scheme}://{parts.netloc.lower()}" if told is None or told else None


def change(connection: sqlite3.Connection, given: Mapping[str, str]) -> BenchSettings:
    """Choose some of them anew. Raises InvalidInput for what is none of the choices."""
    own = dict(given)
    if "address" in own:
        address = _address(own["address"])
        if address is None:
            raise InvalidInput(
                say(
                    "'{address}' is no address such as https://bench.example or http://192.0.2.5:8765.",
                    address=own["address"][:60],
                ),
                field="address",
            )
        own["address"] = address
    if not CURRENCY.fullmatch(own.get("currency", "").strip()):
        raise InvalidInput(
            say(
                "'{own}' is no currency: write a sign or up to three letters, such as €, kr or USD.",
                own=own["currency"][:20],
            ),
            field="currency",
        )
    if "currency" in own:
        own["currency"] = own["currency"].strip()
    if not PORT.fullmatch(own.get("scale_port", "").strip()):
        raise InvalidInput(
            say("'{port}' is no serial line, such as /dev/ttyUSB0 or COM3.", port=own["scale_port"][:40]),
            field="scale_port",
        )
    if "scale_port" in own:
        own["scale_port"] = own["scale_port"].strip()
    for key, value in own.items():
        if key not in ("address", "currency", "scale_port") and value not in CHOICES.get(key, {}):
            raise InvalidInput(say("{key}: there is no choice called '{value}'.", key=key, value=value[:40]), field=key)
    with writing(connection):
        settings.put(connection, {**asdict(read(connection)), **own})
    return read(connection)
