"""A cup as it is really poured: the plan, the drops, the verdicts, the story, the ledger."""

import numpy as np
import pytest

from diachrom.core.light.difference import delta_e
from diachrom.errors import EmptyCup, InstrumentError, InvalidInput
from diachrom.store import bottles, cups, recipes, stories
from diachrom.store.connection import writing
from diachrom.work.files import bundle, bundle_out
from diachrom.work.files.checking import mend_folder
from diachrom.work.match import own_targets, targets
from diachrom.work.mix import cup
from diachrom.work.pour import pouring

AT = "2026-11-25T10:00:00+00:00"


def pour_all(store):
    for line in pouring.see(store).lines:
        for _ in range(line.planned):
            cup.pour(store, line.row.bottle.id, 1, at=AT)


def test_a_cup_is_poured_by_its_plan_judged_corrected_and_saved_with_its_story(store):
    cup.open_recipe(store, 10, at=AT)
    own_targets.from_recipe(store, 10, at=AT)
    before = cups.now(store).draft
    pouring.start(store, at=AT)
    seen = pouring.see(store)
    assert seen.planned
    assert seen.lab is None
    assert sum(line.planned for line in seen.lines) == before.drops
    assert seen.next_bottle == seen.lines[0].row.bottle.id
    pour_all(store)
    seen = pouring.see(store)
    assert seen.next_bottle is None
    assert seen.delta_e < 0.3
    black = bottles.of_paint(store, "torv-sot")[0]
    cup.give(store, black.id, 1, at=AT)
    pouring.judge(store, "too dark", at=AT)
    cup.give(store, bottles.of_paint(store, "grunn-hvit")[0].id, 3, at=AT)
    pouring.judge(store, "right", at=AT)
    seen = pouring.see(store)
    assert [one.verdict.words for one in seen.told if one.verdict] == ["too dark", "right"]
    assert [one.drops for one in seen.told[-4:]] == [1, 0, 3, 0]
    assert len(seen.path) >= len(seen.told) - 1
    assert seen.path[-4][0] < seen.path[-5][0]  # darker with the black
    left = black.left_ml
    done = pouring.finish(store, at=AT)
    assert done.is_new
    assert bottles.one(store, black.id).left_ml == pytest.approx(left - black.drop_ml)
    told, way = pouring.story_of(store, done.saved)
    assert told == list(seen.told)
    assert delta_e(way[-1], seen.lab) < 0.1
    again = pouring.finish(store, at=AT)
    assert (again.is_new, again.taken.bottles) == (False, 0)


def test_undo_takes_a_verdict_back_and_brings_the_counted_cup_back(store):
    counted = cups.now(store).draft
    pouring.start(store, at=AT)
    with pytest.raises(EmptyCup):
        pouring.judge(store, "right", at=AT)
    pour_all(store)
    pouring.judge(store, "too red", at=AT)
    assert pouring.see(store).told[-1].verdict.words == "too red"
    assert cup.undo(store) == "the verdict “too red”"
    assert pouring.see(store).told[-1].verdict is None
    for _ in range(counted.drops + 1):
        cup.undo(store)
    assert cups.now(store).draft == counted
    with pytest.raises(InvalidInput, match="no verdict"):
        pouring.judge(store, "mauve", at=AT)
    cup.start_new(store, at=AT)
    with pytest.raises(EmptyCup):
        pouring.start(store, at=AT)


def test_a_reader_says_what_the_puff_is_and_a_failed_reading_keeps_nothing(store, unplugged, request):
    own_targets.from_recipe(store, 10, at=AT)
    with pytest.raises(InstrumentError, match="unplugged"):
        pouring.read_paper(store, unplugged, "bench", at=AT)
    assert all(one.verdict is None for one in pouring.see(store).told)
    devices = request.getfixturevalue("devices")
    verdict = pouring.read_paper(store, devices, "bench", at=AT)
    assert verdict.words.endswith(
        f"dE {delta_e(np.array(verdict.lab), targets.point(targets.active_target(store)[0])):.1f}"
    )
    assert pouring.see(store).told[-1].verdict == verdict


def test_stories_go_out_and_come_in_with_the_recipes(store, tmp_path):
    pouring.start(store, at=AT)
    pour_all(store)
    pouring.judge(store, "right", at=AT)
    saved = pouring.finish(store, at=AT).saved
    document = bundle.read("all.json", bundle_out.write(store))
    version = next(one for one in document.recipes if one.number == saved.recipe).versions[saved.version - 1]
    assert version.story[-1].verdict.words == "right"
    assert recipes.version(store, saved.recipe).version == saved.version
    with pytest.raises(Exception, match="a story never changes"), writing(store):
        store.execute("UPDATE recipe_story SET told = '[]'")
    assert stories.of(store, 999, 1) == []


def test_back_from_the_cup_stands_what_was_counted_until_a_drop_has_fallen(store, client, bench):
    cup.open_recipe(store, 10, at=AT)
    counted = cups.now(store).draft
    pouring.start(store, at=AT)
    page = client.get("/mix").text
    assert f"Poured 0 of {counted.drops} drops" in page
    assert "Back to the counted cup" in page
    client.post("/pour/back")
    assert cups.now(store).draft == counted
    pouring.start(store, at=AT)
    first = pouring.see(store).lines[0].row.bottle.id
    cup.pour(store, first, 1, at=AT)
    client.post("/pour/back")
    assert cups.now(store).draft.drops == 1
    assert f"Poured 1 of {counted.drops} drops" in client.get("/mix").text
    # Started again it goes on by the same count; taken back by hand to nothing, the count comes back too.
    pouring.start(store, at=AT)
    assert sum(line.planned for line in pouring.see(store).lines) == counted.drops
    cup.pour(store, first, -1, at=AT)
    mend_folder(bench)
    assert {(part.bottle, part.drops) for part in cups.now(store).draft.parts} == {
        (part.bottle, part.drops) for part in counted.parts
    }
    assert cups.now(store).recipe == 10
