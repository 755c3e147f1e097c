"""The ledger: pours by which mix, corrections, spills, jars, weeks, reminders, and the shopping list."""

import numpy as np
import pytest

from diachrom.core.light.difference import delta_e
from diachrom.core.mix.hand import Hand
from diachrom.errors import InvalidInput, RecipeNotFound
from diachrom.store import bottles, paints
from diachrom.store.connection import writing
from diachrom.work.files.checking import check_folder, mend_folder
from diachrom.work.mix import charging, cup
from diachrom.work.mix.contents import contents, cup_of
from diachrom.work.recipes import recipe_list
from diachrom.work.shelf import keeping, shopping, stock

AT = "2026-11-25T10:00:00+00:00"


def left(store, bottle):
    return bottles.one(store, bottle).left_ml


def test_what_is_left_is_corrected_by_an_entry(store):
    entries = len(bottles.ledger(store, 22))
    stock.correct(store, 22, 5.5, at=AT)
    stock.correct(store, 22, 5.5, at=AT)
    assert left(store, 22) == pytest.approx(5.5)
    ledger = bottles.ledger(store, 22)
    assert (len(ledger), ledger[0].kind) == (entries + 1, "corrected")
    assert ledger[0].ml == pytest.approx(-2.5)
    for bad in (-1.0, 31.0, float("nan")):
        with pytest.raises(InvalidInput, match=r"Rav Nype: a 30 ml bottle holds 0 to 30 ml"):
            stock.correct(store, 22, bad, at=AT)


def test_nothing_is_spilled_that_is_not_there_and_undo_appends(store):
    stock.happened(store, 22, "spilled", 2.0, note="elbow", at=AT)
    assert left(store, 22) == pytest.approx(6.0)
    with pytest.raises(InvalidInput, match="Correct what is left first"):
        stock.happened(store, 22, "thrown away", 7.0, at=AT)
    entries = len(bottles.ledger(store, 22))
    keeping.undo(store, at=AT)
    assert left(store, 22) == pytest.approx(8.0)
    ledger = bottles.ledger(store, 22)
    assert (len(ledger), ledger[0].note) == (entries + 1, "taken back: 2 ml of Rav Nype spilled")


def test_a_cup_takes_its_drops_once_and_then_only_what_has_come_since(store):
    before = {number: left(store, number) for number in (18, 4, 22, 37)}
    taken = charging.take_from_stock(store, at=AT)
    assert (taken.bottles, taken.ml) == (4, pytest.approx(cup.see(store).cup.volume_ml))
    assert charging.take_from_stock(store, at=AT).bottles == 0
    cup.pour(store, 22, 2, at=AT)
    assert charging.take_from_stock(store, at=AT).ml == pytest.approx(2 * 0.043)
    assert before[22] - left(store, 22) == pytest.approx(5 * 0.043)
    entry = bottles.ledger(store, 22)[0]
    assert (entry.kind, entry.recipe, entry.version) == ("poured", 10, 2)
    cup.pour(store, 22, -1, at=AT)
    charging.take_from_stock(store, at=AT)
    assert before[22] - left(store, 22) == pytest.approx(4 * 0.043)
    # Taken back, it can be poured again.
    for _ in range(3):
        keeping.undo(store, at=AT)
    assert before[22] == pytest.approx(left(store, 22))
    assert charging.take_from_stock(store, at=AT).ml == pytest.approx(cup.see(store).cup.volume_ml)


def test_more_than_was_left_may_be_poured_and_is_never_silent(store):
    stock.correct(store, 22, 0.1, at=AT)
    taken = charging.take_from_stock(store, at=AT)
    assert list(taken.below) == ["Rav Nype"]
    assert left(store, 22) == pytest.approx(0.1 - 3 * 0.043)
    cup.start_new(store, at=AT)
    with pytest.raises(InvalidInput, match="The cup is empty"):
        charging.take_from_stock(store, at=AT)


def test_a_sealed_bottle_is_open_once_it_was_poured_from(store):
    spare = next(one for one in bottles.of_paint(store, "rav-nype") if one.state == "sealed")
    cup.start_new(store, at=AT)
    cup.add_bottle(store, spare.id, at=AT)
    charging.take_from_stock(store, at=AT)
    after = bottles.one(store, spare.id)
    assert (after.state, after.opened_on) == ("open", "2026-11-25")


