"""Two-part clear for a plan's baits, by volume and by weight."""

from urllib.parse import urlencode

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.core.finish.powders import POWDERS
from diachrom.web.kit.answers import go
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import GivenForm, OpenStore, RowId
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.words import quantity
from diachrom.work.finish import clearing, looks
from diachrom.work.plan import plans, two_part

router = APIRouter(include_in_schema=False)


@router.get("/finish/{plan}")
def show(request: Request, store: OpenStore, plan: RowId) -> Response:
    """The clear of a plan: by weight, with powders, or by coats."""
    asked = two_part.asked(store, dict(request.query_params), plans.now(store, plan).plan)
    cleared = clearing.cleared(store, plan, asked)
    fields = [
        (key, words, quantity(getattr(asked.resin if hasattr(asked.resin, key) else asked, key), "g"))
        for key, words in two_part.WORDS.items()
    ]
    template = "finish/batch.html" if is_fragment_wanted(request) else "finish/page.html"
    return render(
        template,
        plan=plan,
        asked=asked,
        found=cleared,
        fields=fields,
        powders=[Choice(key, powder.words) for key, powder in POWDERS.items()],
        deepened=looks.deepened(store, plan) if template.endswith("page.html") else None,
        frame=frame(request, store, "finish"),
    )


@router.get("/finish/{plan}/picture.png")
def picture(store: OpenStore, plan: RowId, cleared: bool = True) -> Response:
    """A bait with this clear, beside the same without it."""
    made = looks.picture(store, plan, cleared=cleared)
    return Response(made, media_type="image/png", headers={"Cache-Control": "no-cache"})


@router.post("/finish/{plan}")
def keep(request: Request, store: OpenStore, plan: RowId, form: GivenForm) -> Response:
    """What the sheet says is kept for the next time."""
    own = plans.now(store, plan).plan
    asked = two_part.asked(store, form, own)
    clearing.cleared(store, plan, asked)
    two_part.keep(store, asked, own)
    given = urlencode({key: form[key] for key in two_part.ASKED if form.get(key, "").strip()})
    return go(request, f"/finish/{plan}?{given}")
