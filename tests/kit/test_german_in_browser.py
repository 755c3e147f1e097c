"""In German nothing is cut, at any size."""

import pytest
from test_every_page_in_browser import PAGES
from test_other_language_in_browser import all_of


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {**browser_context_args, "locale": "de-DE"}


@pytest.mark.sweep
@pytest.mark.parametrize("part", range(3))
def test_nothing_is_cut_in_german(page, still, part):
    page.goto(still)
    assert page.locator("html").get_attribute("lang") == "de"
    assert not all_of(page, still, PAGES[part::3])
