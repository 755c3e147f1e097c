"""The bait painted by hand in a real browser: paints chosen by their look, marks set, stencils dragged, masks that stay
on; by mouse, by touch and by keys."""

import json
import re

import pytest
from plan.looking import changing, looked, on_a_phone, shown
from plan.test_strokes_in_browser import draw
from playwright.sync_api import expect


@pytest.fixture
def begun(page, address):
    """An empty bait, primed white."""
    page.goto(f"{address}/plan/blanks")
    page.get_by_role("button", name="Begin the plan").click()
    shown(page)
    return page


def document(page):
    """The plan as its file says."""
    number = page.locator("#bait").get_attribute("data-plan")
    return json.loads(page.request.get(page.url.split("/plan/")[0] + f"/plan/{number}/document.json").body())


def layers(page):
    return document(page)["layers"]


def tool(page, name):
    page.get_by_role("button", name=name, exact=True).click()


def add(page, *, source="", what=""):
    """A layer more, by its form."""
    count = int(page.locator("#plan").get_attribute("data-layers"))
    if source:
        page.locator("#add-source").select_option(source)
    if what:
        page.locator("#add-what").select_option(what)
    page.get_by_role("button", name="Add layer", exact=True).click()
    expect(page.locator("#plan")).to_have_attribute("data-layers", str(count + 1))
    shown(page)


def lying(page):
    """Wait until what can be dragged has come."""
    revision = page.locator("#plan").get_attribute("data-revision")
    expect(page.locator("#bait")).to_have_attribute("data-lies", re.compile(f"^{revision}:"))


def test_a_bait_is_painted_from_nothing_without_a_form(begun):
    """Two presses a layer: a paint by its look, and a stroke."""
    page, presses = begun, 1
    page.get_by_text("Choose by how it looks here").click()
    expect(page.locator(".look")).not_to_have_count(0)
    wanted = ("torv-mose", "rav-honning", "torv-sot", "torv-kritt")
    for at, key in enumerate(wanted):
        page.locator(f"[data-look-of='{key}']").click()
        expect(page.get_by_role("button", name="Airbrush", exact=True)).to_have_attribute("aria-pressed", "true")
        draw(page, (0.35, 0.42 + 0.04 * at), (0.7, 0.44 + 0.04 * at))
        presses += 2
        expect(page.locator("#plan")).to_have_attribute("data-layers", str(at + 1))
    assert [one["source"] for one in layers(page)] == list(wanted)
    assert presses <= 0.5 * 5.5 * len(wanted)  # by forms it took 65 to 74 for twelve
    before = layers(page)
    page.reload()
    shown(page)
    assert layers(page) == before


def test_a_mark_is_set_dragged_and_moved_by_keys(begun):
    page = begun
    page.locator("#add-source").select_option("torv-sot")
    tool(page, "Mark")
    draw(page, (0.5, 0.5))
    expect(page.locator(".layer")).to_contain_text("1 mark on each side")
    shown(page)
    ((u, v, _),) = layers(page)[0]["strokes"][0]["points"]
    tool(page, "Place")
    lying(page)
    with changing(page):
        draw(page, (0.5, 0.5), (0.6, 0.5))
    ((moved, low, _),) = layers(page)[0]["strokes"][0]["points"]
    assert moved > u + 0.05
    assert low == pytest.approx(v, abs=0.03)
    lying(page)
    page.locator("#bait").focus()
    with changing(page):
        page.keyboard.press("Shift+ArrowRight")
    ((by_keys, _, _),) = layers(page)[0]["strokes"][0]["points"]
    assert (by_keys - moved) * 110 == pytest.approx(5, abs=0.2)
    tool(page, "Turn")
    for _ in range(2):
        with changing(page):
            page.get_by_role("button", name="Undo", exact=True).click()
    assert layers(page)[0]["strokes"][0]["points"][0][0] == pytest.approx(u)


