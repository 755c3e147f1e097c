"""The part of a form that brings a spectral file."""

from typing import Annotated

from fastapi import Depends

from diachrom.web.kit.dependencies import Text, Upload
from diachrom.words import say
from diachrom.work.kit.spectral_file import FromFile, from_file


def _brought(file: Upload, sample: Text = "", values: Text = "") -> FromFile:
    return from_file(file.filename or say("the file"), file.file.read(), sample=sample, values=values)


BroughtFile = Annotated[FromFile, Depends(_brought)]
