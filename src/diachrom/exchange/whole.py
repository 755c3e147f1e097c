"""A whole bench as one ZIP: a manifest with checksums, each table as JSON, pictures as files; read within bounds."""

import hashlib
import io
import json
import re
import zipfile
from collections.abc import Mapping, Sequence
from typing import Any

from PIL import Image

from diachrom.errors import BadFile
from diachrom.exchange.photos import is_jpeg

FORMAT, VERSION = "diachrom-bench", 1
MANIFEST = "manifest.json"
NAMES = re.compile(
    r"(manifest\.json|tables/[a-z_]{1,40}\.json|pictures/[a-z_]{1,40}-\d{1,9}\.(png|jpg)"
    r"|csv/[a-z]{1,20}\.csv|calendars/order-\d{1,9}\.ics)"
)
MOST_FILES, MOST_BYTES, MOST_OF_ONE = 50_000, 2_000_000_000, 400_000_000
Rows = Sequence[Sequence[Any]]


def written(
    tables: Mapping[str, tuple[Sequence[str], Rows]], sheets: Mapping[str, bytes], *, data: int, made: str
) -> bytes:
    """`tables` by name: columns, rows; `sheets` by path, for people, which are not read again; `data` is the version of
    the tables."""
    files: dict[str, bytes] = {}
    for name, (columns, rows) in tables.items():
        told = [[_out(files, name, value) for value in row] for row in rows]
        files[f"tables/{name}.json"] = json.dumps({"columns": list(columns), "rows": told}, ensure_ascii=True).encode()
    files |= sheets
    sums = {
        name: {"sha256": hashlib.sha256(content).hexdigest(), "bytes": len(content)} for name, content in files.items()
    }
    manifest = {"format": FORMAT, "version": VERSION, "data": data, "made": made, "files": sums}
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(MANIFEST, json.dumps(manifest, indent=1))
        for name, content in files.items():
            archive.writestr(name, content)
    return out.getvalue()


def _out(files: dict[str, bytes], table: str, value: Any) -> Any:
    if not isinstance(value, bytes):
        return value
    name = f"pictures/{table}-{len(files)}.{'jpg' if is_jpeg(value) else 'png'}"
    files[name] = value
    return {"picture": name}


def read(
    name: str, content: bytes, *, oldest: int, latest: int
) -> tuple[int, dict[str, tuple[list[str], list[list[Any]]]]]:
    """(version of the data, tables by name). Raises BadFile, saying why."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            files = _files(name, archive)
    except (zipfile.BadZipFile, OSError, EOFError, RuntimeError, NotImplementedError, ValueError) as error:
        raise BadFile(name, "it is no ZIP, or it is cut off.") from error
    data, manifest = _manifest(name, files, oldest, latest)
    for path, told in manifest.items():
        own = files.get(path)
        if own is None or hashlib.sha256(own).hexdigest() != told:
            raise BadFile(name, f"{path} is missing, or is not as it was when it was written.")
    found = {}
    for path in manifest:
        if path.startswith("tables/"):
            found[path[7:-5]] = _table(name, path, files)
    return data, found


def _files(name: str, archive: zipfile.ZipFile) -> dict[str, bytes]:
    """Everything in it, once it is seen that it is not too much. Raises BadFile."""
    entries = archive.infolist()
    if len(entries) > MOST_FILES or sum(one.file_size for one in entries) > MOST_BYTES:
        raise BadFile(name, "it holds more than a bench can have.")
    found = {}
    for one in entries:
        if not NAMES.fullmatch(one.filename) or one.filename in found:
            raise BadFile(name, f"'{one.filename[:60]}' does not belong into a bench.")
        if one.file_size > MOST_OF_ONE or one.file_size > 1000 * max(one.compress_size, 1000):
            raise BadFile(name, f"{one.filename} is larger than it can be.")
        with archive.open(one) as opened:
            found[one.filename] = opened.read(one.file_size + 1)
        if len(found[one.filename]) != one.file_size:
            raise BadFile(name, f"{one.filename} is of another size than it says.")
    return found


def _manifest(name: str, files: Mapping[str, bytes], oldest: int, latest: int) -> tuple[int, dict[str, str]]:
    """(version of the data, checksums by path). Raises BadFile."""
    try:
        told = json.loads(files[MANIFEST])
        sums = {str(path): str(one["sha256"]) for path, one in told["files"].items()}
        form, version, own = told["format"], told["version"], told["data"]
    except (KeyError, TypeError, ValueError, AttributeError, RecursionError):
        raise BadFile(name, "its manifest is missing, or cannot be read.") from None
    if form != FORMAT or version != VERSION or not isinstance(own, int):
        raise BadFile(name, "it is no bench of this form.")
    if not oldest <= own <= latest:
        how = "an older" if own < oldest else "a later"
        here = f"{oldest} to {latest} are read"
        raise BadFile(name, f"it was written by {how} version (data {own}; {here}): open it there, and write it anew.")
    return own, sums


def _table(name: str, path: str, files: Mapping[str, bytes]) -> tuple[list[str], list[list[Any]]]:
    try:
        told = json.loads(files[path])
        columns = [str(one) for one in told["columns"]]
        rows = [[_in(name, value, files) for value in row] for row in told["rows"]]
    except (KeyError, TypeError, ValueError, RecursionError):
        raise BadFile(name, f"{path} cannot be read.") from None
    return columns, rows


def _in(name: str, value: Any, files: Mapping[str, bytes]) -> Any:
    if not isinstance(value, (dict, list)):
        return value
    picture = files[value["picture"]]  # type: ignore[call-overload]
    try:
        with Image.open(io.BytesIO(picture), formats=("PNG", "JPEG")) as image:
            image.verify()
    except (OSError, ValueError, SyntaxError):
        raise BadFile(name, f"{value['picture']} is no picture.") from None  # type: ignore[call-overload]
    return picture
