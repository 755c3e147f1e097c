"""The chapters of the pages: each is a folder here, and what it brings is found in it.

A module with a `router` answers requests. A folder's own module may say where it stands on the rail (`RAIL_ENTRY`) and
what it computes before anybody asks (`prewarm`).
"""

from collections.abc import Callable, Iterator
from functools import cache
from importlib import import_module
from pkgutil import iter_modules, walk_packages
from types import ModuleType

from fastapi import APIRouter

from diachrom import web
from diachrom.web.kit.frame import RailEntry
from diachrom.work.kit.opened import Store


@cache
def chapters() -> tuple[ModuleType, ...]:
    """Every package of pages, in the order of their names."""
    names = sorted(one.name for one in iter_modules(web.__path__) if one.ispkg)
    return tuple(import_module(f"{web.__name__}.{name}") for name in names)


@cache
def routers() -> tuple[APIRouter, ...]:
    """The routers of all chapters."""
    modules = (one.name for chapter in chapters() for one in walk_packages(chapter.__path__, f"{chapter.__name__}."))
    found = (getattr(import_module(name), "router", None) for name in modules)
    return tuple(router for router in found if router is not None)


def rail() -> list[RailEntry]:
    """The entries of the rail, in their order."""
    entries = (getattr(chapter, "RAIL_ENTRY", None) for chapter in chapters())
    return sorted((one for one in entries if one is not None), key=lambda entry: entry.place)


def prewarming() -> Iterator[Callable[[Store], object]]:
    """What chapters compute before anybody asks."""
    for chapter in chapters():
        prewarm = getattr(chapter, "prewarm", None)
        if prewarm is not None:
            yield prewarm
