"""A whole bench as one ZIP: a manifest with checksums, each table as JSON, pictures as files; read within bounds."""

import hashlib
import io
import json
import re
import zipfile
import zlib
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path
from typing import Any

from diachrom.errors import BadFile
from diachrom.exchange.photos import is_jpeg
from diachrom.exchange.undated import UndatedZip
from diachrom.words import say

FORMAT, VERSION = "diachrom-bench", 1
MANIFEST = "manifest.json"
NAMES = re.compile(
    r"(manifest\.json|tables/[a-z_]{1,40}\.json|pictures/[a-z_]{1,40}-\d{1,9}\.(png|jpg)"
    r"|csv/[a-z]{1,20}\.csv|calendars/order-\d{1,9}\.ics)"
)
MOST_FILES, MOST_BYTES, MOST_OF_ONE = 50_000, 2_000_000_000, 400_000_000
Rows = Sequence[Sequence[Any]]
CUT_OFF = (zipfile.BadZipFile, OSError, EOFError, RuntimeError, NotImplementedError, ValueError, zlib.error)


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
    with UndatedZip(out) as archive:
        archive.writestr(MANIFEST, json.dumps(manifest, indent=1))
        for name, content in files.items():
            packed = name.startswith("pictures/")
            archive.writestr(name, content, zipfile.ZIP_STORED if packed else zipfile.ZIP_DEFLATED)
    return out.getvalue()


def _out(files: dict[str, bytes], table: str, value: Any) -> Any:
    if not isinstance(value, bytes):
        return value
    name = f"pictures/{table}-{len(files)}.{'jpg' if is_jpeg(value) else 'png'}"
    files[name] = value
    return {"picture": name}


class Reader:
    """A whole bench that is read table by table, so that no more of it is in memory than one table and one picture."""

    def __init__(self, name: str, path: Path, *, oldest: int, latest: int) -> None:
        """Raises BadFile, saying why."""
        self.name = name
        try:
            self._archive = zipfile.ZipFile(path)
            self._sizes = _sizes(name, self._archive)
            # (version of the data, checksums by path). Raises BadFile.
            content = self._own(MANIFEST)
            try:
                told = json.loads(content)
                sums = {str(path): str(one["sha256"]) for path, one in told["files"].items()}
                form, version, own = told["format"], told["version"], told["data"]
            except (KeyError, TypeError, ValueError, AttributeError, RecursionError):
                raise BadFile(name, say("its manifest is missing, or cannot be read.")) from None
            if form != FORMAT or version != VERSION or not isinstance(own, int):
                raise BadFile(name, say("it is no bench of this form."))
            if not oldest <= own <= latest:
                how = "an older" if own < oldest else "a later"
                here = f"{oldest} to {latest} are read"
                raise BadFile(
                    name,
                    say(
                        "it was written by {how} version (data {own}; {here}): open it there, and save it again.",
                        how=how,
                        own=own,
                        here=here,
                    ),
                )
            self.data, self._sums = own, sums
        except CUT_OFF as error:
            raise BadFile(name, say("it is no ZIP, or it is cut off.")) from error
        for path_ in self._sums:
            if path_ not in self._sizes:
                raise BadFile(name, say("{path} is missing, or is not as it was when it was written.", path=path_))

    def tables(self) -> Iterator[tuple[str, list[str], Iterator[list[Any]]]]:
        """(name, columns, rows) of each; pictures stand in the rows as bytes. Raises BadFile."""
        for path in self._sums:
            if path.startswith("tables/"):
                try:
                    told = json.loads(self._read(path), parse_constant=_no_number)
                    columns = [str(one) for one in told["columns"]]
                    rows = [list(row) for row in told["rows"]]
                except (KeyError, TypeError, ValueError, RecursionError):
                    raise BadFile(self.name, say("{path} cannot be read.", path=path)) from None
                yield path[7:-5], columns, ([self._value(path, value) for value in row] for row in rows)

    def check_rest(self) -> None:
        """What is only for people to read is as it was written, too. Raises BadFile."""
        for path in self._sums:
            if not path.startswith(("tables/", "pictures/")):
                self._read(path)

    def _value(self, path: str, value: Any) -> Any:
        if isinstance(value, bool):
            raise BadFile(self.name, say("{path} holds a yes or no, where only figures and texts are.", path=path))
        if not isinstance(value, (dict, list)):
            return value
        picture = value.get("picture") if isinstance(value, dict) else None
        if not isinstance(picture, str) or not picture.startswith("pictures/"):
            raise BadFile(self.name, say("{path} cannot be read.", path=path))
        return self._read(picture)

    def _read(self, path: str) -> bytes:
        try:
            content = self._own(path)
        except CUT_OFF as error:
            raise BadFile(self.name, say("it is no ZIP, or it is cut off.")) from error
        if hashlib.sha256(content).hexdigest() != self._sums.get(path):
            raise BadFile(self.name, say("{path} is missing, or is not as it was when it was written.", path=path))
        return content

    def _own(self, path: str) -> bytes:
        if path not in self._sizes:
            return b""
        with self._archive.open(path) as opened:
            content = opened.read(self._sizes[path] + 1)
        if len(content) != self._sizes[path]:
            raise BadFile(self.name, say("{path} is of another size than it says.", path=path))
        return content


def _no_number(text: str) -> float:
    raise ValueError(say("{words} is no number", words=text))


def _sizes(name: str, archive: zipfile.ZipFile) -> dict[str, int]:
    """Bytes of everything in it, once it is seen that it is not too much. Raises BadFile."""
    entries = archive.infolist()
    if len(entries) > MOST_FILES or sum(one.file_size for one in entries) > MOST_BYTES:
        raise BadFile(name, say("it holds more than a bench can have."))
    found: dict[str, int] = {}
    for entry in entries:
        if not NAMES.fullmatch(entry.filename) or entry.filename in found:
            raise BadFile(name, say("'{filename}' does not belong in a bench.", filename=entry.filename[:60]))
        if entry.file_size > MOST_OF_ONE or entry.file_size > 1000 * max(entry.compress_size, 1000):
            raise BadFile(name, say("{filename} is larger than it can be.", filename=entry.filename))
        found[entry.filename] = entry.file_size
    return found
