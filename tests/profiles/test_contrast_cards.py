"""From a sprayed card to a profile, by every source; unplugged devices lose nothing; what it changes is shown."""

import numpy as np
import pytest

from diachrom.core.light.difference import delta_e
from diachrom.core.light.screen import hex_to_lab
from diachrom.errors import CardNotFound, InstrumentError, InvalidInput
from diachrom.exchange.sample import Sample
from diachrom.instruments import truth
from diachrom.store import bottles, mist, paints
from diachrom.store import contrast_cards as cards
from diachrom.store.connection import writing
from diachrom.store.mist import Mist
from diachrom.work.profiles import card_readings, card_sprayed, effects, versions
from diachrom.work.profiles import contrast_cards as carding
from diachrom.work.shelf import droppers, shelf_index

AT = "2026-11-25T10:00:00+00:00"
FIELDS = ("white", "black", "over_white:4", "over_black:4")


def read(store, card, devices, field, **how):
    card_readings.read_by_device(store, card, field, devices, "bench", **{"lifted": False} | how, at=AT)


def fields(store, card):
    return [one.field.key for one in carding.see(store, card).fields]


def test_a_step_card_read_by_the_reader_tells_what_is_really_in_the_bottle(store, devices):
    card = carding.begin(store, "rav-gran", at=AT)
    assert carding.begin(store, "rav-gran", at=AT) == card
    assert fields(store, card)[:4] == ["white", "black", "over_white:1", "over_black:1"]
    for field in fields(store, card):
        for _ in range(3):
            read(store, card, devices, field)
    seen = carding.see(store, card)
    assert [len(field.readings) for field in seen.fields] == [3] * 8
    assert all(0 < field.apart < 3 for field in seen.fields)
    before = paints.profile(store, "rav-gran")
    true = truth.of_paint("rav-gran", before)
    assert carding.accept(store, card, at=AT) == 2
    after = paints.profile(store, "rav-gran")
    assert 0.05 <= after.uncertainty < 0.1

    def off(paint):
        return abs(np.log(paint.absorption.sum() / true.absorption.sum()))

    assert off(after) < max(0.1, off(before))
    newest = paints.profile_versions(store, "rav-gran")
    assert [one.version for one in newest] == [2, 1]
    assert newest[0].source == f"drawdown card {card}, 1, 4, 12 passes of 2 µm"
    with pytest.raises(InvalidInput, match="spray a new one"):
        read(store, card, devices, "white")
    assert carding.begin(store, "rav-gran", at=AT) != card


def test_one_thick_film_of_a_strong_paint_is_not_accepted_until_a_field_is_let_down_with_white(store, devices):
    card = carding.begin(store, "torv-sot", at=AT)
    card_sprayed.describe(store, card, {"steps": "12"})
    for field in fields(store, card):
        read(store, card, devices, field)
    seen = carding.see(store, card)
    assert seen.derived.saturated_nm
    assert not seen.derived.sure
    with pytest.raises(InvalidInput, match="second, thinner film, or a field that is let down with white"):
        carding.accept(store, card, at=AT)
    card_sprayed.describe(store, card, {"white_paint": "torv-kritt", "white_drops": "9"})
    assert fields(store, card)[-2:] == ["let_down_white", "let_down_black"]
    for field in ("let_down_white", "let_down_black"):
        read(store, card, devices, field)
    assert carding.see(store, card).derived.sure
    assert carding.accept(store, card, at=AT) == 2
    true = truth.of_paint("torv-sot", paints.profile_versions(store, "torv-sot")[-1].paint)
    assert abs(np.log(paints.profile(store, "torv-sot").absorption.sum() / true.absorption.sum())) < 0.3


