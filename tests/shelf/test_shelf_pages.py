"""The pages of the shelf: forms, files, devices and papers, and what they answer to bad input."""

import re

import pytest
from everything import everything
from starlette.testclient import TestClient

from diachrom.core.light.lab import lab_to_xyz
from diachrom.core.light.screen import WHITE, hex_to_lab
from diachrom.store import bottles
from diachrom.store.connection import connected
from diachrom.web.app import create_app
from diachrom.web.kit.guess_view import hiding
from diachrom.web.kit.qr import qr
from diachrom.work.profiles import contrast_cards as carding

AT = "2026-11-25T10:00:00+00:00"
HTMX = {"HX-Request": "true"}
PAGES = (
    "/shelf",
    "/shelf?q=dark+olive&low=true&kind=opaque&place=rack,+top&measured=yes&order=hue",
    "/shelf?start=48",
    "/shelf/new",
    "/shelf/shopping",
    "/shelf/labels",
    "/shelf/labels?bottle=22&bottle=40",
    "/bottles/22?ledger=all",
    "/bottles/22/change",
    "/bottles/22/drops",
    "/bottles/36",
    "/paints/rav-nype",
    "/paints/perlemor-blaa",
    "/paints/tynn-medium",
    "/paints/torv-koral/substitutes",
    "/paints/torv-koral/substitutes/found",
    "/contrast-cards/1",
    "/files",
    "/recipes/cards",
    "/recipes/cards?recipe=10",
    "/recipes?start=10",
    "/devices/bench",
    "/devices/scale",
    "/match",
    "/pour",
    "/family?given=dark",
    "/amounts?value=2",
    "/test-cards",
)


@pytest.fixture
def client(bench):
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        yield client


def post(client, path, data=None, **more):
    return client.post(path, data=data, headers=HTMX, follow_redirects=False, **more)


@pytest.mark.parametrize("path", PAGES)
def test_every_page_of_the_shelf_answers_and_has_no_style_of_its_own(client, path):
    answer = client.get(path)
    assert answer.status_code == 200
    assert "style=" not in answer.text
    assert not re.search(r"None|nan\b|Traceback", re.sub(r"<[^>]+>", " ", answer.text))


@pytest.mark.parametrize(
    ("path", "status", "why"),
    [
        ("/bottles/999", 404, "no bottle number 999"),
        ("/bottles/999/drops", 404, "no bottle number 999"),
        ("/paints/nobody", 404, "no paint with the id"),
        ("/paints/tynn-medium/substitutes", 422, "has no colour"),
        ("/paints/rav-nype/effects?before=1&after=9", 422, "no version 9"),
        ("/contrast-cards/99", 404, "no drawdown card 99"),
        ("/files/import/99", 404, "no longer waiting"),
        ("/files/shelf.docx", 422, "Nothing goes out as"),
        ("/photos/99/whole", 404, "no photo 99"),
        ("/devices/toaster", 422, "no device called"),
        ("/shelf/labels?bottle=999", 404, "no bottle number 999"),
        ("/recipes/cards?recipe=999", 404, "Recipe 999 does not exist"),
    ],
)
def test_what_is_not_there_is_said(client, path, status, why):
    answer = client.get(path)
    assert answer.status_code == status
    assert why in answer.text


