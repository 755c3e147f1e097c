"""Addresses as QR codes."""

import io

import segno

QUIET_MODULES = 2


def modules(address: str) -> list[list[bool]]:
    """(row, column), True is dark; without the quiet border."""
    return [[bool(value) for value in row] for row in segno.make(address, error="m", micro=False).matrix]


def svg(address: str) -> str:
    """An SVG of one path, as large as it is let."""
    code = segno.make(address, error="m", micro=False)
    drawn: str = code.svg_inline(
        border=QUIET_MODULES, omitsize=True, svgclass="qr", lineclass=None, dark="#000", light="#fff"
    )
    return drawn


def text(address: str) -> str:
    """For a terminal."""
    out = io.StringIO()
    segno.make(address, error="m").terminal(out, compact=True)
    return out.getvalue().rstrip("\n")
