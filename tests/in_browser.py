"""A real browser on a real server. Any page error, console error or request that leaves the machine fails the test."""

from pathlib import Path

import pytest
from chromium import ARGUMENTS, EXECUTABLE
from playwright.sync_api import expect

from diachrom.web.server import running

expect.set_options(timeout=60_000)  # a busy machine is slow, not wrong

AXE = Path(__file__).parent / "vendor/axe.min.js"


@pytest.fixture(scope="session")
def browser_type_launch_args():
    return {"executable_path": EXECUTABLE, "args": ARGUMENTS}


@pytest.fixture(scope="session")
def browser_context_args():
    return {
        "viewport": {"width": 1280, "height": 800},
        "reduced_motion": "reduce",
        "locale": "en-GB",
        "timezone_id": "UTC",
    }


@pytest.fixture
def address(bench):
    with running(bench) as address:
        yield address


@pytest.fixture(scope="session")
def still(filled):
    """The address of a bench that no test changes."""
    with running(filled) as address:
        yield address


@pytest.fixture
def refusals():
    """Statuses that a test expects a server to answer, or words of what the browser says of one that is gone; the
    browser reports each as a console error."""
    return []


@pytest.fixture
def page(page, refusals):
    troubles = []
    page.on("pageerror", lambda error: troubles.append(f"page error: {error}"))
    page.on("console", lambda message: troubles.append(message.text) if message.type == "error" else None)
    page.on(
        "request",
        lambda request: (
            None if request.url.startswith(("http://127.0.0.1", "data:")) else troubles.append(f"left: {request.url}")
        ),
    )
    yield page
    expected = [one if isinstance(one, str) else f"status of {one}" for one in refusals] + (
        ["Response Status Error Code"] if refusals else []
    )
    unexpected = [trouble for trouble in troubles if not any(text in trouble for text in expected)]
    assert not unexpected, "\n".join(unexpected)


@pytest.fixture
def accessible(page):
    """Check the page as it stands against WCAG 2.2 AA; in a second theme for its contrast alone, all else being the
    same."""

    def check(*, contrast_alone=False):
        if page.evaluate("typeof axe") == "undefined":
            page.evaluate(AXE.read_text(encoding="utf-8"))
        every = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
        only = {"type": "rule", "values": ["color-contrast"]} if contrast_alone else {"type": "tag", "values": every}
        # Nothing is preloaded: of these rules none looks into style sheets.
        options = {"runOnly": only, "resultTypes": ["violations"], "preload": False}
        result = page.evaluate("(options) => axe.run(document, options)", options)
        found = [
            f"{rule['id']}: {node['html'][:160]} {node['failureSummary']}"
            for rule in result["violations"]
            for node in rule["nodes"]
        ]
        assert not found, "\n".join([page.url, *found])

    return check
