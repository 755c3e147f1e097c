"""Marks: dots, rings, lines of a brush, trails; strewn, set along a line; what lies where they were set."""

import numpy as np
import pytest
from bait.painting import on
from bait.test_strokes import LONG, skin
from hypothesis import given
from hypothesis import strategies as st

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.deposit import film_um, taken
from diachrom.core.bait.plan import Plan
from diachrom.core.bait.regions import REGIONS
from diachrom.core.bait.strewn import KEPT_FREE, LINES, MIDLINE_MM, Strewing, along, strewn
from diachrom.core.bait.stroke import MOST_MARKS, TOOLS, counted, drawn
from diachrom.core.bait.strokes import share
from diachrom.core.bait.surface import FULL
from diachrom.errors import InvalidInput

MARKS = [key for key in TOOLS if key]
STAMPS = [key for key, tool in TOOLS.items() if not tool.path]


def marked(tool, *places, size_mm=None, **more):
    layer = {"film_um": 10.0, "coats": 1, "sides": "left", **more}
    return on(strokes=(drawn([(u, v, s) for u, v, s in places], tool, size_mm=size_mm),), **layer)


def covered_mm2(film, own, coat=10.0):
    """Skin that a coat covers, by its volume."""
    return float((film * own.surface.areas_mm2).sum() / coat)


@pytest.mark.parametrize("size_mm", [1.0, 2.5, 6.0])
def test_a_dot_covers_its_circle(size_mm):
    own = skin()
    film = film_um(marked("dot", (0.5, 0.25, 1), size_mm=size_mm), own)
    # On the flank the skin's cells are as wide as they are long in mm, but for its curve.
    assert covered_mm2(film, own) == pytest.approx(np.pi * size_mm**2 / 4, rel=0.06)
    assert film.max() <= 10.0 + 1e-9


def test_a_ring_is_what_is_left_between_two_circles():
    own = skin()
    size, line = 5.0, 0.8
    film = film_um(marked("ring", (0.5, 0.25, 1), size_mm=size), own)
    outer, inner = size / 2, size / 2 - line
    assert covered_mm2(film, own) == pytest.approx(np.pi * (outer**2 - inner**2), rel=0.08)
    assert film[120, 24] == 0  # open in the middle


def test_a_raised_dot_holds_more_in_its_middle_than_a_coat():
    own = skin()
    raised, flat = (film_um(marked(tool, (0.5, 0.25, 1), size_mm=4.0), own).max() for tool in ("stylus", "dot"))
    assert raised > 1.4 * flat


def test_a_brush_line_is_as_wide_as_its_brush_and_ends_in_a_point():
    own = skin()
    film = film_um(marked("brush", (0.3, 0.25, 0), (0.7, 0.25, 1), size_mm=2.0), own)
    wide = film.sum(axis=1) / 10.0 * own.surface.girths_mm / FULL[1]
    assert wide[120] == pytest.approx(2.0, rel=0.1)
    assert wide[int(0.7 * 240) - 1] < 0.7
    assert film[: int(0.28 * 240)].max() == 0


def test_a_trail_gets_thinner_and_breaks_into_drops():
    own = skin()
    film = film_um(marked("trail", (0.2, 0.25, 0), (0.8, 0.25, 1), size_mm=3.0), own)[:, 24]
    first, last = film[50:110], film[150:190]
    assert (first > 5).all()
    gaps = np.flatnonzero((last[:-1] > 5) & (last[1:] <= 5))
    assert len(gaps) >= 2  # bare skin between drops


def test_a_dry_brush_leaves_streaks_and_runs_out():
    own = skin()
    film = film_um(marked("dry", (0.3, 0.25, 0), (0.7, 0.25, 1), size_mm=10.0), own)
    start, end = film[80:100].sum(), film[146:166].sum()
    assert start > 3 * end
    row = film[120, 15:34]
    assert (row > 6).any()
    assert (row < 2).any()


