"""Photos of spray-out cards in the JSON document: whole, the newest first, as far as the document may grow and be
read."""

import base64
import sqlite3
from contextlib import suppress

from diachrom.errors import BadFile, InvalidInput
from diachrom.exchange import photos
from diachrom.exchange.sandbox import run_sandboxed
from diachrom.exchange.text import LARGEST_FILE
from diachrom.store import spray_out_cards, uploads
from diachrom.words import say
from diachrom.work.files.bundle_document import Bundle, CardDoc, PhotoDoc

AROUND = 600  # bytes of a photo's name and keys, at most


def add_photos(connection: sqlite3.Connection, whole: Bundle, size: int) -> None:
    """Add them to a document of so many bytes."""
    shown = {one.id: one.photo for one in spray_out_cards.latest(connection) if one.photo is not None}
    for card in sorted(whole.cards, key=lambda one: one.at, reverse=True):
        if card.number in shown:
            with suppress(InvalidInput):  # one that cannot be read any more stays out
                photo = _document(uploads.photo(connection, shown[card.number]))
                grown = size + AROUND + len(photo.jpeg)
                if grown <= LARGEST_FILE:
                    card.photo, size = photo, grown


def _document(photo: uploads.Photo) -> PhotoDoc:
    picture = photo.picture if photos.is_jpeg(photo.picture) else photos.to_keep(photo.picture)
    photos.check_kept(photo.name, [(say("the photo"), picture)])
    return PhotoDoc(name=photo.name, jpeg=base64.b64encode(picture).decode())


def check_photos(name: str, whole: Bundle) -> None:
    """Raises BadFile, naming the card, for what is no photo as one is kept."""
    pictures = []
    for card in whole.cards:
        if card.photo is not None:
            words = say("the photo of spray-out card {number}", number=card.number)
            try:
                pictures.append((words, base64.b64decode(card.photo.jpeg, validate=True)))
            except ValueError:
                raise BadFile(name, say("{words} is not written in base64.", words=words)) from None
    if pictures:
        run_sandboxed(name, photos.check_kept, pictures)


def bring_photo(connection: sqlite3.Connection, card: CardDoc) -> None:
    """Show it on its card. Inside `writing`."""
    if card.photo is not None:
        picture = base64.b64decode(card.photo.jpeg)
        width, height = photos.size_of(picture)
        number = uploads.keep_photo(
            connection, name=card.photo.name, width=width, height=height, picture=picture, at=card.at
        )
        spray_out_cards.show_photo(connection, card.number, number)
