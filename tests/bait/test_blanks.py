"""Blanks: sizes against geometry, landmarks in their places, and what no blank can be."""

import numpy as np
import pytest

from diachrom.core.bait.blank import SHORTEST_MM, STATES, Blank, checked, outline_of
from diachrom.core.bait.outline import Outline
from diachrom.core.bait.regions import REGIONS
from diachrom.core.bait.shapes import SHAPES
from diachrom.core.bait.surface import ROUGH, Surface
from diachrom.core.film.grounds import GROUNDS
from diachrom.errors import InvalidInput

U = np.linspace(0, 1, 41)


def body(upper, half):
    return Outline(
        tuple(zip(U, upper, strict=True)), tuple(zip(U, -upper, strict=True)), tuple(zip(U, half, strict=True))
    )


ROUND = np.sqrt(U * (1 - U))


@pytest.mark.parametrize("cells", [ROUGH, (240, 96)])
def test_areas_of_a_sphere_a_cylinder_and_an_ellipsoid_are_within_one_percent(cells):
    sphere = Surface(body(ROUND, ROUND), 100.0, cells=cells)
    assert sphere.area_mm2 == pytest.approx(np.pi * 100**2, rel=0.01)
    assert sphere.girth_mm == pytest.approx(np.pi * 100, rel=0.01)
    cylinder = Surface(body(np.full(41, 0.1), np.full(41, 0.1)), 100.0, cells=cells)
    assert cylinder.area_mm2 == pytest.approx(2 * np.pi * 10 * 100, rel=0.01)
    # Half axes 50, 15 and 8 mm, by the integral over the sphere.
    t, p = np.meshgrid((np.arange(800) + 0.5) * np.pi / 800, (np.arange(800) + 0.5) * 2 * np.pi / 800, indexing="ij")
    a, b, c = 50.0, 15.0, 8.0
    nx, ny, nz = np.cos(t), np.sin(t) * np.cos(p), np.sin(t) * np.sin(p)
    exact = (np.sqrt((b * c * nx) ** 2 + (a * c * ny) ** 2 + (a * b * nz) ** 2) * np.sin(t)).mean() * 2 * np.pi**2
    ellipsoid = Surface(body(0.3 * ROUND, 0.16 * ROUND), 100.0, cells=cells)
    assert ellipsoid.area_mm2 == pytest.approx(exact, rel=0.01)


@pytest.mark.parametrize("shape", SHAPES.values(), ids=lambda shape: shape.key)
def test_every_shape_is_closed_faces_outwards_and_has_its_regions(shape):
    surface = Blank(shape.key, shape.usual_mm).surface(ROUGH)
    middle = (surface.corners[1:, 1:] + surface.corners[:-1, :-1]) / 2
    axis = middle.mean(axis=1, keepdims=True)
    outwards = ((middle - axis) * surface.smooth_normals).sum(axis=-1)
    assert np.mean(outwards > 0) > 0.97
    assert (surface.normals == surface.normals[:, ::-1] * [1, -1, 1]).all()
    assert np.allclose(np.linalg.norm(surface.normals, axis=-1), 1)
    at = surface.places
    for region in REGIONS.values():
        box = region.box(shape.landmarks)
        share = region.share(at, box, shape.landmarks, 2.0)
        assert 0 < share.mean() <= 1, region.key
        assert (share == share[:, ::-1]).all()


def test_there_are_twelve_shapes_or_more_and_every_state_is_a_ground():
    assert len(SHAPES) >= 12
    assert {state.ground for state in STATES.values()} <= GROUNDS.keys()


@pytest.mark.parametrize("length", [0, -3, 3000, SHORTEST_MM - 1])
def test_a_blank_of_no_size_or_of_three_metres_is_refused_by_its_length(length):
    with pytest.raises(InvalidInput, match="mm long, not"):
        checked(Blank(length_mm=length))


def test_an_own_outline_is_what_was_drawn():
    turn = np.linspace(0, 2 * np.pi, 80, endpoint=False)
    side = [(60 + 60 * np.cos(t), 9 * np.sin(t)) for t in turn]
    back = [(60 + 60 * np.cos(t), 40 + 5 * np.sin(t)) for t in turn]
    surface = Surface(outline_of(side, back), 120.0)
    assert surface.corners[..., 2].max() == pytest.approx(9, rel=0.03)
    assert surface.corners[..., 1].max() == pytest.approx(5, rel=0.03)
    with pytest.raises(InvalidInput, match="draw both at one size"):
        outline_of(side, [(x / 2, y) for x, y in back])
