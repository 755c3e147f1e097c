"""Targets from everywhere, what comes nearest, into the cup, and the next drop."""

import json
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import numpy as np
import pytest

from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.mix.where import ALL_ANGLES
from diachrom.errors import (
    BottleNotFound,
    InstrumentError,
    InvalidInput,
    NotFound,
    PaintNotFound,
    RecipeNotFound,
    UnknownGround,
)
from diachrom.exchange.sample import Sample
from diachrom.store import bottles, paints, targets
from diachrom.store.connection import writing
from diachrom.store.targets import SeenAs
from diachrom.web.match.view import found_page
from diachrom.work.api import command, match_documents, matching, predicting
from diachrom.work.cards import learning
from diachrom.work.kit import documents
from diachrom.work.kit.tasks import Tasks
from diachrom.work.match import own_targets, searching
from diachrom.work.match import targets as aiming
from diachrom.work.match.settings import Settings, settings_of
from diachrom.work.mix import charging, cup
from diachrom.work.pour import aim_at_cup
from diachrom.work.shelf import keeping, stock

AT = "2026-11-25T10:00:00+00:00"


def ended(tasks):
    task = searching.start(tasks)
    assert task.wait(120)
    assert task.finished
    return task


def test_a_target_remembers_where_it_came_from(store):
    aiming.typed(store, "#c85a28", "belly", at=AT)
    own_targets.from_recipe(store, 10, at=AT)
    own_targets.from_paint(store, "rav-nype", at=AT)
    aiming.from_sample(store, Sample("back", np.full(36, 0.2)), "", at=AT)
    kept = targets.latest(store, 9)
    assert [one.name for one in kept] == ["back", "Rav Nype", "No. 10, Autumn char, belly", "belly"]
    assert (kept[2].source, kept[2].seen) == ("recipe 10, version 2", SeenAs("white", clear_coat=True))
    assert kept[3].seen == SeenAs()
    assert aiming.active_target(store)[0] == kept[0]
    assert np.allclose(aiming.spectrum_of(kept[0]), 0.2)
    assert delta_e(np.array(kept[3].labs[0]), hex_to_lab("#c85a28")) < 1e-6
    aiming.choose(store, kept[3].id)
    assert aiming.active_target(store)[0].name == "belly"
    aiming.take_away(store, kept[3].id)
    assert aiming.active_target(store)[0] is None
    assert len(targets.latest(store, 9)) == 3


def test_what_is_no_target_is_said(store):
    for wrong, error in (
        (lambda: aiming.typed(store, "zork", "", at=AT), InvalidInput),
        (lambda: own_targets.from_recipe(store, 999, at=AT), RecipeNotFound),
        (lambda: own_targets.from_paint(store, "nobody", at=AT), PaintNotFound),
        (lambda: own_targets.from_paint(store, "tynn-medium", at=AT), InvalidInput),
        (lambda: aiming.typed(store, "50 900 0", "", at=AT), InvalidInput),
        (lambda: aiming.typed(store, "50 9 0", "", SeenAs("mud"), at=AT), UnknownGround),
        (lambda: aiming.choose(store, 999), NotFound),
        (lambda: aiming.set_up(store, lambda _: Settings(max_paints=1, kept_in=(22, 23))), InvalidInput),
        (lambda: aiming.set_up(store, lambda _: Settings(ground="mud")), UnknownGround),
        (lambda: aiming.set_up(store, lambda _: Settings(max_paints=9)), InvalidInput),
        (lambda: aiming.set_up(store, lambda _: Settings(dilution=0.95)), InvalidInput),
    ):
        with pytest.raises(error):
            wrong()
    assert targets.latest(store, 9) == []


def test_the_short_list_differs_in_kind_and_one_of_it_goes_into_the_cup(store, bench):
    own_targets.from_recipe(store, 10, at=AT)
    tasks = Tasks(bench)
    task = ended(tasks)
    assert searching.start(tasks) is task
    assert task.found[0].kinds[0] == "to pour"
    kinds = {kind: one for one in task.found for kind in one.kinds}
    nearest = kinds["the nearest"]
    assert nearest.match.delta_e < 0.3
    assert set(kinds) >= {"the nearest", "the fewest bottles", "the smallest cup", "the most forgiving", "the cheapest"}
    assert kinds["the smallest cup"].match.drops == min(one.match.drops for one in task.found)
    forgiving = [one.spread_delta_e**2 + one.worst_drop**2 for one in task.found]
    assert forgiving[task.found.index(kinds["the most forgiving"])] == min(forgiving)
    assert kinds["the same in other light"].worst_delta_e == min(one.worst_delta_e for one in task.found)
    assert len(task.reach) > 4
    parts = [(task.candidates[at].bottle.id, drops) for at, drops in nearest.match.parts]
    aim_at_cup.into_cup(store, parts, at=AT)
    seen = cup.see(store)
    assert seen.cup.dilution == pytest.approx(0.3, abs=0.04)
    white = seen.foreseen.strip.columns[0].patches[1].diffuse.lab
    assert delta_e(white, np.array(task.target.labs[0])) < 1.5
    cup.undo(store)
    assert cup.see(store).now.draft.name == "Autumn char, belly"


