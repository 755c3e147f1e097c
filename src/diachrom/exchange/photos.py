"""Colours picked from a photo: a disc is averaged, and a grey patch in the picture takes the light's tint away."""

import io
import warnings
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from diachrom.core.light.bands import Floats
from diachrom.core.light.screen import linear_to_lab, to_linear
from diachrom.errors import BadFile, InvalidInput
from diachrom.exchange.marks import Picture
from diachrom.exchange.sandbox import run_sandboxed
from diachrom.exchange.text import check_size
from diachrom.words import quantity, say

LONGEST_SIDE, SMALL_SIDE = 1400, 480
MOST_KEPT = 2_000_000  # bytes
KEPT_QUALITY = 88
# A JPEG need not be unpacked whole.
MOST_PIXELS = {"JPEG": 120_000_000, "PNG": 24_000_000, "WEBP": 12_000_000, "HEIF": 25_000_000, "AVIF": 25_000_000}
FORMATS = ("JPEG", "PNG", "WEBP")
HEIF_BRANDS = (b"heic", b"heix", b"heim", b"heis", b"hevc", b"mif1", b"msf1")  # as phones keep photos
AVIF_BRANDS = (b"avif", b"avis")
GREY_PHOTO = 0.02  # encoded, between the channels
USUAL_GREY = 0.18  # of a photographer's grey card
SHORTEST_BAIT = 40.0  # pixels from nose to tail
CLIPPED = 0.97  # of linear light; grain keeps a burnt-out patch a little below all


@dataclass(frozen=True, eq=False)
class Spot:
    """A colour out of a photo."""

    lab: Floats  # (3,) under D65
    burnt_out: bool
    balanced: bool = True  # by a grey patch


def taken(name: str, content: bytes) -> tuple[int, int, bytes]:
    """A photo made fit to be read: turned upright, at most 1400 pixels long -> (width, height, PNG). Raises BadFile,
    Crowded."""
    check_size(name, len(content))
    return run_sandboxed(name, normalize_image, content)


def _formats(content: bytes) -> tuple[str, ...]:
    """Of these it may be."""
    brand = content[8:12] if content[4:8] == b"ftyp" else b""
    if brand in HEIF_BRANDS:
        from pillow_heif import register_heif_opener  # takes a while, and few need it

        register_heif_opener(thumbnails=False, decode_threads=1)
        return ("HEIF",)
    return ("AVIF",) if brand in AVIF_BRANDS else FORMATS


def normalize_image(name: str, content: bytes) -> tuple[int, int, bytes]:
    """The same, in this process."""
    upright = _in_srgb(opened(name, content, mode="RGB", side=2 * LONGEST_SIDE))
    upright.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    out = io.BytesIO()
    upright.save(out, "PNG", compress_level=2, icc_profile=None)  # a fifth of the time of the usual, a tenth larger
    return upright.width, upright.height, out.getvalue()


def opened(name: str, content: bytes, *, mode: str, side: int) -> Image.Image:
    """A photo turned upright, at most `side` pixels long; in `mode` where its format unpacks to it. Raises BadFile."""
    formats = _formats(content)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)  # its pixels are counted below
            with Image.open(io.BytesIO(content), formats=formats) as image:
                most = MOST_PIXELS[image.format or "PNG"]
                if image.width * image.height > most:
                    raise BadFile(
                        name,
                        say(
                            "it has {width} x {height} pixels; at most {most} million are read.",
                            width=image.width,
                            height=image.height,
                            most=most // 1_000_000,
                        ),
                    )
                image.draft(mode, (side, side))
                image.thumbnail((side, side))
                return ImageOps.exif_transpose(image)
    except (
        UnidentifiedImageError,
        OSError,
        ValueError,
        SyntaxError,
        Image.DecompressionBombError,
    ) as error:
        raise BadFile(name, say("it is no JPEG, PNG, WebP, HEIC or AVIF picture, or it is cut off.")) from error


