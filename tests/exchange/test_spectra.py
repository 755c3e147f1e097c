"""Spectra and palettes out and in, grids, percent, an outside reader, and what is refused."""

import re
import subprocess

import colour_cxf
import numpy as np
import pytest

from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM
from diachrom.errors import BadFile, InvalidInput
from diachrom.exchange import cgats, cxf, palettes
from diachrom.exchange.palettes import Named
from diachrom.exchange.sample import Sample, on_grid
from diachrom.exchange.spectra import one_of, read_spectra, too_light_for_black

CURVES = 0.5 + 0.4 * np.sin(np.linspace(0, 5, BANDS) + np.arange(3)[:, None])
SAMPLES = [
    Sample(name, curve) for name, curve in zip(('Rav "Gull"', "Torv Kritt, over white", "Ø"), CURVES, strict=True)
]
AT = "2026-11-25T10:00:00+00:00"
WRITERS = {"x.cgats": lambda: cgats.write("Paints", SAMPLES), "x.cxf": lambda: cxf.write("Paints", SAMPLES, at=AT)}


def smooth(nm):
    return 0.5 + 0.4 * np.sin((np.asarray(nm, dtype=float) - 380) / 70)


@pytest.mark.parametrize("name", WRITERS)
def test_spectra_that_go_out_come_back_equal(name):
    found = read_spectra(name, WRITERS[name]())
    assert [one.name for one in found] == [one.name for one in SAMPLES]
    for one, other in zip(found, SAMPLES, strict=True):
        assert np.abs(one.reflectance - other.reflectance).max() < 1e-6
        assert one.notes == []


def outside(command, path):
    run = subprocess.run([*command, path, path.with_suffix("")], capture_output=True, text=True, check=False)
    assert run.returncode == 0, run.stderr
    return run.stdout + run.stderr


@pytest.mark.parametrize(("name", "command"), [("x.cgats", ["txt2ti3", "-v"]), ("x.cxf", ["cxf2ti3", "-v"])])
def test_an_outside_reader_opens_them_and_finds_the_same_spectra(tmp_path, name, command):
    path = tmp_path / name
    path.write_bytes(WRITERS[name]())
    said = outside(command, path)
    read = next(file for file in (path.with_suffix(".ti3"), path.with_suffix(".cie")) if file.exists()).read_text()
    back = read_spectra("back.ti3", read.encode())
    assert [one.name for one in back] == [one.name for one in SAMPLES]
    if name == "x.cgats":
        assert "36 spectral values, from 380 to 730 nm" in said
    fields = read.split("BEGIN_DATA_FORMAT")[1].split("END_DATA_FORMAT")[0].split()
    rows = read.split("BEGIN_DATA\n")[1].split("END_DATA")[0].strip().splitlines()
    assert (fields[-BANDS], fields[-1]) == ("SPEC_380", "SPEC_730")
    for row, sample in zip(rows, SAMPLES, strict=True):
        values = [float(cell) for cell in row.split()[-BANDS:]]
        scale = 100 if max(values) > 1.5 else 1
        assert np.abs(np.array(values) / scale - sample.reflectance).max() < 1e-4


def test_a_reader_that_was_made_from_the_standards_schema_reads_cxf():
    found = colour_cxf.read_cxf(WRITERS["x.cxf"]()).resources
    assert [one.name for one in found.object_collection.object_value] == [one.name for one in SAMPLES]
    (measured,) = found.color_specification_collection.color_specification
    assert measured.measurement_spec.geometry_choice.choice.value == "Specular_Excluded"
    for one, sample in zip(found.object_collection.object_value, SAMPLES, strict=True):
        (spectrum,) = one.color_values.choice
        assert (spectrum.start_wl, spectrum.color_specification) == (380, measured.id)
        assert np.allclose(spectrum.value, sample.reflectance, rtol=1e-6)


@pytest.mark.parametrize("step", [1, 5, 20])
def test_other_grids_are_brought_onto_ours_and_it_is_said(step):
    nm = np.arange(360, 781, step)
    found = on_grid("f", "x", nm, smooth(nm), percent=False)
    assert np.abs(found.reflectance - smooth(WAVELENGTHS_NM)).max() < 0.012
    assert "resampled" in found.notes[0]


def test_percent_short_ends_and_any_order_are_understood():
    nm = np.arange(400, 701, 10)
    found = on_grid("f", "x", nm[::-1], 100 * smooth(nm)[::-1], percent=True)
    assert "percent" in found.notes[0]
    assert "ends held" in found.notes[2]
    assert found.reflectance[0] == found.reflectance[2] == pytest.approx(smooth(400))


@pytest.mark.parametrize(
    "text",
    [
        "nm;R\n400;0,25\n410;0,25\n",
        "400\t0.25\n410\t0.25\n",
        "wavelength, value\n400, 0.25\n410, 0.25\n",
        "400 25\n410 25\n",
    ],
)
def test_two_plain_columns_are_a_spectrum(text):
    rows = [line for line in text.splitlines() if line[0].isdigit()]
    wide = text.split("400")[0] + "\n".join(rows[0].replace("400", str(nm), 1) for nm in range(400, 701, 10))
    found = read_spectra("paint.txt", wide.encode())
    assert found[0].name == "paint"
    assert np.allclose(found[0].reflectance, 0.25)


CGATS = cgats.write("Paints", SAMPLES).decode()
CXF = cxf.write("Paints", SAMPLES, at=AT).decode()


