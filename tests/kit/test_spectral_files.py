"""A reading that a device wrote into a file, on each page that asks for one."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from diachrom.core.light.bands import WAVELENGTHS_NM
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.store import spray_out_cards
from diachrom.store.connection import connected
from diachrom.work.mix import cup
from diachrom.work.pour import pouring

AT = "2026-11-25T10:00:00+00:00"
TWO = """CGATS.17
NUMBER_OF_FIELDS 32
BEGIN_DATA_FORMAT
SAMPLE_NAME {fields}
END_DATA_FORMAT
NUMBER_OF_SETS 2
BEGIN_DATA
puff {low}
other {high}
END_DATA
"""


def columns(reflectance):
    return "".join(f"{nm:.0f};{value:.4f}\n" for nm, value in zip(WAVELENGTHS_NM, reflectance, strict=True))


def two_samples():
    fields = " ".join(f"SPECTRAL_NM{nm:.0f}" for nm in WAVELENGTHS_NM)
    low, high = (" ".join([f"{value:.4f}"] * len(WAVELENGTHS_NM)) for value in (0.1, 0.6))
    return TWO.format(fields=fields, low=low, high=high).replace("FIELDS 32", f"FIELDS {len(WAVELENGTHS_NM) + 1}")


GREEN = np.where((WAVELENGTHS_NM > 490) & (WAVELENGTHS_NM < 580), 0.4, 0.06)
DROP = """([on, name, text]) => {
  const held = new DataTransfer();
  held.items.add(new File([text], name));
  document.querySelector(on).dispatchEvent(
    new DragEvent("drop", { bubbles: true, cancelable: true, dataTransfer: held }));
}"""


def readings(store):
    return [reading for patch in spray_out_cards.one(store, 24).patches for reading in patch.readings]


def send(client, path, text, **fields):
    return client.post(path, data=fields, files={"file": ("green.csv", text.encode())}, headers={"HX-Request": "true"})


def test_a_patch_of_a_card_is_read_from_a_file(client, bench):
    answer = send(client, "/test-cards/24/file", columns(GREEN), ground="white", coats="4")
    assert "Taken from green.csv: green." in answer.text
    with connected(bench) as store:
        last = max(readings(store), key=lambda one: one.id)
    np.testing.assert_allclose(last.lab, lab(GREEN, under=light("D65")), atol=0.01)
    assert "green.csv" in last.source


def test_a_puff_is_judged_by_a_file_beside_the_prediction(client, bench):
    answer = send(client, "/pour/file", two_samples(), sample="other", values="share")
    assert "Taken from green.csv: other." in answer.text
    with connected(bench) as store:
        verdict = pouring.see(store).told[-1].verdict
    assert verdict.source == "green.csv"
    np.testing.assert_allclose(verdict.lab, lab(np.full(len(WAVELENGTHS_NM), 0.6), under=light("D65")), atol=0.01)


@pytest.mark.parametrize(
    ("text", "said"),
    [("It was a dark night.", "neither CGATS"), (two_samples(), "puff"), ("400 x\n410 y\n", "no wavelength")],
)
@pytest.mark.parametrize(
    ("path", "fields"), [("/pour/file", {}), ("/test-cards/24/file", {"ground": "white", "coats": "4"})]
)
def test_a_file_that_is_no_reading_is_said_and_nothing_is_kept(client, bench, path, fields, text, said):
    with connected(bench) as store:
        before = len(readings(store)), len(pouring.see(store).told)
    answer = send(client, path, text, **fields)
    assert answer.status_code == 422
    assert said in answer.text
    with connected(bench) as store:
        assert (len(readings(store)), len(pouring.see(store).told)) == before


def test_an_empty_cup_takes_no_reading(client, bench):
    with connected(bench) as store:
        cup.start_new(store, at=AT)
    assert "Nothing to pour yet" in client.get("/pour").text
    assert send(client, "/pour/file", columns(GREEN)).status_code == 422


def test_a_file_that_is_dropped_goes_to_the_patch_whose_turn_it_is_or_to_the_one_it_falls_on(page, address):
    page.goto(f"{address}/test-cards/24")
    page.evaluate(DROP, ["h1", "first.txt", columns(GREEN)])
    turn = page.locator(".patch.next")
    expect(turn.locator("details")).to_have_attribute("open", "")
    words = turn.get_attribute("aria-label")
    turn.locator("form", has=page.locator("[data-takes]")).get_by_role("button", name="Save").click()
    expect(page.locator("#said")).to_contain_text("Taken from first.txt: first.")
    expect(page.get_by_label(words, exact=True)).to_contain_text("1 reading")
    page.evaluate(DROP, [".patch:not(.next) .patch-pair", "second.cxf", "<no/>"])
    held = page.locator("input[data-takes]").evaluate_all("all => all.map((one) => one.files.length)")
    assert held.index(1) == 0
    page.goto(f"{address}/pour")
    page.evaluate(DROP, [".pour-hands", "puff.csv", columns(GREEN)])
    page.get_by_role("button", name="Take this reading").click()
    expect(page.locator("#said")).to_contain_text(re.compile(r"Read: .* dE .*Taken from puff\.csv"))
