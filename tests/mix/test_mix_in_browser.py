"""The Mix page driven as a painter drives it."""

import os
import re
import signal
import subprocess
import sys
import time

from playwright.sync_api import expect


def add(page, text):
    page.locator("#add").fill(text)
    first = page.locator(".found-bottle").first
    expect(first).to_contain_text(text.split()[-1], ignore_case=True)
    first.click()
    expect(page.locator(".row-bottle.picked")).to_contain_text(text.split()[-1], ignore_case=True)


def count(page, name):
    return page.locator(f'.row-bottle[data-name="{name}"] .count')


def lightness(text):
    return float(text.split("L ")[1].split(",")[0])


def test_a_char_orange_is_mixed_seen_lighter_on_the_bait_undone_saved_reopened_and_saved_again(page, address):
    page.goto(f"{address}/mix")
    page.locator("#new").click()
    expect(page.locator(".seen-empty")).to_be_visible()

    # Three bottles from the shelf: with the mouse, with digits, with quick presses.
    add(page, "Rav Gull")
    page.keyboard.press("6")
    expect(count(page, "Rav Gull")).to_have_value("6")
    expect(page.locator(".totals")).to_contain_text("6drops")
    add(page, "Torv Kritt")
    add(page, "Rav Nype")
    page.get_by_role("button", name="One drop of Rav Nype more").click()
    expect(page.locator("#string .bead")).to_have_count(9)

    # Lighter on the bait than in the cup.
    cup = page.locator(".cup").inner_text()
    assert lightness(page.locator(".figures").inner_text()) > lightness(cup) + 5
    expect(page.locator(".sentence")).to_contain_text("lighter")

    # A drop of black, and back.
    before = page.locator("#patch-white-2 rect").get_attribute("fill")
    add(page, "Torv Sot")
    expect(page.locator("#patch-white-2 rect")).not_to_have_attribute("fill", before)
    page.keyboard.press("u")
    expect(page.locator("#said")).to_have_text("Taken back: 1 drop of Torv Sot.")
    expect(page.locator("#patch-white-2 rect")).to_have_attribute("fill", before)

    # Saved, closed, opened again, changed, saved as version 2.
    page.keyboard.press("s")
    expect(page.locator("#said")).to_contain_text("Give the recipe a name")
    page.locator("#name").fill("Char orange")
    page.locator("#name").press("Enter")
    expect(page.locator("#rail-cup")).to_be_visible()
    expect(page.locator("#said")).to_have_text("Saved as recipe 16, version 1.")
    page.locator("#new").click()
    page.keyboard.press("g")
    page.keyboard.press("r")
    page.get_by_role("button", name="Open in the cup: Char orange").click()
    expect(page.locator("#patch-white-2 rect")).to_have_attribute("fill", before)
    expect(page.locator("#string .bead")).to_have_count(9)
    expect(page.locator("#save")).to_have_text("Saved")
    page.get_by_role("button", name="One drop of Rav Nype more").click()
    page.locator("#save").click()
    expect(page.locator("#said")).to_have_text("Saved as recipe 16, version 2.")
    page.goto(f"{address}/recipes/16")
    expect(page.locator(".version")).to_have_count(2)
    expect(page.locator("#version-2")).to_contain_text("from version 1")


def test_quick_presses_lose_no_drop_even_when_answers_are_slow(page, address):
    page.goto(f"{address}/mix")
    page.route("**/mix/pour", lambda route: (time.sleep(0.08), route.continue_()))
    more = page.get_by_role("button", name="One drop of Rav Nype more")
    for _ in range(7):
        more.dispatch_event("click")
    expect(page.locator(".totals")).to_contain_text("21drops")
    expect(count(page, "Rav Nype")).to_have_value("10")