@pytest.mark.parametrize("tool", MARKS)
def test_what_is_mirrored_is_there_on_both_sides_to_the_cell(tool):
    own = skin()
    film = film_um(marked(tool, (0.4, 0.2, 1), (0.6, 0.3, 2), sides="both"), own)
    np.testing.assert_array_equal(film, film[:, ::-1])
    assert film.any()


@pytest.mark.parametrize("tool", MARKS)
def test_on_a_bait_twice_as_long_marks_scaled_with_it_look_the_same(tool):
    """Painted on one of 110 mm and on one of 220 mm: cell by cell."""
    small = Plan(blank=Blank("minnow", LONG)).with_layer(marked(tool, (0.4, 0.2, 1), (0.6, 0.28, 1), size_mm=3.0))
    large = small.on_blank(Blank("minnow", 2 * LONG), scaled=True)
    films = [film_um(plan.layers[0], skin(plan.blank.length_mm)) for plan in (small, large)]
    assert np.abs(films[0] - films[1]).mean() < 0.02 * films[0].max()
    assert large.layers[0].strokes[0].size_mm == 6.0


def test_a_line_lies_the_same_whether_it_was_drawn_in_one_piece_or_in_many():
    own = skin()
    few, many = (
        share(
            [drawn([(0.3 + 0.4 * t, 0.2 + 0.06 * t, t) for t in np.linspace(0, 1, count)], "brush", size_mm=2.0)],
            own.surface,
            3.0,
            mirrored=False,
        )
        for count in (2, 40)
    )
    assert np.abs(few - many).max() < 0.35
    assert abs(few - many).sum() < 0.06 * few.sum()


def test_a_scratch_uncovers_what_it_met_and_nothing_else():
    own = skin()
    layer = on(what="rub", strokes=(drawn([(0.3, 0.25, 0), (0.7, 0.25, 1)], "scratch", size_mm=1.2),), sides="left")
    gone = taken(layer, own)
    assert gone.max() == pytest.approx(1.0, abs=0.3)
    assert gone.min() >= 0
    assert (gone[:, 40:] == 0).all()


@given(
    st.sampled_from(MARKS),
    st.lists(st.tuples(st.floats(-0.2, 1.2), st.floats(-1, 2), st.floats(0, 60)), min_size=1, max_size=30),
    st.floats(0.2, 60.0),
    st.floats(-360, 360),
)
def test_whatever_is_marked_lies_within_bounds(tool, points, size_mm, turn_deg):
    stroke = drawn(sorted(points, key=lambda one: one[2]), tool, size_mm=size_mm, turn_deg=turn_deg)
    film = film_um(on(strokes=(stroke,), film_um=10.0, coats=1), skin(cells=(60, 24)))
    assert np.isfinite(film).all()
    assert film.min() >= 0
    assert film.max() <= 16.1


def test_marks_are_counted_left_and_right():
    strokes = [
        drawn([(0.3, 0.2, 1), (0.4, 0.7, 1), (0.5, 0.8, 1)], "dot"),
        drawn([(0.2, 0.1, 0), (0.6, 0.7, 1)], "brush"),
    ]
    assert counted(strokes, mirrored=False) == (2, 2)
    assert counted(strokes, mirrored=True) == (4, 4)


def test_a_stroke_is_moved_mirrored_and_trimmed():
    path = drawn([(0.2, 0.2, 0), (0.4, 0.2, 1), (0.6, 0.2, 2)])
    assert path.moved(0.1, 0.05).points[0] == (0.3, 0.25, 0)
    assert [v for _, v, _ in path.on_the_other_side().points] == [0.8] * 3
    assert path.on_the_other_side().on_the_other_side() == path
    middle = path.trimmed(0.25, 0.75)
    assert middle.points[0] == (0.3, 0.2, 0)
    assert middle.points[-1] == (0.5, 0.2, 1.0)
    dots = drawn([(0.1 * k, 0.2, 1) for k in range(1, 9)], "dot")
    assert dots.trimmed(0, 0.5).count == 4
    with pytest.raises(InvalidInput, match="Trim it"):
        path.trimmed(0.6, 0.5)


