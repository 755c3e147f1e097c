"""What people write where a table asks how much there is, and what it costs: shares of a bottle, ounces, grams, signs
of money. All of it becomes millilitres and plain figures."""

import re
from collections.abc import Iterable

from diachrom.units import ML
from diachrom.work.files.cells import bare

PERCENT = "%"
VULGAR = {"½": 1 / 2, "¼": 1 / 4, "¾": 3 / 4, "⅓": 1 / 3, "⅔": 2 / 3, "⅛": 1 / 8, "⅜": 3 / 8, "⅝": 5 / 8, "⅞": 7 / 8}
SHARE_WORDS = {
    1.0: "full|new|unopened|voll|neu|plein|pleine|lleno|llena|pieno|piena|vol|fullt|pelna",
    0.75: "three quarters|dreiviertel|trois quarts|tres cuartos|tre quarti|trekvart",
    0.5: "half|half full|half empty|halb|halbvoll|halb voll|demi|moitie|a moitie|medio|media|mitad|mezzo|meta|halv"
    "|halvt|halv full|puoli|pol|polowa",
    0.25: "quarter|a quarter|one quarter|viertel|quart|cuarto|quarto|kvart",
    0.0: "empty|none|leer|vide|vacio|vuoto|leeg|tom|tomt|tyhja|pusta",
}
SHARES = {word: share for share, words in SHARE_WORDS.items() for word in words.split("|")}
GRAMS = {"g": 1.0, "gr": 1.0, "gram": 1.0, "gramm": 1.0, "grams": 1.0, "grammes": 1.0, "gramos": 1.0, "kg": 1000.0}
OUNCES = ("oz", "floz", "ounce", "ounces", "once", "onces", "unze", "unzen", "onza", "onzas", "oncia", "unser")
UNITS = {**{one: one for one in (*ML, *GRAMS)}, **dict.fromkeys(OUNCES, "oz"), "percent": PERCENT, "prozent": PERCENT}
LONGEST = 60  # characters of an amount
AMOUNT = re.compile(
    rf"(?:(?P<whole>\d+)\s+)?(?:(?P<above>\d+)\s*[/⁄]\s*(?P<below>\d+)|(?P<vulgar>[{''.join(VULGAR)}])"
    r"|(?P<figure>[-−+]?[\d.,' ]*\d))\s*(?P<unit>%|[^\W\d_][\w. ]*)?",
    re.I,
)
CODES = "eur|usd|gbp|nok|sek|dkk|chf|pln|czk|cad|aud|nzd|jpy|kr|zl|fr|euro|euros|dollars?|pounds?|sfr|rs"
MONEY = re.compile(rf"(?:(?<![^\W\d_])(?:{CODES})(?![^\W\d_])\.?|(?:us|au|ca|nz|a|c)?[$€£¥₹₩₽¢])\s*", re.I)
DASHED = re.compile(r"(?<=\d)[.,]\s?[-–—](?=\s|$)")  # 11,- and 11.–
HEADED = re.compile(
    r"%|\b(?:fl\.?\s?oz|oz|ounces?|onces?|unzen?|onzas?|ml|cl|g|gr|gramm?|grams|grammes|kg|percent|prozent)\b", re.I
)


def money(text: str) -> str:
    """A price without its sign or code of money; as it stands where more than that is written."""
    if len(text) > LONGEST:
        return text
    plain = DASHED.sub("", MONEY.sub("", text.strip())).strip()
    return plain if re.fullmatch(r"[-−+]?[\d.,' \u00a0\u202f]*\d", plain) else text


def is_money(text: str) -> bool:
    """Whether a figure has a sign or a code of money."""
    return len(text) <= LONGEST and bool(MONEY.search(text)) and money(text) != text


def unit_of(heading: str) -> str:
    """The unit that a heading names for its figures: ml, cl, l, oz, g, kg or %; "" for none."""
    found = HEADED.search(heading)
    return "" if found is None else unit(found[0])


def unit(text: str) -> str:
    """A unit by its usual name, "" of what is none that is known here."""
    plain = "".join(text.casefold().split()).replace(".", "")
    return PERCENT if plain == PERCENT else UNITS.get(plain, "")


def _amount(text: str) -> re.Match[str] | None:
    return AMOUNT.fullmatch(text.strip()) if len(text) <= LONGEST else None


def is_share(text: str) -> bool:
    """Whether it says a share of a bottle."""
    found = _amount(text)
    if len(text) <= LONGEST and bare(text) in SHARES:
        return True
    return found is not None and (unit(found["unit"] or "") == PERCENT or (not found["unit"] and not found["figure"]))


def is_volume(text: str) -> bool:
    """Whether it is a figure with a unit of volume."""
    found = _amount(text)
    return found is not None and bool(found["unit"]) and unit(found["unit"]) in ML


def in_ml(text: str, *, headed: str, whole_ml: float | None, density: float) -> str:
    """An amount as a figure in ml; as it stands where it is none that is known here.

    Parameters
    ----------
    text : as written, its decimal sign a point.
    headed : the unit that its column's heading names, "" for none.
    whole_ml : what a share is a share of; None where there are no shares.
    density : g/ml, of what is weighed.
    """
    plain = text.strip()
    if whole_ml is not None and len(plain) <= LONGEST and bare(plain) in SHARES:
        return f"{SHARES[bare(plain)] * whole_ml:.6g}"
    found = _amount(plain)
    if found is None or (found["whole"] and found["figure"]):
        return text
    is_fraction = not found["figure"]
    if found["vulgar"]:
        value = VULGAR[found["vulgar"]]
    elif found["above"]:
        if not int(found["below"]):
            return text
        value = int(found["above"]) / int(found["below"])
    else:
        try:
            value = float(found["figure"].replace("−", "-").replace(" ", ""))
        except ValueError:  # two ways to read it, or none
            return text
    value += float(found["whole"] or 0)
    own = unit(found["unit"]) if found["unit"] else headed
    if found["unit"] and not own:
        return text
    if own == PERCENT or (is_fraction and not own):
        if whole_ml is None:
            return text
        return f"{value * (0.01 if own == PERCENT else 1.0) * whole_ml:.6g}"
    if own in GRAMS:
        return f"{value * GRAMS[own] / density:.6g}"
    return f"{value * ML[own]:.6g}" if own else plain


def is_money_unit(text: str) -> bool:
    """Whether it is a sign or a code of money and nothing else."""
    return len(text) <= LONGEST and MONEY.fullmatch(text.strip()) is not None


def are_shares(cells: Iterable[str]) -> bool:
    """Whether all of a column's figures are from 0 to 1, and some between: as workbooks keep percent."""
    try:
        values = [float(cell.strip().replace(",", ".")) for cell in cells if cell.strip()]
    except ValueError:
        return False
    return bool(values) and all(0 <= one <= 1 for one in values) and any(0 < one < 1 for one in values)
