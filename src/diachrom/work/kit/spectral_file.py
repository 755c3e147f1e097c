"""A spectrum out of a file that somebody brings."""

from dataclasses import dataclass

from diachrom.exchange.sample import Sample
from diachrom.exchange.spectra import one_of, read_spectra
from diachrom.words import listed, say


@dataclass(frozen=True, eq=False)
class FromFile:
    name: str  # of the file
    sample: Sample
    asked: bool  # somebody said what its values are

    @property
    def said(self) -> str:
        """What was taken, and what that took."""
        notes = f" {listed(self.sample.notes, '; ')}." if self.sample.notes else ""
        return say("Taken from {name}: {other_name}.{notes}", name=self.name, other_name=self.sample.name, notes=notes)


def from_file(name: str, content: bytes, *, sample: str, values: str) -> FromFile:
    """The sample of that name, or the only one; its values are what they are said to be. Raises BadFile."""
    return FromFile(name, one_of(name, read_spectra(name, content, values), sample), bool(values))
