"""The tour that the front page leads to: what it says to press is there."""

import re
from html import unescape
from pathlib import Path

import pytest

TOUR = (Path(__file__).parents[2] / "docs/tour.md").read_text(encoding="utf-8")
# Where each step looks, by its number.
PLACES = {
    2: ["/mix"],
    3: ["/mix"],
    4: ["/mix"],
    5: ["/mix", "/compare"],
    6: ["/mix"],
    7: ["/shelf", "/paints/rav-nype", "/bottles/22", "/contrast-cards/1"],
    8: [
        "/match",
        "/mix",
        "/pour",
        "/test-cards/18",
        "/learning",
        "/match?paint=perlemor-blaa",
        "/paints/perlemor-blaa",
    ],
    9: ["/plan/2", "/plan/1", "/plan/5", "/plan"],
    10: ["/orders/1", "/orders"],
    11: ["/bench/1"],
    12: ["/finish"],
    13: ["/log/14", "/log"],
    14: ["/home"],
}
KEYS = {"u", "+", "−", "←", "→", "[", "]", "?", "as sprayed", "in the cup", "clear coat"}
LATER = {"Into the cup", "Save as poured", "checks", "reference photo", "Pour it drop by drop", "Match it", "Again"}


def steps():
    for text in re.split(r"\n(?=\d+\. )", TOUR)[1:]:
        number, _, words = text.partition(". ")
        yield int(number), {" ".join(bold.split()) for bold in re.findall(r"\*\*([^*]+)\*\*", words)}


def test_there_are_fourteen_steps_and_each_of_them_looks_somewhere():
    assert [number for number, _ in steps()] == list(range(1, 15))


@pytest.mark.parametrize(("number", "bold"), [(number, bold) for number, bold in steps() if number in PLACES])
def test_what_a_step_says_to_press_is_on_its_pages(client, number, bold):
    pages = " ".join(unescape(re.sub(r"\s+", " ", client.get(place).text)) for place in PLACES[number])
    missing = {words for words in bold - KEYS - LATER if words.lower() not in pages.lower()}
    assert not missing
