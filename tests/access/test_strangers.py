"""Strangers on the network, by the hundred: they keep nobody out, and the log short."""

import logging
import re
import resource
import socket
import ssl
import subprocess
import sys
import time
from contextlib import ExitStack, contextmanager, suppress

import httpx2 as httpx
import pytest

from diachrom.web.kit import timeouts
from diachrom.web.kit.logs import FewLines
from diachrom.web.kit.ports import StrangersPort
from diachrom.web.server import running, server_for
from diachrom.work.access.auth import Auth

MANY = 1300
WORDS = "four plain words here"


def shared_on_another_address(folder):
    server = server_for(folder)
    server.config.app.state.sharing.on = "127.0.0.2"
    return server


def share(address):
    httpx.post(f"{address}/access/passphrase", data={"passphrase": WORDS}, timeout=60)
    data = {"on": "yes", "port": "0", "secured": "yes"}
    page = httpx.post(f"{address}/access/share", data=data, timeout=60).text
    return int(re.search(r"https?://127\.0\.0\.2:(\d+)", page)[1])


def connect(port, source):
    made = socket.socket()
    made.bind((source, 0))
    made.settimeout(30)
    made.connect(("127.0.0.2", port))
    return made


def is_over(connection):
    """The other end has closed it, now or soon."""
    connection.settimeout(60)
    with suppress(ConnectionError):
        while connection.recv(1 << 20):
            pass
    return True


@contextmanager
def served(folder, *more):
    """In a process of its own that may have no more files open than most systems let it: its address, its port on the
    network, and its log."""
    Auth(folder).set_passphrase(WORDS)
    log = folder / "log"
    command = [
        sys.executable,
        "-m",
        "diachrom",
        "serve",
        "--port",
        "0",
        "--data",
        str(folder),
        "--on",
        "127.0.0.2",
        *more,
    ]
    with (
        log.open("w") as lines,
        subprocess.Popen(command, stdout=subprocess.PIPE, stderr=lines, text=True, preexec_fn=few_files) as process,
    ):
        address = process.stdout.readline().strip()
        try:
            yield address, int(address.rpartition(":")[2]), log
        finally:
            process.terminate()


def few_files():
    resource.setrlimit(resource.RLIMIT_NOFILE, (1024, 1024))


@pytest.mark.parametrize("more", [("--https",), ()], ids=["who do not shake hands", "who do not ask"])
def test_strangers_by_the_hundred_keep_nobody_at_the_machine_from_tapping(bench, more):
    with served(bench, *more) as (address, port, log), ExitStack() as stack:
        for at in range(MANY):
            with suppress(OSError):
                stack.enter_context(connect(port, f"127.0.1.{at % 200 + 1}"))
        with httpx.Client(base_url=address, timeout=60) as machine:
            for _ in range(10):
                assert machine.post("/mix/add", data={"bottle": "22"}).status_code == 303
        assert log.stat().st_size < 10_000


def test_who_does_not_shake_hands_in_time_is_sent_away_and_others_come_in(bench, monkeypatch):
    monkeypatch.setattr(timeouts, "SHAKES_HANDS_WITHIN_S", 0.5)
    with running(bench, shared_on_another_address) as address:
        port = share(address)
        with connect(port, "127.0.0.9") as silent:
            assert is_over(silent)
        context = ssl._create_unverified_context()
        with connect(port, "127.0.0.9") as raw, context.wrap_socket(raw) as known:
            known.sendall(b"GET /sign-in HTTP/1.1\r\nHost: 127.0.0.2\r\nConnection: close\r\n\r\n")
            assert known.recv(15) == b"HTTP/1.1 200 OK"


def test_who_never_reads_is_sent_away(bench, monkeypatch):
    monkeypatch.setattr(timeouts, "TAKES_WITHIN_S", 0.5)
    made = []
    with running(bench, lambda folder: made.append(server_for(folder)) or made[-1]) as address:
        port = int(address.rpartition(":")[2])
        with socket.socket() as deaf:
            deaf.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 4096)
            deaf.connect(("127.0.0.1", port))
            deaf.sendall(b"GET /files/bench.zip HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n")
            deaf.settimeout(60)
            deaf.recv(1)  # it is being answered
            until = time.monotonic() + 60
            while made[0].server_state.connections and time.monotonic() < until:
                time.sleep(0.05)
            assert not made[0].server_state.connections


def test_of_too_many_from_one_address_the_newest_is_closed_and_of_all_the_oldest_of_who_has_most():
    with StrangersPort(socket.AF_INET, socket.SOCK_STREAM, most=5, most_of_one=3) as port, ExitStack() as stack:
        port.bind(("127.0.0.2", 0))
        port.listen(20)
        where = port.getsockname()[1]

        def comes(source):
            made = stack.enter_context(connect(where, source))
            try:
                return made, stack.enter_context(port.accept()[0])
            except ConnectionAbortedError:
                return made, None

        greedy = [comes("127.0.0.11") for _ in range(4)]
        assert [taken is None for _, taken in greedy] == [False, False, False, True]
        assert is_over(greedy[3][0])
        others = [comes(f"127.0.0.{at}") for at in (12, 13)]
        assert all(taken is not None for _, taken in others)
        waiting = stack.enter_context(connect(where, "127.0.0.14"))
        with pytest.raises(BlockingIOError):
            port.accept()
        assert greedy[0][1].recv(1) == b""  # the oldest hears that it is over
        greedy[0][1].close()  # and there is room
        taken, peer = port.accept()
        assert peer == stack.enter_context(taken).getpeername() == waiting.getsockname()


def test_the_log_says_so_much_a_minute_and_how_much_it_left_out(clock):
    few = FewLines(3, clock)
    record = logging.LogRecord("uvicorn.error", logging.WARNING, "", 0, "Invalid %s", ("request",), None)
    assert [few.filter(record) for _ in range(50)].count(True) == 3
    clock.wait(61)
    assert few.filter(record)
    assert record.getMessage() == "Invalid request (47 lines like it were left out before it)"
