"""Settings, each readable from the environment; documented in docs/settings.md."""

from __future__ import annotations

import os
from dataclasses import dataclass
from pathlib import Path


def _number(name: str, usual: int, least: int, most: int) -> int:
    """A whole number of the environment; ends the command in one sentence for what is none."""
    text = os.environ.get(name, str(usual)).strip()
    if text.isdecimal() and least <= int(text) <= most:
        return int(text)
    raise SystemExit(f"{name} is {text[:20]!r}; it takes a number from {least} to {most}.")


@dataclass(frozen=True)
class Settings:
    """Where the shop's data lives and where it is served.

    Environment: ``YELLOWBATH_DATA`` (folder), ``YELLOWBATH_HOST``, ``YELLOWBATH_PORT``,
    ``YELLOWBATH_NAMES`` (host names by which it may be asked for, with commas between),
    ``YELLOWBATH_CACHE_MB`` (what the solver may keep between requests).
    """

    data: Path
    host: str = "127.0.0.1"
    port: int = 8650
    names: tuple[str, ...] = ()
    cache_mb: float = 128.0

    @staticmethod
    def from_environment(default_data: Path) -> Settings:
        """Settings from the environment; loopback unless told otherwise."""
        return Settings(
            data=Path(os.environ.get("YELLOWBATH_DATA", str(default_data))),
            host=os.environ.get("YELLOWBATH_HOST", "127.0.0.1"),
            port=_number("YELLOWBATH_PORT", 8650, 1, 65535),
            names=tuple(
                n.strip() for n in os.environ.get("YELLOWBATH_NAMES", "").split(",") if n.strip()
            ),
            cache_mb=float(_number("YELLOWBATH_CACHE_MB", 128, 1, 100_000)),
        )

    @property
    def beyond(self) -> bool:
        """Whether other devices than this computer can reach it."""
        return self.host not in ("127.0.0.1", "localhost", "::1")

    @property
    def database(self) -> Path:
        return self.data / "shop.sqlite"
