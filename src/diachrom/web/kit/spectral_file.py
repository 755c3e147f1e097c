"""The part of a form that brings a spectral file."""

from typing import Annotated

from fastapi import Depends, File, Form, UploadFile

from diachrom.work.kit.spectral_file import FromFile, from_file


def _brought(
    file: Annotated[UploadFile, File()], sample: Annotated[str, Form()] = "", values: Annotated[str, Form()] = ""
) -> FromFile:
    return from_file(file.filename or "the file", file.file.read(), sample=sample, values=values)


BroughtFile = Annotated[FromFile, Depends(_brought)]
