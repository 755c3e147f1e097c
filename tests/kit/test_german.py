"""German: chosen or asked for by the browser, and no English left on any page."""

import html
import re

import pytest
from starlette.testclient import TestClient
from test_every_page_in_browser import PAGES

from diachrom.catalogues import AS, catalogue
from diachrom.store.connection import connected
from diachrom.web.app import create_app
from diachrom.work.kit.bench_settings import BenchSettings

SHOWN = re.compile(r'>([^<]+)<|(?:aria-label|title|alt|placeholder)="([^"]*)"')
HIDDEN = re.compile(r"(?s)<(script|style|samp|kbd)\b.*?</\1>")
KEPT = re.compile(r'"([^"]{4,80})"')


def any_of(words):
    return "|".join(map(re.escape, sorted(words, key=len, reverse=True)))


def own_words(folder):
    """What is in the data is nobody's language."""
    words = set()
    with connected(folder) as store:
        tables = store.execute("SELECT name FROM sqlite_schema WHERE type = 'table'").fetchall()
        for (table,) in tables:
            for row in store.execute(f'SELECT * FROM "{table}"'):
                for value in row:
                    if isinstance(value, str):
                        words |= set(KEPT.findall(value)) if value[:1] in "{[" else {value} if len(value) > 3 else set()
    return words


def english():
    """Sentences without a place whose German is quite another."""
    for key, forms in catalogue("de").forms.items():
        alike = any(key.lower() in one.lower() for one in forms)
        if len(key) > 5 and not alike and not set("{<" + AS) & set(key):
            yield key


@pytest.fixture(scope="module")
def german(filled):
    with TestClient(create_app(filled), base_url="http://127.0.0.1", headers={"Accept-Language": "de"}) as client:
        yield client


def test_no_page_has_a_sentence_left_in_english(german, filled):
    own, left = re.compile(any_of(own_words(filled))), re.compile(rf"(?<![\w-])({any_of(english())})(?![\w-])")
    found = set()
    for path in PAGES:
        answer = german.get(path)
        if "html" not in answer.headers.get("content-type", ""):
            continue
        assert '<html lang="de"' in answer.text, path
        for text in map("".join, SHOWN.findall(HIDDEN.sub(" ", answer.text))):
            found |= {(path, one) for one in left.findall(own.sub(" ", html.unescape(text)))}
    assert not {(path, one) for path, one in found if one != "Profile"}  # German has that word too


@pytest.mark.parametrize(
    ("asked", "language"),
    [
        ("de", "de"),
        ("de-AT,de;q=0.9,en;q=0.8", "de"),
        ("fr,en;q=0.5,de;q=0.6", "de"),
        ("en-GB,de;q=0.9", ""),
        ("de;q=0,en", ""),
        ("", ""),
        ("*", ""),
        ("de;q=x," * 200, ""),
    ],
)
def test_the_browser_says_which_language_unless_one_is_chosen(asked, language):
    assert BenchSettings().reader(asked).language == language
    assert BenchSettings(language="de").reader(asked).language == "de"
    assert BenchSettings(language="en").reader(asked).language == ""


def test_the_language_is_chosen_in_settings_with_its_decimals_and_days(client):
    assert "A bottle of 60 ml, opened on 2 September 2026" in client.get("/settings").text
    assert "opaque, 60 ml; colour from the words olive green" in client.get("/shelf/start").text
    client.post("/settings", data={"language": "de"})
    page = client.get("/settings").text
    assert "geöffnet am 2. September 2026" in page
    assert "dE 0,8" in page
    assert "deckend, 60 ml; Farbe vom Wort olivgrün" in client.get("/shelf/start").text
    client.post("/settings", data={"decimals": "point"})
    assert "dE 0.8" in client.get("/settings").text
    assert client.get("/api/bottles?limit=1").json()["bottles"][0]["kind"] == "primer"  # scripts read English


def test_one_word_of_english_is_another_in_german_where_it_means_another(client):
    client.post("/settings", data={"language": "de"})
    page = client.get("/plan/1").text
    assert re.search(r">\s*Rücken\s*<", page)  # a side
    assert "Setzen" in page
    assert "Zurück" in client.get("/log/14/again").text
    assert "mittel" in client.get("/mix").text
