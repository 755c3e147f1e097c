"""A disk without room: what is there is read all the same, after a restart too, and what cannot be kept is said."""

import resource
import signal
import subprocess
import sys

import httpx2 as httpx

from diachrom.store.connection import database

PAGES = ("/home", "/mix", "/shelf", "/plan/1", "/orders/1", "/bench/1", "/log/14", "/files/backups", "/settings")


def no_room():
    """No file of this process grows by a byte."""
    signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))


def test_after_a_restart_on_a_full_disk_pages_are_read_and_a_press_is_refused_in_a_sentence(bench):
    assert not database(bench).with_name("diachrom.sqlite3-shm").exists()  # the last server took it along
    command = [sys.executable, "-B", "-m", "diachrom", "serve", "--port", "0", "--data", str(bench)]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, preexec_fn=no_room) as process:
        address = process.stdout.readline().strip()
        try:
            with httpx.Client(base_url=address, timeout=60) as asks:
                assert {path: asks.get(path).status_code for path in PAGES} == dict.fromkeys(PAGES, 200)
                refused = asks.post("/mix/add", data={"bottle": "22"})
                assert (refused.status_code, "the disk is full" in refused.text) == (507, True)
        finally:
            process.terminate()
        assert "Nothing was changed. You can look at it, but nothing can be saved." in process.stdout.read()
