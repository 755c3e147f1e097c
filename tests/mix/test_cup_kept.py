"""What a painter can do with the cup: pour, undo, save, open again, and nothing is lost on the way."""

from concurrent.futures import ThreadPoolExecutor

import pytest

from diachrom.core.mix.draft import Draft
from diachrom.errors import BadDrops, BottleNotFound, BottleNotInCup, EmptyCup, InvalidInput, RecipeNotFound
from diachrom.store import bottles, cups, recipes
from diachrom.store.connection import connected, writing
from diachrom.work.mix import cup
from diachrom.work.recipes import recipe_list
from diachrom.work.shelf.on_shelf import to_pour

AT = "2026-11-25T10:00:00+00:00"


@pytest.fixture
def store(bench):
    with connected(bench) as connection:
        cup.start_new(connection, at=AT)
        yield connection


def bottle(store, name):
    return to_pour(store, name, most=1)[0].bottle.id


def mixed(store, **drops):
    """mixed(store, gull=6, nype=2): a cup with these drops; returns the bottles' numbers."""
    numbers = {name: bottle(store, name) for name in drops}
    for name, number in numbers.items():
        cup.add_bottle(store, number, at=AT)
        cup.set_drops(store, number, drops[name], at=AT)
    return numbers


def test_a_char_orange_is_lighter_on_the_bait_than_in_the_cup(store):
    mixed(store, gull=6, kritt=1, nype=2)
    seen = cup.see(store)
    white = seen.foreseen.strip.columns[0]
    assert white.over.key == "white"
    assert white.patches[1].diffuse.lab[0] > seen.foreseen.strip.cup.lab[0] + 5


def test_a_drop_of_black_is_added_and_undone_and_done_again(store):
    numbers = mixed(store, gull=6)
    before = cups.now(store).draft
    cup.add_bottle(store, bottle(store, "sot"), at=AT)
    after = cups.now(store).draft
    assert cup.undo(store) == "1 drop of Torv Sot"
    assert cups.now(store).draft == before
    assert cup.undo(store, back=False) == "1 drop of Torv Sot"
    assert cups.now(store).draft == after
    assert cups.now(store).redo is None
    # A new step after an undo takes its place.
    cup.undo(store)
    cup.pour(store, numbers["gull"], 1, at=AT)
    assert cup.undo(store, back=False) is None


def test_undo_goes_back_to_the_empty_bench_and_then_says_that_there_is_nothing(bench):
    with connected(bench) as connection:
        with writing(connection):
            connection.execute("DELETE FROM cup")
            connection.execute("DELETE FROM cup_step")
        cup.add_bottle(connection, 1, at=AT)
        assert cup.undo(connection) == "1 drop of Grunn Hvit"
        assert cups.now(connection).draft == Draft()
        assert cup.undo(connection) is None


def test_drops_never_go_below_none_nor_beyond_what_can_be_counted(store):
    gull = mixed(store, gull=3)["gull"]
    cup.pour(store, gull, -10, at=AT)
    assert cups.now(store).draft.part(gull).drops == 0
    with pytest.raises(BadDrops, match="Rav Gull"):
        cup.set_drops(store, gull, "many", at=AT)
    cup.set_drops(store, gull, 500, at=AT)
    with pytest.raises(BadDrops, match="Rav Gull"):
        cup.pour(store, gull, 1, at=AT)
    assert cups.now(store).draft.part(gull).drops == 500


def test_a_bottle_that_is_not_there_is_named(store):
    with pytest.raises(BottleNotFound, match="999"):
        cup.add_bottle(store, 999, at=AT)
    with pytest.raises(BottleNotFound):
        cup.add_bottle(store, 10**30, at=AT)
    with pytest.raises(BottleNotInCup):
        cup.pour(store, 1, 1, at=AT)


def test_saving_makes_a_recipe_then_versions_with_parents_and_old_versions_stay(store):
    numbers = mixed(store, gull=6, nype=2)
    cup.call_it(store, name="  Char orange ", note="first", at=AT)
    first, is_new = cup.save(store, at=AT)
    assert is_new
    assert (first.version, first.parent_version, first.draft.name) == (1, None, "Char orange")
    assert not cup.see(store).saved.changed

    cup.pour(store, numbers["nype"], 1, at=AT)
    assert cup.see(store).saved.changed
    second, _ = cup.save(store, at=AT)
    assert (second.recipe, second.version, second.parent_version) == (first.recipe, 2, 1)
    assert recipes.version(store, first.recipe, 1).draft == first.draft

    # From an old version the next save is a branch: version 3 whose parent is 1.
    cup.open_recipe(store, first.recipe, 1, at=AT)
    cup.pour(store, numbers["gull"], 1, at=AT)
    third, _ = cup.save(store, at=AT)
    assert (third.version, third.parent_version) == (3, 1)


