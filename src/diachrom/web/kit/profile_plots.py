"""Plots of a paint's profile: what comes back over white and black, with the doubtful bands hatched."""

from collections.abc import Sequence
from dataclasses import replace

from diachrom.core.light.bands import WAVELENGTHS_NM, Floats
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.core.mix.prediction import colours
from diachrom.web.kit.plot import Axes, Curve, Plot, apart
from diachrom.words import listed, say

HALF_BAND_NM = 5.0


def spectra(title: str, lines: Sequence[tuple[str, Floats, bool]], uncertain_nm: Sequence[float] = ()) -> Plot:
    """(label, reflectance (band,), dashed) each -> a plot."""
    axes = Axes(float(WAVELENGTHS_NM[0]), float(WAVELENGTHS_NM[-1]), 1.0)
    curves = []
    for label, values, dashed in lines:
        colour = colours(values[None], under=light("D65"))[0]
        peak = int(values.argmax())
        dot = axes.dots([(float(WAVELENGTHS_NM[peak]), colour)])[0]
        dots = [] if dashed else [replace(dot, y=axes.y(float(values[peak])))]
        path = axes.line(zip(WAVELENGTHS_NM.tolist(), values.tolist(), strict=True))
        curves.append(Curve(label, axes.y(float(values[0])), path, dots, dashed))
    marks = [(axes.x(nm), say("{nm} nm", nm=nm) if nm == 700 else str(nm)) for nm in (400, 500, 600, 700)]
    ticks = [(axes.y(0.0), "0 %"), (axes.y(0.5), "50 %"), (axes.y(1.0), "100 %")]
    width = axes.x(WAVELENGTHS_NM[0] + 2 * HALF_BAND_NM) - axes.x(WAVELENGTHS_NM[0])
    doubtful = [(round(axes.x(nm) - width / 2, 1), round(width, 1)) for nm in uncertain_nm]
    day = light("D65")
    words = listed((f"{label or 'derived'}: L {lab(values, under=day)[0]:.0f}" for label, values, _ in lines), "; ")
    return Plot(
        key="spectra", title=title, words=words, curves=apart(curves), x_ticks=marks, y_ticks=ticks, doubtful=doubtful
    )
