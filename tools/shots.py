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
from diachrom.web.server import running

WIDE, TABLET, PHONE, LARGE = (1280, 800), (768, 1024), (390, 844), (1920, 1080)
BENCH_TABLET = (820, 1180)


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


def _read_card(page: Page) -> None:
    page.get_by_role("button", name="Plug in").click()
    page.get_by_role("button", name="Calibrate on its tile").click(timeout=30_000)
    page.get_by_text("ready; its tile").wait_for()
    while page.locator(".card-field.next").count():
        words = page.locator(".card-field.next").get_attribute("aria-label")
        page.locator(".card-field.next .btn-main").click()
        page.locator(f".card-field[aria-label='{words}']:not(.next)").wait_for()
    page.get_by_text("By this card").wait_for()


def _accept(page: Page) -> None:
    _read_card(page)
    page.get_by_role("button", name="Use it as the paint").click()
    page.get_by_text("What changed with").first.wait_for()


def _aim(page: Page, typed: str) -> None:
    page.locator("input[name=typed]").fill(typed)
    page.locator("input[name=name]").first.fill("Char belly, from the photo")
    page.get_by_role("button", name="Match this colour").click()
    page.locator(".target").wait_for()
    page.locator("#match-found:not(:has([hx-get])) .alternative").first.wait_for(timeout=30_000)


def _match(page: Page) -> None:
    _aim(page, "#c85a28")


def _turning(page: Page) -> None:
    page.goto(page.url.rsplit("/", 1)[0] + "/paints/perlemor-blaa")
    page.get_by_role("button", name="Match it").click()
    page.locator("#match-found:not(:has([hx-get])) .alternative").first.wait_for(timeout=60_000)


def _out_of_reach(page: Page) -> None:
    _aim(page, "#2040ff")


def _next(page: Page) -> None:
    _aim(page, "#b04a1c")
    page.goto(page.url.rsplit("/", 1)[0] + "/mix")
    page.locator(".next-panel").wait_for()


def _pour(page: Page) -> None:
    _aim(page, "#b04a1c")
    page.goto(page.url.rsplit("/", 1)[0] + "/mix")
    page.get_by_role("button", name="Pour it drop by drop").click()
    for bottle, drops in (("Rav Gull", 6), ("Torv Kritt", 1), ("Rav Nype", 2)):
        for at in range(drops):
            page.get_by_role("button", name=f"A drop of {bottle} fell").click()
            page.locator(".pour-line", has_text=bottle).locator(".pour-name span", has_text=f"{at + 1} of").wait_for()
    page.get_by_role("button", name="too light").click()
    page.locator(".story-said").wait_for()
    page.get_by_role("button", name="A drop of Rav Nype fell").click()
    page.locator(".pour-line", has_text="Rav Nype").locator(".pour-name span", has_text="3 of").wait_for()


def _sheet(page: Page) -> None:
    page.get_by_role("button", name="Take the photo").click()
    page.locator("#said", has_text="from the photo").wait_for()


def _printed(page: Page) -> None:
    page.emulate_media(media="print")


def _learn(page: Page) -> None:
    page.get_by_role("button", name="Learn from 24 cards").click()
    page.get_by_role("button", name="Use what was learned").wait_for()


def _mist(page: Page) -> None:
    page.get_by_role("button", name="Let the simulated camera take one").click()
    page.get_by_role("button", name="Use these dots").wait_for(timeout=60_000)


def _learned(page: Page) -> None:
    _learn(page)
    page.get_by_role("button", name="Use what was learned").click()
    page.get_by_role("button", name="Undo this").wait_for()
    page.goto(page.url.replace("/learning", "/record"))


def _train(page: Page, guesses: int = 1) -> None:
    for round_ in range(guesses):
        page.get_by_role("button", name="round").click()
        for name, drops in (("first", 1 + round_ % 3), ("second", 3), ("third", 4 - round_ % 2)):
            page.locator(f"input#guess-{name}").fill(str(drops))
        page.get_by_role("button", name="That is my guess").click()
        page.get_by_text("What one drop would have done").wait_for()


def _train_long(page: Page) -> None:
    _train(page, 9)


def _train_open(page: Page) -> None:
    page.get_by_role("button", name="round").click()
    page.get_by_role("button", name="That is my guess").wait_for()


def _weigh(page: Page) -> None:
    page.get_by_role("button", name="Plug in").click()
    for count in range(3):
        page.get_by_role("button", name="Drip them").click()
        page.get_by_text("20 drops on the pan").wait_for()
        page.get_by_role("button", name="Weigh", exact=True).click()
        page.locator(".ledger tbody tr").nth(count).wait_for()


