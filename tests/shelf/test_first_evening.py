"""A bench of bottles as a list: what its words say, put on the shelf as a whole or not at all."""

import re

import pytest
from starlette.testclient import TestClient

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.kinds import KINDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lights import light
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.strip import Over, strip
from diachrom.core.shelf.bottle_list import MOST_LINES, STARTER, read, read_line
from diachrom.core.shelf.named import PIGMENTS
from diachrom.store import bottles, paints
from diachrom.store.connection import connected
from diachrom.store.migrate import migrate
from diachrom.web.app import create_app
from diachrom.work.shelf import droppers, keeping

AT = "2026-11-26T19:00:00+00:00"
LIST = """Olive green, 60 ml, opaque
Pearl white 2 oz
Candy red
Blue PB15:3, transparent
Fish belly #f0e8d0
Reducer 250 ml"""


@pytest.fixture
def empty(tmp_path):
    migrate(tmp_path)
    with TestClient(create_app(tmp_path), base_url="http://127.0.0.1", follow_redirects=False) as client:
        yield client, tmp_path


@pytest.mark.parametrize(
    ("line", "name", "kind", "size_ml", "colour"),
    [
        ("- Pearl white 2 oz", "Pearl white", "pearl", 59.1, "#f4f3f2"),
        ("Olive green;\t60,5ml; opaque", "Olive green", "opaque", 60.5, None),
        ("12) Trans blue PB15:3", "Trans blue PB15:3", "transparent", None, None),
        ("Neon chartreuse", "Neon chartreuse", "fluorescent", None, None),
        ("color-shift violet green", "color-shift violet green", "shift", None, None),
        ("Fish belly 🐟 #F0E8D0", "Fish belly 🐟", "opaque", None, "#f0e8d0"),
        ("Reducer 250 ml", "Reducer", "reducer", 250.0, ""),
        ("Zork", "Zork", "opaque", None, ""),
        ("Dark olive ink", "Dark olive ink", "ink", None, None),
        ("Oxide red PR101", "Oxide red PR101", "opaque", None, None),
    ],
)
def test_what_a_line_says_is_read(line, name, kind, size_ml, colour):
    one = read_line(line)
    assert (one.name, one.kind, one.size_ml) == (name, kind, size_ml)
    assert one.colour == colour if colour is not None else hex_to_lab(one.colour) is not None


@pytest.mark.parametrize(
    ("line", "like"),
    [
        ("dark olive", (35, -6, 28)),
        ("Candy apple red", (42, 58, 34)),
        ("sky blue", (62, -8, -26)),
        ("gold", (72, 12, 60)),
    ],
)
def test_a_colour_word_means_what_it_says(line, like):
    assert delta_e(hex_to_lab(read_line(line).colour), like) < 18


def test_lists_that_no_one_would_write_are_read_as_far_as_they_go():
    assert read("") == ([], 0)
    assert read("\n\t\t\n;;;\n🐟🐟\n---\n") == ([], 0)
    found, unread = read("\n".join(f"Bar {at} dark olive" for at in range(3000)))
    assert (len(found), unread) == (MOST_LINES, 3000 - MOST_LINES)
    same, _ = read("Moss\nmoss\n MOSS 30 ml\nMoss\nMoss")
    assert [(one.name, one.count) for one in same] == [("Moss", 5)]
    assert len(read("x" * 100_000)[0][0].name) <= 80


def test_the_starter_shelf_is_twenty_paints_with_a_colour_each_by_pigment():
    found, _ = read(STARTER)
    assert len(found) == 20
    assert all(one.colour or not KINDS[one.kind].colours for one in found)
    assert sum(one.told_by.startswith("usual for P") for one in found) >= 15
    assert all(kind in KINDS for kind, _ in PIGMENTS.values())


