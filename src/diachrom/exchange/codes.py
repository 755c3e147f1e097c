"""Codes read out of photos: the addresses, or the numbers, that labels and cards carry."""

from typing import Any

from diachrom.errors import BadFile
from diachrom.exchange import photos
from diachrom.exchange.sandbox import run_sandboxed
from diachrom.exchange.text import check_size
from diachrom.words import say

HALVES = 2  # of a photo: a code that is blurred is read where it is smaller


def read(name: str, content: bytes) -> list[str]:
    """What the codes in a photo say, each once, from top to bottom. Raises BadFile, Crowded."""
    check_size(name, len(content))
    return run_sandboxed(name, _read, content)


def texts(seen: Any) -> list[str]:
    """Of grey points (row, column), or RGB."""
    import zxingcpp  # takes a while, and few need it

    found = zxingcpp.read_barcodes(seen, formats=zxingcpp.BarcodeFormats([zxingcpp.BarcodeFormat.QRCode]))
    return [one.text for one in sorted(found, key=lambda one: (one.position.top_left.y, one.position.top_left.x))]


def _read(name: str, content: bytes) -> list[str]:
    import cv2

    _, _, png = photos.normalize_image(name, content)
    seen = cv2.cvtColor(photos.points_of(png), cv2.COLOR_RGB2GRAY)
    found: list[str] = []
    for _ in range(HALVES + 1):
        found += [one for one in texts(seen) if one and one not in found]
        seen = cv2.resize(seen, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    if not found:
        raise BadFile(name, say("no code can be read in it: come closer, straight from above, without glare."))
    return found
