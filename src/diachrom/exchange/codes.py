"""Codes read out of photos: the addresses, or the numbers, that labels and cards carry.

A label of 15 mm round a bottle of 30 mm is bent so far that a reader, which looks for a plane, finds its three corners
and no sense between them. Such a code is unrolled by a few turns and widths before it is said to be unread.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
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
MOST_UNROLLED = 600  # of all codes of a photo
TRIES_OF_ONE = 4  # places at which the same code may have been seen
LONGEST_TO_SHORT = 1.8  # of a code's sides: beyond it the corners are those of several
SMALLEST = 25.0  # pixels across a code, below which there is nothing to unroll
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
    """Each once; those that could not be read without those that are none."""
    import cv2

    known: dict[str, Code] = {}
    unread: list[Code] = []
    for code in _at_every_size(grey):
        if code.text:
            known.setdefault(code.text, code)
        elif _across(code) > SMALLEST and _sides(code) < LONGEST_TO_SHORT:
            unread.append(code)
    tries: list[Code] = []
    left = MOST_UNROLLED
    for code in sorted(unread, key=_across, reverse=True):
        if _near(code, known.values()) or len([one for one in tries if _near(code, [one])]) >= TRIES_OF_ONE:
            continue
        tries.append(code)
        for points in _unrolled(cv2, grey, np.array(code.corners, dtype=np.float32)):
            left -= 1
            text = next((one.text for one in _looked(points) if one.text), "")
            if text:
                known.setdefault(text, replace(code, text=text))
            if text or left <= 0:
                break
        if left <= 0:
            break
    usual = float(np.median([_across(code) for code in known.values() or tries])) if known or tries else 0.0
    missed: list[Code] = []
    for code in tries:
        alike = usual / OTHER_SIZE < _across(code) < usual * OTHER_SIZE
        if alike and not _near(code, [*known.values(), *missed]):
            missed.append(code)
    return [*known.values(), *missed]


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
    for one in zxingcpp.read_barcodes(np.ascontiguousarray(points), formats=wanted, return_errors=True):
        place = one.position
        corners = [
            (start[0] + scale * corner.x, start[1] + scale * corner.y)
            for corner in (place.top_left, place.top_right, place.bottom_right, place.bottom_left)
        ]
        yield Code(one.text if one.valid else "", corners)


def _unrolled(cv2: Any, grey: Any, corners: Floats) -> Iterator[Any]:
    """A code (4 corners) as it may have been before it was put round a bottle, which stands or lies."""
    plane = np.array([[0, 0], [UNROLLED, 0], [UNROLLED, UNROLLED], [0, UNROLLED]], dtype=np.float32)
    warp = cv2.getPerspectiveTransform(plane, corners)
    flat = np.arange(-BORDER, UNROLLED + BORDER) + 0.5
    for lying in (False, True):
        for turn, half in BENDS:
            low, high = np.sin(turn - half), np.sin(turn + half)
            round_it = np.clip(turn + half * (2 * flat / UNROLLED - 1), -np.pi / 2, np.pi / 2)
            bent = (np.sin(round_it) - low) / (high - low) * UNROLLED
            across, down = np.meshgrid(*((flat, bent) if lying else (bent, flat)))
            far = warp[2, 0] * across + warp[2, 1] * down + warp[2, 2]
            x, y = ((row[0] * across + row[1] * down + row[2]) / far for row in warp[:2])
            yield cv2.remap(grey, x.astype(np.float32), y.astype(np.float32), cv2.INTER_CUBIC)


def _in_order(found: Iterable[Code]) -> list[Code]:
    """Each text once, from top to bottom."""
    order = sorted(found, key=lambda code: (code.corners[0][1], code.corners[0][0]))
    return [code for at, code in enumerate(order) if not code.text or code.text not in {one.text for one in order[:at]}]


def _across(code: Code) -> float:
    """Half the way round it, px."""
    return sum(_lengths(code)) / 2


def _sides(code: Code) -> float:
    """The longest side to the shortest."""
    return max(_lengths(code)) / max(min(_lengths(code)), 1.0)


def _lengths(code: Code) -> list[float]:
    corners = np.array(code.corners)
    return [float(each) for each in np.linalg.norm(corners - np.roll(corners, 1, axis=0), axis=1)]


def _near(code: Code, others: Iterable[Code]) -> bool:
    """Whether it is one of these, seen somewhat elsewhere."""
    middle, size = np.mean(code.corners, axis=0), _across(code) / 2
    return any(
        np.linalg.norm(middle - np.mean(one.corners, axis=0)) < max(size, _across(one) / 2) / 2 for one in others
    )
