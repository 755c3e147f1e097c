"""The whole shelf on one sheet: sprayed, photographed badly, read in one go, taken and taken back."""

import io
import re
from dataclasses import replace

import numpy as np
import pytest
from bench_sheet import mixed_off, photographed, within
from PIL import Image
from starlette.testclient import TestClient

from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import BANDS
from diachrom.core.light.screen import linear_to_lab
from diachrom.core.profiles.card_fit import camera
from diachrom.core.profiles.pair_fit import ReadField, fit_pair
from diachrom.core.profiles.phone_eye import LUMA, phone_eye
from diachrom.errors import BadFile, BadPhoto, InvalidInput
from diachrom.instruments import phone
from diachrom.instruments.camera import SHOTS
from diachrom.store import paints
from diachrom.store.connection import connected, writing
from diachrom.web.app import create_app
from diachrom.work.kit.tasks import Tasks
from diachrom.work.profiles import read_sheets, shelf_sheets

AT = "2026-11-25T10:00:00+00:00"
BASE = "http://127.0.0.1:8000/"
TAKEN = []
SCREEN = camera().channels
FIVE = ["torv-mose", "rav-fjord", "lykt-rod", "torv-kritt", "blekk-natt"]


def begun(store, several=FIVE):
    return read_sheets.begin(store, several, film_um="2", clear_coat=True, at=AT)


def read(store, devices, number):
    """The first sheet of every bench looks the same: it is photographed once."""
    if not TAKEN:
        TAKEN.append(read_sheets.take_photo(store, devices, number, "phone", BASE))
    read_sheets.from_photo(store, number, "sheet.jpg", TAKEN[0], at=AT)


def worked_out(bench, number):
    tasks = Tasks(bench)
    read_sheets.start(tasks, number)
    task = read_sheets.task_of(tasks, number)
    assert task.wait(60)
    assert (task.problem, task.done, task.total) == ("", len(FIVE), len(FIVE))
    with connected(bench) as fresh:
        return shelf_sheets.see(fresh, number)


def versions(store):
    return {key: paints.profile_versions(store, key)[0].version for key in FIVE}


def test_mixes_of_paints_that_a_photo_told_are_near_what_they_really_are_though_a_thumb_smeared_a_field():
    true, found, _ = photographed(3, "smeared", pairs=10)
    off = mixed_off(np.random.default_rng(3), true, found)
    assert np.median(off) < 3
    assert np.quantile(off, 0.95) < 8
    assert len([one for one in found if any("left out" in own for own in one.doubts)]) == 1


def test_nine_in_ten_sprayings_lie_within_what_phones_with_eyes_of_their_own_leave_open():
    inside = []
    for seed in (11, 12, 13, 14):
        true, found, _ = photographed(seed, replace(SHOTS["phone"], phone=seed, lamp="D65"), pairs=10)
        assert np.median(mixed_off(np.random.default_rng(seed), true, found)) < 5
        inside += within(np.random.default_rng(seed), true, found)
    assert 0.85 <= np.mean(inside) <= 0.97


def test_the_printed_colours_tell_how_vivid_a_phone_is_and_leave_less_open():
    vivid, colours = SCREEN + 0.15 * (SCREEN - LUMA @ SCREEN), phone.printed(3)
    shown = {key: linear_to_lab(np.clip(vivid @ one, 0, 1)) for key, one in colours.items()}
    told, any_phone = phone_eye(shown), phone_eye({})
    np.testing.assert_allclose(told.turn.sum(axis=1), 1)
    for off, doubt in ((told.turn @ vivid - SCREEN, told.eye.doubt), (vivid - SCREEN, any_phone.eye.doubt)):
        reflectance = phone.printed(4)["pale-red"]
        assert (
            np.abs(off @ reflectance) < 2.5 * np.sqrt(np.einsum("b,kbc,c->k", reflectance, doubt, reflectance))
        ).all()
    left = np.einsum("kbb->", told.eye.doubt) / np.einsum("kbb->", any_phone.eye.doubt)
    assert left < 0.6
    muted = {key: linear_to_lab(vivid @ np.full(BANDS, 0.5)) for key in colours}
    assert np.abs(told.turn - np.eye(3)).max() < np.abs(phone_eye(muted).turn - np.eye(3)).max()


def test_a_sheet_that_was_printed_before_there_were_coloured_squares_says_so(store, unplugged, monkeypatch):
    number = begun(store)
    monkeypatch.setattr("diachrom.instruments.phone.printed", lambda seed: {})
    before = read_sheets.take_photo(store, unplugged, number, "phone", BASE)
    read_sheets.from_photo(store, number, "sheet.jpg", before, at=AT)
    kept = shelf_sheets.see(store, number).sheet
    assert [one.ground for one in kept.bare] == ["white", "black"]
    assert read_sheets.phone_moves(kept) is None
    np.testing.assert_array_equal(read_sheets.phone_of(kept).turn, np.eye(3))


