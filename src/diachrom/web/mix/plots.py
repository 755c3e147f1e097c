"""The plots of the Mix page: colour against coats, lightness and hue against the tilt, the spectrum."""

from collections.abc import Sequence

from diachrom.core.light.bands import WAVELENGTHS_NM
from diachrom.core.mix.prediction import Colour
from diachrom.core.mix.strip import Column, Patch, Strip
from diachrom.web.kit.plot import Axes, Curve, Plot, apart
from diachrom.words import listed, quantity, say

BRIGHTEST = 120.0  # L*; a glance off bare foil goes beyond and is cut there
LEAST_CHROMA = 4.0  # below it a hue means nothing


def plots(strip: Strip, *, ground: str, coats: int) -> list[Plot]:
    """Every plot there is to show for the chosen patch; the tilt only where it changes something."""
    column = strip.column(ground)
    patch = column.after(coats)
    shown = [_coats(strip, ground=column.over.key, coats=coats)]
    if any(one.has_direction for one in strip.columns):
        shown.append(_tilt(strip, column, coats))
    lines: list[tuple[str, Colour, bool]] = []
    if patch.at_angle:
        lines += [(say("flash"), patch.at_angle[0], False), (say("flop"), patch.at_angle[-1], False)]
    else:
        lines.append((_short(column), patch.diffuse, False))
    if strip.cup:
        lines.append((say("cup"), strip.cup, True))
    highest = max(1.0, *(float(colour.radiance_factor.max()) for _, colour, _ in lines))
    axes = Axes(float(WAVELENGTHS_NM[0]), float(WAVELENGTHS_NM[-1]), highest)
    curves = [_line(axes, label, colour, dashed=dashed) for label, colour, dashed in lines]
    marks = [(axes.x(nm), say("{nm} nm", nm=nm) if nm == 700 else str(nm)) for nm in (400, 500, 600, 700)]
    ticks = [(axes.y(0.0), "0 %"), (axes.y(highest), quantity(100 * highest, ".0f", "%"))]
    if highest > 1.3:
        ticks.append((axes.y(1.0), "100 %"))
    words = listed(
        (
            say("{label}: up to {most} percent", label=label, most=quantity(100 * colour.radiance_factor.max(), ".0f"))
            for label, colour, _ in lines
        ),
        "; ",
    )
    spectrum = Plot(
        key="spectrum",
        title=say("What comes back, on {words}", words=column.over.words),
        words=words,
        curves=apart(curves),
        x_ticks=marks,
        y_ticks=ticks,
    )
    return [*shown, spectrum]


def _short(column: Column) -> str:
    words = str(column.over.words)  # as long as it is in the reader's language
    return words if len(words) <= 11 else words[:10].rstrip(" ,") + "…"


def _coats(strip: Strip, *, ground: str, coats: int) -> Plot:
    most = len(strip.columns[0].patches)
    axes = Axes(0, most, BRIGHTEST)
    curves, told = [], []
    for column in strip.columns:
        # A ground with a direction has two curves: its glance and its turned-away side.
        patches = [column.bare, *column.patches]
        if not column.has_direction:
            series = [(_short(column), [patch.diffuse for patch in patches])]
        else:
            name = say("foil") if column.over.key == "silver-foil" else _short(column)
            series = [
                (say("{name}, flash", name=name), [_at(patch, 0) for patch in patches]),
                (say("{name}, flop", name=name), [_at(patch, -1) for patch in patches]),
            ]
        for label, colours in series:
            chosen = float(coats) if column.over.key == ground else None
            points = [(float(index), colour) for index, colour in enumerate(colours)]
            dots = axes.dots(points, chosen)
            path = axes.line((x, colour.lch[0]) for x, colour in points)
            curves.append(Curve(label, dots[0].y, path, dots))
            told.append(
                say(
                    "{label} from {lch} to {last}",
                    label=label,
                    lch=quantity(colours[0].lch[0], ".0f"),
                    last=quantity(colours[-1].lch[0], ".0f"),
                )
            )
    curves = apart(curves)
    if strip.cup:
        level = strip.cup.lch[0]
        curves.append(Curve("", 0, axes.line([(0, level), (most, level)]), dashed=True))
    ticks = [(axes.y(value), quantity(value, ".0f")) for value in (0.0, 50.0)] + [(axes.y(100.0), "L 100")]
    if strip.cup:
        ticks.append((axes.y(strip.cup.lch[0]), say("cup")))
    counts = [(axes.x(at), say("{at} coats", at=at) if at == most else str(at)) for at in range(most + 1)]
    return Plot(
        key="coats",
        title=say("Lightness, coat by coat"),
        words=say("Lightness against coats: {told}", told=listed(told, "; ")),
        curves=curves,
        x_ticks=counts,
        y_ticks=ticks,
    )


def _at(patch: Patch, which: int) -> Colour:
    return patch.at_angle[which] if patch.at_angle else patch.diffuse


def _tilt(strip: Strip, chosen: Column, coats: int) -> Plot:
    angles = strip.angles_deg
    axes = Axes(angles[0], angles[-1], BRIGHTEST)
    curves, told = [], []
    for column in strip.columns:
        patch = column.after(coats)
        colours = [_at(patch, index) for index in range(len(angles))]
        dots = axes.dots(zip(angles, colours, strict=True))
        path = axes.line((angle, colour.lch[0]) for angle, colour in zip(angles, colours, strict=True))
        curves.append(Curve(_short(column), dots[0].y, path, dots))
        told.append(
            say(
                "{words} from {lch} to {last}",
                words=column.over.words,
                lch=quantity(colours[0].lch[0], ".0f"),
                last=quantity(colours[-1].lch[0], ".0f"),
            )
        )
    patch = chosen.after(coats)
    hues = [(angle, _at(patch, at)) for at, angle in enumerate(angles) if _at(patch, at).lch[1] >= LEAST_CHROMA]
    curves = apart(curves)
    ticks = [(axes.y(value), quantity(value, ".0f")) for value in (0.0, 50.0)] + [(axes.y(100.0), "L 100")]
    if len(hues) > 1:
        around = Axes(angles[0], angles[-1], 360.0)
        curves.append(Curve("", 0, around.line((angle, colour.lch[2]) for angle, colour in hues), dashed=True))
        ticks.append((around.y(hues[-1][1].lch[2]), f"h {hues[-1][1].lch[2]:.0f}°"))
        told.append(
            say(
                "hue from {lch} to {last} degrees",
                lch=quantity(hues[0][1].lch[2], ".0f"),
                last=quantity(hues[-1][1].lch[2], ".0f"),
            )
        )
    marks = [(axes.x(angle), f"{angle:.0f}°") for angle in (15.0, 45.0, 75.0, 110.0)]
    title = say("Lightness against the tilt; dashed the hue")
    return Plot(
        key="tilt",
        title=title,
        words=say("Lightness against the tilt: {told}", told=listed(told, "; ")),
        curves=curves,
        x_ticks=marks,
        y_ticks=ticks,
    )


def _line(axes: Axes, label: str, colour: Colour, *, dashed: bool) -> Curve:
    values: Sequence[float] = colour.radiance_factor.tolist()
    path = axes.line(zip(WAVELENGTHS_NM.tolist(), values, strict=True))
    middle = axes.dots([(550.0, colour)])[0]
    dots = [type(middle)(middle.x, axes.y(values[17]), middle.fill, middle.p3)]
    return Curve(label, axes.y(values[0]), path, dots, dashed)
