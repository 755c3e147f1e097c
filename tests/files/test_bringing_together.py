"""Two states of one shelf: a JSON document brought onto an older one, and two that went apart."""

import json
from dataclasses import replace
from shutil import copyfile

import pytest
from shelf_document import bring, out

from diachrom.store import (
    bottles,
    contrast_cards,
    hand_factor,
    paints,
    planned_mixes,
    recipes,
    rounds,
    targets,
    test_cards,
    weighings,
)
from diachrom.store.connection import connected, database, writing
from diachrom.store.migrate import migrate
from diachrom.store.targets import SeenAs
from diachrom.work.files.checking import check_folder
from diachrom.work.kit import bench_settings
from diachrom.work.mix.charging import keep_in_jar
from diachrom.work.shelf import keeping

AT = "2026-11-27T10:00:00+00:00"
LATER = "2026-11-28T10:00:00+00:00"


@pytest.fixture
def two(copied, tmp_path):
    """The same bench twice."""
    folders = tmp_path / "one", tmp_path / "other"
    for folder in folders:
        folder.mkdir()
        copyfile(copied, database(folder))
    with connected(folders[0]) as one, connected(folders[1]) as other:
        yield one, other


def pour(store, at, ml=-2.0):
    with writing(store):
        bottles.enter(store, bottle=22, at=at, kind="poured", ml=ml, note="x", recipe=10, version=2)


def measure(store, at, source):
    with writing(store):
        paints.add_profile(store, paints.profile(store, "rav-nype"), paint_id="rav-nype", source=source, at=at)


def again(store, at, name):
    draft = recipes.version(store, 10).draft
    with writing(store):
        return recipes.add_version(store, replace(draft, name=name), recipe=10, parent_version=2, at=at)


def read_card(store, at):
    with writing(store):
        patch = test_cards.one(store, 18).patches[0]
        number = test_cards.patch_of(store, 18, patch.ground, patch.coats)
        test_cards.read(store, number, source="eye", lab=(50.0, 1.0, 2.0), predicted=None, at=at)


def told(content):
    """All that is in a document, whatever its order."""

    def plain(value):
        if isinstance(value, dict):
            return {key: plain(one) for key, one in value.items()}
        if isinstance(value, list) and value and isinstance(value[0], dict):
            return sorted((plain(one) for one in value), key=json.dumps)
        return value

    return plain(json.loads(content))


def test_onto_an_older_state_comes_all_that_was_new_and_both_are_equal(two):
    old, new = two
    pour(new, AT)
    measure(new, AT, "contrast card 9")
    again(new, AT, "Brighter belly")
    read_card(new, AT)
    fates = bring(old, out(new))
    assert {name: fate for name, fate in fates.items() if fate != "is there already"} == {
        "bottle 22 of rav-nype": "gains 1 entry of its ledger",
        "Rav Nype": "gains 1 profile",
        "Brighter belly": "gains 1 version",
        "test card 18": "gains 1 reading",
    }
    assert out(old) == out(new)
    assert set(bring(old, out(new)).values()) == {"is there already"}
    assert out(old) == out(new)


def test_two_that_went_apart_hold_both_after_each_was_brought_to_the_other(two, tmp_path):
    one, other = two
    for store, at, name in ((one, AT, "Mine"), (other, LATER, "Theirs")):
        pour(store, at)
        measure(store, at, f"contrast card of {name}")
        again(store, at, name)
        read_card(store, at)
    first, second = out(one), out(other)
    bring(one, second)
    bring(other, first)
    for store in (one, other):
        assert [entry.at for entry in bottles.ledger(store, 22)[:2]] in ([LATER, AT], [AT, LATER])
        assert {version.draft.name for version in recipes.versions(store, 10)} >= {"Mine", "Theirs"}
        assert {version.parent_version for version in recipes.versions(store, 10)[:2]} == {2}
        sources = [version.source for version in paints.profile_versions(store, "rav-nype")]
        assert sources[0] == "contrast card of Theirs"  # the latest of both counts
        assert "contrast card of Mine" in sources
    left = [bottles.by_id(store, [22])[22].left_ml for store in two]
    assert left[0] == pytest.approx(left[1])
    assert told(out(one))["cards"] == told(out(other))["cards"]
    assert check_folder(tmp_path / "one") == check_folder(tmp_path / "other") == []


def test_a_paint_that_was_renamed_there_is_the_same_and_one_that_went_into_another_here_is_that_one(two):
    here, there = two
    with writing(there):
        paints.change(there, "rav-nype", name="Nype, old label")
    before = len(paints.every_record(here))
    bring(here, out(there))
    assert len(paints.every_record(here)) == before
    assert paints.record(here, "rav-nype").name == "Nype"
    with writing(here):
        paints.change(here, "rav-siv", merged_into="rav-nype", retired=1)
    with writing(there):
        bottles.enter(there, bottle=bottles.of_paint(there, "rav-siv")[0].id, at=AT, kind="corrected", ml=1.0, note="x")
    assert len(bring(here, out(there))) > 100
    assert len(paints.every_record(here)) == before


