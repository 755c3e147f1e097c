"""A bait painted by hand: what a stroke costs, the exact picture after it, a plan of hundreds, and the browser while
one is drawn."""

import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np
from chromium import ARGUMENTS, EXECUTABLE
from measuring import row, timed
from playwright.sync_api import sync_playwright

from diachrom.core.bait import strokes
from diachrom.core.bait.plan import Plan
from diachrom.core.bait.stroke import Stroke, drawn
from diachrom.core.bait.surface import FULL
from diachrom.store.connection import Connection, connected
from diachrom.web.server import running
from diachrom.work.plan import pictures, plans

SIX, POINTS = 6, 30
# A stroke back and forth over the flank in two seconds: frames that the bait was drawn in, the longest of them, ms.
DRAWS = """async () => {
  const canvas = document.getElementById("bait"), box = canvas.getBoundingClientRect();
  canvas.setPointerCapture = () => {};
  const send = (kind, u, v) => canvas.dispatchEvent(new PointerEvent(kind, {
    bubbles: true, isPrimary: true, pointerId: 1,
    clientX: box.left + u * box.width, clientY: box.top + v * box.height }));
  const frame = () => new Promise((done) => requestAnimationFrame(done));
  send("pointerdown", 0.35, 0.5);
  const begun = performance.now();
  let count = 0, longest = 0, before = begun;
  while (before - begun < 2000) {
    const part = (before - begun) / 2000;
    send("pointermove", 0.5 + 0.2 * Math.sin(9 * part), 0.46 + 0.08 * part);
    await frame();
    const now = performance.now();
    longest = Math.max(longest, now - before);
    before = now;
    count++;
  }
  const lifted = performance.now();
  send("pointerup", 0.5, 0.54);
  return [count / 2, longest];
}"""


def hand(data: Path) -> None:
    """Strokes on the demo's char, then a plan of four hundred."""
    with connected(data) as store:
        char = plans.now(store, 1).plan
        six = replace(char, layers=char.layers[:SIX])
        surface = six.blank.surface(FULL)
        own = _strokes()
        rows = [next(own) for _ in range(200)]
        first = _once(lambda: strokes.share(rows, surface, 3.0, mirrored=True))
        row("hand: film of 200 strokes, the first time", first, "ms", 900, 0, "")
        fresh = _strokes(seed=9)
        row(
            "hand: film of one stroke more on 200",
            timed(lambda: strokes.share([*rows, next(fresh)], surface, 3.0, mirrored=True), 9),
            "ms",
            60,
            0,
            "",
        )
        whole = timed(lambda: pictures.skin(store, six), 5)
        for count, most in ((1, 250), (200, 600)):
            value = _after_a_stroke(store, six, count)
            row(f"hand: exact picture, six layers, {count} strokes", value, "ms", most, whole, "nothing changed")
        number = plans.new(store, six.blank, name="By hand", at="2026-11-28T10:00:00+00:00")
        plans.change(store, number, lambda plan: _by_hand(store, six, 400), did="x", at="2026-11-28T10:00:01+00:00")
        plans.change(store, number, lambda plan: plan.named(name="B", note=""), did="x", at="2026-11-28T10:00:02+00:00")
        turns = iter([True, False] * 50)

        def undone() -> object:
            return plans.undo(store, number, back=next(turns), at="2026-11-28T10:00:03+00:00")

        row("hand: undo on 400 strokes", timed(undone, 9), "ms", 100, 0, "")
    _in_browser(data, number)


def _strokes(seed: int = 3) -> Iterator[Stroke]:
    """As a hand draws them, over the flank."""
    chance = np.random.default_rng(seed)
    while True:
        u, v = chance.uniform(0.2, 0.7), chance.uniform(0.1, 0.3)
        part = np.linspace(0, 1, POINTS)
        wave = 0.02 * np.sin(6 * part + chance.uniform(0, 6))
        yield drawn(np.stack([u + 0.15 * part, v + wave, 0.4 * part], axis=1).tolist())


def _once(work: object) -> float:
    start = time.perf_counter()
    work()  # type: ignore[operator]
    return 1000 * (time.perf_counter() - start)


def _by_hand(store: Connection, six: Plan, count: int) -> Plan:
    own, fresh = plans.layer_of(store, "paint", "torv-sot").by_hand, _strokes()
    return six.with_layer(replace(own, strokes=tuple(next(fresh) for _ in range(count))))


def _after_a_stroke(store: Connection, six: Plan, count: int) -> float:
    """The page's data after one stroke more."""
    plan, fresh = _by_hand(store, six, count), _strokes(seed=11)
    number = plan.layers[-1].number

    def work() -> object:
        more = plan.changed(number, lambda old: replace(old, strokes=(*old.strokes[:-1], next(fresh))))
        return pictures.skin(store, more)

    return timed(work, 7)


def _in_browser(data: Path, number: int) -> None:
    with running(data) as address, sync_playwright() as started:
        browser = started.chromium.launch(executable_path=EXECUTABLE, args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{address}/plan/1")
        page.wait_for_selector("#bait[data-shown*=':']", timeout=60_000)
        page.get_by_role("button", name="Airbrush", exact=True).click()
        for words in ("the first time", "once more"):
            page.locator("#add-source").select_option("")
            page.evaluate("document.getElementById('bait').removeAttribute('data-ladder')")
            start = time.perf_counter()
            page.locator("#add-source").select_option("torv-sot" if words == "the first time" else "torv-kritt")
            page.wait_for_selector("#bait[data-ladder]", timeout=60_000)
            row(f"hand: a paint in the hand, {words}", 1000 * (time.perf_counter() - start), "ms", 600, 0, "")
        frames, longest = page.evaluate(DRAWS)
        row("hand: drawn in a browser, in true colour", frames, "/s", None, 24, "frames wanted")
        row("hand: the longest of these frames", longest, "ms", 200, 0, "")
        start = time.perf_counter()
        page.goto(f"{address}/plan/{number}")
        page.wait_for_selector("#bait[data-shown*=':']", timeout=60_000)
        row("hand: a plan of 400 strokes opened, whole", 1000 * (time.perf_counter() - start), "ms", 1000, 0, "")
        browser.close()