def test_keys_do_what_the_help_says(page, address):
    page.goto(f"{address}/mix")
    page.keyboard.press("?")
    expect(page.locator("#keys")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("ArrowUp")
    expect(page.locator(".picked .count")).to_have_value("3")
    page.keyboard.press("+")
    expect(count(page, "Rav Nype")).to_have_value("4")
    page.keyboard.press("-")
    page.keyboard.press("-")
    expect(page.locator(".totals")).to_contain_text("13drops")
    page.keyboard.press("1")
    page.keyboard.press("2")
    expect(page.locator(".totals")).to_contain_text("23drops")
    page.keyboard.press("c")
    expect(page.locator("#clear")).to_contain_text("satin")
    page.keyboard.press("u")
    expect(page.locator("#clear")).to_contain_text("clear coat")
    page.keyboard.press("r")
    expect(page.locator("#clear")).to_contain_text("satin")
    page.keyboard.press("c")
    expect(page.locator("#clear")).to_contain_text("matte")
    page.keyboard.press("c")
    expect(page.locator("#clear")).to_contain_text("clear coat")
    page.keyboard.press("/")
    expect(page.locator("#add")).to_be_focused()
    page.keyboard.type("sitron")
    expect(page.locator(".found-bottle")).to_have_count(1)
    page.keyboard.press("Enter")
    expect(page.locator(".row-bottle.picked")).to_contain_text("Rav Sitron")
    expect(page.locator("#add")).to_be_focused()  # for the next bottle
    page.keyboard.press("Escape")
    page.keyboard.press("g")
    page.keyboard.press("s")
    expect(page).to_have_url(f"{address}/shelf")


def test_coats_thickness_and_ground_are_chosen_in_place(page, address):
    page.goto(f"{address}/mix")
    page.locator("#patch-silver-foil-1").click()
    expect(page.locator(".sentence")).to_contain_text("One light coat on silver foil")
    page.locator("#coat-wet").click()
    expect(page.locator(".sentence")).to_contain_text("One wet coat on silver foil")
    for coats in range(2, 7):
        page.locator("#coats-more").click()
        expect(page.locator(f"#patch-silver-foil-{coats}")).to_have_attribute("aria-pressed", "true")
    page.reload()
    expect(page.locator(".sentence")).to_contain_text("Six wet coats on silver foil")


def test_a_refused_number_goes_back_and_a_refused_name_stays_to_be_mended(page, address, refusals):
    refusals.append(422)
    page.goto(f"{address}/mix")
    count(page, "Rav Nype").fill("-4")
    count(page, "Rav Nype").press("Enter")
    expect(page.locator("#said")).to_contain_text("Rav Nype: drops must be a whole number")
    expect(count(page, "Rav Nype")).to_have_value("3")
    page.locator("#name").evaluate("input => { input.maxLength = 9999; }")
    page.locator("#name").fill("x" * 100)
    page.locator("#name").press("Enter")
    expect(page.locator("#said")).to_contain_text("at most 80")
    expect(page.locator("#name")).to_have_value("x" * 100)


def test_two_tabs_pour_into_the_same_cup(page, context, address):
    page.goto(f"{address}/mix")
    other = context.new_page()
    other.goto(f"{address}/mix")
    page.bring_to_front()  # a browser is slow with what nobody sees
    page.get_by_role("button", name="One drop of Rav Nype more").click()
    expect(page.locator(".totals")).to_contain_text("14drops")  # the server has it; the count alone is the hand's
    other.bring_to_front()
    other.get_by_role("button", name="One drop of Rav Gull more").click()
    expect(count(other, "Rav Gull")).to_have_value("7")
    expect(count(other, "Rav Nype")).to_have_value("4")


def test_the_cup_survives_kill_9(page, bench, refusals):
    refusals += ["net::ERR", "htmx:"]  # what the next drop would do may just be asked for

    def serve():
        server = subprocess.Popen(
            [sys.executable, "-m", "diachrom", "serve", "--port", "0", "--data", str(bench)],
            stdout=subprocess.PIPE,
            text=True,
        )
        return server, server.stdout.readline().strip()

    server, address = serve()
    try:
        page.goto(f"{address}/mix")
        add(page, "Rav Sitron")
        page.keyboard.press("+")
        expect(page.locator(".totals")).to_contain_text("16drops")
        page.locator("#name").fill("Half mixed")
        page.locator("#name").press("Enter")
        expect(page).to_have_title("Half mixed · Diachrom")
    finally:
        os.kill(server.pid, signal.SIGKILL)
        server.communicate()
    server, address = serve()
    try:
        page.goto(f"{address}/mix")
        expect(page).to_have_title("Half mixed · Diachrom")
        expect(count(page, "Rav Sitron")).to_have_value("2")
        page.keyboard.press("u")
        page.keyboard.press("u")
        expect(count(page, "Rav Sitron")).to_have_value("1")
    finally:
        server.terminate()
        server.communicate()


def test_the_list_of_bottles_and_the_empty_page_are_accessible(page, address, accessible):
    page.goto(f"{address}/mix")
    page.locator("#add").fill("rav")
    expect(page.locator(".found-bottle").first).to_be_visible()
    accessible()
    page.keyboard.press("Escape")
    page.locator("#new").click()
    expect(page.locator(".seen-empty")).to_be_visible()
    accessible()


def test_on_a_phone_the_strip_stays_in_view_while_the_last_drop_is_poured(page, address):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{address}/mix")
    page.get_by_role("button", name="One drop of Tynn reducer more").scroll_into_view_if_needed()
    page.get_by_role("button", name="One drop of Tynn reducer more").click()
    expect(page.locator("#patch-white-1")).to_be_in_viewport()


def test_at_1280_by_800_a_drop_and_what_it_does_need_no_scrolling(page, still):
    page.goto(f"{still}/mix")
    for place in (
        ".row-bottle [data-pour='1']",
        "#patch-white-4",
        ".sentence",
        ".plot",
        "#clear",
        "#choose-light",
        "#save",
    ):
        expect(page.locator(place).first).to_be_in_viewport(ratio=1)


def test_the_shelf_and_the_book_are_searched_in_place_and_a_bottle_goes_into_the_cup(page, address):
    page.goto(f"{address}/shelf")
    page.keyboard.press("/")
    page.keyboard.type("fjord")
    expect(page.locator(".shelf-bottle")).to_have_count(1)
    expect(page).to_have_url(f"{address}/shelf?q=fjord")
    page.locator("#find").fill("nothing like it")
    expect(page.locator("#bottles")).to_contain_text("No bottle has")
    page.locator("#find").fill("")
    page.get_by_label("candy dye").check()
    expect(page.locator(".shelf-bottle")).to_have_count(5)
    page.get_by_role("button", name="Add to cup: a drop of Lykt Rod").click()
    expect(count(page, "Lykt Rod")).to_have_value("1")
    page.goto(f"{address}/recipes?q=capelin+back")
    expect(page.locator(".book-entry")).to_have_count(1)


def test_the_tilt_turns_every_field_that_has_an_angle_without_asking_the_server(page, address):
    page.goto(f"{address}/mix")
    asked = []
    page.on("request", lambda request: asked.append(request.url) if "/static/" not in request.url else None)
    stop = page.locator("#patch-silver-foil-1 stop").first
    flat = page.locator("#patch-white-1 rect").get_attribute("fill")
    before = stop.get_attribute("stop-color")
    page.locator("#name").blur()
    for _ in range(5):
        page.keyboard.press("ArrowRight")
    expect(page.locator("#tilt-degrees")).to_have_text("50")
    expect(page.locator("#tilt")).to_have_attribute("aria-valuetext", "50 degrees from the flash, half turned")
    assert stop.get_attribute("stop-color") != before
    assert page.locator("#patch-white-1 rect").get_attribute("fill") == flat
    turned = stop.get_attribute("stop-color")
    box = page.locator("#tilt svg").bounding_box()
    page.mouse.move(box["x"] + 60, box["y"] + 40)
    page.mouse.down()
    page.mouse.move(box["x"] + 120, box["y"] + 40)
    page.mouse.up()
    expect(page.locator("#tilt-degrees")).to_have_text("86")
    assert stop.get_attribute("stop-color") != turned
    assert asked == []
    # It stays turned while drops fall.
    page.get_by_role("button", name="One drop of Rav Nype more").click()
    expect(count(page, "Rav Nype")).to_have_value("4")
    expect(page.locator("#tilt-degrees")).to_have_text("86")


def test_light_ground_nozzle_and_seal_are_chosen_in_place_and_warnings_follow(page, address):
    page.goto(f"{address}/mix")
    page.locator("#choose-ground").select_option("recipe:1:1")
    expect(page.locator(".sentence")).to_contain_text("on No. 1, Night saithe, back")
    page.locator("#choose-light").select_option("green-lake@8")
    expect(page.locator(".figures")).to_contain_text("the water")
    page.locator("#choose-light").select_option("dark@1")
    expect(page.locator("#tilt")).to_have_count(0)
    page.locator("#choose-light").select_option("D65")
    expect(page.locator("#tilt")).to_be_visible()
    page.locator("#choose-nozzle_mm").select_option("0.2")
    add(page, "Perlemor Blaa")
    expect(page.locator(".warnings")).to_contain_text("clog a 0.2 mm nozzle")
    page.locator("#sealed").click()
    expect(page.locator("#sealed")).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="spectrum").click()
    expect(page.locator("[data-plot=spectrum]")).to_be_visible()
    expect(page.locator("[data-plot=coats]")).to_be_hidden()


