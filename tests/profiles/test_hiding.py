"""Coats until a paint hides, against what one more coat would change."""

import pytest

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lights import light
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.hiding import HIDDEN, coats_until_hidden
from diachrom.core.mix.layers import Layer
from diachrom.core.mix.prediction import predict
from diachrom.store import bottles, paints


@pytest.fixture
def white(store):
    return paints.profile(store, "torv-kritt")


def seen(paint, ground, um):
    layer = Layer(Cup([Pour(paint, 1)]), um / 10, 10)
    return predict([layer], over=GROUNDS[ground], sheen=CLEARED, under=light("D65")).diffuse.lab


def test_it_hides_where_it_is_said_to_and_a_coat_sooner_it_does_not(white):
    for row in coats_until_hidden(white, 14):
        if row.coats is None:
            continue
        end = seen(white, row.ground, 900)
        assert float(delta_e(seen(white, row.ground, 14 * row.coats), end)) <= HIDDEN + 0.3
        if row.coats > 1:
            assert float(delta_e(seen(white, row.ground, 14 * (row.coats - 1)), end)) > HIDDEN - 0.3


def test_black_takes_more_coats_of_white_than_grey_and_thick_coats_are_fewer(white):
    by_ground = {row.ground: row.coats or 99 for row in coats_until_hidden(white, 14)}
    assert by_ground["white"] <= by_ground["grey"] <= by_ground["black"]
    assert {row.ground: row.coats or 99 for row in coats_until_hidden(white, 25)}["black"] < by_ground["black"]


def test_two_stand_side_by_side_and_what_is_sheer_is_refused(client, store):
    page = client.get("/paints/torv-kritt/hides", params={"beside": "torv-sot", "film": "wet"})
    assert page.status_code == 200
    assert page.text.count('class="hides-row"') == 12
    sheer = next(one.paint_id for one in bottles.every(store) if one.kind == "transparent")
    assert client.get(f"/paints/{sheer}/hides").status_code == 422
    assert client.get("/paints/nobody/hides").status_code == 404
    assert "/paints/torv-kritt/hides" in client.get("/paints/torv-kritt").text
