"""Pages and fragments: what they are made from, and what they answer to bad input."""

import re
from html.parser import HTMLParser

import pytest
from jinja2 import Environment, FileSystemLoader
from starlette.testclient import TestClient

from diachrom.core.mix.draft import Part
from diachrom.store import connection as connections
from diachrom.store.connection import connected, writing
from diachrom.web.app import create_app
from diachrom.web.kit.pages import Compiled
from diachrom.web.kit.swatches import FOLD_ABOVE, bead_string
from diachrom.web.kit.terms import linked
from diachrom.web.mix.view import mix_page
from diachrom.work.mix import cup
from diachrom.work.shelf.on_shelf import on_shelf

AT = "2026-11-25T10:00:00+00:00"
HTMX = {"HX-Request": "true"}


@pytest.fixture
def client(bench):
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        yield client


@pytest.fixture
def store(bench):
    with connected(bench) as connection:
        yield connection


def test_the_page_speaks_of_coats_ground_colour_and_how_sure_it_is(store):
    page = mix_page(cup.see(store))
    assert page.cup.status == "Recipe 10, version 2, changed since"
    assert page.cup.save_words == "Save version 3"
    assert page.seen.sentence.startswith("Two light coats on white: ")
    assert page.seen.sentence.endswith(" than in the cup.")
    assert "Likely within dE" in page.seen.sureness
    assert "mostly the coat's thickness" in page.seen.sureness
    assert [column.ground for column in page.seen.columns] == ["white", "silver-foil", "black", "grey"]
    assert all(len(column.patches) == 4 for column in page.seen.columns)
    assert page.cup.beads.words == "6 Rav Gull, 1 Torv Kritt, 3 Rav Nype, 4 Tynn reducer"
    assert [len(group) for group in page.cup.beads.groups] == [5, 5, 4]


def test_on_foil_the_sentence_tells_both_sides(store):
    cup.spray_as(store, ground="silver-foil", coats=1, at=AT)
    sentence = mix_page(cup.see(store)).seen.sentence
    assert "in the flash" in sentence
    assert "at the flop" in sentence


def test_an_empty_cup_says_what_to_do_first(store, client):
    cup.start_new(store, at=AT)
    page = mix_page(cup.see(store))
    assert page.seen is None
    assert page.cup.status == "An empty cup"
    assert "Add a bottle: type" in client.get("/mix").text


def test_a_cup_of_reducer_has_no_colour_and_no_page_breaks(store, client):
    cup.start_new(store, at=AT)
    reducer = next(row for row in cup_shelf(store, "reducer"))
    cup.add_bottle(store, reducer, at=AT)
    page = mix_page(cup.see(store))
    assert page.seen.cup is None
    assert "nothing in the cup colours" in page.seen.sentence
    assert client.get("/mix").status_code == 200


def cup_shelf(store, query):
    from diachrom.work.shelf.on_shelf import to_pour

    return [row.bottle.id for row in to_pour(store, query, most=8)]


def test_too_much_for_the_cup_or_the_bottle_is_said(store):
    number = cup_shelf(store, "nearly gone melk")[0]
    cup.add_bottle(store, number, at=AT)
    cup.set_drops(store, number, 40, at=AT)
    assert "More than is left in the bottle: Rav Melk" in mix_page(cup.see(store)).warnings[0]
    cup.set_drops(store, number, 400, at=AT)
    assert "The largest cup holds 9 ml" in mix_page(cup.see(store)).warnings[0]


def test_a_long_string_folds_into_beads_with_counts(store):
    shelf = on_shelf(store, [4, 5])
    short = bead_string([Part(4, FOLD_ABOVE, 0.05)], shelf)
    long = bead_string([Part(4, FOLD_ABOVE, 0.05), Part(5, 1, 0.05)], shelf)
    assert sum(len(group) for group in short.groups) == FOLD_ABOVE
    assert [run.count for run in long.runs] == [FOLD_ABOVE, 1]
    assert not long.groups


