"""What is said to people without standing in the catalogue is named."""

import catalogue
import pytest
from babel.messages.pofile import read_po

from diachrom.words import TEXT


@pytest.fixture
def house(tmp_path, monkeypatch):
    """A house of one page, one module and one script, each with a sentence that is told."""
    places = {"SOURCE": tmp_path, "TEMPLATES": tmp_path / "web/templates", "SCRIPTS": tmp_path / "web/static"}
    for name, path in places.items():
        path.mkdir(parents=True, exist_ok=True)
        monkeypatch.setattr(catalogue, name, path)
    monkeypatch.setattr(catalogue, "POT", tmp_path / "locale/diachrom.pot")
    (places["TEMPLATES"] / "page.html").write_text(
        '<h1>{{ _("Drops") }}</h1>\n<p title="{{ _(\'How many\') }}">'
        "{% trans count=drops %}One drop{% pluralize %}{{ count }} drops{% endtrans %}</p>\n"
    )
    (places["SCRIPTS"] / "page.js").write_text('say(_("Give it {name}.", { name }));\n')
    (tmp_path / "work.py").write_text('raise InvalidInput(say("{name} is empty.", name=name), field="name of it")\n')
    catalogue.main([])
    return tmp_path


def test_the_catalogue_holds_each_sentence_with_its_places_and_plurals(house, capsys):
    with (house / "locale/diachrom.pot").open("rb") as file:
        told = {message.id for message in read_po(file)}
    assert told >= {"Drops", "How many", ("One drop", "{count} drops"), "Give it {name}.", "{name} is empty."}
    assert catalogue.main(["--check"]) == 0
    assert capsys.readouterr().err.strip() == ""


@pytest.mark.parametrize(
    ("path", "text", "named"),
    [
        ("web/templates/page.html", "<p>Not <b>told</b></p>", "Not"),
        ("web/templates/page.html", '<p title="How much">1</p>', "How much"),
        ("web/templates/page.html", "<p>{{ name }} left</p>", "left"),
        ("web/static/page.js", 'say("Give it a name.");', "Give it a name."),
        ("work.py", 'raise InvalidInput("It is empty.")', "It is empty."),
        ("work.py", 'raise InvalidInput(f"{name} is empty here.")', "is empty here."),
        ("work.py", 'found = say("{name} is new.", name=name)', "missing: {name} is new."),
        ("work.py", "", "stale: {name} is empty."),
    ],
)
def test_what_is_unmarked_missing_or_stale_is_named(house, capsys, path, text, named):
    (house / path).write_text(f"{text}\n")
    assert catalogue.main(["--check"]) == 1
    assert named in capsys.readouterr().err


def test_every_place_is_a_name_and_every_chapter_has_its_heading():
    with catalogue.POT.open("rb") as file:
        messages = [message for message in read_po(file) if message.id]
    for message in messages:
        for text in (message.id,) if isinstance(message.id, str) else message.id:
            assert TEXT.fullmatch(text), text
    headings = [one for message in messages for one in message.auto_comments]
    assert headings == [f"----- {words} -----" for words, _ in catalogue.CHAPTERS]
