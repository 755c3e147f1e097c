"""An address is set for others: strangers come in at loopback too, and the machine's own browser bears a token."""

import re
import socket
import subprocess
import sys
import time
from contextlib import contextmanager
from html import unescape
from pathlib import Path

import httpx2 as httpx
import pytest
from starlette.testclient import TestClient

from diachrom.store.connection import connected, writing
from diachrom.web.app import create_app
from diachrom.web.kit.served_at import note, served_at
from diachrom.web.server import running
from diachrom.work.access.auth import Auth
from diachrom.work.kit import bench_settings

PUBLIC = "https://bench.example"
WORDS = "four plain words here"
FROM_PROXY = {"host": "127.0.0.1", "user-agent": "Mozilla/5.0", "origin": PUBLIC}
PAGE = Path(__file__).parents[2] / "docs/network.md"


@pytest.fixture
def machine(bench):
    with TestClient(create_app(bench), base_url="http://127.0.0.1", follow_redirects=False) as client:
        yield client


@pytest.fixture
def stranger(machine):
    """What a proxy hands on by its usual settings: the host rewritten, and nothing that tells of it."""
    machine.post("/access/passphrase", data={"passphrase": WORDS})
    machine.post("/access/address", data={"address": PUBLIC})
    return TestClient(machine.app, base_url="http://127.0.0.1", follow_redirects=False)


def test_with_an_address_loopback_needs_a_token_and_the_browser_that_set_it_has_one(machine, stranger):
    for path in ("/home", "/mix", "/files/bench.zip"):
        assert stranger.get(path).headers.get("location") == "/sign-in", path
    assert stranger.get("/api/paints").status_code == 401
    assert stranger.post("/access/passphrase", data={"passphrase": "mine from now on"}).status_code == 401
    assert "diachrom open" in stranger.get("/sign-in").text
    assert machine.get("/home").status_code == 200
    assert "a browser of this machine" in unescape(machine.get("/access").text)
    assert machine.post("/access/address", data={"address": ""}).status_code == 200
    assert stranger.get("/home").status_code == 200


def test_another_browser_of_the_machine_is_let_in_by_a_link_that_holds_once(bench, machine, stranger):
    note(bench, "http://127.0.0.1:9")
    with pytest.raises(Exception, match="No server answers at port 9"):
        served_at(bench)
    with socket.create_server(("127.0.0.1", 0)) as listening:
        note(bench, f"http://127.0.0.1:{listening.getsockname()[1]}")
        command = [sys.executable, "-m", "diachrom", "open", "--data", str(bench)]
        said = subprocess.run(command, capture_output=True, text=True, check=True).stdout
    link = re.match(r"http://127\.0\.0\.1:\d+(/pair/\S+)\n", said)[1]
    given = stranger.post(link, data={"name": "the bench's laptop"}).headers["set-cookie"]
    assert "Secure" not in given  # it is asked for at loopback alone
    assert stranger.get("/access").status_code == 200
    assert "the bench's laptop" in unescape(machine.get("/access").text)
    again = TestClient(machine.app, base_url="http://127.0.0.1")
    assert "was used already" in again.post(link).text


def test_who_signed_in_may_not_do_what_only_the_machine_may(stranger):
    answer = stranger.post("/sign-in", data={"passphrase": WORDS}, headers=FROM_PROXY)
    assert (answer.status_code, "Secure" in answer.headers["set-cookie"]) == (303, True)
    token = answer.headers["set-cookie"].partition(";")[0]
    assert stranger.get("/home", headers={"cookie": token}).status_code == 200
    for path in ("/access/passphrase", "/access/pair", "/files/backups/second", "/files/backups/x/restore"):
        refused = stranger.post(path, data={"passphrase": WORDS}, headers={**FROM_PROXY, "cookie": token})
        assert (path, refused.status_code) == (path, 422)
        assert "machine itself" in refused.text


def test_this_machines_own_token_is_that_of_any_device_where_a_proxy_hands_it_on(machine, stranger):
    token = machine.cookies["device"]
    for told in ({"x-forwarded-for": "198.51.100.4"}, {"host": "bench.example"}, {"x-real-ip": "198.51.100.4"}):
        answer = stranger.get("/access", headers={"cookie": f"device={token}", **told})
        assert answer.status_code == 422
        assert "the machine itself decides" in answer.text


