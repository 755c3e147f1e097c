"""One tree of errors. Each builds its own sentence from its data; the outermost layers only decide where to say it."""


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
        super().__init__("These amounts lead beyond what can be computed: no colour comes of them.", field="layers")


class UnknownGround(InvalidInput):
    def __init__(self, ground: str, known: list[str]) -> None:
        super().__init__(f"There is no ground called '{ground}'. Known grounds: {', '.join(known)}.", field="ground")


class UnknownLight(InvalidInput):
    def __init__(self, light: str, known: list[str]) -> None:
        super().__init__(f"There is no light called '{light}'. Known lights: {', '.join(known)}.", field="light")


class BadSpectrum(InvalidInput):
    def __init__(self, field: str, why: str) -> None:
        super().__init__(f"{field}: {why}", field=field)


class BadDrops(InvalidInput):
    def __init__(self, paint: str, drops: object, most: int) -> None:
        super().__init__(
            f"{paint}: drops must be a whole number from 0 to {most}, not {drops}.",
            field="drops",
        )


class EmptyCup(InvalidInput):
    def __init__(self, what_for: str, *, field: str = "parts") -> None:
        super().__init__(f"The cup is empty: add a bottle and a drop before {what_for}.", field=field)


class PaintNotFound(NotFound):
    def __init__(self, paint: str, field: str = "paint") -> None:
        super().__init__(f"There is no paint with the id '{paint}' on the shelf.", field=field)


class BottleNotFound(NotFound):
    def __init__(self, bottle: object) -> None:
        super().__init__(f"There is no bottle number {bottle} on the shelf.", field="bottle")


class BottleNotInCup(NotFound):
    def __init__(self, bottle: object) -> None:
        super().__init__(f"Bottle number {bottle} is not in the cup.", field="bottle")


class RecipeNotFound(NotFound):
    def __init__(self, number: object, version: object | None = None) -> None:
        which = f"Recipe {number}" if version is None else f"Version {version} of recipe {number}"
        super().__init__(f"{which} does not exist.", field="recipe")


class StoreError(DiachromError):
    """The data folder cannot be used as it is."""


class DataFolderNotWritable(StoreError):
    def __init__(self, path: object, why: str) -> None:
        super().__init__(f"The data folder {path} cannot be written ({why}). Nothing was changed.")


class NotADatabase(StoreError):
    def __init__(self, path: object) -> None:
        super().__init__(f"{path} is not a Diachrom database, or it is damaged. Nothing was changed.")


class Damaged(StoreError):
    """A database that is not whole; nothing is written to it."""

    def __init__(self, path: object, why: str) -> None:
        super().__init__(
            f"{path} is damaged ({why[:160]}). Nothing is written to it. Put a copy in its place: those made before an "
            "upgrade are in the folder 'backups' beside it."
        )


class OlderData(StoreError):
    def __init__(self, path: object, has: int, knows: int) -> None:
        super().__init__(f"{path} is of data version {has}, this Diachrom is of {knows}: run 'diachrom migrate' first.")


class NewerData(StoreError):
    def __init__(self, path: object, has: int, knows: int) -> None:
        super().__init__(
            f"{path} was written by a newer Diachrom (data version {has}; this one knows {knows}). "
            "Start the newer one; nothing was changed."
        )


class DataExists(StoreError):
    def __init__(self, path: object) -> None:
        super().__init__(f"{path} already holds data. Open it with 'diachrom serve --data {path}'.")


class FileExists(StoreError):
    def __init__(self, path: object) -> None:
        super().__init__(f"{path} exists already; choose another name. Nothing was written.")


class Busy(StoreError):
    def __init__(self) -> None:
        super().__init__("The database was busy for too long. Nothing was saved; try again.")


class ReadersBusy(StoreError):
    def __init__(self) -> None:
        super().__init__("Too many files are being read right now. Nothing was saved; try again in half a minute.")


class Repeated(DiachromError):
    """A press that was counted already and was sent again."""

    def __init__(self) -> None:
        super().__init__("That press is counted already; it is not counted twice.")


class ChangedSince(DiachromError):
    def __init__(self, noun: str, row_id: object, so: str = "nothing was taken back") -> None:
        super().__init__(f"The {noun} {row_id} has been changed since; {so}.", field=noun)


class CardNotFound(NotFound):
    def __init__(self, number: object) -> None:
        super().__init__(f"There is no drawdown card {number}.", field="card")


class BadFile(InvalidInput):
    """A file that cannot be what it is said to be."""

    def __init__(self, name: str, why: str) -> None:
        super().__init__(f"{name}: {why}", field="file")


class InstrumentError(DiachromError):
    """What a device answers when it cannot do what it is asked; nothing that was read before is lost."""


class BadPhoto(InvalidInput):
    """A photo of a sheet that cannot be measured."""

    def __init__(self, why: str) -> None:
        super().__init__(f"The photo was not read: {why}. Nothing of it was kept.", field="file")
