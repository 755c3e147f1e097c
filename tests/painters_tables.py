"""Twenty-five tables as painters keep them, each with the bottles that it means: name, kind, colour, size and what is
left in ml, price of a bottle. `None` is not said. What has to be chosen by hand stands beside."""

import io
from dataclasses import dataclass, field

import openpyxl
from openpyxl.styles import PatternFill

HALF = 15.0


@dataclass(frozen=True)
class Kept:
    name: str
    content: bytes
    bottles: list
    chosen: dict = field(default_factory=dict)  # column's number, counted from 1: what it is


def text(name, *lines, encoding="utf-8", bottles, chosen=None):
    return Kept(name, "\n".join(lines).encode(encoding), bottles, chosen or {})


def book(rows, *, fills=(), merged=(), formats=()):
    made = openpyxl.Workbook()
    sheet = made.active
    for row in rows:
        sheet.append(row)
    for cell, colour in fills:
        sheet[cell].fill = PatternFill("solid", fgColor=colour)
    for area in merged:
        sheet.merge_cells(area)
    for cell, form in formats:
        sheet[cell].number_format = form
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


TANG = ("Tang", "opaque", "#445533", 30.0, 12.5, 7.9)
SVABERG = ("Svaberg", "opaque", "#8a8f94", 60.0, 45.0, 9.5)
KREKLING = ("Krekling", "candy", "#5a2a6e", 30.0, 30.0, 11.0)
THREE = [TANG, SVABERG, KREKLING]

