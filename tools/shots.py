"""Pictures of the main views with the demo data. Without arguments it renews docs/screenshots/.

Usage: shots.py [FOLDER [NAME...]] - into another folder, or only the views whose name begins with one of these.
"""

import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from chromium import ARGUMENTS, EXECUTABLE
from playwright.sync_api import Page, sync_playwright

from diachrom.demo.bench import fill
from diachrom.web.running import running

WIDE, TABLET, PHONE, LARGE = (1280, 800), (768, 1024), (390, 844), (1920, 1080)


def _booth(page: Page) -> None:
    page.get_by_role("button", name="Booth view").click()
    page.wait_for_load_state("networkidle")


def _find(page: Page) -> None:
    page.locator("#add").fill("mel")
    page.locator(".found-bottle").first.wait_for()


def _foil(page: Page) -> None:
    page.locator("#patch-silver-foil-2").click()
    page.locator("#patch-silver-foil-2[aria-pressed=true]").wait_for()


def _empty(page: Page) -> None:
    page.locator("#new").click()
    page.locator(".seen-empty").wait_for()


def _pearl(page: Page) -> None:
    page.goto(page.url.rsplit("/", 1)[0] + "/recipes/11")
    page.get_by_role("button", name="Open version 1 in the cup").click()
    page.locator("#choose-ground").select_option("recipe:1:1")
    page.locator("#patch-recipe-1-1-1").wait_for()
    page.get_by_role("button", name="tilt", exact=True).click()


def _deep(page: Page) -> None:
    page.locator("#choose-light").select_option("green-lake@8")
    page.locator("#choose-light[value]").count()
    page.wait_for_load_state("networkidle")
    page.get_by_role("button", name="spectrum", exact=True).click()


# name -> (size, path, what is done before the picture)
VIEWS: dict[str, tuple[tuple[int, int], str, Callable[[Page], None] | None]] = {
    "mix": (WIDE, "/mix", None),
    "mix-phone": (PHONE, "/mix", None),
    "mix-booth": (WIDE, "/mix", _booth),
    "shelf": (WIDE, "/shelf", None),
    "recipes": (WIDE, "/recipes", None),
    "recipe": (WIDE, "/recipes/10", None),
    "bottle": (WIDE, "/bottles/22", None),
    "compare": (WIDE, "/compare?mix=recipe:11:1", None),
}
# Looked at while working, not kept.
MORE = {
    "look-find": (WIDE, "/mix", _find),
    "look-foil": (WIDE, "/mix", _foil),
    "look-pearl": (WIDE, "/mix", _pearl),
    "look-deep": (WIDE, "/mix", _deep),
    "look-compare-mixes": (WIDE, "/compare?by=mix&over=black", None),
    "look-compare-phone": (PHONE, "/compare", None),
    "look-new-paint": (WIDE, "/shelf/new", None),
    "look-empty": (WIDE, "/mix", _empty),
    "look-mix-tablet": (TABLET, "/mix", None),
    "look-mix-large": (LARGE, "/mix", None),
    "look-shelf-phone": (PHONE, "/shelf", None),
    "look-recipes-phone": (PHONE, "/recipes", None),
    "look-recipe-phone": (PHONE, "/recipes/10", None),
    "look-mix-booth-phone": (PHONE, "/mix", _booth),
}


def main(folder: Path, wanted: list[str]) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    views = VIEWS if not wanted else VIEWS | MORE
    with tempfile.TemporaryDirectory() as home, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=EXECUTABLE, args=ARGUMENTS)
        for name, ((width, height), path, before) in views.items():
            if wanted and not any(name.startswith(start) for start in wanted):
                continue
            data = Path(home) / name
            fill(data)
            with running(data) as address:
                context = browser.new_context(
                    viewport={"width": width, "height": height},
                    reduced_motion="reduce",
                    locale="en-GB",
                    timezone_id="UTC",
                )
                page = context.new_page()
                page.goto(address + path)
                page.wait_for_load_state("networkidle")
                if before:
                    before(page)
                page.screenshot(path=folder / f"{name}.png")
                context.close()
        browser.close()


if __name__ == "__main__":
    here = Path(__file__).parents[1] / "docs/screenshots"
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else here, sys.argv[2:])