@pytest.mark.parametrize(
    ("path", "data", "why"),
    [
        ("/shelf/new", {"name": "X", "kind": "ink", "size_ml": "30", "colour": "splorch"}, "is no colour"),
        ("/shelf/new", {"kind": "ink", "size_ml": "30", "colour": "#102030"}, "Name is missing"),
        ("/bottles/22/left", {"left_ml": "much"}, "no number in ml"),
        ("/bottles/22/left", {"left_ml": "40"}, "holds 0 to 30 ml"),
        ("/bottles/22/left", {"left_ml": ""}, "left_ml is missing"),
        ("/bottles/22/happened", {"kind": "drunk", "ml": "1"}, "kind"),
        ("/bottles/22/happened", {"kind": "spilled", "ml": "29"}, "Correct what is left first"),
        ("/bottles/22/change", {"opened_on": "31.3.2026"}, "year-month-day"),
        ("/bottles/22/drops/by-hand", {"drops": "twenty", "grams": "1"}, "a whole number"),
        ("/bottles/22/drops/by-hand", {"drops": "20", "grams": "heavy"}, "no number"),
        ("/bottles/22/drops/accept", {}, "Count some drops first"),
        ("/paints/rav-nype/merge", {"into": "rav-nype"}, "the same paint"),
        ("/paints/rav-nype/guess", {"colour": ""}, "say its colour"),
        ("/paints/rav-nype/substitutes", {"recipe": "10", "parts": "x"}, "names no bottles"),
        ("/contrast-cards/1/typed", {"field": "white", "typed": "reddish"}, "is no colour"),
        ("/contrast-cards/1/typed", {"field": "margin", "typed": "#102030"}, "no field"),
        ("/contrast-cards/1/read", {"field": "white"}, "unplugged"),
        ("/contrast-cards/1/aside", {"reading": "9" * 22}, "reading"),
        ("/bottles/22/drops/aside", {"weighing": "-1"}, "weighing"),
        ("/contrast-cards/1/accept", {}, "still to be read: over black, 1 pass"),
        ("/contrast-cards/1/sprayed", {"steps": "0", "clear_coat": "true"}, "A film has 1 to 50 passes"),
        ("/devices/calibrate", {"key": "bench"}, "unplugged"),
        ("/match/target", {"typed": "#c85a28", "seen_at": "aslant"}, "is no number"),
        ("/match/target", {"typed": "#c85a28", "seen_at": "400"}, "An angle must be"),
        ("/pour/judge", {"verdict": "mauve"}, "no verdict"),
        ("/pour/read", {}, "unplugged"),
        ("/amounts/used", {"used_ml": "much"}, "is no number"),
        ("/amounts/counted", {"unit": "cups", "amount-0": "1"}, "for every bottle"),
        ("/recipes/10/jar", {"ml": ""}, "Say how much"),
        ("/recipes/10/coming", {"ml": "1e9"}, "Millilitres"),
    ],
)
def test_what_cannot_be_meant_is_a_sentence_and_changes_nothing(client, bench, path, data, why):
    with connected(bench) as store:
        before = everything(store)
    answer = post(client, path, data)
    assert answer.status_code == 422
    assert why in answer.text
    assert "<" not in answer.text
    with connected(bench) as store:
        assert everything(store) == before


def test_a_file_is_shown_then_written_with_progress_and_taken_back(client, bench):
    text = "name,kind,size_ml,colour\nBar,ink,15,#102030\n"
    where = post(client, "/files/import", files={"file": ("a.csv", text.encode())}).headers["HX-Redirect"]
    page = client.get(where).text
    assert "1 × new paint" in page
    assert "a guess from its colour" in page
    answer = post(client, where.split("?")[0] + "/write", {"kind": "ink"})
    for _ in range(200):
        if "is on the shelf" in answer.text:
            break
        answer = client.get(where.split("?")[0] + "/progress")
    assert "a.csv is on the shelf" in answer.text
    assert client.get("/mix/find?q=Bar").text.count("found-bottle") >= 1
    post(client, "/shelf/undo")
    assert "Bar" not in client.get("/shelf?q=bar&kind=ink").text.split('id="bottles"')[1]


def test_what_is_wrong_in_the_same_way_is_said_once_by_the_headings_of_the_file(client):
    rows = ["Farge;Type;Rest ml", *(f"Lang {'x' * 40};opaque;{at}" for at in (1, 2, 3)), "Kort;opaque;mange"]
    text = "\n".join([*rows, f"Lang {'x' * 40};opaque;5"])
    where = post(client, "/files/import", files={"file": ("hylle.csv", text.encode())}).headers["HX-Redirect"]
    page = client.get(where).text
    assert "5 cells are wrong: nothing is imported before they are mended" in page
    told = [re.findall(r"<td>(.*?)</td>", row) for row in re.findall(r"<tr>(.*?)</tr>", " ".join(page.split()))]
    assert ["2 to 4, 6", "Farge", "Name: 45 characters; at most 40 fit."] in [row[:3] for row in told]
    assert (
        next(row for row in told if row[:2] == ["5", "Rest ml"])[2]
        .strip()
        .startswith("Left, ml: &#39;mange&#39; is no number")
    )


