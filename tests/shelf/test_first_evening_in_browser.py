"""An empty bench, a phone, forty bottles: written down, looked over, put on the shelf, matched, poured and saved."""

import io
import re

import numpy as np
import pillow_heif
import pytest
from PIL import Image, ImageColor
from playwright.sync_api import expect

from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lch
from diachrom.core.light.screen import encode, hex_to_lab, to_linear
from diachrom.store import bottles
from diachrom.store.connection import connected
from diachrom.store.migrate import migrate
from diachrom.web.server import running

COLOURS = ("white", "black", "dark olive", "moss", "sky blue", "orange", "red", "pink", "ochre", "dark brown")
KINDS = ("", ", transparent", " candy", " ink")
FORTY = "\n".join(f"{colour} {at}{kind}, 30 ml" for at, kind in enumerate(KINDS) for colour in COLOURS)
MOST_PRESSES = 6  # a bottle beyond its name


@pytest.fixture
def bare(tmp_path):
    migrate(tmp_path)
    with running(tmp_path) as address:
        yield address, tmp_path


def _left(folder):
    """All that is left in the bottles, ml."""
    with connected(folder) as store:
        return sum(one.left_ml for one in bottles.every(store))


def test_an_empty_folder_becomes_a_first_recipe(page, bare, accessible):
    address, folder = bare
    presses = 0

    def press(name):
        nonlocal presses
        presses += 1
        page.get_by_role("button", name=name).first.click()

    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(address)
    expect(page.get_by_role("heading", level=1)).to_have_text("What is on your bench?")
    accessible()
    page.locator("#bottles").fill(FORTY)
    press("Read my list")
    expect(page.locator(".listed-bottle")).to_have_count(40)
    expect(page.locator("#without")).to_have_count(0)  # each has a colour
    accessible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    press("Put 40 on the shelf")
    expect(page.get_by_text("40 of them are guesses")).to_be_visible()
    page.get_by_label("Drops in a millilitre").fill("22")
    press("Use it for all 40")
    expect(page.locator("#said")).to_have_text("22 drops in a millilitre, for 40 bottles.")
    accessible()
    assert presses <= MOST_PRESSES * 40
    with connected(folder) as store:
        assert len(bottles.every(store)) == 40
    page.goto(f"{address}/match")
    page.locator("input[name=typed]").fill("42 -6 28")
    page.locator("input[name=name]").first.fill("Perch olive")
    press("Match this colour")
    expect(page.locator(".start-from")).to_contain_text(re.compile("Start from|by itself"))
    press(re.compile("Into the cup: To pour"))
    expect(page.locator("#name")).to_have_value("Perch olive")
    before = _left(folder)
    press("Poured")
    expect(page.locator("#said")).to_contain_text("taken out of")
    press(re.compile("^Save"))
    expect(page.locator("#save")).to_be_disabled()
    page.goto(f"{address}/recipes")
    expect(page.locator("main")).to_contain_text("Perch olive")
    assert _left(folder) < before
    assert presses <= 10


def test_colours_are_touched_in_a_photo_and_picked_on_the_wheel(page, bare, accessible, tmp_path):
    address, _ = bare
    paints, cast = ("#405020", "#b02020"), np.array([0.95, 0.8, 0.6])  # under a warm lamp
    white = np.full(3, 0.86)
    linear = (
        np.stack(
            [np.array([0.3, 0.3, 0.3]), white, *(to_linear(np.array(ImageColor.getrgb(one)) / 255) for one in paints)]
        )
        * cast
    )
    stripes = np.repeat(np.repeat(linear[None], 300, axis=0), 200, axis=1)
    photo = tmp_path / "bottles.png"
    Image.fromarray(np.rint(255 * encode(stripes)).astype(np.uint8)).save(photo)
    page.goto(f"{address}/shelf/start")
    page.locator("#bottles").fill("Perch back\nReducer\nCandy red\nSomething")
    page.get_by_role("button", name="Read my list").click()
    page.locator("#touch-file").set_input_files(photo)
    shown = page.locator("#touch-photo")
    expect(page.locator("#touch-said")).to_have_text("Touch the white paper in it first.")
    for stripe in (1, 2, 3):
        width = shown.bounding_box()["width"]
        shown.click(position={"x": (stripe + 0.5) * width / 4, "y": 40})
    expect(page.locator("#touch-said")).to_have_text("Touch Something, 3 of 3.")
    for at, colour in zip((0, 2), paints, strict=True):
        got = page.locator(f"[name=colour-{at}]").input_value()
        assert delta_e(hex_to_lab(got), hex_to_lab(colour)) < 1
    page.locator("#touch-back").click()
    expect(page.locator("[name=colour-2]")).not_to_have_value(got)  # as the word said
    page.get_by_role("button", name="Something: pick its colour on the wheel").click()
    accessible()
    page.locator("#wheel-strip").press("ArrowDown")
    for _ in range(3):
        page.locator("#wheel-disc").press("ArrowRight")
    said = page.locator("#wheel-words").text_content()
    expect(page.locator("#without")).to_have_text("1")
    page.get_by_role("button", name="Use this colour").click()
    expect(page.locator("#without")).to_have_text("0")
    lightness, chroma, hue = (float(one) for one in re.findall(r"\d+", said))
    assert lch(hex_to_lab(page.locator("[name=colour-3]").input_value())) == pytest.approx(
        [lightness, chroma, hue], abs=1
    )