def test_a_mark_and_a_straight_stroke_are_set_by_keys_alone(begun):
    page = begun
    page.locator("#add-source").select_option("torv-sot")
    tool(page, "Mark")
    page.locator("#bait").focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    expect(page.locator(".layer")).to_contain_text("1 mark on each side")
    shown(page)
    tool(page, "Airbrush")
    page.locator("#bait").focus()
    page.keyboard.press("Enter")
    for _ in range(4):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Enter")
    expect(page.locator(".layer")).to_contain_text("1 stroke by hand, 1 mark on each side")
    (u0, _, _), (u1, _, seconds) = layers(page)[0]["strokes"][1]["points"]
    assert (u1 - u0) * 110 == pytest.approx(20, abs=0.5)
    assert seconds == pytest.approx(0.5, abs=0.1)


def test_marks_are_strewn_counted_and_get_a_spot_each(begun):
    page = begun
    add(page, source="torv-kritt")
    page.get_by_text("Lay it by hand", exact=True).click()
    page.get_by_text("Many marks at once", exact=True).click()
    page.get_by_label("the midline").check()
    page.get_by_role("button", name="Strew them over its region").click()
    expect(page.locator(".layer")).to_contain_text(re.compile(r"\d+ marks on each side"))
    page.locator("#again-source").select_option("torv-sot")
    page.get_by_role("button", name="Set spots on them").click()
    expect(page.locator("#plan")).to_have_attribute("data-layers", "2")
    pale, dark = (one["strokes"][0] for one in layers(page))
    assert pale["points"] == dark["points"]
    assert dark["size_mm"] == pytest.approx(0.55 * pale["size_mm"])


def test_a_stencil_lies_at_the_gill_is_dragged_turned_and_sized(begun):
    page = begun
    add(page, source="torv-tang")
    page.locator("#edit-kind").select_option("stencil")
    expect(page.locator("#edit-stencil")).to_be_visible()
    page.locator("#edit-stencil").select_option("gill-plate")
    expect(page.locator("#edit-anchor")).to_have_value("gill")
    shown(page)
    tool(page, "Place")
    lying(page)
    # In its middle, as the page has it.
    at = page.evaluate("async () => (await (await fetch(location.pathname + '/layers/1/lies')).json())")
    nose, long = 0.123, 0.837  # of the picture: its bill stands before the nose
    x = nose + long * at["at"][0] - 0.02
    with changing(page):
        draw(page, (x, 0.5), (x + 0.12, 0.5))
    mask = layers(page)[0]["through"]
    assert mask["along_mm"] == pytest.approx(0.12 / long * 110, rel=0.3)
    lying(page)
    page.locator("#bait").focus()
    with changing(page):
        page.keyboard.press(".")
    assert layers(page)[0]["through"]["angle_deg"] == 5
    with changing(page):
        page.keyboard.press("PageUp")
    assert layers(page)[0]["through"]["size_mm"] == pytest.approx(1.05 * mask["size_mm"], abs=0.02)


def test_a_stencil_is_drawn_on_the_picture_and_kept(begun):
    page = begun
    add(page, source="torv-sot")
    open_ = looked(page)[0].mean()
    tool(page, "Draw a stencil")
    draw(page, (0.4, 0.44), (0.6, 0.44), (0.6, 0.52), (0.4, 0.52), (0.4, 0.45))
    expect(page.locator("#said")).to_contain_text("among my stencils")
    shown(page)
    tool(page, "Turn")
    mask = layers(page)[0]["through"]
    assert mask["stencil"].startswith("own:")
    assert mask["size_mm"] == pytest.approx(0.2 / 0.84 * 110, rel=0.2)
    assert looked(page)[0].mean() > open_ + 5  # black only where it was open