TABLES = {
    "german": text(
        "regal.csv",
        "Farbton;Sorte;Hex;Flaschengröße;Restmenge;Preis",
        "Tang;deckend;#445533;30 ml;12,5 ml;7,90 €",
        "Svaberg;deckend;#8a8f94;60 ml;45 ml;9,50 €",
        "Krekling;Candy;#5a2a6e;30 ml;30 ml;11,00 €",
        bottles=THREE,
    ),
    "french": text(
        "etagere.csv",
        "Nom de la couleur;Genre;Couleur;Contenance;Reste;Prix (EUR)",
        "Tang;couvrant;#445533;30;12,5;7,90",
        "Svaberg;couvrant;#8a8f94;60;45;9,50",
        "Krekling;candy;#5a2a6e;30;30;11,00",
        encoding="cp1252",
        bottles=THREE,
    ),
    "spanish": text(
        "estante.csv",
        "Nombre;Tipo;Código color;Capacidad (ml);Queda (ml);Precio",
        "Tang;opaco;#445533;30;12,5;7,90 €",
        "Svaberg;opaco;#8a8f94;60;45;9,50 €",
        "Krekling;candy;#5a2a6e;30;30;11 €",
        bottles=THREE,
    ),
    "norwegian": text(
        "hylle.csv",
        "Navn\tSlag\tFargekode\tFlaskestørrelse\tIgjen\tPris",
        "Tang\tdekkende\t#445533\t30\t12,5\tkr 7,90",
        "Svaberg\tdekkende\t#8a8f94\t60\t45\tkr 9,50",
        "Krekling\tcandy\t#5a2a6e\t30\t30\tkr 11,-",
        bottles=THREE,
    ),
    "headings that nobody knows": text(
        "mine.csv",
        "Wot,Sheen,Swatchy,Jug,Dosh",
        "Tang,opaque,#445533,30 ml,$7.90",
        "Svaberg,opaque,#8a8f94,60 ml,$9.50",
        "Krekling,candy,#5a2a6e,30 ml,$11",
        bottles=[(*one[:4], one[3], one[5]) for one in THREE],
    ),
    "no heading": text(
        "list.csv",
        "Tang,opaque,#445533,30 ml,7.90 EUR",
        "Svaberg,opaque,#8a8f94,60 ml,9.50 EUR",
        "Krekling,candy,#5a2a6e,30 ml,11.00 EUR",
        bottles=[(*one[:4], one[3], one[5]) for one in THREE],
    ),
    "no heading, bare figures": text(
        "bare.csv",
        "Tang,opaque,#445533,30,12.5",
        "Svaberg,opaque,#8a8f94,60,45",
        "Krekling,candy,#5a2a6e,30,30",
        bottles=[(*one[:5], None) for one in THREE],
        chosen={4: "size_ml", 5: "left_ml"},
    ),
    "two rows of headings, merged": Kept(
        "two.xlsx",
        book(
            [
                ["Paint", None, None, "Bottle", None, None],
                ["Name", "Kind", "Hex", "Size", "Left", "Price"],
                ["Tang", "opaque", "#445533", 30, 12.5, 7.9],
                ["Svaberg", "opaque", "#8a8f94", 60, 45, 9.5],
                ["Krekling", "candy", "#5a2a6e", 30, 30, 11],
            ],
            merged=["A1:C1", "D1:F1"],
        ),
        THREE,
    ),
    "units in a second row": text(
        "units.csv",
        "Name,Kind,Hex,Size,Left,Price",
        ",,,fl oz,ml,$",
        "Tang,opaque,#445533,1,12.5,7.90",
        "Svaberg,opaque,#8a8f94,2,45,9.50",
        "Krekling,candy,#5a2a6e,1,30,11.00",
        bottles=[(*one[:3], size, *one[4:]) for one, size in zip(THREE, (29.5735, 59.147, 29.5735), strict=True)],
    ),
    "notes and totals between": text(
        "evening.csv",
        "My shelf, counted on a Sunday,,,,,",
        "Name,Kind,Hex,Size,Left,Price",
        "Tang,opaque,#445533,30,12.5,7.90",
        "order more of these,,,,,",
        "Svaberg,opaque,#8a8f94,60,45,9.50",
        "Name,Kind,Hex,Size,Left,Price",
        "Krekling,candy,#5a2a6e,30,30,11.00",
        "Total,,,120,87.5,28.40",
        ",,,,3 bottles,",
        bottles=THREE,
    ),
    "kinds as headings between": text(
        "groups.csv",
        "Name;Hex;Size;Left;Price",
        "Opaque;;;;",
        "Tang;#445533;30;12.5;7.90",
        "Svaberg;#8a8f94;60;45;9.50",
        "Candies:;;;;",
        "Krekling;#5a2a6e;30;30;11.00",
        bottles=THREE,
    ),
    "dollars and pounds": text(
        "shop.csv",
        "Name,Kind,Hex,Size,Left,Price",
        "Tang,opaque,#445533,30ml,12.5ml,$7.90",
        'Svaberg,opaque,#8a8f94,60ml,45ml,"$ 9.50"',
        "Krekling,candy,#5a2a6e,30ml,30ml,USD 11",
        bottles=THREE,
    ),
    "percent left": Kept(
        "percent.xlsx",
        book(
            [
                ["Name", "Kind", "Hex", "Size", "Left"],
                ["Tang", "opaque", "#445533", 30, 0.5],
                ["Svaberg", "opaque", "#8a8f94", 60, 0.75],
                ["Krekling", "candy", "#5a2a6e", 30, 1],
            ],
            formats=[("E2", "0%"), ("E3", "0%"), ("E4", "0%")],
        ),
        [(*TANG[:4], 15.0, None), (*SVABERG[:5], None), (*KREKLING[:5], None)],
    ),
    "percent written": text(
        "left.csv",
        "Name,Kind,Hex,Size,Left %",
        "Tang,opaque,#445533,30,50",
        "Svaberg,opaque,#8a8f94,60,75 %",
        "Krekling,candy,#5a2a6e,30,100%",
        bottles=[(*TANG[:4], 15.0, None), (*SVABERG[:5], None), (*KREKLING[:5], None)],
    ),
    "fractions and words": text(
        "words.csv",
        "Name,Kind,Hex,Size,Left",
        "Tang,opaque,#445533,30,half",
        "Svaberg,opaque,#8a8f94,60,3/4",
        "Krekling,candy,#5a2a6e,30,full",
        "Sten,opaque,#777777,40,¼",
        "Lyng,opaque,#aa6677,30,empty",
        bottles=[
            (*TANG[:4], 15.0, None),
            (*SVABERG[:5], None),
            (*KREKLING[:5], None),
            ("Sten", "opaque", "#777777", 40.0, 10.0, None),
            ("Lyng", "opaque", "#aa6677", 30.0, 0.0, None),
        ],
    ),
    "ounces": text(
        "ounces.csv",
        "Name,Type,Hex,Bottle (oz),Left (oz),Cost",
        "Tang,opaque,#445533,1,0.5,7.90",
        "Svaberg,opaque,#8a8f94,2,1.5,9.50",
        "Krekling,candy,#5a2a6e,1,1,11.00",
        bottles=[
            (*TANG[:3], 29.5735, 14.78675, 7.9),
            (*SVABERG[:3], 59.147, 44.36025, 9.5),
            (*KREKLING[:3], 29.5735, 29.5735, 11.0),
        ],
    ),
    "grams": text(
        "weighed.csv",
        "Name,Kind,Hex,Size,Left (g),Density",
        "Tang,opaque,#445533,30,15,1.2",
        "Svaberg,opaque,#8a8f94,60,54 g,1.2",
        "Krekling,candy,#5a2a6e,30,30,1.0",
        bottles=[(*TANG[:4], 12.5, None), (*SVABERG[:5], None), (*KREKLING[:5], None)],
    ),
    "colours in words": text(
        "spoken.csv",
        "Name,Kind,Colour,Size,Left",
        "Tang,opaque,dark olive,30,12.5",
        "Svaberg,opaque,lysegrå,60,45",
        "Krekling,candy,violett,30,30",
        bottles=[(*one[:2], "words", *one[3:5], None) for one in THREE],
    ),
    "red, green, blue": text(
        "rgb.csv",
        "Name,Kind,R,G,B,Size,Left",
        "Tang,opaque,68,85,51,30,12.5",
        "Svaberg,opaque,138,143,148,60,45",
        "Krekling,candy,90,42,110,30,30",
        bottles=[(*one[:5], None) for one in THREE],
    ),
    "rgb() and CSS names": text(
        "web.csv",
        "Name;Kind;Colour;Size;Left",
        "Tang;opaque;rgb(68, 85, 51);30;12.5",
        "Svaberg;opaque;138, 143, 148;60;45",
        "Krekling;candy;rebeccapurple;30;30",
        bottles=[(*TANG[:5], None), (*SVABERG[:5], None), (*KREKLING[:2], "#663399", *KREKLING[3:5], None)],
    ),
    "filled cells": Kept(
        "filled.xlsx",
        book(
            [
                ["Name", "Kind", "Colour", "Size", "Left"],
                ["Tang", "opaque", None, 30, 12.5],
                ["Svaberg", "opaque", None, 60, 45],
                ["Krekling", "candy", None, 30, 30],
            ],
            fills=[("C2", "FF445533"), ("C3", "FF8A8F94"), ("C4", "FF5A2A6E"), ("A1", "FFDDDDDD")],
        ),
        [(*one[:5], None) for one in THREE],
    ),
    "names in filled cells": Kept(
        "swatches.xlsx",
        book(
            [
                ["Name", "Kind", "Size", "Left"],
                ["Tang", "opaque", 30, 12.5],
                ["Svaberg", "opaque", 60, 45],
                ["Krekling", "candy", 30, 30],
            ],
            fills=[("A2", "FF445533"), ("A3", "FF8A8F94"), ("A4", "FF5A2A6E")],
        ),
        [(*one[:5], None) for one in THREE],
    ),
    "HTML called .xls": text(
        "export.xls",
        "<html><head><style>td { color: #123456 }</style></head><body><table><tr><th>Paint</th><th>Sort</th>",
        "<th>Hex</th><th>Size</th><th>Left</th><th>Price</th></tr>",
        "<tr><td>Tang</td><td rowspan=2>opaque</td><td>#445533</td><td>30</td><td>12.5</td><td>7.90</td></tr>",
        "<tr><td>Svaberg</td><td>#8a8f94</td><td>60</td><td>45</td><td>9.50</td></tr>",
        "<tr><td>Krek&shy;ling</td><td>candy</td><td>#5a2a6e</td><td>30</td><td>30</td><td>11.00</td></tr>",
        "</table></body></html>",
        bottles=THREE,
    ),
    "Markdown": text(
        "notes.md",
        "# Shelf",
        "",
        "| Name | Kind | Hex | Size | Left | Price |",
        "|:-----|------|:---:|-----:|-----:|------:|",
        "| **Tang** | opaque | `#445533` | 30 | 12.5 | 7.90 |",
        "| Svaberg | opaque | #8a8f94 | 60 | 45 | 9.50 |",
        "| Krekling | candy | #5a2a6e | 30 | 30 | 11.00 |",
        bottles=THREE,
    ),
    "a shop's JSON": text(
        "products.json",
        '{"shop": "x", "products": [',
        '{"title": "Tang", "type": "opaque", "volume": "30 ml", "color": "#445533", "offers": {"price": "7.90"}},',
        '{"title": "Svaberg", "type": "opaque", "volume": "60 ml", "color": "#8a8f94", "offers": {"price": "9.50"}},',
        '{"title": "Krekling", "type": "candy", "volume": "30 ml", "color": "#5a2a6e", "offers": {"price": "11.00"}}]}',
        bottles=[(*one[:4], one[3], one[5]) for one in THREE],
    ),
}