def test_another_setting_is_another_search_and_bottles_can_be_left_out(store, bench):
    aiming.typed(store, "#c85a28", "", at=AT)
    tasks = Tasks(bench)
    first = ended(tasks)
    used = {first.candidates[at].bottle.id for at, _ in first.found[0].match.parts}
    aiming.set_up(store, lambda _: Settings(max_paints=2, left_out=tuple(used)))
    second = ended(tasks)
    assert second is not first
    again = {second.candidates[at].bottle.id for one in second.found for at, _ in one.match.parts}
    assert not again & used
    assert all(len(one.match.parts) <= 2 for one in second.found)


def test_what_turns_is_matched_at_all_angles_on_what_it_lay_on_and_may_have_flakes(store, bench):
    own_targets.from_paint(store, "perlemor-blaa", at=AT)
    target, settings = aiming.active_target(store)
    assert target.seen == SeenAs("black", clear_coat=True, views=ALL_ANGLES)
    assert settings.ground == "black"
    aiming.set_up(store, lambda old: replace(old, max_paints=2, max_drops=8))
    tasks = Tasks(bench)
    best = ended(tasks).found[0]
    assert any(searching.start(tasks).candidates[at].paint.flake for at, _ in best.match.parts)
    assert best.match.delta_e == pytest.approx(np.mean(best.by_view))
    assert len(searching.start(tasks).strips[best.match.parts].column("black").patches) >= 2
    aiming.typed(store, "#3060a0", "", SeenAs("silver-foil", clear_coat=False, views=(25.0,)), at=AT)
    assert (aiming.active_target(store)[1].ground, aiming.active_target(store)[1].clear_coat) == ("silver-foil", False)
    assert ended(tasks).found[0].match.labs.shape == (1, 3)


def test_flakes_stay_out_of_a_flat_colour_until_a_bottle_is_wanted_in_every_mix(store, bench):
    aiming.typed(store, "#c85a28", "", at=AT)
    aiming.set_up(store, lambda _: Settings(max_paints=3, max_drops=10))
    tasks = Tasks(bench)
    first = ended(tasks)
    assert not any(one.paint.flake for one in first.candidates)
    pearl = bottles.of_paint(store, "perlemor-gull")[0].id
    aiming.keep_in(store, pearl)
    second = ended(tasks)
    kept = [{second.candidates[at].bottle.id for at, _ in one.match.parts} for one in second.found]
    assert kept
    assert all(pearl in some for some in kept)
    aiming.leave_out(store, pearl)
    assert aiming.active_target(store)[1].kept_in == ()


def test_open_bottles_come_first_where_that_is_wanted(store, bench):
    aiming.typed(store, "#c85a28", "", at=AT)
    tasks = Tasks(bench)

    def sealed(job):
        return sum(job.candidates[at].bottle.state == "sealed" for at, _ in job.found[0].match.parts)

    aiming.set_up(store, lambda _: Settings(max_paints=3, max_drops=12))
    before = ended(tasks)
    with writing(store):
        for at, _ in before.found[0].match.parts:
            bottles.change(store, before.candidates[at].bottle.id, state="sealed")
    aiming.set_up(store, lambda _: Settings(max_paints=3, max_drops=12, open_first=True))
    after = ended(tasks)
    assert sealed(after) < len(before.found[0].match.parts)


def test_a_bottle_is_left_out_and_taken_in_again(store):
    aiming.leave_out(store, 22)
    assert aiming.active_target(store)[1].left_out == (22,)
    aiming.leave_out(store, 22)
    assert aiming.active_target(store)[1].left_out == ()
    with pytest.raises(BottleNotFound):
        aiming.leave_out(store, 999)


def test_a_painted_bait_is_read_by_the_reader_and_a_reading_that_fails_is_no_target(store, unplugged, request):
    with pytest.raises(InstrumentError, match="unplugged"):
        aiming.read_bait(store, unplugged, "bench", 10, at=AT)
    devices = request.getfixturevalue("devices")
    aiming.read_bait(store, devices, "bench", 10, at=AT)
    kept = targets.latest(store, 5)
    assert [one.source for one in kept] == ["read by the bench reader"]
    own_targets.from_recipe(store, 10, at=AT)
    predicted = np.array(targets.latest(store, 1)[0].labs[0])
    assert 0.2 < delta_e(np.array(kept[0].labs[0]), predicted) < 15


