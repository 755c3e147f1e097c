"""What stands in is taken over as a recipe's next version, in whole drops from real bottles."""

import pytest

from diachrom.core.light.difference import delta_e
from diachrom.errors import BottleNotFound, InvalidInput, PaintNotFound
from diachrom.store import recipes
from diachrom.work.profiles import substitutes
from diachrom.work.recipes import recipe_list

AT = "2026-11-25T10:00:00+00:00"


def test_a_stand_in_comes_from_bottles_that_can_be_poured_and_keeps_the_recipes_colour(store):
    found = substitutes.substitutes_for(store, "rav-nype")
    best = found.mixes[0]
    assert [one.recipe for one in found.recipes] == [10]
    assert all(row.bottle.left_ml > 0 and row.bottle.paint_id != "rav-nype" for row, _ in best.parts)
    saved = substitutes.take_over(store, 10, "rav-nype", best.key, at=AT)
    assert (saved.version, saved.parent_version) == (3, 2)
    assert saved.draft.note.startswith("Rav Nype replaced by ")
    strips = [strip.columns[0].patches[1].diffuse.lab for _, strip in recipe_list.versions(store, 10)]
    assert delta_e(strips[0], strips[1]) < 5.0  # the same at arm's length
    old = {part.bottle: part.drops for part in recipes.version(store, 10, 2).draft.parts}
    new = {part.bottle: part.drops for part in saved.draft.parts}
    assert 22 not in new
    kept = [new[bottle] / old[bottle] for bottle in (4, 37) if bottle in new]
    assert kept[0] == kept[1] == round(kept[0])


def test_shares_are_met_by_taking_the_recipe_more_than_once(store):
    saved = substitutes.take_over(store, 10, "rav-nype", "21x1-23x6", at=AT)
    drops = {part.bottle: part.drops for part in saved.draft.parts}
    assert drops[23] / drops[21] == pytest.approx(6 * 0.045 / 0.044, rel=0.25)
    assert drops[18] % 6 == 0
    assert drops[18] > 6
    assert f"{drops[18] // 6} times as much" in saved.draft.note


def test_a_stand_in_that_is_in_the_recipe_already_gets_more_drops(store):
    saved = substitutes.take_over(store, 10, "rav-nype", "18x1", at=AT)
    assert {part.bottle: part.drops for part in saved.draft.parts}[18] == 8


@pytest.mark.parametrize("key", ["", "x", "18", "18x0", "18x99", "18x1-", "-1x4", "18x1x1", "9" * 20 + "x1"])
def test_a_key_that_names_no_bottles_is_refused(store, key):
    with pytest.raises(InvalidInput):
        substitutes.take_over(store, 10, "rav-nype", key, at=AT)


def test_what_cannot_be_stood_in_for_is_said(store):
    with pytest.raises(InvalidInput, match="has no colour"):
        substitutes.substitutes_for(store, "tynn-medium")
    with pytest.raises(PaintNotFound):
        substitutes.substitutes_for(store, "no-such")
    with pytest.raises(InvalidInput, match="does not name that paint"):
        substitutes.take_over(store, 1, "rav-nype", "18x1", at=AT)
    with pytest.raises(BottleNotFound):
        substitutes.take_over(store, 10, "rav-nype", "999x1", at=AT)
    assert recipes.version(store, 10).version == 2
