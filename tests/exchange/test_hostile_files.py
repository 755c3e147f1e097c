"""Files that were made to hurt: each is refused within its bounds, and nobody else waits for it."""

import io
import json
import os
import socket
import struct
import threading
import time
import zipfile
import zlib

import openpyxl
import pytest
from PIL import Image

from diachrom.errors import BadFile, ReadersBusy
from diachrom.exchange import codes, drawings, palettes, photos, readers, sandbox, sheets, spectra
from diachrom.exchange.json_bounds import check_json
from diachrom.exchange.sandbox import run_sandboxed
from diachrom.work.api import command

SPECTRAL = " ".join(f"SPECTRAL_NM{nm}" for nm in range(380, 731, 10))
CGATS = f"CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_ID {SPECTRAL}\nEND_DATA_FORMAT\nBEGIN_DATA\n"


def book(*cells):
    made = openpyxl.Workbook()
    made.active["A1"], made.active["B1"] = "name", "kind"
    for row, column in cells:
        made.active.cell(row, column, "x")
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def png(width, height):
    """A picture that says it is large, and is all one colour."""

    def chunk(kind, body):
        return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    rows = zlib.compress(b"\0" * (3 * width + 1) * 40)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", rows) + chunk(b"IEND", b"")


def packed(name, content):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(name, content)
    return out.getvalue()


def counts(name, content):
    return run_sandboxed(name, check_json, content)


SVG = b'<svg xmlns="http://www.w3.org/2000/svg">'
HOSTILE = {
    "a cell at the last row and column": (sheets.read_grids, lambda: book((1_048_576, 16_384))),
    "rows in a column far out": (sheets.read_grids, lambda: book((3, 16_384))),
    "a bomb": (sheets.read_grids, lambda: packed("xl/workbook.xml", b"0" * 60_000_000)),
    "a sheet of nothing": (sheets.read_grids, lambda: packed("content.xml", b"<office:x/>")),
    "a row of commas": (sheets.read_grids, lambda: b"," * 9_000_000),
    "an open quote": (sheets.read_grids, lambda: b'a,b\n"' + b"\n" * 9_000_000),
    "many rows": (sheets.read_grids, lambda: b"a,b\n" * 2_000_000),
    "elements in one another": (spectra.read_spectra, lambda: b"<x>" + b"<Object>" * 60_000 + b"</Object>" * 60_000),
    "an entity": (spectra.read_spectra, lambda: b'<!DOCTYPE x [<!ENTITY a "aaa">]><x>&a;</x>'),
    "quotes": (spectra.read_spectra, lambda: (CGATS + '1 "' + '"" ' * 2_500_000 + "\nEND_DATA\n").encode()),
    "a row without an end": (spectra.read_spectra, lambda: (CGATS + "1 " * 4_500_000).encode()),
    "a million colours": (palettes.read_palette, lambda: b"GIMP Palette\n" + b"1 2 3 x\n" * 1_200_000),
    "a colour without an end": (palettes.read_palette, lambda: b":root{;" + b"a-" * 4_000_000),
    "lists of lists": (palettes.read_palette, lambda: b"[" * 400_000),
    "colours of colours": (palettes.read_palette, lambda: b"[" + b'"#fff",' * 1_200_000 + b'"#fff"]'),
    "an ASE that says it is long": (palettes.read_palette, lambda: b"ASEF\0\1\0\0" + b"\xff" * 4 + b"\0" * 100_000),
    "60 megapixels": (photos.taken, lambda: png(10_000, 6_000)),
    "many megapixels": (photos.taken, lambda: png(60_000, 60_000)),
    "no code": (codes.read, lambda: packed("a", b"a")),
    "a path without an end": (drawings.read, lambda: SVG + b'<path d="M0 0' + b" l1 1" * 120_000 + b' z"/></svg>'),
    "too many keys": (counts, lambda: json.dumps({"x": dict.fromkeys(map(str, range(300_000)))}).encode()),
    "too deep": (counts, lambda: b'{"x":' * 2_000_000),
    "strings": (counts, lambda: b"[" + b'"",' * 3_000_000 + b"0]"),
}  # fmt: skip


@pytest.mark.parametrize("kind", HOSTILE)
def test_it_is_refused_with_a_reason(kind):
    read, made = HOSTILE[kind]
    with pytest.raises(BadFile) as caught:
        read("a.bin", made())
    assert str(caught.value).startswith("a.bin: ")


