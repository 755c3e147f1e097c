"""The whole shelf on one sheet in a real browser: chosen, printed, photographed, taken, taken back."""

from playwright.sync_api import expect


def test_three_paints_are_put_on_a_sheet_photographed_taken_and_taken_back(page, address, accessible):
    page.goto(f"{address}/shelf-sheets")
    accessible()
    for name in ("Torv Mose", "Rav Gull", "Lykt Rod"):
        page.get_by_role("checkbox", name=name).check()
    page.get_by_role("button", name="Make the sheet").click()
    page.get_by_role("link", name="Print the sheet").click()
    expect(page.get_by_role("img", name="32 fields between four corner marks")).to_be_visible()
    page.get_by_role("link", name="its page").click()
    page.locator("select[name=shot]").select_option("phone")
    page.get_by_role("button", name="Take the photo").click()
    expect(page.locator(".sentence")).to_contain_text("of 3 are sure", timeout=60_000)
    accessible()
    page.get_by_role("button", name="Use this one").first.click()
    expect(page.locator("#said")).to_have_text("1 profile taken: it counts from now on.")
    page.get_by_role("button", name="Undo the whole sheet").click()
    expect(page.locator("#said")).to_have_text("1 profile taken back.")