def test_a_net_stays_on_over_three_layers_and_paper_schedule_and_bench_show_it(begun):
    page = begun
    page.get_by_label("Name").fill("Netted perch")
    page.get_by_label("Name").press("Enter")
    add(page, source="torv-kritt")
    add(page, what="mask")
    expect(page.locator("#editor h2")).to_contain_text("Put on: netting")
    for source in ("rav-nype", "rav-siv", "torv-sot"):
        add(page, source=source)
    assert page.locator(".layer.masked").count() == 3
    add(page, what="unmask")
    add(page, what="clear")
    assert [one["what"] for one in layers(page)] == ["paint", "mask", "paint", "paint", "paint", "unmask", "clear"]
    expect(page.locator("#checks")).not_to_contain_text("A mask left on")
    page.locator("#layer-3 a").click()
    expect(page.locator("#editor")).to_contain_text("On the bait meanwhile: Netting")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator("#said")).to_contain_text("version 1")
    number = page.locator("#bait").get_attribute("data-plan")
    root = page.url.split("/plan/")[0]
    page.goto(f"{root}/plan/{number}/print")
    expect(page.locator(".paper-layers")).to_contain_text("Put on: netting")
    expect(page.locator(".paper-layers")).to_contain_text("Take off: netting")
    page.goto(f"{root}/orders/bench?plan={number}")
    body = page.request.post(f"{root}/bench", form={"plan": number}, headers={"Origin": root})
    assert body.status in (200, 303, 404, 422)


def test_where_it_is_sprayed_from_is_turned_beside_the_bait(page, address):
    page.goto(f"{address}/plan/1?layer=2")
    shown(page)
    dial = page.get_by_role("slider", name="Sprayed from")
    expect(dial).to_have_attribute("aria-valuetext", "straight down the back")
    dial.focus()
    page.keyboard.press("ArrowRight")
    expect(page.locator(".layer.picked")).to_contain_text("from above and aside")
    box = dial.bounding_box()
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] - 6)
    expect(page.locator(".layer.picked")).to_contain_text("from below")
    page.locator("#at-coats").fill("4")
    page.locator("#at-coats").press("Enter")
    expect(page.locator(".layer.picked")).to_contain_text("four light coats")


def test_edges_are_typed_in_mm_inches_and_percent(page, address):
    page.goto(f"{address}/plan/1?layer=3")
    shown(page)
    page.get_by_text("More figures").click()
    for name, text in (("nose_from", "22 mm"), ("nose_to", "3 in"), ("spine_from", "10 %"), ("spine_to", "50 %")):
        page.locator(f"#edit-{name}").fill(text)
    with changing(page):
        page.get_by_role("button", name="Set the edges").click()
    expect(page.locator(".layer.picked")).to_contain_text("edges moved")
    box = layers(page)[2]["box"]
    assert [box[key] for key in ("u0", "u1", "v0", "v1")] == pytest.approx([0.2, 76.2 / 110, 0.05, 0.25], abs=0.002)


def test_by_touch_marks_are_tapped_and_a_stroke_goes_from_press_to_press(browser, address):
    with on_a_phone(browser, address) as page:
        page.get_by_role("button", name="Straight: two presses").tap()
        for count, (tool, places) in enumerate((("", (0.4, 0.6)), ("Mark", (0.5,)))):
            if tool:
                page.get_by_role("button", name=tool, exact=True).tap()
            page.locator("#bait").scroll_into_view_if_needed()
            box = page.locator("#bait").bounding_box()
            for u in places:
                page.touchscreen.tap(box["x"] + u * box["width"], box["y"] + box["height"] / 2)
            told = "1 stroke by hand, 1 mark on each side" if count else "1 stroke by hand"
            expect(page.locator(".layer")).to_contain_text(told)


PEN = """(pressure) => {
  const bait = document.getElementById("bait"), box = bait.getBoundingClientRect();
  const at = (kind, u) => {
    const event = new PointerEvent(kind, { bubbles: true, isPrimary: true, pointerId: 1,
      pointerType: "pen", pressure, clientX: box.left + u * box.width, clientY: box.top + box.height / 2 });
    bait.dispatchEvent(event);
    return event.timeStamp;
  };
  bait.setPointerCapture = () => {};
  return new Promise((done) => {
    const began = at("pointerdown", 0.4);
    let u = 0.4;
    const step = setInterval(() => {
      u += 0.02;
      at("pointermove", u);
      if (u > 0.6) { clearInterval(step); done((at("pointerup", u) - began) / 1000); }
    }, 40);
  });
}"""


def test_a_pen_that_is_pressed_harder_lays_more(begun):
    page, laid = begun, []
    page.locator("#add-source").select_option("torv-sot")
    tool(page, "Airbrush")
    for count, pressure in enumerate((0.25, 1.0), start=1):
        took = page.evaluate(PEN, pressure)
        expect(page.locator(".layer")).to_contain_text("1 stroke" if count == 1 else "2 strokes")
        shown(page)
        laid.append(layers(page)[0]["strokes"][-1]["points"][-1][2] / took)
    assert laid[1] > 2.5 * laid[0]