def test_a_step_card_is_read_from_a_photo_of_its_printed_sheet_in_one_go(store, devices):
    card = carding.begin(store, "torv-himmel", at=AT)
    base = "http://127.0.0.1:8765/"
    photo = card_readings.take_photo(store, devices, card, "good", base)
    beyond = card_readings.from_sheet(store, card, "sheet.jpg", photo, at=AT)
    seen = carding.see(store, card)
    assert all(len(one.readings) == 1 for one in seen.fields)
    assert [one.field.words for one in seen.fields if one.mean is None] == beyond
    assert seen.derived.sure
    true = truth.of_paint("torv-himmel", seen.before)
    assert abs(np.log(seen.derived.paint.scattering[17] / true.scattering[17])) < 0.35
    other = carding.begin(store, "torv-hav", at=AT)
    with pytest.raises(InvalidInput, match=f"of drawdown card {card}, not of drawdown card {other}"):
        card_readings.from_sheet(store, other, "sheet.jpg", photo, at=AT)
    assert carding.see(store, other).fields[0].readings == []


def test_a_reader_unplugged_in_the_middle_of_a_card_loses_nothing(store, devices, clock):
    card = carding.begin(store, "rav-gran", at=AT)
    read(store, card, devices, "white")
    devices.plug("bench", plugged=False)
    with pytest.raises(InstrumentError, match="unplugged"):
        read(store, card, devices, "black")
    devices.plug("bench", plugged=True)
    with pytest.raises(InstrumentError, match="warming up"):
        read(store, card, devices, "black")
    clock.now += 60
    with devices.reader("bench") as reader:
        reader.calibrate()
    with pytest.raises(InstrumentError, match="no contact"):
        read(store, card, devices, "black", lifted=True)
    read(store, card, devices, "black")
    assert [field.mean is not None for field in carding.see(store, card).fields] == [True, True, *[False] * 6]
    with pytest.raises(InvalidInput, match="still to be read: over white, 1 pass, 2 µm"):
        carding.accept(store, card, at=AT)


def test_a_card_is_typed_brought_as_spectra_and_set_aside(store):
    card = carding.begin(store, "rav-gran", at=AT)
    card_readings.type_in(store, card, "white", "#f2f1ec", at=AT)
    card_readings.type_in(store, card, "black", "6, 0, 0", at=AT)
    card_readings.from_sample(store, card, "over_white:4", Sample("x", np.full(36, 0.30)), at=AT)
    card_readings.type_in(store, card, "over_black:4", "L 20,5  a -12 b 3", at=AT)
    card_readings.type_in(store, card, "over_black:4", "90 0 0", at=AT)
    wrong = carding.see(store, card).fields[5].readings[-1]
    assert carding.see(store, card).fields[5].apart > 20
    card_readings.set_aside(store, card, wrong.id)
    seen = carding.see(store, card)
    assert seen.fields[5].apart == pytest.approx(0.0, abs=1e-9)
    assert seen.derived is not None  # one film is enough to look at
    assert "over white, 12 passes, 24 µm" in seen.missing


@pytest.mark.parametrize("text", ["reddish", "", "52 10", "52 10 -8 4", "152 0 0", "52 1000 0", "nan 0 0"])
def test_what_is_no_colour_is_refused(store, text):
    card = carding.begin(store, "rav-gran", at=AT)
    with pytest.raises(InvalidInput, match="is no colour"):
        card_readings.type_in(store, card, "white", text, at=AT)
    assert carding.see(store, card).fields[0].readings == []


def test_swapped_halves_flakes_and_cards_that_are_not_there_are_said(store):
    card = carding.begin(store, "rav-gran", at=AT)
    for field, colour in zip(FIELDS, ("#101010", "#f0f0f0", "#208040", "#102010"), strict=True):
        card_readings.type_in(store, card, field, colour, at=AT)
    assert "are they swapped?" in carding.see(store, card).problem
    with pytest.raises(InvalidInput, match="flakes or glow"):
        carding.begin(store, "perlemor-blaa", at=AT)
    with pytest.raises(CardNotFound):
        carding.see(store, 999)
    with pytest.raises(InvalidInput, match="no field"):
        card_readings.type_in(store, card, "margin", "#102030", at=AT)


