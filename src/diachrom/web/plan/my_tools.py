"""My tools: nets, combs, stencils, sponges and brushes that the bench has."""

from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.plan import Plan
from diachrom.web.kit.answers import go
from diachrom.web.kit.choices import Choice, Group
from diachrom.web.kit.dependencies import GivenForm, OpenStore, RowId, Text
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.plan.routes import at_layer
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.kit.figures import whole
from diachrom.work.kit.opened import Store
from diachrom.work.plan import sources, tools

router = APIRouter(include_in_schema=False)


@dataclass(frozen=True)
class ToolView:
    id: int
    kind: str
    name: str
    kind_words: str
    words: str
    stencil: str


def tool_views(store: Store) -> list[ToolView]:
    """Each with its figures in words."""
    found = []
    for tool in tools.every(store):
        way = MASKS[tool.kind] if tool.kind in MASKS else MASKS["free"]
        figures = [
            say("{what} {mm}", what=field.words, mm=quantity(getattr(tool, field.key) / field.times, ".2g", "mm"))
            for field in way.fields
            if field.key in ("size_mm", "gap_mm")
        ]
        pieces = say_count(tool.pieces, "{count} piece", "{count} pieces")
        words = listed([*figures, pieces])
        found.append(
            ToolView(
                id=tool.id,
                kind=tool.kind,
                name=tool.name,
                kind_words=way.words,
                words=words,
                stencil=tool.stencil,
            )
        )
    return found


@router.get("/plan/tools")
def page(request: Request, store: OpenStore, said: str = "") -> Response:
    """Which there are, and a form for another."""
    return render(
        "plan/tools.html",
        tools=tool_views(store),
        kinds=[Choice(key, MASKS[key].words) for key in tools.KINDS],
        stencils=[
            Group(words, [Choice(key, name) for key, name in rows])
            for words, rows in sources.stencils(store, Plan()).items()
            if rows
        ],
        said=said[:200],
        frame=frame(request, store, "plan"),
    )


@router.post("/plan/tools")
def add(request: Request, store: OpenStore, form: GivenForm) -> Response:
    """Keep one more."""
    tools.add(store, form)
    return go(request, "/plan/tools")


@router.post("/plan/tools/{tool}/remove")
def remove(request: Request, store: OpenStore, tool: RowId) -> Response:
    """It is not there any more."""
    tools.retire(store, tool)
    return go(request, "/plan/tools")


@router.post("/plan/{number}/layers/{layer}/tool")
def take(request: Request, store: OpenStore, number: RowId, layer: RowId, tool: Text = "") -> Response:
    """A layer goes through this tool."""
    which = whole(tool, say("Which tool"), key="tool")

    def through(plan: Plan) -> Plan:
        return plan.changed(layer, lambda one: tools.with_tool(store, one, which))

    return at_layer(request, store, number, layer, through, did=say("its tool"))
