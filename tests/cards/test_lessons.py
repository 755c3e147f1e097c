"""What the demo's spray-out cards teach: shown, taken, undone; and a run that ends half way."""

import json

import pytest
from starlette.testclient import TestClient

from diachrom.core.light.difference import delta_e
from diachrom.errors import BadFile, ChangedSince, InvalidInput, NotFound
from diachrom.store import bottles, hand_factor, learnings, paints, spray_out_cards
from diachrom.store import recipes as saved_recipes
from diachrom.store.connection import connected, writing
from diachrom.store.migrate import migrate
from diachrom.web.app import create_app
from diachrom.work.cards import apply_learning, compare_prediction, learn_task
from diachrom.work.cards import spray_out_cards as cards
from diachrom.work.cards.learning import lesson
from diachrom.work.files import bundle_out, importing

AT = "2026-11-25T10:00:00+00:00"


def state(store):
    """All that a learning may touch."""
    profiles = {
        one.id: paints.profile_versions(store, one.id)[0].paint.absorption.tolist()
        for one in paints.every_record(store)
    }
    return (
        profiles,
        {one.id: one.drop_ml for one in bottles.every(store)},
        hand_factor.now(store),
        learnings.drops(store),
    )


def missed(store):
    """dE of every card of plain paints that fits."""
    seen = [compare_prediction.see(store, one) for one in spray_out_cards.latest(store)]
    return [one.beside.delta_e for one in seen if one.beside and one.card.id != 20]


@pytest.fixture(scope="module")
def learned(filled):
    """What the demo bench's cards teach, which every copy of it may take."""
    with connected(filled) as connection:
        return lesson(connection)


def test_the_lesson_tells_gain_hand_and_recipes_and_names_the_bottle_that_was_taken_by_mistake(store, learned):
    before, after = learned.delta_e
    assert after < before / 2
    assert after < 1.0
    assert 1.05 < learned.hand[1] < 1.3
    assert learned.cards == 24  # one with flakes among them
    assert [one.card.id for one in learned.aside] == [20]
    why = learned.aside[0]
    assert (why.reason.key, why.meant, why.poured) == ("wrong bottle", "Rav Lyng", "Rav Fjord")
    assert all(one.delta_e[1] < one.delta_e[0] for one in learned.paints if one.taken)
    assert all(one.strength == one.scattering == 1 for one in learned.paints if not one.taken)
    assert all(one.delta_e > 1 for one in learned.recipes)
    assert len(learned.recipes) > 3


def test_taking_makes_new_versions_that_every_prediction_follows_and_undo_brings_the_old_ones_back(store, learned):
    before, figures = state(store), missed(store)
    taken = [one.record.id for one in learned.paints if one.taken]
    number = apply_learning.take(store, learned, at=AT)
    assert sum(missed(store)) < 0.5 * sum(figures)
    newest = paints.profile_versions(store, taken[0])[0]
    assert newest.source.startswith("learned from")
    assert newest.paint.uncertainty < 0.1
    told = {one.saved.recipe: one for one in learned.recipes}
    assert saved_recipes.version(store, 10).draft.name == told[10].saved.draft.name
    seen = cards.see(store, 18)
    own = next(one for one in seen.patches if (one.patch.ground, one.patch.coats) == ("white", 2))
    assert float(delta_e(own.predicted.lab, told[10].after)) < 0.3
    again = lesson(store)
    assert again.hand[1] == pytest.approx(learned.hand[1], rel=0.05)
    assert again.delta_e[0] < 0.6
    undone, left = apply_learning.undo(store, at=AT)
    assert (undone.id, left) == (number, [])
    assert state(store) == before
    assert missed(store) == pytest.approx(figures)
    assert learnings.every(store)[0].undone_at == AT
    with pytest.raises(NotFound):
        apply_learning.undo(store, at=AT)


def test_a_profile_measured_after_learning_is_left_alone_by_undo(store, learned):
    apply_learning.take(store, learned, at=AT)
    own = next(one for one in learned.paints if one.taken)
    with writing(store):
        paints.add_profile(store, own.before, paint_id=own.record.id, source="a card", at=AT)
    _, left = apply_learning.undo(store, at=AT)
    assert left == [own.record.full_name]
    assert paints.profile_versions(store, own.record.id)[0].source == "a card"


