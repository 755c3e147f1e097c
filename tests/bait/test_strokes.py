"""Strokes of the airbrush: what lies where they went."""

from dataclasses import replace

import numpy as np
import pytest
from bait.painting import on, paint, painted
from hypothesis import given
from hypothesis import strategies as st

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.deposit import Skin, film_um
from diachrom.core.bait.mask import Mask
from diachrom.core.bait.stroke import MOST_POINTS, Stroke, drawn
from diachrom.core.bait.strokes import USUAL_MM_S, share
from diachrom.core.bait.surface import FULL
from diachrom.errors import InvalidInput

LONG = 110.0


def skin(length_mm=LONG, shape="minnow", cells=FULL):
    own = Blank(shape, length_mm)
    return Skin(own.surface(cells), own.form.landmarks, {})


def line(start, end, speed=USUAL_MM_S, v=0.25, length_mm=LONG):
    """Along the flank, at a speed in mm/s."""
    return Stroke(((start, v, 0.0), (end, v, (end - start) * length_mm / speed)))


def by_hand(*strokes, **more):
    return on(**{"distance_mm": 15.0, "film_um": 10.0, "coats": 1, "sides": "left", "strokes": strokes, **more})


def test_film_along_a_straight_stroke_is_the_integral_of_its_disc():
    """Against a sum over little steps of a disc that is carried along."""
    own = skin()
    layer = by_hand(line(0.2, 0.8), distance_mm=60.0)
    film = film_um(layer, own)
    radius, girths = layer.disc_mm / 2, own.surface.girths_mm
    for u, v in ((0.5, 0.25), (0.4, 0.3), (0.6, 0.2), (0.2, 0.25), (0.81, 0.26)):
        i, j = int(u * FULL[0]), int(v * FULL[1])
        x, y = ((i + 0.5) / FULL[0] - 0.2) * LONG, ((j + 0.5) / FULL[1] - 0.25) * girths[i]
        steps = np.linspace(0, 0.6 * LONG, 200_001)
        disc = np.maximum(1 - ((x - steps) ** 2 + y**2) / radius**2, 0) ** 2
        told = 10.0 * np.trapezoid(disc, steps) / (radius * 16 / 15)
        assert film[i, j] == pytest.approx(told, rel=0.01, abs=0.02)
    assert film[120, 24] == pytest.approx(10.0, rel=0.01)  # in the middle, at the usual speed: a coat


def test_half_as_fast_is_twice_as_much_and_two_half_strokes_are_one():
    own = skin()
    drawings = [line(0.2, 0.8)], [line(0.2, 0.8, speed=USUAL_MM_S / 2)], [line(0.2, 0.5), line(0.5, 0.8)]
    whole, slow, halves = (share(lines, own.surface, 3.0, mirrored=False) for lines in drawings)
    np.testing.assert_allclose(slow, 2 * whole, rtol=1e-9, atol=1e-9)
    np.testing.assert_allclose(halves, whole, rtol=1e-9, atol=1e-9)


def test_on_a_bait_twice_as_long_it_covers_twice_the_mm():
    covered = {}
    for length_mm in (LONG, 2 * LONG):
        own = skin(length_mm)
        film = film_um(by_hand(line(0.2, 0.8)), own)
        rows = np.flatnonzero(film[:, 24] > 2)
        covered[length_mm] = len(rows) * length_mm / FULL[0]
    assert covered[2 * LONG] == pytest.approx(2 * covered[LONG], rel=0.02)  # the disc at its ends stays


def test_the_other_side_is_its_mirror_to_the_cell_and_the_spine_is_not_painted_twice():
    own = skin()
    layer = by_hand(line(0.3, 0.6, v=0.2), line(0.2, 0.8, v=0.0), sides="both")
    film = film_um(layer, own)
    np.testing.assert_array_equal(film, film[:, ::-1])
    alone = film_um(by_hand(line(0.2, 0.8, v=0.0)), own)
    assert film[120, 0] == pytest.approx(alone[120, 0], rel=1e-6)


