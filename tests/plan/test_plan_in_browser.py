"""The plan driven as a painter drives it: from an empty blank to paper and back."""

import re

import pytest
from plan.looking import look, shown
from playwright.sync_api import expect

from diachrom.core.bait.shapes import SHAPES


def lay(page, source, **fields):
    """Add a layer of a paint, and set what differs from the usual; each field is sent as it is changed."""
    count = int(page.locator("#plan").get_attribute("data-layers"))
    page.locator("#add-source").select_option(source)
    page.get_by_role("button", name="Add layer", exact=True).click()
    expect(page.locator("#plan")).to_have_attribute("data-layers", str(count + 1))
    for name, value in fields.items():
        set_field(page, name, value)
    return shown(page)


def set_field(page, name, value):
    revision = page.locator("#plan").get_attribute("data-revision")
    field = page.locator(f"#edit-{name}")
    if not field.is_visible():
        page.get_by_text("More figures").click()
    if field.evaluate("(one) => one.tagName") == "SELECT":
        field.select_option(value)
    else:
        field.fill(value)
        field.press("Enter")
    expect(page.locator("#plan")).not_to_have_attribute("data-revision", revision)


def press(page, name, within=None):
    revision = page.locator("#plan").get_attribute("data-revision")
    (within or page).get_by_role("button", name=name, exact=True).click()
    expect(page.locator("#plan")).not_to_have_attribute("data-revision", revision)


def slide(page, name, value):
    page.locator(f"#{name}").evaluate(
        "(one, value) => { one.value = value; one.dispatchEvent(new Event('input', { bubbles: true })); }", value
    )


def test_a_bait_is_painted_from_an_empty_blank_to_paper_and_back(page, address):
    page.goto(f"{address}/plan")
    page.get_by_role("link", name="A new plan").click()
    page.locator("[value=minnow]").check(force=True)
    page.get_by_label("Name").fill("Harbour perch")
    page.get_by_label("Length").fill("4.33 in")
    page.get_by_label("State").select_option("foil-silver")
    page.get_by_label("Foil lies on").select_option("sides")
    page.get_by_role("button", name="Begin the plan").click()
    expect(page.locator("#plan .count-line")).to_contain_text("minnow, 110 mm")
    bare = shown(page)
    assert bare[0] > 10_000

    # White on the belly from below, yellow along the flank, green through a net, black on the spine.
    lay(page, "torv-kritt", region="belly", origin="below")
    yellow = lay(page, "rav-sitron", region="flank", origin="side")
    assert yellow[3] < bare[3] - 15
    green = lay(page, "rav-gran", region="back", origin="above", kind="net", size_mm="4", coats="3")
    assert green[1] < yellow[1]
    expect(page.locator(".layer.picked")).to_contain_text("through netting")
    lay(page, "torv-sot", region="spine", origin="above")

    # Gold over the net; the net is moved behind it, and the gold shows through as a net of gold.
    lay(page, "perlemor-gull", region="back", origin="above", coats="3", film_um="14")
    covered = look(page, 0, 0.5)
    asked = []
    page.on("request", lambda request: asked.append(request.url) if "/plan/" in request.url else None)
    page.locator("#layer-3 a").click()
    expect(page.locator("#editor h2")).to_contain_text("Layer 3")
    for place in (4, 5):
        press(page, "Spray it later")
        expect(page.locator("#editor h2")).to_contain_text(f"Layer {place}")
    shown(page)
    through = look(page, 0, 0.5)
    assert abs(through[2] - covered[2]) + abs(through[1] - covered[1]) > 3

    # Pictures of mends are made where somebody opens them. Turned, rolled and sunk without asking the server.
    assert [one for one in asked if "picture.png" in one or "mend.png" in one] == []
    asked.clear()
    left = look(page)
    page.get_by_role("button", name="Back", exact=True).click()
    assert look(page)[1] < left[1]
    slide(page, "roll", 40)
    slide(page, "pitch", 10)
    assert asked == []
    page.locator("#light").select_option("green-lake")
    slide(page, "depth", 12)
    sunk = look(page)
    assert sunk[1] < sunk[2] - 10  # red goes first
    assert [one for one in asked if "/skin" in one] == []
    page.locator("#light").select_option("D65")
    page.get_by_role("button", name="Left", exact=True).click()

    # Half of the layers; then what lies at a place.
    slide(page, "steps", 2)
    expect(page.locator("#steps-said")).to_have_text("2 of 5")
    expect(page.locator("#bait")).to_have_attribute("data-shown", re.compile(":2$"))
    assert look(page)[2] > left[2]
    slide(page, "steps", 5)
    box = page.locator("#bait").bounding_box()
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(page.locator("#here")).to_contain_text("µm")
    expect(page.locator(".here-most")).to_contain_text("coat more")

    # Undone by a key, saved, printed on one page, and the plan is as it was.
    press(page, "Undo")
    page.locator("#bait").focus()
    page.keyboard.press("r")
    page.keyboard.press("s")
    expect(page.locator("#said")).to_contain_text("Saved as version 1.")
    page.get_by_text("More", exact=True).last.click()
    page.get_by_role("link", name="Print it").click()
    expect(page.locator(".paper-layers li")).to_have_count(5)
    expect(page.locator(".caution")).to_contain_text("respirator")
    pages = len(re.findall(rb"/Type\s*/Page[^s]", page.pdf(format="A4")))
    assert pages == 1
    page.get_by_role("link", name="Back to the plan").click()
    expect(page.locator("#name")).to_have_value("Harbour perch")
    expect(page.locator("#plan")).to_have_attribute("data-layers", "5")


