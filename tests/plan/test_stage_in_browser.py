"""The bait as a page shows it: the colours of paper, near and from other sides, with and without a graphics card."""

import io
import json
import re

import numpy as np
import pytest
from PIL import Image
from plan.looking import SURROUND, look, looked, shown
from playwright.sync_api import expect

from diachrom.core.bait.view import MARGIN
from diachrom.core.light.difference import delta_e
from diachrom.core.light.screen import linear_to_lab, to_linear

WIDE = 1200  # px of the server's picture


# Where the room is not mirrored, and no fin's shadow lies above: (u, heights of the body below its back).
PLACES = [(u, share) for u in (0.36, 0.47, 0.58, 0.73, 0.8) for share in (0.5, 0.62, 0.74)]
HALF_LONG, HALF_TALL = 0.02, 0.07  # of the bait's length and height: a patch


@pytest.mark.sweep
@pytest.mark.parametrize("number", range(1, 9))
def test_the_page_draws_what_paper_and_files_show(page, still, number):
    """Fifteen patches of the left side: what a screenshot shows against what the server draws. 1.2 in the mean of all
    eight plans; most over foil, of which paper shows no mirror image of the room."""
    page.goto(f"{still}/plan/{number}")
    shown(page)
    seen, there = looked(page)
    body = page.request.get(f"{still}/plan/{number}/skin?rough=1").body()
    size = int.from_bytes(body[:4], "little")
    fittings = json.loads(body[4 : 4 + size])["fitted"]["fittings"]
    along = [0.0, 1.0, *(u for fitting in fittings for u, _ in fitting["points"])]
    long, middle = max(along) - min(along), (min(along) + max(along)) / 2
    image = Image.open(io.BytesIO(page.request.get(f"{still}/plan/{number}/picture.png?width={WIDE}").body()))
    paper = np.asarray(image, dtype=float)
    length, paper_length = seen.shape[1] * min(0.9, 0.92 / long), WIDE / (long + 2 * MARGIN)  # px
    scale = length / paper_length
    slim = scale * np.ptp(np.flatnonzero((paper[..., 3] > 128).any(axis=1))) < 0.25 * len(seen)
    band = len(seen) // 3 if slim else 0  # its other sides lie above and below

    def mean(picture, column, row, tall, own_length):
        rows, columns = (max(2, round(half)) for half in (HALF_TALL * tall, HALF_LONG * own_length))
        patch = picture[round(row) - rows : round(row) + rows + 1, column - columns : column + columns + 1, :3]
        return linear_to_lab(to_linear(patch / 255).mean(axis=(0, 1)))

    off = []
    for u, share in PLACES:
        column, own = round(paper_length * (u - min(along) + MARGIN)), round(seen.shape[1] / 2 + length * (u - middle))
        first, last = np.flatnonzero(paper[:, column, 3] > 128)[[0, -1]]
        tall = last - first
        theirs = mean(paper, column, first + share * tall, tall, paper_length)
        top = int(there[band:, own].argmax()) + band
        off.append(delta_e(mean(seen, own, top + share * tall * scale, tall * scale, length), theirs))
    assert np.mean(off) < 3.2, np.round(off, 1)


def test_a_slim_bait_shows_its_other_sides_and_a_press_turns_it_there(page, still):
    page.goto(f"{still}/plan/4")
    shown(page)
    _, there = looked(page)
    rows = there.any(axis=1).reshape(-1)
    thirds = [rows[round(k * len(rows) / 3) : round((k + 1) * len(rows) / 3)].sum() for k in range(3)]
    assert min(thirds) > 20
    box = page.locator("#bait").bounding_box()
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + 0.19 * box["height"])
    expect(page.locator("[data-look=back]")).to_have_attribute("aria-pressed", "true")
    expect(page.locator("[data-look=left]")).to_have_attribute("aria-pressed", "false")


def test_a_surface_is_told_by_what_it_mirrors(page, still):
    """Under clear a sharp highlight and deep colours, matte neither."""
    page.goto(f"{still}/plan/2")
    shown(page)
    found = {}
    for words in ("under clear", "satin", "matte"):
        page.get_by_label("Surface").select_option(label=words)
        seen, there = looked(page)
        light = seen[there].mean(axis=-1)
        found[words] = np.percentile(light, 99), np.percentile(light, 20)
    assert found["under clear"][0] > found["satin"][0] > found["matte"][0]
    assert found["under clear"][1] < found["satin"][1] < found["matte"][1]