def test_grounds_and_mixes_are_compared_side_by_side_and_tilt_together(page, address):
    page.goto(f"{address}/mix")
    page.get_by_role("link", name="Compare").click()
    expect(page.locator(".side-strip")).to_have_count(6)
    page.locator("#compare-single").select_option("recipe:11:1")
    expect(page.locator(".side-words").first).to_contain_text("in the flash")
    stops = page.locator(".side-strip stop[data-tilt]")
    before = [stops.nth(at).get_attribute("stop-color") for at in (0, 8)]
    page.locator("h1").click()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    assert all(stops.nth(at).get_attribute("stop-color") != old for at, old in zip((0, 8), before, strict=True))
    page.locator("#side-2").select_option("holo-foil")
    expect(page).to_have_url(re.compile("holo-foil"))
    page.get_by_role("link", name="mixes").click()
    expect(page.locator(".side-cup")).to_have_count(6)


def test_what_is_chosen_before_the_page_listens_is_answered_when_it_does(page, address):
    waiting = []
    page.route("**/htmx.min.js*", lambda route: waiting.append(route))
    page.goto(f"{address}/compare", wait_until="commit")
    page.locator("#compare-single").select_option("recipe:11:1")
    expect(page.locator(".side-words").first).not_to_contain_text("in the flash")
    waiting[0].continue_()
    expect(page.locator(".side-words").first).to_contain_text("in the flash")