INVENTORY = """name,line,kind,size_ml,left_ml,place,colour
Krekling,Rav,transparent,30,12.5,"rack, middle",#5a2a6e
Nype,Rav,transparent,30,30,"rack, middle",
Sild,Perlemor,pearl,30,-2,"rack, bottom",#9fb4c8
Tyttebar,Torv,opaque,thirty,30,"rack, top",#a03020
Multe,Rav,opaque,30,30,,#e08030
Ripe,Torv,opaque,30,30,,reddish
"""


def _bring(page: Page) -> None:
    file = {"name": "from-the-cupboard.csv", "mimeType": "text/csv", "buffer": INVENTORY.encode()}
    page.locator("input[type=file]").set_input_files(file)
    page.get_by_role("button", name="Preview it").click()
    page.get_by_text("What is wrong").wait_for()


def _photo(page: Page) -> None:
    import io

    from PIL import Image, ImageDraw

    image = Image.new("RGB", (900, 600), "#6b5f52")
    draw = ImageDraw.Draw(image)
    draw.rectangle((60, 80, 300, 520), fill="#8d7f70")
    draw.rectangle((420, 80, 620, 520), fill="#20386e")
    draw.rectangle((620, 80, 820, 520), fill="#0a0f22")
    out = io.BytesIO()
    image.save(out, "PNG")
    page.locator(".card-field details").last.locator("summary").click()
    file = {"name": "card.png", "mimeType": "image/png", "buffer": out.getvalue()}
    page.locator(".card-field").last.locator("input[type=file]").last.set_input_files(file)
    page.get_by_role("button", name="Pick from it").last.click()
    page.locator("#photo").click(position={"x": 200, "y": 200})
    page.locator("#photo").click(position={"x": 700, "y": 200})


def _bait(page: Page) -> None:
    page.locator("#bait[data-shown*=':']").wait_for(timeout=60_000)
    page.wait_for_timeout(300)


def _bait_told(page: Page) -> None:
    _bait(page)
    page.get_by_role("button", name="Three-quarter").click()
    box = page.locator("#bait").bounding_box()
    if box:
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.locator(".here-most").wait_for()


def _half(page: Page) -> None:
    _bait(page)
    page.locator("#steps").fill("3")
    page.locator("#bait[data-shown$=':3']").wait_for(timeout=60_000)
    page.wait_for_timeout(300)


def _checked(page: Page) -> None:
    _bait(page)
    own = page.locator(".findings > li", has_text="Goes muddy")
    own.get_by_text("Why, and what else").click()
    own.locator(".compare").first.scroll_into_view_if_needed()
    pictures = own.locator(".compare img")
    while not all(pictures.evaluate_all("all => all.map((one) => one.naturalWidth > 0)")):
        page.wait_for_timeout(100)


def _timed(page: Page) -> None:
    page.get_by_text("Paint for").wait_for()
    page.locator("#schedule").get_by_role("button", name="Schedule", exact=True).click()
    page.get_by_role("button", name="Schedule again").wait_for(timeout=60_000)


def _pictures(page: Page) -> None:
    pictures = page.locator(".log-wall img")
    for at in range(12):
        pictures.nth(at).evaluate("image => image.decode()")


def _bench_mix(page: Page) -> None:
    """In the booth, as it was left, with a drop more."""
    page.evaluate("document.cookie = 'theme=booth'")
    page.reload()
    page.locator(".bench-next").click()
    page.locator(".bench-next", has_text="4 to fall").wait_for()


def _bench_spray(page: Page) -> None:
    """The second side through the comb, after a coat more on the first."""
    page.evaluate("document.cookie = 'theme=booth'")
    page.reload()
    while "right side" not in page.locator(".bench-words").inner_text():
        while page.get_by_role("button", name="I have read it").count():
            page.get_by_role("button", name="I have read it").first.click()
            page.wait_for_timeout(300)
        if "left side" in page.locator(".bench-words").inner_text():
            page.get_by_text("Something was different").click()
            page.get_by_label("How many coats").fill("3")
            page.get_by_role("button", name="Keep it").first.click()
            page.locator("#bench-effect h2").wait_for()
        step = page.locator("#bench").get_attribute("data-step")
        every = page.get_by_role("button", name="All of it is in, on")
        (every if every.count() else page.locator(".bench-next")).click()
        page.locator(f"#bench:not([data-step='{step}'])").wait_for()
    page.locator(".bench-picture img").evaluate("image => image.decode()")


def _shelf_sheet(page: Page) -> None:
    for at in range(24):
        page.locator("input[name=paint]").nth(at).check()
    page.get_by_role("button", name="Make the sheet").click()
    page.locator("select[name=shot]").select_option("smeared")
    page.get_by_role("button", name="Take the photo").click()
    page.get_by_text("are sure").wait_for(timeout=90_000)


