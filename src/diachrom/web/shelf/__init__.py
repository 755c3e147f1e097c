from diachrom.web.kit.frame import RailEntry
from diachrom.words import say
from diachrom.work.kit.opened import Store
from diachrom.work.shelf import on_shelf
from diachrom.work.shelf.shelf_index import WantedBottles

PAGE = 48  # bottles
RAIL_ENTRY = RailEntry(10, "shelf", say("Shelf"), "s")


def prewarm(store: Store) -> None:
    """The looks on the first page."""
    on_shelf.page(store, WantedBottles(), most=PAGE)
