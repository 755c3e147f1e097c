"""A device that is not to be known any more."""

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.web.kit.answers import go
from diachrom.web.kit.guard import DEVICE_COOKIE

router = APIRouter(include_in_schema=False)


@router.post("/sign-out")
def sign_out(request: Request) -> Response:
    answer = go(request, "/sign-in")
    answer.delete_cookie(DEVICE_COOKIE)
    return answer
