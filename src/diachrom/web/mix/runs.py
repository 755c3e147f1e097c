"""How the cup runs down the wall, on the Amounts page: five grades, and what brings the cup to each."""

from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.core.mix.flow import GRADES
from diachrom.web.kit.answers import go
from diachrom.web.kit.dependencies import OpenStore, Text
from diachrom.words import quantity, say
from diachrom.work.mix import flow
from diachrom.work.mix.flow import FlowSeen

router = APIRouter(include_in_schema=False)


@dataclass(frozen=True)
class GradeView:
    """How it may run down the wall, and what brings the cup there."""

    grade: int
    words: str
    run: float  # 0 to 1, of the wall
    seen: str  # at how much reducer it ran so, "" where nobody saw it
    share: str
    bottle: int  # of reducer
    drops: int


def grades(runs: FlowSeen) -> list[GradeView]:
    """Each grade of the paint that there is most of."""
    latest = {one.grade: one.share for one in runs.seen}
    views = []
    for one in runs.to:
        grade = GRADES[one.grade]
        share = quantity(100 * one.share, ".0f")
        seen = say("seen at {share} % reducer", share=share) if one.grade in latest else ""
        bottle = 0 if one.bottle is None else one.bottle.id
        views.append(
            GradeView(
                grade=one.grade,
                words=grade.words,
                run=grade.run,
                seen=seen,
                share=share,
                bottle=bottle,
                drops=one.drops,
            )
        )
    return views


@router.post("/amounts/runs")
def runs(request: Request, store: OpenStore, grade: Text, hand: Text = "thin") -> Response:
    """Keep how the cup ran down the wall."""
    at = int(grade) if grade.isdecimal() and len(grade) < 3 else 0
    flow.tell(store, at, hand)
    return go(request, f"/amounts?hand={hand}#runs")