def test_saving_twice_makes_no_double_and_undo_after_saving_remembers_the_recipe(store):
    numbers = mixed(store, gull=6)
    cup.call_it(store, name="Yellow", note="", at=AT)
    cup.pour(store, numbers["gull"], 1, at=AT)
    first, _ = cup.save(store, at=AT)
    again, is_new = cup.save(store, at=AT)
    assert (again.recipe, again.version, is_new) == (first.recipe, 1, False)
    cup.undo(store)
    second, _ = cup.save(store, at=AT)
    assert (second.recipe, second.version) == (first.recipe, 2)


def test_two_saves_at_the_same_moment_make_one_recipe(store, bench):
    mixed(store, gull=6)
    cup.call_it(store, name="Yellow", note="", at=AT)

    def save(_):
        with connected(bench) as connection:
            return cup.save(connection, at=AT)

    with ThreadPoolExecutor(6) as pool:
        results = list(pool.map(save, range(6)))
    assert len({(saved.recipe, saved.version) for saved, _ in results}) == 1
    assert sum(is_new for _, is_new in results) == 1


def test_ten_hands_pouring_at_once_lose_no_drop(store, bench):
    gull = mixed(store, gull=0)["gull"]

    def pour(_):
        with connected(bench) as connection:
            for _ in range(5):
                cup.pour(connection, gull, 1, at=AT)

    with ThreadPoolExecutor(10) as pool:
        list(pool.map(pour, range(10)))
    assert cups.now(store).draft.part(gull).drops == 50


def test_an_opened_recipe_pours_the_same_even_when_the_bottles_dropper_has_changed_since(store):
    mixed(store, gull=6, nype=2)
    cup.call_it(store, name="Orange", note="", at=AT)
    saved, _ = cup.save(store, at=AT)
    before = cup.see(store).cup
    cup.start_new(store, at=AT)
    with writing(store):
        store.execute("UPDATE bottle SET drop_ml = 0.07")
    cup.open_recipe(store, saved.recipe, at=AT)
    after = cup.see(store)
    assert after.cup.volume_ml == before.volume_ml
    assert list(after.cup.fractions) == list(before.fractions)


def test_opening_a_recipe_can_be_undone(store):
    mixed(store, gull=6)
    before = cups.now(store)
    cup.open_recipe(store, 1, at=AT)
    assert cup.undo(store) == "opening recipe 1"
    assert cups.now(store).draft == before.draft
    assert cups.now(store).recipe is None


@pytest.mark.parametrize(
    ("name", "drops", "error"),
    [("   ", 1, InvalidInput), ("", 1, InvalidInput), ("Orange", 0, EmptyCup)],
)
def test_what_cannot_be_saved_says_why_and_leaves_the_cup(store, name, drops, error):
    mixed(store, gull=drops)
    cup.call_it(store, name=name, note="", at=AT)
    before = cups.now(store).draft
    count = len(recipes.newest_versions(store))
    with pytest.raises(error):
        cup.save(store, at=AT)
    assert cups.now(store).draft == before
    assert len(recipes.newest_versions(store)) == count


def test_a_name_of_ten_thousand_characters_is_refused_and_a_bell_in_it_is_dropped(store):
    with pytest.raises(InvalidInput, match=r"name has 10000 characters; at most 80"):
        cup.call_it(store, name="x" * 10_000, note="", at=AT)
    cup.call_it(store, name="Bell\x07 <b>", note="one\ntwo", at=AT)
    assert cups.now(store).draft.name == "Bell <b>"
    assert cups.now(store).draft.note == "one\ntwo"


def test_an_unknown_recipe_or_version_is_named(store):
    with pytest.raises(RecipeNotFound, match="Recipe 999 does not exist"):
        cup.open_recipe(store, 999, at=AT)
    with pytest.raises(RecipeNotFound, match="Version 9 of recipe 1"):
        cup.open_recipe(store, 1, 9, at=AT)
    with pytest.raises(RecipeNotFound):
        recipe_list.versions(store, 10**40)


def test_the_book_is_searched_by_number_name_note_and_paint(store):
    def found(query, **more):
        return [one.saved.draft.name for one in recipe_list.listed(store, query, **more).recipes]

    assert found("CHAR belly") == ["Autumn char, belly"]
    assert found("rav lyng prawn") == ["Spring prawn, body"]
    assert found("netting") == ["Lumpsucker, mottle"]
    assert found("10 char") == ["Autumn char, belly"]
    first, rest = recipe_list.listed(store, most=10), recipe_list.listed(store, start=10, most=10)
    assert (len(first.recipes), first.more, len(rest.recipes), rest.more) == (10, True, 5, False)


def test_the_demo_bench_has_its_paints_and_recipes(store):
    rows = bottles.every(store)
    assert len({row.paint_id for row in rows}) >= 28
    assert len({row.drop_ml for row in rows}) >= 8
    assert len(recipes.newest_versions(store)) >= 8