def test_a_change_answers_with_the_fragment_and_the_rail_and_a_plain_form_goes_back(client):
    fragment = client.post("/mix/pour", data={"bottle": 22, "drops": 1}, headers=HTMX)
    assert fragment.text.startswith("<title>Autumn char, belly")
    assert '<main id="mix"' in fragment.text
    assert "<html" not in fragment.text
    assert 'id="rail-cup"' in fragment.text
    assert "hx-swap-oob" in fragment.text
    plain = client.post("/mix/pour", data={"bottle": 22, "drops": 1}, follow_redirects=False)
    assert (plain.status_code, plain.headers["location"]) == (303, "/mix")


@pytest.mark.parametrize(
    ("path", "form", "status", "says"),
    [
        ("/mix/drops", {"bottle": 22, "drops": "-3"}, 422, "Rav Nype: drops must be a whole number from 0 to 500"),
        ("/mix/drops", {"bottle": 22, "drops": "2.5"}, 422, "Rav Nype: drops must be"),
        ("/mix/drops", {"bottle": 22, "drops": "9999999999999"}, 422, "Rav Nype: drops must be"),
        ("/mix/drops", {"bottle": 22, "drops": "NaN"}, 422, "Rav Nype: drops must be"),
        ("/mix/drops", {"bottle": 22}, 422, "drops is missing"),
        ("/mix/pour", {"bottle": 22, "drops": "9999"}, 422, "less than or equal to 500"),
        ("/mix/pour", {"bottle": 22, "drops": "500"}, 422, "Rav Nype: drops must be"),
        ("/mix/add", {"bottle": 4711}, 404, "no bottle number 4711"),
        ("/mix/add", {"bottle": "x"}, 422, "bottle: "),
        ("/mix/spray", {"film_um": "nan"}, 422, "A coat must be 0.5 to 200"),
        ("/mix/spray", {"coats": "0"}, 422, "Coats must be 1 to"),
        ("/mix/spray", {"ground": "chrome"}, 422, "no ground called"),
        ("/mix/name", {"name": "x" * 10_000}, 422, "at most 80 fit"),
        ("/recipes/999/open", {}, 404, "Recipe 999 does not exist"),
        ("/recipes/1/open", {"version": 7}, 404, "Version 7 of recipe 1"),
    ],
)
def test_bad_input_is_a_sentence_with_the_right_status_and_changes_nothing(client, store, path, form, status, says):
    before = cup.see(store).now
    answer = client.post(path, data=form, headers=HTMX)
    assert answer.status_code == status
    assert says in answer.text.replace("&#39;", "'")
    assert "<main" not in answer.text
    assert cup.see(store).now == before


def test_a_name_of_spaces_is_refused_when_saving(client, store):
    cup.start_new(store, at=AT)
    cup.add_bottle(store, 4, at=AT)
    client.post("/mix/name", data={"name": "   "}, headers=HTMX)
    answer = client.post("/mix/save", headers=HTMX)
    assert answer.status_code == 422
    assert "Give the recipe a name" in answer.text


def test_names_and_notes_are_shown_as_text(client):
    client.post("/mix/name", data={"name": "<script>alert(1)</script>", "note": "</textarea><b>"}, headers=HTMX)
    page = client.get("/mix").text
    assert "<script>alert" not in page
    assert "</textarea><b>" not in page


def test_another_sites_page_cannot_change_anything(client, store):
    before = cup.see(store).now.revision
    answer = client.post("/mix/new", headers={"Origin": "http://elsewhere.example"})
    assert answer.status_code == 403
    assert cup.see(store).now.revision == before


