"""A plan from a reference photo: straightened, its zones found, matched together, and laid when it is said so."""

import io

import numpy as np
import pytest
from everything import everything
from PIL import Image

from diachrom.core.bait.view import framed
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lch
from diachrom.errors import BadFile, InvalidInput
from diachrom.work.kit.opened import opened
from diachrom.work.kit.tasks import Tasks
from diachrom.work.match import several
from diachrom.work.plan import pictures, plans, reference

AT = "2026-11-26T10:00:00+00:00"
WIDE = 500


@pytest.fixture
def store(bench):
    with opened(bench) as store:
        yield store


def photo_of(store, number, angle):
    """A bait as a camera would see it that is held at a slant, before a grey wall; and where nose and tail are."""
    plan = plans.now(store, number).plan
    bait = Image.open(io.BytesIO(pictures.image(store, plan, width=WIDE)))
    wall = np.full((520, 720, 3), 128) + np.random.default_rng(3).integers(-8, 9, (520, 720, 1))
    photo = Image.fromarray(wall.astype(np.uint8))
    turned = bait.rotate(angle, expand=True, resample=Image.Resampling.BICUBIC)
    photo.paste(turned, ((720 - turned.width) // 2, (520 - turned.height) // 2), turned)
    out = io.BytesIO()
    photo.save(out, "PNG")
    surface = plan.blank.surface((24, 12))
    frame = framed(plan.blank.form, surface, "left")
    pixel = frame.wide / WIDE
    off, start = frame.high / pixel - bait.height / 2, frame.start / pixel + WIDE / 2
    cos, sin = np.cos(np.radians(angle)), np.sin(np.radians(angle))
    ends = [(360 + x * cos + off * sin, 260 - x * sin + off * cos) for x in (-start, 1 / pixel - start)]
    return out.getvalue(), ends


@pytest.mark.parametrize("angle", [0, 24, -35])
def test_a_slanted_photo_is_straightened_and_its_zones_are_where_the_bait_has_them(store, angle):
    content, (nose, tail) = photo_of(store, 1, angle)
    reference.bring(store, 1, "char.png", content, at=AT)
    reference.straighten(store, 1, nose, tail)
    zones = reference.of(store, 1)[1].zones
    assert 3 <= len(zones) <= 8
    back = next(zone for zone in zones if zone.region in ("back", "shoulder") and zone.through == "free")
    belly = [zone for zone in zones if zone.region == "belly"]
    assert back.lab[0] < 70
    assert any(20 < lch(np.array(zone.lab))[2] < 75 for zone in belly)  # orange
    assert sum(zone.share for zone in zones) > 0.9
    picture = Image.open(io.BytesIO(reference.straightened(store, 1)))
    assert picture.width == 640


def test_a_photo_without_a_bait_is_said_and_nothing_is_lost(store):
    out = io.BytesIO()
    Image.new("RGB", (400, 300), (90, 120, 90)).save(out, "PNG")
    with pytest.raises(BadFile, match="no JPEG"):
        reference.bring(store, 1, "x.png", b"no picture", at=AT)
    reference.bring(store, 1, "x.png", out.getvalue(), at=AT)
    before = everything(store)
    for ends, words in (
        (((50, 150), (350, 150)), "nothing that differs"),
        (((50, 150), (52, 150)), "at the same place"),
        (((50, 150), (950, 150)), "in the photo"),
    ):
        with pytest.raises(InvalidInput, match=words):
            reference.straighten(store, 1, *ends)
    with pytest.raises(InvalidInput, match="Touch nose and tail first"):
        reference.touch(store, 1, 0, 0.5, 0.5)
    assert everything(store) == before


def test_zones_are_corrected_matched_together_and_laid_one_by_one(bench):
    with opened(bench) as store:
        content, (nose, tail) = photo_of(store, 2, 10)
        number = plans.new(store, plans.now(store, 2).plan.blank, name="After a wrasse", at=AT)
        reference.bring(store, number, "wrasse.png", content, at=AT)
        reference.straighten(store, number, nose, tail)
        while len(reference.of(store, number)[1].zones) > 2:
            reference.leave_out(store, number, 2)
        reference.touch(store, number, 0, 0.5, 0.5)
        reference.change(store, number, 1, name="upper", region="back")
        tasks = Tasks(bench)
        reference.match(store, tasks, number, at=AT)
    assert several.now(tasks).wait(120)
    with opened(bench) as store:
        found = reference.of(store, number)[1]
        mixes = reference.mixes(several.now(tasks), found)
        assert len(mixes) == 2
        assert plans.now(store, number).plan.layers == ()  # nothing is laid without a press
        for one in mixes:
            assert delta_e(np.array(one.zone.lab), one.mix.lab) == pytest.approx(one.mix.delta_e, abs=0.2)
        said = reference.lay(store, tasks, number, 1, at=AT)
        layer = plans.now(store, number).plan.layers[0]
        assert layer.region == "back"
        assert layer.origin == "above"
        assert "upper" in said
        plans.undo(store, number, at=AT)
        assert plans.now(store, number).plan.layers == ()
        with pytest.raises(InvalidInput, match="match the zones first"):
            reference.lay(store, tasks, number, 7, at=AT)
