"""A whole bench out as one file and into an empty folder: equal to the row, or nothing and a sentence."""

import csv
import hashlib
import io
import json
import random
import zipfile
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from functools import cache

import pytest
from at_bench import over_plan_with
from PIL import Image
from starlette.testclient import TestClient

from diachrom.errors import InvalidInput
from diachrom.exchange import photos
from diachrom.exchange import whole as form
from diachrom.store import mist, settings, uploads
from diachrom.store import orders as stored
from diachrom.store import whole as rows
from diachrom.store.connection import connected, writing
from diachrom.store.migrate import migrate
from diachrom.store.schema import LATEST
from diachrom.web.app import create_app
from diachrom.work.access.auth import Auth
from diachrom.work.files import checking, whole
from diachrom.work.finish import stock
from diachrom.work.kit import bench_settings
from diachrom.work.kit.opened import opened
from diachrom.work.log import entries, filling
from diachrom.work.orders import orders

AT = "2026-11-28T18:00:00+00:00"


def everything(folder):
    with connected(folder) as store:
        found = {one.name: (list(one.columns), list(one.rows)) for one in rows.every(store)}
    del found["revision"]  # its counters go on where they were
    return found


@pytest.fixture
def empty(tmp_path_factory):
    folder = tmp_path_factory.mktemp("empty")
    migrate(folder)
    return folder


def brought(folder, content):
    return whole.bring(folder, "bench.zip", io.BytesIO(content))


@pytest.fixture
def out(bench):
    with opened(bench) as store:
        return whole.out(store, at=AT)


def photo(seed):
    picture = io.BytesIO()
    Image.effect_noise((60, 40), seed).convert("RGB").save(picture, "PNG")
    return picture.getvalue()


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_a_bench_comes_back_equal_to_the_row(bench, on, empty, seed):
    """Sessions with drops and slips, entries, faults and photos, by chance."""
    dice = random.Random(seed)
    for _ in range(2):
        hand = over_plan_with(on)(plan=dice.randint(1, 6), baits=dice.randint(1, 3))
        for _ in range(dice.randint(3, 14)):
            here = hand.here
            if here.pours and dice.random() < 0.7:
                hand.does("tap", step=here.key, bottle=dice.choice(here.pours).bottle)
            hand.goes_on()
        numbers = on(filling.end, hand.number, at=AT)
        for number in numbers:
            on(entries.tell_fault, number, "chipped", "æ “x”\n=1+1", "", at=AT)
            on(entries.add_photo, number, "left", "x.png", photo(dice.randint(10, 90)), at=AT)
    before = everything(bench)
    with opened(bench) as store:
        content = whole.out(store, at=AT)
    count = brought(empty, content)
    assert everything(empty) == before
    assert count == sum(len(own) for _, own in before.values()) + 4  # counters
    assert checking.check_folder(empty) == checking.check_folder(bench)
    # What stands there goes on: ledgers count, saved versions stay.
    with opened(empty) as store:
        assert whole.out(store, at=AT)
    with pytest.raises(InvalidInput, match="holds a bench already"):
        brought(empty, content)


def test_what_was_brought_is_a_bench_that_can_be_worked_at(out, empty):
    brought(empty, out)
    with TestClient(create_app(empty), base_url="http://127.0.0.1") as client:
        for path in ("/home", "/shelf", "/bench/1", "/log", "/plan/1", "/orders/1"):
            assert client.get(path).status_code == 200
        before = client.get("/bottles/22").text
        client.post("/mix/pour", data={"bottle": 22, "drops": 1})
        client.post("/bench/1/happen", data={"kind": "next", "value": "all"})
        assert client.get("/bottles/47").status_code == 200
        assert before
    with connected(empty) as store:
        left, entered = (
            store.execute(query).fetchone()[0]
            for query in (
                "SELECT left_ml FROM bottle WHERE id = 47",
                "SELECT sum(ml) FROM stock_entry WHERE bottle_id = 47",
            )
        )
        assert left == pytest.approx(entered)  # the ledger's trigger is there again


def test_calendars_of_orders_go_out_with_it_and_come_in_as_nothing(bench, empty):
    with opened(bench) as store:
        content = whole.out(store, at=AT, calendars={1: b"BEGIN:VCALENDAR"})
    assert zipfile.ZipFile(io.BytesIO(content)).read("calendars/order-1.ics") == b"BEGIN:VCALENDAR"
    brought(empty, content)
    assert everything(empty) == everything(bench)


