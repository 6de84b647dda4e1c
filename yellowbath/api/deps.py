"""What every route is handed."""

from typing import Annotated

from fastapi import Depends, Request

from yellowbath.workflows.shop import Shop


def _shop(request: Request) -> Shop:
    shop: Shop = request.app.state.shop
    return shop


ShopDep = Annotated[Shop, Depends(_shop)]
