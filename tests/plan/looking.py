"""How a plan's page is looked at in a browser: pixels of the bait's part of it."""

import io
import re
from contextlib import contextmanager

import numpy as np
from PIL import Image
from playwright.sync_api import expect

SURROUND = 3  # of a channel, within which a pixel is the surround


@contextmanager
def on_a_phone(browser, address):
    """A touched phone with an empty bait, black in its airbrush."""
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True)
    page = context.new_page()
    page.goto(f"{address}/plan/blanks")
    page.get_by_role("button", name="Begin the plan").tap()
    shown(page)
    page.locator("#add-source").select_option("torv-sot")
    page.get_by_role("button", name="Airbrush", exact=True).tap()
    page.locator("#bait").scroll_into_view_if_needed()
    yield page
    context.close()


@contextmanager
def changing(page):
    """What is done here changes the plan: the bait is shown as it then is."""
    revision = page.locator("#plan").get_attribute("data-revision")
    yield
    expect(page.locator("#plan")).not_to_have_attribute("data-revision", revision)
    shown(page)


def looked(page):
    """The bait's part of the page (row, column, 3), and where the bait is (row, column)."""
    expect(page.locator("#bait")).to_have_attribute("data-moving", "")
    with Image.open(io.BytesIO(page.locator("#bait").screenshot(animations="disabled"))) as image:
        seen = np.asarray(image.convert("RGB"), dtype=float)
    return seen, (np.abs(seen - seen[0, 0]) > SURROUND).any(axis=-1)


def look(page, low=0.0, high=1.0):
    """How many pixels are painted between these heights, and how light and how coloured they are in the mean."""
    seen, there = looked(page)
    rows = slice(int(low * len(seen)), int(high * len(seen)))
    painted = seen[rows][there[rows]]
    return [len(painted), *painted.mean(axis=0).tolist()]


def shown(page):
    """Wait until the bait is shown as the plan now has it, whole."""
    revision = page.locator("#plan").get_attribute("data-revision")
    expect(page.locator("#bait")).to_have_attribute("data-shown", re.compile(f"^{revision}:"))
    return look(page)