def to_keep(png: bytes) -> bytes:
    """A photo as it is kept: a JPEG, whose colours a disc or a patch of points cannot tell from those before, within
    MOST_KEPT. Its points alone, nothing of its maker."""
    image = Image.fromarray(points_of(png))
    for quality in (KEPT_QUALITY, 75, 60):
        out = io.BytesIO()
        image.save(out, "JPEG", quality=quality, subsampling=0)
        if out.tell() <= MOST_KEPT:
            break
    return out.getvalue()


def is_jpeg(picture: bytes) -> bool:
    """Whether it begins as a JPEG does."""
    return picture.startswith(b"\xff\xd8")


def size_of(picture: bytes) -> tuple[int, int]:
    """(width, height) of a picture that was checked."""
    with Image.open(io.BytesIO(picture)) as image:
        return image.size


def check_kept(name: str, pictures: Sequence[tuple[str, bytes]]) -> None:
    """Each, called by its words, is a photo as `to_keep` leaves it: nothing but its points. Raises BadFile."""
    for words, picture in pictures:
        try:
            with Image.open(io.BytesIO(picture), formats=("JPEG",)) as image:
                plain = image.mode == "RGB" and max(image.size) <= LONGEST_SIDE and len(picture) <= MOST_KEPT
                if not plain or [marker for marker, _ in image.applist] != ["APP0"]:  # type: ignore[attr-defined]
                    raise BadFile(
                        name, say("{words} is larger than photos are kept, or holds more than its points.", words=words)
                    )
                image.load()
        except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
            raise BadFile(name, say("{words} is no JPEG picture, or it is cut off.", words=words)) from error


def small(png: bytes) -> bytes:
    """A JPEG to look through a wall by. Raises InvalidInput for what is no picture any more."""
    image = Image.fromarray(points_of(png))
    image.thumbnail((SMALL_SIDE, SMALL_SIDE))
    out = io.BytesIO()
    image.save(out, "JPEG", quality=85)
    return out.getvalue()


def _in_srgb(image: Image.Image) -> Image.Image:
    """In the screen's colour space, by the profile that came with the photo, where that can be read."""
    profile = image.info.get("icc_profile")
    if profile and image.mode in ("RGB", "CMYK", "L"):
        try:
            own = ImageCms.ImageCmsProfile(io.BytesIO(profile))
            turned = ImageCms.profileToProfile(image, own, ImageCms.createProfile("sRGB"), outputMode="RGB")
            if turned is not None:
                return turned
        except (ImageCms.PyCMSError, OSError, ValueError):
            pass
    return image.convert("RGB")


def is_grey(encoded: Picture) -> bool:
    """Whether a picture has no colours at all."""
    red, green, blue = (encoded[..., index] for index in range(3))
    most, least = np.maximum(np.maximum(red, green), blue), np.minimum(np.minimum(red, green), blue)
    return bool((most - least).max() < 255 * GREY_PHOTO)


def pick(
    png: bytes,
    spot: tuple[int, int],
    grey: tuple[int, int] | None,
    *,
    radius: int,
    grey_reflectance: float = USUAL_GREY,
) -> Spot:
    """The colour of a disc, in the light of the grey patch; without one as the camera had it. Raises InvalidInput for
    places outside the picture."""
    if not 0.02 <= grey_reflectance <= 1:
        raise InvalidInput(
            say(
                "A grey patch reflects 2 to 100 %, not {grey_reflectance} %.",
                grey_reflectance=quantity(100 * grey_reflectance, "g"),
            ),
            field="grey",
        )
    encoded = points_of(png)
    wanted = _disc(encoded, spot, radius, "spot")
    if is_grey(encoded):
        raise InvalidInput(say("The photo is grey: it has no colours to pick. Take one in colour."), field="photo")
    if grey is None:
        return Spot(linear_to_lab(wanted), bool(wanted.max() > CLIPPED), balanced=False)
    patch = _patch(encoded, grey, radius)
    balanced = wanted / patch * grey_reflectance
    return Spot(linear_to_lab(balanced), bool(wanted.max() > CLIPPED))