def test_guesses_count_by_where_they_are_from_and_the_owner_waits_for_nobody(stranger):
    def tries(words, told):
        return stranger.post("/sign-in", data={"passphrase": words}, headers={**FROM_PROXY, "x-forwarded-for": told})

    for at in range(8):  # whatever a stranger writes itself, the proxy's own word comes last
        answer = tries("a guess", f"203.0.113.{at}, 198.51.100.4")
    assert "Too many tries" in answer.text
    assert tries(WORDS, "198.51.100.9").status_code == 303
    assert "Too many tries" in tries(WORDS, "198.51.100.4").text
    for at in range(8):
        answer = tries("a guess", f"2001:db8::{at}")
    assert "Too many tries" in answer.text
    assert tries(WORDS, "2001:db8:1::1").status_code == 303


@contextmanager
def nginx(folder, server):
    """The real one, in front of a server; settings as in docs/network.md but for name, port and certificate."""
    with socket.create_server(("127.0.0.1", 0)) as free:
        port = free.getsockname()[1]
    server = re.sub(r"listen [^;]+;", f"listen 127.0.0.1:{port};", server)
    server = re.sub(r"\n *ssl_certificate(_key)? [^;]+;", "", server)
    kept = "".join(
        f"{name}_temp_path {folder}/{name};" for name in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
    )
    (folder / "nginx.conf").write_text(
        f"daemon off; pid {folder}/pid; error_log {folder}/error.log;\n"
        f"events {{}}\nhttp {{ access_log off; {kept}\n{server}\n}}\n"
    )
    process = subprocess.Popen(["/usr/sbin/nginx", "-c", str(folder / "nginx.conf"), "-e", str(folder / "error.log")])
    try:
        until = time.monotonic() + 30
        while True:
            try:
                socket.create_connection(("127.0.0.1", port), timeout=1).close()
                break
            except OSError:
                assert time.monotonic() < until, (folder / "error.log").read_text()
                time.sleep(0.05)
        yield f"http://127.0.0.1:{port}"
    finally:
        process.terminate()
        process.wait(timeout=30)


def snippet(address):
    """The proxy's settings as docs/network.md gives them."""
    found = re.search(r"^    server \{\n(?:    .*\n)+?    \}\n", PAGE.read_text(encoding="utf-8"), re.MULTILINE)
    return found[0].replace("http://127.0.0.1:8765", address)


USUAL = "server {{ listen 80; location / {{ proxy_pass {}; }} }}"


@pytest.mark.parametrize(
    "settings", [snippet, USUAL.format], ids=["as the page on the network has it", "by its usual settings"]
)
def test_behind_a_real_proxy_nobody_unknown_comes_in_and_whoever_signs_in_does(bench, tmp_path_factory, settings):
    Auth(bench).set_passphrase(WORDS)
    with connected(bench) as store, writing(store):
        bench_settings.change(store, {"address": PUBLIC})
    place = tmp_path_factory.mktemp("nginx")
    with running(bench) as address, nginx(place, settings(address)) as proxy:
        own = {"host": "bench.example", "user-agent": "Mozilla/5.0", "origin": PUBLIC}
        with httpx.Client(base_url=proxy, headers=own, timeout=60) as outside:
            for path in ("/home", "/access", "/files/bench.zip"):
                assert outside.get(path).headers.get("location") == "/sign-in", path
            assert outside.get("/api/paints").status_code == 401
            assert outside.post("/access/passphrase", data={"passphrase": "mine from now on"}).status_code == 401
            for _ in range(5):
                assert outside.post("/sign-in", data={"passphrase": "a guess"}).status_code == 403
            assert "Too many tries" in outside.post("/sign-in", data={"passphrase": WORDS}).text
    with running(bench) as address, nginx(place, settings(address)) as proxy, httpx.Client(timeout=60) as outside:
        signed = outside.post(f"{proxy}/sign-in", data={"passphrase": WORDS}, headers=own)
        token = signed.headers["set-cookie"]
        assert (signed.status_code, "Secure" in token) == (303, True)
        known = {**own, "cookie": token.partition(";")[0]}
        assert outside.get(f"{proxy}/home", headers=known).status_code == 200
        assert outside.post(f"{proxy}/mix/add", data={"bottle": "22"}, headers=known).status_code == 303
        assert "the machine itself decides" in outside.get(f"{proxy}/access", headers=known).text