def test_the_next_drop_names_bottles_beside_the_cup(store):
    assert aim_at_cup.next_drop(store) is None
    own_targets.from_recipe(store, 10, at=AT)
    cup.pour(store, 22, -2, at=AT)
    found = aim_at_cup.next_drop(store)
    target, advice, candidates = found.target, found.advice, found.candidates
    assert target.name.startswith("No. 10")
    best = advice.helps[0]
    assert candidates[best.index].bottle.id == 22
    cup.give(store, 22, best.drops, at=AT)
    there = aim_at_cup.next_drop(store).advice
    assert there.delta_e == pytest.approx(best.delta_e, abs=0.01)
    assert there.helps == []
    cup.give(store, bottles.of_paint(store, "rav-te")[0].id, 1, at=AT)
    astray = aim_at_cup.next_drop(store).advice
    assert astray.delta_e > there.delta_e + 1
    assert astray.helps[0].delta_e < astray.delta_e - 1
    cup.start_new(store, at=AT)
    assert aim_at_cup.next_drop(store) is None


def document(**more):
    return json.dumps({"target": {"srgb": "#c85a28"}, **more}).encode()


def test_a_match_document_is_answered_with_the_shelfs_own_paints(bench):
    answer = json.loads(command.match_text(document(max_paints=3, max_drops=12, order="nearest"), bench))
    best = answer["recipes"][0]
    assert best["delta_e"] < 1.0
    assert [one["delta_e"] for one in answer["recipes"]] == sorted(one["delta_e"] for one in answer["recipes"])
    assert answer["evaluated"] > 1000
    assert answer["seconds"] > 0
    assert best["spread_delta_e"] > 0
    request = documents.PredictRequest(
        layers=[
            {
                "parts": [{"paint": p["paint"], "drops": p["drops"]} for p in best["parts"]],
                "film_um": 8 * 0.7,
                "coats": 2,
                "droplet_um": 4 * 0.7,
            }
        ]
    )
    from diachrom.store.connection import connected

    with connected(bench) as store:
        seen = predicting.answer(request, predicting.from_shelf(store))
    assert delta_e(np.array(seen.diffuse.lab), np.array(best["lab"])) < 0.2


def test_a_match_document_with_several_angles_is_answered_at_each(bench):
    target = {"angles": [15, 110], "labs": [[80, 0, 5], [25, 0, 0]]}
    answer = json.loads(command.match_text(document(target=target, ground="black", max_paints=2, max_drops=6), bench))
    best = answer["recipes"][0]
    far = delta_e(np.array(best["labs"]), np.array(target["labs"]))
    assert best["delta_e"] == pytest.approx(far.mean())
    assert any(part["paint"].startswith(("malm", "perlemor")) for part in best["parts"])


def test_profiles_given_in_place_are_told_apart_by_their_place():
    one = {"name": "x", "kind": "transparent", "absorption": [0.02] * 18 + [0.001] * 18, "scattering": [0.002] * 36}
    two = {**one, "absorption": [0.001] * 18 + [0.02] * 18}
    request = match_documents.MatchRequest.model_validate({"target": {"lab": [60, 5, 5]}, "paints": [one, two]})
    found = matching.answer(request, matching.given(request, predicting.NO_SHELF), predicting.NO_SHELF)
    assert {part.index for part in found.recipes[0].parts} <= {0, 1}
    assert found.recipes[0].parts[0].paint == "x"


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"max_paints": 6}, "max_paints"),
        ({"max_drops": 0}, "max_drops"),
        ({"dilution": 1}, "dilution"),
        ({"ground": "mud"}, "ground"),
        ({"paints": []}, "paints"),
        ({"paints": ["nobody"]}, "paints.0"),
        ({"paints": ["tynn-medium"]}, "paints"),
        ({"angle": 400}, "angle"),
        ({"target": {"lab": [1, 2]}}, "target.lab"),
        ({"target": {"srgb": "red"}}, "target.srgb"),
        ({"target": {"angles": [15, 45], "labs": [[1, 2, 3]]}}, "target.labs"),
        ({"target": {"angles": [15], "labs": [[1, 2]]}}, "target.labs.0"),
        ({"target": {"angles": [15], "labs": [[1, 2, 3]]}, "angle": 15}, "angle"),
        ({"colour": 1}, "colour"),
    ],
)
def test_a_match_document_that_cannot_be_meant_is_refused_by_field(bench, more, field):
    with pytest.raises((InvalidInput, NotFound)) as caught:
        command.match_text(document(**more), bench)
    assert caught.value.field == field


