"""The shelf driven as a painter drives it: cards, devices, drops, files, substitutes, papers."""

import io
import re

from PIL import Image, ImageDraw
from playwright.sync_api import expect


def test_a_bottle_is_found_by_a_colour_filtered_and_the_rest_comes_by_scrolling(page, still):
    page.goto(f"{still}/shelf")
    expect(page.locator(".shelf-bottle")).to_have_count(48)
    page.locator(".shelf-more").scroll_into_view_if_needed()
    expect(page.locator(".shelf-bottle")).to_have_count(56)
    page.keyboard.press("/")
    page.keyboard.type("dark olive")
    expect(page.locator(".shelf-bottle").first).to_contain_text(re.compile("Tang|Mose"))
    expect(page.locator(".count-line")).to_contain_text("nearest to dark olive first")
    page.locator("#find").fill("")
    page.get_by_label("running low", exact=True).check(force=True)
    expect(page.locator(".shelf-bottle")).to_have_count(2)
    page.get_by_label("opaque", exact=True).check(force=True)
    expect(page.locator(".shelf-bottle")).to_have_count(1)
    expect(page).to_have_url(re.compile("low=true.*kind=opaque|kind=opaque.*low=true"))
    page.reload()
    expect(page.locator(".shelf-bottle")).to_have_count(1)


def test_a_card_is_finished_with_the_reader_though_its_plug_is_pulled_and_recipes_are_seen_to_change(
    page, address, refusals
):
    refusals.append(422)
    page.goto(f"{address}/paints/rav-multe")
    page.get_by_role("button", name="Measure it on a drawdown card").click()
    page.get_by_role("button", name="Read: over black, 1 pass").click()
    expect(page.locator("#said")).to_contain_text("unplugged")
    page.locator("select[name=key]").select_option("pocket")
    page.get_by_role("button", name="Plug in").click()
    expect(page.locator(".device-state")).to_contain_text("warming up")
    page.get_by_role("button", name="Calibrate on its tile").click(timeout=20_000)
    expect(page.locator(".device-state")).to_contain_text("ready")
    page.locator(".card-field").last.get_by_text("by hand, file, photo").click()
    page.locator(".card-field").last.get_by_role("button", name="Read with the reader lifted off").click()
    expect(page.locator("#said")).to_contain_text("no contact")
    for field in ("over black, 1 pass", "over white, 12 passes", "over black, 12 passes"):
        page.get_by_role("button", name=f"Read: {field}").click()
        expect(page.locator("#said")).to_contain_text(f"Read: {field}")
    expect(page.locator(".derived .sentence")).to_contain_text("the profile so far")
    page.get_by_role("button", name="Unplug").click()
    page.get_by_role("button", name="Read again: over black, 12 passes").click()
    expect(page.locator("#said")).to_contain_text("What was read before is kept")
    expect(page.locator(".card-field").last.locator(".readings li")).to_have_count(1)
    page.get_by_role("button", name="Use it as the paint").click()
    expect(page.locator("h1")).to_have_text("What changed with Rav Multe")
    expect(page.locator(".effect")).to_have_count(2)
    page.get_by_role("link", name="Back to its profile").click()
    expect(page.locator(".version")).to_have_count(2)
    expect(page.locator(".version").first).to_contain_text("Version 2, counts now")


def test_a_press_lands_on_the_device_just_chosen_though_no_answer_has_come_yet(page, address):
    page.goto(f"{address}/contrast-cards/1")
    page.locator("select[name=key]").evaluate(
        "(choice) => { choice.value = 'pocket'; choice.dispatchEvent(new Event('change', {bubbles: true}));"
        " document.querySelector('.device button').click(); }"
    )
    expect(page.locator(".device-state")).to_contain_text("The pocket reader")
    expect(page.locator(".device-state")).to_contain_text("warming up")
    expect(page.locator(".device-state")).to_contain_text("needs its white tile")  # asked again by itself


def test_a_colour_is_picked_from_a_photo_where_it_was_touched(page, address):
    image = Image.new("RGB", (800, 400), "#101010")
    draw = ImageDraw.Draw(image)
    draw.rectangle((0, 0, 399, 399), fill="#767676")
    draw.rectangle((500, 100, 700, 300), fill="#803020")
    out = io.BytesIO()
    image.save(out, "PNG")
    page.goto(f"{address}/contrast-cards/1")
    field = page.locator(".card-field").last
    field.get_by_text("by hand, file, photo").click()
    field.locator("input[type=file]").last.set_input_files(
        {"name": "card.png", "mimeType": "image/png", "buffer": out.getvalue()}
    )
    field.get_by_role("button", name="Pick from it").click()
    page.wait_for_url(re.compile("/photo/"))  # and for its script
    box = page.locator("#photo image").bounding_box()
    page.mouse.click(box["x"] + box["width"] * 0.25, box["y"] + box["height"] * 0.5)
    page.mouse.click(box["x"] + box["width"] * 0.75, box["y"] + box["height"] * 0.5)
    assert abs(int(page.locator("input[name=grey_x]").input_value()) - 200) <= 2
    assert abs(int(page.locator("input[name=x]").input_value()) - 600) <= 2
    page.get_by_role("button", name="Take this colour").click()
    expect(page.locator(".card-field").last).to_contain_text("photo: card.png")
    expect(page.locator(".card-field").last).to_contain_text(re.compile("red|brown"))