def test_light_falls_past_a_bait_but_not_over_it(page, still):
    """The ground below is darkened by its shadow; in water there is no ground."""
    page.goto(f"{still}/plan/2")
    shown(page)
    seen, _ = looked(page)
    ground = seen[0, 0, 0]
    neutral = np.ptp(seen, axis=-1) < SURROUND
    shaded = neutral & (seen[..., 0] < ground - 8) & (seen[..., 0] > ground - 70)
    rows = np.flatnonzero(shaded.sum(axis=1) > 60)
    assert len(rows) > 5
    assert rows.min() > 0.5 * len(seen)


def test_without_a_graphics_card_s_help_the_server_s_own_pictures_are_shown_and_turned(page, address):
    page.add_init_script(
        "const own = HTMLCanvasElement.prototype.getContext;"
        "HTMLCanvasElement.prototype.getContext = function (kind, ...rest) {"
        " return kind.startsWith('webgl') ? null : own.call(this, kind, ...rest); };"
    )
    with page.expect_response(re.compile(r"picture\.png.*side=left")):
        page.goto(f"{address}/plan/2")
    expect(page.locator("#bait")).to_have_attribute("data-shown", re.compile(":"))
    with page.expect_response(re.compile(r"picture\.png.*side=belly")):
        page.get_by_role("button", name="Belly", exact=True).click()
    assert look(page)[0] > 10_000
    box = page.locator("#bait").bounding_box()
    with page.expect_response(re.compile(r"/at\?u=")):
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)


def test_a_graphics_card_that_is_lost_comes_back_with_the_bait(page, address):
    page.goto(f"{address}/plan/5")
    before = shown(page)
    page.evaluate(
        """() => new Promise((done) => {
      const canvas = document.querySelector('.stage-light'), gl = canvas.getContext('webgl2');
      const lose = gl.getExtension('WEBGL_lose_context');
      canvas.addEventListener('webglcontextrestored', () => setTimeout(done, 200));
      canvas.addEventListener('webglcontextlost', () => setTimeout(() => lose.restoreContext(), 50));
      lose.loseContext();
    })"""
    )
    assert look(page) == pytest.approx(before, rel=0.02)


def test_a_bait_is_looked_at_from_near_and_measured(page, address):
    page.goto(f"{address}/plan/1")
    whole = shown(page)[0]
    box = page.locator("#bait").bounding_box()
    page.mouse.move(box["x"] + 0.3 * box["width"], box["y"] + box["height"] / 2)
    page.mouse.wheel(0, -900)
    assert look(page)[0] > 1.5 * whole  # it fills more of the picture
    assert page.evaluate("scrollY") == 0
    page.locator("#bait").press("0")
    assert look(page)[0] == pytest.approx(whole, rel=0.02)
    page.get_by_role("button", name="Ruler", exact=True).click()
    expect(page.get_by_role("button", name="Ruler", exact=True)).to_have_attribute("aria-pressed", "true")
    assert look(page, 0.9)[0] > 200  # it stands at the foot of the picture


def test_before_and_after_are_one_picture_with_a_slider(page, address):
    page.goto(f"{address}/plan/1")
    page.locator(".plan-actions summary").click()
    page.get_by_role("link", name="Compare it").click()
    page.get_by_label("Compared with").select_option("steps-1")
    page.get_by_role("button", name="Compare", exact=True).click()
    after = page.locator(".compare-after")
    expect(after).to_have_js_property("complete", True)
    slider = page.get_by_label("Where the one ends and the other begins")
    for value, clip in (("0", "inset(0px 0px 0px 0%)"), ("100", "inset(0px 0px 0px 100%)")):
        slider.fill(value)
        expect(after).to_have_css("clip-path", clip)


@pytest.mark.parametrize("size", [(390, 844), (1280, 800)])
def test_the_bait_and_what_is_drawn_over_it_lie_on_each_other(page, address, size):
    page.set_viewport_size({"width": size[0], "height": size[1]})
    page.goto(f"{address}/plan/1")
    shown(page)
    assert page.locator(".stage-light").bounding_box() == page.locator("#bait").bounding_box()
