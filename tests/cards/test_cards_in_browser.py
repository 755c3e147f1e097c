"""Spray-out cards in the browser: read by the reader and by a photo, judged by eye."""

from playwright.sync_api import expect


def test_a_test_card_is_sprayed_read_and_laid_beside_its_prediction(page, address, accessible):
    page.goto(f"{address}/test-cards")
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
    patch.get_by_role("button", name="Save what the eye says").click()
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
    page.goto(f"{address}/test-cards/24")
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


def test_the_cards_are_learned_from_taken_and_taken_back(page, address, accessible):
    page.goto(f"{address}/learning")
    page.get_by_role("button", name="Learn from").click()
    expect(page.get_by_role("button", name="Use what was learned")).to_be_visible(timeout=180_000)
    expect(page.locator(".learned")).to_contain_text("Cards left out come closer")
    expect(page.get_by_text("the wrong bottle?")).to_be_visible()
    page.get_by_text("its spectra").first.click()
    expect(page.locator(".plot").first).to_be_visible()
    accessible()
    page.get_by_role("button", name="Use what was learned").click()
    expect(page.locator("#said")).to_contain_text("count from now on")
    page.goto(f"{address}/record")
    expect(page.get_by_text("was taken for").first).to_be_visible()
    accessible()
    page.set_viewport_size({"width": 390, "height": 844})
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.goto(f"{address}/learning")
    page.get_by_role("button", name="Undo this").click()
    expect(page.locator("#said")).to_contain_text("Undone")
    page.set_viewport_size({"width": 390, "height": 844})
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_the_eye_is_trained_with_a_knuckle(page, address, accessible):
    page.goto(f"{address}/trainer")
    page.get_by_label("bottles from").select_option("demo")
    page.get_by_role("button", name="Begin a round").click()
    expect(page.locator(".trainer-bottles li")).to_have_count(3)
    accessible()
    for name, presses in (("first", 2), ("second", 3), ("third", 1)):
        for _ in range(presses):
            page.locator(f"button[data-step='1'][data-of='guess-{name}']").click()
        expect(page.locator(f"#guess-{name}")).to_have_value(str(presses))
    page.get_by_role("button", name="That is my guess").click()
    expect(page.get_by_text("What one drop would have done")).to_be_visible()
    expect(page.locator(".trainer-patch")).to_have_count(2)
    accessible()
    page.get_by_role("button", name="Next round").click()
    expect(page.get_by_role("button", name="That is my guess")).to_be_visible()
    page.set_viewport_size({"width": 390, "height": 844})
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
