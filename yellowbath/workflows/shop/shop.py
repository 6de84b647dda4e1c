"""The shop: its store and its clock, handed to every workflow, and its own settings."""

from __future__ import annotations

import secrets
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import Connection, Engine

from yellowbath.core.document.merge import Side
from yellowbath.core.plan.comparison.merged import Both
from yellowbath.core.units import System, show
from yellowbath.core.words import options, word
from yellowbath.store import shop as store
from yellowbath.store.engine import reading, writing
from yellowbath.store.pages import Page, Wanted
from yellowbath.store.written import kept_revision, newest_number
from yellowbath.workflows.shop.memo import Memo
from yellowbath.workflows.shop.shouts import Shouts
from yellowbath.workflows.shop.solver import Solver
from yellowbath.workflows.shop.versions import together_plainly

__all__ = ["Page", "Scoop", "Shop", "ShopSettings", "Wanted"]


@dataclass(frozen=True)
class Shop:
    """Where things are kept, what time it is (UTC), what solves fields, the answers of runs, which
    never change, runs as the rack last told them, and what lines shout just now."""

    engine: Engine
    now: Callable[[], datetime] = lambda: datetime.now(UTC)
    solver: Solver = field(default_factory=Solver)
    answers: Memo[Any] = field(default_factory=lambda: Memo(100))
    rack: Memo[Any] = field(default_factory=lambda: Memo(100))
    shouts: Shouts = field(default_factory=Shouts)


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


@dataclass(frozen=True)
class KeptSettings:
    """The shop's settings and their revision, nought where none were saved; ``brought``: what was
    changed elsewhere meanwhile and is in them too."""

    settings: ShopSettings
    revision: int
    brought: Sequence[Both] = ()


def kept_settings(shop: Shop) -> KeptSettings:
    """The shop's settings as they are kept."""
    with reading(shop.engine) as c:
        return KeptSettings(_settings_of(c), newest_number(c, store.NAME))


def save_settings(
    shop: Shop,
    settings: ShopSettings,
    base: int = 0,
    choices: Mapping[str, Side] | None = None,
    onto: int | None = None,
) -> KeptSettings:
    """Keep the shop's settings, changed from the revision ``base``.

    What was changed elsewhere meanwhile is brought together with it by field; where both changed
    the same, StaleRevisionError until ``choices`` say.
    """
    with writing(shop.engine) as c:
        head = newest_number(c, store.NAME)
        made, brought = settings.model_dump(mode="json"), list[Both]()
        if head != base:
            was = kept_revision(c, store.NAME, base) if base else ShopSettings().model_dump()
            versions = (was, made, store.shop_settings(c))
            chosen = (choices or {}) if onto == head else {}
            made, brought = together_plainly(versions, (base, head), chosen, _named)
        if made != store.shop_settings(c):
            head += 1
            store.put_shop_settings(c, head, made, shop.now())
        return KeptSettings(ShopSettings.model_validate(made), head, brought)


def _named(_: Mapping[str, Any], pointer: str, value: Any) -> tuple[str, str]:
    """What a setting is called, and a value of it in words."""
    match pointer.strip("/").split("/"):
        case ["scoops", *_]:
            level = value if isinstance(value, float) else dict(value)["level_kg"]
            return word("field.shop.scoop"), str(show(level, "mass", "metric", 4))
        case [name]:
            known = options(f"shop.{name}")
            return word(f"field.shop.{name}"), known.get(str(value), str(value))
    return pointer, str(value)
