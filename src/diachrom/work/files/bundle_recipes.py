"""Recipes in the JSON document: every version with how it was poured."""

import sqlite3
from collections.abc import Sequence
from dataclasses import asdict

from diachrom.core.mix.draft import Draft, Part
from diachrom.core.mix.story import Told, Verdict
from diachrom.store import recipes, stories
from diachrom.work.files.bundle_document import PartDoc, RecipeDoc, ToldDoc, VersionDoc


def every_recipe(connection: sqlite3.Connection) -> list[RecipeDoc]:
    """All recipes, as the document has them."""
    return [
        RecipeDoc(
            number=number,
            versions=[_version(connection, version) for version in reversed(recipes.versions(connection, number))],
        )
        for number in recipes.numbers(connection)
    ]


def _version(connection: sqlite3.Connection, version: recipes.Version) -> VersionDoc:
    draft = version.draft
    parts = [PartDoc(bottle=part.bottle, drops=part.drops, drop_ml=part.drop_ml) for part in draft.parts]
    own = {key: getattr(draft, key) for key in recipes.HOW}
    story = [ToldDoc.model_validate(asdict(told)) for told in stories.of(connection, version.recipe, version.version)]
    return VersionDoc(parent=version.parent_version, at=version.at, parts=parts, story=story, **own)


def add_recipe(connection: sqlite3.Connection, recipe: RecipeDoc) -> None:
    """Write a new recipe under its own number."""
    for version in recipe.versions:
        saved = recipes.add_version(
            connection,
            Draft(parts=parts_of(version.parts), **{key: getattr(version, key) for key in recipes.HOW}),
            recipe=recipe.number,
            parent_version=version.parent,
            at=version.at,
        )
        if version.story:
            stories.keep(connection, saved.recipe, saved.version, [_told(told) for told in version.story])


def parts_of(parts: Sequence[PartDoc]) -> tuple[Part, ...]:
    """Parts of a mix, from the document."""
    return tuple(Part(part.bottle, part.drops, part.drop_ml) for part in parts)


def _told(told: ToldDoc) -> Told:
    if told.verdict is None:
        return Told(told.bottle, told.drops, told.drop_ml)
    lab = told.verdict.lab
    seen = None if lab is None else (lab[0], lab[1], lab[2])
    return Told(told.bottle, told.drops, told.drop_ml, Verdict(told.verdict.words, told.verdict.source, seen))