def test_drops_are_let_fall_weighed_and_become_the_bottles(page, address):
    page.goto(f"{address}/bottles/22/drops")
    page.get_by_role("button", name="Plug in").click()
    for count in range(3):
        page.get_by_role("button", name="Drip them").click()
        expect(page.locator("#said")).to_contain_text("20 drops on the pan")
        page.get_by_role("button", name="Weigh", exact=True).press("Enter")
        expect(page.locator(".ledger tbody tr")).to_have_count(count + 1)
    expect(page.locator("#device-scale")).to_have_count(1)
    mean = page.locator(".left-figure b").inner_text()
    page.get_by_role("button", name="Use it for this bottle").click()
    expect(page.locator(".facts")).to_contain_text(f"{float(mean):.0f} µl")


def test_an_inventory_with_a_mistake_is_mended_and_then_written(page, address):
    wrong = "name,kind,size_ml,colour\nBar,ink,fifteen,#102030\nBringebar,ink,15,#802040\n"
    page.goto(f"{address}/files")
    for text in (wrong, wrong.replace("fifteen", "15")):
        file = {"name": "cupboard.csv", "mimeType": "text/csv", "buffer": text.encode()}
        page.locator("input[type=file]").set_input_files(file)
        page.get_by_role("button", name="Preview it").click()
        if text is wrong:
            expect(page.locator(".sentence").first).to_contain_text("1 cell is wrong")
            expect(page.get_by_role("button", name="Import all of it")).to_have_count(0)
            page.get_by_role("link", name="Choose another file").click()
    page.get_by_role("button", name="Import all of it").click()
    page.get_by_role("link", name="To the shelf").click()
    page.locator("#find").fill("bringebar")
    expect(page.locator(".shelf-bottle")).to_have_count(1)
    page.get_by_role("button", name="Undo").click()
    page.locator("#find").fill("bringebar")
    expect(page.locator(".empty-hint")).to_be_visible()


def test_a_stand_in_becomes_the_next_version_of_a_recipe(page, address):
    page.goto(f"{address}/paints/rav-nype/substitutes")
    row = page.locator(".substitute").first
    expect(row).to_contain_text("dE")
    row.get_by_role("button", name="Save as its next version").click()
    expect(page.locator("h1")).to_have_text("Autumn char, belly")
    expect(page.locator("#version-3")).to_contain_text("Rav Nype replaced by")


def test_a_new_paint_is_described_changed_and_taken_back(page, address, refusals):
    refusals.append(422)
    page.goto(f"{address}/shelf/new")
    page.get_by_label("Name", exact=True).fill("Krekling")
    page.locator("select[name=kind]").select_option("pearl")
    page.get_by_label("Size, ml").fill("a lot")
    page.get_by_role("button", name="Add it to the shelf").click()
    expect(page.locator("#said")).to_contain_text("'a lot' is no number in ml")
    expect(page.get_by_label("Name", exact=True)).to_have_value("Krekling")
    page.get_by_label("Size, ml").fill("1 fl oz")
    page.get_by_role("button", name="Add it to the shelf").click()
    expect(page.locator("h1")).to_have_text("Krekling")
    expect(page.locator(".count-line").first).to_contain_text("a guess")
    page.locator("details.more summary").click()
    page.get_by_role("link", name="Edit it").click()
    page.get_by_label("State").select_option("unreadable label")
    page.get_by_label("Place").fill("window")
    page.get_by_role("button", name="Save the bottle").click()
    expect(page.locator("h1")).to_have_text("Krekling")
    expect(page.locator(".facts")).to_contain_text("window")
    page.goto(f"{address}/shelf?q=krekling")
    expect(page.locator(".shelf-bottle")).to_contain_text("unreadable label")
    page.get_by_role("button", name="Undo").click()
    page.goto(f"{address}/shelf?q=krekling")
    expect(page.locator(".shelf-bottle")).to_contain_text("sealed")


def test_labels_and_cards_print_alone(page, still):
    page.goto(f"{still}/shelf/labels?bottle=22")
    page.emulate_media(media="print")
    expect(page.locator(".rail")).to_be_hidden()
    expect(page.locator("h1")).to_be_hidden()
    expect(page.locator(".label svg.qr")).to_be_visible()
    assert page.pdf().count(b"/Type /Page\n") <= 1
