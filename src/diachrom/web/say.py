"""How figures and days are said."""

from datetime import datetime

FEW = 10.0


def day(at: str) -> str:
    """An ISO time as a day in words: "2 September 2026"."""
    moment = datetime.fromisoformat(at)
    return f"{moment.day} {moment:%B %Y}"


def short_day(day: str) -> str:
    """ "2 Sep 2026", for a label."""
    moment = datetime.fromisoformat(day)
    return f"{moment.day} {moment:%b %Y}"


def ml(value: float) -> str:
    """ "12", "1.4", without its unit."""
    return f"{value:.0f}" if abs(value) >= FEW else f"{value:.1f}"


def weeks(value: float | None) -> str:
    """ "lasts 6 weeks as you go", or what is known instead."""
    if value is None:
        return "not poured lately"
    if value > 104:
        return "lasts years as you go"
    return "lasts under a week as you go" if value < 1 else f"lasts {count(round(value), 'week')} as you go"


def count(number: int, noun: str) -> str:
    """ "1 drop", "12 drops", "3 patches"."""
    many = "es" if noun.endswith("ch") else "s"
    return f"{number} {noun}{'' if number == 1 else many}"
