"""A photo of a card's sheet: found by its corner marks, flattened, the light's cast taken out, every field measured."""

import io
import re
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from diachrom.core.cards.sheet import CORNERS, CROSS_MM, HEIGHT_MM, MARKS, WIDTH_MM, Place, Sheet, SheetField
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.screen import linear_to_lab, to_linear
from diachrom.errors import BadPhoto
from diachrom.exchange import codes, marks
from diachrom.exchange.photos import is_grey
from diachrom.words import say

PER_MM = 4.0  # pixels of the flattened sheet
PAPER, INK = 0.86, 0.045  # what paper and a printer's black usually give back; both are told by the sheet itself
CLIPPED = 0.985  # encoded; there a camera counts no further
TOO_DARK = 0.10  # linear light of the paper
COARSEST = 2.2  # pixels a mm, below which patches run into each other
MOST_SKEW = 1.45  # largest mark by the smallest, along a side
MOST_BENT_MM = 1.2
MOST_UNEVEN = 0.16  # of the paper's light around the plane that fits it
MOST_VEIL = 0.32  # of the paper's light that a black mark may send
GLARE = 1.30  # a patch's brightest part by its middle
LEAST, STRONG = 0.004, 0.06  # of a channel: nothing in one beside much in another is a colour outside them
SORTS = {"card": "card", "contrast": "drawdown card", "shelf": "shelf sheet"}  # as a sheet's code says
UNEVEN = 4.0  # dE between parts of a field: a thumb, a run, the edge of a mask
GRAIN = 0.015  # of linear light, which a dark field's grain may be off
BEYOND, GLARING, SMEARED = (
    "stronger than a photo can show",
    "brighter in one part, by a lamp or a smear",
    "smeared or uneven",
)
LINEAR = to_linear(np.arange(256) / 255.0)  # (256,) light of what a picture holds


@dataclass(frozen=True, eq=False)
class FieldRead:
    """What a photo shows of a field."""

    field: SheetField
    lab: Floats  # (3,) under daylight
    doubt: str = ""  # why it is not to be trusted


def read(png: bytes, sheet: Sheet, card: int, *, tag: str = "card") -> list[FieldRead]:
    """Every field of a card's sheet; `tag` is what cards of its sort are called in its code. Raises BadPhoto, saying
    what is wrong with the photo and what to do, also where a lamp shines on a field."""
    fields = measured(png, sheet, card, tag=tag)
    glare = [field.field for field in fields if field.doubt == GLARING]
    if glare:
        named = ", ".join(f"{one.ground} with {one.coats or 'no'} coat{'' if one.coats == 1 else 's'}" for one in glare)
        raise BadPhoto(say("a lamp shines on {named}. Turn the sheet away from it", named=named))
    return fields


