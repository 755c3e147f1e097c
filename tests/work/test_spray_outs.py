"""Spray-outs: begun from a cup or a recipe, read, judged, laid beside the prediction."""

import pytest
from starlette.testclient import TestClient

from diachrom.core.light.difference import delta_e
from diachrom.errors import EmptyCup, InstrumentError, InvalidInput, NotFound, UnknownGround
from diachrom.store import cups
from diachrom.store import spray_outs as kept
from diachrom.web.app import create_app
from diachrom.work import carding, cup, spray_outs
from diachrom.work.devices import Devices

AT = "2026-11-25T10:00:00+00:00"


def ready(clock):
    devices = Devices(clock=lambda: clock[0])
    devices.plug("bench", plugged=True)
    clock[0] += 60
    carding.calibrate(devices, "bench")
    return devices


def test_a_card_keeps_the_mix_as_it_was_poured_whatever_becomes_of_the_cup(store):
    number = spray_outs.begin(store, at=AT)
    poured = cups.now(store).draft.kept()
    cup.start_new(store, at=AT)
    card = kept.one(store, number)
    assert card.draft.parts == poured.parts
    assert (card.recipe, card.version) == (None, None)  # the cup had been changed since its recipe
    assert [one.ground for one in card.fields] == ["white", "black", "grey"]
    of_recipe = kept.one(store, spray_outs.begin(store, 10, 1, at=AT))
    assert (of_recipe.recipe, of_recipe.version) == (10, 1)
    assert [one.id for one in kept.latest(store)] == [of_recipe.id, number]
    with pytest.raises(EmptyCup):
        spray_outs.begin(store, at=AT)


def test_every_field_is_read_beside_its_prediction_and_readings_can_be_set_aside(store):
    number = spray_outs.begin(store, at=AT)
    assert spray_outs.see(store, number).beside is None
    devices = ready([0.0])
    for ground in ("white", "black", "grey"):
        spray_outs.read(store, devices, "bench", number, ground, at=AT)
    seen = spray_outs.see(store, number)
    assert 0.2 < seen.beside.delta_e < 8
    assert seen.beside.delta_e == pytest.approx(
        sum(float(delta_e(one.predicted.lab, one.measured)) for one in seen.fields) / 3, abs=0.25
    )
    spray_outs.typed(store, number, "white", "10 0 0", at=AT)
    apart = spray_outs.see(store, number).fields[0]
    assert apart.apart > 10
    spray_outs.turn(store, number, apart.field.readings[-1].id)
    again = spray_outs.see(store, number).fields[0]
    assert again.apart < 1
    assert len(again.field.readings) == 2
    spray_outs.judge(store, number, "grey", "too dark", at=AT)
    assert spray_outs.see(store, number).fields[2].eye == "too dark"


def test_what_was_never_sprayed_or_cannot_be_read_is_said_and_keeps_nothing(store):
    number = spray_outs.begin(store, at=AT)
    unplugged = Devices(clock=lambda: 0.0)
    for wrong, error in (
        (lambda: spray_outs.typed(store, number, "silver-foil", "50 0 0", at=AT), NotFound),
        (lambda: spray_outs.typed(store, number, "white", "mauve", at=AT), InvalidInput),
        (lambda: spray_outs.judge(store, number, "white", "mauve", at=AT), InvalidInput),
        (lambda: spray_outs.read(store, unplugged, "bench", number, "white", at=AT), InstrumentError),
        (lambda: spray_outs.add_field(store, number, "mud"), UnknownGround),
        (lambda: spray_outs.turn(store, number, 999), NotFound),
        (lambda: spray_outs.see(store, 10**30), NotFound),
    ):
        with pytest.raises(error):
            wrong()
    assert all(not one.readings for one in kept.one(store, number).fields)
    spray_outs.add_field(store, number, "silver-foil")
    spray_outs.add_field(store, number, "silver-foil")
    assert len(kept.one(store, number).fields) == 4


def test_flakes_are_laid_beside_without_a_cause(store):
    cup.open_recipe(store, 11, at=AT)
    number = spray_outs.begin(store, at=AT)
    spray_outs.typed(store, number, "white", "60 5 5", at=AT)
    seen = spray_outs.see(store, number)
    assert seen.beside is None
    assert seen.fields[0].words


def test_the_pages_show_the_cards_and_what_would_explain_the_difference(bench):
    with TestClient(
        create_app(bench), base_url="http://127.0.0.1", headers={"Sec-Fetch-Site": "same-origin"}
    ) as client:
        assert "No card yet" in client.get("/spray-outs").text
        page = client.post("/spray-outs")
        assert page.url.path == "/spray-outs/1"
        page = client.post("/spray-outs/1/typed", data={"ground": "white", "typed": "40 50 40"})
        assert "would explain" in page.text
        assert "than predicted" in page.text
        page = client.post("/spray-outs/1/typed", data={"ground": "white", "typed": "90 0 0"})
        assert "contradict each other" in page.text
        assert "Card 1: Autumn char, belly" in client.get("/spray-outs").text
        assert client.get("/spray-outs/77").status_code == 404
        assert client.post("/spray-outs/1/read", data={"ground": "white"}).status_code == 422
