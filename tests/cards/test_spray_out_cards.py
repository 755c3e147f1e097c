"""Spray-outs: begun from a cup or a recipe, described, read, judged, laid beside the prediction."""

import pytest
from starlette.testclient import TestClient

from diachrom.core.light.difference import delta_e
from diachrom.errors import EmptyCup, InstrumentError, InvalidInput, NotFound, UnknownGround
from diachrom.store import cups, hand_factor, revisions
from diachrom.store import spray_out_cards as kept
from diachrom.store.connection import writing
from diachrom.web.app import create_app
from diachrom.work.cards import spray_out_cards
from diachrom.work.mix import cup

AT = "2026-11-25T10:00:00+00:00"
NEXT = 25  # after the demo's two dozen


def patch(seen, ground, coats=2):
    return next(one for one in seen.patches if (one.patch.ground, one.patch.coats) == (ground, coats))


def test_a_card_keeps_the_mix_as_it_was_poured_whatever_becomes_of_the_cup(store):
    number = spray_out_cards.begin(store, at=AT)
    poured = cups.now(store).draft.kept()
    cup.start_new(store, at=AT)
    card = kept.one(store, number)
    assert card.id == NEXT
    assert card.draft.parts == poured.parts
    assert (card.recipe, card.version) == (None, None)  # the cup had been changed since its recipe
    assert [(one.ground, one.coats) for one in card.patches] == [("white", 2), ("black", 2), ("grey", 2)]
    assert card.how.nozzle_mm == 0.3
    of_recipe = kept.one(store, spray_out_cards.begin(store, 10, 1, at=AT))
    assert (of_recipe.recipe, of_recipe.version) == (10, 1)
    assert [one.id for one in kept.latest(store, 2)] == [of_recipe.id, number]
    with pytest.raises(EmptyCup):
        spray_out_cards.begin(store, at=AT)


def test_a_recipe_of_the_most_coats_has_its_patches(store):
    cup.spray_as(store, coats=50, film_um=4, at=AT)
    number = spray_out_cards.begin(store, at=AT)
    assert [one.coats for one in kept.one(store, number).patches] == [50, 50, 50]
    assert all(one.predicted.lab[0] > 0 for one in spray_out_cards.see(store, number).patches)
    with pytest.raises(InvalidInput, match="5000 µm can be predicted"):
        spray_out_cards.describe(store, number, {"film_um": "200"})
    assert kept.one(store, number).draft.film_um == 4
    cup.spray_as(store, film_um=200, at=AT)
    with pytest.raises(InvalidInput, match="5000 µm can be predicted"):
        spray_out_cards.begin(store, at=AT)
    assert kept.next_number(store) == number + 1


def test_the_number_written_on_a_card_is_its_own_and_a_second_one_is_said_with_a_free_one(store):
    assert spray_out_cards.begin(store, number=70, at=AT) == 70
    with pytest.raises(InvalidInput, match="There is a card 18 already: write 71 on this one"):
        spray_out_cards.begin(store, number=18, at=AT)
    with pytest.raises(InvalidInput, match="1 to 99999"):
        spray_out_cards.begin(store, number=0, at=AT)


def test_every_patch_is_read_beside_its_prediction_and_readings_can_be_set_aside(store, devices):
    number = spray_out_cards.begin(store, at=AT)
    assert spray_out_cards.see(store, number).beside is None
    for ground in ("white", "black", "grey"):
        spray_out_cards.read(store, devices, "bench", number, ground, 2, at=AT)
    seen = spray_out_cards.see(store, number)
    assert 0.2 < seen.beside.delta_e < 8
    assert seen.beside.delta_e == pytest.approx(
        sum(float(delta_e(one.predicted.lab, one.measured)) for one in seen.patches) / 3, abs=0.25
    )
    spray_out_cards.typed(store, number, "white", 2, "10 0 0", at=AT)
    assert patch(spray_out_cards.see(store, number), "white").apart > 10
    wrong = patch(spray_out_cards.see(store, number), "white").patch.readings[-1].id
    spray_out_cards.turn(store, number, wrong)
    again = patch(spray_out_cards.see(store, number), "white")
    assert again.apart < 1
    assert len(again.patch.readings) == 2
    spray_out_cards.judge(store, number, "grey", 2, ["darker", "redder"], "a touch", at=AT)
    assert patch(spray_out_cards.see(store, number), "grey").eye == "a touch darker and redder"


