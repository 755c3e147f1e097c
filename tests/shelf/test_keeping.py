"""Putting paints on the shelf, changing them, merging doubles, retiring, and taking each step back."""

import numpy as np
import pytest

from diachrom.core.light.difference import delta_e
from diachrom.errors import BottleNotFound, ChangedSince, InvalidInput
from diachrom.store import bottles, paints, shelf_history
from diachrom.store.connection import writing
from diachrom.work.mix import cup
from diachrom.work.shelf import keeping, shelf_index
from diachrom.work.shelf.shelf_index import WantedBottles

AT = "2026-11-25T10:00:00+00:00"
NEW = {"line": "Rav", "name": "Krekling", "kind": "transparent", "size_ml": "30", "drop_ul": "45"}
COLOUR = "#5a2a6e"


def add(store, colour=COLOUR, **changes):
    return keeping.add_paint(store, NEW | {"colour": colour} | changes, at=AT)


def found(store, query):
    return [row.bottle for row in shelf_index.find(store, WantedBottles(query)).rows]


def test_a_new_paint_is_found_poured_and_marked_as_a_guess(store):
    bottle = add(store)
    row = found(store, "krek")[0]
    assert (row.id, row.paint_id, row.left_ml) == (bottle, "rav-krekling", 30.0)
    assert shelf_index.index(store).rows[-1].guess
    cup.start_new(store, at=AT)
    cup.add_bottle(store, bottle, at=AT)
    assert cup.see(store).foreseen.strip.columns[0].patches[-1].diffuse.lab[0] < 60


def test_a_reducer_needs_no_colour_and_names_in_any_script_get_an_id(store):
    add(store, "", kind="reducer", name="Vann")
    for name in ("Blåbær", "Blabar", "!!!"):
        add(store, line="", name=name)
    ids = [row.paint_id for row in bottles.every(store)][-3:]
    assert len(set(ids)) == 3


def test_amounts_may_carry_units_and_decimal_commas(store):
    bottle = bottles.one(store, add(store, size_ml="1 fl oz", drop_ul="42,5", pressure_bar="20 psi"))
    assert bottle.size_ml == pytest.approx(29.57, abs=0.01)
    assert bottle.drop_ml == pytest.approx(0.0425)
    assert paints.record(store, bottle.paint_id).pressure_bar == pytest.approx(1.379, abs=0.001)


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"name": "   "}, "name"),
        ({"name": "x" * 41}, "name"),
        ({"name": "nype"}, "name"),
        ({"colour": "splorch"}, "colour"),
        ({"colour": ""}, "colour"),
        ({"kind": "gravy"}, "kind"),
        ({"size_ml": "-1"}, "size_ml"),
        ({"size_ml": "nan"}, "size_ml"),
        ({"size_ml": "30 parsecs"}, "size_ml"),
        ({"size_ml": ""}, "size_ml"),
        ({"drop_ul": "3 ml"}, "drop_ul"),
        ({"opened_on": "last week"}, "opened_on"),
        ({"state": "haunted"}, "state"),
        ({"discontinued": "perhaps"}, "discontinued"),
        ({"place": "x" * 41}, "place"),
    ],
)
def test_what_cannot_be_put_on_the_shelf_is_said_by_field_and_nothing_is_half_there(store, changes, field):
    before = len(paints.all_profiles(store)), len(bottles.every(store))
    with pytest.raises(InvalidInput) as caught:
        add(store, **{"colour": COLOUR} | changes)
    assert caught.value.field == field
    assert (len(paints.all_profiles(store)), len(bottles.every(store))) == before
    assert shelf_history.standing(store) == (None, None)


def test_another_bottle_is_full_and_like_the_first(store):
    other = bottles.one(store, keeping.another_bottle(store, 22, at=AT))
    assert (other.full_name, other.left_ml, other.state, other.drop_ml) == ("Rav Nype", 30.0, "sealed", 0.043)
    with pytest.raises(BottleNotFound):
        keeping.another_bottle(store, 9999, at=AT)


def test_a_new_drop_counts_from_now_on_and_recipes_keep_theirs(store):
    before = cup.see(store).cup.volume_ml
    keeping.set_drop(store, 22, 0.06, at=AT)
    assert cup.see(store).cup.volume_ml == before
    cup.start_new(store, at=AT)
    cup.add_bottle(store, 22, at=AT)
    assert np.isclose(cup.see(store).cup.volume_ml, 0.06)


