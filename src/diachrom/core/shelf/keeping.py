"""How paint keeps: what settles, what ages, and what a millilitre weighs.

Usual figures of each kind, not the truth of a bottle: the maker's sheet comes first.
"""

from diachrom.core.film.kinds import KINDS
from diachrom.words import quantity, say

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
        return say("shake before use")
    if days_since <= interval:
        return ""
    return say(
        "{what}: {days_since} days since the last time",
        what=say("shake well") if days_since > LATE * interval else say("shake"),
        days_since=quantity(days_since, ".0f"),
    )


def ageing(kind: str, *, days_bought: float | None, days_opened: float | None) -> str:
    """What to say about age, "" when nothing; None for a day that was never noted."""
    keeps = KINDS[kind].keeps
    if days_opened is not None and days_opened > keeps.opened_months * MONTH_DAYS:
        return say(
            "open for {month_days} months; usual are {opened_months}: try it first",
            month_days=quantity(days_opened / MONTH_DAYS, ".0f"),
            opened_months=keeps.opened_months,
        )
    if days_opened is None and days_bought is not None and days_bought > keeps.sealed_months * MONTH_DAYS:
        return say(
            "{month_days} months old; usual are {sealed_months}: try it first",
            month_days=quantity(days_bought / MONTH_DAYS, ".0f"),
            sealed_months=keeps.sealed_months,
        )
    return ""
