"""The airbrush drawn over the bait, in a real browser: by mouse, by touch, by typed figures."""

import json
import re

import numpy as np
import pytest
from plan.looking import looked, on_a_phone, shown
from playwright.sync_api import expect

from diachrom.core.light.difference import delta_e
from diachrom.core.light.screen import linear_to_lab, to_linear


@pytest.fixture
def begun(page, address):
    """An empty bait, primed white, with the airbrush in the hand."""
    page.goto(f"{address}/plan/blanks")
    page.get_by_role("button", name="Begin the plan").click()
    shown(page)
    page.get_by_role("button", name="Airbrush", exact=True).click()
    return page


def draw(page, *places):
    """From place to place, in shares of the picture."""
    box = page.locator("#bait").bounding_box()
    (x, y), *rest = [(box["x"] + u * box["width"], box["y"] + v * box["height"]) for u, v in places]
    page.mouse.move(x, y)
    page.mouse.down()
    for x, y in rest:
        page.mouse.move(x, y, steps=12)
    page.mouse.up()


def dark(page):
    """How many pixels of the bait's flank have black paint, be it thin."""
    seen, _ = looked(page)
    rows, columns = seen.shape[0], seen.shape[1]
    flank = seen[int(0.42 * rows) : int(0.6 * rows), int(0.33 * columns) : int(0.75 * columns)]
    return int((flank.max(axis=-1) < 160).sum())


def strokes(page):
    """Of the plan's layers, how many each has, as its file says."""
    number = page.locator("#bait").get_attribute("data-plan")
    answer = page.request.get(page.url.split("/plan/")[0] + f"/plan/{number}/document.json")
    return [[len(one["points"]) for one in layer.get("strokes", ())] for layer in json.loads(answer.body())["layers"]]


def test_a_bait_is_drawn_on_from_nothing_and_each_stroke_is_undone_by_itself(begun):
    page = begun
    draw(page, (0.4, 0.5), (0.6, 0.5))
    expect(page.locator("#said")).to_contain_text("Choose what to spray")
    page.locator("#add-source").select_option("torv-sot")
    before = dark(page)
    draw(page, (0.35, 0.44), (0.7, 0.48))
    expect(page.locator(".layer")).to_contain_text("1 stroke by hand")
    shown(page)
    once = dark(page)
    assert once > before + 150
    draw(page, (0.4, 0.58), (0.6, 0.58))
    expect(page.locator(".layer")).to_contain_text("2 strokes by hand")
    shown(page)
    assert dark(page) > once + 80
    page.get_by_role("button", name="Airbrush", exact=True).press("u")
    expect(page.locator(".layer")).to_contain_text("1 stroke by hand")
    page.reload()
    shown(page)
    assert dark(page) == pytest.approx(once, rel=0.1)
    page.get_by_role("button", name="Redo", exact=True).click()
    expect(page.locator(".layer")).to_contain_text("2 strokes by hand")


def test_a_hand_that_leaves_the_bait_lays_nothing_there_and_begins_again_where_it_comes_back(begun):
    page = begun
    page.locator("#add-source").select_option("torv-sot")
    draw(page, (0.45, 0.1), (0.45, 0.9), (0.6, 0.9), (0.6, 0.1))
    expect(page.locator(".layer")).to_contain_text("2 strokes by hand")
    ((first, second),) = strokes(page)
    assert min(first, second) >= 2


def test_a_tap_is_a_dot_and_shift_goes_straight_there(begun):
    page = begun
    page.locator("#add-source").select_option("torv-sot")
    draw(page, (0.4, 0.5))
    expect(page.locator(".layer")).to_contain_text("1 stroke by hand")
    shown(page)
    dot = dark(page)
    page.keyboard.down("Shift")
    draw(page, (0.65, 0.5))
    page.keyboard.up("Shift")
    expect(page.locator(".layer")).to_contain_text("2 strokes by hand")
    shown(page)
    assert dark(page) > dot + 100
    assert strokes(page)[0][1] == 2


