"""A phone at another address of the server: paired by its code, it taps a drop, and is sent away again."""

import re

import pytest
from phone_at_bench import until
from playwright.sync_api import expect

from diachrom.web.server import running, server_for
from diachrom.work.access.auth import Auth

PHONE = {"viewport": {"width": 390, "height": 844}, "ignore_https_errors": True, "reduced_motion": "reduce"}


def shared_on_another_address(folder):
    server = server_for(folder)
    server.config.app.state.sharing.on = "127.0.0.2"
    return server


@pytest.fixture
def machine(bench):
    with running(bench, shared_on_another_address) as address:
        yield address


def test_a_phone_is_paired_taps_a_drop_and_is_sent_away(page, machine, browser, accessible):
    page.goto(f"{machine}/access")
    accessible()
    page.get_by_label("Passphrase, 8 characters or more").fill("four plain words here")
    page.get_by_role("button", name="Save the passphrase").click()
    page.get_by_label("Port").fill("0")
    page.get_by_label("By HTTPS").check()
    page.get_by_role("button", name="Share on this network").click()
    shared = page.locator("main .sentence b").inner_text()
    assert shared.startswith("https://127.0.0.2:")
    assert page.locator(".fingerprint").inner_text().count(":") == 31
    page.get_by_role("button", name="Pair a device").click()
    expect(page.locator(".pair-code svg")).to_be_visible()
    code = page.locator(".count-line", has_text="/pair/").inner_text()
    assert code.startswith(shared)

    context = browser.new_context(**PHONE)
    phone = context.new_page()
    phone.goto(f"{shared}/mix")
    expect(phone.get_by_role("heading", name="Diachrom")).to_be_visible()
    assert phone.url.endswith("/sign-in")
    phone.goto(code)
    phone.get_by_label("What this device is called").fill("Kari's phone")
    phone.get_by_role("button", name="Pair this device").click()
    phone.wait_for_url("**/home")
    phone.goto(f"{shared}/mix")
    more = phone.get_by_role("button", name=re.compile("^One drop of .* more$")).first
    beads = phone.locator("#string .bead")
    before = beads.count()
    more.click()
    expect(beads).to_have_count(before + 1)

    # It keeps the steps to come, and forgets them when it is sent away.
    phone.goto(f"{shared}/bench/1")
    kept = "import('/static/kit/waiting.js').then((one) => one.every('ahead')).then((all) => all.length)"
    until(phone, f"{kept}.then((count) => count === 1)")

    page.reload()
    page.goto(f"{machine}/access")
    expect(page.locator(".devices")).to_contain_text("Kari's phone")
    page.get_by_role("button", name="Send away").click()
    expect(page.locator("main")).to_contain_text("No device is paired yet.")
    phone.reload()
    phone.wait_for_url("**/sign-in")
    until(phone, f"{kept}.then((count) => count === 0)")
    context.close()
    page.get_by_role("button", name="Stop sharing").click()
    expect(page.get_by_role("button", name="Share on this network")).to_be_visible()


def test_where_an_address_is_set_this_machines_browsers_come_in_one_by_one(
    page, address, bench, browser, accessible, refusals
):
    refusals += [401, "net::ERR_FAILED"]  # of a page whose browser is not let in any more, and whose worker went
    page.goto(f"{address}/access")
    page.get_by_label("Address on printed codes").fill("https://bench.example")
    page.get_by_role("button", name="Save the address").click()
    expect(page.locator(".said")).to_contain_text("This browser is let in")
    expect(page.locator(".devices")).to_contain_text("a browser of this machine")
    accessible()
    context = browser.new_context(reduced_motion="reduce")
    other = context.new_page()
    other.goto(f"{address}/mix")
    expect(other.locator("main")).to_contain_text("Run diachrom open there")
    other.goto(f"{address}/pair/{Auth(bench).new_code(here=True)}")
    other.get_by_role("button", name="Pair this device").click()
    other.goto(f"{address}/access")
    expect(other.locator(".devices li")).to_have_count(2)
    context.close()
    page.get_by_role("button", name="Send away").first.click()
    expect(page.locator(".devices li")).to_have_count(1)


def test_a_customers_link_shows_its_picture_in_its_own_dress(page, address, bench):
    """Refused by our own policy they would be errors of the console, which fail every test."""
    page.goto(f"{address}/guest/{Auth(bench).link(14, at='2026-11-27T10:00:00+00:00')}")
    expect(page.locator("figure img")).to_be_visible()
    assert page.evaluate("document.images[0].naturalWidth") > 0
    assert page.evaluate("getComputedStyle(document.body).maxWidth") == "720px"
