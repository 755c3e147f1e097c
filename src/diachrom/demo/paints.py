"""The paints on the demo shelf: lines with plain words of the island's old tongue, each a blend of generic pigments."""

from dataclasses import dataclass

import numpy as np

from diachrom.core.film.flakes import Flake
from diachrom.core.film.kinds import KINDS
from diachrom.core.film.paint import SHOULDER, USUAL_BLEED, Fluorescence, Glow, Paint, clear_paint
from diachrom.demo.pigments import PIGMENTS

DYE_SHARE = 0.35  # a candy as bottled, ready for its carrier


@dataclass(frozen=True)
class DemoPaint:
    line: str
    name: str
    kind: str
    pigments: tuple[tuple[str, float], ...]  # Colour Index generic name, share of full load
    drop_ml: float
    left_ml: float
    size_ml: float = 30.0
    state: str = "open"
    note: str = ""
    discontinued: bool = False
    flake: Flake | None = None
    fluorescence: Fluorescence | None = None
    glow: Glow | None = None
    bleeds: float = 0.0

    @property
    def id(self) -> str:
        """Its id, made of line and name."""
        return f"{self.line}-{self.name}".lower().replace(" ", "-")

    @property
    def full_name(self) -> str:
        """Line and name."""
        return f"{self.line} {self.name}"

    def profile(self) -> Paint:
        """Its profile, from the pigments in it."""
        if not KINDS[self.kind].colours:
            return clear_paint(self.full_name, self.kind)
        absorption = np.sum([share * PIGMENTS[key].absorption for key, share in self.pigments], axis=0)
        scattering = np.sum([share * PIGMENTS[key].scattering for key, share in self.pigments], axis=0)
        return Paint(
            self.full_name,
            self.kind,
            absorption,
            scattering,
            flake=self.flake,
            fluorescence=self.fluorescence,
            glow=self.glow,
            bleeds=self.bleeds,
        )


def _torv(name: str, drop_ml: float, left_ml: float, *pigments: tuple[str, float], **more: object) -> DemoPaint:
    return DemoPaint("Torv", name, "opaque", pigments, drop_ml, left_ml, **more)  # type: ignore[arg-type]


def _rav(name: str, drop_ml: float, left_ml: float, *pigments: tuple[str, float], **more: object) -> DemoPaint:
    return DemoPaint("Rav", name, "transparent", pigments, drop_ml, left_ml, **more)  # type: ignore[arg-type]


def _lykt(name: str, drop_ml: float, left_ml: float, *pigments: tuple[str, float]) -> DemoPaint:
    dyes = tuple((key, share * DYE_SHARE) for key, share in pigments)
    return DemoPaint("Lykt", name, "candy", dyes, drop_ml, left_ml, size_ml=15.0, bleeds=USUAL_BLEED)


def _perlemor(name: str, oxide_nm: float, left_ml: float, state: str = "open") -> DemoPaint:
    base = (("PW6", 0.004),)
    return DemoPaint(
        "Perlemor",
        name,
        "pearl",
        base,
        0.053,
        left_ml,
        flake=Flake("pearl", 0.055, oxide_nm),
        state=state,
        note="stir often",
    )


def _malm(name: str, material: str, left_ml: float) -> DemoPaint:
    base = (("PBk7", 0.002), ("PW6", 0.006))
    return DemoPaint("Malm", name, "metallic", base, 0.052, left_ml, flake=Flake(material, 0.07))


def _nordlys(name: str, spacer_nm: float, left_ml: float) -> DemoPaint:
    base = (("PW6", 0.003),)
    return DemoPaint(
        "Nordlys", name, "shift", base, 0.054, left_ml, size_ml=15.0, flake=Flake("shift", 0.08, spacer_nm, 9.0)
    )


def _glo(name: str, dye_words: str, left_ml: float, peaks_nm: tuple[float, float], yields: float) -> DemoPaint:
    absorbs_nm, emits_nm = peaks_nm
    dye = Fluorescence(absorbs_nm, 32.0, 0.2, emits_nm, 21.0, yields, ultraviolet=SHOULDER)
    body = (("PW6", 0.035), (f"fluorescent {dye_words}", 1.0))
    return DemoPaint("Glo", name, "fluorescent", body, 0.047, left_ml, fluorescence=dye, note="fades in sun")


