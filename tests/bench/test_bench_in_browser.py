"""The bench as a painter stands at it: on a phone, in the booth's theme, with the server killed between two drops."""

import io
import re
import time

from phone_at_bench import (
    HALF_DONE,
    PHONE,
    go_on,
    go_to,
    levels,
    read_cautions,
    serve,
    session,
    still_to_fall,
    stop,
    words,
)
from PIL import Image
from playwright.sync_api import expect


def photo(side):
    """A photo with a grey patch, and something long and olive whose nose points left, or right where it is mirrored."""
    scene = Image.new("RGB", (600, 300), (150, 150, 150))
    scene.paste((118, 118, 118), (10, 10, 60, 60))
    scene.paste((90, 96, 60), (100, 110, 500, 190))
    if side == "right":
        scene.paste((40, 42, 28), (100, 110, 200, 190))  # darker, towards its tail
    out = io.BytesIO()
    scene.save(out, "PNG")
    return {"name": f"{side}.png", "mimeType": "image/png", "buffer": out.getvalue()}


def take_photo(page, side):
    page.get_by_text("A photo", exact=True).click()
    page.get_by_label("Which side").select_option(side)
    page.get_by_label("The photo").set_input_files(photo(side))
    count = page.locator(".bench-photos img").count()
    page.locator("#bench-photo button").click()
    expect(page.locator(".bench-photos img")).to_have_count(count + 1)


def mark(page, side, points):
    """Touch grey patch, nose and tail."""
    page.wait_for_load_state("domcontentloaded")  # its scripts listen
    section = page.get_by_role("region", name=f"{side} side")
    scene = section.locator("svg.side-photo")
    for x, y in points:
        scene.scroll_into_view_if_needed()
        box = scene.bounding_box()
        page.mouse.click(box["x"] + x * box["width"] / 600, box["y"] + y * box["height"] / 300)
    with page.expect_navigation():
        section.get_by_role("button", name="Use these places").click()


def test_the_half_finished_session_is_taken_up_killed_mended_and_cleared(page, bench, refusals):
    refusals += ["net::ERR_", "htmx:sendError", "htmx:afterRequest"]
    before, begun = levels(bench), session(bench)
    server, address = serve(bench)
    try:
        page.set_viewport_size(PHONE)
        page.goto(f"{address}/bench")
        page.get_by_role("link", name="Butterfish").click()
        expect(page.locator(".bench-words")).to_have_text("Mix Butterfish, spots")
        expect(page.locator(".bench-beads").first).to_have_attribute("aria-label", re.compile("^2 of 7"))

        # Three drops by a knuckle in the lower half; the server is killed, and a fourth waits its turn in the page.
        wanted = still_to_fall(page).count()
        for drop in range(1, 4):
            page.mouse.click(195, 650)
            expect(still_to_fall(page)).to_have_count(wanted - drop)
        stop(server)
        page.mouse.click(195, 650)
        expect(still_to_fall(page)).to_have_count(wanted - 4)  # it is drawn at once
        expect(page.locator("#said")).to_contain_text("does not answer")
        server, again = serve(bench, int(address.rsplit(":", 1)[1]))
        assert again == address
        expect(page.locator("#bench")).to_have_attribute("data-seq", str(begun.seq + 4), timeout=60_000)
        expect(page.locator("#said")).to_have_text("")
        page.reload()
        expect(still_to_fall(page)).to_have_count(wanted - 4)
        assert levels(bench) == before  # it is charged when it is mixed

        # The left side gets a coat more, which is shown at once, and the right side is told of it.
        go_to(page, "left side")
        page.get_by_text("Something was different").click()
        page.get_by_label("How many coats").fill("3")
        page.get_by_role("button", name="Keep it").first.click()
        expect(page.locator("#bench-effect")).to_contain_text("Now: dE")
        go_on(page)
        expect(page.locator(".bench-twin")).to_have_text("The left side had: Other coats: 3.")

        # A slip: touched on the bait, it is put right there, on that side and on this bait alone.
        count = int(page.locator("#bench .count-line").first.inner_text().rsplit(" ", 1)[1])
        page.get_by_text("Something went wrong", exact=True).click()
        page.get_by_label("What happened").select_option("run")
        page.locator("#bench-slip").get_by_label("On which bait").select_option("1")
        page.locator("#slip-picture").click()
        page.get_by_role("button", name="What now?").click()
        expect(page.locator(".bench-ways")).to_contain_text("mm from the nose")
        page.get_by_role("button", name="This way").first.click()
        expect(page.locator("#bench .count-line").first).to_contain_text(f"of {count + 2}")
        go_to(page, "There alone: ")
        assert "right side" in words(page)

        # Both sides by photos.
        take_photo(page, "left")
        take_photo(page, "right")
        page.get_by_role("link", name="Compare both sides").click()
        mark(page, "left", [(35, 35), (104, 150), (496, 150)])
        mark(page, "right", [(35, 35), (496, 150), (104, 150)])
        expect(page.locator(".sentence").first).to_contain_text("the right side is")
        expect(page.locator(".sentence").first).to_contain_text("darker")
        page.get_by_role("link", name="Back to the bench").click()

        # Clear by weight; pot life and drying run side by side.
        go_to(page, "Weigh the two parts")
        a_g, b_g = re.findall(r"([\d.]+) g", page.locator(".bench-figures").inner_text())
        assert abs(float(b_g) / float(a_g) - 0.95 / 1.10) < 0.01
        for at, grams in ((0, a_g), (1, b_g.replace(".", ","))):
            page.locator(".bench-facts input[name=value]").nth(at).fill(grams)
            page.locator(".bench-facts button:not(.weighs)").nth(at).click()
            expect(page.locator(".bench-facts input[name=value]").nth(at)).to_have_value(
                f"{float(grams.replace(',', '.')):g}"
            )
        go_on(page)
        read_cautions(page)
        go_on(page)
        timers = page.locator(".bench-timers [data-timer]")
        expect(timers).to_have_count(2)
        for one, seconds in ((timers.nth(0), 2970), (timers.nth(1), 86_400)):
            began, ends = (float(one.get_attribute(f"data-{key}")) for key in ("began", "ends"))
            assert ends - began == seconds
            assert abs(began - time.time()) < 120
        expect(page.locator(".bench-words")).to_have_text("Every step is done.")
    finally:
        stop(server)

    # The ledger is right to the drop.
    after, ended = levels(bench), session(bench)
    poured = dict.fromkeys(before, 0.0)
    for step in ended.state.run(ended.script):
        for one in step.pours if step.key not in begun.state.done else ():
            poured[one.bottle] += ended.state.fallen(step.key, one.bottle) * one.drop_ml
    assert sum(poured.values()) > 0.4
    assert {key: round(before[key] - after[key], 9) for key in before} == {
        key: round(ml, 9) for key, ml in poured.items()
    }


