"""A simulated camera: a hand lays a card's sheet under a lamp and takes a photo of it, well or badly."""

import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from PIL import Image

from diachrom.core.cards.sheet import HEIGHT_MM, MARKS, WIDTH_MM, FieldKey, Place, Sheet
from diachrom.core.light.bands import BANDS, Floats
from diachrom.core.light.lab import lab, lab_to_xyz
from diachrom.core.light.lights import light
from diachrom.core.light.screen import SRGB, WHITE, encode
from diachrom.instruments import phone
from diachrom.words import say

PER_MM, MARGIN_MM = 6.0, 14.0
PAPER, INK = 0.87, 0.043  # near what is usual, not the same
PICTURE = (1500, 1900)  # pixels, width and height
NOISE = 0.004  # of the paper's light
ENCODED = np.rint(255 * encode(np.linspace(0, 1, 65536))).astype(np.uint8)  # (level of light,)
Cells = Sequence[Sequence[bool]]


@dataclass(frozen=True)
class Shot:
    """How a photo is taken."""

    words: str
    turned_deg: float = 4.0
    skew: float = 0.05  # share of the width by which the far side is narrower
    exposure: float = 0.80  # linear light of the paper
    cast: tuple[float, float, float] = (1.0, 0.92, 0.80)
    falls_off: float = 0.12  # of the light, from one side to the other
    veil: float = 0.01  # of the paper's light, mirrored over all of it
    glare: float = 0.0  # of the paper's light, a lamp mirrored in one place
    corners: float = 0.0  # of the light that is lost in the corners
    smeared: bool = False  # a thumb wiped over half of the field in the middle of all
    torn: bool = False
    sheet: bool = True
    phone: int | None = None  # which; None is an ideal camera
    lamp: str = "D65"


SHOTS = {
    "good": Shot(say("straight above, in even light")),
    "turned": Shot(say("the sheet upside down"), turned_deg=184.0),
    "dark": Shot(say("in the dusk"), exposure=0.05),
    "burnt": Shot(say("far too bright"), exposure=1.6),
    "glossy": Shot(say("against the window"), veil=0.6, exposure=0.55),
    "glare": Shot(say("a lamp mirrored in a field"), glare=0.7, exposure=0.6),
    "skewed": Shot(say("from the side"), skew=0.45),
    "phone": Shot(
        say("by a phone under a warm lamp"), cast=(1.0, 0.82, 0.58), falls_off=0.2, corners=0.15, phone=7, lamp="D50"
    ),
    "smeared": Shot(say("a field smeared by a thumb"), corners=0.1, smeared=True),
    "torn": Shot(say("a corner torn off"), torn=True),
    "without": Shot(say("of the bench, without a sheet"), sheet=False),
}


def photo(
    shot: Shot, sheet: Sheet, seen: Mapping[FieldKey, Floats], marks: Sequence[Cells], qr: Cells, *, seed: int
) -> bytes:
    """A JPEG of a sheet whose fields (ground, coats) have these reflectances (band,); marks and code as cells, True
    is black."""
    import cv2

    chance = np.random.default_rng(seed)
    page = _page(sheet, seen, marks, qr, shot=shot) if shot.sheet else np.full((600, 600, 3), 0.3)
    if shot.torn:
        edge = int((MARGIN_MM + MARKS[0].width) * PER_MM)
        page[-edge:, -edge:] = 0.25
    turn = _seen_from(shot, page.shape)
    picture = cv2.warpPerspective(
        page, turn, PICTURE, flags=cv2.INTER_AREA, borderMode=cv2.BORDER_CONSTANT, borderValue=(0.25, 0.25, 0.25)
    )
    width, height = PICTURE
    across = np.linspace(1 + shot.falls_off / 2, 1 - shot.falls_off / 2, width)
    out_x, out_y = np.linspace(-1, 1, width), np.linspace(-1, 1, height)[:, None]
    lamp = across * (1 - shot.corners * (out_x**2 + out_y**2) / 2) * shot.exposure / PAPER
    mirrored = np.full((height, width), shot.veil * shot.exposure)
    if shot.glare:
        y, x = np.ogrid[:height, :width]
        off = (x - 0.5 * width) ** 2 + (y - 0.55 * height) ** 2
        mirrored += shot.glare * np.exp(-off / (0.06 * width) ** 2)
    taken = np.empty((height, width, 3), dtype=np.uint8)
    for channel, cast in enumerate(shot.cast):
        grain = NOISE * shot.exposure * chance.standard_normal((height, width), dtype=np.float32)
        lit = picture[..., channel] * (cast * lamp) + mirrored + grain
        taken[..., channel] = ENCODED[(np.clip(lit, 0, 1) * (len(ENCODED) - 1)).astype(np.uint16)]
    out = io.BytesIO()
    Image.fromarray(taken).save(out, "JPEG", quality=95, subsampling=0)
    return out.getvalue()