def strewing(**more):
    own, blank = skin(), Blank("minnow", LONG)
    region = more.pop("region", "flank")
    marks = blank.form.landmarks
    box = REGIONS[region].box(marks)
    return strewn(Strewing(**more), region, box, own.surface, marks), box, own, marks


def test_strewn_marks_lie_in_their_region_as_dense_as_was_said():
    stroke, box, own, _ = strewing(per_cm2=6.0, size_mm=1.0, thins=0.0)
    u, v, _ = np.array(stroke.points).T
    assert (u > box.u0).all()
    assert (u < box.u1).all()
    assert (v > box.v0).all()
    assert (v < box.v1).all()
    at = own.surface.places
    inside = REGIONS["flank"].depth_mm(at, box, Blank("minnow", LONG).form.landmarks) > 0.5
    area = own.surface.areas_mm2[:, :48][inside[:, :48]].sum() / 100
    assert stroke.count == pytest.approx(6.0 * area, abs=1)
    # No two on each other: as far apart as a rough grid would set them.
    girth = np.interp(u, np.linspace(0, 1, FULL[0]), own.surface.girths_mm)
    x, y = u * LONG, v * girth
    far = np.hypot(x[:, None] - x, y[:, None] - y) + 1e9 * np.eye(len(x))
    assert far.min() > 1.2


@pytest.mark.parametrize("key", KEPT_FREE)
def test_marks_keep_off_what_is_kept_free(key):
    stroke, _, own, marks = strewing(region="all", per_cm2=4.0, size_mm=1.5, free=(key,))
    u, v, _ = np.array(stroke.points).T
    folded = np.minimum(v % 1, 1 - v % 1)
    girth = np.interp(u, np.linspace(0, 1, FULL[0]), own.surface.girths_mm)
    if key == "midline":
        assert (np.abs(folded - marks.lateral_v) * girth > MIDLINE_MM).all()
    elif key in ("belly", "back"):
        box = REGIONS[key].box(marks)
        assert ((folded > box.v1) | (folded < box.v0)).all()
    elif key == "head":
        assert (u > marks.gill_u - 0.08).all()
    else:
        assert (np.hypot((u - marks.eye_u) * LONG, (folded - marks.eye_v) * girth) > 1.5).all()


def test_the_same_seed_strews_the_same_and_another_otherwise():
    one, other, third = (strewing(seed=seed)[0] for seed in (1, 1, 2))
    assert one == other
    assert one != third


@pytest.mark.parametrize("line", LINES)
def test_marks_lie_along_a_line_as_many_as_were_asked_for(line):
    blank = Blank("minnow", LONG)
    stroke = along(line, 7, blank.surface(), blank.form.landmarks, tool="dot", size_mm=2.0)
    assert stroke.count == 7
    u, v, _ = np.array(stroke.points).T
    assert np.ptp(v if line == "gill" else u) > 0.2
    assert film_um(on(strokes=(stroke,)), skin()).any()


@pytest.mark.parametrize(
    ("figures", "words"),
    [
        ({"per_cm2": 0.0}, "a cm²"),
        ({"per_cm2": 30.0, "region": "all", "size_mm": 0.2}, str(MOST_MARKS)),
        ({"region": "eye", "size_mm": 40.0}, "no room"),
    ],
)
def test_what_cannot_be_strewn_is_said(figures, words):
    with pytest.raises(InvalidInput, match=words):
        strewing(**figures)


@pytest.mark.parametrize(
    ("tool", "figures", "words"),
    [
        ("trowel", {}, "no tool"),
        ("dot", {"size_mm": 0.0}, "large"),
        ("dot", {"size_mm": 500.0}, "large"),
        ("ring", {"turn_deg": 900.0}, "turned"),
    ],
)
def test_what_is_no_mark_is_said(tool, figures, words):
    with pytest.raises(InvalidInput, match=words):
        drawn([(0.5, 0.2, 1)], tool, **figures)


def test_more_marks_than_one_hand_sets_are_refused():
    with pytest.raises(InvalidInput, match="400"):
        drawn([(0.5, 0.2, 1)] * 401, "dot")
    assert STAMPS
