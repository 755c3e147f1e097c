"""Text out of bytes that may come from anywhere."""

import re

from diachrom.errors import BadFile
from diachrom.words import quantity, say

LARGEST_FILE = 10_000_000  # bytes
MAGICS = {
    b"PK\x03\x04": "a zip archive or XLSX",
    b"\x89PNG": "a PNG picture",
    b"\xff\xd8\xff": "a JPEG picture",
    b"%PDF": "a PDF",
    b"ASEF": "an ASE palette",
    b"SQLite format 3": "a database",
}


UNWRITABLE = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ud800-\udfff\ufffe\uffff]")


def writable(text: str) -> str:
    """With a mark in place of the characters that no workbook and no XML may hold."""
    return UNWRITABLE.sub("\ufffd", text)


def check_size(name: str, size: int) -> None:
    """Before it is read. Raises BadFile."""
    if size > LARGEST_FILE:
        raise BadFile(
            name,
            say(
                "it has {size} MB; at most {largest_file} MB are read.",
                size=quantity(size / 1e6, ".0f"),
                largest_file=quantity(LARGEST_FILE / 1e6, ".0f"),
            ),
        )


def decoded(name: str, content: bytes) -> tuple[str, list[str]]:
    """The text, and what was noticed about how it was written. Raises BadFile for what is no text."""
    check_size(name, len(content))
    if not content.strip():
        raise BadFile(name, say("it is empty."))
    for magic, words in MAGICS.items():
        if content.startswith(magic):
            raise BadFile(name, say("it is {words}, not text.", words=words))
    if content.startswith(b"\xef\xbb\xbf"):
        return _strict(name, content, "utf-8-sig"), []
    if content.startswith((b"\xff\xfe", b"\xfe\xff")):
        return _strict(name, content, "utf-16"), ["read as UTF-16"]
    if b"\x00" in content:
        # UTF-16 without its mark: most of it are plain letters, every second byte of which is 0. Raises BadFile.
        start = content[:4000]
        evens, odds = start[0::2].count(0), start[1::2].count(0)
        if len(content) % 2 or max(evens, odds) < 0.3 * len(start[1::2]) or min(evens, odds) > 0:
            raise BadFile(name, say("it is not text."))
        found = _strict(name, content, "utf-16-le" if odds > evens else "utf-16-be")
        if UNWRITABLE.search(found[:2000]):
            raise BadFile(name, say("it is not text."))
        return found, ["read as UTF-16, which it does not say"]
    try:
        return content.decode("utf-8"), []
    except UnicodeDecodeError:
        return content.decode("cp1252", errors="replace"), [
            "read as Latin-1, since it is no UTF-8: look at the accents"
        ]


def _strict(name: str, content: bytes, encoding: str) -> str:
    try:
        return content.decode(encoding)
    except UnicodeDecodeError as error:
        raise BadFile(
            name,
            say(
                "byte {start} is no {removesuffix}.",
                start=error.start,
                removesuffix=encoding.removesuffix("-sig").upper(),
            ),
        ) from None
