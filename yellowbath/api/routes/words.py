"""The words for things that have a name, to the page once; it keeps them as long as they stand."""

from __future__ import annotations

import hashlib
import json
from functools import cache

from fastapi import APIRouter, Request, Response

from yellowbath.core.words import words

router = APIRouter(prefix="/words", tags=["words"])


@cache
def _served() -> tuple[bytes, str]:
    body = json.dumps(words(), ensure_ascii=False).encode()
    return body, f'"{hashlib.sha256(body).hexdigest()[:16]}"'


@router.get(
    "",
    operation_id="words",
    response_model=dict[str, str],
    responses={304: {"description": "They are as they were."}},
)
def all_words(request: Request) -> Response:
    """Every word by its key, in the order in which choices are offered."""
    body, tag = _served()
    headers = {"ETag": tag, "Cache-Control": "no-cache"}
    if request.headers.get("if-none-match") == tag:
        return Response(status_code=304, headers=headers)
    return Response(body, media_type="application/json", headers=headers)