def test_a_large_file_is_refused_before_it_is_read_and_a_bad_one_by_its_name(client):
    answer = post(client, "/files/import", files={"file": ("large.csv", b"x" * 10_300_000)})
    assert answer.status_code == 413
    assert "refused before it was read" in answer.text
    answer = post(client, "/files/import", files={"file": ("cut.csv", b'name,kind\n"a,ink\n')})
    assert (answer.status_code, "cut.csv: row" in answer.text) == (422, True)
    assert post(client, "/contrast-cards/1/typed", {"field": "white", "typed": "x" * 1_100_000}).status_code == 413


def test_the_papers_have_a_code_that_opens_the_thing_on_this_server(client):
    labels, papers = client.get("/shelf/labels?bottle=22").text, client.get("/recipes/cards?recipe=10").text
    assert str(qr("http://127.0.0.1/bottles/22")) in labels
    assert str(qr("http://127.0.0.1/recipes/10")) in papers
    assert "6 Rav Gull, 1 Torv Kritt, 2 Rav Nype" in papers
    assert client.get("/recipes/10").status_code == 200


def test_the_shopping_list_goes_out_as_a_table(client):
    answer = client.get("/shelf/shopping.csv")
    assert answer.headers["content-disposition"].endswith('.csv"')
    rows = answer.content.decode("utf-8-sig").splitlines()
    assert rows[0].startswith("line,name,kind,bottles,size_ml")
    assert rows[1].startswith("Rav,Gull,transparent,1,30.0,11.0,21.54")


def test_a_spectrum_and_a_photo_are_taken_for_a_field(client, bench):
    spectrum = "\n".join(f"{nm} 3.5" for nm in range(400, 701, 10)).encode()
    answer = post(client, "/contrast-cards/1/file", {"field": "over_black:1"}, files={"file": ("black.txt", spectrum)})
    assert "Taken from black.txt: black. given in percent; resampled" in answer.text
    with connected(bench) as store:
        assert carding.see(store, 1).derived is not None
        assert carding.see(store, 1).fields[3].readings[0].source == "file:black"


def test_one_reader_is_chosen_and_stays_chosen(client):
    assert 'aria-label="The pocket reader"' in post(client, "/devices/choose", {"key": "pocket"}).text
    assert 'aria-label="The pocket reader"' in client.get("/contrast-cards/1").text
    assert "warming up" in post(client, "/devices/plug", {"key": "pocket", "plugged": "true"}).text
    assert "unplugged" in post(client, "/devices/plug", {"key": "pocket", "plugged": "false"}).text


def test_what_was_poured_leaves_the_bottles_and_is_said(client, bench):
    assert "taken out of 4 bottles; Undo on the Shelf puts it back" in post(client, "/mix/poured").text
    assert "All of it is taken off the bottles already" in post(client, "/mix/poured").text
    with connected(bench) as store:
        assert bottles.one(store, 22).left_ml == pytest.approx(8.0 - 3 * 0.043)


def test_the_drawn_scale_of_hiding_has_the_contrast_ratios_that_it_stands_for():
    for one in hiding():
        black, white = (lab_to_xyz(hex_to_lab(grey), white=WHITE)[1] for grey in (one.over_black, one.over_white))
        assert black / white == pytest.approx(float(one.key), abs=0.01)


def test_a_pass_of_any_thickness_is_what_its_card_shows(client):
    post(client, "/contrast-cards/1/sprayed", {"film_um": "2,5"})
    assert re.search(r'<option value="2.5" selected>as it was, 2.5 µm', client.get("/contrast-cards/1").text)