PAINTS = (
    DemoPaint("Grunn", "Hvit", "primer", (("PW6", 0.9),), 0.052, 61.0, size_ml=120.0),
    DemoPaint("Grunn", "Svart", "primer", (("PBk7", 0.45), ("PW6", 0.01)), 0.050, 44.0, size_ml=120.0),
    DemoPaint("Grunn", "Graa", "primer", (("PW6", 0.7), ("PBk7", 0.02)), 0.052, 80.0, size_ml=120.0),
    _torv("Kritt", 0.048, 24.0, ("PW6", 1.0), size_ml=60.0),
    _torv("Sot", 0.044, 21.0, ("PBk7", 0.8)),
    _torv("Smor", 0.047, 18.5, ("PY74", 0.8), ("PW6", 0.16)),
    _torv("Gulrot", 0.046, 12.0, ("PO71", 0.8), ("PW6", 0.08)),
    _torv("Rogn", 0.046, 9.4, ("PR254", 0.8), ("PW6", 0.09)),
    _torv("Rust", 0.045, 26.0, ("PR101", 0.8), ("PW6", 0.08)),
    _torv("Leire", 0.047, 25.5, ("PY42", 0.9), ("PW6", 0.1), state="thick"),
    _torv("Bark", 0.045, 14.0, ("PBr7", 0.7), ("PR101", 0.15), ("PW6", 0.1)),
    _torv("Mose", 0.046, 20.0, ("PG7", 0.35), ("PY42", 0.7), ("PW6", 0.14)),
    _torv("Tang", 0.046, 7.0, ("PY42", 0.5), ("PBk7", 0.06), ("PG36", 0.2), ("PW6", 0.14)),
    _torv("Himmel", 0.048, 28.0, ("PB15:3", 0.12), ("PW6", 0.7)),
    _torv("Hav", 0.046, 11.5, ("PB15:3", 0.6), ("PB29", 0.3), ("PW6", 0.1)),
    _torv("Skifer", 0.047, 30.0, ("PW6", 0.5), ("PBk7", 0.05), ("PB29", 0.1), state="sealed"),
    _torv("Koral", 0.047, 0.0, ("PR254", 0.4), ("PO71", 0.3), ("PW6", 0.35), state="empty", discontinued=True),
    _rav("Gull", 0.045, 11.0, ("PY150", 0.35), ("PY74", 0.2)),
    _rav("Sitron", 0.045, 16.0, ("PY74", 0.45)),
    _rav("Honning", 0.044, 13.0, ("PY150", 0.45), ("PR101", 0.1)),
    _rav("Multe", 0.045, 10.0, ("PO71", 0.4), ("PY150", 0.1)),
    _rav("Nype", 0.043, 8.0, ("PR177", 0.5)),
    _rav("Lyng", 0.044, 15.0, ("PR122", 0.5)),
    _rav("Fiol", 0.043, 6.2, ("PV23", 0.4)),
    _rav("Fjord", 0.044, 12.5, ("PB15:3", 0.4)),
    _rav("Gran", 0.044, 17.0, ("PG7", 0.4)),
    _rav("Siv", 0.045, 9.0, ("PG36", 0.3), ("PY150", 0.2)),
    _rav("Te", 0.044, 19.0, ("PBr7", 0.4), ("PY150", 0.05)),
    _rav("Skygge", 0.043, 22.0, ("PBk7", 0.12)),
    _rav("Melk", 0.046, 1.2, ("PW6", 0.12), state="nearly gone"),
    _lykt("Gul", 0.038, 11.0, ("SY82", 1.0)),
    _lykt("Oransje", 0.038, 9.5, ("SO62", 1.0)),
    _lykt("Rod", 0.036, 6.0, ("SR122", 1.0)),
    _lykt("Blaa", 0.037, 12.0, ("SB70", 1.0)),
    _lykt("Royk", 0.036, 14.0, ("SBk29", 0.8)),
    DemoPaint("Blekk", "Natt", "ink", (("PBk7", 0.25), ("PB29", 0.2)), 0.032, 13.0, size_ml=15.0),
    DemoPaint("Tynn", "reducer", "reducer", (), 0.040, 88.0, size_ml=120.0),
    DemoPaint("Tynn", "medium", "medium", (), 0.049, 52.0, size_ml=60.0),
    _perlemor("Solv", 50.0, 21.0),
    _perlemor("Gull", 75.0, 12.0, "settled"),
    _perlemor("Blaa", 120.0, 16.5),
    _perlemor("Gronn", 145.0, 9.0),
    _malm("Solv", "aluminium", 24.0),
    _malm("Bronse", "bronze", 13.5),
    _nordlys("Fiol", 340.0, 8.0),
    _nordlys("Mose", 420.0, 10.5),
    _glo("Oransje", "orange", 17.0, (518.0, 598.0), 0.68),
    _glo("Gul", "yellow", 14.0, (445.0, 518.0), 1.0),
    DemoPaint(
        "Morild",
        "Gronn",
        "glow",
        (("PW6", 0.10), ("PY74", 0.004)),
        0.055,
        19.0,
        glow=Glow(520.0, 34.0, 0.027, 1.0, 1.5),
        note="shake hard",
    ),
    DemoPaint(
        "Malm",
        "Skimmer",
        "glitter",
        (("PW6", 0.002),),
        0.056,
        11.0,
        flake=Flake("aluminium", 0.012, 0.0, 10.0, sparkle=True),
    ),
)
