"""Colours as codes: #rrggbb, rgb(), the names of style sheets. What painters call a colour is found elsewhere."""

import re

from PIL import ImageColor

LONGEST = 60  # characters of a code
HEX = re.compile(r"#?(?:[0-9a-f]{6}|[0-9a-f]{3})|#[0-9a-f]{8}", re.I)
TRIPLE = re.compile(
    r"(?:rgba?\s*\()?\s*(\d{1,3})\s*[,; ]\s*(\d{1,3})\s*[,; ]\s*(\d{1,3})\s*(?:[,/]\s*[\d.]+%?)?\s*\)?", re.I
)


def of_parts(parts: tuple[str, str, str]) -> str:
    """#rrggbb of red, green and blue, 0 to 255; "" where one is none."""
    values = [int(one) if one.isdecimal() and len(one) < 4 else 256 for one in map(str.strip, parts)]
    return "#" + bytes(values).hex() if max(values) < 256 else ""


def code(text: str) -> str:
    """#rrggbb of a code, "" of what is none."""
    plain = text.strip()
    if len(plain) > LONGEST:
        return ""
    if HEX.fullmatch(plain) and (plain.startswith("#") or len(plain) == 6):
        digits = plain.removeprefix("#").lower()
        return "#" + ("".join(2 * one for one in digits) if len(digits) == 3 else digits[:6])
    parts = TRIPLE.fullmatch(plain)
    if parts is not None:
        return of_parts(parts.groups())  # type: ignore[arg-type]
    if re.fullmatch(r"(?:hsl|hsv)\([\d\s,.%]{5,30}\)", plain, re.I):
        try:
            return "#" + bytes(ImageColor.getrgb(plain)[:3]).hex()
        except ValueError:
            return ""
    return ""


def of_style_sheet(text: str) -> str:
    """#rrggbb of a name that style sheets know, "" of others."""
    known = ImageColor.colormap.get(text.strip().casefold())
    return known if isinstance(known, str) else ""


def is_code(text: str) -> bool:
    """Whether it is a code, and no figure that happens to have six digits."""
    plain = text.strip()
    return bool(code(plain)) and not (plain.isdecimal() and not plain.startswith("#"))
