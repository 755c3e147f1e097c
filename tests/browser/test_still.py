"""Buttons hold still while answers arrive: what was under the finger is there when it comes down."""

from playwright.sync_api import expect

TOP = "(one) => one.getBoundingClientRect().top + scrollY"


def test_no_button_of_match_moves_while_the_search_goes_on(page, address):
    page.goto(f"{address}/match")
    page.locator("input[name=typed]").fill("#c85a28")
    page.get_by_role("button", name="Match it").first.click()
    expect(page.locator(".target h2")).to_have_text("#c85a28")
    main = page.locator(".match-from summary").first
    before = main.evaluate(TOP)
    expect(page.locator("#match-reach circle").first).to_be_visible(timeout=30_000)
    assert abs(main.evaluate(TOP) - before) <= 1
    into_cup = page.get_by_role("button", name="Into the cup").first
    at = into_cup.evaluate(TOP)
    expect(page.locator("#match-found")).not_to_contain_text("still looking", timeout=30_000)
    assert abs(main.evaluate(TOP) - before) <= 1
    assert abs(into_cup.evaluate(TOP) - at) <= 1


def test_no_button_of_the_scale_moves_when_it_is_plugged_in_tared_and_read(page, address):
    page.goto(f"{address}/bottles/22/drops")
    weigh = page.get_by_role("button", name="Take the weight")
    before = weigh.evaluate(TOP)
    page.get_by_role("button", name="Plug in").click()
    page.get_by_role("button", name="Tare").click()
    expect(page.locator(".device-shows")).to_contain_text("g")
    assert abs(weigh.evaluate(TOP) - before) <= 1
    page.get_by_role("button", name="Let them fall").click()
    expect(page.locator(".device-state")).to_contain_text("stands still", timeout=30_000)
    weigh.click()
    expect(page.locator(".ledger tbody tr")).to_have_count(1)
    assert abs(weigh.evaluate(TOP) - before) <= 1
