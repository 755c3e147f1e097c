"""How paint keeps: what settles, what ages, and what a millilitre weighs.

Usual figures of each kind, not the truth of a bottle: the maker's sheet comes first.
"""

from diachrom.core.film.kinds import KINDS

MONTH_DAYS = 30.4
LATE = 2.0  # times its shaking interval after which it is not only due


def density(kind: str) -> float:
    """g/ml that is usual for a kind."""
    return KINDS[kind].keeps.density


def shaking(kind: str, days_since: float | None) -> str:
    """What to say about shaking, "" when nothing; `days_since` None when it was never noted."""
    interval = KINDS[kind].keeps.shake_days
    if interval is None:
        return ""
    if days_since is None:
        return "shake before use"
    if days_since <= interval:
        return ""
    return f"{'shake well' if days_since > LATE * interval else 'shake'}: {days_since:.0f} days since the last time"


def ageing(kind: str, *, days_bought: float | None, days_opened: float | None) -> str:
    """What to say about age, "" when nothing; None for a day that was never noted."""
    keeps = KINDS[kind].keeps
    if days_opened is not None and days_opened > keeps.opened_months * MONTH_DAYS:
        return f"open for {days_opened / MONTH_DAYS:.0f} months; usual are {keeps.opened_months}: try it first"
    if days_opened is None and days_bought is not None and days_bought > keeps.sealed_months * MONTH_DAYS:
        return f"{days_bought / MONTH_DAYS:.0f} months old; usual are {keeps.sealed_months}: try it first"
    return ""