def test_how_it_was_sprayed_changes_what_is_predicted_of_it(store):
    before = patch(spray_out_cards.see(store, 18), "white").predicted.lab
    spray_out_cards.describe(store, 18, {"thinned": "50", "pressure_bar": "20 psi", "nozzle_mm": "0.5", "note": "thin"})
    card = kept.one(store, 18)
    assert card.how.pressure_bar == pytest.approx(1.379, abs=0.001)
    assert (card.how.nozzle_mm, card.how.reduction, card.note) == (0.5, 0.5, "thin")
    thin = patch(spray_out_cards.see(store, 18), "white").predicted.lab
    assert thin[0] > before[0] + 3
    spray_out_cards.describe(store, 18, {"thinned": "0", "film_um": "14", "surface": "satin"})
    assert patch(spray_out_cards.see(store, 18), "white").predicted.lab[0] < before[0]
    assert kept.one(store, 18).draft.surface == "satin"
    before = revisions.of(store, "cards")
    spray_out_cards.describe(store, 18, {"surface": "matte"})
    assert revisions.of(store, "cards") != before  # what was learned of it is of yesterday
    for wrong in ({"thinned": "95"}, {"nozzle_mm": "7"}, {"pressure_bar": "40 psi psi"}, {"film_um": "900"}):
        with pytest.raises(InvalidInput):
            spray_out_cards.describe(store, 18, wrong)


def test_a_patch_lies_on_any_film_and_on_its_bare_ground_as_it_was_read(store):
    number = spray_out_cards.begin(store, at=AT)
    spray_out_cards.add_patch(store, number, "recipe:1:1", 2)
    seen = patch(spray_out_cards.see(store, number), "recipe:1:1")
    assert seen.over.below
    assert seen.predicted.lab[0] < patch(spray_out_cards.see(store, number), "white").predicted.lab[0] - 5
    spray_out_cards.typed(store, number, "recipe:1:1", 2, "20 5 5", at=AT)
    assert spray_out_cards.see(store, number).beside.patches[0].delta_e > 0
    nominal = patch(spray_out_cards.see(store, number), "grey").predicted.lab[0]
    spray_out_cards.add_patch(store, number, "grey", 0)
    spray_out_cards.typed(store, number, "grey", 0, "40 0 0", at=AT)
    assert patch(spray_out_cards.see(store, number), "grey").predicted.lab[0] < nominal - 2
    assert patch(spray_out_cards.see(store, number), "grey", 0).predicted.lab[0] == pytest.approx(40, abs=0.5)


def test_a_heavy_hand_darkens_every_prediction_and_a_card_remembers_what_was_predicted_when_it_was_read(store):
    before = patch(spray_out_cards.see(store, 18), "white")
    on_bench = cup.see(store).foreseen.strip.columns[0].patches[1].diffuse.lab[0]
    with writing(store):
        hand_factor.set_to(store, 1.5, at=AT)
    after = patch(spray_out_cards.see(store, 18), "white")
    assert after.predicted.lab[0] < before.predicted.lab[0] - 2
    assert cup.see(store).foreseen.strip.columns[0].patches[1].diffuse.lab[0] < on_bench - 2
    assert spray_out_cards.as_read(kept.one(store, 18))[1].predicted == pytest.approx(before.predicted.lab.tolist())


def test_what_was_never_sprayed_or_cannot_be_read_is_said_and_keeps_nothing(store, unplugged):
    number = spray_out_cards.begin(store, at=AT)
    for wrong, error in (
        (lambda: spray_out_cards.typed(store, number, "silver-foil", 2, "50 0 0", at=AT), NotFound),
        (lambda: spray_out_cards.typed(store, number, "white", 3, "50 0 0", at=AT), NotFound),
        (lambda: spray_out_cards.typed(store, number, "white", 2, "mauve", at=AT), InvalidInput),
        (lambda: spray_out_cards.judge(store, number, "white", 2, ["mauve"], "far", at=AT), InvalidInput),
        (lambda: spray_out_cards.judge(store, number, "white", 2, ["lighter", "darker"], "far", at=AT), InvalidInput),
        (lambda: spray_out_cards.judge(store, number, "white", 2, ["lighter"], "so so", at=AT), InvalidInput),
        (lambda: spray_out_cards.read(store, unplugged, "bench", number, "white", 2, at=AT), InstrumentError),
        (lambda: spray_out_cards.add_patch(store, number, "mud", 2), UnknownGround),
        (lambda: spray_out_cards.add_patch(store, number, "white", 51), InvalidInput),
        (lambda: spray_out_cards.turn(store, number, 999), NotFound),
        (lambda: spray_out_cards.see(store, 999), NotFound),
    ):
        with pytest.raises(error):
            wrong()
    assert all(not one.readings for one in kept.one(store, number).patches)
    spray_out_cards.add_patch(store, number, "silver-foil", 2)
    spray_out_cards.add_patch(store, number, "silver-foil", 2)
    assert len(kept.one(store, number).patches) == 4


