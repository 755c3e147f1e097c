"""The network's door: nobody without a token comes in, tokens can be taken back, and guesses are slow."""

import contextlib
import socket
import ssl
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress

import pytest
from starlette.testclient import TestClient

from diachrom.errors import InvalidInput, NotFound
from diachrom.store import backups, settings
from diachrom.store.connection import connected, database, writing
from diachrom.store.whole import names
from diachrom.web.app import create_app
from diachrom.web.kit import timeouts
from diachrom.web.server import running
from diachrom.work.access import auth, certificate
from diachrom.work.access.auth import Auth, TooSoon
from diachrom.work.files.backups import restore
from diachrom.work.kit import bench_settings
from diachrom.work.kit.code_photos import place_of

AT = "2026-11-27T10:00:00+00:00"
WORDS = "four plain words here"
HOST = "http://192.0.2.7:8765"
PHONE = {"user-agent": "Mozilla/5.0 (iPhone)", "origin": HOST}


@pytest.fixture
def own(bench, clock):
    return Auth(bench, clock)


@pytest.fixture
def outside(bench):
    """Somebody on the network, at a server that is shared there."""
    app = create_app(bench)
    app.state.names.network = HOST
    app.state.door.set_passphrase(WORDS)
    with TestClient(app, base_url=HOST, follow_redirects=False, headers={"user-agent": "Mozilla/5.0"}) as client:
        yield client


def test_a_code_is_used_once_and_for_five_minutes(own, clock):
    code = own.new_code()
    token = own.pair(code, "  a   phone ", at=AT)
    assert own.device(token)
    assert [one.name for one in own.every()] == ["a phone"]
    with pytest.raises(InvalidInput, match="used already"):
        own.pair(code, "another", at=AT)
    late = own.new_code()
    clock.wait(301)
    assert not own.holds(late)
    with pytest.raises(InvalidInput, match="older than five minutes"):
        own.pair(late, "x", at=AT)
    own.send_away(own.every()[0].number)
    assert not own.device(token)
    with pytest.raises(NotFound):
        own.send_away(99)


def test_the_passphrase_is_kept_as_argon2_tried_slowly_and_a_new_one_sends_all_away(own, clock, bench):
    with pytest.raises(InvalidInput, match="8 to 200"):
        own.set_passphrase("short")
    own.set_passphrase(WORDS)
    with connected(bench) as store:
        assert store.execute("SELECT digest FROM passphrase").fetchone()[0].startswith("$argon2id$")
    token = own.sign_in(WORDS, "", at=AT)
    assert own.device(token)
    for _ in range(auth.TRIES):
        with pytest.raises(InvalidInput, match="not the passphrase"):
            own.sign_in("guess", "x", at=AT)
    with pytest.raises(TooSoon, match="wait 60 seconds"):
        own.sign_in(WORDS, "x", at=AT)
    clock.wait(61)
    with pytest.raises(InvalidInput, match="not the passphrase"):
        own.sign_in("guess", "x", at=AT)
    with pytest.raises(TooSoon, match="wait 120 seconds"):
        own.sign_in(WORDS, "x", at=AT)
    assert own.device(own.sign_in(WORDS, "x", at=AT, source="198.51.100.9"))  # from elsewhere nobody waits
    clock.wait(121)
    own.sign_in(WORDS, "x", at=AT)
    own.set_passphrase("other plain words")
    assert not own.device(token)
    assert own.every() == []


def test_of_two_hundred_guesses_at_once_five_are_tried(own, monkeypatch):
    own.set_passphrase(WORDS)
    tried = []
    monkeypatch.setattr(auth, "_is_right", lambda kept, text: bool(tried.append(text)))

    def guess(text):
        try:
            own.sign_in(text, "x", at=AT, source="198.51.100.4")
        except InvalidInput as error:
            return type(error)

    with ThreadPoolExecutor(50) as many:
        answers = list(many.map(guess, map(str, range(200))))
    assert len(tried) == auth.TRIES
    assert answers.count(TooSoon) == 200 - auth.TRIES


