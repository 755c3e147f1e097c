"""The commands as they are called from a shell."""

import http.client
import os
import socket
import sqlite3
import subprocess
import sys
import time
from contextlib import closing, contextmanager
from urllib.parse import urlsplit

import pytest
from command_line import diachrom

from diachrom.store.connection import database


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
    assert "baseline.sql" in diachrom("migrate", "--data", tmp_path / "a").stdout
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


def test_a_bench_is_shared_on_the_network_only_with_a_passphrase(bench):
    run = diachrom("serve", "--share", "--on", "127.0.0.2", "--port", "0", "--data", bench)
    assert (run.returncode, run.stdout) == (2, "")
    assert "Set a passphrase first" in run.stderr
    assert diachrom("passphrase", "--data", bench, input="four plain words\n").returncode == 0
    with started("serve", "--share", "--on", "127.0.0.2", "--port", "0", "--data", bench) as (process, first, _):
        assert first.startswith("http://127.0.0.1:")
        address = process.stdout.readline().strip().removeprefix("On the network: ")
        assert address.startswith("http://127.0.0.2:")
        assert f"{address}/pair/" in process.stdout.readline()
        asked = http.client.HTTPConnection(urlsplit(address).netloc, timeout=20)
        asked.request("GET", "/home")
        answer = asked.getresponse()
        assert (answer.status, answer.headers["location"]) == (303, "/sign-in")
        asked.close()


def test_the_shelf_goes_to_standard_output_and_mending_and_a_passphrase_are_commands(bench):
    run = diachrom("export", "-", "--form", "csv", "--data", bench)
    assert run.stdout.lstrip("\ufeff").startswith("bottle,line,name")
    with closing(sqlite3.connect(database(bench), isolation_level=None)) as db:
        db.execute("UPDATE bottle SET left_ml = 99 WHERE id = 22")
    assert "has 1 fault." in diachrom("check", "--data", bench).stderr
    run = diachrom("check", "--mend", "--data", bench)
    assert run.stdout.splitlines()[0].startswith("Bottle 22 holds ")
    assert "before-mending-" in run.stdout
    assert run.returncode == 0
    run = diachrom("passphrase", "--data", bench, input="short\n")
    assert (run.returncode, "8 to 200" in run.stderr) == (2, True)
    assert diachrom("passphrase", "--data", bench, input="four plain words\n").returncode == 0


def test_a_shelf_goes_out_and_comes_into_an_empty_folder_by_commands(filled, tmp_path):
    everything, again = tmp_path / "shelf.json", tmp_path / "again.json"
    assert diachrom("export", everything, "--data", filled).returncode == 0
    diachrom("migrate", "--data", tmp_path / "new")
    dry = diachrom("import", everything, "--dry-run", "--data", tmp_path / "new")
    assert "row 1, Grunn Hvit: new paint" in dry.stdout
    assert "rows written" not in dry.stdout
    run = diachrom("import", everything, "--data", tmp_path / "new")
    assert run.stdout.splitlines()[-1] == "147 rows written."
    diachrom("export", again, "--data", tmp_path / "new")
    assert again.read_bytes() == everything.read_bytes()
    assert diachrom("check", "--data", tmp_path / "new").stdout.endswith("nothing is wrong.\n")


def test_an_import_with_errors_says_each_and_writes_nothing(bench, tmp_path):
    table = tmp_path / "cupboard.csv"
    table.write_text("name,kind,size_ml,colour\nBar,ink,15,#102030\nRips,gravy,15,#102030\nTyttebar,ink,x,#102030\n")
    run = diachrom("import", table, "--data", bench)
    assert run.returncode == 2
    assert "row 3, kind: Kind: 'gravy' is none of" in run.stdout
    assert "row 4, size_ml" in run.stdout
    assert run.stderr == "FILE: cupboard.csv has 2 errors; nothing was imported.\n"
    table.write_text("Tang,opaque,#445533,30,12\nSten,opaque,#777777,60,5\n")
    run = diachrom("import", table, "--column", "size=4", "--column", "left=5", "--skip", "2", "--data", bench)
    assert "row 1, Tang: new paint" in run.stdout
    assert "Sten" not in run.stdout
    odd = diachrom("import", table, "--column", "left", "--data", bench)
    assert odd.returncode == 2
    assert "write a field and its column, as left=4" in odd.stderr
    assert "Bar" not in diachrom("import", "-", "--data", bench, input="name,kind,size_ml,colour\nx,y,z,q\n").stdout


@pytest.mark.parametrize(
    ("arguments", "why"),
    [
        (["export", "shelf.docx"], "Nothing goes out as '.docx'"),
        (["export", "there.csv"], "exists already"),
        (["export", "no/such/folder.csv"], "cannot be written"),
        (["import", "nowhere.csv"], "nowhere.csv cannot be read"),
        (["import", "large.csv"], "large.csv is larger than 10 MB"),
        (["import", "there.csv", "--kind", "gravy"], "no kind of paint called 'gravy'"),
    ],
)
def test_what_cannot_go_out_or_in_is_one_line(bench, tmp_path, arguments, why):
    (tmp_path / "there.csv").write_text("name,kind\n")
    with (tmp_path / "large.csv").open("wb") as file:
        file.truncate(50_000_000)
    run = diachrom(*arguments, "--data", bench, cwd=tmp_path)
    assert run.returncode == 2
    assert why in run.stderr
    assert run.stderr.count("\n") == 1


def test_check_says_what_is_wrong_with_a_folder(bench):
    assert diachrom("check", "--data", bench).returncode == 0
    with sqlite3.connect(bench / "diachrom.sqlite3") as connection:
        connection.execute("UPDATE bottle SET left_ml = 99 WHERE id = 22")
        connection.execute("UPDATE paint SET kind = 'gravy' WHERE id = 'rav-te'")
        connection.execute("INSERT INTO recipe (number) VALUES (77)")
        connection.execute("INSERT INTO stock_entry (bottle_id, at, kind, ml) VALUES (999, 'now', 'bought', 1)")
    run = diachrom("check", "--data", bench)
    assert run.returncode == 2
    for said in (
        "Bottle 22 is said to hold 99",
        "'gravy', which does not exist",
        "Recipe 77 has no version",
        "stock_entry",
    ):
        assert said in run.stdout
    assert "6 faults" in run.stderr


def test_an_import_that_is_killed_half_way_leaves_nothing_behind(bench, tmp_path):
    table = tmp_path / "large.csv"
    rows = "".join(f"Bar {at},ink,30,#{at * 7:06x}\n" for at in range(4000))
    table.write_text("name,kind,size_ml,colour\n" + rows)
    before = diachrom("export", tmp_path / "before.json", "--data", bench)
    assert before.returncode == 0
    command = [sys.executable, "-m", "diachrom", "import", str(table), "--data", str(bench)]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as process:
        # Every row's fate is said before the writing begins; then it is in the middle of it.
        for line in process.stdout:
            if line.startswith("row 4001,"):
                break
        time.sleep(0.3)
        process.kill()
    assert diachrom("check", "--data", bench).returncode == 0
    diachrom("export", tmp_path / "after.json", "--data", bench)
    assert (tmp_path / "after.json").read_bytes() == (tmp_path / "before.json").read_bytes()