def _patch(encoded: Picture, grey: tuple[int, int], radius: int = 12) -> Floats:
    """The linear light (3,) of a grey patch. Raises InvalidInput for one that says nothing."""
    patch = _disc(encoded, grey, radius, "grey")
    if patch.min() <= 0.004:
        raise InvalidInput(say("The grey patch is black there: pick its middle."), field="grey")
    if patch.max() > CLIPPED:
        raise InvalidInput(
            say("The grey patch is burnt out there: take a darker photo, or a darker patch."), field="grey"
        )
    return patch


def _disc(encoded: Picture, place: tuple[int, int], radius: int, field: str) -> Floats:
    """The mean linear light (3,) of a disc."""
    height, width, _ = encoded.shape
    x, y = place
    if not (0 <= x < width and 0 <= y < height):
        raise InvalidInput(say("The {field} lies outside the photo.", field=field), field=field)
    rows, columns = np.ogrid[:height, :width]
    inside = (columns - x) ** 2 + (rows - y) ** 2 <= max(1, radius) ** 2
    return to_linear(encoded[inside] / 255).mean(axis=0)


LOOKED_WIDTH = 480  # pixels, in which a bait is looked for
OFF_GROUND, LEAST_THING, LONG = 12.0, 0.002, 2.2  # Lab; of the photo; lengths to a width
TIP = 0.012  # of its length, that is the tip of a thing
MOST_CAST = 22.0  # chroma that a lamp gives a grey patch
STRAIGHT_WIDTH, MARGIN = 640, 0.04  # pixels; of the length, at nose and tail


def rows_of(width: int, high: float) -> int:
    """Of a straightened photo so many pixels wide and so many lengths of its bait high."""
    return max(8, round(width * high / (1 + 2 * MARGIN)))


def straightened(png: bytes, nose: tuple[float, float], tail: tuple[float, float], high: float) -> Picture:
    """The part of a photo from nose to tail, turned so that the nose points left: (row, column, 3), `high` lengths
    high. Raises InvalidInput."""
    return _straight(points_of(png), nose, tail, high)


def points_of(png: bytes) -> Picture:
    """(row, column, 3), of 255. Raises InvalidInput for what is no picture any more."""
    try:
        with Image.open(io.BytesIO(png)) as image:
            return np.asarray(image.convert("RGB"))
    except (OSError, ValueError, SyntaxError):
        raise InvalidInput(say("The photo can no longer be read: add it again."), field="photo") from None


def _straight(encoded: Picture, nose: tuple[float, float], tail: tuple[float, float], high: float) -> Picture:
    import cv2  # takes a while, and few need it

    length = float(np.hypot(tail[0] - nose[0], tail[1] - nose[1]))
    if length < SHORTEST_BAIT:
        raise InvalidInput(say("Nose and tail are at the same place: touch them again."), field="photo")
    height, width, _ = encoded.shape
    if not all(0 <= x < width and 0 <= y < height for x, y in (nose, tail)):
        raise InvalidInput(say("Nose and tail must be in the photo."), field="photo")
    scale = STRAIGHT_WIDTH / (length * (1 + 2 * MARGIN))
    rows = rows_of(STRAIGHT_WIDTH, high)
    along = np.array([tail[0] - nose[0], tail[1] - nose[1]]) / length
    turn = scale * np.array([[along[0], along[1]], [-along[1], along[0]]])
    middle = (np.array(nose) + np.array(tail)) / 2
    move = np.array([STRAIGHT_WIDTH / 2, rows / 2]) - turn @ middle
    return np.asarray(
        cv2.warpAffine(encoded, np.column_stack([turn, move]), (STRAIGHT_WIDTH, rows), flags=cv2.INTER_AREA)
    )