def test_a_finger_taps_a_dot(browser, address):
    with on_a_phone(browser, address) as page:
        box = page.locator("#bait").bounding_box()
        page.touchscreen.tap(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        expect(page.locator(".layer")).to_contain_text("1 stroke by hand")


def test_a_line_is_typed_and_taken_off_again(begun):
    page = begun
    page.locator("#add-source").select_option("torv-sot")
    page.get_by_role("button", name="Add layer", exact=True).click()
    page.get_by_text("Lay it by hand", exact=True).click()
    page.get_by_text("Type it instead", exact=True).click()
    for words, mm in (("From, along", "30"), ("From, around", "12"), ("To, along", "80"), ("To, around", "12")):
        page.get_by_label(words).fill(mm)
    page.get_by_role("button", name="Spray this line").click()
    expect(page.locator("#said")).to_contain_text("Undo gives its region back")
    expect(page.locator(".layer")).to_contain_text("1 stroke by hand")
    shown(page)
    assert dark(page) > 200
    page.get_by_role("button", name="Take the last one off").click()
    expect(page.locator(".layer")).to_contain_text(re.compile("all around"))


def test_what_is_drawn_has_its_true_colour_while_it_is_drawn(page, address):
    """Against the server's exact picture after the hand is lifted, where the stroke went."""
    page.goto(f"{address}/plan/2")
    shown(page)
    before, _ = looked(page)
    page.locator("#add-source").select_option("torv-kritt")
    page.get_by_role("button", name="Airbrush", exact=True).click()
    expect(page.locator("#bait")).to_have_attribute("data-ladder", re.compile("."))
    box = page.locator("#bait").bounding_box()
    page.mouse.move(box["x"] + 0.3 * box["width"], box["y"] + 0.46 * box["height"])
    page.mouse.down()
    for k in range(1, 25):
        page.mouse.move(box["x"] + (0.3 + 0.014 * k) * box["width"], box["y"] + (0.46 + 0.004 * k) * box["height"])
        page.wait_for_timeout(20)  # a slow hand
    drawn, _ = looked(page)
    page.mouse.up()
    expect(page.locator(".layer")).to_have_count(6)
    shown(page)
    exact, _ = looked(page)
    met = np.abs(exact - before).max(axis=-1) > 12
    met[:, int(0.55 * met.shape[1]) :] = False  # at its end it stood while the picture was taken
    met[: int(0.35 * met.shape[0])] = False  # what stands beside the bait of the layer that is worked on
    assert met.sum() > 1000
    off = delta_e(*(linear_to_lab(to_linear(one[met] / 255)) for one in (drawn, exact)))
    assert np.median(off) < 4  # the exact one has the grain of its dots besides
    assert np.percentile(off, 90) < 8


def test_what_is_refused_comes_off_the_picture_again(begun, refusals):
    page = begun
    refusals.append(422)
    page.locator("#add-source").select_option("torv-sot")
    expect(page.locator("#bait")).to_have_attribute("data-ladder", re.compile("."))
    before = dark(page)
    held = []
    page.route("**/strokes", lambda route: held.append(route))
    draw(page, (0.4, 0.5), (0.6, 0.5))
    page.wait_for_function("() => !document.getElementById('bait').dataset.moving")
    assert dark(page) > before + 50
    held[0].fulfill(status=422, content_type="text/html", body="<p>No.</p>")
    page.wait_for_timeout(300)
    assert dark(page) == pytest.approx(before, abs=20)
    expect(page.locator("#plan")).to_have_attribute("data-layers", "0")


@pytest.mark.parametrize("points", ["", "{", "[" * 50_000, "[[[{}]]]", '[[["a", 1, 2]]]', "[[[1e999, 0, 0]]]", "7"])
def test_what_did_not_arrive_whole_is_refused_and_nothing_is_laid(page, address, points):
    given = {"source": "torv-sot", "points": points}
    answer = page.request.post(f"{address}/plan/1/strokes", form=given, headers={"Origin": address})
    assert answer.status == 422
    assert "draw it again" in answer.text()
    assert len(json.loads(page.request.get(f"{address}/plan/1/document.json").body())["layers"]) == 7