def test_an_own_mix_in_a_jar_looks_like_its_recipe_and_goes_into_recipes(store):
    before = left(store, 18)
    jar = charging.keep_in_jar(store, 10, 2, 20.0, at=AT)
    bottle = bottles.one(store, jar)
    assert (bottle.line, bottle.recipe, bottle.left_ml, bottle.bought_on) == ("Own mix", 10, 20.0, "2026-11-25")
    saved = recipe_list.versions(store, 10)[0][0].saved
    mixed = cup_of(contents(store, saved.draft))
    assert before - left(store, 18) == pytest.approx(20.0 * 6 * 0.045 / mixed.volume_ml)
    cup.start_new(store, at=AT)
    cup.add_bottle(store, jar, at=AT)
    over = cup.columns_of(store, saved.draft)
    one, other = (cup.strip_of(own, saved.draft, over, hand=Hand()) for own in (cup_of(contents(store)), mixed))
    for mine, theirs in zip(one.columns, other.columns, strict=True):
        assert delta_e(mine.patches[1].diffuse.lab, theirs.patches[1].diffuse.lab) < 0.01
    cup.call_it(store, name="With the jar", note="", at=AT)
    assert cup.save(store, at=AT)[1]
    again = charging.keep_in_jar(store, 10, 2, 5.0, at=AT)
    assert bottles.one(store, again).paint_id == bottle.paint_id


def recipe_of(store, name, bottle):
    cup.start_new(store, at=AT)
    cup.add_bottle(store, bottle, at=AT)
    cup.call_it(store, name=name, note="", at=AT)
    return cup.save(store, at=AT)[0].recipe


def test_a_jar_is_known_by_its_recipe_and_not_by_what_that_is_called(store):
    chalk, soot = (recipe_of(store, "Belly", number) for number in (1, 2))
    long = recipe_of(store, "Belly " * 9 + "of pike", 3)
    light, dark, other = (charging.keep_in_jar(store, one, None, 8.0, at=AT) for one in (chalk, soot, long))
    found = [bottles.one(store, one) for one in (light, dark)]
    assert [one.recipe for one in found] == [chalk, soot]
    assert [one.name for one in found] == ["Belly v1", f"Belly v1 (recipe {soot})"]
    for jar, own in ((light, 1), (dark, 2)):
        mine, theirs = (paints.profile(store, bottles.one(store, one).paint_id) for one in (jar, own))
        assert mine.scattering == pytest.approx(theirs.scattering)
    assert bottles.one(store, other).name.endswith("v1")  # a long name loses its end, never its version
    assert (bottles.ledger(store, dark)[0].recipe, bottles.ledger(store, dark)[0].version) == (soot, 1)
    keeping.change_paint(store, found[1].paint_id, {"name": "Belly v1 dark"}, at=AT)
    again = charging.keep_in_jar(store, soot, 1, 2.0, at=AT)
    assert bottles.one(store, again).paint_id == found[1].paint_id


def test_jars_that_were_kept_by_their_names_are_found_and_put_right(store, bench):
    chalk, soot = (recipe_of(store, "Belly", number) for number in (1, 2))
    jars = [charging.keep_in_jar(store, one, None, 8.0, at=AT) for one in (chalk, soot)]
    wrong = bottles.one(store, jars[0]).paint_id
    with writing(store):
        bottles.change(store, jars[1], paint_id=wrong)
    assert [one for one in check_folder(bench) if f"recipe {soot}, version 1" in one]
    _, done = mend_folder(bench)
    assert any(f"Bottle {jars[1]}" in one for one in done)
    assert bottles.one(store, jars[1]).recipe == soot
    assert check_folder(bench) == []


def test_a_jar_of_before_the_ledger_told_its_recipe_is_believed_only_where_it_was_made(store, bench):
    chalk, soot = (recipe_of(store, "Belly", number) for number in (1, 2))
    paint_id = bottles.one(store, charging.keep_in_jar(store, chalk, None, 8.0, at=AT)).paint_id
    with writing(store):
        old = bottles.add(store, paint_id=paint_id, size_ml=5.0, drop_ml=0.05)
        bottles.enter(store, bottle=old, at=AT, kind="bought", ml=5.0, note=f"left of recipe {soot}")
    assert [one for one in check_folder(bench) if one.startswith(f"Bottle {old}, ")]
    with writing(store):  # as it is called where it came from
        paints.change(store, paint_id, note="recipe 99")
    assert check_folder(bench) == []


