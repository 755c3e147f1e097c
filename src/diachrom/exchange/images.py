"""Images of computed colours, as files."""

import base64
import io

import numpy as np
from PIL import Image

from diachrom.core.light.bands import Bools, Floats


def png(rgb: Floats, there: Floats | Bools) -> bytes:
    """Encoded sRGB (row, column, 3) of 0 to 255 as a PNG, clear where nothing is there (row, column) of 0 to 1."""
    out = io.BytesIO()
    whole = np.concatenate([np.rint(rgb).astype(np.uint8), np.rint(255 * there[..., None]).astype(np.uint8)], axis=-1)
    Image.fromarray(whole).save(out, "PNG", compress_level=4)
    return out.getvalue()


def sized(image: bytes, wide_mm: float) -> bytes:
    """A PNG that says how wide it is on paper."""
    out = io.BytesIO()
    with Image.open(io.BytesIO(image)) as found:
        dpi = 25.4 * found.width / wide_mm
        found.save(out, "PNG", compress_level=4, dpi=(dpi, dpi))
    return out.getvalue()


def svg_of(image: bytes, size: tuple[int, int], millimetres: tuple[float, float], title: str) -> bytes:
    """A PNG in an SVG at its true size."""
    width, height = size
    wide, high = millimetres
    told = base64.b64encode(image).decode()
    plain = title.replace("&", "&amp;").replace("<", "&lt;")
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="{wide:.2f}mm"'
        f' height="{high:.2f}mm" viewBox="0 0 {width} {height}"><title>{plain}</title>'
        f'<image width="{width}" height="{height}" xlink:href="data:image/png;base64,{told}"/></svg>'
    ).encode()


def address_of(picture: bytes, *, wide: int, see_through: bool = False) -> str:
    """A picture as a data address: its points alone, so that no place and no device goes with it. Raises OSError for
    what is none."""
    kind, mode = ("PNG", "RGBA") if see_through else ("JPEG", "RGB")
    with Image.open(io.BytesIO(picture)) as image:
        bare = image.convert(mode)
    bare.thumbnail((wide, wide))
    clean = Image.frombytes(bare.mode, bare.size, bare.tobytes())
    out = io.BytesIO()
    clean.save(out, kind, quality=88)
    return f"data:image/{kind.lower()};base64,{base64.b64encode(out.getvalue()).decode()}"