def test_whoever_is_sent_away_elsewhere_is_away_here_at_once(own, clock, bench):
    """By another server of the folder, or a command beside it."""
    own.set_passphrase(WORDS)
    first, second, code = own.sign_in(WORDS, "a", at=AT), own.sign_in(WORDS, "b", at=AT), own.new_code()
    other = Auth(bench, clock)
    assert other.holds(code)
    other.send_away(next(one.number for one in other.every() if one.name == "a"))
    assert not own.device(first)
    assert own.device(second)
    other.set_passphrase("other plain words")
    assert not own.device(second)
    third = other.pair(code, "c", at=AT)
    assert own.device(third).name == "c"


def test_a_backup_put_back_lets_nobody_in_again_and_keeps_the_passphrase(own, bench):
    own.set_passphrase(WORDS)
    gone, there = own.sign_in(WORDS, "gone", at=AT), own.pair(own.new_code(), "there", at=AT)
    with connected(bench) as store:
        bench_settings.change(store, {"address": "https://then.example"})
    backups.take(bench, bench / "backups" / "day-2026-11-01.sqlite3")
    own.set_passphrase("other plain words")
    later = own.pair(own.new_code(), "later", at=AT)
    with connected(bench) as store:
        bench_settings.change(store, {"address": "https://now.example", "units": "imperial"})
    restore(bench, "day-2026-11-01.sqlite3")
    assert not own.device(gone)
    assert not own.device(there)
    assert own.device(later).name == "later"
    with pytest.raises(InvalidInput, match="not the passphrase"):
        own.sign_in(WORDS, "x", at=AT)
    with connected(bench) as store:
        now = bench_settings.read(store)
    assert (now.address, now.units) == ("https://now.example", "metric")


def test_tokens_are_nowhere_in_the_file_and_never_go_out_with_the_bench(own, bench):
    token, link = own.pair(own.new_code(), "phone", at=AT), own.link(14, at=AT)
    own.set_passphrase(WORDS)
    with connected(bench) as store:
        store.execute("PRAGMA query_only = OFF")
        assert {"device", "passphrase"} & set(names(store)) == set()
    content = b"".join(path.read_bytes() for path in database(bench).parent.glob("diachrom.sqlite3*"))
    assert token.encode() not in content
    assert link.encode() not in content
    assert WORDS.encode() not in content


def test_nobody_unknown_sees_anything_but_the_door(outside):
    for path in ("/", "/home", "/mix", "/shelf", "/access", "/openapi.json", "/files/bench.zip"):
        assert outside.get(path).headers.get("location") == "/sign-in", path
    assert outside.get("/api/paints").status_code == 401
    assert outside.post("/mix/add", data={"bottle": "22"}, headers=PHONE).status_code == 401
    assert outside.get("/mix", headers={"sec-fetch-mode": "cors"}).status_code == 401
    assert outside.get("/mix", headers={"cookie": "device=guess"}).status_code == 303
    assert outside.get("/sign-in").status_code == 200
    assert outside.get("/mix", headers={"host": "elsewhere.example"}).status_code == 421


def test_a_device_signs_in_taps_and_is_sent_away(outside):
    wrong = outside.post("/sign-in", data={"passphrase": "no"}, headers=PHONE)
    assert (wrong.status_code, "not the passphrase" in wrong.text) == (403, True)
    answer = outside.post("/sign-in", data={"passphrase": WORDS}, headers=PHONE)
    cookie = answer.headers["set-cookie"]
    assert answer.headers["location"] == "/home"
    assert "HttpOnly" in cookie
    assert "SameSite=strict" in cookie
    assert outside.get("/home").status_code == 200
    added = outside.post("/mix/add", data={"bottle": "22"}, headers={**PHONE, "HX-Request": "true"})
    assert added.status_code == 200
    assert (
        outside.post("/mix/add", data={"bottle": "22"}, headers={"origin": "http://other.example"}).status_code == 403
    )
    assert "the machine itself decides" in outside.get("/access").text
    gate = outside.app.state.door
    gate.send_away(gate.every()[0].number)
    assert outside.get("/home").headers["location"] == "/sign-in"
    assert outside.post("/mix/add", data={"bottle": "22"}, headers=PHONE).status_code == 401


