"""The commands as they are called from a shell."""

import http.client
import os
import socket
import subprocess
import sys
from contextlib import contextmanager
from urllib.parse import urlsplit

import pytest


def diachrom(*arguments, **more):
    command = [sys.executable, "-m", "diachrom", *map(str, arguments)]
    return subprocess.run(command, capture_output=True, text=True, check=False, **more)


@contextmanager
def started(*arguments):
    """A server process, and its first two lines."""
    process = subprocess.Popen(
        [sys.executable, "-m", "diachrom", *map(str, arguments)],
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
    )
    try:
        yield process, process.stdout.readline().strip(), process.stdout.readline().strip()
    finally:
        process.terminate()
        process.communicate(timeout=20)


def status(address, path):
    connection = http.client.HTTPConnection(urlsplit(address).netloc, timeout=20)
    connection.request("GET", path)
    answer = connection.getresponse()
    answer.read()
    connection.close()
    return answer.status


def test_serve_prints_its_address_first_and_answers_there(tmp_path):
    with started("serve", "--port", "0", "--data", tmp_path) as (_, address, where):
        assert address.startswith("http://127.0.0.1:")
        assert str(tmp_path) in where
        assert status(address, "/mix") == 200
        assert status(address, "/shelf") == 200


def test_demo_fills_a_folder_of_its_own_and_serves_it(tmp_path):
    environment = os.environ | {"TMPDIR": str(tmp_path)}
    command = [sys.executable, "-m", "diachrom", "demo", "--port", "0"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=environment) as process:
        try:
            address = process.stdout.readline().strip()
            assert status(address, "/recipes/10") == 200
            assert len(list(tmp_path.glob("diachrom-demo-*/diachrom.sqlite3"))) == 1
        finally:
            process.terminate()


def test_demo_refuses_a_folder_with_data(filled):
    run = diachrom("demo", "--port", "0", "--data", filled)
    assert run.returncode == 2
    assert "already holds data" in run.stderr


def test_a_port_in_use_is_named(tmp_path):
    with socket.create_server(("127.0.0.1", 0)) as taken:
        run = diachrom("serve", "--port", taken.getsockname()[1], "--data", tmp_path)
    assert run.returncode == 2
    assert "cannot be used" in run.stderr
    assert run.stderr.count("\n") == 1


def test_migrate_says_what_it_did_and_finds_its_folder_by_option_or_environment(tmp_path):
    assert "0001_first.sql" in diachrom("migrate", "--data", tmp_path / "a").stdout
    assert "already at data version" in diachrom("--data", tmp_path / "a", "migrate").stdout
    named = diachrom("migrate", env=os.environ | {"DIACHROM_DATA": str(tmp_path / "b")})
    assert str(tmp_path / "b") in named.stdout


@pytest.mark.parametrize("command", ["serve", "migrate"])
def test_a_folder_that_is_no_data_folder_stops_the_command_with_a_sentence(tmp_path, command):
    (tmp_path / "diachrom.sqlite3").write_text("these are only words, and not a few of them")
    run = diachrom(command, "--data", tmp_path)
    assert run.returncode == 2
    assert "not a Diachrom database" in run.stderr
    assert run.stderr.count("\n") == 1


def test_a_misspelt_command_is_said_without_a_traceback():
    run = diachrom("mix")
    assert run.returncode == 2
    assert "mix" in run.stderr
    assert "Traceback" not in run.stderr
    assert diachrom("--version").stdout.startswith("diachrom ")


def test_a_backup_is_whole_and_never_overwrites(filled, tmp_path):
    target = tmp_path / "kept" / "bench.sqlite3"
    assert diachrom("backup", target, "--data", filled).returncode == 0
    again = diachrom("backup", target, "--data", filled)
    assert (again.returncode, "exists already" in again.stderr) == (2, True)
    target.rename(tmp_path / "diachrom.sqlite3")
    with started("serve", "--port", "0", "--data", tmp_path) as (_, address, _where):
        assert status(address, "/recipes/10") == 200