def test_an_empty_bench_opens_on_the_list_and_forty_bottles_are_kept_in_one_step(empty):
    client, folder = empty
    assert client.get("/").headers["location"] == "/shelf/start"
    assert "Write your bottles down" in client.get("/shelf").text
    assert client.get("/shelf/start/next").headers["location"] == "/shelf/start"
    page = client.post("/shelf/start/read", data={"bottles": LIST + "\ncandy red"}).text
    assert "6 bottles read" in page
    assert "1 repeated line" in page
    answer = client.post("/shelf/start/keep", data=_fields(page))
    assert (answer.status_code, answer.headers["location"]) == (303, "/shelf/start/next")
    with connected(folder) as store:
        every = {one.full_name: one for one in bottles.every(store)}
        assert len(every) == 6
        assert every["Olive green"].size_ml == 60
        profiles = paints.profiles(store, [one.paint_id for one in every.values()])
        belly = Cup([Pour(profiles[every["Fish belly"].paint_id], 3)])
        where = {"over": [Over.bare(GROUNDS["white"])], "sheen": CLEARED, "under": light("D65")}
        seen = strip(belly, film_um=8, coats=3, **where).columns[0].patches[-1].diffuse.lab
        assert delta_e(seen, hex_to_lab("#f0e8d0")) < 3
        keeping.undo(store, at=AT)
        assert bottles.every(store) == []
    assert "are guesses" not in client.get("/shelf").text


def _fields(page):
    """The form as the page fills it in."""
    found = dict(
        re.findall(r'<input[^>]*?name="((?:name|size_ml|colour|glow|mica)-\d+)"[^>]*?value="([^"]*)"', page, re.S)
    )
    for at, options in re.findall(r'<select name="kind-(\d+)">(.*?)</select>', page, re.S):
        found[f"kind-{at}"] = re.search(r'value="(\w+)" selected', options)[1]
    return found


def test_what_is_wrong_is_said_at_its_row_and_nothing_typed_is_lost(empty):
    client, folder = empty
    rows = (
        ("Moss", "opaque", "30", "#334f1e"),
        ("moss", "ink", "30", "#000000"),
        ("Zork", "opaque", "much", "#123456"),
        ("Bare", "opaque", "30", ""),
        ("", "opaque", "30", ""),
        ("Odd", "cheese", "30", "#123456"),
    )
    keys = ("name", "kind", "size_ml", "colour")
    data = {f"{key}-{at}": value for at, row in enumerate(rows) for key, value in zip(keys, row, strict=True)}
    answer = client.post("/shelf/start/keep", data=data)
    assert answer.status_code == 422
    for words in (
        "is in row 1 already",
        "Bare: say its colour",
        "To mend: rows 2, 3, 4, 5.",
        "Row 3: ",
        'value="much"',
        'value="Zork"',
    ):
        assert words in answer.text, words
    with connected(folder) as store:
        assert bottles.every(store) == []
    assert client.post("/shelf/start/keep", data={"name-0": " "}).status_code == 422
    assert client.post("/shelf/start/read", data={"bottles": "\n \n"}).text.count("This list names no bottle") == 1


def test_a_bottle_that_stands_on_the_shelf_is_not_put_there_twice(empty):
    client, _ = empty
    fields = _fields(client.post("/shelf/start/read", data={"bottles": "Moss"}).text)
    assert client.post("/shelf/start/keep", data=fields).status_code == 303
    again = client.post("/shelf/start/keep", data=fields)
    assert (again.status_code, "Moss is on the shelf already" in again.text) == (422, True)
    shelf = client.get("/shelf").text
    assert "1 colour is a guess" in shelf
    assert "1 dropper is unknown" in shelf
    assert client.get(re.search(r'href="(/bottles/\d+/drops)"', shelf)[1]).status_code == 200


def test_names_that_cannot_be_kept_are_told_as_the_list_is_read(empty):
    client, _ = empty
    fields = _fields(client.post("/shelf/start/read", data={"bottles": "Moss"}).text)
    client.post("/shelf/start/keep", data=fields)
    page = client.post("/shelf/start/read", data={"bottles": f"Moss\n{'Olive of the far bank ' * 3}\nZork"}).text
    assert "Moss is on the shelf already" in page
    assert "at most 40 fit" in page
    assert "To mend: rows 1, 2." in page
    assert page.count("listed-wrong") == 2  # a colour that is still to come is no fault yet