VIEWS: dict[str, tuple[tuple[int, int], str, Callable[[Page], None] | None]] = {
    "mix": (WIDE, "/mix", None),
    "mix-phone": (PHONE, "/mix", None),
    "mix-booth": (WIDE, "/mix", _booth),
    "shelf": (WIDE, "/shelf", None),
    "match": (WIDE, "/match", _match),
    "shelf-sheet": (WIDE, "/shelf-sheets", _shelf_sheet),
    "test-card": (WIDE, "/test-cards/18", None),
    "plans": (WIDE, "/plan", None),
    "plan": (WIDE, "/plan/2", _bait_told),
    "plan-checks": (WIDE, "/plan/9", _checked),
    "bench-phone": (PHONE, "/bench/1", _bench_mix),
    "bench-tablet": (BENCH_TABLET, "/bench/1", _bench_spray),
    "finish": (WIDE, "/finish", None),
    "log": (WIDE, "/log", _pictures),
    "today": (WIDE, "/home", None),
    "order": (WIDE, "/orders/1", _timed),
    "learning": (WIDE, "/learning", _learn),
    "pour": (WIDE, "/match", _pour),
    "mist": (WIDE, "/mist", _mist),
}
# Looked at while working, not kept.
MORE = {
    "look-amounts": (WIDE, "/amounts?value=2.5&unit=ml", None),
    "look-mist-phone": (PHONE, "/mist", _mist),
    "look-bottle": (WIDE, "/bottles/22", None),
    "look-recipes": (WIDE, "/recipes", None),
    "look-entry": (WIDE, "/log/14", None),
    "look-again": (WIDE, "/log/14/again?baits=60", None),
    "look-year": (WIDE, "/log/year", None),
    "look-recipe": (WIDE, "/recipes/10", None),
    "look-compare": (WIDE, "/compare?mix=recipe:11:1", None),
    "look-plan-phone": (PHONE, "/plan/1?layer=3", _bait),
    "look-plan-paper": (WIDE, "/plan/1/print", None),
    "look-half": (WIDE, "/plan/5", _half),
    "look-orders": (WIDE, "/orders", None),
    "look-order-phone": (PHONE, "/orders/1", _timed),
    "look-bench-time": (WIDE, "/orders/bench", None),
    "look-card": (WIDE, "/contrast-cards/1", _read_card),
    "look-substitutes": (WIDE, "/paints/torv-koral/substitutes", None),
    "look-family": (WIDE, "/family", None),
    "look-record": (WIDE, "/learning", _learned),
    "look-trainer": (WIDE, "/trainer", _train_long),
    "look-blanks": (WIDE, "/plan/blanks", None),
    "look-drops": (WIDE, "/bottles/22/drops", _weigh),
    "look-import": (WIDE, "/files", _bring),
    "look-shopping": (WIDE, "/shelf/shopping", None),
    "look-find": (WIDE, "/mix", _find),
    "look-foil": (WIDE, "/mix", _foil),
    "look-pearl": (WIDE, "/mix", _pearl),
    "look-deep": (WIDE, "/mix", _deep),
    "look-compare-mixes": (WIDE, "/compare?by=mix&over=black", None),
    "look-compare-phone": (PHONE, "/compare", None),
    "look-new-paint": (WIDE, "/shelf/new", None),
    "look-shelf-olive": (WIDE, "/shelf?q=dark+olive", None),
    "look-shelf-hue": (WIDE, "/shelf?order=hue&kind=transparent&kind=opaque", None),
    "look-change": (WIDE, "/bottles/22/change", None),
    "look-paint": (WIDE, "/paints/rav-nype", None),
    "look-effects": (WIDE, "/contrast-cards/1", _accept),
    "look-files": (WIDE, "/files", None),
    "look-labels": (WIDE, "/shelf/labels", None),
    "look-cards": (WIDE, "/recipes/cards", None),
    "look-card-phone": (PHONE, "/contrast-cards/1", None),
    "look-bottle-phone": (PHONE, "/bottles/22", None),
    "look-drops-phone": (PHONE, "/bottles/22/drops", None),
    "look-photo": (WIDE, "/contrast-cards/1", _photo),
    "look-match-empty": (WIDE, "/match", None),
    "look-match-turning": (WIDE, "/match", _turning),
    "look-family-phone": (PHONE, "/family", None),
    "look-pour-phone": (PHONE, "/match", _pour),
    "look-match-reach": (WIDE, "/match", _out_of_reach),
    "look-match-phone": (PHONE, "/match", _match),
    "look-next": (WIDE, "/match", _next),
    "look-next-phone": (PHONE, "/match", _next),
    "look-record-phone": (PHONE, "/record", None),
    "look-trainer-phone": (PHONE, "/trainer", _train_open),
    "look-learning-phone": (PHONE, "/learning", _learn),
    "look-test-cards": (WIDE, "/test-cards", None),
    "look-spray-out-phone": (PHONE, "/test-cards/18", None),
    "look-spray-out-photo": (LARGE, "/test-cards/17", _sheet),
    "look-sheet-printed": ((794, 1123), "/test-cards/7/sheet", _printed),
    "look-spray-out-booth": (WIDE, "/test-cards/17", _booth),
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
