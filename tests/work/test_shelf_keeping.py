"""Putting paints on the shelf and keeping count of them."""

import numpy as np
import pytest

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lights import light
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.mixing.cup import Cup, Pour
from diachrom.core.mixing.layers import Layer
from diachrom.core.mixing.one_colour import KINDS_TO_ADD, from_one_colour
from diachrom.core.mixing.prediction import predict
from diachrom.errors import BottleNotFound, InvalidInput
from diachrom.store import paints
from diachrom.store.connection import connected
from diachrom.work import cup, shelf_keeping
from diachrom.work.shelf import shelf

AT = "2026-11-25T10:00:00+00:00"
NEW = {"line": "Rav", "name": "Krekling", "kind": "transparent", "colour": "#5a2a6e", "size_ml": 30.0, "drop_ml": 0.045}


@pytest.fixture
def store(bench):
    with connected(bench) as connection:
        yield connection


@pytest.mark.parametrize("kind", [kind for kind in KINDS_TO_ADD if kind not in ("reducer", "medium")])
def test_a_paint_guessed_from_a_colour_shows_that_colour_in_three_light_coats_on_white(kind):
    wanted = hex_to_lab("#b5562f")
    paint = from_one_colour("x", kind, wanted)
    seen = predict([Layer(Cup((Pour(paint, 1),)), 8.0, 3)], over=GROUNDS["white"], clear_coat=True, under=light("D65"))
    assert delta_e(seen.diffuse.lab, wanted) < 1.0
    hides = predict([Layer(Cup((Pour(paint, 1),)), 8.0, 3)], over=GROUNDS["black"], clear_coat=True, under=light("D65"))
    assert hides.contrast_ratio > 0.5 if kind in ("opaque", "primer") else hides.contrast_ratio < 0.5


def test_a_new_paint_is_found_poured_and_marked_as_a_guess(store):
    bottle = shelf_keeping.add_paint(store, **NEW, at=AT)
    row = shelf(store, "krek")[0]
    assert (row.bottle.id, row.bottle.paint_id, row.bottle.left_ml) == (bottle, "rav-krekling", 30.0)
    assert row.paint.uncertainty >= 0.3
    cup.start_new(store, at=AT)
    cup.add_bottle(store, bottle, at=AT)
    assert cup.see(store).strip.columns[0].patches[-1].diffuse.lab[0] < 60


def test_a_reducer_needs_no_colour_and_names_in_any_script_get_an_id(store):
    shelf_keeping.add_paint(store, **NEW | {"kind": "reducer", "colour": "", "name": "Vann"}, at=AT)
    for name in ("Blåbær", "Blabar", "!!!"):
        shelf_keeping.add_paint(store, **NEW | {"line": "", "name": name}, at=AT)
    ids = [row.paint_id for row in paints.all_bottles(store)][-3:]
    assert len(set(ids)) == 3


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"name": "   "}, "name"),
        ({"name": "x" * 41}, "name"),
        ({"name": "nype"}, "name"),
        ({"colour": "purple"}, "colour"),
        ({"colour": ""}, "colour"),
        ({"kind": "pearl"}, "kind"),
        ({"kind": "gravy"}, "kind"),
        ({"size_ml": -1}, "size_ml"),
        ({"size_ml": float("nan")}, "size_ml"),
        ({"drop_ml": 3.0}, "drop_ml"),
    ],
)
def test_what_cannot_be_put_on_the_shelf_is_said_by_field_and_nothing_is_half_there(store, changes, field):
    before = len(paints.all_profiles(store)), len(paints.all_bottles(store))
    with pytest.raises(InvalidInput) as caught:
        shelf_keeping.add_paint(store, **NEW | changes, at=AT)
    assert caught.value.field == field
    assert (len(paints.all_profiles(store)), len(paints.all_bottles(store))) == before


def test_what_is_left_is_corrected_by_an_entry_and_another_bottle_is_full(store):
    bottle = shelf(store, "rav nype")[0].bottle.id
    entries = len(paints.ledger(store, bottle))
    shelf_keeping.correct_stock(store, bottle, 5.5, at=AT)
    shelf_keeping.correct_stock(store, bottle, 5.5, at=AT)
    seen = shelf_keeping.see_bottle(store, bottle)
    assert seen.row.bottle.left_ml == pytest.approx(5.5)
    assert len(seen.ledger) == entries + 1
    assert seen.ledger[0].ml == pytest.approx(-2.5)
    other = shelf_keeping.another_bottle(store, bottle, at=AT)
    assert shelf_keeping.see_bottle(store, other).row.bottle.left_ml == 30.0
    for bad in (-1.0, 31.0, float("nan")):
        with pytest.raises(InvalidInput, match=r"Rav Nype: a 30 ml bottle holds 0 to 30 ml"):
            shelf_keeping.correct_stock(store, bottle, bad, at=AT)
    with pytest.raises(BottleNotFound):
        shelf_keeping.see_bottle(store, 9999)


def test_a_new_drop_counts_from_now_on_and_recipes_keep_theirs(store):
    bottle = shelf(store, "rav nype")[0].bottle.id
    before = cup.see(store).cup.volume_ml
    shelf_keeping.set_drop(store, bottle, 0.06)
    assert cup.see(store).cup.volume_ml == before
    cup.start_new(store, at=AT)
    cup.add_bottle(store, bottle, at=AT)
    assert np.isclose(cup.see(store).cup.volume_ml, 0.06)