def test_pairing_by_the_code_is_asked_first_and_a_link_shows_one_page_only(outside):
    gate = outside.app.state.door
    code = gate.new_code()
    assert "What this device is called" in outside.get(f"/pair/{code}").text
    assert gate.holds(code)
    assert outside.post(f"/pair/{code}", data={"name": "Kari"}, headers=PHONE).headers["location"] == "/home"
    assert [one.name for one in gate.every()] == ["Kari"]
    outside.cookies.clear()
    assert "was used already" in outside.post(f"/pair/{code}", headers=PHONE).text
    link = gate.link(14, at=AT)
    page = outside.get(f"/guest/{link}")
    assert page.status_code == 200
    assert "img-src data:;" in page.headers["content-security-policy"]
    assert "<script" not in page.text
    outside.cookies.set("device", link)
    assert outside.get("/log/14").headers["location"] == "/sign-in"
    gate.send_away(next(one.number for one in gate.every() if one.entry == 14))
    assert outside.get(f"/guest/{link}").status_code == 404


def test_behind_a_proxy_its_https_address_is_ours_and_loopback_is_no_way_round(bench):
    app = create_app(bench)
    with connected(bench) as store:
        bench_settings.change(store, {"address": "https://bench.example"})
    app.state.door.set_passphrase(WORDS)
    forwarded = {"x-forwarded-for": "198.51.100.4", "x-forwarded-proto": "https"}
    with TestClient(app, base_url="http://127.0.0.1", follow_redirects=False, headers=forwarded) as client:
        assert client.get("/home").headers["location"] == "/sign-in"
        own = {"host": "bench.example", "origin": "https://bench.example"}
        assert client.get("/home", headers={"host": "bench.example"}).headers["location"] == "/sign-in"
        assert client.post("/sign-in", data={"passphrase": WORDS}, headers=own).status_code == 303
        other = {"host": "bench.example", "origin": "http://bench.example"}
        assert client.post("/sign-in", data={"passphrase": WORDS}, headers=other).status_code == 403


def test_a_browsers_form_without_a_word_of_where_it_is_from_is_refused(client):
    named = {"user-agent": "Mozilla/5.0"}
    data = {"bottle": "22"}
    assert client.post("/mix/add", data=data, headers=named).status_code == 403
    assert client.post("/mix/add", data=data, headers={**named, "referer": "http://x.example/"}).status_code == 403
    assert client.post("/mix/add", data=data, headers={**named, "referer": "http://["}).status_code == 403
    own = {**named, "referer": "http://127.0.0.1/mix"}
    assert client.post("/mix/add", data=data, headers=own, follow_redirects=False).status_code == 303
    assert client.post("/mix/add", data=data, follow_redirects=False).status_code == 303  # a script by hand


def test_costly_addresses_are_not_followed_from_elsewhere(client):
    link = {"sec-fetch-site": "cross-site", "sec-fetch-mode": "navigate", "sec-fetch-dest": "document"}
    for dest, status in (("document", 200), ("empty", 200), ("iframe", 403)):  # empty: handed on by our worker
        assert client.get("/plan/1", headers={**link, "sec-fetch-dest": dest}).status_code == status, dest
    for path in ("/plan/1/picture.png", "/plan/1/skin", "/files/bench.zip", "/files/shelf.xlsx", "/plan/1/picture.svg"):
        for dest in ("document", "empty"):
            assert client.get(path, headers={**link, "sec-fetch-dest": dest}).status_code == 403, path


def test_nothing_is_shared_without_a_passphrase_and_the_page_says_so(client):
    page = client.get("/access").text
    assert "Set a passphrase first" in page
    assert "Pair a device" not in page
    client.post("/access/passphrase", data={"passphrase": WORDS})
    assert "Pair a device" in client.get("/access").text
    assert "cannot be shared" in client.post("/access/share", data={"on": "yes"}).text
    shown = client.post("/access/pair").text
    assert "/pair/" in shown
    assert "<svg" in shown
    assert "is no address such as" in client.post("/access/address", data={"address": "bench"}).text
    client.post("/access/address", data={"address": "https://Bench.example/"})
    assert 'value="https://bench.example"' in client.get("/access").text


@pytest.mark.parametrize("odd", ["http://[", "http://x:99999", "\0", "//"])
def test_an_odd_address_or_folder_in_the_settings_takes_no_page_down(bench, odd):
    with connected(bench) as store, writing(store):
        settings.put(store, {"address": odd, "second_folder": odd, "headings": odd})
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        for path in ("/access", "/files/backups", "/settings", "/shelf/labels?bottle=22"):
            assert client.get(path).status_code == 200, path
        answer = client.post("/files/import", files={"file": ("a.csv", b"name,kind,colour\nTang,opaque,#445533\n")})
        assert "new paint" in answer.text


