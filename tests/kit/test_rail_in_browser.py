"""The rail: the chapters in the order of the work; on a phone five of them, and more."""

from playwright.sync_api import expect


def test_on_a_phone_five_entries_stand_below_and_the_rest_opens_above_them(page, address, accessible):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{address}/test-cards")
    shown = page.locator(".rail > a").filter(visible=True)
    assert shown.all_inner_texts() == ["Shelf", "Mix", "Recipes", "Plan", "Bench"]
    terms, more = page.get_by_role("link", name="Terms"), page.get_by_role("button", name="More", exact=True)
    expect(terms).to_be_hidden()
    more.click()
    expect(more).to_have_attribute("aria-expanded", "true")
    expect(page.locator(".rail-foot [aria-current]")).to_have_text("Cards")
    page.locator("h1").click()
    expect(terms).to_be_hidden()
    more.click()
    terms.click()
    expect(page.locator("h1")).to_have_text("Terms")
    expect(page.locator("dt#de + dd")).to_contain_text("2.5 is the same at arm's length")
    accessible()


def test_a_letter_after_g_leads_to_every_entry(page, address):
    page.goto(f"{address}/terms")
    for letter, heading in (("c", "Spray-out cards"), ("e", "Train the eye"), ("f", "Files")):
        page.keyboard.press("g")
        page.keyboard.press(letter)
        expect(page.locator("h1")).to_contain_text(heading)
        page.wait_for_load_state()  # and its keys listen


def test_what_is_done_more_seldom_opens_by_one_press_and_closes_by_a_touch_elsewhere_or_escape(page, still, accessible):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{still}/shelf")
    more, labels = page.locator("details.more summary"), page.get_by_role("link", name="Labels")
    more.click()
    expect(labels).to_be_in_viewport()
    accessible()
    page.keyboard.press("Escape")
    expect(labels).to_be_hidden()
    expect(more).to_be_focused()
    more.click()
    page.locator("h1").click()
    expect(labels).to_be_hidden()
    more.click()
    labels.click()
    expect(page.locator("h1")).to_have_text("Labels")
