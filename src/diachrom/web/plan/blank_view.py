"""Blanks as they are chosen: by their drawings."""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.bait.blank import FOIL_DIRECTIONS, MATERIALS, STATES, Blank
from diachrom.core.bait.regions import REGIONS
from diachrom.core.bait.shapes import SHAPES, Shape
from diachrom.core.bait.surface import RELIEFS
from diachrom.web.kit.choices import Choice, said
from diachrom.web.plan.view import choices
from diachrom.work.kit.opened import Store
from diachrom.work.plan import sources

OUTLINE_STEPS = 41
BOX_WIDTH, BOX_MARGIN, HIGHEST, WIDEST = 120.0, 14.0, 24.0, 17.0


@dataclass(frozen=True)
class BlankView:
    """A shape as it is chosen: by its drawing."""

    key: str
    words: str
    usual_mm: float
    material: str
    side: str  # SVG paths in a box of 120 x 44
    back: str
    fittings: Sequence[str]
    eye: tuple[float, float, float] | None
    chosen: bool


@dataclass(frozen=True)
class BlankPage:
    blanks: Sequence[BlankView]
    states: Sequence[Choice]
    materials: Sequence[Choice]
    regions: Sequence[Choice]
    directions: Sequence[Choice]
    reliefs: Sequence[Choice]
    blank: Blank


def blank_page(store: Store, blank: Blank) -> BlankPage:
    """Blanks to choose from, by their drawings."""
    shapes = [*SHAPES.values()]
    own = sources.own_blanks(store)
    chosen = "own" if blank.own is not None else blank.shape
    views = [blank_view(shape, shape.key, shape.key == chosen) for shape in shapes]
    views += [blank_view(one, key, False) for key, one in own.items()]
    if blank.own is not None:
        views.insert(0, blank_view(blank.own, "own", True))
    return BlankPage(
        blanks=views,
        states=choices(STATES),
        materials=said(MATERIALS),
        regions=choices(REGIONS),
        directions=choices(FOIL_DIRECTIONS),
        reliefs=[Choice(key, words) for key, words in RELIEFS.items()],
        blank=blank,
    )


def blank_view(shape: Shape, key: str, chosen: bool) -> BlankView:
    """Its outlines from the side and from the back, and what is fitted to it, as SVG paths."""
    upper, lower, half = sources.edges(shape, OUTLINE_STEPS)
    high = max(2 * max(value for _, value in upper), -2 * min(value for _, value in lower))
    wide = 2 * max(value for _, value in half)
    scale = min(BOX_WIDTH - 2 * BOX_MARGIN, HIGHEST / max(high, 1e-6), WIDEST / max(wide, 1e-6))
    start, middle = (BOX_WIDTH - scale) / 2, 18.0

    def place(u: float, high: float) -> tuple[float, float]:
        return start + u * scale, middle - high * scale

    def path(points: Sequence[tuple[float, float]]) -> str:
        return "M" + " L".join(f"{x:.1f},{y:.1f}" for x, y in points) + " Z"

    side = path([place(u, high) for u, high in upper] + [place(u, high) for u, high in reversed(lower)])
    back_at = 44.0
    back = [(start + u * scale, back_at - wide * scale) for u, wide in half]
    back += [(start + u * scale, back_at + wide * scale) for u, wide in reversed(half)]
    eye = None
    if shape.eye_sockets:
        marks = shape.landmarks
        x, y = place(marks.eye_u, sources.height_at(shape, marks.eye_u, marks.eye_v))
        eye = (round(x, 1), round(y, 1), round(max(0.8, marks.eye_size * scale / 2), 1))
    return BlankView(
        key=key,
        words=shape.words,
        usual_mm=shape.usual_mm,
        material=shape.material,
        side=side,
        back=path(back),
        fittings=[path([place(u, high) for u, high in fitting.points]) for fitting in shape.fittings],
        eye=eye,
        chosen=chosen,
    )