def test_log_and_ledger_are_tables_for_people_and_no_formulas(bench, on):
    on(entries.new, {"name": "=1+1", "customer": "@x"}, at=AT)
    with opened(bench) as store:
        archive = zipfile.ZipFile(io.BytesIO(whole.out(store, at=AT)))
    log = list(csv.reader(io.StringIO(archive.read("csv/log.csv").decode("utf-8-sig"))))
    assert len(log) == 62
    assert any(cell.endswith("=1+1") and not cell.startswith("=") for row in log for cell in row)
    ledger = list(csv.reader(io.StringIO(archive.read("csv/ledger.csv").decode("utf-8-sig"))))
    assert len(ledger) - 1 == len(everything(bench)["stock_entry"][1])


def changed(content, change):
    """A ZIP with its files changed by `change(files)`, its checksums as they then are."""
    archive = zipfile.ZipFile(io.BytesIO(content))
    files = {one: archive.read(one) for one in archive.namelist()}
    manifest = json.loads(files.pop("manifest.json"))
    files = change(files, manifest) or files
    manifest["files"] = {
        name: {"sha256": hashlib.sha256(own).hexdigest(), "bytes": len(own)} for name, own in files.items()
    }
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("manifest.json", json.dumps(manifest))
        for name, own in files.items():
            archive.writestr(name, own)
    return made.getvalue()


def _table(name, change):
    def changing(files, manifest):
        told = json.loads(files[f"tables/{name}.json"])
        change(told)
        files[f"tables/{name}.json"] = json.dumps(told).encode()

    return changing


