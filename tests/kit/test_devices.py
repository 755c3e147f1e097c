"""Devices over their line: warm-up, tile, drift, no contact, settling, overload, and a plug that is pulled."""

import numpy as np
import pytest
from recorded_reader import Recording, SerialReader
from starlette.testclient import TestClient

from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM
from diachrom.demo.paints import PAINTS
from diachrom.errors import InstrumentError
from diachrom.instruments import truth
from diachrom.instruments.hygrometer import Hygrometer
from diachrom.instruments.line import Garbled, Unplugged
from diachrom.instruments.reader import ColourReader
from diachrom.instruments.scale import DropScale
from diachrom.instruments.simulated import (
    LIMIT_G,
    TILE,
    ReaderMake,
    SimulatedHygrometer,
    SimulatedReader,
    SimulatedScale,
)
from diachrom.web.app import create_app
from diachrom.work.profiles import card_readings, contrast_cards

AT = "2026-11-25T10:00:00+00:00"
MAKE = ReaderMake(warm_up_s=10, tile_lasts_s=100, noise=0.002, drift=0.01, offset=0.0)
GREY = np.full(BANDS, 0.4)


@pytest.fixture
def device(clock):
    device = SimulatedReader("The reader", clock, MAKE, seed=1)
    device.plug()
    return device


@pytest.fixture
def reader(device):
    return ColourReader("The reader", device)


def calibrated(clock, device, reader):
    clock.now += 11
    device.under = TILE
    reader.calibrate()
    device.under = GREY


def test_a_reader_warms_up_wants_its_tile_and_then_reads(clock, device, reader):
    assert (reader.state().state, reader.state().seconds) == ("warming", 10.0)
    with pytest.raises(InstrumentError, match="warming up: 10 s"):
        reader.read()
    clock.now = 11
    assert reader.state().state == "uncalibrated"
    with pytest.raises(InstrumentError, match="needs its white tile"):
        reader.read()
    with pytest.raises(InstrumentError, match="is not on its white tile"):
        reader.calibrate()
    calibrated(clock, device, reader)
    assert reader.state().state == "ready"
    assert np.abs(reader.read() - 0.4).max() < 0.01


def test_its_calibration_expires_and_until_then_it_drifts(clock, device, reader):
    calibrated(clock, device, reader)
    fresh = np.mean([reader.read() for _ in range(20)])
    clock.now += 90
    late = np.mean([reader.read() for _ in range(20)])
    assert late / fresh == pytest.approx(1.015, abs=0.002)
    clock.now += 11
    with pytest.raises(InstrumentError, match="needs its white tile"):
        reader.read()


def test_averages_are_quieter_than_single_readings(clock, device, reader):
    calibrated(clock, device, reader)
    singles = np.array([reader.read() for _ in range(64)])
    means = singles.reshape(8, 8, BANDS).mean(axis=1)
    assert (means - 0.4).std() < 0.6 * (singles - 0.4).std()


def test_nothing_under_it_is_no_contact_and_not_black(clock, device, reader):
    calibrated(clock, device, reader)
    device.under = None
    with pytest.raises(InstrumentError, match="no contact"):
        reader.read()


def test_a_plug_pulled_in_the_middle_of_an_answer_is_said_and_the_rest_is_not_read_later(clock, device, reader):
    calibrated(clock, device, reader)
    device.send("READ")
    for _ in range(10):
        device.receive()
    device.unplug()
    with pytest.raises(Unplugged, match="kept"):
        device.receive()
    device.plug()
    with pytest.raises(Garbled, match="no answer"):
        device.receive()
    assert reader.state().state == "warming"


@pytest.mark.parametrize(
    ("lines", "why"),
    [
        (["SPECTRUM 12"], "12 bands"),
        (["hello"], "hello"),
        (["SPECTRUM 36", *["380 0.5"] * 36, "END 00000000"], "check sum"),
        (["SPECTRUM 36", "380 0.5"], "no answer"),
    ],
)
def test_an_answer_that_is_garbled_is_never_a_reading(lines, why):
    class Wire:
        def __init__(self):
            self.waiting = iter(lines)

        def send(self, line):
            assert line == "READ"

        def receive(self):
            line = next(self.waiting, None)
            if line is None:
                raise Garbled("The reader", "no answer")
            return line

    with pytest.raises(Garbled, match=why):
        ColourReader("The reader", Wire()).read()


