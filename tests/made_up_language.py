"""A language that nobody speaks: every sentence of the catalogue in other letters and half as long again."""

import re
from contextlib import contextmanager

from babel.messages.pofile import read_po, write_po

from diachrom import catalogues, words
from diachrom.work.kit.bench_settings import BenchSettings

CODE = "zz"
PLACES = re.compile(r"(\{\w+\}|<[^>]*>|&\w+;)")
LETTERS = str.maketrans(
    "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ",
    "абцдефгхийклмнопярстувшжызАБЦДЕФГХИЙКЛМНОПЯРСТУВШЖЫЗ",
)


def in_it(sentence):
    def longer(word):
        return (word[0] + word[0][-1].lower() * (len(word[0]) // 2)).translate(LETTERS)

    parts = PLACES.split(sentence)
    return "".join(part if place % 2 else re.sub("[A-Za-z]+", longer, part) for place, part in enumerate(parts))


def write(folder):
    with (catalogues.LOCALES / "diachrom.pot").open("rb") as file:
        catalogue = read_po(file, locale="en")
    for message in catalogue:
        if message.id:
            pair = isinstance(message.id, tuple)
            message.string = tuple(map(in_it, message.id)) if pair else in_it(message.id)
    with (folder / f"{CODE}.po").open("wb") as file:
        write_po(file, catalogue)


@contextmanager
def spoken(folder):
    """All benches of this process are read in it."""
    write(folder)
    before, own = catalogues.LOCALES, BenchSettings.reader
    catalogues.LOCALES = folder
    catalogues.catalogue.cache_clear()
    BenchSettings.reader = lambda self, asked="": words.Reader(language=CODE)
    try:
        yield
    finally:
        catalogues.LOCALES, BenchSettings.reader = before, own
        catalogues.catalogue.cache_clear()
