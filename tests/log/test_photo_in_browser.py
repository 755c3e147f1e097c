"""A finished bait's photo: kept, found or touched, beside its picture, explained, learned from."""

import re

import pytest
from bait_photo import photo_of, thicker
from playwright.sync_api import expect

from diachrom.store import hand_factor, plans
from diachrom.work.log import entries

AT = "2026-11-28T18:00:00+00:00"


def test_a_photo_is_kept_found_touched_explained_and_learned_from(page, address, on, accessible):
    entry = on(entries.new, {"name": "Char", "plan": "1", "baits": "1"}, at=AT)
    plan = on(plans.now, 1).plan
    content, places = photo_of(on, thicker(plan, {one.number for one in plan.layers}, 1.3))
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{address}/log/{entry}")
    page.locator("input[name=photo]").set_input_files({"name": "b.png", "mimeType": "image/png", "buffer": content})
    page.get_by_role("button", name="Keep it").last.click()
    page.get_by_role("link", name="beside its picture").click()
    expect(page.locator(".side-next")).to_contain_text("check the three places", timeout=60_000)
    accessible()

    # A finger decides: the three places again, one after the other.
    box = page.locator(".side-photo").bounding_box()
    for (x, y), then in zip(places, ("the nose", "the tail", "Use these places"), strict=True):
        page.locator(".side-photo").click(position={"x": x * box["width"] / 900, "y": y * box["height"] / 560})
        expect(page.locator(".side-form")).to_contain_text(then)
    page.get_by_role("button", name="Use these places").click()
    expect(page.locator(".sentence").first).to_contain_text(re.compile("the bait is .* than its picture, dE"))
    causes = page.get_by_role("region", name="What would explain it")
    learn = page.get_by_role("button", name=re.compile("Learn it: your hand 1.00 becomes"))
    expect(learn.first).to_be_visible(timeout=60_000)
    expect(causes.locator("li").first).to_contain_text("All of it was sprayed 1.3")
    accessible()
    assert on(hand_factor.now) == 1.0
    learn.first.click()
    expect(causes).to_contain_text("It has taught your hand: 1.00 became 1.", timeout=60_000)
    expect(learn).to_have_count(0)
    assert on(hand_factor.now) > 1.03
    page.get_by_role("button", name="Take it back").click()
    expect(learn.first).to_be_visible(timeout=60_000)
    assert on(hand_factor.now) == pytest.approx(1.0)
