"""The wheel: all that Diachrom is made of, installed where nothing else of it is, and served from there."""

import io
import json
import os
import signal
import subprocess
import sys
import sysconfig
import urllib.request
import venv
import zipfile
from pathlib import Path

import pytest
from flit_core import buildapi
from PIL import Image

ROOT = Path(__file__).parents[2]


@pytest.fixture(scope="module")
def made(tmp_path_factory):
    folder = tmp_path_factory.mktemp("wheel")
    here = os.getcwd()
    os.chdir(ROOT)
    try:
        return folder / buildapi.build_wheel(str(folder))
    finally:
        os.chdir(here)


@pytest.fixture(scope="module")
def installed(made, tmp_path_factory):
    """An environment that has the wheel by pip, and of here the libraries alone."""
    place = tmp_path_factory.mktemp("environment")
    venv.create(place, symlinks=True, with_pip=False)
    paths = sysconfig.get_paths("venv", {"base": str(place), "platbase": str(place)})
    python = Path(paths["scripts"]) / "python"
    command = [sys.executable, "-m", "pip", "--python", python, "install", "--quiet", "--no-index", "--no-deps", made]
    subprocess.run(command, check=True)
    libraries = sysconfig.get_paths()[
        "purelib"
    ]  # a path in a .pth: what lies there as .pth, this project too, is not asked
    (Path(paths["purelib"]) / "libraries.pth").write_text(libraries)
    return Path(paths["scripts"])


def test_it_holds_every_file_that_is_kept_of_the_program(made):
    kept = subprocess.run(["git", "ls-files", "src/diachrom"], cwd=ROOT, check=True, capture_output=True, text=True)
    with zipfile.ZipFile(made) as archive:
        held = {name for name in archive.namelist() if not name.startswith("diachrom-")}
        told = archive.read(next(name for name in archive.namelist() if name.endswith("METADATA"))).decode()
    assert held == {name.removeprefix("src/") for name in kept.stdout.split()}
    assert "Requires-Dist: numpy" in told
    assert made.stat().st_size < 10_000_000


def test_its_demo_answers_reads_a_photo_and_says_where_it_lies(installed, tmp_path):
    environment = {key: value for key, value in os.environ.items() if key not in ("PYTHONPATH", "DIACHROM_DATA")}
    environment |= {"HOME": str(tmp_path), "TMPDIR": str(tmp_path)}
    command = [installed / "diachrom", "demo", "--port", "0"]
    with subprocess.Popen(command, cwd=tmp_path, env=environment, stdout=subprocess.PIPE, text=True) as server:
        try:
            address = server.stdout.readline().strip()
            assert address.startswith("http://127.0.0.1:")
            with urllib.request.urlopen(f"{address}/plan/1", timeout=60) as answer:
                assert "Autumn char" in answer.read().decode()
            with urllib.request.urlopen(f"{address}/api/bottles?limit=2", timeout=60) as answer:
                assert len(json.load(answer)["bottles"]) == 2
            photo = io.BytesIO()
            Image.new("RGB", (60, 40), "#405020").save(photo, "PNG")
            assert _sent(f"{address}/shelf/start/photo", photo.getvalue()).startswith(b"\x89PNG")
        finally:
            server.send_signal(signal.SIGINT)
    where = subprocess.run(
        [installed / "python", "-c", "import diachrom; print(diachrom.__file__)"],
        cwd=tmp_path,
        env=environment,
        check=True,
        capture_output=True,
        text=True,
    )
    assert Path(where.stdout.strip()).is_relative_to(installed.parent)


def _sent(url, content):
    body = b'--x\r\nContent-Disposition: form-data; name="file"; filename="a.png"\r\n\r\n' + content + b"\r\n--x--\r\n"
    origin = url.removesuffix("/shelf/start/photo")
    headers = {"Content-Type": "multipart/form-data; boundary=x", "Origin": origin}
    with urllib.request.urlopen(urllib.request.Request(url, body, headers), timeout=60) as answer:
        return answer.read()