def test_paint_of_a_stroke_is_that_of_thrown_drops():
    """Drops land by chance within the disc, all along the path; none is lost."""
    own = skin()
    stroke = Stroke(((0.3, 0.2, 0.0), (0.5, 0.3, 0.9), (0.7, 0.22, 2.4)))
    layer = by_hand(stroke, distance_mm=40.0)
    film = film_um(layer, own)
    random, count = np.random.default_rng(3), 400_000
    radius, seconds = layer.disc_mm / 2, 2.4
    when = random.uniform(0, seconds, count)
    path = np.array(stroke.points)
    u, v = (np.interp(when, path[:, 2], path[:, k]) for k in (0, 1))
    far = radius * np.sqrt(1 - (1 - random.uniform(size=count)) ** (1 / 3))  # of (1 - r2)2
    turn = random.uniform(0, 2 * np.pi, count)
    u = u + far * np.cos(turn) / LONG
    v = v + far * np.sin(turn) / np.interp(u, (np.arange(FULL[0]) + 0.5) / FULL[0], own.surface.girths_mm)
    thrown, *_ = np.histogram2d(u, v, bins=FULL, range=((0, 1), (0, 1)))
    volume = 10.0 * USUAL_MM_S * radius * 5 * np.pi / 16 * seconds / count  # um mm2 of a drop
    areas = own.surface.areas_mm2
    assert (film * areas).sum() == pytest.approx(volume * count, rel=0.05)
    # In patches of 8 x 4 cells, so that chance is small.
    patch = (film * areas).reshape(30, 8, 24, 4).sum(axis=(1, 3))
    counted = volume * thrown.reshape(30, 8, 24, 4).sum(axis=(1, 3))
    well = counted > 400 * volume
    assert well.sum() > 20
    assert np.median(np.abs(patch[well] / counted[well] - 1)) < 0.05


def test_a_tap_is_a_dot_that_gets_darker_the_longer_it_is_held():
    own = skin()
    short, long = (film_um(by_hand(Stroke(((0.5, 0.25, 0.0), (0.5, 0.25, s)))), own) for s in (0.1, 0.3))
    assert long.max() == pytest.approx(3 * short.max())
    rows, columns = np.nonzero(short)
    wide = np.ptp(rows) * LONG / FULL[0], np.ptp(columns) * own.surface.girths_mm[120] / FULL[1]
    assert wide == pytest.approx((3.0, 3.0), abs=1.2)


def test_it_goes_round_the_belly_and_over_the_spine():
    own = skin()
    belly = film_um(by_hand(Stroke(((0.5, 0.4, 0.0), (0.5, 0.6, 1.0)))), own)
    assert (belly[120, 40:56] > 0).all()
    assert belly[120, :20].max() == 0
    seam = film_um(by_hand(drawn([(0.5, 0.05, 0.0), (0.5, 0.98, 0.5), (0.5, 0.93, 1.0)])), own)
    assert (seam[120, [0, 1, 94, 95]] > 0).all()
    assert seam[120, 30:70].max() == 0


def test_a_net_that_is_on_keeps_a_stroke_off_beneath_its_threads():
    own = skin()
    open_ = film_um(by_hand(line(0.2, 0.8), distance_mm=60.0), own)
    through = film_um(by_hand(line(0.2, 0.8), distance_mm=60.0, mask=Mask("net", size_mm=6.0, gap_mm=1.5)), own)
    assert (through <= open_ + 1e-9).all()
    assert through.sum() < 0.9 * open_.sum()


def test_a_stroke_of_black_is_seen_where_it_went_and_nowhere_else():
    seen, _ = painted("primed-white", (by_hand(line(0.3, 0.6), film_um=25.0), paint(torv_sot=1)))
    light = seen.factors[2].mean(axis=0)
    assert light[54, 12] < 0.2
    assert light[100, 12] > 0.7
    assert light[54, 36] > 0.7  # on the other side


@given(
    st.lists(st.tuples(st.floats(-0.2, 1.2), st.floats(-1, 2), st.floats(0, 60)), min_size=1, max_size=3 * MOST_POINTS)
)
def test_whatever_is_drawn_lies_within_bounds(points):
    stroke = drawn(sorted(points, key=lambda one: one[2]))
    assert len(stroke.points) <= MOST_POINTS
    assert stroke.points[0][2] == 0
    film = film_um(by_hand(stroke), skin(cells=(60, 24)))
    assert np.isfinite(film).all()
    assert film.min() >= 0


@pytest.mark.parametrize(
    "points",
    [
        [],
        [(0.5, 0.2)],
        [(0.5, float("nan"), 0)],
        [(9, 0, 0)],
        "much",
        [({}, 0, 0)],
        [(10**400, 0, 0)],
        [(0.5, 0.2, 0), (0.6, 0.2, 999)],
    ],
)
def test_what_is_no_stroke_is_said(points):
    with pytest.raises(InvalidInput, match="draw it again"):
        drawn(points)


def test_a_layer_takes_four_hundred_strokes():
    own = on(strokes=tuple(line(0.2, 0.3) for _ in range(401)))
    with pytest.raises(InvalidInput, match="400 strokes"):
        painted("primed-white", (replace(own), paint(torv_sot=1)))