def test_flakes_are_laid_beside_without_a_cause(store):
    seen = spray_out_cards.see(store, 23)
    assert seen.beside is None
    assert all(one.words and one.delta_e is not None for one in seen.patches)
    assert all(0 < one.spread < 20 for one in seen.patches)


def test_the_pages_show_the_cards_and_what_would_explain_the_difference(bench):
    with TestClient(
        create_app(bench), base_url="http://127.0.0.1", headers={"Sec-Fetch-Site": "same-origin"}
    ) as client:
        assert "Card 24" in client.get("/test-cards").text
        page = client.post("/test-cards")
        assert page.url.path == f"/test-cards/{NEXT}"
        own = f"/test-cards/{NEXT}"
        page = client.post(f"{own}/typed", data={"ground": "white", "coats": "2", "typed": "40 50 40"})
        assert "would explain" in page.text
        assert "than predicted" in page.text
        assert "the usual" in page.text
        page = client.post(f"{own}/typed", data={"ground": "white", "coats": "2", "typed": "90 0 0"})
        assert "contradict each other" in page.text
        page = client.post(f"{own}/judge", data={"ground": "black", "coats": "2", "direction": "redder"})
        assert "the eye: a touch redder" in page.text
        page = client.post(f"{own}/counts")
        assert "Learn from this card again" in page.text
        assert f"Card {NEXT}: Autumn char, belly" in client.get("/test-cards").text
        assert "card 18 already" in client.post("/test-cards", data={"number": "18"}).text
        assert client.get("/test-cards/77").status_code == 404
        assert client.post(f"{own}/read", data={"ground": "white", "coats": "2"}).status_code == 422


def test_cards_are_found_by_number_name_note_and_paint_and_one_begun_by_mistake_is_thrown_away(bench, store):
    assert [one.id for one in kept.find(store, "20", start=0, most=9)] == [20]
    assert {one.draft.name for one in kept.find(store, "char belly", start=0, most=9)} == {"Autumn char, belly"}
    assert [one.id for one in kept.find(store, "green?", start=0, most=9)] == [20]
    assert 16 in {one.id for one in kept.find(store, "rav te", start=0, most=30)}
    spray_out_cards.begin(store, at=AT)
    with TestClient(
        create_app(bench), base_url="http://127.0.0.1", headers={"Sec-Fetch-Site": "same-origin"}
    ) as client:
        assert "Card 20" in client.get("/test-cards?q=lyng").text
        assert "No spray-out card has “mauve”" in client.get("/test-cards?q=mauve").text
        assert client.get("/test-cards?start=20", headers={"HX-Request": "true"}).text.count("<li>") == 5
        own = f"/test-cards/{NEXT}"
        assert 'href="/test-cards/18"' in client.get("/recipes/10").text
        page = client.post(f"{own}/patch-away", data={"ground": "grey", "coats": "2"}).text
        assert "On grey" not in page
        assert "Delete this card" in page
        assert client.post(f"{own}/away").url.path == "/test-cards"
        assert client.get(own).status_code == 404
        refused = client.post("/test-cards/18/away")
        assert refused.status_code == 422
        assert "measurements are never deleted" in refused.text
        assert client.post("/test-cards/18/patch-away", data={"ground": "white", "coats": "2"}).status_code == 422
        assert client.get("/test-cards/18").status_code == 200


def test_a_hand_never_makes_a_coat_that_cannot_be_predicted(store):
    with writing(store):
        hand_factor.set_to(store, 5.0, at=AT)
    cup.spray_as(store, film_um=200, coats=1, at=AT)
    seen = cup.see(store)
    assert seen.foreseen.strip.columns[0].patches[0].diffuse.lab[0] > 0
    spray_out_cards.describe(store, 18, {"film_um": "200"})
    assert spray_out_cards.see(store, 18).beside is not None
