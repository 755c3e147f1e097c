"""A made-up one of each thing that is a row of a table: put in before anything else is loaded, and seen everywhere.

Run by test_to_add.py in a process of its own: tables are read when modules are loaded.
"""

# ruff: noqa: E402

import json
import sys
import traceback
from dataclasses import replace
from pathlib import Path

from diachrom.core.bait import masks, openings
from diachrom.core.bait.mask import Field
from diachrom.core.film import kinds

kinds.KINDS["stone"] = replace(
    kinds.KINDS["opaque"],
    key="stone",
    words="stone chip",
    note="rough to the touch",
    heard=("stonechip",),
    other_tongues="steinchen",
    decides=99,
    nozzle_mm=0.8,
)
masks.MASKS["dashes"] = masks.MaskKind(
    "dashes",
    "dashes in a row",
    openings.comb,
    (Field("size_mm", "from dash to dash", "mm", 0.1, 60, 6.0), Field("gap_mm", "dash", "mm", 0.1, 60, 2.0)),
    pressed=True,
)

from kit.recorded_reader import Recording, SerialReader
from starlette.testclient import TestClient

from diachrom.core.bait import checks
from diachrom.core.bait.checks.look import Found
from diachrom.core.bait.plan import Layer
from diachrom.core.schedule.steps import Laid, Ways, steps
from diachrom.store.connection import connected, writing
from diachrom.web.app import create_app
from diachrom.work.files import exporting, importing
from diachrom.work.kit.devices import Devices
from diachrom.work.plan import plans

checks.CHECKS["made-up"] = checks.Check(
    "made-up",
    "Painted on a Monday",
    lambda look: iter([Found("It is a Monday.", (seen.number,), seen.at, ()) for seen in look.painting[:1]]),
    "Mondays are dull.",
)
exporting.FORMS["list"] = exporting.Form("list", "names, a line each", "text/plain", lambda store, at: b"names")
importing.INCOMING.insert(
    0,
    importing.Incoming(
        lambda start, content: start.startswith(b"%LIST"),
        lambda *_: importing.Read("x", "a list of names", (), (), (), None),
    ),
)


def kind(client, store):
    """In lists, forms, guesses, tables, drying, thinning, labels and what goes out."""
    assert '<option value="stone"' in client.get("/shelf/new").text
    read = client.post("/shelf/start/read", data={"bottles": "Grus stonechip 30 ml dark grey"}).text
    assert "stone chip" in read
    guess = client.post("/api/guess", json={"kind": "stone", "srgb": "#445533", "hides": 0.9})
    assert guess.status_code == 200, guess.text
    table = b"Name,Line,Kind,Size ml,Left ml,Colour\nGrus,Rekke,Steinchen,30,12,#556644\n"
    with connected(store) as connection, writing(connection):
        importing.read(connection, "more.csv", table).write(connection, at="2026-11-27T10:00:00+00:00")
    shelf = client.get("/shelf?q=grus").text
    assert "stone chip" in shelf
    assert "stone chip" in client.get("/shelf/labels?q=grus").text
    assert b"stone" in client.get("/files/shelf.csv").content
    assert 'form="dries-stone"' in client.get("/orders/bench").text
    with connected(store) as connection:
        bottle = connection.execute(
            "SELECT bottle.id FROM bottle JOIN paint ON paint_id = paint.id WHERE kind = 'stone'"
        )
        bottle = bottle.fetchone()[0]
    client.post("/mix/new")
    client.post("/mix/add", data={"bottle": bottle})
    assert "clog a 0.3 mm nozzle: take 0.8 mm" in client.get("/mix").text
    assert "Usual for it: 35 %" in client.get("/amounts").text


def mask(client, store):
    """In the form of a layer, drawn, sprayed through, timed."""
    assert client.get("/plan/masks/dashes.png").content.startswith(b"\x89PNG")
    edited = client.post("/plan/2/layers/2", data={"kind": "dashes"}, headers={"HX-Request": "true"}).text
    with connected(store) as connection:
        plan = plans.now(connection, 2).plan
    layer = plan.layer(2)
    assert 'value="dashes"' in edited
    assert (layer.mask.kind, layer.mask.size_mm) == ("dashes", 6.0)
    assert "from dash to dash" in edited.lower()
    whole = [Laid(layer, "dashes", "opaque", "recipe:1:1", 8.0)]
    assert any(step.kind == "mask" for step in steps(replace(plan, layers=(layer,)), whole, Ways()))
    assert Layer(0, mask=masks.MASKS["dashes"].usual()).mask.gap_mm == 2.0


def check(client, store):
    assert "Painted on a Monday" in client.get("/plan/2/checks").text


def file_format(client, store):
    assert "names, a line each" in client.get("/files").text
    assert client.get("/files/shelf.list").content == b"names"
    with connected(store) as connection:
        assert importing.read(connection, "x", b"%LIST\nGrus").what == "a list of names"


def device(client, store):
    devices = client.app.state.devices
    client.app.state.devices = Devices(
        {**devices.readers, "serial": SerialReader(Recording())}, devices.scales, devices.camera, devices.hygrometers
    )
    assert "The serial reader" in client.get("/contrast-cards/1").text


SORTS = (kind, mask, check, file_format, device)

if __name__ == "__main__":
    folder, wrong = Path(sys.argv[1]), {}
    with TestClient(create_app(folder), base_url="http://127.0.0.1") as client:
        for sort in SORTS:
            try:
                sort(client, folder)
            except Exception:  # each sort is told of by itself
                wrong[sort.__name__] = traceback.format_exc()
    print(json.dumps(wrong))
