"""Your mist: dots off photos and cards, what they change before they are taken, and back."""

import io
from dataclasses import replace

import numpy as np
import pytest
from PIL import Image

from diachrom.core.cards import mist_photo
from diachrom.core.light.screen import to_linear
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.hand import Hand
from diachrom.core.mix.layers import check_droplet
from diachrom.core.profiles.contrast_card import strength
from diachrom.demo.paints import PAINTS
from diachrom.errors import ChangedSince, InvalidInput
from diachrom.instruments import macro, truth
from diachrom.store import learnings, migrate, mist, paints
from diachrom.store.connection import connected, writing
from diachrom.store.mist import Mist
from diachrom.work.cards import apply_learning, mist_lesson, mist_photos
from diachrom.work.profiles import card_readings
from diachrom.work.profiles import contrast_cards as carding

AT = "2026-12-01T10:00:00+00:00"
BLACK = [np.array(one) for one in ([0.85, 0.85, 0.85], [0.3, 0.1, 0.1], [0.2, 0.05, 0.05], [0.15, 0.03, 0.03])]
PROFILES = {paint.id: paint.profile() for paint in PAINTS}


def light_of(picture):
    image = np.asarray(Image.open(io.BytesIO(picture)).convert("RGB")) / 255
    return mist_photo.strongest(to_linear(image))


@pytest.mark.parametrize("discs", [0.1, 0.4, 1.0, 2.0])
def test_a_photo_tells_what_is_covered_and_how_wide_a_dot_is(discs):
    found = mist_photo.read(light_of(macro.photo(BLACK, discs=discs, seed=3)))
    assert found.covered == pytest.approx(1 - np.exp(-discs), abs=0.02)
    assert found.droplet_um(4.0 * discs) == pytest.approx(4.0, rel=0.1)
    assert 1000 * macro.SIDE_MM * found.across_px / macro.SIDE_PX == pytest.approx(macro.ACROSS_UM, rel=0.3)
    assert 0.2 <= found.off < 0.3


def test_a_photo_of_nothing_or_of_a_wall_is_refused_and_a_wet_coat_is_even():
    chance = np.random.default_rng(0)
    for picture in (0.8 + 0.01 * chance.standard_normal((300, 300)), 0.5 + 0.1 * chance.standard_normal((300, 300))):
        with pytest.raises(InvalidInput, match="No dots are seen"):
            mist_photo.read(np.clip(picture, 0, 1))
    wet = mist_photo.read(np.clip(0.06 + 0.002 * chance.standard_normal((300, 300)), 0, 1))
    assert wet.even
    assert wet.droplet_um(4.0) == 0
    grains = np.where(chance.random((300, 300)) < 0.3, 0.1, 0.8)
    with pytest.raises(InvalidInput, match="go nearer"):
        mist_photo.read(grains)


def test_a_hand_lays_dots_in_thin_coats_and_wet_ones_flow_together():
    hand, cup = Hand(1.1, 4.0, 0.2), Cup([Pour(PROFILES["rav-fjord"], 3)])
    assert (hand.dots_um(4.0), hand.dots_um(25.0)) == (4.0, 0.0)
    assert hand.dots_um(4.0, nozzle_mm=0.5) > 4.0 > hand.dots_um(4.0, thinned=0.6)
    layer = hand.layer(cup, 8.0, 2)
    assert (layer.film_um, layer.droplet_um, layer.droplet_off) == (pytest.approx(8.8), 4.0, 0.2)
    even = Cup([Pour(replace(PROFILES["rav-fjord"], even=True), 3)])
    assert hand.layer(even, 8.0).droplet_um == 0


def read_card(store, devices, paint_id):
    """A drawdown card of a paint, every field read with the bench's reader."""
    card = carding.begin(store, paint_id, at=AT)
    for field in carding.see(store, card).fields:
        if not field.field.let_down:
            card_readings.read_by_device(store, card, field.field.key, devices, "bench", lifted=False, at=AT)
    return card


@pytest.fixture
def carded(store, devices):
    """Three paints measured on cards, taken for even films as they were before there were dots."""
    with writing(store):
        mist.put(store, Mist(0.0, 0.0, "even"))
    for paint_id in ("rav-fjord", "rav-nype", "torv-mose"):
        carding.accept(store, read_card(store, devices, paint_id), at=AT)
    return store


def own_strength(store, paint_id):
    true = truth.of_paint(paint_id, paints.profile_versions(store, paint_id)[-1].paint)
    return strength(paints.profile(store, paint_id).absorption, true.absorption)


