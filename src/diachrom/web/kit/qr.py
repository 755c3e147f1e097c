"""Addresses as QR codes."""

from markupsafe import Markup

from diachrom.exchange import qr as codes


def qr(address: str) -> Markup:
    """An address as a QR code, an SVG of one path."""
    return Markup(codes.svg(address))