def test_what_was_learned_of_other_cards_is_not_taken(store, learned):
    before = state(store)
    cards.describe(store, 18, {"film_um": "4"})
    with pytest.raises(ChangedSince, match="nothing was changed"):
        apply_learning.take(store, learned, at=AT)
    cards.describe(store, 18, {"film_um": "8"})
    cards.typed(store, 18, "white", 2, "50 40 40", at=AT)
    with pytest.raises(ChangedSince, match="nothing was changed"):
        apply_learning.take(store, learned, at=AT)
    assert state(store) == before


@pytest.mark.parametrize("share", [0.0, 0.3, 0.8, 0.95])
def test_a_run_that_is_killed_half_way_leaves_everything_as_it_was(store, share):
    class Killed(Exception):
        pass

    def progress(done):
        if done > share:
            raise Killed

    before = state(store)
    with pytest.raises(Killed):
        lesson(store, progress=progress)
    assert state(store) == before
    assert learnings.every(store) == []


def test_taking_that_fails_at_its_last_step_takes_nothing(store, learned, monkeypatch):
    before = state(store)

    def full(*_, **__):
        raise OSError("disk full")

    monkeypatch.setattr(apply_learning.learnings, "add", full)
    with pytest.raises(OSError, match="disk full"):
        apply_learning.take(store, learned, at=AT)
    assert state(store) == before


def test_cards_that_do_not_count_and_too_few_teach_nothing(store):
    for card in spray_out_cards.latest(store):
        if card.id > 4:
            cards.turn_card(store, card.id)
    with pytest.raises(InvalidInput, match="5 cards or more are needed to learn from, not 4"):
        lesson(store)


def test_the_page_learns_while_other_pages_answer_can_be_stopped_and_takes_after_a_yes(bench, monkeypatch):
    with TestClient(
        create_app(bench),
        base_url="http://127.0.0.1",
        headers={"Sec-Fetch-Site": "same-origin", "HX-Request": "true"},
    ) as client:
        tasks = client.app.state.tasks
        assert client.post("/learning/take").status_code == 404
        assert "Stop, change nothing" in client.post("/learning/start").text
        assert client.post("/learning/take").status_code == 422
        assert client.get("/test-cards/18").status_code == 200
        assert "Stopped; nothing was changed" in client.post("/learning/stop").text
        client.post("/learning/start")
        assert learn_task.now(tasks).wait(120)
        page = client.get("/learning").text
        assert "Cards left out come closer" in page
        assert "as if Rav Fjord had been poured in place of Rav Lyng" in page
        page = client.post("/learning/take").text
        assert "new versions of the profiles count from now on" in page
        assert "Undo this" in page
        assert "Undone: what was learned" in client.post("/learning/undo").text
        monkeypatch.setattr(learn_task, "lesson", lambda *_, **__: 1 / 0)
        monkeypatch.setattr("threading.excepthook", lambda _: None)
        client.post("/learning/start")
        assert learn_task.now(tasks).wait(20)
        assert "Something went wrong in Diachrom itself" in client.get("/learning").text


def test_cards_hand_and_learned_drops_go_out_and_come_into_an_empty_folder_equal(store, learned, tmp_path):
    apply_learning.take(store, learned, at=AT)
    whole = bundle_out.write(store)
    migrate(tmp_path)
    with connected(tmp_path) as other:
        found = importing.read(other, "all.json", whole)
        with writing(other):
            found.write(other, at=AT)
        assert bundle_out.write(other) == whole
        assert missed(other) == pytest.approx(missed(store))
        assert {one.fate for one in importing.read(other, "all.json", whole).fates} == {"is there already"}


def test_a_card_poured_from_a_bottle_that_is_not_there_does_not_come_in(store):
    whole = json.loads(bundle_out.write(store))
    whole["cards"][3]["parts"][0]["bottle"] = 999
    with pytest.raises(BadFile, match="spray-out card 4 was poured from bottle 999"):
        importing.read(store, "all.json", json.dumps(whole).encode())