def test_a_film_that_fits_none_of_the_others_is_left_out_and_named(store, bench, unplugged):
    """Eight passes too many, say, of which nobody knows."""
    number = begun(store)
    read(store, unplugged, number)
    kept = shelf_sheets.see(store, number).sheet
    fields = {(one.ground, one.passes): ReadField(np.array(one.lab)) for one in kept.pairs[0].fields}
    bare = {(one.ground, one.passes): ReadField(np.array(one.lab)) for one in kept.bare}
    told = {"film_um": 2.0, "sheen": CLEARED, "kind": "opaque", "phone": read_sheets.phone_of(kept)}
    right = fit_pair(fields, bare, **told)
    fields["black", 12] = ReadField(fields["black", 12].lab + np.array([25, 10, -20]))
    found = fit_pair(fields, bare, **told)
    assert right.doubts == ()
    assert re.fullmatch(r"12 passes over black: does not fit the others, dE \d+ off, left out", found.doubts[0])
    np.testing.assert_allclose(found.absorption, right.absorption, rtol=0.5)
    lost = {key: ReadField(one.lab, "smeared") for key, one in fields.items()}
    with pytest.raises(InvalidInput, match="None of its films"):
        fit_pair(lost, bare, **told)
    del fields["white", 4]
    with pytest.raises(InvalidInput, match="read a photo again"):
        fit_pair(fields, bare, **told)


def test_a_sheet_is_taken_and_taken_back_whole_and_leaves_alone_what_was_measured_since(store, bench, unplugged):
    with connected(bench) as earlier:
        before, number = versions(earlier), begun(earlier)
        read(earlier, unplugged, number)
        assert shelf_sheets.see(earlier, number).waiting == len(FIVE)
    seen = worked_out(bench, number)
    sure = [one.record.id for one in seen.pairs if one.sure]
    assert len(sure) >= 4
    assert shelf_sheets.take(store, number, None, at=AT) == len(sure)
    assert versions(store) == {key: one + (key in sure) for key, one in before.items()}
    newest = paints.profile_versions(store, sure[0])[0]
    assert newest.source == f"shelf sheet {number}, pair {1 + FIVE.index(sure[0])}"
    with pytest.raises(InvalidInput, match="no profile to use"):
        shelf_sheets.take(store, number, None, at=AT)
    with writing(store):
        measured = paints.add_profile(store, newest.paint, paint_id=sure[0], source="a reader", at=AT)
    with pytest.raises(InvalidInput, match="undo the whole sheet"):
        read(store, unplugged, number)
    back, left = shelf_sheets.undo(store, number, at=AT)
    assert (back, len(left)) == (len(sure) - 1, 1)
    with pytest.raises(InvalidInput, match="nothing to undo"):
        shelf_sheets.undo(store, number, at=AT)
    now = paints.profile_versions(store, sure[1])
    np.testing.assert_array_equal(now[0].paint.absorption, now[2].paint.absorption)
    assert paints.profile_versions(store, sure[0])[0].version == measured
    again = shelf_sheets.take(store, number, [1 + FIVE.index(sure[1])], at=AT)
    assert again == 1


def test_what_was_learned_is_judged_by_ones_own_test_cards_on_the_page(store, bench, unplugged):
    number = begun(store)
    read(store, unplugged, number)
    worked_out(bench, number)
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        page = client.get(f"/shelf-sheets/{number}").text
        told = re.search(
            r"On (\d+) spray-out cards? of your own .* dE ([\d.]+) before and lie within dE ([\d.]+)", page
        )
        assert int(told[1]) > 0
        assert float(told[3]) < float(told[2]) + 2
        assert "sure within" in page
        taken = client.post(f"/shelf-sheets/{number}/take", data={"pair": "1"}, headers={"HX-Request": "true"})
        assert "1 profile taken" in taken.text
        assert "Undo the whole sheet" in taken.text


def test_a_photo_that_tells_nothing_is_refused_in_a_sentence_and_what_was_read_stays(store, unplugged):
    number, other = begun(store), begun(store, FIVE[:3])
    read(store, unplugged, number)
    photo, before = TAKEN[0], shelf_sheets.see(store, number).sheet
    for sheet, content, wrong, words in (
        (number, b"emoji \xf0\x9f\x90\x9f", BadFile, "HEIC or AVIF picture"),
        (number, two_of(photo), BadPhoto, "shows two sheets"),
        (number, upper_half(photo), BadPhoto, "corner mark is missing"),
        (other, photo, BadPhoto, f"of the sheet of shelf sheet {number}, not of shelf sheet {other}"),
    ):
        with pytest.raises(wrong, match=words):
            read_sheets.from_photo(store, sheet, "sheet.jpg", content, at=AT)
    assert shelf_sheets.see(store, number).sheet == before
    assert shelf_sheets.see(store, other).waiting == 0


def upper_half(photo):
    with Image.open(io.BytesIO(photo)) as one:
        out = io.BytesIO()
        one.crop((0, 0, one.width, one.height // 2)).save(out, "JPEG", quality=95)
    return out.getvalue()


def two_of(photo):
    """Two sheets in one picture."""
    with Image.open(io.BytesIO(photo)) as one:
        both = Image.new("RGB", (2 * one.width, one.height))
        both.paste(one, (0, 0))
        both.paste(one, (one.width, 0))
    out = io.BytesIO()
    both.save(out, "JPEG", quality=95)
    return out.getvalue()


@pytest.mark.parametrize(
    ("chosen", "words"),
    [([], "none are chosen"), (["perlemor-blaa"], "cannot measure a pearl paint"), ("all", "second sheet")],
)
def test_what_no_sheet_can_hold_is_said(store, chosen, words):
    several = [one.id for one in paints.every_record(store)] if chosen == "all" else chosen
    with pytest.raises(InvalidInput, match=words):
        begun(store, several)
