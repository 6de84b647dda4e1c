"""The shop: its store and its clock, handed to every workflow, and its own settings."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import Connection, Engine

from yellowbath.core.units import System
from yellowbath.store import shop as store
from yellowbath.store.engine import reading, writing
from yellowbath.workflows.memo import Memo
from yellowbath.workflows.solver import Solver


@dataclass(frozen=True)
class Shop:
    """Where things are kept, what time it is (UTC), what solves fields, and the answers of
    runs, which never change."""

    engine: Engine
    now: Callable[[], datetime] = lambda: datetime.now(UTC)
    solver: Solver = field(default_factory=Solver)
    answers: Memo[Any] = field(default_factory=lambda: Memo(200))


class Scoop(BaseModel):
    """A cap or spoon that was weighed once."""

    model_config = ConfigDict(extra="forbid")

    name: str = Field(min_length=1, max_length=40)
    level_kg: float = Field(gt=0, le=2)


class ShopSettings(BaseModel):
    """What the shop sets once."""

    model_config = ConfigDict(extra="forbid")

    name: str = Field(default="", max_length=80)
    system: System = "metric"
    theme: Literal["auto", "light", "dark"] = "auto"
    scoops: list[Scoop] = Field(default_factory=list, max_length=20)


def new_id() -> str:
    """A fresh id, unguessable and short enough for an address."""
    return secrets.token_hex(6)


def get_settings(shop: Shop) -> ShopSettings:
    """The shop's settings, defaults where none were saved."""
    with reading(shop.engine) as c:
        return _settings_of(c)


def _settings_of(c: Connection) -> ShopSettings:
    return ShopSettings.model_validate(store.shop_settings(c))


def system_of(c: Connection) -> System:
    """The units in which a bare number is read at this shop."""
    return _settings_of(c).system


def save_settings(shop: Shop, settings: ShopSettings) -> ShopSettings:
    """Keep the shop's settings."""
    with writing(shop.engine) as c:
        store.put_shop_settings(c, settings.model_dump(mode="json"))
    return settings
