"""In a language whose every sentence is half as long again, nothing is cut."""

import pytest
from made_up_language import spoken
from test_every_page_in_browser import PAGES, SIZES, WIDE

from diachrom.web.server import running

# What shows less than it holds, and does not scroll.
CUT = """() => [...document.querySelectorAll("body *")].filter((one) => {
  const style = getComputedStyle(one);
  const hides = ["hidden", "clip"].includes(style.overflowX);
  return hides && !one.closest(".visually-hidden, [hidden], svg, dialog:not([open])") && one.textContent.trim() &&
    !one.title && one.clientWidth > 1 && one.scrollWidth > one.clientWidth + 1; // a title holds the whole
}).concat([...document.querySelectorAll(".rail a, .btn-plain, .btn-main")].filter((one) => // beyond its edge
  one.clientWidth > 1 && one.scrollWidth > one.clientWidth + 1 && !one.closest("details:not([open])")
)).map((one) => `${one.className}: ${one.textContent.trim().slice(0, 60)}`)"""


@pytest.fixture(scope="module")
def other(filled, tmp_path_factory):
    with spoken(tmp_path_factory.mktemp("words")), running(filled) as address:
        yield address


def all_of(page, address, paths):
    found = []
    for path in paths:
        page.goto(address + path)
        for width, height in (WIDE, *SIZES):
            page.set_viewport_size({"width": width, "height": height})
            wide = page.evaluate("document.documentElement.scrollWidth")
            found += [f"{path} at {width}: {wide} px wide"] if wide > width else []
            found += [f"{path} at {width} cuts {one}" for one in page.evaluate(CUT)]
    return "\n".join(dict.fromkeys(found))


@pytest.mark.sweep
@pytest.mark.parametrize("part", range(3))
def test_nothing_is_cut_where_every_sentence_is_half_as_long_again(page, other, part):
    assert not all_of(page, other, PAGES[part::3])