def side(
    png: bytes,
    ends: tuple[tuple[float, float], tuple[float, float]],
    grey: tuple[float, float],
    high: float,
    *,
    mirrored: bool,
) -> tuple[Picture, Floats]:
    """A side of a bait, its nose to the left: the straightened picture, and its linear light (row, column, 3) in the
    light of the grey patch. The right side is mirrored. Raises InvalidInput."""
    encoded = points_of(png)
    patch = _patch(encoded, (round(grey[0]), round(grey[1])))
    (nose, tail), width = ends, encoded.shape[1]
    if mirrored:
        encoded = np.ascontiguousarray(encoded[:, ::-1])
        nose, tail = ((width - 1 - x, y) for x, y in (nose, tail))
    picture = _straight(encoded, nose, tail, high)
    return picture, to_linear(picture / 255.0) / patch * USUAL_GREY


@dataclass(frozen=True)
class FoundBait:
    """Pixels of a photo where something long lies, its ends in no order, and of a grey patch, where there is one."""

    ends: tuple[tuple[float, float], tuple[float, float]]
    grey: tuple[float, float] | None


def found_bait(png: bytes) -> FoundBait | None:
    """The longest thing that lies on the photo's ground, and the greyest patch beside it; None where nothing does. A
    proposal: a finger decides. Raises InvalidInput for what is no picture any more."""
    import cv2  # takes a while, and few need it

    encoded = points_of(png)
    scale = LOOKED_WIDTH / max(encoded.shape[:2])
    small = cv2.resize(encoded, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA) if scale < 1 else encoded
    scale = min(scale, 1.0)
    lab = lab_of(np.asarray(small, dtype=np.uint8))
    rim = np.concatenate([lab[:4].reshape(-1, 3), lab[-4:].reshape(-1, 3), lab[:, :4].reshape(-1, 3)])
    differs = (np.linalg.norm(lab - np.median(rim, axis=0), axis=-1) > OFF_GROUND).astype(np.uint8)
    differs = cv2.morphologyEx(differs, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(differs)
    best: tuple[float, FoundBait] | None = None
    patches = []
    for index in range(1, count):
        area = int(stats[index, cv2.CC_STAT_AREA])
        if area < LEAST_THING * differs.size:
            continue
        rows, columns = np.nonzero(labels == index)
        points = np.column_stack([columns, rows]).astype(np.float64)
        middle = points.mean(axis=0)
        _, _, axes = np.linalg.svd(points - middle, full_matrices=False)
        along, across = (points - middle) @ axes[0], (points - middle) @ axes[1]
        length, width = np.ptp(along) + 1, np.ptp(across) + 1
        if length > LONG * width and (best is None or length > best[0]):
            tips = [along < along.min() + TIP * length, along > along.max() - TIP * length]
            ways = [points[tip].mean(axis=0) for tip in tips]
            ends = [
                tuple(((way + (far - (way - middle) @ axes[0]) * axes[0]) / scale).tolist())
                for way, far in zip(ways, (along.min(), along.max()), strict=True)
            ]
            best = length, FoundBait((ends[0], ends[1]), None)
        own = lab[rows, columns]
        if length < 2 * width and np.hypot(*own[:, 1:].mean(axis=0)) < MOST_CAST and 20 < own[:, 0].mean() < 85:
            patches.append((float(own.std(axis=0).mean()), tuple((middle / scale).tolist())))
    if best is None:
        return None
    return FoundBait(best[1].ends, min(patches)[1] if patches else None)


def linear_of(png: bytes) -> Floats:
    """Linear light (row, column, channel) of a photo that was `taken`."""
    return to_linear(points_of(png) / 255.0)


def lab_of(picture: Picture) -> Floats:
    """(row, column, 3) encoded sRGB -> Lab under D65."""
    rows, columns, _ = picture.shape
    return linear_to_lab(to_linear(picture.reshape(-1, 3) / 255.0)).reshape(rows, columns, 3)