def test_a_painters_own_paint_is_put_on_the_shelf_counted_and_poured(page, address, accessible, refusals):
    refusals.append(422)
    page.goto(f"{address}/shelf")
    page.get_by_role("link", name="New paint").click()
    page.wait_for_url("**/shelf/new")
    accessible()
    page.get_by_label("Name").fill("Krekling")
    page.get_by_role("button", name="Add it to the shelf").click()
    expect(page.locator("#said")).to_contain_text("say its colour as #rrggbb")
    page.get_by_label("Its colour").fill("#5a2a6e")
    page.get_by_label("a veil").check(force=True)
    page.get_by_role("button", name="Add it to the shelf").click()
    expect(page.locator("h1")).to_have_text("Krekling")
    expect(page.locator(".page-head")).to_contain_text("a guess")
    page.get_by_label("Left now, ml").fill("12")
    page.get_by_role("button", name="Save").click()
    expect(page.locator(".left-figure")).to_contain_text("12.0 ml left of 30 ml")
    expect(page.locator(".ledger tbody tr")).to_have_count(2)
    accessible()
    page.get_by_role("button", name="Add a drop to the cup").click()
    expect(count(page, "Krekling")).to_have_value("1")


def test_the_bottles_found_stay_while_an_answer_to_something_else_arrives(page, address):
    page.goto(f"{address}/mix")
    page.route("**/mix/look", lambda route: (time.sleep(0.4), route.continue_()))
    with page.expect_response("**/mix/look"):
        page.locator("#choose-nozzle_mm").select_option("0.2")
        page.locator("#add").fill("perlemor bl")
    expect(page.locator(".found-bottle")).to_have_count(1)
    expect(page.locator("#undo")).to_have_attribute("title", "Undo the choice of light and nozzle")
    expect(page.locator(".found-bottle")).to_have_count(1)
    page.locator("#add").press("Enter")
    expect(page.locator(".row-bottle.picked")).to_contain_text("Perlemor Blaa")
    expect(page.locator(".found-bottle")).to_have_count(0)
    expect(page.locator("#add")).to_have_value("")


def test_two_at_one_cup_see_what_the_other_pours(page, address):
    page.goto(f"{address}/mix")
    other = page.context.new_page()
    other.goto(f"{address}/mix")
    name = page.locator(".row-bottle").first.get_attribute("data-name")
    drops = int(count(page, name).input_value())
    page.locator('.row-bottle [data-pour="1"]').first.click()
    expect(count(other, name)).to_have_value(str(drops + 1))
    # What is typed on one of them stays while the other pours.
    other.locator("#add").fill("Torv")
    page.locator('.row-bottle [data-pour="1"]').first.click()
    other.wait_for_timeout(3500)
    expect(other.locator("#add")).to_have_value("Torv")
    other.close()