def test_an_edge_is_dragged_on_the_picture_and_a_layer_in_the_list(page, address):
    page.goto(f"{address}/plan/1?layer=3")
    shown(page)
    before = page.locator("#plan").get_attribute("data-box")
    u0 = float(before.split()[0])
    box = page.locator("#bait").bounding_box()
    # The region's nose edge, in the middle of its height; the body is 0.84 of the width, moved aside by its bill.
    bill = -min(u for one in SHAPES["minnow"].fittings for u, _ in one.points)
    x = box["x"] + box["width"] * (0.5 + 0.84 * (u0 - 0.5 + bill / 2))
    page.mouse.move(x, box["y"] + box["height"] * 0.44)
    page.mouse.down()
    page.mouse.move(x + 60, box["y"] + box["height"] * 0.46, steps=4)
    page.mouse.up()
    expect(page.locator("#plan")).not_to_have_attribute("data-box", before)
    after = page.locator("#plan").get_attribute("data-box")
    assert float(after.split()[0]) > u0 + 0.03
    expect(page.locator(".layer.picked")).to_contain_text("edges moved")
    page.get_by_role("button", name="Its usual edges").click()
    expect(page.locator("#plan")).to_have_attribute("data-box", before)

    page.locator("#layer-1").drag_to(page.locator("#layer-3"))
    expect(page.locator(".layer").nth(2)).to_have_attribute("id", "layer-1")
    page.locator("#layer-1 a").click()
    expect(page.locator("#editor h2")).to_contain_text("Layer 3")
    page.locator("#bait").focus()
    page.keyboard.press("[")
    expect(page.locator("#editor h2")).to_contain_text("Layer 2")
    page.keyboard.press("o")
    expect(page.locator("#layer-1")).to_have_class(re.compile("off"))


def test_a_check_shows_where_and_is_mended_in_one_press(page, address):
    page.goto(f"{address}/plan/9")
    shown(page)
    muddied = page.locator(".findings li").filter(has_text="Goes muddy")
    muddied.get_by_role("button", name="show where").click()
    expect(page.locator("#here")).to_contain_text("Rav Nype")
    before = shown(page)
    press(page, "Block out with white under it", within=muddied)
    expect(page.locator("#plan")).to_have_attribute("data-layers", "6")
    expect(muddied).to_have_count(0)
    assert shown(page) != before
    page.keyboard.press("u")
    expect(page.locator("#plan")).to_have_attribute("data-layers", "5")
    expect(muddied).to_have_count(1)
    assert shown(page) == before


def test_three_checks_catch_the_plan_with_its_mistake_and_each_is_mended_by_a_press(page, address):
    asked = []
    page.on("request", lambda request: asked.append(request.url) if ".png" in request.url else None)
    page.goto(f"{address}/plan/9")
    shown(page)
    findings = page.locator(".findings > li")
    expect(findings.locator("button.btn-plain").first).to_be_attached()
    expect(page.get_by_text("trying fixes")).to_have_count(0)
    assert asked == []  # they keep no press waiting
    for title, mend in (
        ("Goes muddy", "Block out with white under it"),
        ("Darker than meant", "Block out with white under it"),
        ("Clear over paint not dry", "Wait a day before it"),
    ):
        own = findings.filter(has_text=title).first
        own.get_by_text("Why, and what else").click()
        pictures = own.locator(".compare img")
        for at in (0, 1):
            expect(pictures.nth(at)).to_have_js_property("naturalWidth", 420)
        before = findings.filter(has_text=title).count()
        press(page, mend, within=own)
        expect(findings.filter(has_text=title)).to_have_count(before - 1)
    while page.get_by_text("The checks find nothing").count() == 0:
        expect(page.get_by_text("trying fixes")).to_have_count(0)
        left = findings.count()
        press(page, findings.first.locator(".finding-ways button").first.inner_text(), within=findings.first)
        expect(findings).not_to_have_count(left)


