"""What a document as a whole must be, beyond its parts: whatever it names is in it, once."""

from typing import Any

from diachrom.core.mix.draft import RECIPE_GROUND
from diachrom.core.mix.layers import MOST_LAYERS
from diachrom.errors import BadFile
from diachrom.words import say
from diachrom.work.files.bundle_document import Bundle
from diachrom.work.files.bundle_photos import check_photos


def check_whole(name: str, whole: Bundle) -> None:
    """Everything that is named is there, and nothing is there twice. Raises BadFile."""
    checks = (_check_paints, _check_recipes, _check_grounds, _check_cards, _check_beside, _check_once)
    for check in (*checks, check_photos):
        check(name, whole)


def _check_paints(name: str, whole: Bundle) -> None:
    ids = {one.id for one in whole.paints}
    for bottle in whole.bottles:
        if bottle.paint not in ids:
            raise BadFile(
                name,
                say(
                    "bottle {number} holds '{paint}', which is not among the paints.",
                    number=bottle.number,
                    paint=bottle.paint,
                ),
            )
    for paint in whole.paints:
        if paint.merged_into is not None and paint.merged_into not in ids:
            raise BadFile(
                name,
                say(
                    "paint '{id}' went into '{merged_into}', which is not among the paints.",
                    id=paint.id,
                    merged_into=paint.merged_into,
                ),
            )


def _check_recipes(name: str, whole: Bundle) -> None:
    numbers = {one.number for one in whole.bottles}
    for recipe in whole.recipes:
        for index, version in enumerate(recipe.versions, start=1):
            place = say("recipe {number}, version {index},", number=recipe.number, index=index)
            poured = [part.bottle for part in version.parts]
            gone = [bottle for bottle in poured if bottle not in numbers]
            if gone:
                raise BadFile(
                    name, say("{place} pours from bottle {gone}, which is not there.", place=place, gone=gone[0])
                )
            if len(set(poured)) < len(poured):
                raise BadFile(name, say("{place} names a bottle twice.", place=place))
            if version.parent is not None and version.parent >= index:
                raise BadFile(name, say("{place} comes from a later one.", place=place))


def _check_grounds(name: str, whole: Bundle) -> None:
    """Recipes that stand for a ground are there, and none lies on itself."""
    grounds = {
        f"{RECIPE_GROUND}{recipe.number}:{index}": version.ground
        for recipe in whole.recipes
        for index, version in enumerate(recipe.versions, start=1)
    }
    patches = [patch.ground for card in whole.cards for patch in card.patches]
    for key in [*grounds.values(), *patches, *(card.ground for card in whole.cards)]:
        if key.startswith(RECIPE_GROUND) and key not in grounds:
            raise BadFile(name, say("'{key}' is named as a ground, and no such version is there.", key=key))
    for key in grounds:
        met, at = 0, key
        while at in grounds:
            met, at = met + 1, grounds[at]
            if met > MOST_LAYERS:
                raise BadFile(
                    name,
                    say(
                        "'{key}' lies on itself, or on more than {most_layers} others.",
                        key=key,
                        most_layers=MOST_LAYERS,
                    ),
                )


def _check_cards(name: str, whole: Bundle) -> None:
    bottles = {one.number for one in whole.bottles}
    versions = {recipe.number: len(recipe.versions) for recipe in whole.recipes}
    for card in whole.cards:
        poured = [part.bottle for part in card.parts]
        gone = [bottle for bottle in poured if bottle not in bottles]
        if gone:
            raise BadFile(
                name,
                say(
                    "spray-out card {number} was poured from bottle {gone}, which is not there.",
                    number=card.number,
                    gone=gone[0],
                ),
            )
        if len(set(poured)) < len(poured):
            raise BadFile(name, say("spray-out card {number} names a bottle twice.", number=card.number))
        if card.recipe is not None and not 1 <= (card.version or 0) <= versions.get(card.recipe, 0):
            raise BadFile(
                name,
                say(
                    "spray-out card {number} is of recipe {recipe}, a version that is not there.",
                    number=card.number,
                    recipe=card.recipe,
                ),
            )
    for drop in whole.learned_drops:
        if drop.bottle not in bottles:
            raise BadFile(name, say("a drop was learned of bottle {bottle}, which is not there.", bottle=drop.bottle))


def _check_beside(name: str, whole: Bundle) -> None:
    ids, numbers = {paint.id for paint in whole.paints}, {bottle.number for bottle in whole.bottles}
    versions = {recipe.number: len(recipe.versions) for recipe in whole.recipes}
    beside = whole.beside
    for card in beside.contrast_cards:
        if card.paint not in ids or (card.white_paint is not None and card.white_paint not in ids):
            raise BadFile(
                name, say("a drawdown card is of '{paint}', which is not among the paints.", paint=card.paint)
            )
    for weighing in beside.weighings:
        if weighing.bottle not in numbers:
            raise BadFile(
                name, say("drops of bottle {bottle} were weighed, which is not there.", bottle=weighing.bottle)
            )
    for mix in beside.planned_mixes:
        if not 1 <= mix.version <= versions.get(mix.recipe, 0):
            raise BadFile(
                name,
                say(
                    "version {version} of recipe {recipe} is coming, which is not there.",
                    version=mix.version,
                    recipe=mix.recipe,
                ),
            )
    for target in beside.targets:
        if len(target.views) != len(target.labs):
            raise BadFile(
                name,
                say(
                    "the target '{name}' has {count} colours in {all} views.",
                    name=target.name,
                    count=len(target.labs),
                    all=len(target.views),
                ),
            )


def _check_once(name: str, whole: Bundle) -> None:
    named: tuple[tuple[str, list[Any]], ...] = (
        ("paint", [paint.id for paint in whole.paints]),
        (say("paint's name"), [(one.line.casefold(), one.name.casefold()) for one in whole.paints]),
        ("bottle", [bottle.number for bottle in whole.bottles]),
        ("recipe", [recipe.number for recipe in whole.recipes]),
        (say("spray-out card"), [card.number for card in whole.cards]),
    )
    for words, found in named:
        if len(set(found)) < len(found):
            raise BadFile(name, say("it names a {words} twice.", words=words))
