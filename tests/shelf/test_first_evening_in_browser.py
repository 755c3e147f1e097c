"""An empty bench, a phone, forty bottles: written down, looked over, put on the shelf, matched, poured and saved."""

import re

import pytest
from playwright.sync_api import expect

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
    press("Read the list")
    expect(page.locator(".listed-bottle")).to_have_count(40)
    expect(page.locator(".listed .sentence")).to_have_count(0)  # each has a colour
    accessible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    press("Put 40 on the shelf")
    expect(page.locator(".shelf-bottle").first).to_be_visible()
    expect(page.get_by_text("40 colours are guesses")).to_be_visible()
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
    press(re.compile("^Save"))
    expect(page.locator("#save")).to_be_disabled()
    page.goto(f"{address}/recipes")
    expect(page.locator("main")).to_contain_text("Perch olive")
    assert presses <= 8
