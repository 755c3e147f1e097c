"""What was kept as JSON and is wrong in part: the rest is read, and nothing is raised."""

import json
from dataclasses import dataclass, field

import pytest
from pydantic import TypeAdapter

from diachrom.store import kept


@dataclass(frozen=True)
class Fish:
    name: str
    fins: int = 2


@dataclass(frozen=True)
class Pond:
    fish: tuple[Fish, ...] = ()
    depths: dict[int, float] = field(default_factory=dict)
    note: str = ""


POND, NONE = TypeAdapter(Pond), Pond(note="none")


@pytest.mark.parametrize(
    ("told", "read"),
    [
        ({"note": "deep", "unknown": 1}, Pond(note="deep")),
        ({"note": 5, "depths": {"1": 2.5}}, Pond(depths={1: 2.5})),
        ({"depths": {"one": 1.0, "2": "deep", "3": 1.5}}, Pond(depths={3: 1.5})),
        (
            {"fish": [{"name": "a"}, {"fins": 3}, 7, {"name": "b", "fins": "x"}, {"name": 1}]},
            Pond((Fish("a"), Fish("b"))),
        ),
        ({"fish": "many", "note": "x"}, Pond(note="x")),
        ([], NONE),
        (None, NONE),
    ],
)
def test_what_is_wrong_is_left_out_as_little_as_can_be(told, read):
    assert kept.read(POND, json.dumps(told), NONE) == read


@pytest.mark.parametrize("text", [None, "", "{", "\x00", "[" * 100_000])
def test_what_is_no_json_is_what_it_would_be_otherwise(text):
    assert kept.read(POND, text, NONE) is NONE


def test_who_gave_the_values_keeps_them_whole():
    told = {"note": 5, "fish": [{"name": "a", "fins": "x"}, {"fins": 3}], "depths": {"one": 1.0}}
    whole = json.loads(json.dumps(told))
    value, gone = kept.pruned(POND, told, NONE)
    assert value == Pond((Fish("a"),))
    assert ("note",) in gone
    assert told == whole