def test_changes_are_taken_back_one_by_one_and_done_again(store):
    keeping.change_bottle(store, 22, {"place": "window", "state": "thick"}, at=AT)
    keeping.change_paint(store, "rav-nype", {"name": "Rose hip", "price": "9,5", "needs_under": "white"}, at=AT)
    assert bottles.one(store, 22).full_name == "Rav Rose hip"
    assert keeping.undo(store, at=AT).did == "changing Rav Nype"
    assert (bottles.one(store, 22).full_name, bottles.one(store, 22).place) == ("Rav Nype", "window")
    keeping.undo(store, at=AT)
    assert (bottles.one(store, 22).place, bottles.one(store, 22).state) == ("rack, middle", "open")
    assert keeping.undo(store, at=AT) is None
    keeping.undo(store, back=False, at=AT)
    keeping.undo(store, back=False, at=AT)
    assert (bottles.one(store, 22).full_name, bottles.one(store, 22).place) == ("Rav Rose hip", "window")
    assert keeping.undo(store, back=False, at=AT) is None


def test_a_new_paint_taken_back_is_off_the_shelf_and_comes_back_by_its_name(store):
    bottle = add(store)
    keeping.undo(store, at=AT)
    assert found(store, "krekling") == []
    assert bottles.one(store, bottle).left_ml == 0.0
    again = bottles.one(store, add(store, "#2a6e5a"))
    assert (again.paint_id, again.left_ml) == ("rav-krekling", 30.0)
    assert [one.version for one in paints.profile_versions(store, "rav-krekling")] == [2, 1]


def test_what_was_changed_elsewhere_since_is_not_taken_back(store):
    keeping.change_bottle(store, 22, {"place": "window"}, at=AT)
    with writing(store):
        bottles.change(store, 22, place="sill")
    with pytest.raises(ChangedSince):
        keeping.undo(store, at=AT)
    assert bottles.one(store, 22).place == "sill"


def test_a_merged_double_gives_its_bottles_and_its_recipes_go_on(store):
    add(store, name="Nype-")
    assert [(one.id, other.name) for one, other in shelf_index.index(store).doubles] == [(22, "Nype-")]
    before = cup.see(store).foreseen.strip.columns[0].patches[1].diffuse.lab
    keeping.merge(store, "rav-nype", "rav-gran", at=AT)
    assert {row.paint_id for row in bottles.of_paint(store, "rav-gran")} == {"rav-gran"}
    assert bottles.one(store, 22).full_name == "Rav Gran"
    assert paints.record(store, "rav-nype").merged_into == "rav-gran"
    assert delta_e(cup.see(store).foreseen.strip.columns[0].patches[1].diffuse.lab, before) > 5
    keeping.undo(store, at=AT)
    assert bottles.one(store, 22).full_name == "Rav Nype"
    assert np.allclose(cup.see(store).foreseen.strip.columns[0].patches[1].diffuse.lab, before)


@pytest.mark.parametrize("into", ["rav-nype", "tynn-medium"])
def test_what_cannot_be_the_same_paint_is_not_merged(store, into):
    with pytest.raises(InvalidInput, match=r"the same paint"):
        keeping.merge(store, "rav-nype", into, at=AT)


def test_a_paint_keeps_its_name_to_itself_and_its_colour(store):
    with pytest.raises(InvalidInput, match="merge the two"):
        keeping.change_paint(store, "rav-nype", {"name": "GRAN"}, at=AT)
    with pytest.raises(InvalidInput, match="cannot become"):
        keeping.change_paint(store, "rav-nype", {"kind": "reducer"}, at=AT)


def test_a_retired_bottle_leaves_the_shelf_and_not_the_cup_and_comes_back(store):
    before = cup.see(store).cup.drops
    keeping.retire(store, 22, at=AT)
    assert [row.id for row in found(store, "nype")] == [52]
    assert [row.bottle.id for row in shelf_index.find(store, WantedBottles("nype", gone=True)).rows] == [22]
    assert cup.see(store).cup.drops == before
    keeping.retire(store, 22, at=AT)
    assert 22 in [row.id for row in found(store, "nype")]


def test_shaking_and_finding_empty(store):
    settled = found(store, "settled")[0]
    keeping.shaken(store, settled.id, at=AT)
    after = bottles.one(store, settled.id)
    assert (after.state, after.shaken_on) == ("open", "2026-11-25")
    keeping.change_bottle(store, settled.id, {"state": "empty"}, at=AT)
    assert bottles.one(store, settled.id).left_ml == 0.0
    keeping.undo(store, at=AT)
    assert bottles.one(store, settled.id).left_ml == pytest.approx(12.0)