def measured(png: bytes, sheet: Sheet, card: int, *, tag: str) -> list[FieldRead]:
    """Every field, with what is doubtful about it. Raises BadPhoto for a photo that tells nothing at all."""
    with Image.open(io.BytesIO(png)) as image:
        encoded = np.asarray(image.convert("RGB"))  # (row, column, 3)
    if is_grey(encoded):
        raise BadPhoto(say("it has no colours. Photograph it in colour"))
    flat = _flattened(encoded)
    _check_code(flat, sheet, card, tag)
    light = LINEAR[flat]
    # The paper's light all over the sheet (row, column, 3), by the bare paper between the arms of the crosses.
    spots = [
        Place(x + dx - 0.8, y + dy - 0.8, 1.6, 1.6)
        for x, y in (cross.middle for cross in sheet.crosses)
        for dx in (-CROSS_MM / 4, CROSS_MM / 4)
        for dy in (-CROSS_MM / 4, CROSS_MM / 4)
    ]
    if np.mean([np.median(_part(flat, spot).max(axis=-1)) > 255 * CLIPPED for spot in spots]) > 0.1:
        raise BadPhoto(say("it is burnt out: the paper itself is clipped. Take it darker"))
    seen = np.array([np.median(_part(light, spot).reshape(-1, 3), axis=0) for spot in spots])  # (spot, 3)
    if float(np.median(seen.max(axis=1))) < TOO_DARK:
        raise BadPhoto(say("it is too dark. Take it in more light"))
    corners = len({cross.x for cross in sheet.crosses}) > 2  # two columns of them tell no bend across
    white = _plane(np.array([spot.middle for spot in spots]), seen, light.shape, bent=corners)
    # What ink sends all over the sheet (row, column, 3): its share of the paper's light, and the veil over it that
    # the marks' border tells, which is black all around.
    cell, share = MARKS[0].width / marks.CELLS, INK / PAPER
    black_spots = [
        Place(mark.x + index * cell + 0.25 * cell, mark.y + row * cell + 0.25 * cell, cell / 2, cell / 2)
        for mark in MARKS
        for index in range(1, marks.CELLS - 1)
        for row in (0, marks.CELLS - 1)
    ]
    ink, paper = (
        np.array([np.median(_part(one, spot).reshape(-1, 3), axis=0) for spot in black_spots]) for one in (light, white)
    )
    veil = (ink - share * paper) / (1 - share)
    black = share * white + (1 - share) * _plane(
        np.array([spot.middle for spot in black_spots]), veil, light.shape, strict=False
    )
    if float((black / white).mean()) > MOST_VEIL:
        raise BadPhoto(say("it is too glossy: its black marks shine like grey. Turn the sheet away from the lamp"))
    fields = []
    for field in (*sheet.fields, *sheet.printed):
        inside, bright, dark = (_part(one, field.place.within(0.6)) for one in (light, white, black))
        balanced = INK + (PAPER - INK) * (inside - dark) / np.maximum(bright - dark, 1e-6)
        values = np.median(balanced.reshape(-1, 3), axis=0)
        doubt = ""
        # A lamp is mirrored in it: clipped, or much brighter in one part than in its middle.
        if np.mean((_part(flat, field.place.within(0.6)) >= 255 * CLIPPED).any(axis=-1)) > 0.02:
            glares = True
        else:
            bright = inside.mean(axis=-1)
            middle = float(np.median(bright))
            glares = float(np.quantile(bright, 0.95)) > GLARE * middle + 0.03
        if glares:
            doubt = GLARING
        elif values.min() < LEAST and values.max() > STRONG:
            doubt = BEYOND
        elif _uneven(balanced):
            doubt = SMEARED
        fields.append(FieldRead(field, linear_to_lab(np.clip(values, 0.0, 1.0)), doubt))
    return fields


def _uneven(balanced: Floats) -> bool:
    """Whether one part of a field (row, column, 3) has another colour than the whole."""
    parts = [part for rows in np.array_split(balanced, 3) for part in np.array_split(rows, 3, axis=1)]
    middles = np.stack([np.median(part.reshape(-1, 3), axis=0) for part in parts])
    usual = np.median(middles, axis=0)
    off = np.abs(middles - usual).max(axis=1) > GRAIN
    far = delta_e(linear_to_lab(np.clip(middles, 0.0, 1.0)), linear_to_lab(np.clip(usual, 0.0, 1.0)))
    return bool((off & (far > UNEVEN)).any())


def _flattened(encoded: marks.Picture) -> marks.Picture:
    """The sheet seen straight from above (row, column, 3), PER_MM pixels a mm."""
    import cv2

    found = marks.find(np.asarray(cv2.cvtColor(encoded, cv2.COLOR_RGB2GRAY), dtype=np.uint8))
    if not found:
        raise BadPhoto(say("none of the sheet's four corner marks is in it. Take the whole sheet, sharp, from above"))
    missing = [CORNERS[index] for index in range(len(MARKS)) if index not in found]
    if missing:
        raise BadPhoto(
            say(
                "the {missing} corner mark is missing: torn off, covered or outside the picture. Without "
                "all four it is not read",
                missing=" and the ".join(missing),
            )
        )
    sides = [float(np.linalg.norm(corner - np.roll(corner, 1, axis=0), axis=1).mean()) for corner in found.values()]
    if min(sides) / MARKS[0].width < COARSEST:
        raise BadPhoto(say("the sheet is too small. Come closer until it fills the picture"))
    pixels = np.concatenate([found[at] for at in range(len(MARKS))])
    on_sheet = np.concatenate([marks.corners_mm(at) for at in range(len(MARKS))])
    if max(sides) / min(sides) > MOST_SKEW or _leaning(pixels) > MOST_SKEW:
        raise BadPhoto(say("it is too skewed. Hold the camera straight above the sheet"))
    turn, _ = cv2.findHomography(on_sheet, pixels)
    back = cv2.perspectiveTransform(pixels[None], np.linalg.inv(turn))[0]
    if np.sqrt(((back - on_sheet) ** 2).sum(axis=1).mean()) > MOST_BENT_MM:
        raise BadPhoto(say("the sheet is bent. Lay it flat"))
    onto = np.diag([PER_MM, PER_MM, 1.0]) @ np.linalg.inv(turn)
    size = (int(WIDTH_MM * PER_MM), int(HEIGHT_MM * PER_MM))
    return np.asarray(cv2.warpPerspective(encoded, onto, size, flags=cv2.INTER_LINEAR), dtype=np.uint8)