def test_bad_figures_are_said_and_nothing_is_lost(page, address, refusals):
    refusals.append(422)
    page.goto(f"{address}/plan/blanks")
    for length in ("3000", "0"):
        page.get_by_label("Length").fill(length)
        page.get_by_role("button", name="Begin the plan").click()
        expect(page.locator("#said")).to_have_text(f"A blank is 15 to 600 mm long, not {length}.")
    expect(page.get_by_label("Length")).to_have_value("0")
    page.goto(f"{address}/plan/1?layer=3")
    shown(page)
    page.get_by_text("More figures").click()
    page.locator("#edit-film_um").fill("9000")
    page.locator("#edit-film_um").press("Enter")
    expect(page.locator("#said")).to_contain_text("A coat, µm: 0.5 to 200")
    expect(page.locator("#plan")).to_have_attribute("data-layers", "7")
    page.locator("#edit-size_mm").fill("much")
    page.locator("#edit-size_mm").press("Enter")
    expect(page.locator("#said")).to_contain_text("'much' is no number")


@pytest.mark.parametrize("size", [(390, 844), (1280, 800)])
def test_the_bait_stays_in_view_while_its_layers_are_worked_on(page, still, size):
    page.set_viewport_size({"width": size[0], "height": size[1]})
    page.goto(f"{still}/plan/1?layer=3")
    shown(page)
    page.locator("#edit-kind").scroll_into_view_if_needed()
    box = page.locator("#bait").bounding_box()
    assert box["y"] > -box["height"] / 2
    assert box["y"] + box["height"] / 2 < size[1]


def test_a_choice_made_while_an_edit_is_answered_is_laid_once_and_beneath_the_clear(page, address):
    page.goto(f"{address}/plan/blanks")
    page.get_by_role("button", name="Begin the plan").click()
    lay(page, "torv-kritt")
    page.locator("#add-what").select_option("clear")
    page.get_by_role("button", name="Add layer", exact=True).click()
    expect(page.locator("#plan")).to_have_attribute("data-layers", "2")
    page.locator("#layer-1 a").click()
    expect(page.locator("#editor h2")).to_contain_text("Layer 1")

    # The edit's answer is held back until the next paint is chosen and Add layer was pressed seven times.
    held = []
    page.route("**/layers/1", lambda route: held.append(route))
    revision = page.locator("#plan").get_attribute("data-revision")
    page.locator("#edit-coats").fill("3")
    page.locator("#edit-coats").press("Tab")
    page.locator("#add-source").select_option("rav-sitron")
    page.wait_for_function("() => document.querySelector('#add-source').value === 'rav-sitron'")
    while not held:
        page.wait_for_timeout(20)
    for route in held:
        route.continue_()
    expect(page.locator("#plan")).not_to_have_attribute("data-revision", revision)
    expect(page.locator("#add-source")).to_have_value("rav-sitron")
    for _ in range(7):
        page.get_by_role("button", name="Add layer", exact=True).click()
    expect(page.locator("#plan")).to_have_attribute("data-layers", "3")
    page.get_by_role("button", name="Add layer", exact=True).click()  # those before may all have come while it was laid
    expect(page.locator("#said")).to_contain_text("Choose what the layer is made of first")
    expect(page.locator("#add-source")).to_have_value("")
    expect(page.locator(".layer").nth(1)).to_contain_text("Rav Sitron")
    expect(page.locator(".layer").nth(2)).to_contain_text("Clear coat")

    # A stencil layer begins with a stencil; a wash asks for its paint.
    set_field(page, "kind", "stencil")
    expect(page.locator("#edit-stencil")).not_to_have_value("")
    page.locator("#add-what").select_option("wash")
    page.get_by_role("button", name="Add layer", exact=True).click()
    expect(page.locator("#said")).to_contain_text("A wash is of a paint: choose which")
    page.locator("#add-source").select_option("torv-sot")
    page.get_by_role("button", name="Add layer", exact=True).click()
    expect(page.locator("#plan")).to_have_attribute("data-layers", "4")
    expect(page.locator(".layer").nth(2)).to_contain_text("wash")
