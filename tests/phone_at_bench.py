"""A browser at a bench session, and a server that can be stopped under it."""

import re
import subprocess
import sys
import time

import httpx2
from playwright.sync_api import expect

from diachrom.store import bottles
from diachrom.work.bench import sessions
from diachrom.work.kit.opened import opened

PHONE = {"width": 390, "height": 844}
HALF_DONE = 1  # the demo's session


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
    server.wait()
    server.stdout.close()


def words(page):
    return page.locator(".bench-words").inner_text()


def read_cautions(page):
    while page.get_by_role("button", name="I have read it").count():
        count = page.locator(".bench-caution").count()
        page.get_by_role("button", name="I have read it").first.click()
        expect(page.locator(".bench-caution")).to_have_count(count - 1)


def go_on(page):
    """One step: what is to be poured is in."""
    read_cautions(page)
    place = page.locator("#bench").get_attribute("data-step")
    every = page.get_by_role("button", name="All of it is in, on")
    (every if every.count() else page.locator(".bench-next")).click()
    expect(page.locator("#bench")).not_to_have_attribute("data-step", place)


def go_to(page, wanted):
    while wanted not in words(page):
        go_on(page)
    read_cautions(page)


def still_to_fall(page):
    """Drops that are drawn as not fallen yet."""
    return page.locator(".bench-beads .bead-dashed")


def levels(folder):
    with opened(folder) as store:
        return {one.id: one.left_ml for one in bottles.every(store)}


def session(folder, number=HALF_DONE):
    with opened(folder) as store:
        return sessions.session(store, number)


def until(page, script):
    """Wait until a script says so."""
    end = time.monotonic() + 60
    while not page.evaluate(script):
        assert time.monotonic() < end, script
        page.wait_for_timeout(50)
