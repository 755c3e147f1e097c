"""Bytes to values and back: tables, palettes, spectra, photos. Nothing here knows the shelf."""