def test_the_demo_bench_is_visited_and_left_and_nothing_of_it_stays(page, bare, accessible):
    address, folder = bare
    page.goto(f"{address}/shelf/start")
    page.get_by_role("button", name="Visit the demo bench").click()
    note = page.get_by_role("complementary", name="A visit")
    expect(note).to_contain_text("This is the demo bench")
    assert not page.url.startswith(address)
    there = page.url
    accessible()
    page.goto(there.replace("/home", "/shelf"))
    expect(page.locator(".shelf-bottle")).to_have_count(48)
    page.goto(there.replace("/home", "/mix"))
    page.locator("[data-pour='1']").first.click()
    expect(page.locator("#undo")).to_be_enabled()
    note.get_by_role("link", name="Back to my bench").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("What is on your bench?")
    expect(note).to_have_count(0)
    with connected(folder) as store:
        assert bottles.every(store) == []
    page.get_by_role("button", name="Visit the demo bench").click()
    page.wait_for_url(there)
    assert page.url == there  # as it was left, while the server runs


def test_what_is_wrong_with_a_long_list_is_where_the_eye_is_led(page, address, refusals):
    refusals.append(422)
    page.goto(f"{address}/shelf/start")
    page.get_by_label("Bottles, one per line").fill("\n".join(f"Green {at}" for at in range(40)))
    page.get_by_role("button", name="Read my list").click()
    page.locator("[name=size_ml-31]").fill("much")
    page.get_by_role("button", name="Put 40 on the shelf").click()
    expect(page.locator("#said")).to_contain_text("To mend: row 32.")
    expect(page.locator("[name=size_ml-31]")).to_be_focused()
    expect(page.locator("#listed-31 .listed-wrong")).to_be_in_viewport()
    expect(page.locator("#listed-31 .listed-wrong")).to_contain_text("Row 32:")


def test_a_photo_as_phones_keep_it_is_touched_and_what_is_none_is_said(page, address, refusals):
    pillow_heif.register_heif_opener()
    photo = io.BytesIO()
    Image.new("RGB", (400, 300), "#405020").save(photo, "HEIF", quality=95)
    page.goto(f"{address}/shelf/start")
    page.locator("#bottles").fill("Something")
    page.get_by_role("button", name="Read my list").click()
    page.get_by_text("Pick their colours from a photo").click()
    refusals += ["status of 422"]
    chosen = {"name": "IMG_1.HEIC", "mimeType": "image/heic", "buffer": photo.getvalue()[:60]}
    page.locator("#touch-file").set_input_files(chosen)
    expect(page.locator("#touch-said")).to_contain_text("IMG_1.HEIC: it is no JPEG")
    page.locator("#touch-file").set_input_files({**chosen, "buffer": photo.getvalue()})
    expect(page.locator("#touch-photo")).to_be_visible()
    page.locator("#touch-white").select_option(label="nothing white or grey")
    page.locator("#touch-photo").click()
    expect(page.locator("#touch-said")).to_have_text("All of them are touched.")
    got = page.locator("[name=colour-0]").input_value()
    assert delta_e(hex_to_lab(got), hex_to_lab("#405020")) < 2
