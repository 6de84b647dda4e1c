"""Stored documents brought up to what is read now: one function a step of the schema.

A step takes a document of its version and gives one of the next; nothing that was answered is
lost, and what only stood at a default that looked like an answer becomes "not answered".
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from copy import deepcopy
from typing import Any

from yellowbath.core.document.plan import SCHEMA_VERSION
from yellowbath.core.errors import InvalidDocumentError, LaterVersionError

Document = dict[str, Any]


def _from_1(document: Document) -> Document:
    """Several other metals a piece; a bore rod names its piece; questions that can stay open."""
    pieces = _each(document.get("pieces"))
    for piece in pieces:
        if "other_metal" in piece:
            other = piece.pop("other_metal")
            piece["other_metals"] = [] if other == "none" else [other]
    first = next((p.get("id", "p1") for p in pieces), "p1")
    for anode in _each(document.get("anodes")):
        if anode.get("kind") == "bore":
            anode.setdefault("piece", first)
    _supply_from_1(document.get("supply"), "/supply/battery_ah" in document.get("typed", {}))
    _open_again(document.get("placing"), joint_clear=True)
    _open_again(document.get("place"), lid=False, flames=False, visitors=False)
    return document


_RENAMED = {
    "/placing/": "/layout/",
    "/mix/dose_kg_m3": "/mix/concentration_kg_m3",
    "/mix/kept_chloride_kg": "/mix/kept_salt_kg",
}


def _from_2(document: Document) -> Document:
    """Names that say what they hold: the layout of the scrap, a mix's concentration, its salt."""
    if "placing" in document:
        document["layout"] = document.pop("placing")
    _rename(document.get("mix"), dose_kg_m3="concentration_kg_m3", kept_chloride_kg="kept_salt_kg")
    typed = document.get("typed")
    if isinstance(typed, dict):
        document["typed"] = {_at(pointer): text for pointer, text in typed.items()}
    return document


def _at(pointer: str) -> str:
    for old, new in _RENAMED.items():
        if pointer.startswith(old):
            return new + pointer.removeprefix(old)
    return pointer


def _thing_from_2(document: Document) -> Document:
    _rename(document.get("detail"), chloride_kg="salt_kg")
    typed = document.get("typed")
    if isinstance(typed, dict):
        document["typed"] = {k.replace("/chloride_kg", "/salt_kg"): t for k, t in typed.items()}
    return document


def _rename(part: Any, **names: str) -> None:
    if isinstance(part, dict):
        for old, new in names.items():
            if old in part:
                part[new] = part.pop(old)


def _thing_from_1(document: Document) -> Document:
    detail = document.get("detail")
    if isinstance(detail, dict):
        _supply_from_1(detail.get("supply"), "/supply/battery_ah" in document.get("typed", {}))
    return document


def _supply_from_1(supply: Any, typed: bool) -> None:
    _open_again(supply, rcd=True, polarity_tested=False)
    if isinstance(supply, dict) and supply.get("battery_ah") == 60.0 and not typed:
        supply["battery_ah"] = None


def _open_again(part: Any, **defaults: bool) -> None:
    """What stands at its old default may never have been asked."""
    if isinstance(part, dict):
        for name, default in defaults.items():
            if part.get(name) is default:
                part[name] = None


def _each(items: Any) -> Sequence[Document]:
    return [i for i in items if isinstance(i, dict)] if isinstance(items, list) else []


def _from_7(document: Document) -> Document:
    """Several can be true of a piece: a trap with a chain."""
    for piece in _each(document.get("pieces")):
        if isinstance(parts := piece.get("parts"), str):
            piece["parts"] = [] if parts == "one" else [parts]
    return document


def _only_added(document: Document) -> Document:
    """A step that only adds fields, each of which says nothing until it is asked."""
    return document


STEPS: Mapping[int, Callable[[Document], Document]] = {
    1: _from_1,
    2: _from_2,
    3: _only_added,
    4: _only_added,
    5: _only_added,
    6: _only_added,
    7: _from_7,
}
THING_STEPS: Mapping[int, Callable[[Document], Document]] = {
    1: _thing_from_1,
    2: _thing_from_2,
    3: _only_added,
    4: _only_added,
    5: _only_added,
    6: _only_added,
    7: _only_added,
}


def upgrade(document: Mapping[str, Any]) -> Document:
    """A plan document of any earlier version as one of this; one without a version is of this.

    Raises LaterVersionError where a later version wrote it, InvalidDocumentError for no version.
    """
    return _up(document, STEPS, SCHEMA_VERSION)


def upgrade_thing(document: Mapping[str, Any]) -> Document:
    """The same for a thing of the kit; one without a version is of the first."""
    return _up({"schema_version": 1, **document}, THING_STEPS, SCHEMA_VERSION)


def _up(
    document: Mapping[str, Any], steps: Mapping[int, Callable[[Document], Document]], newest: int
) -> Document:
    version = document.get("schema_version", SCHEMA_VERSION)
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise InvalidDocumentError([("/schema_version", "is no version of a document")])
    if version > newest:
        raise LaterVersionError(
            f"This was written by a later version (schema {version}).",
            allowed=f"Schema {SCHEMA_VERSION} is read here.",
            remedy="Bring Yellow Bath up to date on this computer; what is written is left as it "
            "is.",
        )
    if version == newest:
        return dict(document)
    made = deepcopy(dict(document))
    for step in range(version, newest):
        try:
            made = steps[step](made)
        except (TypeError, AttributeError, KeyError, ValueError) as error:
            raise InvalidDocumentError(
                [("/", f"is no document of schema {step}: {error}")]
            ) from None
        made["schema_version"] = step + 1
    return made
