"""From the bench to the log and back to the bench: a session ends, a fault is told, it is found, and made again."""

import re

from playwright.sync_api import expect


def test_a_session_that_ends_stands_in_the_log_is_found_and_made_again(page, address, accessible):
    page.goto(f"{address}/home")
    page.get_by_role("link", name="Butterfish").first.click()
    page.get_by_role("button", name="All of it is in, on").click()
    expect(page.locator(".bench-words")).to_have_text("Pour Rav Honning")
    page.get_by_role("button", name="All of it is in, on").click()
    expect(page.locator(".bench-words")).to_contain_text("coat 1 of 2")
    page.get_by_role("button", name="I have read it").click()
    page.locator(".bench-next").click()
    expect(page.locator(".bench-words")).to_contain_text("coat 2 of 2")
    page.get_by_text("End it here").click()
    page.get_by_role("button", name="End the session").click()

    expect(page.locator("h1")).to_have_text("61. Butterfish")
    expect(page.locator(".log-used")).to_contain_text("Rav Honning")
    accessible()
    page.get_by_label("Who for").fill("Boathouse at the point")
    page.get_by_label("Who for").blur()
    expect(page.locator(".count-line").first).to_contain_text("for Boathouse at the point")
    page.get_by_label("What happened").select_option("tacky")
    page.locator("input[name=note]").last.fill("two days on")
    page.get_by_role("button", name="Add it").click()
    expect(page.locator(".log-faults")).to_contain_text("it stayed tacky")

    page.goto(f"{address}/log")
    page.locator("#find").fill("boathouse tacky")
    expect(page.locator(".log-wall > li")).to_have_count(1)
    page.locator(".log-wall a").click()
    page.get_by_role("link", name="Again").click()
    page.get_by_label("Baits").fill("3")
    page.get_by_role("button", name="Make it an order").click()
    page.wait_for_url(re.compile(r"/orders/\d+"))
    expect(page.locator("h1")).to_contain_text("Butterfish")
    expect(page.get_by_label("Customer")).to_have_value("Boathouse at the point")

    page.goto(f"{address}/plan/6")
    expect(page.locator(".findings")).to_contain_text("Entry 61 of the log: it stayed tacky")


def test_a_customers_file_opens_by_itself(page, address, tmp_path):
    page.goto(f"{address}/log/14/card")
    with page.expect_download() as download:
        page.get_by_role("link", name="As a file").click()
    file = tmp_path / "bait.html"
    download.value.save_as(file)
    told = file.read_text(encoding="utf-8")
    assert "<script" not in told
    assert "data:image/png;base64," in told