def test_how_the_card_was_sprayed_changes_what_it_says(store):
    card = carding.begin(store, "rav-gran", at=AT)
    for field, colour in zip(FIELDS, ("#f0f0f0", "#101010", "#208040", "#102010"), strict=True):
        card_readings.type_in(store, card, field, colour, at=AT)
    with writing(store):
        mist.put(store, Mist(0.0, 0.0, "even"))
    thin = carding.see(store, card).derived.paint.absorption.sum()
    card_sprayed.describe(store, card, {"film_um": "4"})
    assert carding.see(store, card).derived.paint.absorption.sum() == pytest.approx(thin / 2, rel=0.02)


@pytest.mark.parametrize(
    "given",
    [
        {"film_um": "0"},
        {"film_um": "thick"},
        {"steps": ""},
        {"steps": "1, two"},
        {"steps": "0"},
        {"steps": "51"},
        {"steps": "1 2 3 4 5 6 7"},
        {"white_paint": "torv-sot"},
        {"white_paint": "rav-gran"},
        {"white_drops": "0"},
        {"white_drops": "1.5"},
    ],
)
def test_a_card_that_nobody_can_spray_is_refused_by_field(store, given):
    card = carding.begin(store, "rav-gran", at=AT)
    with pytest.raises(InvalidInput) as caught:
        card_sprayed.describe(store, card, given)
    assert caught.value.field in given
    assert cards.card(store, card).steps == (1, 4, 12)


def test_every_recipe_with_the_paint_is_shown_before_and_after(store):
    version = versions.guess_again(store, "rav-nype", {"colour": "#2040a0"}, at=AT)
    found, total = effects.effects(store, "rav-nype", version - 1, version)
    assert (total, [one.saved.draft.name for one in found]) == (1, ["Autumn char, belly"])
    assert found[0].delta_e > 5
    before, after = (one.columns[0].patches[1].diffuse.lab for one in (found[0].before, found[0].after))
    assert float(delta_e(before, after)) == pytest.approx(found[0].delta_e)
    assert shelf_index.index(store).rows[21].guess
    newest = versions.go_back_to(store, "rav-nype", 1, at=AT)
    found, _ = effects.effects(store, "rav-nype", 1, newest)
    assert found[0].delta_e < 1e-9
    with pytest.raises(InvalidInput, match="no version 9"):
        effects.effects(store, "rav-nype", 9, newest)
    assert delta_e(shelf_index.index(store).labs[21], hex_to_lab("#2040a0")) > 20


def test_drops_are_counted_weighed_and_become_the_bottles_own(store, devices):
    true = truth.of_drop(22, 0.043)
    for _ in range(4):
        droppers.drip(store, 22, devices, "scale", 20)
        droppers.weigh(store, 22, devices, "scale", drops=20, at=AT)
    seen = droppers.see(store, 22)
    assert seen.density == 1.04
    assert abs(seen.volume.mean_ml - true) < 2 * seen.volume.sure_ml
    assert seen.volume.more_drops == 0
    droppers.accept(store, 22, at=AT)
    assert bottles.one(store, 22).drop_ml == pytest.approx(seen.volume.mean_ml, abs=1e-6)


def test_weighings_by_hand_can_be_set_aside_and_nonsense_is_refused(store, devices):
    droppers.add(store, 22, drops=20, grams=None, ml=0.9, at=AT)
    droppers.add(store, 22, drops=20, grams=1.8, ml=None, at=AT)
    assert droppers.see(store, 22).volume.mean_ml == pytest.approx((0.9 + 1.8 / 1.04) / 40)
    droppers.set_aside(store, 22, droppers.see(store, 22).weighings[1].id)
    assert droppers.see(store, 22).volume.mean_ml == pytest.approx(0.045)
    with pytest.raises(InvalidInput, match="count again"):
        droppers.add(store, 22, drops=1, grams=5.0, ml=None, at=AT)
    with pytest.raises(InvalidInput, match="in grams, or their volume"):
        droppers.add(store, 22, drops=20, grams=None, ml=None, at=AT)
    with pytest.raises(InstrumentError, match="tare it"):
        droppers.weigh(store, 22, devices, "scale", drops=20, at=AT)
    devices.plug("scale", plugged=False)
    with pytest.raises(InstrumentError, match="unplugged"):
        droppers.drip(store, 22, devices, "scale", 20)
    assert len(droppers.see(store, 22).weighings) == 2