def _page(sheet: Sheet, seen: Mapping[FieldKey, Floats], marks: Sequence[Cells], qr: Cells, *, shot: Shot) -> Floats:
    """The sheet on its paper, linear light (row, column, 3)."""
    shape = (int((HEIGHT_MM + 2 * MARGIN_MM) * PER_MM), int((WIDTH_MM + 2 * MARGIN_MM) * PER_MM), 3)
    page = np.full(shape, PAPER)
    for place, cells in [*zip(MARKS, marks, strict=True), (sheet.qr, qr)]:
        high, wide = place.height / len(cells), place.width / len(cells[0])
        for row, line in enumerate(cells):
            for column, black in enumerate(line):
                if black:
                    _fill(page, Place(place.x + column * wide, place.y + row * high, wide, high), INK)
    for cross in sheet.crosses:
        x, y = cross.middle
        _fill(page, Place(x - 0.25, cross.y, 0.5, cross.height), INK)
        _fill(page, Place(cross.x, y - 0.25, cross.width, 0.5), INK)
    inks = phone.printed(shot.phone or 0) if sheet.printed else {}
    eye = None if shot.phone is None else phone.channels(shot.phone, shot.lamp)
    paper = np.full(BANDS, PAPER)  # where an older print has no ink
    for field in (*sheet.fields, *sheet.printed):
        reflectance = inks.get(field.ground, seen.get(field.key, paper))
        # (3,) linear light of the screen's channels, or the phone's own.
        if eye is None:
            shown = lab_to_xyz(lab(reflectance, under=light("D65")), white=WHITE) @ SRGB.T
        else:
            shown = eye @ reflectance
        _fill(page, field.place, np.clip(shown, 0, 1))
    if shot.smeared:
        place = sheet.fields[len(sheet.fields) // 2].place
        _fill(page, Place(place.middle[0], place.y, place.width / 2, place.height), PAPER / 2)
    return page


def _fill(page: Floats, place: Place, value: float | Floats) -> None:
    x, y = (place.x + MARGIN_MM) * PER_MM, (place.y + MARGIN_MM) * PER_MM
    page[round(y) : round(y + place.height * PER_MM), round(x) : round(x + place.width * PER_MM)] = value


def _seen_from(shot: Shot, shape: tuple[int, ...]) -> Floats:
    """The projection (3, 3) from the page to the picture."""
    import cv2

    height, width = shape[:2]
    corners = np.array([[0, 0], [width, 0], [width, height], [0, height]], dtype=np.float64)
    middle = np.array([width / 2, height / 2])
    angle = np.deg2rad(shot.turned_deg)
    turn = np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    seen = (corners - middle) @ turn
    far = 1 - shot.skew * (1 - (seen[:, 1] - seen[:, 1].min()) / np.ptp(seen[:, 1]))
    seen = seen * np.column_stack([far, 0.5 + far / 2])
    scale = 0.96 * min(PICTURE[0] / np.ptp(seen[:, 0]), PICTURE[1] / np.ptp(seen[:, 1]))
    seen = scale * (seen - (seen.max(axis=0) + seen.min(axis=0)) / 2) + np.array(PICTURE) / 2
    return np.asarray(cv2.getPerspectiveTransform(corners.astype(np.float32), seen.astype(np.float32)))
