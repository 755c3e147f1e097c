"""A phone at the bench with nobody to answer it: nothing is lost, and all is counted once, in the order of the hand."""

import re

import pytest
from phone_at_bench import HALF_DONE, PHONE, go_to, levels, read_cautions, serve, session, stop, until, words
from playwright.sync_api import expect

from diachrom import clock
from diachrom.core.session.events import Event
from diachrom.store.sessions import events
from diachrom.work.bench import sessions
from diachrom.work.kit.opened import opened

GONE = ["net::ERR", "htmx:sendError", "htmx:afterRequest", "htmx:timeout", "Failed to fetch", "FetchEvent", "status of"]
LONG_AGO_S = 3000
KEEPS_NOTHING = "Object.defineProperty(window, 'indexedDB', {value: {open() { throw new Error('private'); }}})"


@pytest.fixture
def away(page, bench, refusals):
    """A phone at the session under way, whose server can be stopped and started again."""
    refusals += GONE
    page.set_viewport_size(PHONE)
    page.on("dialog", lambda dialog: dialog.accept())
    server, address = serve(bench)
    running = {"server": server}

    def goes():
        stop(running["server"])
        page.context.set_offline(True)

    def comes_back():
        page.context.set_offline(False)
        running["server"], _ = serve(bench, int(address.rsplit(":", 1)[1]))

    page.goto(f"{address}/bench/{HALF_DONE}")
    until(page, "navigator.serviceWorker.ready.then(() => true)")
    until(page, "caches.open('diachrom-pages').then((one) => one.match('/bench/under-way')).then((one) => !!one)")
    until(page, "import('/static/kit/waiting.js').then((one) => one.every('ahead')).then((all) => all.length > 0)")
    yield address, goes, comes_back
    stop(running["server"])


def waiting(page):
    return page.locator("#presses-count")


def test_a_session_to_its_end_with_nobody_there(page, bench, away):
    address, goes, comes_back = away
    before = levels(bench)
    go_to(page, "left side")
    goes()

    # A run, a difference, and on: the next steps are there as they will be.
    page.get_by_text("Something went wrong", exact=True).click()
    page.get_by_label("What happened").select_option("run")
    page.get_by_label("Or where, in words").select_option(index=1)
    page.get_by_role("button", name="What now?").first.click()
    expect(waiting(page)).to_have_text("Presses that wait: 1")
    expect(page.locator(".bench-told")).to_contain_text("a run")
    page.get_by_text("Something was different").click()
    page.get_by_label("How many coats").fill("3")
    page.get_by_role("button", name="Keep it").first.click()
    place = page.locator("#bench").get_attribute("data-step")
    page.locator(".bench-next").click()
    expect(page.locator("#bench")).not_to_have_attribute("data-step", place)
    expect(waiting(page)).to_have_text("Presses that wait: 3")

    # A reload, and a page that dies: what waits is there, and the session stands where it stood.
    here = words(page)
    page.reload()
    expect(page.locator(".bench-words")).to_have_text(here)
    expect(waiting(page)).to_have_text("Presses that wait: 3")
    other = page.context.new_page()
    other.set_viewport_size(PHONE)
    other.goto(f"{address}/")  # from its icon: to the session under way
    expect(other.locator(".bench-words")).to_have_text(here)
    other.close()
    page.goto(f"{address}/bench/{HALF_DONE}")

    # The wrong bottle into the cup that is sprayed from, a splatter, and to the end.
    page.get_by_text("Wrong drops in the cup").click()
    page.locator("#bench-bottles").get_by_label("Drops").fill("2")
    page.get_by_role("button", name="What now?").last.click()
    page.get_by_text("Something went wrong", exact=True).click()
    page.get_by_label("What happened").select_option("splatter")
    page.get_by_role("button", name="What now?").first.click()
    expect(page.locator(".bench-told")).to_contain_text("a splatter")
    while page.locator(".bench-next").count():
        read_cautions(page)
        place = page.locator("#bench").get_attribute("data-step")
        every = page.get_by_role("button", name="All of it is in, on")
        (every if every.count() else page.locator(".bench-next")).click()
        expect(page.locator("#bench")).not_to_have_attribute("data-step", place)
    expect(page.locator(".bench-words")).to_have_text("Every step is done.")
    page.get_by_role("button", name="End the session").click()
    expect(page.locator(".bench-told")).to_contain_text("The session has ended")
    seq = session(bench).seq

    comes_back()
    page.wait_for_url(re.compile(r"/log/\d+"), timeout=60_000)
    own = session(bench)
    assert own.ended
    assert own.state.position == len(own.state.run(own.script))
    assert [one.what for one in own.state.slips] == ["run", "wrong-drops", "splatter"]
    assert [(one.what, one.value) for one in own.state.different] == [("coats", "3")]
    with opened(bench) as store:
        happened = events(store, HALF_DONE)[seq:]
    assert [one.at for one in happened] == sorted(one.at for one in happened)
    assert happened[-1].at - happened[0].at > 1  # each at its own time, not when somebody answered
    assert sum(before.values()) - sum(levels(bench).values()) > 0.1
    expect(page.locator("body")).to_contain_text("splatter")


