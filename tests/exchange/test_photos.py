"""Colours out of a photo: the grey patch takes the light's tint and strength away."""

import io

import numpy as np
import pytest
from PIL import Image, ImageCms

from diachrom.core.light.difference import delta_e
from diachrom.core.light.screen import hex_to_lab, to_linear
from diachrom.errors import BadFile, InvalidInput
from diachrom.exchange import photos

WANTED = "#3f6fa0"


def encode(linear):
    return np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)


def photo(light=(1.0, 1.0, 1.0), form="PNG", size=(600, 400)):
    """Left an 18 % grey, right the wanted colour, both in this light, with some grain."""
    paint = to_linear(np.array([int(WANTED[at : at + 2], 16) / 255 for at in (1, 3, 5)]))
    scene = np.empty((size[1], size[0], 3))
    scene[:, : size[0] // 2], scene[:, size[0] // 2 :] = 0.18, paint
    seen = encode(np.clip(scene * light, 0, 1)) + np.random.default_rng(1).normal(0, 0.01, scene.shape)
    out = io.BytesIO()
    Image.fromarray((255 * np.clip(seen, 0, 1)).round().astype(np.uint8)).save(out, form)
    return out.getvalue()


@pytest.mark.parametrize("light", [(1, 1, 1), (1.2, 1.0, 0.6), (0.5, 0.6, 0.7)])
@pytest.mark.parametrize("form", ["PNG", "JPEG"])
def test_the_colour_is_the_same_in_any_light_that_the_grey_patch_stood_in(light, form):
    width, height, png = photos.taken("card", photo(light, form))
    assert (width, height) == (600, 400)
    spot = photos.pick(png, (450, 200), (150, 200), radius=20)
    assert delta_e(spot.lab, hex_to_lab(WANTED)) < 1.5
    assert not spot.burnt_out


def test_large_photos_are_made_smaller_and_burnt_out_ones_are_said():
    width, height, png = photos.taken("card", photo(light=(12, 12, 12), size=(2800, 1400)))
    assert (width, height) == (1400, 700)
    with pytest.raises(InvalidInput, match="grey patch is burnt out"):
        photos.pick(png, (1000, 300), (300, 300), radius=9)
    for light, burnt_out in ((2.4, False), (5.0, True)):
        _, _, png = photos.taken("card", photo(light=(light,) * 3))
        assert photos.pick(png, (450, 200), (150, 200), radius=9).burnt_out == burnt_out


def test_a_photo_is_turned_upright_put_into_srgb_and_a_grey_one_is_refused():
    with Image.open(io.BytesIO(photo(size=(600, 300)))) as image:
        out, turned = io.BytesIO(), Image.Exif()
        turned[0x0112] = 6
        image.save(out, "JPEG", exif=turned)
        assert photos.taken("card", out.getvalue())[:2] == (300, 600)
        linear = io.BytesIO()
        profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
        image.convert("CMYK").save(linear, "JPEG", icc_profile=profile)
        assert photos.taken("card", linear.getvalue())[:2] == (600, 300)
        grey = io.BytesIO()
        image.convert("L").save(grey, "PNG")
    with pytest.raises(InvalidInput, match="photo is grey"):
        photos.pick(photos.taken("card", grey.getvalue())[2], (450, 100), (150, 100), radius=9)


def test_a_hundred_megapixels_are_refused_by_their_number():
    out = io.BytesIO()
    Image.new("1", (10_000, 10_000)).save(out, "PNG")
    with pytest.raises(BadFile, match="at most 24 million"):
        photos.taken("card", out.getvalue())


def test_places_outside_and_patches_without_light_are_refused():
    _, _, png = photos.taken("card", photo())
    for spot, grey in (((700, 10), (10, 10)), ((10, 10), (10, 400)), ((-1, 10), (10, 10))):
        with pytest.raises(InvalidInput, match="outside the photo"):
            photos.pick(png, spot, grey, radius=5)
    with pytest.raises(InvalidInput, match="reflects 2 to 100 %"):
        photos.pick(png, (10, 10), (10, 10), radius=5, grey_reflectance=0.0)
    _, _, dark = photos.taken("card", photo(light=(0.001, 0.001, 0.001)))
    with pytest.raises(InvalidInput, match="grey patch is black"):
        photos.pick(dark, (450, 200), (10, 10), radius=1)


@pytest.mark.parametrize(
    "content", [b"", b"GIF89a" + b"\0" * 40, b"hello", photo()[:300], b"\x89PNG\r\n\x1a\n" + b"\xff" * 60]
)
def test_what_is_no_picture_is_refused(content):
    with pytest.raises(BadFile, match="no JPEG, PNG, WebP, HEIC or AVIF"):
        photos.taken("card", content)


@pytest.mark.parametrize("form", ["HEIF", "AVIF"])
def test_photos_as_phones_keep_them_are_turned_upright_and_tell_nothing_of_where_they_were_taken(form):
    import pillow_heif

    pillow_heif.register_heif_opener()
    seen = Image.new("RGB", (320, 200), (40, 90, 160))
    seen.paste((200, 60, 30), (0, 0, 160, 200))
    exif = Image.Exif()
    exif[274] = 6  # held upright: to be turned to the right
    exif.get_ifd(34853)[1] = "N"
    out = io.BytesIO()
    seen.save(out, form, quality=90, exif=exif.tobytes())
    width, height, png = photos.taken(f"IMG_0001.{form.lower()}", out.getvalue())
    assert (width, height) == (200, 320)
    found = Image.open(io.BytesIO(png))
    assert found.getexif() == {}
    above, below = found.getpixel((100, 60)), found.getpixel((100, 260))
    assert above[0] > 150 > below[0]


def test_a_whole_photo_of_a_phone_is_read_within_the_bounds(tmp_path):
    import pillow_heif

    pillow_heif.register_heif_opener()
    rng = np.random.default_rng(1)
    grain = Image.fromarray(rng.integers(60, 200, (378, 504, 3), dtype=np.uint8)).resize((4032, 3024))
    out = io.BytesIO()
    grain.save(out, "HEIF", quality=60)
    assert photos.taken("IMG_0002.HEIC", out.getvalue())[:2] == (1400, 1050)
    for broken in (out.getvalue()[:9000], out.getvalue()[:40], b"\0\0\0\x18ftypheic" + b"\0" * 200):
        with pytest.raises(BadFile):
            photos.taken("IMG_0003.HEIC", broken)
