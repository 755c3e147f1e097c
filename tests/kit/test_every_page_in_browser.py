"""Every page as it stands: read aloud, in the booth, on a phone, at any size and at twice the zoom."""

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.sweep

PAGES = (
    *("/mix", "/pour", "/family", "/amounts", "/compare", "/recipes", "/recipes/10", "/match", "/trainer"),
    *(
        "/shelf",
        "/shelf/new",
        "/shelf/start",
        "/shelf/start/next",
        "/shelf/shopping",
        "/shelf/here",
        "/shelf-sheets",
        "/files",
    ),
    *("/bottles/22", "/bottles/22/change", "/bottles/22/drops", "/paints/rav-nype", "/paints/rav-nype/substitutes"),
    *("/contrast-cards/1", "/test-cards", "/learning", "/record", "/terms", "/settings"),
    *(
        "/plan",
        "/plan/blanks",
        "/plan/tools",
        "/plan/practice",
        "/plan/12?layer=5",
        "/plan/1?layer=3",
        "/plan/2/versions",
        "/plan/1/reference",
    ),
    *("/orders", "/orders/1", "/orders/bench", "/bench", "/bench/1", "/bench/1/sides"),
    *("/home", "/log?q=char", "/log/14", "/log/14/again", "/log/year", "/log/answers", "/log/new"),
    *("/access", "/scan", "/files/backups"),
    *("/finish", "/finish/1", "/finish/faults?session=1&fault=tacky"),
)
PAPERS = (
    "/shelf/labels?bottle=22",
    "/recipes/cards?recipe=10",
    "/plan/1/print",
    "/plan/1/print?true_size=1",
    "/plan/1/compare",
    "/orders/1/print",
    "/log/14/card",
)  # paper is as wide as paper
WIDE, PHONE = (1280, 800), (390, 844)
SIZES = (PHONE, (640, 400), (768, 1024), (1920, 1080))


# In the booth by rules of their own; the others only by their colours.
LAID_OUT_OTHERWISE = ("/mix", "/pour")

THEME = "([theme, look]) => Object.assign(document.documentElement.dataset, { theme, bsTheme: look })"
DAY, BOOTH = ("day", "light"), ("booth", "dark")


@pytest.mark.parametrize("part", range(3))
def test_each_page_is_accessible_and_fits_whatever_it_is_shown_on(page, still, accessible, part):
    """In both themes: the second is the first one's page with another look (`test_the_themes_differ_by_their_look`)."""

    def fits(path, width, *themes):
        for theme in themes:
            page.evaluate(THEME, theme)
            assert page.evaluate("document.documentElement.scrollWidth") <= width, (path, theme, width)

    for path in (*PAGES, *PAPERS)[part::3]:
        page.set_viewport_size({"width": WIDE[0], "height": WIDE[1]})
        page.goto(still + path)
        accessible()
        page.evaluate(THEME, BOOTH)
        accessible(contrast_alone=True)
        if path not in PAPERS:
            fits(path, WIDE[0], BOOTH, DAY)
            for width, height in SIZES:
                page.set_viewport_size({"width": width, "height": height})
                both = path in LAID_OUT_OTHERWISE or (width, height) == PHONE
                fits(path, width, *((DAY, BOOTH) if both else (DAY,)))


def test_day_and_booth_follow_the_system_until_somebody_chooses(page, still):
    theme = "document.documentElement.dataset.theme"
    page.emulate_media(color_scheme="dark")
    page.goto(f"{still}/shelf")
    assert page.evaluate(theme) == "booth"
    expect(page.get_by_role("button", name="Day view")).to_be_visible()
    expect(page.get_by_role("button", name="Booth view")).to_be_hidden()
    assert 'data-theme="booth"' in page.request.get(f"{still}/shelf").text()  # the server knows by now
    page.emulate_media(color_scheme="light")
    page.wait_for_function(f"{theme} === 'day'")
    page.get_by_role("button", name="Booth view").click()
    expect(page.get_by_role("button", name="Day view")).to_be_visible()
    page.reload()
    assert page.evaluate(theme) == "booth"  # chosen, whatever the system has
    page.goto(f"{still}/settings")
    page.get_by_role("button", name="Follow the system").click()
    page.wait_for_function(f"{theme} === 'day'")


def test_the_themes_differ_by_their_look(page, still):
    """What the booth's page has of its own: its theme on the page."""

    def told():
        return page.request.get(f"{still}/shelf").text()

    page.context.add_cookies([{"name": "theme", "value": "day", "url": still}])
    day = told()
    page.context.add_cookies([{"name": "theme", "value": "booth", "url": still}])
    changed = {'data-theme="booth"': 'data-theme="day"', 'data-bs-theme="dark"': 'data-bs-theme="light"'}
    booth = told()
    for one, other in (changed | {'content="dark"': 'content="light"'}).items():
        assert one in booth
        booth = booth.replace(one, other)
    assert booth == day
