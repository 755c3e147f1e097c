"""A spectrum out of a file that somebody brings."""

from dataclasses import dataclass

from diachrom.exchange.sample import Sample
from diachrom.exchange.spectra import one_of, read_spectra


@dataclass(frozen=True, eq=False)
class FromFile:
    name: str  # of the file
    sample: Sample
    asked: bool  # somebody said what its values are


def from_file(name: str, content: bytes, *, sample: str, values: str) -> FromFile:
    """The sample of that name, or the only one; its values are what they are said to be. Raises BadFile."""
    return FromFile(name, one_of(name, read_spectra(name, content, values), sample), bool(values))