def test_the_drops_of_a_millilitre_are_counted_once_for_every_bottle_that_nobody_counted(empty):
    client, folder = empty
    client.post("/shelf/start/keep", data=_fields(client.post("/shelf/start/read", data={"bottles": LIST}).text))
    with connected(folder) as store:
        one, *others = bottles.every(store)
        droppers.add(store, one.id, drops=25, grams=None, ml=1.0, at=AT)
    refused = (("", "a whole number"), ("1.5", "a whole number"), ("1", "2 to 200 drops"), ("500", "2 to 200"))
    for wrong, said in refused:
        answer = client.post("/shelf/start/droppers", data={"drops": wrong})
        assert (answer.status_code, said in answer.text) == (422, True), wrong
    page = client.post("/shelf/start/droppers", data={"drops": " 20 "}).text
    assert "20 drops in a millilitre, for 5 bottles." in page
    assert "drop is known" in page
    with connected(folder) as store:
        assert droppers.unknown(store) == []
        assert {bottles.one(store, other.id).drop_ml for other in others} == {0.05}
        assert droppers.see(store, others[0].id).volume.mean_ml == pytest.approx(0.05)
    assert "unknown" not in client.get("/shelf").text


def test_of_a_long_list_the_rest_is_read_when_its_beginning_is_kept(empty):
    client, folder = empty
    page = client.post(
        "/shelf/start/read", data={"bottles": "\n".join(f"Bar {at:03} moss" for at in range(MOST_LINES + 3))}
    ).text
    assert "3 more wait" in page
    rest = re.search(r'name="bottles" value="([^"]*)"', page)[1].replace("&#10;", "\n")
    answer = client.post("/shelf/start/keep", data=_fields(page) | {"bottles": rest, "unread": "true"})
    assert (answer.status_code, f"{MOST_LINES} bottles put on the shelf. 3 bottles read" in answer.text) == (200, True)
    assert client.post("/shelf/start/keep", data=_fields(answer.text)).status_code == 303
    with connected(folder) as store:
        assert len(bottles.every(store)) == MOST_LINES + 3


def test_a_link_that_somebody_follows_begins_no_second_server(empty):
    client, _ = empty
    assert client.get("/shelf/start/demo").status_code == 405
    assert "Visit the demo bench" in client.post("/shelf/start/demo").text


def test_what_a_bench_calls_a_colour_is_learned_with_its_first_bottle(empty):
    client, _ = empty
    page = client.post("/shelf/start/read", data={"bottles": "Dark zork"}).text
    assert "zork" in re.search(r"Which colour is ([^?]*)", page)[1]
    assert client.post("/shelf/start/keep", data=_fields(page) | {"colour-0": "#336699"}).status_code == 303
    again = client.post("/shelf/start/read", data={"bottles": "Zork, transparent"}).text
    assert "#336699" in again
    assert "Which colour" not in again


def test_which_mica_a_pearl_is_can_be_chosen_by_eye_and_is_kept(empty):
    client, folder = empty
    page = client.post("/shelf/start/read", data={"bottles": "Pearl blue"}).text
    looks = client.get(re.search(r'hx-get="(/shelf/start/micas[^"]*)"', page)[1].replace("&amp;", "&")).text
    assert looks.count("<rect") == 4
    assert looks.count("checked") == 1
    assert client.get("/shelf/start/micas?colour=zork").status_code == 422
    keep = _fields(page) | {"mica-0": "coloured"}
    assert client.post("/shelf/start/keep", data=keep).status_code == 303
    with connected(folder) as store:
        (bottle,) = bottles.every(store)
        paint = paints.profile(store, bottle.paint_id)
    assert paint.absorption.max() > 0.01  # it takes light away


def test_the_two_colours_of_a_glow_are_kept_and_its_grams_are_read(empty):
    client, folder = empty
    page = client.post("/shelf/start/read", data={"bottles": "Glow blue 50 g"}).text
    assert 'value="50 g"' in page
    keep = _fields(page) | {"glow-0": "#40ff60"}
    assert client.post("/shelf/start/keep", data=keep | {"glow-0": "splorch"}).status_code == 422
    assert client.post("/shelf/start/keep", data=keep).status_code == 303
    with connected(folder) as store:
        (bottle,) = bottles.every(store)
        assert bottle.size_ml == pytest.approx(50 / KINDS["glow"].keeps.density, rel=1e-3)
        assert paints.profile(store, bottle.paint_id).glow.emits_nm == pytest.approx(530, abs=15)
