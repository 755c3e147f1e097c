"""Spectra as CxF3 XML (ISO 17972-1): objects with a reflectance spectrum each."""

import io
from collections.abc import Sequence
from xml.etree.ElementTree import Element, SubElement, tostring

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import ParseError, iterparse

from diachrom.core.light.bands import WAVELENGTHS_NM
from diachrom.errors import BadFile
from diachrom.exchange.sample import Raw, Sample
from diachrom.exchange.text import writable
from diachrom.words import say

SPACE = "http://colorexchangeformat.com/CxF3-core"
SPECIFICATION = "d65-2-d8"
CREATOR = "Diachrom"
SCALE = "Reflectance"
DEEPEST = 60  # a file of the standard has a dozen elements in one another


def write(title: str, samples: Sequence[Sample], *, at: str) -> bytes:
    """Spectra as CxF3."""
    root = Element("cc:CxF", {"xmlns:cc": SPACE})
    about = SubElement(root, "cc:FileInformation")
    for key, text in (("Creator", CREATOR), ("CreationDate", at), ("Description", title)):
        SubElement(about, f"cc:{key}").text = text
    resources = SubElement(root, "cc:Resources")
    objects = SubElement(resources, "cc:ObjectCollection")
    for number, one in enumerate(samples, start=1):
        element = SubElement(
            objects, "cc:Object", {"ObjectType": "Standard", "Name": writable(one.name), "Id": f"s{number}"}
        )
        SubElement(element, "cc:CreationDate").text = at
        values = SubElement(element, "cc:ColorValues")
        attributes = {"ColorSpecification": SPECIFICATION, "StartWL": f"{WAVELENGTHS_NM[0]:.0f}"}
        spectrum = SubElement(values, "cc:ReflectanceSpectrum", attributes)
        spectrum.text = " ".join(f"{value:.7g}" for value in one.reflectance)
    specifications = SubElement(resources, "cc:ColorSpecificationCollection")
    specification = SubElement(specifications, "cc:ColorSpecification", {"Id": SPECIFICATION})
    measured = SubElement(specification, "cc:MeasurementSpec")
    SubElement(measured, "cc:MeasurementType").text = "Spectrum_Reflectance"
    geometry = SubElement(measured, "cc:GeometryChoice")
    SubElement(geometry, "cc:SphereGeometry").text = "Specular_Excluded"
    step = f"{WAVELENGTHS_NM[1] - WAVELENGTHS_NM[0]:.0f}"
    SubElement(measured, "cc:WavelengthRange", {"StartWL": f"{WAVELENGTHS_NM[0]:.0f}", "Increment": step})
    return b'<?xml version="1.0" encoding="UTF-8"?>\n' + tostring(root, encoding="utf-8")


def read(name: str, content: bytes) -> list[Raw]:
    """The objects that have a reflectance spectrum. Raises BadFile; entities are refused."""
    root, depth = None, 0
    try:
        for event, element in iterparse(io.BytesIO(content), events=("start", "end"), forbid_dtd=True):
            root = element if root is None else root
            depth += 1 if event == "start" else -1
            if depth > DEEPEST:
                raise BadFile(name, say("it is more than {deepest} elements deep: refused.", deepest=DEEPEST))
    except DefusedXmlException:
        raise BadFile(name, say("it declares entities or a document type: refused.")) from None
    except (ParseError, ValueError) as error:
        raise BadFile(name, say("it is no XML ({error}): is it cut off?", error=error)) from None
    if root is None:
        raise BadFile(name, say("it is no XML: it is empty."))
    every = list(root.iter())
    steps = {one.get("Id"): _step(name, one) for one in every if _tag(one) == "ColorSpecification" and one.get("Id")}
    computed = any(_tag(one) == "Creator" and one.text == CREATOR for one in every)
    objects = (
        (one, next((child for child in one.iter() if _tag(child) == "ReflectanceSpectrum"), None))
        for one in every
        if _tag(one) == "Object"
    )
    measured = [(one, spectrum) for one, spectrum in objects if spectrum is not None]
    raws = []
    for number, (one, spectrum) in enumerate(measured, start=1):
        label = one.get("Name") or one.get("Id") or f"sample {number}"
        start, step = steps.get(spectrum.get("ColorSpecification"), (None, 10.0))
        try:
            values = [float(value) for value in (spectrum.text or "").split()]
            first = float(spectrum.get("StartWL") or start or "")
        except ValueError:
            raise BadFile(name, say("'{label}' has a spectrum that cannot be read.", label=label)) from None
        raws.append(Raw(label, [first + step * index for index in range(len(values))], values, computed=computed))
    return raws


def _tag(element: Element) -> str:
    return element.tag.rpartition("}")[2]


def _step(name: str, specification: Element) -> tuple[float | None, float]:
    for element in specification.iter():
        if _tag(element) == "WavelengthRange":
            try:
                start = element.get("StartWL")
                return (float(start) if start else None), float(element.get("Increment") or 10)
            except ValueError:
                raise BadFile(name, say("a wavelength range cannot be read.")) from None
    return None, 10.0
