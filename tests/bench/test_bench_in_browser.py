"""The bench as a painter stands at it: on a phone, in the booth's theme, with the server killed between two drops."""

import re
import subprocess
import sys
import time

import httpx2
from playwright.sync_api import expect

from diachrom.core.schedule.search import solve
from diachrom.work.kit.opened import opened
from diachrom.work.orders import orders, scheduling
from diachrom.work.orders.todo import to_do

AT = "2026-11-26T18:00:00+00:00"


def serve(folder, port=0):
    """A server of its own, which can be killed; its address."""
    command = [sys.executable, "-m", "diachrom", "--data", str(folder), "serve", "--port", str(port)]
    server = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)
    address = re.search(r"http://\S+", server.stdout.readline())[0].rstrip("/")
    while True:  # it says where it will listen before it does
        try:
            httpx2.get(f"{address}/bench", timeout=30)
            return server, address
        except httpx2.TransportError:
            assert server.poll() is None
            time.sleep(0.05)


def stop(server):
    server.kill()
    server.communicate()


def planned(bench):
    with opened(bench) as store:
        order = orders.new_with(store, {"name": "Harbour shop"}, plan=1, baits=2, at=AT)
    with opened(bench) as store:
        wanted = to_do(store, order, at=AT)
        scheduling.keep(store, wanted, solve(wanted.work, lambda found: False))
    return order


def read_cautions(page):
    while page.get_by_role("button", name="I have read it").count():
        count = page.locator(".bench-caution").count()
        page.get_by_role("button", name="I have read it").first.click()
        expect(page.locator(".bench-caution")).to_have_count(count - 1)


def go_on(page):
    words = page.locator(".count-line").first.inner_text()
    page.locator(".bench-next").click()
    expect(page.locator(".count-line").first).not_to_have_text(words)


def test_a_session_goes_on_when_the_server_was_killed_between_two_drops(page, bench, refusals):
    refusals += ["net::ERR_CONNECTION", "htmx:sendError", "htmx:afterRequest"]
    order = planned(bench)
    server, address = serve(bench)
    try:
        page.set_viewport_size({"width": 390, "height": 844})
        page.goto(f"{address}/orders/{order}")
        page.get_by_role("button", name="To the bench").click()
        read_cautions(page)
        go_on(page)
        expect(page.locator(".bench-words")).to_contain_text("Mix Autumn char")
        drop = page.locator(".bench-drop").first
        wanted = int(page.locator(".bench-count b").first.inner_text())
        for at in (1, 2):
            drop.click()
            expect(page.locator(".bench-count b").first).to_have_text(str(wanted - at))

        stop(server)
        drop.click()  # nobody answers: it waits its turn in the page
        port = int(address.rsplit(":", 1)[1])
        server, again = serve(bench, port)
        assert again == address
        expect(page.locator(".bench-count b").first).to_have_text(str(wanted - 3), timeout=60_000)
        page.reload()
        expect(page.locator(".bench-count b").first).to_have_text(str(wanted - 3))
        expect(page.locator(".bench-beads").first).to_have_attribute("aria-label", f"3 of {wanted} drops fell")

        # On to the first coat: its timer goes on by the time of day, whatever the page does.
        while "coat 1" not in page.locator(".bench-words").inner_text():
            go_on(page)
            read_cautions(page)
        go_on(page)
        timer = page.locator("[data-timer]")
        expect(timer).to_have_count(1)
        ends = float(timer.get_attribute("data-ends"))
        assert 0 < ends - time.time() < 600
        page.reload()
        assert float(page.locator("[data-timer]").get_attribute("data-ends")) == ends
        expect(page.locator(".timer-left")).not_to_be_empty()

        # A slip, and what lies beneath says how it is mended.
        page.get_by_text("A slip", exact=True).click()
        page.get_by_label("What happened").select_option("run")
        page.get_by_role("button", name="What now?").click()
        expect(page.locator(".bench-ways li").first).to_be_visible()
        expect(page.locator(".plain-list")).to_contain_text("A run")
        page.keyboard.press(" ")
        expect(page.locator(".count-line").first).to_contain_text("step")
    finally:
        stop(server)