def test_two_phones_at_the_same_step_do_it_once_and_the_other_is_told(page, bench, away):
    _, goes, comes_back = away
    before = session(bench).state.position
    goes()
    read_cautions(page)
    page.get_by_role("button", name="All of it is in, on").click()
    expect(waiting(page)).to_have_text("Presses that wait: 1")
    at = clock.monotonic_epoch()
    with opened(bench) as store:  # meanwhile, on another device
        own = sessions.session(store, HALF_DONE)
        for caution in own.state.here(own.script).cautions:
            sessions.record_event(store, HALF_DONE, Event("agree", at, what=caution), at=clock.iso(at))
        done = Event("next", at, step=own.state.here(own.script).key, value="all")
        sessions.record_event(store, HALF_DONE, done, at=clock.iso(at))
    comes_back()
    expect(page.locator("#presses-refused")).to_contain_text("The session has gone on", timeout=60_000)
    assert session(bench).state.position == before + 1
    page.get_by_role("button", name="Close").click()
    expect(page.locator("#presses")).to_be_hidden()


def test_what_waits_is_sent_from_any_page_and_leaving_is_warned_of(page, bench, away):
    address, goes, comes_back = away
    drops = sum(session(bench).state.drops["2:make"].values())
    goes()
    page.keyboard.press(" ")
    expect(waiting(page)).to_have_text("Presses that wait: 1")
    warned = []
    page.once("dialog", lambda dialog: warned.append(dialog.type))
    comes_back_later = page.context.new_page()
    page.locator("body").click(position={"x": 2, "y": 2})
    page.close(run_before_unload=True)
    comes_back_later.wait_for_timeout(300)
    assert warned == ["beforeunload"]
    comes_back()
    comes_back_later.goto(f"{address}/shelf")
    expect(comes_back_later.locator("#presses")).to_be_hidden()
    until(
        comes_back_later,
        "import('/static/kit/waiting.js').then((one) => one.every('presses')).then((all) => all.length === 0)",
    )
    assert sum(session(bench).state.drops["2:make"].values()) == drops + 1


def test_a_browser_that_keeps_nothing_says_so_and_still_counts(page, bench, refusals):
    refusals += GONE
    page.set_viewport_size(PHONE)
    page.add_init_script(KEEPS_NOTHING)
    server, address = serve(bench)
    try:
        page.goto(f"{address}/bench/{HALF_DONE}")
        drops = sum(session(bench).state.drops["2:make"].values())
        page.context.set_offline(True)
        page.keyboard.press(" ")
        expect(page.locator("#presses-kept")).to_contain_text("keeps nothing")
        page.context.set_offline(False)
        expect(page.locator("#presses")).to_be_hidden()
        assert sum(session(bench).state.drops["2:make"].values()) == drops + 1
        page.get_by_text("On this device").click()
        expect(page.get_by_text("This browser keeps nothing, as in a private window")).to_be_visible()
    finally:
        stop(server)


@pytest.mark.parametrize(("theme", "least"), [("day", 44), ("booth", 56)])
@pytest.mark.parametrize("size", [(390, 844), (844, 390)])
def test_a_glove_meets_every_press_of_the_bench(page, address, theme, least, size):
    page.set_viewport_size({"width": size[0], "height": size[1]})
    page.context.add_cookies([{"name": "theme", "value": theme, "url": address}])
    page.goto(f"{address}/bench/{HALF_DONE}")
    for one in page.locator(".at-bench details > summary").all():
        one.click()
    expect(page.locator("#bench-bottles select").first).to_be_visible()
    small = page.evaluate(
        """(least) => [...document.querySelectorAll('.at-bench :is(button, a, select, summary, input)')]
            .filter((one) => one.type !== 'hidden' && one.offsetParent)
            .map((one) => [one.outerHTML.slice(0, 80), one.getBoundingClientRect()])
            .filter(([, box]) => box.height < least - 0.5 || box.width < 43.5)
            .map(([html, box]) => `${html} ${box.width} x ${box.height}`)""",
        least,
    )
    assert not small, "\n".join(small)
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_what_dries_is_on_the_rail_of_every_page_and_its_bell_rings_there(page, bench, address):
    page.add_init_script("navigator.vibrate = (how) => { (window.rung ??= []).push(how); return true; };")
    page.goto(f"{address}/shelf")
    expect(page.locator("#rail-timers a")).to_have_count(0)
    now = clock.monotonic_epoch()
    with opened(bench) as store:
        own = sessions.session(store, HALF_DONE)
        while not own.state.timers:
            here = own.state.here(own.script)
            # What dries was done long ago, and is dry in a moment; what does not, before that.
            ends = now - here.dries_s + 4 if here.dries_s else now - LONG_AGO_S
            for caution in here.cautions:
                own = sessions.record_event(store, HALF_DONE, Event("agree", ends, what=caution), at=clock.iso(ends))
            done = Event("next", ends, step=here.key, value="all")
            own = sessions.record_event(store, HALF_DONE, done, at=clock.iso(ends))
    page.goto(f"{address}/recipes")
    row = page.locator("#rail-timers a").first
    expect(row).to_contain_text("dry")
    until(page, "window.rung?.length === 1")
    page.goto(f"{address}/plan")  # it rang on another page already
    expect(page.locator("#rail-timers a").first).to_contain_text("dry")
    assert page.evaluate("window.rung") is None
    row.click()
    expect(page.locator("#bench")).to_be_visible()
