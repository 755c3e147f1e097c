"""A bait's picture: rough and whole after a change, after one in the top layer; what a page gets; how often a browser
draws it."""

import gzip
import time
from dataclasses import replace
from pathlib import Path

import numpy as np
from chromium import ARGUMENTS, EXECUTABLE
from measuring import row, timed
from playwright.sync_api import Response, sync_playwright

from diachrom.core.bait.plan import Plan
from diachrom.core.bait.surface import FULL, ROUGH
from diachrom.core.film.cell_stacks import BLOCK, SOME_BANDS
from diachrom.store import mist
from diachrom.store.connection import Connection, connected, writing
from diachrom.store.mist import Mist
from diachrom.web.server import running
from diachrom.work.mix import overspray_history
from diachrom.work.plan import checking, here, job, painting, pictures, plans

SIX, TWELVE, FLAKED = 6, 12, "Hornbeam"
PRODUCTS = 4 * 4 * 4 * 3  # of the adding formula: B R, B T, T X
# Frames of the browser in which the bait moved, in two seconds, the longest of them, and how long the smooth one takes
# when it rests: ms, without the rest itself.
DRAWS = """async (what) => {
  const input = document.getElementById(what), canvas = document.getElementById("bait");
  const frame = () => new Promise((done) => requestAnimationFrame(done));
  const begun = performance.now();
  let count = 0, longest = 0, before = begun;
  while (before - begun < 2000) {
    input.value = count % 12;
    input.dispatchEvent(new Event("input", { bubbles: true }));
    await frame();
    const now = performance.now();
    longest = Math.max(longest, now - before);
    before = now;
    count++;
  }
  while (canvas.dataset.moving) await frame();
  await frame();
  return [count / 2, longest, performance.now() - before];
}"""
RESTS = 150  # ms after which a page takes it that the bait rests
LOADED = "() => document.getElementById('bait').dataset.moving !== undefined"


def bait(data: Path) -> None:
    """Six layers of the demo's char, then a plan with flakes."""
    with connected(data) as store:
        every = {plans.now(store, number).plan.name: plans.now(store, number).plan for number in range(1, 10)}
        char = next(plan for name, plan in every.items() if name == "Autumn char")
        six = replace(char, layers=char.layers[:SIX])
        for cells, words, most in ((ROUGH, "rough", 120), (FULL, "whole", 600)):
            _after_changes(store, six, cells, words, most)
        _top(store, six)
        _in_dots(store, six)
        flaked = every[FLAKED]
        row(
            f"bait: {len(flaked.layers)} layers, two of them with flakes", _anew(store, flaked, FULL), "ms", None, 0, ""
        )
        row("bait: what lies at a place", timed(lambda: here.here(store, six, 0.5, 0.2), 7), "ms", None, 0, "")
        _checked(store, char)
        largest = max(len(pictures.skin(store, plan)) for plan in every.values())
        row(
            "bait: the page's data, the largest of nine plans",
            (largest + len(pictures.lights())) / 1000,
            "kB",
            400,
            0,
            "",
        )
    _in_browser(data)


def _anew(store: object, plan: Plan, cells: tuple[int, int]) -> float:
    """All stacks reckoned anew, their mixes being known."""

    def work() -> object:
        painting.kept.forget()
        return painting.painted_bait(store, plan, cells=cells)  # type: ignore[arg-type]

    return timed(work, 7)


def _after_changes(store: object, six: Plan, cells: tuple[int, int], words: str, most: float) -> None:
    value, floor = _anew(store, six, cells), timed(lambda: _products(cells), 7)
    row(f"bait: six layers, {words}, {cells[0]} x {cells[1]} cells", value, "ms", most, floor, "its bare products")