def test_a_certificate_of_its_own_holds_its_address_and_is_kept(bench):
    first, key = certificate.certificate(bench, "192.0.2.7")
    assert key.stat().st_mode & 0o077 == 0
    told = certificate.fingerprint(first)
    assert len(told) == 95
    certificate.certificate(bench, "192.0.2.7")
    assert certificate.fingerprint(first) == told
    certificate.certificate(bench, "192.0.2.8")
    assert certificate.fingerprint(first) != told


@pytest.mark.parametrize(("host", "trusted"), [("192.168.1.7", True), ("bench.local", True), ("192.0.2.7", False)])
def test_who_trusts_its_authority_trusts_it_on_a_home_network_and_nowhere_else(bench, host, trusted):
    files = certificate.certificate(bench, host)
    server, client = ssl.create_default_context(ssl.Purpose.CLIENT_AUTH), ssl.create_default_context()
    server.load_cert_chain(*files)
    client.load_verify_locations(certificate.authority(bench))

    def shakes_hands(name):
        to_server, to_client = ssl.MemoryBIO(), ssl.MemoryBIO()
        ends = [
            server.wrap_bio(to_server, to_client, server_side=True),
            client.wrap_bio(to_client, to_server, server_hostname=name),
        ]
        for end in [*reversed(ends), *ends, *ends]:
            with contextlib.suppress(ssl.SSLWantReadError):
                end.do_handshake()
        return ends[1].version()

    if trusted:
        assert shakes_hands(host) == "TLSv1.3"
    else:
        with pytest.raises(ssl.SSLCertVerificationError):
            shakes_hands(host)
    with pytest.raises(ssl.SSLCertVerificationError):
        shakes_hands("bank.example")
    assert (bench / "tls/authority-key.pem").stat().st_mode & 0o077 == 0


def test_the_authority_is_given_to_anybody_and_what_a_device_kept_goes_when_it_is_sent_away(outside):
    assert b"BEGIN CERTIFICATE" in outside.get("/access/authority.crt").content
    assert outside.get("/access/app.webmanifest").json()["start_url"] == "/"
    assert outside.get("/access/worker.js").headers["content-type"].startswith("text/javascript")
    assert "X-Forget" not in outside.get("/home").headers  # never known
    away = outside.get("/home", headers={"cookie": "device=was-known"})
    assert (away.headers["X-Forget"], away.headers["Clear-Site-Data"]) == ("1", '"cache", "storage"')
    assert "forget.js" in outside.get("/sign-in", headers={"cookie": "device=was-known"}).text
    assert "forget.js" not in outside.get("/sign-in").text


@pytest.mark.parametrize(
    ("text", "path"),
    [
        ("http://192.0.2.7:8765/bottles/22", "/bottles/22"),
        ("https://old.example/recipes/10", "/recipes/10"),
        ("bottles 22", "/bottles/22"),
        ("recipes 10?card=3&sheet=00ff", "/recipes/10"),
        ("http://x.example/test-cards/18/sheet", "/test-cards/18/sheet"),
        ("http://x.example/access", None),
        ("//x.example/bottles/22", None),
        ("javascript:alert(1)", None),
        ("http://[", None),
    ],
)
def test_a_code_leads_to_a_page_of_this_bench_or_nowhere(text, path):
    place = place_of(text)
    assert (place and place.path) == path


def test_connections_that_never_ask_keep_nobody_out(bench, monkeypatch):
    monkeypatch.setattr(timeouts, "MOST_HALF_OPEN", 20)
    monkeypatch.setattr(timeouts, "ASKS_WITHIN_S", 0.5)
    with running(bench) as address:
        port = int(address.rpartition(":")[2])
        silent = [socket.create_connection(("127.0.0.1", port)) for _ in range(60)]
        for one in silent[::2]:
            one.sendall(b"GET / HTTP/1.1\r\nHost: 127.0.0.1\r\nX: ")
        with socket.create_connection(("127.0.0.1", port)) as asking:
            asking.sendall(b"GET /terms HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n")
            asking.settimeout(20)
            assert asking.recv(15) == b"HTTP/1.1 200 OK"
        deadline = time.monotonic() + 20
        for one in silent:
            one.settimeout(max(deadline - time.monotonic(), 0.1))
            with suppress(ConnectionResetError):
                assert one.recv(1) == b""
            one.close()
