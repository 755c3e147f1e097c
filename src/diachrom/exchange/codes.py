"""Codes read out of photos: the address, or the number, that a label or a card carries."""

from diachrom.errors import BadFile
from diachrom.exchange import photos
from diachrom.exchange.apart import apart
from diachrom.exchange.text import check_size

SIDES = (1400, 900, 600)  # a reader may miss a code at one size and find it at another


def read(name: str, content: bytes) -> str:
    """What the code in a photo says. Raises BadFile, Crowded."""
    check_size(name, len(content))
    return apart(name, _read, content)


def _read(name: str, content: bytes) -> str:
    import cv2  # takes a while, and few need it

    _, _, png = photos.made_fit(name, content)
    whole = cv2.cvtColor(photos.points_of(png), cv2.COLOR_RGB2GRAY)
    reader = cv2.QRCodeDetector()
    for side in SIDES:
        share = min(1.0, side / max(whole.shape))
        seen = cv2.resize(whole, None, fx=share, fy=share, interpolation=cv2.INTER_AREA)
        text, _, _ = reader.detectAndDecode(seen)
        if text:
            return str(text)
    raise BadFile(name, "there is no code in it that can be read: nearer, straight from above, without glare.")