def _leaning(pixels: Floats) -> float:
    """How much longer the sheet's one side looks than it is, beside the other."""
    outer = pixels[[0, 5, 10, 15]]  # the sheet's own corners
    across = np.linalg.norm(outer[1] - outer[0]) + np.linalg.norm(outer[2] - outer[3])
    down = np.linalg.norm(outer[3] - outer[0]) + np.linalg.norm(outer[2] - outer[1])
    ratio = float(down / across) / (HEIGHT_MM / WIDTH_MM)
    return max(ratio, 1 / ratio)


def _part(picture: NDArray[Any], place: Place) -> NDArray[Any]:
    rows = slice(round(place.y * PER_MM), max(round((place.y + place.height) * PER_MM), round(place.y * PER_MM) + 1))
    columns = slice(round(place.x * PER_MM), max(round((place.x + place.width) * PER_MM), round(place.x * PER_MM) + 1))
    return picture[rows, columns]


def _plane(at_mm: Floats, seen: Floats, shape: tuple[int, ...], *, strict: bool = True, bent: bool = False) -> Floats:
    """The plane, or the bowl if it is `bent`, through lights (spot, 3) at places (spot, 2), without the fifth of them
    that lie off it most."""
    basis = _basis(at_mm[:, 0], at_mm[:, 1], bent=bent)
    used = np.ones(len(at_mm), dtype=bool)
    for _ in range(3):
        plane, *_ = np.linalg.lstsq(basis[used], seen[used], rcond=None)
        off = np.abs(seen - basis @ plane).max(axis=1) / seen.mean()
        used = off <= np.quantile(off, 0.8)
    if strict and float(np.quantile(off, 0.75)) > MOST_UNEVEN:
        raise BadPhoto(say("a shadow or a lamp lies across the sheet. Take it in even light"))
    columns, rows = np.meshgrid((np.arange(shape[1]) + 0.5) / PER_MM, (np.arange(shape[0]) + 0.5) / PER_MM)
    return np.asarray(_basis(columns, rows, bent=bent) @ plane)


def _basis(x: Floats, y: Floats, *, bent: bool) -> Floats:
    """(..., term)"""
    across, down = x / WIDTH_MM, y / HEIGHT_MM
    terms = [np.ones_like(x), across, down]
    return np.stack([*terms, across**2, across * down, down**2] if bent else terms, axis=-1)


def _check_code(flat: marks.Picture, sheet: Sheet, card: int, tag: str) -> None:
    """Raises BadPhoto for the sheet of another card, or of another layout; a code that cannot be read says nothing."""
    import cv2

    place = sheet.qr
    grown = Place(place.x - 2, place.y - 2, place.width + 4, min(place.height + 4, HEIGHT_MM - place.y + 2))
    seen = np.ascontiguousarray(_part(flat, grown))
    code = cv2.resize(seen, None, fx=3, fy=3, interpolation=cv2.INTER_CUBIC)
    framed = np.pad(code, ((30, 30), (30, 30), (0, 0)), constant_values=255)
    match = re.search(r"\b(card|contrast|shelf)=(\d{1,9})&sheet=([0-9a-f]{4})", " ".join(codes.texts(framed)))
    if match and (match[1] != tag or int(match[2]) != card):
        raise BadPhoto(
            say(
                "it is of the sheet of {sorts} {match}, not of {other_sorts} {card}",
                sorts=SORTS[match[1]],
                match=match[2],
                other_sorts=SORTS[tag],
                card=card,
            )
        )
    if match and match[3] != sheet.key:
        raise BadPhoto(say("its sheet was printed before patches were added. Print it again, or read them one by one"))