def _takes(name, content):
    return len(bytearray(int(content)))


def _waits(name, content):
    time.sleep(float(content))
    return os.getpid()


def _refuses(name, content):
    raise BadFile(name, content.decode())


def _dies(name, content):
    os.kill(os.getpid(), 9)


@pytest.fixture(params=["copies", "fresh"])
def helper(request, monkeypatch):
    """Readers of its own, which find those of this file: by copies, and as where no system makes any."""
    monkeypatch.setenv("PYTHONPATH", os.path.dirname(__file__), prepend=os.pathsep)
    if request.param == "fresh":
        monkeypatch.delattr(os, "fork")
        monkeypatch.delattr(socket, "send_fds")
    own = readers.of_this_system()
    assert isinstance(own, readers.Fresh if request.param == "fresh" else readers.Copies)
    monkeypatch.setattr(sandbox, "_readers", own)
    yield own
    own.end()


def test_memory_time_and_life_of_a_reader_have_their_bounds(helper, monkeypatch):
    assert run_sandboxed("a", _takes, b"100000000") == 100_000_000
    with pytest.raises(BadFile, match="more than 300 MB of memory"):
        run_sandboxed("a", _takes, b"400000000")
    with pytest.raises(BadFile, match="breaks off"):
        run_sandboxed("a", _dies, b"")
    with pytest.raises(BadFile, match="nothing of it"):
        run_sandboxed("a", _refuses, b"nothing of it")
    helper.end()
    with monkeypatch.context() as patch:
        patch.setattr(sandbox, "MOST_S", 1.0)
        with pytest.raises(BadFile, match="breaks off"):
            run_sandboxed("a", _waits, b"30")
    waiting = helper._spare if isinstance(helper, readers.Fresh) else helper._process
    waiting.kill()
    waiting.wait()
    assert run_sandboxed("a", _takes, b"1") == 1  # another one


def test_who_else_reads_waits_for_a_turn_and_is_told_when_there_is_none(helper, monkeypatch):
    monkeypatch.setattr(sandbox, "PATIENCE_S", 0.2)
    pids = []
    slow = [
        threading.Thread(target=lambda: pids.append(run_sandboxed("a", _waits, b"2"))) for _ in range(sandbox.AT_ONCE)
    ]
    for one in slow:
        one.start()
    while sandbox._turns._value:
        time.sleep(0.01)
    with pytest.raises(ReadersBusy, match="try again"):
        run_sandboxed("b", _takes, b"1")
    for one in slow:
        one.join()
    assert len(set(pids) | {os.getpid()}) == sandbox.AT_ONCE + 1
    assert run_sandboxed("b", _takes, b"1") == 1


@pytest.mark.parametrize("helper", ["fresh"], indirect=True)
def test_a_fresh_reader_reads_what_painters_bring_and_none_is_left(helper):
    rows = sheets.read_grids("a.csv", b"name,kind\nSot,opaque\n")
    assert "Sot" in str(rows)
    assert photos.taken("a.png", png(40, 40))[:2] == (40, 40)
    spare = helper._spare
    helper.end()
    assert spare.returncode is not None


@pytest.mark.sweep
def test_a_photo_of_many_megapixels_is_kept_small_and_nothing_of_its_maker_stays():
    out = io.BytesIO()
    exif = Image.Exif()
    exif[0x0110] = "A camera"
    picture = Image.effect_noise((9000, 7000), 20).convert("RGB")
    picture.save(out, "JPEG", exif=exif, icc_profile=b"x" * 3000, quality=30)
    width, height, kept = photos.taken("a.jpg", out.getvalue())
    assert (width, height) == (1400, 1089)
    assert b"A camera" not in kept
    with Image.open(io.BytesIO(kept)) as again:
        assert not set(again.info) & {"icc_profile", "exif"}


def test_a_document_of_more_than_can_be_reckoned_is_refused_by_its_weight(tmp_path):
    flake = {"material": "pearl", "cover_per_um": 0.05, "thickness_nm": 60}
    paint = {"absorption": [0.01] * 36, "scattering": [0.02] * 36, "flake": flake}
    parts = [{"paint": {**paint, "name": str(at)}, "drops": 1} for at in range(40)]
    document = {"layers": [{"parts": parts}] * 20}
    with pytest.raises(Exception, match="more than can be reckoned together"):
        command.predict_text(json.dumps(document).encode(), tmp_path)
