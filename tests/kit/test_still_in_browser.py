"""Buttons hold still while answers arrive: what was under the finger is there when it comes down."""

from playwright.sync_api import expect

TOP = "(one) => one.getBoundingClientRect().top + scrollY"
FIRST_INTO_THE_CUP = "() => document.querySelector('.alternative button').getBoundingClientRect().top + scrollY"


def test_no_button_of_match_moves_while_the_search_goes_on(page, address):
    page.goto(f"{address}/match")
    page.locator("input[name=typed]").fill("#c85a28")
    page.get_by_role("button", name="Match this colour").click()
    expect(page.locator(".target h2")).to_have_text("#c85a28")
    main = page.locator(".match-from summary").first
    before = main.evaluate(TOP)
    expect(page.locator("#match-reach circle").first).to_be_visible()
    assert abs(main.evaluate(TOP) - before) <= 1
    at = page.evaluate(FIRST_INTO_THE_CUP)
    expect(page.locator("#match-found")).not_to_contain_text("still looking")
    assert abs(main.evaluate(TOP) - before) <= 1
    assert abs(page.evaluate(FIRST_INTO_THE_CUP) - at) <= 1


def test_a_press_on_what_an_answer_under_way_takes_off_the_page_counts(page, address):
    page.goto(f"{address}/match")
    page.locator("input[name=typed]").fill("#c85a28")
    page.get_by_role("button", name="Match this colour").click()
    expect(page.locator("#match-found")).to_contain_text("cups tried")
    expect(page.locator("#match-found")).not_to_contain_text("still looking")
    held = []
    page.route("**/match/found", lambda route: held.append(route))
    page.evaluate(
        "() => void htmx.ajax('GET', '/match/found',"
        " {source: '#match-found', target: '#match-found', swap: 'morph:outerHTML'})"
    )
    while not held:
        page.wait_for_timeout(20)
    page.get_by_role("button", name="Into the cup").first.click()
    held[0].fulfill(content_type="text/html", body='<section id="match-found"><p>Nothing</p></section>')
    expect(page).to_have_url(f"{address}/mix")


def test_what_is_typed_before_the_page_listens_is_looked_for_all_the_same(page, still):
    page.route("**/vendor/htmx.min.js*", lambda route: (page.locator("#find").fill("rav nype"), route.continue_()))
    page.goto(f"{still}/shelf", wait_until="commit")
    expect(page.locator(".shelf-bottle")).to_have_count(2)


def test_a_press_before_the_page_listens_is_counted_once_it_does(page, address):
    held = []
    page.route("**/htmx.min.js*", lambda route: held.append(route))
    page.goto(f"{address}/mix", wait_until="commit")
    page.locator("#poured").click()
    expect(page.locator("#said")).to_have_text("")
    while not held:
        page.wait_for_timeout(20)
    held[0].continue_()
    expect(page.locator("#said")).to_contain_text("taken out of")


def test_no_button_of_the_scale_moves_when_it_is_plugged_in_tared_and_read(page, address):
    page.goto(f"{address}/bottles/22/drops")
    weigh = page.get_by_role("button", name="Weigh", exact=True)
    before = weigh.evaluate(TOP)
    page.get_by_role("button", name="Plug in").click()
    page.get_by_role("button", name="Tare").click()
    expect(page.locator(".device-shows")).to_contain_text("g")
    assert abs(weigh.evaluate(TOP) - before) <= 1
    page.get_by_role("button", name="Drip them").click()
    expect(page.locator(".device-state")).to_contain_text("stands still")
    weigh.click()
    expect(page.locator(".ledger tbody tr")).to_have_count(1)
    assert abs(weigh.evaluate(TOP) - before) <= 1


def test_a_press_whose_answer_was_lost_is_sent_again_and_counted_once_and_the_next_waits_its_turn(
    page, address, refusals
):
    refusals += ["net::ERR", "htmx:"]
    taps = []

    def lose_the_first(route):
        taps.append(route.request.headers["x-tap"])
        if len(taps) == 1:
            route.fetch()  # the server counts it; nobody hears of it
            route.abort()
        else:
            route.continue_()

    page.goto(f"{address}/mix")
    row = page.locator(".row-bottle").first
    before = int(row.locator(".count").input_value())
    page.route("**/mix/pour", lose_the_first)
    row.locator("[data-pour='1']").click()
    expect(page.locator("#said")).to_contain_text("Presses that wait: 1")
    row.locator("[data-pour='1']").click()
    expect(page.locator("#said")).to_have_text("")
    expect(row.locator(".count")).to_have_value(str(before + 2))
    page.unroute_all()
    page.reload()
    expect(row.locator(".count")).to_have_value(str(before + 2))
    assert taps[0] == taps[1] != taps[2]


def test_what_a_press_that_waited_is_answered_with_stays_to_be_read(page, address, refusals):
    refusals += ["net::ERR", "htmx:", 404]
    sent = []

    def lose_the_first_and_spoil_the_next(route):
        sent.append(route.request.url)
        if len(sent) == 1:
            route.abort()
        else:
            route.continue_(post_data="bottle=99999&drops=1")

    page.goto(f"{address}/mix")
    page.route("**/mix/pour", lose_the_first_and_spoil_the_next)
    page.locator(".row-bottle [data-pour='1']").first.click()
    expect(page.locator("#said")).to_contain_text("Presses that wait: 1")
    expect(page.locator("#said")).to_contain_text("99999")
    page.wait_for_timeout(300)
    expect(page.locator("#said")).to_contain_text("99999")
