"""Test cards in the browser: read by the reader and by a photo, judged by eye."""

from playwright.sync_api import expect


def test_a_test_card_is_sprayed_read_and_laid_beside_its_prediction(page, address, accessible):
    page.goto(f"{address}/spray-outs")
    page.get_by_role("button", name="A card of the cup on the bench").click()
    expect(page.locator(".patch")).to_have_count(3)
    page.get_by_role("button", name="Plug in").click()
    page.get_by_role("button", name="Calibrate on its tile").click()
    for ground, following in (("white", "black"), ("black", "grey")):
        page.locator("#read-next", has_text=f"Read: on {ground}").click()
        expect(page.locator("#read-next")).to_contain_text(following)
    expect(page.locator(".sentence")).to_contain_text("over 2 patches")
    patch = page.locator(".patch").last
    patch.locator("summary").click()
    patch.get_by_label("redder").check()
    patch.get_by_role("button", name="Say it").click()
    expect(patch).to_contain_text("the eye: a touch redder")
    page.locator(".patch").first.locator("summary").click()
    page.get_by_role("button", name="Set aside: reading 1 on white").click()
    expect(page.locator(".sentence")).to_contain_text("over 1 patch.")
    page.get_by_label("pressure, bar or psi").fill("22 psi")
    page.get_by_label("pressure, bar or psi").press("Tab")
    expect(page.locator(".page-head")).to_contain_text("1.5 bar")
    accessible()
    page.set_viewport_size({"width": 390, "height": 844})
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_a_photo_of_the_sheet_reads_every_patch_and_a_bad_one_is_said(page, address, accessible, refusals):
    refusals.append(422)
    page.goto(f"{address}/spray-outs/24")
    page.get_by_label("or the simulated camera takes it").select_option("torn")
    page.get_by_role("button", name="Take the photo").click()
    expect(page.locator("#said")).to_contain_text("lower right corner mark is missing")
    expect(page.locator("#read-next")).to_be_visible()
    page.get_by_label("or the simulated camera takes it").select_option("good")
    page.get_by_role("button", name="Take the photo").click()
    expect(page.locator("#said")).to_contain_text("from the photo")
    expect(page.locator(".patch", has_text="1 reading").first).to_be_visible()
    expect(page.locator(".card-photo")).to_be_visible()
    page.get_by_role("link", name="Print its sheet").click()
    expect(page.locator(".card-sheet-svg")).to_be_visible()
    accessible()