def test_two_fingers_come_nearer_whatever_the_tool_and_lay_nothing(browser, address):
    with on_a_phone(browser, address) as page:
        _, there = looked(page)
        box = page.locator("#bait").bounding_box()
        middle = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        fingers = page.context.new_cdp_session(page)

        def touch(kind, apart):
            points = [{"x": middle[0] + side * apart, "y": middle[1], "id": at} for at, side in enumerate((-1, 1))]
            given = {"type": kind, "touchPoints": [] if kind == "touchEnd" else points}
            fingers.send("Input.dispatchTouchEvent", given)

        touch("touchStart", 30)
        for apart in (40, 60, 80):
            touch("touchMove", apart)
        touch("touchEnd", 0)
        _, nearer = looked(page)
        assert nearer.sum() > 1.5 * there.sum()
        expect(page.locator("#plan")).to_have_attribute("data-layers", "0")


def test_two_tabs_draw_on_one_layer_and_both_strokes_stay(begun):
    page = begun
    add(page, source="torv-sot")
    other = page.context.new_page()
    other.goto(f"{page.url.split('?')[0]}?layer=1")
    for one, height in ((page, 0.46), (other, 0.52)):
        if one is other:
            shown(one)
        tool(one, "Airbrush")
        draw(one, (0.4, height), (0.6, height))
        expect(one.locator(".layer")).to_contain_text("by hand")
    assert len(layers(page)[0]["strokes"]) == 2
    other.close()


def test_a_line_is_practised_and_judged(page, address):
    page.goto(f"{address}/plan/practice")
    box = page.locator("#card").bounding_box()
    y = box["y"] + box["height"] / 2
    page.mouse.move(box["x"] + 0.05 * box["width"], y)
    page.mouse.down()
    page.mouse.move(box["x"] + 0.95 * box["width"], y, steps=40)
    page.mouse.up()
    expect(page.locator(".practice-verdict")).to_contain_text("of it met")
    page.get_by_role("button", name="A clean card").click()
    expect(page.locator(".practice-verdict")).to_have_count(0)
    page.get_by_text("Type a stroke instead").click()
    page.get_by_role("button", name="Spray it").click()
    expect(page.locator(".practice-verdict")).to_have_attribute("data-verdict", "even")


def test_a_tool_of_the_bench_gives_a_layer_its_figures_and_one_that_is_gone_is_told(page, address):
    page.goto(f"{address}/plan/tools")
    page.get_by_label("Name").fill("Lemon net")
    page.locator("#edit-size_mm").fill("5")
    page.locator("#edit-gap_mm").fill("0.9")
    page.get_by_role("button", name="Keep it").click()
    expect(page.locator(".tool-list")).to_contain_text("Lemon net")
    expect(page.locator(".tool-list")).to_contain_text("thread to thread 5 mm, thread 0.9 mm")
    page.goto(f"{address}/plan/1?layer=3")
    shown(page)
    page.locator("#edit-tool").select_option(label="Lemon net")
    with changing(page):
        page.get_by_role("button", name="Use it").click()
    expect(page.locator("#edit-size_mm")).to_have_value("5")
    assert layers(page)[2]["through"]["size_mm"] == pytest.approx(5 * 2**0.5)
    page.goto(f"{address}/plan/tools")
    page.get_by_role("button", name="Remove Lemon net").click()
    expect(page.locator(".tool-list")).not_to_contain_text("Lemon net")
    page.goto(f"{address}/plan/1?layer=3")
    expect(page.locator("#editor")).to_contain_text("Its tool is no longer among my tools")


def test_a_part_is_stuck_on_where_it_belongs(begun):
    page = begun
    picture = page.url.split("?")[0] + "/picture.png?side=back"
    bare = page.request.get(picture).body()
    add(page, what="part")
    expect(page.locator("#editor h2")).to_contain_text("A part of")
    assert page.request.get(picture).body() != bare
    assert layers(page)[0]["through"]["anchor"] == "back"
