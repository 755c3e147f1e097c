"""Recipes in the JSON document: every version with how it was poured."""

import sqlite3
from collections.abc import Sequence
from dataclasses import asdict

from diachrom.core.mix.draft import Draft, Part
from diachrom.core.mix.story import Told, Verdict
from diachrom.store import recipes, stories
from diachrom.work.files.bundle_document import PartDoc, RecipeDoc, ToldDoc, VersionDoc


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
            stories.keep(connection, saved.recipe, saved.version, [_told(one) for one in version.story])


def parts_of(parts: Sequence[PartDoc]) -> tuple[Part, ...]:
    return tuple(Part(one.bottle, one.drops, one.drop_ml) for one in parts)


def _told(one: ToldDoc) -> Told:
    if one.verdict is None:
        return Told(one.bottle, one.drops, one.drop_ml)
    lab = one.verdict.lab
    seen = None if lab is None else (lab[0], lab[1], lab[2])
    return Told(one.bottle, one.drops, one.drop_ml, Verdict(one.verdict.words, one.verdict.source, seen))