def test_dots_are_found_on_cards_and_what_was_fitted_as_films_is_fitted_again_and_back(carded):
    store = carded
    before = own_strength(store, "rav-fjord")
    assert before < 0.8  # dots that are taken for a film look weak
    found = mist_lesson.search(store)
    assert found.after.droplet_um == pytest.approx(truth.DROPLET_UM, rel=0.12)
    assert found.cards == 3
    assert {one.record.id for one in found.refits} == {"rav-fjord", "rav-nype", "torv-mose"}
    assert "torv-kritt" in {one.id for one in found.even}  # measured once, and nothing of it is kept
    assert mist.now(store).source == "even"  # nothing is taken yet
    mist_lesson.take(store, found, at=AT)
    assert mist.now(store).source == "cards"
    assert abs(np.log(own_strength(store, "rav-fjord"))) < 0.5 * abs(np.log(before))
    assert paints.profile(store, "torv-kritt").even
    assert not paints.profile(store, "rav-fjord").even
    apply_learning.undo(store, at=AT)
    assert mist.now(store) == Mist(0.0, 0.0, "even")
    assert own_strength(store, "rav-fjord") == pytest.approx(before, rel=1e-6)
    assert not paints.profile(store, "torv-kritt").even


def test_what_was_found_before_something_changed_is_not_taken(carded):
    found = mist_lesson.what_changes(carded, Mist(4.0, 0.1, "typed"))
    with writing(carded):
        mist.put(carded, Mist(2.0, 0.1, "typed"))
    with pytest.raises(ChangedSince):
        mist_lesson.take(carded, found, at=AT)
    assert learnings.every(carded) == []


@pytest.mark.parametrize("droplet_um", [-1.0, 50.1, 1000.0])
def test_dots_that_no_airbrush_lays_are_refused(droplet_um):
    with pytest.raises(InvalidInput, match="A dot of mist must be"):
        check_droplet(droplet_um)


def test_a_photo_is_read_into_a_mist_with_its_figures_checked(store, devices):
    content, wide = mist_photos.take_photo(devices, "4")
    found = mist_photos.read(store, "photo", content, film_um="4", wide_mm=wide)
    true = truth.DROPLET_UM * 4 / truth.hand(None).film_um(4.0)  # the hand lays more than it thinks
    assert found.mist.droplet_um == pytest.approx(true, rel=0.1)
    assert found.mist.across_um == pytest.approx(macro.ACROSS_UM, rel=0.3)
    assert mist_photos.read(store, "photo", content, film_um="25", wide_mm="").mist.droplet_um == 0
    for given in ({"film_um": "thick", "wide_mm": ""}, {"film_um": "4", "wide_mm": "0"}):
        with pytest.raises(InvalidInput):
            mist_photos.read(store, "photo", content, **given)


def test_the_page_finds_shows_takes_and_undoes(client, bench):
    assert "4.0 µm" in client.get("/mist").text
    client.post("/mist/camera", data={"film_um": "4"})
    assert mist_lesson.under_way(client.app.state.tasks).wait(120)
    page = client.get("/mist").text
    assert "Use these dots" in page
    assert "of the white is covered" in page
    client.post("/mist/take")
    with connected(bench) as store:
        assert mist.now(store).source == "photo"
    assert "Read off a photo" in client.get("/mist").text
    with connected(bench) as store, writing(store):
        learned = learnings.add(store, cards=6, profiles=[], drops=[], hand=(1.0, 1.0), delta_e=(2.0, 1.0), at=AT)
    assert client.post("/mist/undo").status_code == 422  # what was learned since is not undone from here
    with connected(bench) as store, writing(store):
        assert learnings.last(store).id == learned
        learnings.undone(store, learned, at=AT)
    client.post("/mist/undo")
    with connected(bench) as store:
        assert mist.now(store) == Mist()
    assert client.post("/mist/typed", data={"droplet_um": "lots"}).status_code == 422
    assert client.post("/mist/typed", data={"droplet_um": "1000"}).status_code == 422
    assert client.post("/mist/take").status_code == 404


def test_a_bench_of_before_goes_on_with_even_films_and_a_new_one_begins_with_usual_dots(tmp_path, bench):
    with connected(bench) as store:
        assert mist.now(store) == Mist()
    migrate.migrate(tmp_path)
    with connected(tmp_path) as store:
        assert mist.now(store) == Mist()
        with writing(store):
            store.execute("INSERT INTO setting (key, value) VALUES ('mist', '{\"droplet_um\": \"much\"}')")
        assert mist.now(store) == Mist()  # what cannot be read is the usual
