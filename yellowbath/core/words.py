"""Words for things that have a name: one owner, ``data/words.toml``, for the core and the page.

Keys are dotted and say what a word names, such as ``choice.piece.grade.heavy`` or
``field.tank.bucket.rim_diameter_m``. A word that is not there is a programming mistake: KeyError.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cache, reduce
from typing import Any

from yellowbath.core.data import table


@cache
def words() -> Mapping[str, str]:
    """Every word by its key, in the order of the table, in which choices are offered."""
    return {key: _by_name(text) for key, text in _flat("", table("words"))}


def word(key: str, **slots: object) -> str:
    """The word of a key, its slots filled."""
    return words()[key].format(**slots) if slots else words()[key]


def said(choice: str, value: str) -> str:
    """What a choice (``piece.metal``) was answered with, as it stands inside a sentence.

    >>> said("piece.metal", "spring"), said("piece.fragility", "relic")
    ('spring steel', 'fragile')
    """
    own = words().get(f"said.{choice}.{value}")
    return own if own is not None else small(word(f"choice.{choice}.{value}"))


def options(choice: str) -> Mapping[str, str]:
    """The values of a choice and their words, in the order in which they are offered."""
    start = f"choice.{choice}."
    return {k.removeprefix(start): v for k, v in words().items() if k.startswith(start)}


def of_field(what: str, part: str, name: str, kind: str = "") -> str | None:
    """The ``field``, ``hint`` or ``empty`` word of a field of a part; of its kind's own first."""
    for key in (f"{what}.{part}.{kind}.{name}", f"{what}.{part}.{name}", f"{what}.any.{name}"):
        if key in words():
            return words()[key]
    return None


def counted(count: int, key: str) -> str:
    """A number of things, in the singular or the plural.

    >>> counted(1, "count.stop"), counted(3, "count.stop")
    ('1 stop', '3 stops')
    """
    return f"{count} {word(key + ('.one' if count == 1 else '.many'))}"


def listed(names: Sequence[str]) -> str:
    """Names one after the other.

    >>> listed(["a", "b"]), listed(["a", "b", "c"])
    ('a and b', 'a, b and c')
    """
    return " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)


def small(text: str) -> str:
    """With a small letter at its head, but for what is written in capitals."""
    return text if text[:2].isupper() or text[:1] == "" else text[0].lower() + text[1:]


def capital(text: str) -> str:
    """With a capital at its head."""
    return text[:1].upper() + text[1:]


def _flat(start: str, node: Mapping[str, Any]) -> list[tuple[str, str]]:
    out: list[tuple[str, str]] = []
    for key, value in node.items():
        at = f"{start}.{key}" if start else key
        out += _flat(at, value) if isinstance(value, Mapping) else [(at, str(value))]
    return out


def _by_name(text: str) -> str:
    """What ``=key`` stands for: the same thing under another key."""
    key = text.removeprefix("=")
    return text if key == text else str(reduce(lambda n, k: n[k], key.split("."), table("words")))
