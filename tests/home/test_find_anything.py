"""One box for everything: what is found, where, and by which keys."""

import pytest
from playwright.sync_api import expect

from diachrom.work.home import search


def found(on, query):
    return {chapter.words: [hit.href for hit in chapter.hits] for chapter in on(search.search, query)}


@pytest.mark.parametrize(
    ("query", "chapter", "href"),
    [
        ("rav gull", "Shelf", "/bottles/"),
        ("night saithe back", "Recipes", "/recipes/"),
        ("autumn char", "Plans", "/plan/"),
        ("butterfish", "Bench", "/bench/1"),
        ("cuckoo", "Log", "/log/"),
    ],
)
def test_each_chapter_is_found_by_its_words_in_any_order(on, query, chapter, href):
    for words in (query, " ".join(reversed(query.upper().split()))):
        assert any(one.startswith(href) for one in found(on, words)[chapter])


def test_orders_are_found_by_their_customer_and_pages_and_terms_by_their_names(on, client):
    order = client.post("/orders", data={"name": "Harbour shop"}, follow_redirects=False).headers["location"]
    client.post(order, data={"name": "Harbour shop", "customer": "Boathouse"})
    assert found(on, "boathouse")["Orders"] == [order]
    page = client.get("/home/search", params={"q": "recipes"}).text
    assert 'href="/recipes"' in page
    assert "Contrast ratio" in client.get("/home/search", params={"q": "contrast"}).text


@pytest.mark.parametrize("query", ["", "   ", "%", "'; DROP TABLE plan; --", "x" * 5000, "\u0000", "((((", '"quoted'])
def test_whatever_is_typed_is_looked_for_and_no_more(client, query):
    answer = client.get("/home/search", params={"q": query})
    assert answer.status_code == 200
    if query.strip():
        assert "Nothing holds" in answer.text or "<h3>" in answer.text
    else:
        assert not answer.text.strip()


def test_every_hit_leads_to_a_page(on, client):
    hits = [hit.href for query in ("a", "char", "rav") for one in on(search.search, query) for hit in one.hits]
    assert len(hits) > 15
    for href in dict.fromkeys(hits):
        assert client.get(href).status_code == 200, href


def test_a_slash_opens_it_anywhere_and_keys_walk_what_was_found(page, address, accessible):
    page.goto(f"{address}/home")
    page.keyboard.press("/")
    expect(page.locator("#search-box")).to_be_focused()
    page.keyboard.type("autumn char")
    expect(page.locator("#search-found")).to_contain_text("Plans")
    accessible()
    page.keyboard.press("ArrowDown")
    expect(page.locator("#search-found a").first).to_be_focused()
    page.keyboard.press("ArrowUp")
    expect(page.locator("#search-box")).to_be_focused()
    first = page.locator("#search-found a").first.get_attribute("href")
    page.keyboard.press("Enter")
    page.wait_for_url(f"**{first}")
    # On a page with a box of its own the first slash is for that one.
    page.goto(f"{address}/shelf")
    page.keyboard.press("/")
    expect(page.locator("#find")).to_be_focused()
    page.keyboard.press("/")
    expect(page.locator("#search-box")).to_be_focused()
    page.keyboard.press("Escape")
    expect(page.locator("#search")).to_be_hidden()