@pytest.mark.parametrize(
    ("text", "why"),
    [
        (CGATS[: len(CGATS) // 2], "cut off"),
        (CGATS.replace("END_DATA\n", ""), "cut off"),
        (CGATS.replace("NUMBER_OF_SETS 3", "NUMBER_OF_SETS 4"), "says 4 samples and holds 3"),
        (CGATS.replace("SPECTRAL_NM", "CMYK_"), "no spectral fields"),
        (re.sub(r" 0\.5 ", " none ", CGATS, count=1), "could not convert"),
        (CXF[:-30], "cut off"),
        (CXF.replace("<cc:CxF", '<!DOCTYPE x [<!ENTITY a "b">]><cc:CxF', 1), "entities"),
        (CXF.replace("ReflectanceSpectrum", "ColorCIELab"), "holds no spectra"),
        ("380 0.5\n900 0.5\n", "steps by 520 nm"),
        ("500 0.5\n510 0.5\n", "reaches from 500 to 510"),
        ("400 0.5\nfour 0.5\n", "row 2"),
        ("hello", "neither CGATS"),
        ("\n".join(f"{nm} {-5 if nm == 500 else 0.5}" for nm in range(380, 731, 10)), "no reflectance"),
        ("\n".join(f"{nm} nan" for nm in range(380, 731, 10)), "not a number"),
    ],
)
def test_spectra_that_cannot_be_meant_are_refused(text, why):
    with pytest.raises(BadFile, match=why):
        read_spectra("f.txt", text.encode())


def test_a_sample_is_chosen_by_name_or_because_it_is_the_only_one():
    assert one_of("f", SAMPLES[:1], "") is SAMPLES[0]
    assert one_of("f", SAMPLES, "torv kritt, OVER white") is SAMPLES[1]
    with pytest.raises(BadFile, match="holds 3 samples"):
        one_of("f", SAMPLES, "")


COLOURS = [Named("Rav Gull", "#f0a010"), Named("Blåbær 2", "#102040"), Named("x", "#000000")]


@pytest.mark.parametrize("write", [palettes.to_gpl, palettes.to_ase])
def test_palettes_that_go_out_come_back_equal(write):
    assert palettes.read_palette("p", write("Shelf", COLOURS)) == COLOURS


@pytest.mark.parametrize(
    ("content", "why"),
    [
        (palettes.to_ase("Shelf", COLOURS)[:-30], "cut off"),
        (palettes.to_ase("Shelf", COLOURS).replace(b"RGB ", b"LAB "), "RGB, Gray and CMYK"),
        (b"1 2 3\n", "row 1: '1 2 3' is no colour"),
        (b"GIMP Palette\n#\n", "no colours"),
        (b"GIMP Palette\n1 2 300 x\n", "row 2"),
        (b"GIMP Palette\nred\n", "row 2"),
    ],
)
def test_palettes_that_cannot_be_meant_are_refused(content, why):
    with pytest.raises(BadFile, match=why):
        palettes.read_palette("p", content)


ROWS = [(nm, 1.5) for nm in range(380, 740, 10)]  # a black: 1.5 percent, or a share that nothing sends back


def _cgats(first, field, rows, more=""):
    fields = " ".join(f"{field}{nm}" for nm, _ in ROWS)
    lines = "\n".join(f'"{name}" {" ".join(f"{value}{mark}" for _ in ROWS)}' for name, value, mark in rows)
    return f"{first}\n{more}\nBEGIN_DATA_FORMAT\nSAMPLE_NAME {fields}\nEND_DATA_FORMAT\nBEGIN_DATA\n{lines}\nEND_DATA\n"


@pytest.mark.parametrize(
    "text",
    [
        _cgats("CGATS.17", "SPEC_", [("bare white", 90.0, ""), ("bare black", 1.5, "")]),
        _cgats("CGATS.17", "SPECTRAL_PCT_", [("bare black", 1.5, "")]),
        _cgats("CTI3", "SPEC_", [("bare black", 1.5, "")]),
        _cgats("CGATS.17", "SPEC_", [("bare black", 1.5, "")], 'SPECTRAL_NORM "100.000000"'),
        _cgats("CGATS.17", "SPEC_", [("bare black", 1.5, "%")]),
        "nm;R %\n" + "\n".join(f"{nm};{value}" for nm, value in ROWS),
        "\n".join(f"{nm}\t{value} %" for nm, value in ROWS),
    ],
)
def test_percent_is_decided_for_a_whole_file_by_what_it_says_or_by_one_value(text):
    black = read_spectra("black.txt", text.encode())[-1]
    assert black.reflectance == pytest.approx(0.015)
    assert "given in percent" in black.notes


def test_a_name_with_a_percent_sign_says_nothing_of_the_values():
    text = "Torv Sot, 50 % thinned\nnm R\n" + "\n".join(f"{nm} 0.4" for nm, _ in ROWS)
    assert read_spectra("x.txt", text.encode())[0].reflectance == pytest.approx(0.4)


def test_a_bare_black_that_is_a_grey_is_asked_about_and_what_was_said_holds():
    text = "\n".join(f"{nm} 0.6" for nm, _ in ROWS).encode()
    assert "comes to L 82" in too_light_for_black(read_spectra("black.txt", text)[0])
    assert too_light_for_black(read_spectra("black.txt", text, "percent")[0]) == ""
    with pytest.raises(InvalidInput, match="percent or share"):
        read_spectra("black.txt", text, "thousandths")


def test_a_file_of_line_breaks_is_refused_as_fast_as_it_is_read():
    text = "CGATS.17\nBEGIN_DATA_FORMAT\n" + "\n" * 2_000_000
    with pytest.raises(BadFile, match="END_DATA_FORMAT"):
        read_spectra("long.txt", text.encode())
    with pytest.raises(BadFile, match=r"holds 0|holds no spectra"):
        read_spectra("x.txt", _cgats("CGATS.17", "SPEC_", [], "NUMBER_OF_SETS " + "9" * 5000).encode())
