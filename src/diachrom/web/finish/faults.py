"""A fault as the eye tells it, and its likely causes by what was recorded."""

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.core.finish.faults import FAULTS, causes
from diachrom.core.finish.schools import SCHOOLS
from diachrom.core.session.events import FACTS
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import MaybeRowId, OpenStore
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.work.finish import faults

router = APIRouter(include_in_schema=False)


@router.get("/finish/faults")
def show(request: Request, store: OpenStore, fault: str = "", session: MaybeRowId = None) -> Response:
    """Faults and their causes: what was recorded speaks for or against each."""
    form = dict(request.query_params)
    facts = faults.facts_of(store, session, form)
    found = causes(fault, facts) if fault else []
    fields = [(key, f"{FACTS[key].words}, {FACTS[key].unit}", form.get(key, "")[:20]) for key in faults.TYPED]
    return render(
        "finish/causes.html" if is_fragment_wanted(request) else "finish/faults.html",
        faults=[Choice(key, words) for key, words in FAULTS.items()],
        fault=fault,
        session=session,
        school=facts.school,
        schools=[Choice(key, school.words) for key, school in SCHOOLS.items()],
        fields=fields,
        likely=[one for one in found if not one.ruled_out],
        ruled_out=[one for one in found if one.ruled_out],
        frame=frame(request, store, "finish"),
    )
