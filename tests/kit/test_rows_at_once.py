"""Pages read rows at once: how many statements a page takes does not grow with what is on it."""

from contextlib import contextmanager

import pytest
from starlette.testclient import TestClient

from diachrom.core.bait.plan import Layer, Plan
from diachrom.core.mix.draft import Draft, Part
from diachrom.store import (
    bottles,
    connection,
    orders,
    paints,
    planned_mixes,
    plans,
    recipes,
    shelf_sheets,
    spray_out_cards,
    targets,
    weighings,
)
from diachrom.store.targets import SeenAs
from diachrom.web.app import create_app
from diachrom.work.kit.opened import opened

AT = "2026-11-25T10:00:00+00:00"
MOST, MORE = 25, 14
PAGES = (
    *("/mix", "/mix/next", "/mix/find?q=rav", "/pour", "/family", "/amounts", "/compare"),
    *(
        "/shelf",
        "/shelf/new",
        "/shelf/labels",
        "/shelf/shopping",
        "/shelf/here",
        "/bottles/1",
        "/bottles/1/drops",
        "/files",
    ),
    *("/match", "/match/found", "/recipes", "/recipes/10", "/recipes/cards", "/learning", "/record", "/trainer"),
    *("/test-cards", "/test-cards/18", "/test-cards/18/sheet", "/contrast-cards/1", "/paints/rav-gull"),
    *("/paints/rav-gull/effects?before=1&after=1", "/shelf-sheets", "/shelf-sheets/1", "/shelf-sheets/1/sheet"),
    *("/shelf/start", "/shelf/start/next", "/settings", "/terms", "/access", "/scan", "/files/backups"),
    *(
        "/plan",
        "/plan/blanks",
        "/plan/tools",
        "/plan/practice",
        "/plan/1?layer=1",
        "/plan/1/versions",
        "/plan/1/print",
        "/plan/1/compare",
        "/plan/1/reference",
        "/plan/1/checks",
    ),
    *("/orders", "/orders/1", "/orders/1/paint", "/orders/1/print", "/orders/1/schedule", "/orders/bench"),
    *("/bench", "/bench/1", "/bench/1/effect", "/bench/1/sides", "/finish", "/finish/1"),
    "/finish/faults?session=1&fault=tacky",
    *(
        "/home",
        "/log",
        "/log/new",
        "/log/14",
        "/log/14/again",
        "/log/14/card",
        "/log/year",
        "/log/answers",
        "/home/search?q=char",
        "/bench/timers",
        "/log?bottle=18",
    ),
    *("/plan/1/skin?rough=1", "/plan/1/picture.png?width=120", "/plan/1/at?u=0.5&v=0.2", "/plan/1/document.json"),
)


@pytest.fixture
def grown(bench):
    """Many more of everything that a list may hold, each of other bottles, lying on another recipe."""
    with connection.connected(bench) as store, connection.writing(store):
        every = bottles.every(store)
        for at in range(MORE):
            parts = tuple(Part(one.id, 2, one.drop_ml) for one in (every[at], every[-1 - at]))
            draft = Draft(parts, name=f"Grown {at}", ground="white" if at % 2 else f"recipe:{1 + at % 9}:1")
            number = recipes.new_recipe(store)
            recipes.add_version(store, draft, recipe=number, parent_version=None, at=AT)
            recipes.add_version(store, draft.over("grey"), recipe=10, parent_version=1, at=AT)
            planned_mixes.put(store, recipe=number, version=1, ml=1.0, at=AT)
            card = spray_out_cards.add(store, draft, [("white", 2)], recipe=number, version=1, at=AT)
            patch = spray_out_cards.patch_of(store, card, "white", 2)
            spray_out_cards.read(store, patch, source="x", lab=(50, 1, 2), predicted=(51, 2, 3), at=AT)
            weighings.add(store, every[at].id, at=AT, drops=20, ml=1.0, source="x")
            seen = SeenAs(f"recipe:{number}:1", clear_coat=True)
            targets.add(store, name="x", source="", seen=seen, labs=[[50, 1, 2]], reflectance=None, at=AT)
            layer = Layer(0, "recipe", f"recipe:{number}:1", region="throat")  # small: it is counted, not looked at
            plan = Plan("x").with_layer(layer).with_layer(layer)
            plans.new(store, plan, did="x", at=AT)
            plans.append(store, plans.now(store, 1), plans.now(store, 1).plan.with_layer(layer), did="x", at=AT)
            plans.add_version(store, 1, plan, parent_version=None, at=AT)
            plans.add_drawing(store, "stencil", "x", {"outlines": [[[0, 0], [1, 0], [1, 1]]]}, at=AT)
        for at in range(MORE):
            other = orders.add(store, name=f"Grown {at}", at=AT)
            for order in (1, other):
                orders.add_line(store, order, 1, 1 + at % 2, ordered=2, baits=2)
        several = [one.id for one in paints.every_record(store) if one.kind in ("opaque", "transparent")]
        shelf_sheets.add(store, several[:24], film_um=2.0, clear_coat=True, at=AT)
        for pair in range(1, 25):
            flat = {"absorption": [0.1] * 36, "scattering": [0.1] * 36, "uncertainty": 0.1, "doubts": []}
            shelf_sheets.found(store, 1, pair, flat)
    return bench


@contextmanager
def statements(monkeypatch):
    """What every connection opened meanwhile is asked for; how it is opened apart."""
    asked, opening = [], connection.open_file

    def open_and_listen(path, *, create=False):
        opened = opening(path, create=create)
        opened.set_trace_callback(asked.append)
        return opened

    with monkeypatch.context() as patch:
        patch.setattr(connection, "open_file", open_and_listen)
        yield asked


@pytest.mark.sweep
@pytest.mark.parametrize("part", range(3))
def test_no_page_asks_more_often_the_more_there_is_on_it(grown, monkeypatch, part):
    counted = {}
    with TestClient(create_app(grown), base_url="http://127.0.0.1") as client:
        with opened(grown) as store:
            assert len(recipes.newest_versions(store)) > MOST
        for page in PAGES[part::3]:
            client.get(page).raise_for_status()  # what is remembered between requests is not what is counted
        client.post("/match/stop")
        for page in PAGES[part::3]:
            with statements(monkeypatch) as asked:
                client.get(page)
            counted[page] = len(asked)
    assert {page: count for page, count in counted.items() if count > MOST} == {}
    assert min(counted.values()) > 3
