"""The JSON document brought onto the bench that it is of, and onto another."""

import json
from dataclasses import replace
from shutil import copyfile

import pytest
from shelf_document import bring, out

from diachrom.errors import BadFile
from diachrom.store import (
    bottles,
    contrast_cards,
    hand_factor,
    paints,
    planned_mixes,
    recipes,
    rounds,
    spray_out_cards,
    targets,
    weighings,
)
from diachrom.store.connection import connected, database, writing
from diachrom.store.migrate import migrate
from diachrom.store.targets import SeenAs
from diachrom.work.kit import bench_settings
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
        patch = spray_out_cards.one(store, 18).patches[0]
        number = spray_out_cards.patch_of(store, 18, patch.ground, patch.coats)
        spray_out_cards.read(store, number, source="eye", lab=(50.0, 1.0, 2.0), predicted=None, at=at)


def test_what_is_new_comes_under_its_own_numbers_and_what_is_there_stays(two):
    here, there = two
    with writing(there):
        paints.add(there, replace(paints.record(there, "rav-nype"), id="rav-ny", name="Ny"))
        paints.add_profile(there, paints.profile(there, "rav-nype"), paint_id="rav-ny", source="guess", at=AT)
        bottle = bottles.add(there, paint_id="rav-ny", drop_ml=0.05, size_ml=30)
        bottles.enter(there, bottle=bottle, at=AT, kind="bought", ml=30.0, note="")
        number = recipes.new_recipe(there)
        draft = recipes.version(there, 10).draft
        recipes.add_version(there, replace(draft, name="Ny belly"), recipe=number, parent_version=None, at=AT)
    content = out(there)
    fates = bring(here, content)
    assert {name: fate for name, fate in fates.items() if fate != "is there already"} == {
        "Rav Ny": "new paint",
        f"bottle {bottle} of rav-ny": "new bottle",
        "Ny belly": "new recipe",
    }
    assert out(here) == content
    assert set(bring(here, content).values()) == {"is there already"}
    assert out(here) == content
    keeping.undo(here, at=LATER)
    assert bottles.one(here, bottle).retired


def test_an_older_state_stays_and_the_file_says_so(two):
    here, there = two
    pour(there, AT)
    measure(there, AT, "drawdown card 9")
    again(there, AT, "Brighter belly")
    read_card(there, AT)
    before = out(here)
    fates = bring(here, out(there))
    assert [name for name, fate in fates.items() if "older state" in fate] == [
        "Rav Nype",
        "bottle 22 of rav-nype",
        "Brighter belly",
        "spray-out card 18",
    ]
    assert out(here) == before
    assert set(bring(there, before).values()) == {"is there already"}  # what went on here is not taken back


@pytest.mark.parametrize(
    ("spoil", "words"),
    [
        (lambda whole: whole["recipes"][9]["versions"][0].update(name="Another"), "to another bench: its Autumn"),
        (lambda whole: whole["cards"][17].update(at=LATER), "its spray-out card 18 is another thing here"),
        (lambda whole: whole["bottles"][0]["ledger"][0].update(ml=7.0), "its bottle 1 of"),
        (lambda whole: whole["paints"][0]["profiles"][0].update(at=LATER), "is another thing here"),
    ],
)
def test_of_another_bench_it_is_refused_and_nothing_is_written(two, spoil, words):
    here, there = two
    whole = json.loads(out(there))
    spoil(whole)
    before = out(here)
    with pytest.raises(BadFile, match=words):
        bring(here, json.dumps(whole).encode())
    assert out(here) == before


def test_another_paint_that_is_called_as_one_here_is_asked_about(two):
    here, there = two
    with pytest.raises(BadFile, match="its paint 'rav-other' is called as 'rav-nype' is here"):
        bring(here, out(there).replace(b'"rav-nype"', b'"rav-other"'))


def test_hand_and_drops_come_with_their_profiles_into_an_empty_bench_alone(two, tmp_path):
    here, there = two
    with writing(there):
        hand_factor.set_to(there, 1.2, at=AT)
    content = out(there)
    bring(here, content)
    assert hand_factor.now(here) == 1.0
    migrate(tmp_path / "empty")
    with connected(tmp_path / "empty") as empty:
        bring(empty, content)
        assert hand_factor.now(empty) == 1.2


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
