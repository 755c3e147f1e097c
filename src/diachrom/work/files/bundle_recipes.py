"""Recipes in the JSON document: every version with how it was poured."""

import sqlite3
from collections.abc import Mapping
from dataclasses import asdict

from diachrom.core.mix.draft import RECIPE_GROUND, Draft, Part
from diachrom.core.mix.story import Told, Verdict
from diachrom.store import recipes, stories
from diachrom.work.files.bundle_document import PartDoc, RecipeDoc, ToldDoc, VersionDoc

Versions = Mapping[tuple[int, int], int]  # (recipe, version) in a document -> version here
NO_OTHERS: Versions = {}


def every_recipe(connection: sqlite3.Connection) -> list[RecipeDoc]:
    return [
        RecipeDoc(
            number=number,
            versions=[_version(connection, one) for one in reversed(recipes.versions(connection, number))],
        )
        for number in recipes.numbers(connection)
    ]


def _version(connection: sqlite3.Connection, one: recipes.Version) -> VersionDoc:
    draft = one.draft
    parts = [PartDoc(bottle=part.bottle, drops=part.drops, drop_ml=part.drop_ml) for part in draft.parts]
    own = {key: getattr(draft, key) for key in recipes.HOW}
    told = [ToldDoc.model_validate(asdict(told)) for told in stories.of(connection, one.recipe, one.version)]
    return VersionDoc(parent=one.parent_version, at=one.at, parts=parts, story=told, **own)


def add_recipe(
    connection: sqlite3.Connection, recipe: RecipeDoc, *, places: Mapping[int, int], numbers: Mapping[int, int]
) -> None:
    """Write a new recipe; bottles and recipes may have other numbers here."""
    for version in recipe.versions:
        saved = recipes.add_version(
            connection,
            draft_here(version, places, numbers),
            recipe=numbers[recipe.number],
            parent_version=version.parent,
            at=version.at,
        )
        if version.story:
            told = [told_here(one, places) for one in version.story]
            stories.keep(connection, saved.recipe, saved.version, told)


def told_here(one: ToldDoc, places: Mapping[int, int]) -> Told:
    bottle = None if one.bottle is None else places.get(one.bottle, one.bottle)
    if one.verdict is None:
        return Told(bottle, one.drops, one.drop_ml)
    lab = one.verdict.lab
    seen = None if lab is None else (lab[0], lab[1], lab[2])
    return Told(bottle, one.drops, one.drop_ml, Verdict(one.verdict.words, one.verdict.source, seen))


def ground_here(ground: str, numbers: Mapping[int, int], versions: Versions = NO_OTHERS) -> str:
    """The key of a ground; a recipe as sprayed, and its version, may have other numbers here."""
    if not ground.startswith(RECIPE_GROUND):
        return ground
    recipe, _, under = ground.removeprefix(RECIPE_GROUND).partition(":")
    if not (recipe.isdecimal() and under.isdecimal()):
        return ground
    version = versions.get((int(recipe), int(under)), int(under))
    return f"{RECIPE_GROUND}{numbers.get(int(recipe), int(recipe))}:{version}"


def draft_here(
    version: VersionDoc, places: Mapping[int, int], numbers: Mapping[int, int], versions: Versions = NO_OTHERS
) -> Draft:
    """A version as it is here."""
    return Draft(
        parts=tuple(Part(places[one.bottle], one.drops, one.drop_ml) for one in version.parts),
        name=version.name,
        note=version.note,
        ground=ground_here(version.ground, numbers, versions),
        film_um=version.film_um,
        coats=version.coats,
        clear_coat=version.clear_coat,
        sealed=version.sealed,
        satin=version.satin,
    )
