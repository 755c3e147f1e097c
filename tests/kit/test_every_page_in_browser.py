"""Every page as it stands: read aloud, in the booth, on a phone, at any size and at twice the zoom."""

import pytest

PAGES = (
    *("/mix", "/pour", "/family", "/amounts", "/compare", "/recipes", "/recipes/10", "/match", "/trainer"),
    *("/shelf", "/shelf/new", "/shelf/start", "/shelf/start/next", "/shelf/shopping", "/shelf-sheets", "/files"),
    *("/bottles/22", "/bottles/22/change", "/bottles/22/drops", "/paints/rav-nype", "/paints/rav-nype/substitutes"),
    *("/contrast-cards/1", "/test-cards", "/learning", "/record", "/terms", "/settings"),
    *("/plan", "/plan/blanks", "/plan/1?layer=3", "/plan/2/versions", "/plan/1/reference"),
)
PAPERS = ("/shelf/labels?bottle=22", "/recipes/cards?recipe=10", "/plan/1/print")  # paper is as wide as paper
SIZES = ((390, 844), (640, 400), (768, 1024), (1280, 800), (1920, 1080))


@pytest.mark.parametrize("theme", ["day", "booth"])
def test_each_page_is_accessible_and_fits_whatever_it_is_shown_on(page, still, accessible, theme):
    page.context.add_cookies([{"name": "theme", "value": theme, "url": still}])
    for path in (*PAGES, *PAPERS):
        page.set_viewport_size({"width": 1280, "height": 800})
        page.goto(still + path)
        accessible(contrast_alone=theme == "booth")
        if path not in PAPERS:
            for width, height in SIZES:
                page.set_viewport_size({"width": width, "height": height})
                assert page.evaluate("document.documentElement.scrollWidth") <= width, (path, width)
