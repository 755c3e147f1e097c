"""A scale at the bench's serial line, through the pages: drops, a powder, what is left, two-part clear."""

import pytest
from playwright.sync_api import expect
from serial_line import SerialLine

from diachrom.store import bottles
from diachrom.store.connection import connected
from diachrom.store.migrate import migrate
from diachrom.web.server import running


def test_the_scale_is_connected_read_where_grams_are_asked_for_and_pulled_out(page, tmp_path, refusals):
    refusals.append(422)
    migrate(tmp_path)
    with SerialLine() as line, running(tmp_path) as address:
        page.goto(f"{address}/settings#devices")
        expect(page.locator("main")).to_contain_text("Its manual says how it is set so.")
        assert page.locator("#device-scale").count() == 0
        page.get_by_label("The scale's serial line").fill(line.port)
        line.send("ST,GS,+00048.10  g\r\n")
        page.locator("form[action='/settings/devices'] button").click()
        scale = page.locator("#device-scale")
        expect(scale).to_contain_text("48.10 g")
        expect(scale).not_to_contain_text("simulated")
        expect(scale.get_by_role("button", name="Unplug")).to_have_count(0)

        page.goto(f"{address}/shelf/start")
        page.locator("#bottles").fill("Olive green, 60 ml, opaque")
        page.get_by_role("button", name="Read my list").click()
        page.get_by_role("button", name="Put").first.click()
        expect(page.locator("main")).to_contain_text("on the shelf")
        with connected(tmp_path) as store:
            number = next(one.id for one in bottles.every(store) if "live" in one.name)
        page.goto(f"{address}/bottles/{number}")
        form = page.locator("form", has=page.get_by_label("The whole bottle, g"))
        form.get_by_role("button", name="From the scale").click()
        expect(form.get_by_label("The whole bottle, g")).to_have_value("48.1")
        form.get_by_label("An empty one, g").fill("13.2")
        form.get_by_role("button", name="Use the weight").click()
        expect(page.locator(".ledger")).to_contain_text("corrected")
        with connected(tmp_path) as store:
            left = bottles.one(store, number).left_ml
        assert 25 < left < 34.9

        page.goto(f"{address}/bottles/{number}/drops")
        expect(page.get_by_role("button", name="Drip them")).to_have_count(0)
        page.locator("#device-scale").get_by_role("button", name="Tare").click()
        expect(page.locator("#device-scale")).to_contain_text("0.00 g")
        line.send("ST,GS,+00049.10  g\r\n")
        page.get_by_role("button", name="Weigh", exact=True).click()
        expect(page.locator("main")).to_contain_text("1.00 g on the scale")

        line.send("\x13\x7f rubbish\r\n")
        page.get_by_role("button", name="Weigh", exact=True).click()
        expect(page.locator("main")).to_contain_text("cannot be read")
        line.pull()
        page.get_by_role("button", name="Weigh", exact=True).click()
        expect(page.locator("main")).to_contain_text("is unplugged. What was read before is kept")
        line.plug()
        line.send("ST,GS,+00050.30  g\r\n")
        page.reload()
        expect(page.locator("main")).to_contain_text("1.00 g on the scale")
        page.locator("#device-scale").get_by_role("button", name="Tare").click()  # it is back at its own zero
        expect(page.locator("#device-scale")).to_contain_text("0.00 g")
        line.send("ST,GS,+00051.40  g\r\n")
        page.get_by_role("button", name="Weigh", exact=True).click()
        expect(page.locator("main")).to_contain_text("1.10 g on the scale")


@pytest.mark.parametrize("path", ["/mist", "/foil", "/match", "/pour", "/finish", "/test-cards"])
def test_on_ones_own_bench_nothing_pretends_until_it_is_asked_to(page, tmp_path, path):
    migrate(tmp_path)
    with running(tmp_path) as address:
        page.goto(f"{address}{path}")
        for one in page.get_by_text("simulated").all():
            assert not one.is_visible() or "try a simulated one" in one.inner_text().lower()
        page.goto(f"{address}/settings")
        page.locator("[name=simulated]").select_option("yes")
        page.locator("form[action='/settings/devices'] button").click()
        expect(page.locator("#device-scale")).to_contain_text("simulated")
