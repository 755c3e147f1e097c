"""How flat a hand lays foil: read off two photos, used for all that lies on it, and forgotten again."""

import io

import numpy as np
import pytest
from starlette.testclient import TestClient

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.plan import Plan
from diachrom.core.cards import foil_photos as core
from diachrom.core.film.grounds import BY_HAND_DEG, ground, laid
from diachrom.errors import InvalidInput
from diachrom.instruments import foil_photo
from diachrom.store import foil
from diachrom.store.connection import connected
from diachrom.web.app import create_app
from diachrom.work.cards import foil_photos
from diachrom.work.mix.sprayed_over import over_named
from diachrom.work.plan.painting import skin_of

HERE = {"HX-Request": "true"}


@pytest.mark.parametrize("tilt_deg", [10.0, 14.0, 18.0])
@pytest.mark.parametrize("turned_deg", [15.0, 20.0])
def test_simulated_facets_are_told_within_a_degree(tilt_deg, turned_deg, monkeypatch):
    monkeypatch.setattr(foil_photo, "TILT_DEG", tilt_deg)
    flash, turned = (foil_photo.photo(one, seed=3) for one in (0.0, turned_deg))
    found = foil_photos.read(flash, turned, turned_deg=str(turned_deg), cleared=False)
    assert found.tilt_deg == pytest.approx(tilt_deg, abs=1.0)


def test_cleared_foil_keeps_its_flash_farther_since_light_is_bent_on_its_way_in():
    assert core.ratio(12.0, 15.0, cleared=True) > core.ratio(12.0, 15.0, cleared=False)
    flash, turned = core.FoilPhoto(2.0, 0.4), core.FoilPhoto(2.0 * core.ratio(12.0, 15.0, cleared=True), 0.4)
    assert core.tilt(flash, turned, 15.0, cleared=True) == pytest.approx(12.0, abs=1e-6)


def taken(level, paper=0.4):
    picture = np.full((200, 300, 3), level)
    picture[:, :48] = paper
    return picture


@pytest.mark.parametrize(
    ("picture", "words"),
    [
        (taken(1.0), "burnt out in it"),
        (taken(0.5, 0.01), "no white paper"),
        (taken(0.5, 1.0), "burnt out, or not evenly lit"),
        (taken(0.5, np.where(np.arange(200) < 100, 0.3, 0.6)[:, None, None]), "not evenly lit"),
    ],
)
def test_a_photo_that_tells_nothing_is_refused_with_what_to_do(picture, words):
    with pytest.raises(InvalidInput, match=words):
        core.read(picture, "in the flash")


@pytest.mark.parametrize(
    ("flash", "turned", "turned_deg", "words"),
    [
        (0.5, 2.0, 15.0, "swapped"),
        (2.0, 1e-6, 15.0, "Turn it less"),
        (2.0, 1.0, 2.0, "by 5 to 35"),
        (2.0, 1.0, float("nan"), "by 5 to 35"),
    ],
)
def test_photos_that_do_not_fit_each_other_say_so(flash, turned, turned_deg, words):
    with pytest.raises(InvalidInput, match=words):
        core.tilt(core.FoilPhoto(flash, 0.4), core.FoilPhoto(turned, 0.4), turned_deg, cleared=False)


def test_foil_of_ones_own_is_another_ground_and_stamped_foil_stays_as_it_is():
    own = laid("silver-foil", 9.0)
    assert own.key != "silver-foil"
    assert own.glance(0.0).max() > 1.8 * ground("silver-foil").glance(0.0).max()
    assert laid("silver-foil", BY_HAND_DEG) is ground("silver-foil")
    for key in ("stamped-foil", "white", "glitter"):
        assert laid(key, 9.0) is ground(key)


def test_the_camera_s_photos_are_read_used_on_strips_and_baits_and_taken_back(bench):
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        assert "14°" in client.get("/foil").text
        read = client.post("/foil/camera", data={"turned_deg": "15"}, headers=HERE).text
        assert "Use 11.4°" in read
        with connected(bench) as store:
            assert foil.now(store).source == "usual"
        said = client.post("/foil/take", data={"tilt_deg": "11.4", "photographed": "yes"}, headers=HERE).text
        assert "In use" in said
        with connected(bench) as store:
            assert over_named(store, "gold-foil").ground.mirror.tilt_deg == 11.4
            assert skin_of(store, Plan(blank=Blank("minnow", 110, state="foil-silver"))).foil_deg == 11.4
            assert skin_of(store, Plan(blank=Blank("spoon-flat", 60))).foil_deg == pytest.approx(11.4 * 8 / 14)
        for tilt_deg in ("", "0", "90", "flat"):
            assert client.post("/foil/take", data={"tilt_deg": tilt_deg}, headers=HERE).status_code == 422
        client.post("/foil/forget", headers=HERE)
        with connected(bench) as store:
            assert over_named(store, "gold-foil").ground.mirror.tilt_deg == BY_HAND_DEG


def test_photos_of_ones_own_are_uploaded_and_a_file_that_is_none_is_refused(bench):
    def jpeg(content):
        return ("a.jpg", io.BytesIO(content), "image/jpeg")

    flash, turned = foil_photo.photo(0.0, seed=1), foil_photo.photo(15.0, seed=2)
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        sent = {"flash": jpeg(flash), "turned": jpeg(turned)}
        assert "Use 11" in client.post("/foil/photos", data={"turned_deg": "15"}, files=sent, headers=HERE).text
        swapped = {"flash": jpeg(turned), "turned": jpeg(flash)}
        assert "swapped" in client.post("/foil/photos", data={"turned_deg": "15"}, files=swapped, headers=HERE).text
        none = {"flash": jpeg(b"no photo"), "turned": jpeg(turned)}
        assert client.post("/foil/photos", files=none, headers=HERE).status_code == 422
        whole = client.post("/foil/camera", data={"turned_deg": "15"}).text  # without the script that swaps parts
        assert "Use 11" in whole
        assert "<nav" in whole