def _products(cells: tuple[int, int]) -> None:
    """As many products as six layers over half of the cells take at least."""
    stacks = cells[0] * cells[1] // 2
    one, other = (np.ones((SOME_BANDS, min(BLOCK, stacks)), dtype=np.float32) for _ in range(2))
    spare = np.empty_like(one)
    for _ in range(SIX * -(-stacks // BLOCK) * PRODUCTS):
        np.multiply(one, other, out=spare)


def _top(store: object, six: Plan) -> None:
    """The top layer with a coat more, and with one less again."""
    coats = iter(range(1, 1000))

    def work() -> object:
        top = replace(six.layers[-1], film_um=8 + 0.01 * next(coats))
        plan = replace(six, layers=(*six.layers[:-1], top))
        return painting.painted_bait(store, plan)  # type: ignore[arg-type]

    row("bait: a change in the top layer, whole", timed(work, 9), "ms", 150, 0, "")


def _checked(store: object, char: Plan) -> None:
    """Twelve layers, of which the one in the middle changed: every check, beside the rough picture alone."""
    twelve = char
    for layer in char.layers[: TWELVE - len(char.layers)]:
        twelve = twelve.with_layer(layer, at=1)
    films = iter(range(1, 1000))

    def changed() -> Plan:
        film_um = 8 + 0.01 * next(films)
        return twelve.changed(twelve.layers[5].number, lambda layer: replace(layer, film_um=film_um))

    def seen() -> object:
        return painting.painted_bait(store, changed(), cells=ROUGH)  # type: ignore[arg-type]

    def checked() -> object:
        return checking.checked(store, changed())  # type: ignore[arg-type]

    picture, whole = timed(seen, 7), timed(checked, 7)
    row(f"bait: checks of {TWELVE} layers, beyond the picture", whole - picture, "ms", 400, picture, "that picture")

    def tried() -> object:
        plan = changed()
        return checking.with_ways(store, plan, checking.checked(store, plan))  # type: ignore[arg-type]

    row(f"bait: all that mends {TWELVE} layers, tried", timed(tried, 3), "ms", 3000, whole, "one look at all checks")
    skin = painting.skin_of(store, twelve, ROUGH)  # type: ignore[arg-type]
    waste = overspray_history.learned(store)  # type: ignore[arg-type]

    def needs() -> object:
        return [job.takes(layer, twelve, skin, waste) for layer in twelve.layers]

    look = checking.look_at(store, twelve)  # type: ignore[arg-type]
    both = timed(needs, 7) + timed(lambda: job.job([look], waste), 7)
    row(f"bait: paint for the job, {TWELVE} layers", both, "ms", 50, 0, "")


def _in_dots(store: Connection, plan: Plan) -> None:
    """All layers anew, as dots of mist and as even films."""
    own = mist.now(store)
    taken = {}
    for words, found in (("films", Mist(0.0, 0.0, "typed")), ("dots", Mist(4.0, 0.1, "typed"))):
        with writing(store):
            mist.put(store, found)
        taken[words] = _anew(store, plan, FULL)
    with writing(store):
        mist.put(store, own)
    films = taken["films"]
    row("bait: six layers anew, in dots of mist (1.8 x)", taken["dots"], "ms", 1.8 * films, films, "as even films")


def _in_browser(data: Path) -> None:
    with running(data) as address, sync_playwright() as started:
        browser = started.chromium.launch(executable_path=EXECUTABLE, args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        for number, words in ((1, "opaque"), (2, "over foil"), (4, "slim, three sides")):
            page.goto(f"{address}/plan/{number}")
            page.wait_for_selector("#bait[data-shown*=':']", timeout=60_000)
            page.evaluate(DRAWS, "roll")
            frames, longest, rest = page.evaluate(DRAWS, "roll")
            row(f"bait: rolled in a browser, {words}", frames, "/s", None, 30, "frames wanted")
            row("bait: the longest of these frames", longest, "ms", 100, 0, "")
            row("bait: smooth after it rests", rest - RESTS, "ms", 400, 0, "")
            page.locator("#light").select_option("green-lake")
            row(f"bait: sunk in a browser, {words}", page.evaluate(DRAWS, "depth")[0], "/s", None, 30, "frames wanted")
            page.locator("#light").select_option("D65")
        # Opened again: what its paints have in tables is there.
        start = time.perf_counter()
        page.goto(f"{address}/plan/1")
        page.wait_for_function(LOADED, timeout=60_000)
        row("bait: first picture after a plan is opened", 1000 * (time.perf_counter() - start), "ms", 500, 0, "")
        page = browser.new_page()
        loaded: list[Response] = []
        page.on("response", lambda answer: loaded.append(answer))
        page.goto(f"{address}/plan/1", wait_until="networkidle")
        kinds = ("document", "script", "stylesheet")
        bodies = [answer.body() for answer in loaded if answer.request.resource_type in kinds]
        row("bait: a page with one, with its scripts", sum(map(len, bodies)) / 1000, "kB", 900, 0, "")
        packed = sum(len(gzip.compress(body)) for body in bodies) / 1000
        row("bait: the same, packed", packed, "kB", 350, 0, "")
        browser.close()