def test_a_minute_without_the_network_queues_drops_and_sends_each_once(page, address, bench, refusals):
    refusals += ["net::ERR_INTERNET_DISCONNECTED", "htmx:sendError", "htmx:afterRequest"]
    page.set_viewport_size(PHONE)
    page.goto(f"{address}/bench/{HALF_DONE}")
    wanted = still_to_fall(page).count()
    page.context.set_offline(True)
    for drop in range(1, wanted + 1):
        page.keyboard.press(" ")
        expect(still_to_fall(page)).to_have_count(wanted - drop)
    expect(page.locator(".bench-next")).to_contain_text("Done")  # the big press has gone on to what is due
    page.keyboard.press(" ")
    assert session(bench).state.position == 2
    page.context.set_offline(False)
    expect(page.locator("#bench")).to_have_attribute("data-step", "3:make", timeout=60_000)
    own = session(bench)
    assert own.state.drops["2:make"] == {one.bottle: one.drops for one in own.script.like("2:make").pours}


def test_two_at_one_session_see_what_the_other_taps(page, address, bench):
    page.goto(f"{address}/bench/{HALF_DONE}")
    other = page.context.new_page()
    other.goto(f"{address}/bench/{HALF_DONE}")
    wanted = still_to_fall(page).count()
    page.locator(".bench-drop").first.click()
    expect(still_to_fall(other)).to_have_count(wanted - 1)
    other.locator(".bench-drop").nth(1).click()
    expect(still_to_fall(page)).to_have_count(wanted - 2)
    assert sum(session(bench).state.drops["2:make"].values()) == 4
    other.close()


def test_keys_of_a_pedal_go_on_and_one_key_goes_five_back(page, address):
    page.goto(f"{address}/bench/{HALF_DONE}")
    for _ in range(2):
        go_on(page)
    read_cautions(page)
    bench = page.locator("#bench")
    for key in ("PageDown", "ArrowRight", "Enter"):
        place = bench.get_attribute("data-step")
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press(key)
        expect(bench).not_to_have_attribute("data-step", place)
    place = int(page.locator("#bench .count-line").first.inner_text().split("step ")[1].split()[0])
    page.keyboard.press("5")
    expect(page.locator("#bench .count-line").first).to_contain_text(f"step {place - 5} of")
    page.keyboard.press("Backspace")
    expect(page.locator("#bench .count-line").first).to_contain_text(f"step {place - 6} of")


def test_the_big_press_is_the_lower_half_and_every_step_opens_at_its_top(page, address):
    page.set_viewport_size(PHONE)
    page.goto(f"{address}/bench/{HALF_DONE}")
    for _ in range(4):
        page.evaluate("scrollTo(0, 0)")
        box = page.locator(".bench-next").bounding_box()
        assert box["y"] <= 844 / 2 + 40
        assert box["y"] + box["height"] >= 844 - 100
        assert box["width"] > 350
        page.mouse.wheel(0, 400)
        coming = page.locator(".bench-coming").inner_text().removeprefix("After that: ").split(";")[0].rstrip(".")
        go_on(page)
        read_cautions(page)
        if page.locator(".bench-next", has_text="Done").count():  # what was pressed says the next step by now
            expect(page.locator(".bench-next")).to_contain_text(coming)
        expect(page.locator(".bench-words")).to_be_in_viewport()
