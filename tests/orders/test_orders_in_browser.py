"""An order as a painter takes it on: seven for a Saturday, its time, a drag, a step done, the calendar."""

from datetime import datetime, timedelta
from pathlib import Path

import icalendar
from playwright.sync_api import expect


def planned(page):
    """Press it, and wait until the search is over."""
    page.locator("#schedule").get_by_role("button", name="Schedule", exact=True).click()
    expect(page.get_by_role("button", name="Schedule again")).to_be_visible()
    expect(page.locator(".lane").first).to_be_visible()


def saturday():
    today = datetime.now().astimezone().date()
    return today + timedelta(days=7 + (5 - today.weekday()) % 7)


def test_seven_for_saturday_from_taking_on_to_the_calendar(page, address, tmp_path, accessible):
    page.goto(f"{address}/orders")
    page.get_by_label("Customer").fill("Pier kiosk")
    page.get_by_label("Name").fill("Seven for Saturday")
    page.locator("[name=plan]").select_option(label="Autumn char")
    page.locator("[name=baits]").fill("7")
    page.get_by_label("Ready by, if it has a date").fill(f"{saturday().isoformat()}T18:00")
    page.get_by_role("button", name="Add order").click()
    expect(page.get_by_role("heading", name="Seven for Saturday")).to_be_visible()
    expect(page.locator("main")).to_contain_text("For Pier kiosk")
    expect(page.locator("#order-paint")).to_contain_text("Paint for 7 baits")
    planned(page)
    expect(page.locator(".order-figure")).to_contain_text("early, due Sat")
    expect(page.locator("#schedule")).to_contain_text("No other order of work is ready")
    accessible()

    # Its calendar, by another reader: each time at the bench, and when all is ready.
    page.locator(".more > summary").click()
    with page.expect_download() as kept:
        page.get_by_role("link", name="Calendar (ICS)").click()
    kept.value.save_as(tmp_path / "order.ics")
    events = list(icalendar.Calendar.from_ical(Path(tmp_path / "order.ics").read_bytes()).walk("VEVENT"))
    benches = [one for one in events if str(one["SUMMARY"]) == "At the bench: Seven for Saturday"]
    assert len(benches) == page.locator(".order-sessions > li").count()
    ready = next(one for one in events if str(one["SUMMARY"]) == "Ready: Seven for Saturday")
    assert ready.decoded("DTSTART").date() < saturday()
    page.keyboard.press("Escape")

    # A block is dragged an hour to the right: it is held there, and what becomes late is told.
    block = page.locator(".lane-block[data-block*='layer']").first
    key = block.get_attribute("data-block")
    box = block.locator("rect").bounding_box()
    lanes = page.locator(".lanes")
    hour = 60 * page.locator(".lane svg").first.bounding_box()["width"] / float(lanes.get_attribute("data-minutes"))
    middle = box["y"] + box["height"] / 2
    page.mouse.move(box["x"] + 4, middle)
    page.mouse.down()
    page.mouse.move(box["x"] + 4 + hour / 2, middle, steps=3)
    page.mouse.move(box["x"] + 4 + hour, middle, steps=3)
    page.mouse.up()
    # However its baits are put together from then on.
    pinned = f".pinned[data-block^='{key.rsplit(':', 1)[0]}:']"
    held = page.locator(pinned).first
    expect(held).to_be_visible()
    expect(page.locator("#schedule .said")).not_to_be_empty()

    # By keys as well: a quarter of an hour more.
    said = held.get_attribute("data-start")
    held.focus()
    page.keyboard.press("ArrowRight")
    expect(page.locator(pinned).first).not_to_have_attribute("data-start", said)
    page.get_by_role("button", name="Undo all dragging").click()
    expect(page.locator(".pinned")).to_have_count(0)
    expect(page.get_by_role("button", name="Schedule again")).to_be_visible()

    page.get_by_role("button", name="Done", exact=True).first.click()
    expect(page.locator(".session-rows .done").first).to_be_visible()
    page.get_by_role("button", name="not yet").first.click()
    expect(page.locator(".session-rows .done")).to_have_count(0)


def test_hours_that_end_before_they_begin_are_said_and_nothing_is_lost(page, address, refusals):
    refusals.append(422)
    page.goto(f"{address}/orders/bench")
    page.locator("[name=until-monday]").fill("17:00")
    page.get_by_label("Places on the rack").fill("9")
    page.get_by_role("button", name="Keep", exact=True).first.click()
    expect(page.locator("#said")).to_contain_text("Monday: the bench closes at 17:00 before it opens at 18:00")
    expect(page.get_by_label("Places on the rack")).to_have_value("9")
    page.locator("[name=until-monday]").fill("21:30")
    page.get_by_role("button", name="Keep", exact=True).first.click()
    expect(page.locator("#said")).to_be_empty()
    expect(page.locator("[name=until-monday]")).to_have_value("21:30")
    expect(page.get_by_label("Places on the rack")).to_have_value("9")


def test_an_empty_folder_leads_on_from_orders(page, tmp_path):
    from diachrom.store.migrate import migrate
    from diachrom.web.server import running

    migrate(tmp_path)
    with running(tmp_path) as address:
        page.goto(f"{address}/orders")
        expect(page.get_by_text("An order needs a plan, and there is none yet.")).to_be_visible()
        page.get_by_role("link", name="Begin one with a blank").click()
        expect(page).to_have_url(f"{address}/plan/blanks".replace("//plan", "/plan"))
