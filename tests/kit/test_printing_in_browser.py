"""Paper: sheets of cards are one page on A4 and on Letter, and two readers read every code as a printer draws it."""

import io
import re

import numpy as np
import pytest
from PIL import Image
from pyzbar import pyzbar

from diachrom.exchange import codes

pytestmark = pytest.mark.sweep

PRINTERS_DPI = 150
ONE_PAGE = (
    "/test-cards/18/sheet",
    "/contrast-cards/1/sheet",
    "/shelf/labels?bottle=22",
    "/log/14/card",
    "/orders/1/print",
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