def test_flakes_and_dyes_keep_their_share_in_a_jar_and_two_kinds_are_refused(store):
    jar = bottles.one(store, charging.keep_in_jar(store, 12, None, 10.0, at=AT))
    pearl, own = paints.profile(store, "perlemor-blaa"), paints.profile(store, jar.paint_id)
    assert (own.kind, own.flake.thickness_nm) == ("pearl", 120.0)
    share = 6 * 0.053 / (6 * 0.053 + 1 * 0.044 + 3 * 0.049)
    assert own.flake.cover_per_um == pytest.approx(share * pearl.flake.cover_per_um)
    candy = bottles.one(store, charging.keep_in_jar(store, 5, None, 10.0, at=AT))
    assert 0.05 < paints.profile(store, candy.paint_id).bleeds <= 0.12
    cup.start_new(store, at=AT)
    for number in (39, 40):
        cup.add_bottle(store, number, at=AT)
    cup.call_it(store, name="Two pearls", note="", at=AT)
    saved, _ = cup.save(store, at=AT)
    with pytest.raises(InvalidInput, match="Two kinds of flakes"):
        charging.keep_in_jar(store, saved.recipe, None, 5.0, at=AT)
    with pytest.raises(RecipeNotFound):
        charging.keep_in_jar(store, 999, None, 5.0, at=AT)


def test_weeks_follow_from_the_pours_of_the_last_eight(store):
    bottle = bottles.one(store, 5)
    poured = bottles.poured_since(store, stock.rate_since(AT), [5])[5]
    assert stock.weeks_left(store, [bottle], at=AT)[5] == pytest.approx(bottle.left_ml / (poured / 8))
    assert stock.weeks_left(store, [bottle], at="2031-01-01T00:00:00+00:00") == {}


def test_what_settles_or_ages_is_said(store):
    assert any(one.startswith("shake well: 15") for one in stock.see_bottle(store, 40, at=AT).reminders)
    assert stock.see_bottle(store, 40, at="2029-01-01T00:00:00+00:00").reminders[1].startswith("open for")
    keeping.shaken(store, 40, at=AT)
    assert stock.see_bottle(store, 40, at=AT).reminders == []


def test_the_shopping_list_has_what_is_short_for_what_is_coming_and_what_runs_low(store):
    rows = {row.bottle.full_name: row for row in shopping.shopping_list(store, at=AT).rows}
    gull = rows["Rav Gull"]
    assert gull.why == "10.5 ml short of what is coming"
    assert (gull.count, gull.price, gull.needed_ml) == (1, 6.5, pytest.approx(21.54, abs=0.01))
    assert (rows["Torv Koral"].discontinued, rows["Torv Koral"].price) == (True, None)
    shopping.put_down(store, 10, 0.0, at=AT)
    assert "Rav Gull" not in {row.bottle.full_name for row in shopping.shopping_list(store, at=AT).rows}
    shopping.put_down(store, 10, 500.0, at=AT)
    found = shopping.shopping_list(store, at=AT)
    row = next(row for row in found.rows if row.bottle.full_name == "Rav Gull")
    assert row.count == 8
    assert found.price == pytest.approx(sum(one.price for one in found.rows if one.price is not None))
    with pytest.raises(InvalidInput):
        shopping.put_down(store, 10, 1e9, at=AT)
    with pytest.raises(RecipeNotFound):
        shopping.put_down(store, 999, 5.0, at=AT)


def test_a_bottle_that_lasts_under_four_weeks_is_bought_though_it_is_half_full(store):
    before = left(store, 9)
    with writing(store):
        for day in range(1, 20):
            bottles.enter(store, bottle=9, at=f"2026-11-{day:02d}T10:00:00+00:00", kind="poured", ml=-1.1)
    row = next(row for row in shopping.shopping_list(store, at=AT).rows if row.bottle.id == 9)
    assert np.isclose(row.left_ml, before - 19 * 1.1)
    assert row.weeks < 4
    assert row.why.startswith("lasts")
