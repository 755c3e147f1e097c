"""One tree of errors. Each builds its own sentence from its data; the outermost layers only decide where to say it."""

from diachrom.words import listed, say


def pluralize(many: int, what: str) -> str:
    """1 error, 2 errors."""
    return f"{many} {what}{'' if many == 1 else 's'}"


class DiachromError(Exception):
    """Something a person can understand and act on. `field` names the input at fault, if one is."""

    field: str | None = None

    def __init__(self, sentence: str, *, field: str | None = None) -> None:
        super().__init__(sentence)
        if field is not None:
            self.field = field


class InvalidInput(DiachromError):
    """A value that cannot be meant."""


class NotFound(DiachromError):
    """A thing that is named and does not exist."""


class NotPredictable(InvalidInput):
    def __init__(self) -> None:
        super().__init__(
            say("These amounts lead beyond what can be computed: no colour comes of them."), field="layers"
        )


class UnknownGround(InvalidInput):
    def __init__(self, ground: str, known: list[str]) -> None:
        super().__init__(
            say("There is no ground called '{ground}'. Known grounds: {known}.", ground=ground, known=listed(known)),
            field="ground",
        )


class UnknownLight(InvalidInput):
    def __init__(self, light: str, known: list[str]) -> None:
        super().__init__(
            say("There is no light called '{light}'. Known lights: {known}.", light=light, known=listed(known)),
            field="light",
        )


class BadSpectrum(InvalidInput):
    def __init__(self, field: str, why: str) -> None:
        super().__init__(f"{field}: {why}", field=field)


class BadDrops(InvalidInput):
    def __init__(self, paint: str, drops: object, most: int) -> None:
        super().__init__(
            say(
                "{paint}: drops must be a whole number from 0 to {most}, not {drops}.",
                paint=paint,
                most=most,
                drops=drops,
            ),
            field="drops",
        )


class EmptyCup(InvalidInput):
    def __init__(self, what_for: str, *, field: str = "parts") -> None:
        super().__init__(
            say("The cup is empty: add a bottle and a drop before {what_for}.", what_for=what_for), field=field
        )


class PaintNotFound(NotFound):
    def __init__(self, paint: str, field: str = "paint") -> None:
        super().__init__(say("There is no paint with the id '{paint}' on the shelf.", paint=paint), field=field)


class BottleNotFound(NotFound):
    def __init__(self, bottle: object) -> None:
        super().__init__(say("There is no bottle number {bottle} on the shelf.", bottle=bottle), field="bottle")


class BottleNotInCup(NotFound):
    def __init__(self, bottle: object) -> None:
        super().__init__(say("Bottle number {bottle} is not in the cup.", bottle=bottle), field="bottle")


class RecipeNotFound(NotFound):
    def __init__(self, number: object, version: object | None = None) -> None:
        which = (
            say("Recipe {number}", number=number)
            if version is None
            else say("Version {version} of recipe {number}", version=version, number=number)
        )
        super().__init__(say("{which} does not exist.", which=which), field="recipe")


class StoreError(DiachromError):
    """The data folder cannot be used as it is."""


class DataFolderNotWritable(StoreError):
    def __init__(self, path: object, why: str) -> None:
        super().__init__(
            say("The data folder {path} cannot be written ({why}). Nothing was changed.", path=path, why=why)
        )


class NotADatabase(StoreError):
    def __init__(self, path: object) -> None:
        super().__init__(say("{path} is not a Diachrom database, or it is damaged. Nothing was changed.", path=path))


class Damaged(StoreError):
    """A database that is not whole; nothing is written to it."""

    def __init__(self, path: object, why: str) -> None:
        super().__init__(
            say(
                "{path} is damaged ({why}). Nothing is written to it. Put a copy in its place: those "
                "made before an upgrade are in the folder 'backups' beside it.",
                path=path,
                why=why[:160],
            )
        )


class OlderData(StoreError):
    def __init__(self, path: object, has: int, knows: int) -> None:
        super().__init__(
            say(
                "{path} is of data version {has}, this Diachrom is of {knows}: run 'diachrom migrate' first.",
                path=path,
                has=has,
                knows=knows,
            )
        )


class NewerData(StoreError):
    def __init__(self, path: object, has: int, knows: int) -> None:
        super().__init__(
            say(
                "{path} was written by a newer Diachrom (data version {has}; this one knows {knows}). "
                "Start the newer one; nothing was changed.",
                path=path,
                has=has,
                knows=knows,
            )
        )


class DataExists(StoreError):
    def __init__(self, path: object) -> None:
        super().__init__(say("{path} already holds data. Open it with 'diachrom serve --data {path}'.", path=path))


class FileExists(StoreError):
    def __init__(self, path: object) -> None:
        super().__init__(say("{path} exists already; choose another name. Nothing was written.", path=path))


class Busy(StoreError):
    def __init__(self) -> None:
        super().__init__(say("The database was busy for too long. Nothing was saved; try again."))


class ReadersBusy(StoreError):
    def __init__(self) -> None:
        super().__init__(say("Too many files are being read right now. Nothing was saved; try again in half a minute."))


class Repeated(DiachromError):
    """A press that was counted already and was sent again."""

    def __init__(self) -> None:
        super().__init__(say("That press is counted already; it is not counted twice."))


class ChangedSince(DiachromError):
    def __init__(self, noun: str, row_id: object, so: str = say("nothing was taken back")) -> None:
        super().__init__(
            say("The {noun} {row_id} has been changed since; {so}.", noun=noun, row_id=row_id, so=so), field=noun
        )


class CardNotFound(NotFound):
    def __init__(self, number: object) -> None:
        super().__init__(say("There is no drawdown card {number}.", number=number), field="card")


class BadFile(InvalidInput):
    """A file that cannot be what it is said to be."""

    def __init__(self, name: str, why: str) -> None:
        super().__init__(f"{name}: {why}", field="file")


class InstrumentError(DiachromError):
    """What a device answers when it cannot do what it is asked; nothing that was read before is lost."""


class BadPhoto(InvalidInput):
    """A photo of a sheet that cannot be measured."""

    def __init__(self, why: str) -> None:
        super().__init__(say("The photo was not read: {why}. Nothing of it was kept.", why=why), field="file")
