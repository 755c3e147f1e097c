"""How paint keeps: what settles, what ages, and what a millilitre weighs.

Usual figures of each kind, not the truth of a bottle: the maker's sheet comes first.
"""

from dataclasses import dataclass


@dataclass(frozen=True)
class Keeping:
    """Days after which it wants shaking, months that it keeps, and its density."""

    shake_days: int | None  # None for what does not settle
    sealed_months: int
    opened_months: int
    density: float  # g/ml


_CLEAR = Keeping(None, 60, 36, 1.0)
KEEPING = {
    "opaque": Keeping(21, 36, 24, 1.25),
    "primer": Keeping(14, 24, 12, 1.35),
    "transparent": Keeping(42, 36, 24, 1.04),
    "candy": Keeping(None, 24, 18, 1.02),
    "ink": Keeping(60, 36, 24, 1.03),
    "pearl": Keeping(7, 36, 24, 1.08),
    "metallic": Keeping(7, 24, 12, 1.12),
    "shift": Keeping(7, 36, 24, 1.08),
    "glitter": Keeping(3, 36, 24, 1.06),
    "fluorescent": Keeping(21, 18, 12, 1.10),
    "glow": Keeping(3, 24, 12, 1.30),
    "reducer": _CLEAR,
    "medium": Keeping(90, 36, 24, 1.03),
}
MONTH_DAYS = 30.4
LATE = 2.0  # times its shaking interval after which it is not only due


def density(kind: str) -> float:
    """g/ml that is usual for a kind."""
    return KEEPING[kind].density


def shaking(kind: str, days_since: float | None) -> str:
    """What to say about shaking, "" when nothing; `days_since` None when it was never noted."""
    interval = KEEPING[kind].shake_days
    if interval is None:
        return ""
    if days_since is None:
        return "shake before use"
    if days_since <= interval:
        return ""
    return f"{'shake well' if days_since > LATE * interval else 'shake'}: {days_since:.0f} days since the last time"


def ageing(kind: str, *, days_bought: float | None, days_opened: float | None) -> str:
    """What to say about age, "" when nothing; None for a day that was never noted."""
    keeps = KEEPING[kind]
    if days_opened is not None and days_opened > keeps.opened_months * MONTH_DAYS:
        return f"open for {days_opened / MONTH_DAYS:.0f} months; usual are {keeps.opened_months}: try it first"
    if days_opened is None and days_bought is not None and days_bought > keeps.sealed_months * MONTH_DAYS:
        return f"{days_bought / MONTH_DAYS:.0f} months old; usual are {keeps.sealed_months}: try it first"
    return ""