def test_pages_keep_to_this_machine_and_have_no_hue_of_their_own(client):
    class Links(HTMLParser):
        def __init__(self):
            super().__init__()
            self.found = []

        def handle_starttag(self, tag, attributes):
            self.found += [value for name, value in attributes if name in ("href", "src", "action") and value]

    for path in ("/mix", "/shelf", "/recipes", "/recipes/10"):
        links = Links()
        links.feed(client.get(path).text)
        assert all(link.startswith(("/", "#")) for link in links.found)
    policy = client.get("/mix").headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy


@pytest.mark.parametrize("path", ["/nowhere", "/recipes/999", "/recipes/abc", "/static/none.css"])
def test_what_is_not_there_is_said_on_a_page(client, path):
    answer = client.get(path)
    assert answer.status_code in (404, 422)
    assert "Back to the cup" in answer.text


def test_data_that_went_away_while_running_is_said(client, bench):
    for file in bench.glob("diachrom.sqlite3*"):
        file.unlink()
    answer = client.get("/mix")
    assert answer.status_code == 507
    assert "There is no Diachrom data" in answer.text


def test_a_database_held_by_another_program_is_said(client, bench, monkeypatch):
    monkeypatch.setattr(connections, "BUSY_MS", 50)
    with connected(bench) as other, writing(other):
        answer = client.post("/mix/new", headers=HTMX)
    assert answer.status_code == 503
    assert "The database was busy" in answer.text


def test_a_fault_of_the_program_is_said_and_not_shown_as_a_traceback(bench):
    with connected(bench) as connection, writing(connection):
        connection.execute("DROP TABLE cup")
    with TestClient(create_app(bench), base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
        answer = client.get("/mix")
    assert answer.status_code == 500
    assert "Something went wrong in Diachrom itself" in answer.text


def test_the_theme_is_kept(client):
    assert 'data-theme="day"' in client.get("/mix").text
    client.post("/theme", data={"theme": "booth"}, headers={"Referer": "http://127.0.0.1/shelf"})
    assert 'data-theme="booth"' in client.get("/shelf").text


def test_compared_sides_stand_under_their_own_names_when_the_cup_is_empty(client, store):
    cup.start_new(store, at=AT)
    page = client.get("/compare?by=mix&mix=cup&mix=recipe:5:1&mix=recipe:1:1").text
    sides = page.split('class="side-strip"')[1:]
    assert len(sides) == 2
    assert sides[0].split('aria-label="')[1].startswith("No. 5, Capelin")
    chosen = re.findall(r'value="(recipe:[0-9:]+)" selected', page)
    assert chosen == ["recipe:5:1", "recipe:1:1"]


def test_more_than_six_sides_are_refused_and_not_cut_off(client):
    answer = client.get("/compare?" + "&".join(["over=white"] * 7))
    assert answer.status_code == 422
    assert "At most 6 can stand side by side" in answer.text


@pytest.mark.parametrize("cut", [0, 3, 15, 40])
def test_a_compiled_template_that_was_cut_off_is_made_anew(tmp_path, cut):
    source = tmp_path / "templates"
    source.mkdir()
    (source / "one.html").write_text("{{ words }} on the bench", encoding="utf-8")

    def shown():
        kept = Compiled(str(tmp_path))
        environment = Environment(loader=FileSystemLoader(source), bytecode_cache=kept, autoescape=True)
        return environment.get_template("one.html").render(words="Ink")

    assert shown() == "Ink on the bench"
    (compiled,) = tmp_path.glob("*.cache")
    compiled.write_bytes(compiled.read_bytes()[:cut])
    assert shown() == "Ink on the bench"


def test_a_word_of_the_trade_leads_to_what_it_means_where_it_stands_first(client):
    page = client.get("/mix").text
    where = re.findall(r'<a class="term" href="/terms#([\w-]+)">', page)
    assert "de" in where
    assert len(where) == len(set(where))
    terms = client.get("/terms").text
    assert all(f'<dt id="{one}">' in terms for one in where)
    assert str(linked("<b> of dE 2, dE 3")) == '&lt;b&gt; of <a class="term" href="/terms#de">dE</a> 2, dE 3'
