"""Palettes: named colours as GPL text and as ASE. Both keep a name and an sRGB colour, and nothing else."""

import io
import re
import struct
from collections.abc import Sequence

from diachrom.errors import BadFile
from diachrom.exchange import colour_lists
from diachrom.exchange.named import MOST_COLOURS, Named
from diachrom.exchange.sandbox import run_sandboxed
from diachrom.exchange.text import check_size, decoded
from diachrom.words import say

GPL = "GIMP Palette"  # the first line of such a file
ASE = b"ASEF"
COLOUR, GROUP, GROUP_END = 0x0001, 0xC001, 0xC002


def read_palette(name: str, content: bytes) -> list[Named]:
    """GPL, ASE, CSS, JSON or a list of hex colours, by what it is. Raises BadFile, Crowded."""
    check_size(name, len(content))
    return run_sandboxed(name, _read, content)


def _read(name: str, content: bytes) -> list[Named]:
    colours = _ase(name, content) if content.startswith(ASE) else _of_text(name, decoded(name, content)[0])
    if not colours:
        raise BadFile(name, say("it holds no colours."))
    if len(colours) > MOST_COLOURS:
        raise BadFile(
            name,
            say(
                "it holds {count} colours; at most {most_colours} are read.",
                count=len(colours),
                most_colours=MOST_COLOURS,
            ),
        )
    return colours


def _of_text(name: str, text: str) -> list[Named]:
    plain = text.lstrip()
    if plain.startswith(GPL):
        lines = io.StringIO(plain)
        if next(lines, "").strip() != GPL:
            raise BadFile(name, say("it does not begin with '{gpl}'.", gpl=GPL))
        colours: list[Named] = []
        for number, line in enumerate(lines, start=2):
            if len(colours) > MOST_COLOURS:
                raise BadFile(
                    name, say("it holds more than {most_colours} colours; no more are read.", most_colours=MOST_COLOURS)
                )
            if not line.strip() or line.startswith("#") or re.match(r"(Name|Columns|Channels)\s*:", line):
                continue
            parts = re.match(r"\s*(\d{1,3})\s+(\d{1,3})\s+(\d{1,3})(?:\s+(.*))?$", line)
            if parts is None or any(int(value) > 255 for value in parts.groups()[:3]):
                raise BadFile(
                    name, say("row {number}: '{given}' is no colour.", number=number, given=line.strip()[:40])
                )
            srgb = "#" + bytes(int(value) for value in parts.groups()[:3]).hex()
            colours.append(Named((parts[4] or srgb).strip(), srgb))
        return colours
    if plain.startswith(("{", "[")):
        return colour_lists.read_json(name, text)
    return colour_lists.read_css(name, text) if colour_lists.is_css(text) else colour_lists.read_list(name, text)


def is_palette(content: bytes) -> bool:
    """Whether it looks like one, by its start."""
    if content.startswith((ASE, GPL.encode())):
        return True
    text = content[:100_000].decode("utf-8", "replace").lstrip("\ufeff")
    return colour_lists.is_list(text) or colour_lists.is_css(text)


def to_gpl(title: str, colours: Sequence[Named]) -> bytes:
    """A palette as text."""
    lines = [GPL, f"Name: {title}", "Columns: 8", "#"]
    for colour in colours:
        r, g, b = bytes.fromhex(colour.srgb[1:])
        lines.append(f"{r:3d} {g:3d} {b:3d}\t{' '.join(colour.name.split())}")
    return ("\n".join(lines) + "\n").encode("utf-8")


def to_ase(title: str, colours: Sequence[Named]) -> bytes:
    """Big-endian blocks: a group with its name, a colour each, the group's end."""
    blocks = [struct.pack(">HI", GROUP, len(_text(title))) + _text(title)]
    for colour in colours:
        values = [value / 255 for value in bytes.fromhex(colour.srgb[1:])]
        body = _text(colour.name) + b"RGB " + struct.pack(">fffH", *values, 2)
        blocks.append(struct.pack(">HI", COLOUR, len(body)) + body)
    blocks.append(struct.pack(">HI", GROUP_END, 0))
    return ASE + struct.pack(">HHI", 1, 0, len(blocks)) + b"".join(blocks)


def _text(text: str) -> bytes:
    encoded = text.encode("utf-16-be")
    return struct.pack(">H", len(encoded) // 2 + 1) + encoded + b"\0\0"


def _ase(name: str, content: bytes) -> list[Named]:
    colours = []
    try:
        index, count = 12, struct.unpack_from(">I", content, 8)[0]
        for _ in range(count):
            kind, length = struct.unpack_from(">HI", content, index)
            body = content[index + 6 : index + 6 + length]
            if len(body) < length:
                raise BadFile(name, say("it is cut off."))
            index += 6 + length
            if kind == COLOUR:
                colours.append(_colour(name, body))
    except struct.error:
        raise BadFile(name, say("it is cut off.")) from None
    return colours


def _colour(file: str, body: bytes) -> Named:
    letters = struct.unpack_from(">H", body)[0]
    text = body[2 : 2 + 2 * letters].decode("utf-16-be", errors="replace").rstrip("\0")
    model, at = body[2 + 2 * letters : 6 + 2 * letters], 6 + 2 * letters
    if model == b"RGB ":
        values = struct.unpack_from(">fff", body, at)
    elif model == b"Gray":
        values = struct.unpack_from(">f", body, at) * 3
    elif model == b"CMYK":
        c, m, y, k = struct.unpack_from(">ffff", body, at)
        values = ((1 - c) * (1 - k), (1 - m) * (1 - k), (1 - y) * (1 - k))
    else:
        raise BadFile(
            file,
            say(
                "'{words}' is written as {decode}; RGB, Gray and CMYK are read.",
                words=text,
                decode=model.decode("ascii", "replace").strip(),
            ),
        )
    if not all(value == value for value in values):
        raise BadFile(file, say("'{words}' is no colour.", words=text))
    srgb = "#" + bytes(round(255 * min(max(value, 0.0), 1.0)) for value in values).hex()
    return Named(text.strip() or srgb, srgb)
