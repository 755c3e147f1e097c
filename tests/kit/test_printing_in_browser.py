"""Paper: sheets of cards are one page on A4 and on Letter, and two readers read every code as a printer draws it."""

import io
import re

import numpy as np
import pypdfium2
import pytest
from PIL import Image
from playwright.sync_api import expect
from pyzbar import pyzbar

from diachrom.exchange import codes
from diachrom.web.server import running

pytestmark = pytest.mark.sweep

PRINTERS_DPI = 150
ONE_PAGE = (
    "/test-cards/18/sheet",
    "/contrast-cards/1/sheet",
    "/shelf/labels?bottle=22",
    "/log/14/card",
    "/orders/1/print",
    "/log/year",
    "/plan/1/print",
)
WITH_CODES = ("/shelf/labels?q=torv", "/recipes/cards", "/test-cards/18/sheet", "/contrast-cards/1/sheet")


@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_a_sheet_is_one_page(page, still, paper):
    for path in ONE_PAGE:
        page.goto(still + path)
        pages = re.findall(rb"/Type\s*/Page\b(?!s)", page.pdf(format=paper))
        assert len(pages) == 1, path


def test_two_readers_read_every_code(browser, still):
    context = browser.new_context(viewport={"width": 794, "height": 1123}, device_scale_factor=PRINTERS_DPI / 96)
    page = context.new_page()
    page.emulate_media(media="print")
    for path in WITH_CODES:
        page.goto(still + path)
        printed = page.locator("svg.qr")
        assert printed.count() > 0, path
        read = []
        for at in range(printed.count()):
            with Image.open(io.BytesIO(printed.nth(at).screenshot())) as shot:
                seen = np.asarray(shot.convert("L"))
            (one,) = codes.texts(seen)
            (other,) = pyzbar.decode(seen, symbols=[pyzbar.ZBarSymbol.QRCODE])
            assert other.data.decode() == one, path
            read.append(one)
        assert len(set(read)) == len(read)
        assert all(text.startswith(still) for text in read)
    context.close()


def at_ten_dots_a_mm(pdf):
    """The first page of a document as another program draws it, white 1 to black 0; and its size in mm."""
    document = pypdfium2.PdfDocument(pdf)
    page = document[0]
    drawn = page.render(scale=254 / 72, grayscale=True).to_numpy()
    size = [round(side * 25.4 / 72, 1) for side in page.get_size()]
    return drawn.reshape(drawn.shape[:2]) / 255, size


@pytest.mark.parametrize(
    ("paper", "sheet"),
    [
        ("a4", {}),
        ("a4", {"columns": 5, "rows": 13, "width_mm": 38.1, "height_mm": 21.2, "left_mm": 4.7, "top_mm": 10.7}),
        ("letter", {"columns": 2, "rows": 5, "width_mm": 101.6, "height_mm": 50.8, "left_mm": 4, "top_mm": 12.7}),
    ],
)
def test_labels_lie_where_the_sheet_has_them(page, bench, paper, sheet):
    usual = {"columns": 3, "rows": 8, "width_mm": 64, "height_mm": 33, "left_mm": 7, "top_mm": 9.5}
    said = {**usual, **sheet, "page": paper, "across_mm": 2, "down_mm": 0}
    with running(bench) as address:
        page.goto(f"{address}/shelf/labels?bottle=22")
        for name, value in said.items():
            field = page.locator(f"[name={name}]")
            field.select_option(value) if name == "page" else field.fill(str(value))
        page.get_by_role("button", name="Test on plain paper").click()
        expect(page.locator(".label-outline")).to_have_count(said["columns"] * said["rows"])
        drawn, size = at_ten_dots_a_mm(page.pdf(prefer_css_page_size=True))
    assert size == pytest.approx({"a4": [210.0, 297.0], "letter": [215.9, 279.4]}[paper], abs=0.2)
    dark = drawn < 0.6
    top = 10 * said["top_mm"]
    row = dark[round(top + 5 * said["height_mm"])]  # through the middle of the first labels
    edges = np.flatnonzero(np.diff(row.astype(int)) == 1) / 10
    wanted = [
        said["left_mm"] + column * (said["width_mm"] + 2) + side * said["width_mm"]
        for column in range(said["columns"])
        for side in (0, 1)
    ]
    assert np.abs(edges - wanted).max() < 0.25
    lowest = np.flatnonzero(dark.sum(axis=1) > 100).max() / 10
    assert abs(lowest - (said["top_mm"] + said["rows"] * said["height_mm"])) < 0.25
    ruler = np.flatnonzero(dark[25:40].any(axis=0))  # over the labels, where it has room
    if said["top_mm"] > 9:
        assert abs((ruler.max() - ruler.min()) / 10 - 100) < 0.3


@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_a_plan_is_printed_at_its_true_size_and_its_ruler_says_so(page, still, paper):
    page.goto(f"{still}/plan/1/print?true_size=1")  # a bait of 110 mm
    page.wait_for_load_state("networkidle")
    (sheet, *_) = pypdfium2.PdfDocument(page.pdf(format=paper, margin={"left": "10mm", "top": "10mm"}))
    blue, green, red = np.moveaxis(sheet.render(scale=254 / 72).to_numpy()[..., :3].astype(int), -1, 0)  # 10 dots a mm
    dark = red + green + blue < 450
    marks = [np.flatnonzero(np.diff(row.astype(int)) == 1) for row in dark]
    ticks = next(at for at in marks if len(at) == 12 and np.ptp(np.diff(at)) <= 2)  # the longest, one each 10 mm
    assert ticks[-1] - ticks[0] == pytest.approx(1100, abs=4)
    orange = np.flatnonzero(((red > 180) & (blue < 110)).any(axis=0))  # its belly, from nose to tail
    assert orange[-1] - orange[0] == pytest.approx(1100, abs=25)
    assert abs(orange[0] - ticks[0]) < 25  # the ruler begins at its nose


def test_a_picture_that_is_kept_says_how_large_it_is_on_paper(client):
    def wide_mm(query):
        with Image.open(io.BytesIO(client.get(f"/plan/1/picture.png?{query}").content)) as picture:
            return None if "dpi" not in picture.info else picture.width / picture.info["dpi"][0] * 25.4

    drawing = client.get("/plan/1/picture.svg").text
    true = float(re.search(r'width="([\d.]+)mm"', drawing)[1])
    assert wide_mm("width=1600&save=1") == pytest.approx(true, abs=0.05)
    assert wide_mm("width=700&save=1&side=back") == pytest.approx(true, abs=8)
    assert wide_mm("width=700&save=1&side=list") is None  # of several sides
    assert wide_mm("width=700") is None