def test_a_jar_that_comes_in_is_no_other_jar_whose_recipe_is_called_alike(two):
    jars = []
    for store, recipe, at in zip(two, (10, 5), (AT, LATER), strict=True):
        draft = replace(recipes.version(store, recipe).draft, name="Belly")
        with writing(store):
            recipes.add_version(store, draft, recipe=recipes.new_recipe(store), parent_version=None, at=at)
        jars.append(bottles.one(store, keep_in_jar(store, recipes.numbers(store)[-1], None, 8.0, at=at)))
    here, there = two
    mine, theirs = jars
    assert mine.name == theirs.name == "Belly v1"
    assert mine.kind != theirs.kind
    for _ in range(2):  # brought again it is the same
        bring(here, out(there))
        came = [one for one in bottles.every(here) if one.name.startswith("Belly v1") and one.id != mine.id]
        assert [(one.kind, one.left_ml) for one in came] == [(theirs.kind, 8.0)]
        assert bottles.one(here, mine.id).paint_id == mine.paint_id != came[0].paint_id


def test_what_was_brought_onto_profiles_and_ledgers_is_taken_back_by_undo(two):
    one, other = two
    pour(one, LATER)
    measure(one, LATER, "contrast card 9")
    left, counted = bottles.one(other, 22).left_ml, paints.profile_versions(other, "rav-nype")[0]
    bring(other, out(one))
    assert bottles.one(other, 22).left_ml == pytest.approx(left - 2)
    assert paints.profile_versions(other, "rav-nype")[0].source == "contrast card 9"
    keeping.undo(other, at=LATER)
    assert bottles.one(other, 22).left_ml == pytest.approx(left)
    assert paints.profile_versions(other, "rav-nype")[0].source == counted.source


def test_the_same_twice_in_a_second_is_counted_twice(two):
    old, new = two
    pour(new, AT)
    pour(new, AT)
    bring(old, out(new))
    assert bottles.by_id(old, [22])[22].left_ml == pytest.approx(bottles.by_id(new, [22])[22].left_ml)
    bring(old, out(new))
    assert bottles.by_id(old, [22])[22].left_ml == pytest.approx(bottles.by_id(new, [22])[22].left_ml)


def test_a_hand_comes_with_its_profiles_or_not_at_all(two):
    here, there = two
    with writing(there):
        hand_factor.set_to(there, 1.2, at=AT)
    content = out(there)
    measure(here, LATER, "contrast card 9")
    bring(here, content)
    assert hand_factor.now(here) == 1.0
    measure(there, LATER, "contrast card 9")
    bring(here, out(there))
    assert hand_factor.now(here) == 1.2


def test_what_stands_beside_the_shelf_goes_out_and_comes_in_once(two, tmp_path):
    _, there = two
    with writing(there):
        card = contrast_cards.new(there, paint_id="rav-nype", at=AT, film_um=12.0, steps=(1, 2))
        contrast_cards.describe(
            there, card, film_um=12.0, steps=(1, 2), clear_coat=False, white_paint="torv-kritt", white_drops=9
        )
        reading = contrast_cards.add_reading(
            there, card, field="over_white:1", at=AT, source="reader:x", reflectance=[0.25] * 36
        )
        contrast_cards.set_aside(there, card, reading)
        weighings.add(there, 22, at=AT, drops=20, ml=1.02, source="scale")
        planned_mixes.put(there, recipe=10, version=2, ml=12.5, at=AT)
        seen = SeenAs("white", clear_coat=True, views=(15.0, None))
        targets.add(there, name="Belly", source="typed", seen=seen, labs=[[50, 1, 2]] * 2, reflectance=None, at=AT)
        number = rounds.add(
            there, skill="drops", level=2, shelf="plain", paints=["rav-nype"], sizes=[0.05], drops=[3], at=AT
        )
        rounds.guessed(there, number, [4], 2.5)
    bench_settings.change(there, {"units": "imperial"})
    content = out(there)
    folder = tmp_path / "empty"
    migrate(folder)
    with connected(folder) as empty:
        bring(empty, content)
        assert out(empty) == content
        fates = bring(empty, content)
        assert set(fates.values()) == {"is there already"}
        assert out(empty) == content
        (kept,) = [one for one in targets.latest(empty, 99) if one.name == "Belly"]
        assert kept.seen == seen
        assert bench_settings.read(empty).units == "imperial"
