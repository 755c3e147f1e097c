"""A card to show: a bait's picture with its name, its layers and the drops in them, as PNG and as SVG."""

import base64
import io
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from html import escape
from importlib.resources import files

from PIL import Image, ImageDraw, ImageFont

WIDE, HIGH, DPI = 2400, 1500, 300
PICTURE_HIGH, EDGE = 860, 90
COLUMNS, ROW_HIGH = 2, 112
MOST_ROWS = 4  # a column; more layers are counted
SURROUND, PAPER, INK, SOFT = "#8f8f8f", "#d5d5d5", "#141414", "#454545"
BEAD = 17.0  # radius, px
NAME_PX, LAYER_PX, WORDS_PX = 92, 42, 34
NAME_WIDE, BLANK_WIDE = 1400, 780  # px that name and blank have
WIDER = 4  # px that another machine's letters may be larger
SPELLED = {"µm": "micron", "″": '"'}  # signs that the letters do not have


@dataclass(frozen=True)
class Drops:
    """The drops of one bottle: their colour, "" for what has none, and how many."""

    colour: str
    count: int


@dataclass(frozen=True)
class CardLayer:
    name: str
    words: str
    drops: Sequence[Drops]
    more: int = 0  # bottles that have no room


@dataclass(frozen=True)
class BaitCard:
    """What stands on it."""

    name: str
    words: str
    layers: Sequence[CardLayer]
    more: str = ""  # said of layers that have no room

    @property
    def shown(self) -> Sequence[CardLayer]:
        """Those that have room."""
        return self.layers[: COLUMNS * MOST_ROWS]


