# ruff: noqa: E501 - the script in it has long lines
"""Mix in its fullest state: eight bottles, forty drops, long names, a target, two warnings, on every size of screen."""

import pytest
from playwright.sync_api import expect

from diachrom.store import bottles, cups, paints
from diachrom.store.connection import connected, writing
from diachrom.web.server import running
from diachrom.work.match import targets
from diachrom.work.mix import cup
from diachrom.work.shelf import stock

AT = "2026-11-25T10:00:00+00:00"
DROPS = {
    "Rav Gull": 9,
    "Torv Kritt": 4,
    "Rav Nype": 7,
    "Lykt Blaa": 3,
    "Perlemor Blaa": 3,
    "Torv Sot": 1,
    "Rav Melk": 5,
    "Tynn reducer": 8,
}
SIZES = ((1280, 800), (1024, 768), (820, 1180), (390, 844))
# What can be pressed, typed into or read, that is shown but not wholly on the screen; and text that is cut off.
OUT_OF_REACH = """() => {
  const shown = (one) => one.checkVisibility({ visibilityProperty: true }) && one.getClientRects().length > 0;
  const named = (one) => `${one.tagName} ${one.id || one.className} ${(one.ariaLabel || one.textContent).trim().slice(0, 40)}`;
  const all = [...document.querySelectorAll("#mix :is(button, input, select, textarea, summary, p, li, b, span, figcaption), .rail-cup")].filter(shown);
  const outside = all.filter((one) => {
    const box = one.getBoundingClientRect();
    return box.width > 1 && (box.left < -1 || box.top < -1 || box.right > innerWidth + 1 || box.bottom > innerHeight + 1);
  });
  const covered = all.filter((one) => one.matches("button, input, select, textarea, summary")).filter((one) => {
    const box = one.getBoundingClientRect();
    const top = document.elementFromPoint(box.left + box.width / 2, box.top + box.height / 2);
    return top !== null && !one.contains(top) && !top.contains(one);
  });
  const cut = all.filter((one) => {
    const style = getComputedStyle(one);
    const hides = style.overflowX !== "visible" || style.overflowY !== "visible";
    return hides && one.matches(":not(input, select)") && (one.scrollWidth > one.clientWidth + 1 || one.scrollHeight > one.clientHeight + 2);
  });
  const scrolls = [...document.querySelectorAll("#rows, .warnings, #string, #mix")].filter(shown).filter((one) => one.scrollHeight > one.clientHeight + 2);
  return [...outside, ...covered, ...cut, ...scrolls].map(named);
}"""
CONTROLS = "() => [...document.querySelectorAll('#mix :is(button, input, select, textarea)[id]')].map((one) => [one.id, one.checkVisibility()])"


@pytest.fixture
def full(bench):
    with connected(bench) as store:
        cup.start_new(store, at=AT)
        numbers = {one.full_name: one.id for one in bottles.every(store)}
        for name, drops in DROPS.items():
            cup.give(store, numbers[name], drops, at=AT)
        with writing(store):
            own = bottles.one(store, numbers["Rav Gull"]).paint_id
            paints.change(store, own, name="Gull etter langvarig regn ved Skarholm fyr, gamal")
        stock.correct(store, numbers["Torv Kritt"], 0.1, at=AT)
        cup.call_it(
            store, name="Autumn char, belly and flank, the third try for the harbour shop before rain", note="", at=AT
        )
        cup.spray_as(store, ground="silver-foil", at=AT)
        targets.typed(store, "#a06030", "Flank of the char in the tank at noon", at=AT)
        assert cups.now(store).draft.drops == 40
    with running(bench) as address:
        yield address


@pytest.mark.sweep
@pytest.mark.parametrize("theme", ["day", "booth"])
@pytest.mark.parametrize("size", SIZES)
def test_every_control_is_in_reach_and_no_text_is_cut_when_it_is_full(page, full, theme, size):
    page.context.add_cookies([{"name": "theme", "value": theme, "url": full}])
    page.set_viewport_size({"width": size[0], "height": size[1]})
    page.goto(f"{full}/mix")
    expect(page.locator(".next-panel")).to_have_count(1)
    reached = {}
    tabs = page.locator("[data-panel-choice]:visible")
    for at in range(max(1, tabs.count())):
        if tabs.count():
            tabs.nth(at).click()
        assert page.evaluate(OUT_OF_REACH) == [], tabs.all_inner_texts()[at : at + 1]
        for key, seen in page.evaluate(CONTROLS):
            reached[key] = reached.get(key, False) or seen
    hidden = [
        key for key, seen in reached.items() if not seen and not key.startswith(("less-", "more-", "count-", "note"))
    ]
    assert hidden == []
    # The buttons of every bottle are one press away.
    if tabs.count():
        page.locator("[data-panel-choice=drops]:visible").first.click()
    for row in page.locator(".row-bottle").all():
        row.locator("[data-pick]").click()
        expect(row.locator("[data-pour='1']")).to_be_in_viewport(ratio=1)
