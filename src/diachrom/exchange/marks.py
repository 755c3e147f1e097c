"""The corner marks of a sheet: black squares with a pattern each, which a photo is searched for. Drawn and found by
OpenCV's marker module."""

from collections.abc import Mapping
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from diachrom.core.cards.sheet import MARKS
from diachrom.core.light.bands import Floats
from diachrom.errors import BadPhoto
from diachrom.words import say

CELLS = 6  # of a mark, its black border too
Picture = NDArray[np.uint8]


@lru_cache(maxsize=1)
def _dictionary() -> Any:
    import cv2  # loaded only where a sheet is drawn or read

    return cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50)


def cells(mark: int) -> list[list[bool]]:
    """(row, column) of a mark: True is black."""
    import cv2

    return [[value == 0 for value in row] for row in cv2.aruco.generateImageMarker(_dictionary(), mark, CELLS).tolist()]


def find(grey: Picture) -> Mapping[int, Floats]:
    """The marks in a picture: their corners (4, 2) in pixels, clockwise from each mark's own upper left. Raises
    BadPhoto where one is there twice."""
    import cv2

    detector = cv2.aruco.ArucoDetector(_dictionary())
    detector.setDetectorParameters(_careful())
    corners, ids, _ = detector.detectMarkers(grey)
    found: dict[int, Floats] = {}
    for own, mark in zip(corners, [] if ids is None else np.ravel(ids).astype(int).tolist(), strict=True):
        if mark >= len(MARKS):
            continue
        one = np.asarray(own, dtype=np.float64).reshape(4, 2)
        if mark in found and np.linalg.norm(found[mark].mean(axis=0) - one.mean(axis=0)) > np.ptp(one[:, 0]):
            raise BadPhoto(say("it shows two sheets. Photograph one at a time"))
        found[mark] = one
    return found


def _careful() -> Any:
    import cv2

    careful = cv2.aruco.DetectorParameters()
    careful.cornerRefinementMethod = cv2.aruco.CORNER_REFINE_SUBPIX
    return careful


def corners_mm(mark: int) -> Floats:
    """(4, 2) where they lie on the sheet."""
    place = MARKS[mark]
    x, y, right, bottom = place.x, place.y, place.x + place.width, place.y + place.height
    return np.array([[x, y], [right, y], [right, bottom], [x, bottom]])