def test_the_truth_is_near_the_profile_and_never_the_same():
    paint = next(one for one in PAINTS if one.id == "rav-nype").profile()
    true = truth.of_paint("rav-nype", paint)
    ratio = true.absorption.sum() / paint.absorption.sum()
    assert 0.6 < ratio < 1.6
    assert abs(ratio - 1) > 1e-3
    assert np.array_equal(truth.of_paint("rav-nype", paint).absorption, true.absorption)
    assert not np.allclose(truth.of_paint("rav-gran", paint).absorption, true.absorption)
    alone = [("rav-nype", paint, 1.0)]
    bare = truth.of_field(alone, ground="black", film_um=0.0, sheen=0.0, card=1, dots=False)
    covered = truth.of_field(alone, ground="white", film_um=24.0, sheen=0.0, card=1, dots=False)
    assert bare.max() < 0.05
    assert covered[:15].max() < 0.1 < covered[-1]


@pytest.fixture
def pan(clock):
    pan = SimulatedScale("The scale", clock, seed=2)
    pan.plug()
    return pan


@pytest.fixture
def scale(clock, pan):
    return DropScale("The scale", pan, wait=clock.wait)


def test_a_scale_settles_rounds_and_tares(clock, pan, scale):
    pan.put(1.0)
    grams, stable = scale.now()
    assert (grams < 1.0, stable) == (True, False)
    assert scale.weigh() == 1.0
    scale.tare()
    pan.drip(20, drop_g=0.045)
    grams = scale.weigh()
    assert grams == pytest.approx(0.9, abs=0.1)
    assert round(100 * grams) == pytest.approx(100 * grams)


def test_a_scale_that_never_settles_is_not_believed(pan):
    def shaking(seconds):
        pan.put(0.01)
        pan.clock.now += seconds

    pan.put(1.0)
    with pytest.raises(InstrumentError, match="does not settle"):
        DropScale("The scale", pan, wait=shaking).weigh()


def test_too_much_is_an_overload_and_taking_it_off_mends_it(clock, pan, scale):
    pan.put(LIMIT_G + 1)
    with pytest.raises(InstrumentError, match="overloaded"):
        scale.weigh()
    pan.put(-LIMIT_G)
    assert scale.weigh() == 1.0
    pan.unplug()
    with pytest.raises(Unplugged):
        scale.weigh()


def test_a_real_reader_is_one_more_class_and_cards_and_pages_take_it_as_it_is(bench, store, unplugged):
    line = Recording()
    unplugged.readers["serial"] = SerialReader(line)
    card = contrast_cards.begin(store, "rav-gran", at=AT)
    card_readings.read_by_device(store, card, "white", unplugged, "serial", lifted=False, at=AT)
    reading = next(one for one in contrast_cards.see(store, card).fields if one.field.key == "white").readings[0]
    assert reading.reflectance == pytest.approx((0.2 + WAVELENGTHS_NM / 2000).tolist(), abs=1e-5)
    assert reading.source == "reader:The serial reader"
    app = create_app(bench)
    app.state.devices = unplugged
    with TestClient(app, base_url="http://127.0.0.1", cookies={"reader": "serial"}) as client:
        assert "its tile holds 5 min more" in client.get(f"/contrast-cards/{card}").text
        client.post("/devices/calibrate", data={"key": "serial"}).raise_for_status()
    assert line.asked == ["READ", "STATE", "TILE", "STATE"]


def test_a_hygrometer_settles_and_tells_the_air(clock):
    device = SimulatedHygrometer("The hygrometer", clock, lambda seconds: (19.0, 60.0), seed=3)
    reader = Hygrometer("The hygrometer", device)
    with pytest.raises(Unplugged):
        reader.air()
    device.plug()
    with pytest.raises(InstrumentError, match="feels the hand that held it: 5 s"):
        reader.air()
    clock.wait(6)
    found = np.array([reader.air() for _ in range(60)])
    assert np.abs(found.mean(axis=0) - (19.0, 60.0)).max() < 0.4
    assert 0 < found[:, 0].std() < 0.4


@pytest.mark.parametrize("answer", ["AIR 21", "AIR x 40", "AIR 21 140", "21 40 AIR", ""])
def test_air_that_cannot_be_is_no_reading(answer):
    class Line:
        def send(self, line):
            assert line == "AIR"

        def receive(self):
            return answer

    with pytest.raises(Garbled, match="cannot be read"):
        Hygrometer("It", Line()).air()
