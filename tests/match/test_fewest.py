"""Several colours together: few bottles for all of them, each as near as is wanted."""

import re
from itertools import combinations

import numpy as np
import pytest
from measuring import SHELF
from starlette.testclient import TestClient

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.lights import light
from diachrom.core.match.fewest import fewest, smallest_union
from diachrom.core.match.search import Search
from diachrom.core.mix.where import Where
from diachrom.errors import InvalidInput
from diachrom.store.connection import connected
from diachrom.web.app import create_app
from diachrom.work.kit.tasks import Tasks
from diachrom.work.match import several, targets
from diachrom.work.mix.contents import contents

AT = "2026-11-25T10:00:00+00:00"
TEN = ["torv-kritt", "torv-sot", "torv-smor", "torv-rust", "torv-mose", "rav-gull", "rav-nype", "rav-fjord", "rav-siv"]
COLOURS = ((34.0, -4.0, 14.0), (60.0, -2.0, 34.0), (80.0, 2.0, 14.0))
HEADERS = {"HX-Request": "true"}


def searcher(at, some):
    where = Where(GROUNDS["white"], 16.0, CLEARED, light("D65"))
    own = [SHELF[TEN[one]] for one in some]
    paints, drops = [one.paint for one in own], [one.drop_ml for one in own]
    aim = np.array(COLOURS[at])
    return Search(aim, paints, drops, where, most_paints=3, most_drops=10, dilution=0.3)


def nearest(at, some):
    *_, found = searcher(at, some).steps()
    return min(one.delta_e for one in found.matches)


def test_no_fewer_bottles_of_a_small_shelf_would_do_and_each_mix_is_what_it_is_said_to_be():
    every = range(len(TEN))
    *_, found = fewest(3, searcher, plain=every, every=every, closeness=2.5)
    for at, mix in enumerate(found.mixes):
        assert {own for own, _ in mix.parts} <= found.bottles
        assert mix.delta_e == pytest.approx(searcher(at, every).judge.exactly([mix.parts])[0].delta_e)
        assert mix.delta_e <= max(2.5, nearest(at, every) + 0.3)
    limits = [max(2.5, one.delta_e) for one in found.mixes]
    for fewer in combinations(every, len(found.bottles) - 1):
        assert any(nearest(at, fewer) > limits[at] for at in range(3)), fewer


def test_the_union_of_one_set_each_is_the_smallest_there_is():
    chance = np.random.default_rng(4)
    for _ in range(30):
        choices = [
            [(frozenset(chance.choice(8, chance.integers(1, 4), replace=False).tolist()), 1.0) for _ in range(5)]
            for _ in range(3)
        ]
        best = min(len(a | b | c) for (a, _) in choices[0] for (b, _) in choices[1] for (c, _) in choices[2])
        assert len(smallest_union(choices)) == best


def test_the_page_shows_each_colour_beside_its_mix_and_pours_it(bench):
    with connected(bench) as store:
        typed = [targets.typed(store, text, name, at=AT) for name, text in (("back", "34 -4 14"), ("flank", "62 2 34"))]
        tasks = Tasks(bench)
        with pytest.raises(InvalidInput, match="2 to 8 targets; 1 chosen"):
            several.start(store, tasks, typed[:1])
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        assert "Which colours?" in client.get("/match/together").text
        client.post("/match/together", data={"target": typed}, headers=HEADERS).raise_for_status()
        task = several.now(client.app.state.tasks)
        assert task.wait(120)
        assert task.problem == ""
        page = client.get("/match/together", headers=HEADERS).text
        assert "bottles bring all 2 colours within dE 1." in re.sub("<[^>]*>", "", page)
        assert page.index(">back<") < page.index(">flank<")
        assert "bottles bring" not in client.get(f"/match/together?target={typed[0]}").text  # that is of others
        parts = page.split('name="parts" value="')[1].split('"')[0]
        client.post("/match/pour", data={"parts": parts}, headers=HEADERS).raise_for_status()
    with connected(bench) as store:
        poured = {f"{one.bottle}x{one.drops}" for one in contents(store).draft.parts}
        assert poured >= set(parts.split("-"))  # and what thins it
