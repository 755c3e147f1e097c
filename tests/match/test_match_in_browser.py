"""Matching as a painter does it: a colour, the bottles for it, into the cup, and drop by drop from there."""

import re
from dataclasses import replace

from PIL import Image
from playwright.sync_api import expect

from diachrom.work.match import targets


def test_a_colour_is_matched_poured_overshot_and_brought_back(page, address, store, accessible, refusals):
    refusals.append(422)
    targets.set_up(store, lambda old: replace(old, max_paints=3, max_drops=10))  # quick to look through
    page.goto(f"{address}/match")
    accessible()
    page.locator("input[name=typed]").fill("zork")
    page.get_by_role("button", name="Match this colour").click()
    expect(page.locator("#said")).to_contain_text("'zork' is no colour")
    page.locator("input[name=typed]").fill("#c85a28")
    page.locator("input[name=name]").first.fill("Belly")
    page.get_by_role("button", name="Match this colour").click()
    expect(page.locator(".target h2")).to_have_text("Belly")
    expect(page.locator(".alternative").first).to_contain_text("To pour")
    expect(page.locator("#match-found")).not_to_contain_text("still looking", timeout=30_000)
    accessible()
    page.get_by_role("button", name=re.compile("^leave out .*: To pour")).first.click()
    expect(page.locator("#match-found")).to_contain_text("Left out:")
    expect(page.locator("#match-found")).not_to_contain_text("still looking", timeout=30_000)
    page.get_by_role("button", name=re.compile("take it in again")).click()
    expect(page.locator("#match-found")).not_to_contain_text("Left out:")
    page.locator("input[name=max_paints]").fill("2")
    page.locator("input[name=max_paints]").blur()
    expect(page.locator("#match-found")).not_to_contain_text("still looking", timeout=30_000)
    page.get_by_role("button", name=re.compile("Into the cup: To pour")).click()
    expect(page.locator("#name")).to_have_value("Belly")
    expect(page.locator(".next-panel")).to_contain_text("Beside Belly")
    page.locator("#add").fill("torv sot")
    expect(page.locator(".found-bottle").first).to_contain_text("Torv Sot")
    page.locator(".found-bottle").first.click()
    expect(page.locator(".next-panel")).to_contain_text(re.compile("darker|duller"))
    expect(page.locator(".next-help").first).to_be_visible()
    accessible()
    page.locator(".next-help").first.click()
    expect(page.locator("#undo")).to_be_enabled()
    page.set_viewport_size({"width": 390, "height": 844})
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_a_target_out_of_reach_is_said_and_an_old_one_taken_up_again(page, address, store):
    targets.set_up(store, lambda old: replace(old, max_paints=3, max_drops=10))  # quick to look through
    page.goto(f"{address}/match")
    for at, colour in enumerate(("#c85a28", "#2040ff")):
        if at:
            page.get_by_text("Another target").click()
        page.locator("input[name=typed]").fill(colour)
        page.get_by_role("button", name="Match this colour").click()
        expect(page.locator(".target h2")).to_have_text(colour)
    expect(page.locator("#match-found")).to_contain_text("This is as far as the shelf reaches", timeout=60_000)
    expect(page.locator("#match-reach .plot")).to_be_visible()
    page.get_by_role("button", name=re.compile("#c85a28")).first.click()
    expect(page.locator(".target h2")).to_have_text("#c85a28")
    page.get_by_role("button", name="Remove: #2040ff").click()
    expect(page.locator(".target-list li")).to_have_count(0)


def test_a_cup_is_poured_drop_by_drop_judged_corrected_and_saved_as_it_was_poured(page, address, accessible):
    page.goto(f"{address}/mix")
    page.get_by_role("button", name="Pour it drop by drop").click()
    expect(page.locator(".pour-line")).to_have_count(4)
    expect(page.locator(".pour-line").first).to_contain_text("0 of 6")
    accessible()
    for _ in range(6):
        page.keyboard.press(" ")
    expect(page.locator(".pour-line").first).to_contain_text("6 of 6")
    expect(page.locator(".pour-line.next")).to_have_count(1)
    page.get_by_role("button", name=re.compile("A drop of Rav Nype fell")).click()
    page.get_by_role("button", name="too dark").click()
    expect(page.locator(".story-said")).to_contain_text("too dark")
    page.locator(".form-row select[name=bottle]").select_option(label="Torv Kritt")
    page.locator("input[name=drops][type=number]").fill("3")
    page.get_by_role("button", name="Add these drops").click()
    expect(page.locator(".story li")).to_have_count(4)
    expect(page.locator(".story li").last).to_contain_text("3 Torv Kritt")
    expect(page.locator(".plot-figure")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Save as poured")).click()
    expect(page.locator("#said")).to_contain_text(
        re.compile("Saved as recipe 10, version 3, with its story; .* ml taken out")
    )
    page.goto(f"{address}/recipes/10")
    page.get_by_text("How it was poured").first.click()
    expect(page.locator(".story").first).to_contain_text("“too dark” the eye")
    accessible()
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{address}/pour")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_colours_of_a_photo_are_touched_one_after_the_other_and_matched_together(page, address, accessible, tmp_path):
    photo = Image.new("RGB", (600, 400), (120, 120, 120))
    for at, colour in enumerate(((70, 75, 40), (180, 160, 90))):
        photo.paste(colour, (0, 100 * at + 200, 600, 100 * at + 300))
    photo.save(tmp_path / "perch.png")
    page.goto(f"{address}/match")
    page.locator("input[name=file]").first.set_input_files(tmp_path / "perch.png")
    page.get_by_role("button", name="Pick colours from it").click()
    told, picture = page.locator("#pick-next"), page.locator("#photo")
    expect(told).to_have_text("Touch the grey patch.")
    accessible()
    expect(page.locator("input[name=x]")).to_be_hidden()

    def touch(x, y):
        page.wait_for_load_state()  # its script listens
        picture.evaluate(
            "(photo, [x, y]) => photo.dispatchEvent(new PointerEvent('pointerdown', "
            "(({x: clientX, y: clientY}) => ({clientX, clientY}))"
            "(new DOMPoint(x, y).matrixTransform(photo.getScreenCTM()))))",
            [x, y],
        )

    touch(100, 60)
    page.get_by_text("More: figures").click()
    page.locator("input[name=grey_percent]").fill("19.5")
    for name, y in (("back", 250), ("flank", 350)):
        touch(300, y)
        page.locator("input[name=name]").fill(name)
        page.get_by_role("button", name="Take this colour").click()
        expect(page.locator(".palette b").last).to_have_text(name)
    expect(told).to_contain_text("Touch the colour")  # the grey patch stayed where it was
    expect(page.locator("input[name=grey_percent]")).to_have_value("19.5")  # and what it is
    picture.focus()
    page.keyboard.press("ArrowRight")
    expect(page.locator("input[name=x]")).to_have_value("308")
    page.get_by_role("link", name="Match all of them together").click()
    page.get_by_role("button", name="Look for the fewest bottles").click()
    expect(page.get_by_role("button", name="Into the cup")).to_have_count(2, timeout=90_000)
    expect(page.locator(".zone h2")).to_have_text(["back", "flank"])
    accessible()