BAD = {
    "its middle cut": (lambda content: content[: len(content) // 2], "no ZIP, or it is cut off"),
    "no zip": (lambda content: b"PK nothing", "no ZIP"),
    "another version": (
        lambda c: changed(c, lambda files, manifest: manifest.update(data=LATEST + 1)),
        "a later version",
    ),
    "an older one": (lambda c: changed(c, lambda files, manifest: manifest.update(data=3)), "an older version"),
    "another form": (
        lambda c: changed(c, lambda files, manifest: manifest.update(format="x")),
        "no bench of this form",
    ),
    "a path outside": (lambda c: changed(c, lambda files, _: files.update({"../evil.json": b"{}"})), "does not belong"),
    "a bomb": (
        lambda c: changed(c, lambda files, _: files.update({"csv/bomb.csv": b"0" * 40_000_000})),
        "larger than it can",
    ),
    "a picture that is none": (
        lambda c: changed(c, lambda files, _: files.update({"pictures/photo-1.png": b"x"}) or _point(files)),
        "is no picture that is read",
    ),
    "a table left out": (
        lambda c: changed(c, lambda files, _: files.pop("tables/bottle.json") and None),
        "other tables",
    ),
    "another column": (
        lambda c: changed(c, _table("bottle", lambda told: told["columns"].append("x"))),
        "other columns",
    ),
    "a row of nobody": (
        lambda c: changed(c, _table("log_fault", lambda told: told["rows"].append([99, 999, "x", "chipped", ""]))),
        "belong to rows that it has not",
    ),
    "a row that cannot be": (
        lambda c: changed(c, _table("log_entry", lambda told: told["rows"][0].__setitem__(7, -5))),
        "Rows of it cannot be",
    ),
    "an integer that no table holds": (
        lambda c: changed(c, _table("bottle", lambda told: told["rows"][0].__setitem__(0, 2**70))),
        "Rows of it cannot be",
    ),
    "an amount beyond all paint": (
        lambda c: changed(c, _table("stock_entry", lambda told: told["rows"][0].__setitem__(_ml(told), 1e308))),
        r"its ledger comes to 1e\+308 ml",
    ),
    "a yes for an amount": (
        lambda c: changed(c, _table("stock_entry", lambda told: told["rows"][0].__setitem__(_ml(told), True))),
        "a yes or no",
    ),
    "no number": (
        lambda c: changed(c, lambda files, _: files.update({"tables/tin.json": b'{"columns": [], "rows": [[NaN]]}'})),
        "cannot be read",
    ),
    "a picture that unpacks to half a gigabyte": (
        lambda c: changed(c, lambda files, _: files.update({"pictures/photo-1.png": large()}) or _point(files)),
        "13000 x 13000 pixels",
    ),
    "pictures where none are": (
        lambda c: changed(
            c,
            lambda files, _: (
                files.update({"pictures/photo-1.png": b"x"})
                or _table("bottle", lambda told: told["rows"][0].__setitem__(-1, {"picture": "pictures/photo-1.png"}))(
                    files, _
                )
            ),
        ),
        "more pictures, or other ones",
    ),
    "no json": (lambda c: changed(c, lambda files, _: files.update({"tables/bottle.json": b"{"})), "cannot be read"),
}


def _ml(told):
    return told["columns"].index("ml")


@cache
def large():
    picture = io.BytesIO()
    Image.new("1", (13_000, 13_000)).save(picture, "PNG")
    return picture.getvalue()


def _point(files):
    told = json.loads(files["tables/photo.json"])
    told["rows"].append([9, AT, "x", 1, 1, {"picture": "pictures/photo-1.png"}])
    files["tables/photo.json"] = json.dumps(told).encode()
    return files


@pytest.mark.parametrize("bad", BAD)
def test_a_bad_file_is_refused_with_a_sentence_and_the_folder_stays_empty(out, empty, bad):
    make, words = BAD[bad]
    before = everything(empty)
    with pytest.raises(InvalidInput, match=words):
        brought(empty, make(out))
    assert everything(empty) == before
    brought(empty, out)  # and takes the right one after it


def test_photos_come_in_as_uploads_do_with_nothing_of_their_maker(out, empty):
    """Turned upright, no longer than photos are kept, without the place and the device that were written in them."""
    picture = io.BytesIO()
    exif = Image.Exif()
    exif[0x010F], exif[0x0112] = "Somebody's camera", 6
    Image.effect_noise((3000, 1500), 60).convert("RGB").save(picture, "JPEG", exif=exif)

    def with_photo(files, _):
        files["pictures/photo-1.png"] = picture.getvalue()
        return _point(files)

    brought(empty, changed(out, with_photo))
    with connected(empty) as store:
        kept = uploads.photo(store, 9)
    assert (kept.width, kept.height) == photos.size_of(kept.picture) == (700, 1400)
    assert b"Somebody" not in kept.picture


def test_what_belongs_to_the_machine_neither_comes_in_nor_goes(bench, empty):
    with connected(bench) as store, writing(store):
        settings.put(store, {"address": "https://elsewhere.example", "second_folder": "/", "units": "imperial"})
    with connected(empty) as store, writing(store):
        settings.put(store, {"address": "https://own.example"})
    with opened(bench) as store:
        content = whole.out(store, at=AT)
    Auth(empty).set_passphrase("four plain words here")
    token = Auth(empty).pair_here("this one", at=AT)
    brought(empty, content)
    with connected(empty) as store:
        found = settings.every(store)
    assert (found["address"], found["units"], "second_folder" in found) == ("https://own.example", "imperial", False)
    assert Auth(empty).locked
    assert Auth(empty).device(token).here


@pytest.mark.parametrize("what", ["order", "eyes", "setting"])
def test_what_holds_anything_at_all_is_not_empty(out, empty, what):
    on_it = {
        "order": lambda store: orders.new(store, "Seven", at=AT),
        "eyes": lambda store: stock.put_eyes(store, "6", "gold", "4"),
        "setting": lambda store: bench_settings.change(store, {"units": "imperial"}),
    }
    with opened(empty) as store:
        on_it[what](store)
    before = everything(empty)
    with pytest.raises(InvalidInput, match="holds a bench already"):
        brought(empty, out)
    assert everything(empty) == before
    with TestClient(create_app(empty), base_url="http://127.0.0.1") as client:
        assert "A whole bench (ZIP)" not in client.get("/files").text


def test_what_was_looked_at_is_as_empty_as_before(out, empty):
    with TestClient(create_app(empty), base_url="http://127.0.0.1") as client:
        for path in ("/", "/shelf", "/mix", "/match", "/plan", "/orders", "/bench", "/log", "/finish", "/settings"):
            client.get(path)
    brought(empty, out)


def test_a_bench_that_would_take_long_is_given_up_and_others_are_answered_meanwhile(out, empty):
    """Rows without end: they are read apart, and end at its bounds."""

    def many(files, _):
        rows = ",".join(map("[{}]".format, range(4_000_000)))
        files["tables/log_entry.json"] = f'{{"columns": [], "rows": [{rows}]}}'.encode()

    content = changed(out, many)
    with TestClient(create_app(empty), base_url="http://127.0.0.1") as client, ThreadPoolExecutor(1) as beside:
        sent = beside.submit(client.post, "/files/bench", files={"bench": ("b.zip", content, "application/zip")})
        answered = 0
        while not sent.done():
            assert client.get("/static/kit.css").status_code == 200
            answered += 1
        assert "of memory: refused" in sent.result().text or "takes more than 10 seconds" in sent.result().text
        assert answered > 3


@pytest.mark.parametrize(("version", "photos"), [(17, "png"), (18, "picture"), (18, "png")])
def test_one_of_before_comes_in_as_what_its_folder_would_have_become(bench, out, empty, version, photos):
    def as_then(files, manifest):
        manifest.update(data=version)
        # Photos were in a column of another name, in the first days of version 18 too.
        told = json.loads(files["tables/photo.json"])
        told["columns"] = [photos if one == "picture" else one for one in told["columns"]]
        files["tables/photo.json"] = json.dumps(told).encode()
        del files["tables/bench_tool.json"]
        since_then = (
            ("bait_order", ["customer"]),
            ("bait_stock", ["why", "line"]),
            ("bottle", ["weighed"]),
            ("log_photo", ["marks"]),
            ("recipe", ["retired"]),
        )
        for table, since in since_then:
            told = json.loads(files[f"tables/{table}.json"])
            kept = [at for at, one in enumerate(told["columns"]) if one not in since]
            told["columns"] = [told["columns"][at] for at in kept]
            told["rows"] = [[row[at] for at in kept] for row in told["rows"]]
            files[f"tables/{table}.json"] = json.dumps(told).encode()

    brought(empty, changed(out, as_then))
    with connected(bench) as then, writing(then):
        then.execute("DELETE FROM bench_tool")  # nobody kept any then
    with connected(empty) as now, connected(bench) as then, writing(now):
        own = stored.every(now)[0]
        assert own.customer == own.name  # one field held both
        stored.change(now, replace(own, customer=stored.every(then)[0].customer))
        # Its profiles were fitted as even films; it goes on so.
        assert mist.now(now).source == "even"
        now.execute("DELETE FROM setting WHERE key = 'mist'")
    assert everything(empty) == everything(bench)
    assert checking.check_folder(empty) == []


def test_a_byte_that_was_turned_is_found(out, empty):
    archive = zipfile.ZipFile(io.BytesIO(out))
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w") as other:
        for name in archive.namelist():
            own = archive.read(name)
            other.writestr(name, own.replace(b"Rav", b"Rov") if name == "tables/paint.json" else own)
    with pytest.raises(InvalidInput, match=r"tables/paint\.json is missing, or is not as it was"):
        brought(empty, made.getvalue())


def test_the_page_gives_it_and_an_empty_bench_takes_it(client, empty):
    answer = client.get("/files/bench.zip")
    assert {"csv/log.csv", "csv/ledger.csv"} < set(zipfile.ZipFile(io.BytesIO(answer.content)).namelist())
    assert answer.headers["content-type"] == "application/zip"
    assert "A whole bench (ZIP)" not in client.get("/files").text
    with TestClient(create_app(empty), base_url="http://127.0.0.1") as other:
        assert "A whole bench (ZIP)" in other.get("/files").text
        sent = other.post(
            "/files/bench", files={"bench": ("b.zip", answer.content, "application/zip")}, follow_redirects=False
        )
        assert sent.headers["location"] == "/home"
        twice = other.post(
            "/files/bench",
            files={"bench": ("b.zip", answer.content, "application/zip")},
            headers={"HX-Request": "true"},
        )
        assert twice.status_code == 422
        assert "holds a bench already" in twice.text


def test_bounds_are_looked_at_before_anything_is_read(monkeypatch, out, tmp_path):
    monkeypatch.setattr(form, "MOST_FILES", 3)
    (tmp_path / "x.zip").write_bytes(out)
    with pytest.raises(InvalidInput, match="more than a bench can have"):
        form.Reader("x", tmp_path / "x.zip", oldest=LATEST, latest=LATEST)
