"""Finding bottles by words, colours and filters; the index follows every change."""

import pytest

from diachrom.core.light.difference import delta_e
from diachrom.core.light.screen import hex_to_lab
from diachrom.store import bottles
from diachrom.work.shelf import keeping, on_shelf, shelf_index, stock
from diachrom.work.shelf.shelf_index import WantedBottles

AT = "2026-11-25T10:00:00+00:00"


def found(store, query="", **filters):
    return [row.bottle for row in shelf_index.find(store, WantedBottles(query, **filters)).rows]


def test_bottles_are_found_by_parts_of_names_kinds_places_and_notes(store):
    assert found(store, "nyp")[0].full_name == "Rav Nype"
    assert {row.kind for row in found(store, "CANDY")} == {"candy"}
    assert [row.name for row in found(store, "torv ko")] == ["Koral"]
    assert {row.place for row in found(store, "drawer")} == {"drawer"}
    assert found(store, "smells like")[0].state == "unreadable label"
    assert found(store, "discontinued")[0].name == "Koral"
    assert found(store, "no such paint") == []
    assert len(found(store)) == len(bottles.every(store))


def test_what_begins_a_name_comes_before_what_has_it_anywhere(store):
    names = [row.full_name for row in found(store, "gul")]
    assert names[:3] == ["Torv Gulrot", "Rav Gull", "Lykt Gul"]


@pytest.mark.parametrize("query", ["dark olive", "#3b3f1c", "3b3f1c"])
def test_a_colour_sorts_by_nearness(store, query):
    result = shelf_index.find(store, WantedBottles(query))
    assert {row.bottle.name for row in result.rows[:2]} == {"Tang", "Mose"}
    assert list(result.distances) == sorted(result.distances)
    assert result.colour_words
    assert not any(row.bottle.kind in ("reducer", "medium") for row in result.rows)


def test_words_beside_a_colour_filter_and_a_word_of_a_name_is_no_colour(store):
    result = shelf_index.find(store, WantedBottles("rav red"))
    assert result.colour is not None
    assert {row.bottle.line for row in result.rows} == {"Rav"}
    assert "Nype" in {row.bottle.name for row in result.rows[:2]}
    keeping.change_bottle(store, 5, {"bottle_note": "dark olive in the cup"}, at=AT)
    assert [row.id for row in found(store, "dark olive")] == [5]


def test_filters_combine(store):
    low = found(store, low=True)
    assert {row.name for row in low} == {"Koral", "Melk"}
    assert found(store, low=True, kinds=("opaque",))[0].name == "Koral"
    assert found(store, "rav", place="rack, middle", kinds=("transparent",)) == found(
        store, "rav", place="rack, middle"
    )
    assert found(store, kinds=("ink",), place="cupboard") == []
    keeping.add_paint(store, {"name": "New", "kind": "ink", "size_ml": "30", "colour": "#123456"}, at=AT)
    assert [row.name for row in found(store, measured="no")] == ["New"]
    assert "New" not in {row.name for row in found(store, measured="yes")}


def test_the_shelf_stands_by_hue_by_kind_by_what_runs_low_and_by_name(store):
    shares = [row.left_ml / row.size_ml for row in found(store, order="low")]
    assert shares == sorted(shares)
    names = [row.full_name.casefold() for row in found(store, order="name")]
    assert names == sorted(names)
    kinds = [row.kind for row in found(store, order="kind")]
    assert len([at for at in range(1, len(kinds)) if kinds[at] != kinds[at - 1]]) == len(set(kinds)) - 1
    hues = [row.full_name for row in found(store, order="hue")]
    assert hues.index("Torv Rogn") < hues.index("Torv Smor") < hues.index("Rav Gran") < hues.index("Torv Hav")
    assert hues.index("Torv Hav") < hues.index("Torv Kritt") < hues.index("Tynn reducer")


def test_the_index_is_kept_while_nothing_changes_and_follows_each_change(store):
    first = shelf_index.index(store)
    assert shelf_index.index(store) is first
    stock.correct(store, 22, 1.0, at=AT)
    second = shelf_index.index(store)
    assert second is not first
    assert [row.condition for row in second.rows if row.bottle.id == 22] == ["nearly gone"]
    same = [one is other for one, other in zip(first.rows, second.rows, strict=True)]
    assert same.count(False) == 1


def test_colours_are_those_of_the_looks(store):
    whole = shelf_index.index(store)
    for at, row in enumerate(whole.rows):
        bead = on_shelf.seen(store, [row.bottle])[0].look.bead
        if bead is not None:
            assert delta_e(whole.labs[at], bead.lab) < 1e-6


def test_pages_hold_together(store):
    first = on_shelf.page(store, WantedBottles(), most=40)
    rest = on_shelf.page(store, WantedBottles(), start=40, most=40)
    assert (first.more, rest.more, len(rest.rows)) == (True, False, len(bottles.every(store)) - 40)
    assert on_shelf.page(store, WantedBottles(), start=10**6, most=40).rows == []
    assert hex_to_lab("#12345") is None
