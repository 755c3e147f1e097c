"""A table that is pasted, or dropped on any page: seen, mended, left out row by row, and imported."""

from painters_tables import TABLES
from playwright.sync_api import expect

from diachrom.store import bottles
from diachrom.store.connection import connected

CELLS = (
    "Name\tKind\tHex\tSize\tLeft\nTang\topaque\t#445533\t30\thalf\nSten\tacrylic\t#777777\t60\t40 %\nTotal\t\t\t90\t\n"
)
DROP = """([name, type, text]) => {
  const held = new DataTransfer();
  held.items.add(new File([text], name, { type }));
  for (const kind of ["dragover", "drop"])
    document.querySelector("main").dispatchEvent(
      new DragEvent(kind, { bubbles: true, cancelable: true, dataTransfer: held }));
}"""


def left_of(folder):
    with connected(folder) as store:
        return {one.name: one.left_ml for one in bottles.every(store)}


def test_cells_are_pasted_mended_and_imported(page, bench, address, accessible):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{address}/files")
    page.get_by_label("Or paste cells of a table here").fill(CELLS)
    page.get_by_role("button", name="Preview the cells").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("pasted cells")
    expect(page.locator("main")).to_contain_text("'acrylic' is none of")
    accessible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.get_by_label("Instead, in row 3").fill("opaque")
    page.get_by_role("button", name="Write this").click()
    expect(page.get_by_role("button", name="Import all of it")).to_be_visible()
    row = page.get_by_role("row", name="Sten")
    expect(row).to_contain_text("opaque, 60 ml, 24 ml left")
    row.get_by_role("link", name="Mend").click()
    page.get_by_label("Left").fill("1/2")
    page.get_by_role("button", name="Write this").click()
    expect(page.get_by_role("row", name="Sten")).to_contain_text("30 ml left")
    page.get_by_role("button", name="It is a bottle").click()
    wrong = page.get_by_role("row", name="say its colour")
    wrong.get_by_role("button", name="Leave out").click()
    expect(page.get_by_role("row", name="Total · 90")).to_contain_text("by hand")
    page.get_by_role("button", name="Import all of it").click()
    expect(page.get_by_role("link", name="To the shelf")).to_be_visible(timeout=60_000)
    now = left_of(bench)
    assert (now["Tang"], now["Sten"]) == (15.0, 30.0)
    assert "Total" not in now


def test_a_file_is_dropped_on_any_page_and_goes_where_one_like_it_is_asked_for(page, bench, address, refusals):
    kept = TABLES["Markdown"]
    page.goto(f"{address}/recipes")
    page.evaluate(DROP, [kept.name, "text/markdown", kept.content.decode()])
    expect(page.get_by_role("heading", level=1)).to_have_text("notes.md")
    expect(page.locator("main")).to_contain_text("3 × new paint")
    page.goto(f"{address}/log/59")
    page.evaluate(DROP, ["bait.png", "image/png", "no picture"])
    assert page.locator("input[name=photo]").evaluate("input => input.files[0].name") == "bait.png"
    refusals += ["status of 422"]
    page.goto(f"{address}/shelf")
    page.evaluate(DROP, ["novel.txt", "text/plain", "It was a dark night.\n" * 30])
    expect(page.locator("#said")).to_contain_text("names columns")
