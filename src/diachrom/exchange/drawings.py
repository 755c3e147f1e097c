"""Outlines out of SVG drawings: stencils, and blanks seen from the side and from the back. Sizes come out in mm."""

import io
import re
import warnings
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import ParseError, fromstring
from svgelements import SVG, Path, Shape

from diachrom.errors import BadFile
from diachrom.exchange.sandbox import run_sandboxed
from diachrom.exchange.text import decoded
from diachrom.words import quantity, say

MM_PER_PX = 25.4 / 96  # as the standard of SVG has it
LARGEST = 2_000_000  # bytes
MOST_OUTLINES, MOST_POINTS = 400, 4000
CHORD_MM = 0.15  # a curve becomes lines about so long
MOST_A_CURVE = 48
CLOSED_MM = 0.2
ACTIVE = ("script", "foreignobject", "iframe", "image", "use", "a", "animate", "set", "handler")
SIZE = re.compile(r"\s*([\d.]+)\s*(mm|cm|in|pt|pc|px|)\s*", re.I)
Point = tuple[float, float]
Outlines = tuple[tuple[Point, ...], ...]


@dataclass(frozen=True)
class Drawing:
    """Closed outlines in mm, y running down, with the names that they have; and what was noticed about their size."""

    title: str
    outlines: Outlines
    names: tuple[str, ...]
    width_mm: float
    noticed: str = ""


def read(name: str, content: bytes) -> Drawing:
    """Raises BadFile, saying what is wrong with it."""
    if len(content) > LARGEST:
        raise BadFile(
            name,
            say(
                "it has {count} MB; a drawing of outlines has at most 2 MB.", count=quantity(len(content) / 1e6, ".0f")
            ),
        )
    return run_sandboxed(name, _read, content)


def _read(name: str, content: bytes) -> Drawing:
    text, _ = decoded(name, content)
    # The root of a drawing that does nothing and leads nowhere.
    try:
        root = fromstring(text.encode(), forbid_dtd=False)
    except (ParseError, DefusedXmlException, ValueError) as error:
        raise BadFile(name, say("it is no SVG drawing, or it is cut off.")) from error
    if root.tag.rpartition("}")[2] != "svg":
        raise BadFile(name, say("it is no SVG drawing."))
    for element in root.iter():
        tag = str(element.tag).rpartition("}")[2].lower()
        if tag in ACTIVE or tag == "style":
            raise BadFile(
                name,
                say(
                    "it holds '{tag}': only outlines are taken. Save it as plain SVG, objects turned to paths.", tag=tag
                ),
            )
        for key, value in element.attrib.items():
            plain = key.rpartition("}")[2].lower()
            if plain.startswith("on") or (plain == "href" and not value.startswith("#")) or "url(" in value.lower():
                raise BadFile(name, say("it holds scripts or links: only outlines are taken."))
    found = SIZE.fullmatch(root.get("width") or "")
    unit = found[2].lower() if found else ""
    if unit == "mm":
        noticed = ""
    elif unit in ("", "px"):
        noticed = "Its size has no unit: it was taken as 96 to the inch."
    else:
        noticed = f"Its size is in {unit}: it was turned into mm."
    outlines: list[tuple[Point, ...]] = []
    names: list[str] = []
    for shape in _shapes(name, text):
        for part in shape.as_subpaths():
            points = _points(Path(part))
            if len(points) < 3:
                continue
            (x0, y0), (x1, y1) = points[0], points[-1]
            if abs(x0 - x1) + abs(y0 - y1) > CLOSED_MM:
                raise BadFile(
                    name,
                    say(
                        "an outline is open: it begins at {begin} and ends at {end}.",
                        begin=f"{x0:.1f}, {y0:.1f} mm",
                        end=f"{x1:.1f}, {y1:.1f} mm",
                    ),
                )
            outlines.append(tuple(points[:-1]))
            names.append(str(shape.values.get("id") or "") if shape.values else "")
    if not outlines:
        raise BadFile(name, say("there is no closed outline in it."))
    if len(outlines) > MOST_OUTLINES or sum(len(outline) for outline in outlines) > MOST_POINTS:
        raise BadFile(
            name,
            say(
                "it has more than {most_outlines} outlines or {most_points} points: draw it simpler.",
                most_outlines=MOST_OUTLINES,
                most_points=MOST_POINTS,
            ),
        )
    for number, one in enumerate(outlines, start=1):
        if _crosses(one):
            raise BadFile(name, say("outline {number} crosses itself: draw it as one closed line.", number=number))
    xs = [x for one in outlines for x, _ in one]
    title = next((one.text or "" for one in root.iter() if one.tag.rpartition("}")[2] == "title"), "")
    return Drawing(title.strip()[:80], tuple(outlines), tuple(names), max(xs) - min(xs), noticed)


def _shapes(name: str, text: str) -> list[Path]:
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            drawing = SVG.parse(io.StringIO(text), ppi=96.0, reify=True)
            return [one if isinstance(one, Path) else Path(one) for one in drawing.elements() if isinstance(one, Shape)]
    except Exception as error:  # whatever a library makes of a drawing that is none
        raise BadFile(name, say("its outlines cannot be read.")) from error


def _points(part: Path) -> list[Point]:
    """A chain of lines in mm."""
    points: list[Point] = []
    for segment in part.segments():
        start, end = getattr(segment, "start", None), getattr(segment, "end", None)
        if end is None:
            continue
        curved = type(segment).__name__ in ("QuadraticBezier", "CubicBezier", "Arc") and start is not None
        count = 1
        if curved:
            count = int(min(MOST_A_CURVE, max(4, segment.length(error=1e-2) * MM_PER_PX / CHORD_MM / 4)))
        for index in range(1, count + 1):
            place = segment.point(index / count) if curved else end
            point = (float(place.x) * MM_PER_PX, float(place.y) * MM_PER_PX)
            if not points or abs(point[0] - points[-1][0]) + abs(point[1] - points[-1][1]) > 1e-6:
                points.append(point)
    return points


def _crosses(points: tuple[Point, ...]) -> bool:
    """Whether any two sides of a closed outline cross."""
    count = len(points)
    sides = [(*points[at], *points[(at + 1) % count]) for at in range(count)]
    order = sorted(range(count), key=lambda at: min(sides[at][0], sides[at][2]))
    for place, index in enumerate(order):
        right = max(sides[index][0], sides[index][2])
        for other in order[place + 1 :]:
            if min(sides[other][0], sides[other][2]) > right:
                break
            if abs(index - other) in (0, 1, count - 1):
                continue
            if _cross(sides[index], sides[other]):
                return True
    return False


def _cross(one: tuple[float, ...], other: tuple[float, ...]) -> bool:
    def turn(ax: float, ay: float, bx: float, by: float, cx: float, cy: float) -> float:
        return (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)

    a, b = turn(*one, *other[:2]), turn(*one, *other[2:])
    c, d = turn(*other, *one[:2]), turn(*other, *one[2:])
    return a * b < 0 and c * d < 0


@cache
def library() -> dict[str, Drawing]:
    """The stencils that ship, by their keys."""
    folder = files("diachrom.core.bait") / "stencils"
    own = sorted((one for one in folder.iterdir() if one.name.endswith(".svg")), key=lambda one: one.name)
    return {one.name.removesuffix(".svg"): _read(one.name, one.read_bytes()) for one in own}
