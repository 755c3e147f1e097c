"""What a workbook shows in its cells beside their values: the colours that they are filled with, and shares that are
shown as percent."""

import colorsys
import io
import zipfile
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from defusedxml import ElementTree

MOST_STYLED_BYTES = 6_000_000  # of sheets that are looked through for it: two seconds
THEME_ORDER = ("lt1", "dk1", "lt2", "dk2", "accent1", "accent2", "accent3", "accent4", "accent5", "accent6")
DRAWING = "{http://schemas.openxmlformats.org/drawingml/2006/main}"


@dataclass(frozen=True)
class Looks:
    """Of one sheet, by row (as the sheet counts them) and column (from 0)."""

    fills: dict[tuple[int, int], str] = field(default_factory=dict)  # #rrggbb
    percent: set[tuple[int, int]] = field(default_factory=set)


def looks(content: bytes) -> Mapping[str, Looks] | None:
    """Of each sheet of an XLSX that has any; nothing where no style fills a cell or shows percent, None where there is
    too much of it to be looked through."""
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        if "xl/styles.xml" not in archive.namelist():
            return {}
        styles = archive.read("xl/styles.xml")
        sheets = sum(one.file_size for one in archive.infolist() if one.filename.startswith("xl/worksheets/"))
    # Percent are the formats 9 and 10, and whatever names the sign.
    styled = any(sign in styles for sign in (b'"solid"', b"%", b'numFmtId="9"', b'numFmtId="10"'))
    if not styled:
        return {}
    if sheets > MOST_STYLED_BYTES:
        return None
    import openpyxl  # takes a while, and few need it

    book = openpyxl.load_workbook(io.BytesIO(content), read_only=True, data_only=True)
    theme = _theme(book.loaded_theme)
    found = {}
    for sheet in book.worksheets:
        own = Looks()
        for row in sheet.iter_rows():
            filled = {}
            for cell in row:
                if not hasattr(cell, "number_format") or cell.row is None:  # nothing is there
                    continue
                place = cell.row, cell.column - 1
                if "%" in cell.number_format:
                    own.percent.add(place)
                if cell.fill is not None and cell.fill.fill_type == "solid":
                    srgb = _srgb(cell.fill.fgColor, theme)
                    if srgb:
                        filled[place] = srgb
            # What fills several cells of a row marks the row.
            often = Counter(filled.values())
            own.fills.update({place: srgb for place, srgb in filled.items() if often[srgb] == 1})
        if own.fills or own.percent:
            found[sheet.title] = own
    return found


def _theme(xml: bytes | None) -> list[str]:
    if not xml:
        return []
    scheme = ElementTree.fromstring(xml).find(f".//{DRAWING}clrScheme")
    colours = {}
    for one in () if scheme is None else scheme:
        told = next(iter(one), None)
        if told is not None:
            colours[one.tag.removeprefix(DRAWING)] = told.get("lastClr") or told.get("val") or ""
    return [colours.get(key, "") for key in THEME_ORDER]


def _srgb(colour: Any, theme: list[str]) -> str:
    """#rrggbb, "" where it is none or white: white is paper."""
    from openpyxl.styles.colors import COLOR_INDEX

    digits, tint = "", float(colour.tint or 0.0)
    if colour.type == "rgb":
        digits = str(colour.rgb)[-6:]
    elif colour.type == "theme" and 0 <= colour.theme < len(theme):
        digits = theme[colour.theme]
    elif colour.type == "indexed" and 0 <= colour.indexed < len(COLOR_INDEX):
        digits = str(COLOR_INDEX[colour.indexed])[-6:]
    try:
        parts = [int(digits[at : at + 2], 16) / 255 for at in (0, 2, 4)]
    except ValueError:
        return ""
    if tint:
        hue, lightness, saturation = colorsys.rgb_to_hls(*parts)
        lightness = lightness * (1 + tint) if tint < 0 else lightness * (1 - tint) + tint
        parts = list(colorsys.hls_to_rgb(hue, lightness, saturation))
    srgb = "#" + bytes(round(255 * min(max(one, 0.0), 1.0)) for one in parts).hex()
    return "" if srgb == "#ffffff" else srgb