def png(card: BaitCard, picture: bytes) -> bytes:
    """2,400 x 1,500 pixels at 300 dpi; the picture is a PNG that is clear around the bait."""
    sheet = Image.new("RGB", (WIDE, HIGH), PAPER)
    draw = ImageDraw.Draw(sheet)
    draw.rectangle((0, 0, WIDE, PICTURE_HIGH), fill=SURROUND)
    with Image.open(io.BytesIO(picture)) as opened:
        bait = opened.convert("RGBA")
    bait.thumbnail((WIDE - 2 * EDGE, PICTURE_HIGH - EDGE), Image.Resampling.LANCZOS)
    sheet.paste(bait, ((WIDE - bait.width) // 2, (PICTURE_HIGH - bait.height) // 2), bait)
    name, words = _font(NAME_PX, 700), _font(WORDS_PX, 400)
    draw.text((EDGE, PICTURE_HIGH + 32), _cut(_spelled(card.name), name, NAME_WIDE), font=name, fill=INK)
    draw.text(
        (WIDE - EDGE, PICTURE_HIGH + 70),
        _cut(_spelled(card.words), words, BLANK_WIDE),
        font=words,
        fill=SOFT,
        anchor="ra",
    )
    for layer, (x, y), number in _placed(card):
        strong = _font(LAYER_PX, 700)
        draw.text((x + 40, y), str(number), font=strong, fill=INK, anchor="ra")
        right = x + (WIDE - 2 * EDGE) // COLUMNS - 40.0
        if layer.more:
            right -= draw.textlength(f"+{layer.more}", font=words)
            draw.text((right, y + 4), f"+{layer.more}", font=words, fill=INK)
            right -= 22
        for one in reversed(layer.drops):
            count = str(one.count)
            right -= draw.textlength(count, font=words)
            draw.text((right, y + 4), count, font=words, fill=INK)
            right -= 2 * BEAD + 8
            circle = (right, y + 8, right + 2 * BEAD, y + 8 + 2 * BEAD)
            draw.ellipse(circle, fill=one.colour or PAPER, outline=INK, width=2)
            right -= 22
        draw.text((x + 64, y), _cut(_spelled(layer.name), strong, right - x - 80), font=strong, fill=INK)
        whole = (WIDE - 2 * EDGE) / COLUMNS - 110
        draw.text((x + 64, y + 50), _cut(_spelled(layer.words), words, whole), font=words, fill=SOFT)
    if card.more:
        draw.text((WIDE - EDGE, HIGH - 62), card.more, font=words, fill=SOFT, anchor="ra")
    out = io.BytesIO()
    sheet.save(out, "PNG", dpi=(DPI, DPI), compress_level=6)
    return out.getvalue()


def svg(card: BaitCard, picture: bytes) -> bytes:
    """The same, with the picture in its place and words as words."""
    with Image.open(io.BytesIO(picture)) as opened:
        wide, high = opened.size
    fits = min((WIDE - 2 * EDGE) / wide, (PICTURE_HIGH - EDGE) / high)
    wide, high = round(wide * fits), round(high * fits)
    told = base64.b64encode(picture).decode()
    millimetres = [f"{25.4 * one / DPI:.1f}mm" for one in (WIDE, HIGH)]
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{millimetres[0]}" height="{millimetres[1]}"'
        f' viewBox="0 0 {WIDE} {HIGH}" font-family="sans-serif"><title>{escape(card.name)}</title>',
        f'<rect width="{WIDE}" height="{HIGH}" fill="{PAPER}"/>',
        f'<rect width="{WIDE}" height="{PICTURE_HIGH}" fill="{SURROUND}"/>',
        f'<image x="{(WIDE - wide) // 2}" y="{(PICTURE_HIGH - high) // 2}" width="{wide}" height="{high}"'
        f' href="data:image/png;base64,{told}"/>',
        _said(
            EDGE,
            PICTURE_HIGH + 120,
            _cut(card.name, _font(NAME_PX + WIDER, 700), NAME_WIDE),
            f'font-size="{NAME_PX}" font-weight="700"',
        ),
        _said(
            WIDE - EDGE,
            PICTURE_HIGH + 106,
            _cut(card.words, _font(WORDS_PX + WIDER, 400), BLANK_WIDE),
            f'font-size="{WORDS_PX}" text-anchor="end" fill="{SOFT}"',
        ),
    ]
    for layer, (x, y), number in _placed(card):
        strong = f'font-size="{LAYER_PX}" font-weight="700"'
        parts.append(_said(x + 40, y + 40, str(number), f'{strong} text-anchor="end"'))
        right = x + (WIDE - 2 * EDGE) // COLUMNS - 40.0
        if layer.more:
            parts.append(_said(right, y + 38, f"+{layer.more}", f'font-size="{WORDS_PX}" text-anchor="end"'))
            right -= 80
        for one in reversed(layer.drops):
            count = str(one.count)
            parts.append(_said(right, y + 38, count, f'font-size="{WORDS_PX}" text-anchor="end"'))
            right -= 20 * len(count) + BEAD + 8
            fill = escape(one.colour) or "none"
            parts.append(
                f'<circle cx="{right:.0f}" cy="{y + 8 + BEAD:.0f}" r="{BEAD}" fill="{fill}" stroke="{INK}"'
                ' stroke-width="2"/>'
            )
            right -= BEAD + 22
        words = _cut(layer.words, _font(WORDS_PX + WIDER, 400), (WIDE - 2 * EDGE) / COLUMNS - 110)
        parts.append(_said(x + 64, y + 40, _cut(layer.name, _font(LAYER_PX + WIDER, 700), right - x - 80), strong))
        parts.append(_said(x + 64, y + 84, words, f'font-size="{WORDS_PX}" fill="{SOFT}"'))
    if card.more:
        parts.append(_said(WIDE - EDGE, HIGH - 40, card.more, f'font-size="{WORDS_PX}" text-anchor="end"'))
    return "".join([*parts, "</svg>"]).encode()


def _said(x: float, y: float, words: str, how: str) -> str:
    return f'<text x="{x:.0f}" y="{y:.0f}" {how}>{escape(words)}</text>'


def _placed(card: BaitCard) -> list[tuple[CardLayer, tuple[int, int], int]]:
    """Each layer that has room, where it stands, and its number."""
    top, wide = PICTURE_HIGH + 152, (WIDE - 2 * EDGE) // COLUMNS
    rows = max(min(MOST_ROWS, -(-len(card.shown) // COLUMNS)), 1)
    return [
        (layer, (EDGE + at // rows * wide, top + at % rows * ROW_HIGH), at + 1) for at, layer in enumerate(card.shown)
    ]


@cache
def _font(size: int, weight: int) -> ImageFont.FreeTypeFont:
    """The application's own letters."""
    held = files("diachrom.web") / "static" / "vendor" / "text.woff2"
    font = ImageFont.truetype(io.BytesIO(held.read_bytes()), size)
    font.set_variation_by_axes([weight])
    return font


def _spelled(words: str) -> str:
    for sign, other in SPELLED.items():
        words = words.replace(sign, other)
    return words


def _cut(words: str, font: ImageFont.FreeTypeFont, wide: float) -> str:
    """As much of it as has room."""
    if font.getlength(words) <= wide:
        return words
    while words and font.getlength(words + " …") > wide:
        words = words[:-1]
    return words.rstrip() + " …"
