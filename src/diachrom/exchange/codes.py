"""Codes read out of photos: the addresses, or the numbers, that labels and cards carry.

A label of 15 mm round a bottle of 30 mm is bent so far that a reader, which looks for a plane, finds its three corners
and no sense between them. Such a code is unrolled by a few turns and widths before it is said to be unread.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.errors import BadFile
from diachrom.exchange import photos
from diachrom.exchange.sandbox import run_sandboxed
from diachrom.exchange.text import check_size
from diachrom.words import say

LONGEST_SIDE = 4000  # pixels, of 12 million
SIZES = (1.0, 0.5, 0.25)  # at which a photo is looked at: what is blurred is read where it is smaller
LARGER, TILE, OVERLAP = 2.0, 1500, 250  # and what is small where it is larger, a part after the other; pixels
BENDS = [(turn, half) for half in (0.35, 0.5) for turn in (0.0, 0.25, -0.25, 0.5, -0.5)]  # radians on the bottle
UNROLLED, BORDER = 200, 50  # pixels
MOST_UNROLLED = 300  # of all codes of a photo
TRIES_OF_ONE = 4  # places at which the same code may have been seen
LONGEST_TO_SHORT = 1.8  # of a code's sides: beyond it the corners are those of several
SMALLEST = 12.5  # pixels of a code's side, below which there is nothing to unroll
OTHER_SIZE = 1.6  # times the usual one: what was seen is no label


@dataclass(frozen=True)
class Code:
    """A code in a photo; "" where it was seen and could not be read."""

    text: str
    corners: Sequence[tuple[float, float]]  # x, y of four, in parts of the photo's width and height


def read(name: str, content: bytes) -> list[str]:
    """What the codes in a photo say, each once, from top to bottom. Raises BadFile, Crowded."""
    found = [code.text for code in seen(name, content) if code.text]
    if not found:
        raise BadFile(name, say("no code can be read in it: come closer, straight from above, without glare."))
    return found


def seen(name: str, content: bytes) -> list[Code]:
    """The codes in a photo, each once, from top to bottom; those too that were seen and could not be read. Raises
    BadFile, Crowded."""
    check_size(name, len(content))
    return run_sandboxed(name, _seen, content)


def texts(points: Any) -> list[str]:
    """Of grey points (row, column), or RGB, that were taken straight."""
    return [code.text for code in _in_order(_looked(points)) if code.text]


def _seen(name: str, content: bytes) -> list[Code]:
    grey = np.asarray(photos.opened(name, content, mode="L", side=LONGEST_SIDE).convert("L"))
    height, width = grey.shape
    found = _all_of(grey)
    return [replace(code, corners=[(x / width, y / height) for x, y in code.corners]) for code in _in_order(found)]


def _all_of(grey: Any) -> list[Code]:
    """Each once; of those that could not be read the ones that may be labels."""
    known: dict[str, Code] = {}
    unread: list[Code] = []
    for code in _at_every_size(grey):
        if code.text:
            known.setdefault(code.text, code)
        elif _across(code) > SMALLEST and _sides(code) < LONGEST_TO_SHORT:
            unread.append(code)
    tries: list[Code] = []
    looks = iter(range(MOST_UNROLLED))
    for code in sorted(unread, key=_across, reverse=True):
        if _near(code, known.values()) or sum(_near(code, [tried]) for tried in tries) >= TRIES_OF_ONE:
            continue
        tries.append(code)
        text = _text_round_bottle(grey, code, looks)
        if text:
            known.setdefault(text, replace(code, text=text))
    sizes = [_across(code) for code in known.values() or tries]
    missed: list[Code] = []
    for code in tries:
        alike = 1 / OTHER_SIZE < _across(code) / float(np.median(sizes)) < OTHER_SIZE
        if alike and not _near(code, [*known.values(), *missed]):
            missed.append(code)
    return [*known.values(), *missed]


def _text_round_bottle(grey: Any, code: Code, looks: Iterator[int]) -> str:
    """What a code says once it is unrolled, "" where that does not help; as long as there are looks left."""
    for points, _ in zip(_unrolled(grey, np.array(code.corners, dtype=np.float32)), looks, strict=False):
        text = next((seen.text for seen in _looked(points) if seen.text), "")
        if text:
            return text
    return ""


def _at_every_size(grey: Any) -> Iterator[Code]:
    import cv2

    for size in SIZES:
        smaller = cv2.resize(grey, None, fx=size, fy=size, interpolation=cv2.INTER_AREA) if size < 1 else grey
        if min(smaller.shape) > SMALLEST:
            yield from _looked(smaller, 1 / size)
    for top in range(0, max(grey.shape[0] - OVERLAP, 1), TILE - OVERLAP):
        for left in range(0, max(grey.shape[1] - OVERLAP, 1), TILE - OVERLAP):
            part = grey[top : top + TILE, left : left + TILE]
            larger = cv2.resize(part, None, fx=LARGER, fy=LARGER, interpolation=cv2.INTER_CUBIC)
            yield from _looked(larger, 1 / LARGER, (left, top))


def _looked(points: Any, scale: float = 1.0, start: tuple[int, int] = (0, 0)) -> Iterator[Code]:
    """The codes that are seen, read or not."""
    import zxingcpp  # takes a while, and few need it

    wanted = zxingcpp.BarcodeFormats([zxingcpp.BarcodeFormat.QRCode])
    for found in zxingcpp.read_barcodes(np.ascontiguousarray(points), formats=wanted, return_errors=True):
        place = found.position
        corners = [
            (start[0] + scale * corner.x, start[1] + scale * corner.y)
            for corner in (place.top_left, place.top_right, place.bottom_right, place.bottom_left)
        ]
        yield Code(found.text if found.valid else "", corners)


def _unrolled(grey: Any, corners: Floats) -> Iterator[Any]:
    """A code (4 corners) as it may have been before it was put round a bottle, which stands or lies."""
    import cv2

    low, high = BORDER, BORDER + UNROLLED
    square = np.array([[low, low], [high, low], [high, high], [low, high]], dtype=np.float32)
    warp = cv2.getPerspectiveTransform(corners, square)
    plane = cv2.warpPerspective(grey, warp, (high + BORDER, high + BORDER), flags=cv2.INTER_CUBIC)
    for lying in (False, True):
        for bent, straight in _bends():
            across, down = (straight, bent.T) if lying else (bent, straight.T)
            yield cv2.remap(plane, np.ascontiguousarray(across), np.ascontiguousarray(down), cv2.INTER_LINEAR)


@lru_cache(maxsize=1)
def _bends() -> list[tuple[Any, Any]]:
    """Columns at which a plane is read for each turn and width of a bottle, and those of the plane itself."""
    straight = np.tile(np.arange(UNROLLED + 2 * BORDER, dtype=np.float32), (UNROLLED + 2 * BORDER, 1))
    bends = []
    for turn, half in BENDS:
        left, right = np.sin(turn - half), np.sin(turn + half)
        angle = turn + half * (2 * (straight - BORDER) / UNROLLED - 1)
        bent = (np.sin(np.clip(angle, -np.pi / 2, np.pi / 2)) - left) / (right - left)
        bends.append(((BORDER + UNROLLED * bent).astype(np.float32), straight))
    return bends


def _in_order(found: Iterable[Code]) -> list[Code]:
    """Each text once, from top to bottom."""
    order = sorted(found, key=lambda code: (code.corners[0][1], code.corners[0][0]))
    first = {code.text: code for code in reversed(order)}
    return [code for code in order if not code.text or code is first[code.text]]


def _across(code: Code) -> float:
    """The mean of its sides, px."""
    return sum(_lengths(code)) / 4


def _sides(code: Code) -> float:
    """The longest side to the shortest."""
    return max(_lengths(code)) / max(min(_lengths(code)), 1.0)


def _lengths(code: Code) -> list[float]:
    corners = np.array(code.corners)
    return [float(each) for each in np.linalg.norm(corners - np.roll(corners, 1, axis=0), axis=1)]


def _near(code: Code, others: Iterable[Code]) -> bool:
    """Whether it is one of these, seen somewhat elsewhere."""
    middle, size = np.mean(code.corners, axis=0), _across(code)
    return any(
        np.linalg.norm(middle - np.mean(other.corners, axis=0)) < max(size, _across(other)) / 2 for other in others
    )
