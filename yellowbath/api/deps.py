"""What every route is handed."""

from typing import Annotated
from urllib.parse import quote

from fastapi import Depends, Request

from yellowbath.workflows.shop import Shop


def _shop(request: Request) -> Shop:
    shop: Shop = request.app.state.shop
    return shop


ShopDep = Annotated[Shop, Depends(_shop)]


def attached(name: str) -> dict[str, str]:
    """The header that saves an answer under a name in any script (RFC 6266, RFC 8187)."""
    plain = "".join(c if c.isascii() and (c.isalnum() or c in "-._") else "-" for c in name)
    return {
        "Content-Disposition": f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name)}"
    }
