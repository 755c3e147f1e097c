"""What a painter asks of strokes and marks that lie there: many at once, and one of them changed."""

from collections.abc import Callable, Mapping
from dataclasses import replace

from diachrom.core.bait.plan import Plan
from diachrom.core.bait.strewn import KEPT_FREE, MOST_DENSE, Strewing, along, strewn
from diachrom.core.bait.stroke import LEAST_MM, MOST_MM, TOOLS, Stroke, checked
from diachrom.core.bait.surface import Surface
from diachrom.errors import InvalidInput
from diachrom.units import MM
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.kit.figures import figure, whole

Strokes = tuple[Stroke, ...]
Change = Callable[[Strokes, int, Surface], Strokes]
COPY_MM = 3.0  # beside what was copied
FARTHEST_MM = 1000.0
MOST_SEED = 999_999


def many(plan: Plan, layer: int, form: Mapping[str, str]) -> Stroke:
    """Marks over a layer's region, or along a line. Raises InvalidInput, NotFound."""
    own, blank = plan.layer(layer), plan.blank
    tool = form.get("tool", "dot")
    if tool not in TOOLS or TOOLS[tool].path:
        raise InvalidInput(say("Choose which mark is strewn: dots, rings, scales."), field="tool")
    text = form.get("size_mm", "").strip()
    usual = TOOLS[tool].usual_mm
    size = figure(text, say("Size"), key="size_mm", least=LEAST_MM, most=MOST_MM, units=MM) if text else usual
    if form.get("line"):
        count = whole(form.get("count", ""), say("How many"), key="count", most=400)
        return along(form["line"], count, blank.surface(), blank.form.landmarks, tool=tool, size_mm=size)
    how = Strewing(
        tool,
        size,
        figure(form.get("per_cm2") or "2", say("Marks a cm²"), key="per_cm2", least=0.01, most=MOST_DENSE),
        tuple(key for key in KEPT_FREE if f"free-{key}" in form),
        seed=whole(form.get("seed") or "1", say("Drawn anew"), key="seed", most=MOST_SEED),
    )
    marks = blank.form.landmarks
    return strewn(how, own.region, own.edges(marks), blank.surface(), marks)


def change_of(form: Mapping[str, str]) -> Change:
    """What is to be done to one stroke. Raises InvalidInput."""
    wanted = form.get("do", "")
    if wanted not in CHANGES:
        raise InvalidInput(say("Choose what to do with the stroke."), field="do")
    return CHANGES[wanted](form)


def _one(own: Callable[[Stroke, Surface], Strokes]) -> Change:
    def changed(strokes: Strokes, which: int, surface: Surface) -> Strokes:
        if not 0 <= which < len(strokes):
            raise InvalidInput(say("That stroke is no longer there: choose another."), field="stroke")
        return (*strokes[:which], *own(strokes[which], surface), *strokes[which + 1 :])

    return changed


def _moved(stroke: Stroke, surface: Surface, along_mm: float, around_mm: float) -> Stroke:
    u = min(max(stroke.points[0][0], 0.0), 1.0)
    girth = float(surface.girth_at(u))
    return checked(stroke.moved(along_mm / surface.length_mm, around_mm / max(girth, 1.0)))


def _set(form: Mapping[str, str]) -> Change:
    """Moved by so many mm, and of other figures."""

    def figured(key: str, words: str, least: float, most: float, *, mm: bool = True) -> float | None:
        text = form.get(key, "").replace("%", "").strip()
        return figure(text, words, key=key, least=least, most=most, units=MM if mm else None) if text else None

    along_mm, around_mm = (
        figured(key, words, -FARTHEST_MM, FARTHEST_MM) or 0.0
        for key, words in (("along_mm", say("Along")), ("around_mm", say("Around")))
    )
    size, turn = (
        figured("size_mm", say("Size"), LEAST_MM, MOST_MM),
        figured("turn_deg", say("Turned, °"), -360, 360, mm=False),
    )
    start, end = (
        figured(key, words, 0, 100, mm=False)
        for key, words in (("from_share", say("From, %")), ("to_share", say("To, %")))
    )

    def own(stroke: Stroke, surface: Surface) -> Strokes:
        found = _moved(stroke, surface, along_mm, around_mm)
        if stroke.tool and size is not None:
            found = replace(found, size_mm=size)
        if stroke.tool and turn is not None:
            found = replace(found, turn_deg=turn)
        if (start or 0.0) > 0 or (100.0 if end is None else end) < 100:
            found = found.trimmed((start or 0.0) / 100, (100.0 if end is None else end) / 100)
        return (checked(found),)

    return _one(own)


CHANGES: dict[str, Callable[[Mapping[str, str]], Change]] = {
    "change": _set,
    "copy": lambda form: _one(lambda stroke, surface: (stroke, _moved(stroke, surface, COPY_MM, 0.0))),
    "mirror": lambda form: _one(lambda stroke, surface: (stroke.on_the_other_side(),)),
    "both": lambda form: _one(lambda stroke, surface: (stroke, stroke.on_the_other_side())),
    "remove": lambda form: _one(lambda stroke, surface: ()),
}


def words(stroke: Stroke, surface: Surface) -> str:
    """ "14 × dot, 2 mm; from 42 mm" """
    u, v, _ = stroke.points[0]
    at = say(
        "{along} from the nose, {around} around",
        along=quantity(max(u, 0.0) * surface.length_mm, ".0f", "mm"),
        around=quantity((v % 1.0) * float(surface.girth_at(u)), ".0f", "mm"),
    )
    if not stroke.tool:
        return say("stroke, {at}", at=at)
    size = quantity(stroke.size_mm, ".2g", "mm")
    if stroke.kind.path or stroke.count == 1:
        return say("{tool} {size}, {at}", tool=stroke.kind.words, size=size, at=at)
    return say("{count} × {tool} {size}, {at}", count=stroke.count, tool=stroke.kind.words, size=size, at=at)


def all_words(strokes: Strokes, sides: tuple[int, int]) -> str:
    """What a layer has of them: "2 strokes by hand, 14 marks on each side" """
    lines = sum(not one.tool for one in strokes)
    marks = sum(one.count for one in strokes if one.tool)
    told = [say_count(lines, "{count} stroke by hand", "{count} strokes by hand")] if lines else []
    if marks:
        left, right = sides
        told.append(
            say_count(left, "{count} mark on each side", "{count} marks on each side")
            if left == right
            else say("{left} marks left, {right} right", left=left, right=right)
        )
    return listed(told)