def test_a_target_belongs_to_its_cup_and_can_be_put_away(store):
    aiming.typed(store, "#4a5a2a", "Somebody's olive", at=AT)
    assert aim_at_cup.next_drop(store).target.name == "Somebody's olive"
    cup.open_recipe(store, 10, at=AT)
    assert aim_at_cup.next_drop(store) is None
    cup.undo(store)
    assert aim_at_cup.next_drop(store) is not None
    aiming.put_away(store)
    assert aim_at_cup.next_drop(store) is None
    assert aiming.active_target(store)[0].name == "Somebody's olive"  # Match keeps it
    # A cup that is started again goes on to its target; one that was saved is done with it.
    aiming.choose(store, aiming.active_target(store)[0].id)
    cup.start_new(store, at=AT)
    assert targets.at_cup(store) is None
    cup.add_bottle(store, 22, at=AT)
    aiming.choose(store, aiming.active_target(store)[0].id)
    cup.start_new(store, at=AT)
    assert targets.at_cup(store) is not None


def test_a_cup_that_was_never_near_is_another_colour_and_a_drop_too_many_is_not(store):
    cup.start_new(store, at=AT)
    cup.give(store, bottles.of_paint(store, "torv-hav")[0].id, 6, at=AT)
    aiming.typed(store, "#f0d020", "A yellow", at=AT)
    assert aim_at_cup.next_drop(store).other_colour
    cup.open_recipe(store, 10, at=AT)
    own_targets.from_recipe(store, 10, at=AT)
    cup.give(store, bottles.of_paint(store, "torv-sot")[0].id, 4, at=AT)
    found = aim_at_cup.next_drop(store)
    assert found.advice.delta_e > aim_at_cup.OTHER_COLOUR
    assert not found.other_colour


def test_pouring_starts_no_search_again_and_leaves_what_was_learned_of_today_but_a_new_profile_does_not(store, bench):
    aiming.typed(store, "#c85a28", "", at=AT)
    aiming.set_up(store, lambda _: Settings(max_paints=1, max_drops=2))
    tasks = Tasks(bench)
    first, of_today = ended(tasks), learning.revision(store)
    charging.take_from_stock(store, at=AT)
    stock.happened(store, 1, "spilled", 2.0, at=AT)
    assert searching.start(tasks) is first
    assert learning.revision(store) == of_today
    held = bottles.one(store, 1).left_ml
    stock.happened(store, 1, "spilled", held, at=AT)
    empty = ended(tasks)
    assert empty is not first
    assert 1 not in {one.bottle.id for one in empty.candidates}
    with writing(store):
        keeping.keep_profile(store, paints.profile(store, "rav-nype"), paint_id="rav-nype", source="x", at=AT)
    assert searching.start(tasks) is not first
    assert learning.revision(store) != of_today


def test_those_who_ask_at_once_start_one_search(store, bench):
    tasks = Tasks(bench)
    aiming.typed(store, "#c85a28", "", at=AT)
    with ThreadPoolExecutor(8) as pool:
        found = list(pool.map(lambda _: searching.start(tasks), range(16)))
    assert {id(one) for one in found} == {id(searching.start(tasks))}
    searching.stop(tasks)


def test_a_fluorescent_target_is_another_colour_in_another_light_and_a_target_that_is_gone_stays_what_was_seen(store):
    own_targets.from_paint(store, "glo-oransje", at=AT)
    target = targets.latest(store, 1)[0]
    assert target.made_of == "paint:glo-oransje"
    under = own_targets.in_other_lights(store, target)
    kept = lab(aiming.spectrum_of(target), under=light("A"))
    assert float(delta_e(under["A"], kept)) > 3  # daylight's own glow would be taken along
    gone = replace(target, made_of="recipe:999:1")
    assert np.allclose(own_targets.in_other_lights(store, gone)["A"], kept)


def test_a_search_that_was_stopped_before_it_found_anything_says_how_to_go_on(store, bench):
    aiming.typed(store, "#c85a28", "belly", at=AT)
    target, settings = aiming.active_target(store)
    task = searching.MatchTask(target, settings, "key")
    task.stopped = True
    page = found_page(store, task)
    assert "Open Match again" in page.count_words
    assert (page.alternatives, page.start, page.going_on) == ([], "", False)
    task.evaluated = 1200
    assert found_page(store, task).count_words == "1 200 cups tried, then stopped"


def test_how_close_is_one_of_three_another_is_refused_and_an_odd_one_read_as_usual(store):
    aiming.set_up(store, lambda old: replace(old, closeness="arms-length", special=True))
    settings = aiming.active_target(store)[1]
    assert (settings.wish.closeness, settings.wish.special) == (2.5, True)
    with pytest.raises(InvalidInput) as refused:
        aiming.set_up(store, lambda old: replace(old, closeness="by the moon"))
    assert refused.value.field == "closeness"
    assert settings_of({"closeness": ["x"], "special": 0}, there=set).wish == Settings().wish
