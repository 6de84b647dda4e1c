"""Two people's changes to one document brought together, by the name of the thing and the field.

Things of a list are met by their id (or role and ref, or name), never by where they stand. A text
that was typed goes with its field. Where both changed one field otherwise, or one took out what
the other changed, both versions are told as a :class:`Meeting`; until one is chosen mine stands.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from copy import deepcopy
from dataclasses import dataclass, field
from typing import Any, Literal

Document = dict[str, Any]
Path = tuple[str, ...]
Three = tuple[Any, Any, Any]
"""What stands at a place in the document both started from, in mine and in theirs."""
Side = Literal["mine", "theirs"]


class _Nothing:
    """What stands where nothing stands."""

    def __repr__(self) -> str:
        return "nothing"

    def __deepcopy__(self, memo: object) -> _Nothing:
        return self


NOTHING = _Nothing()


@dataclass(frozen=True)
class Meeting:
    """A place that another changed: its path by ids, and what stood there and stands in each."""

    path: Path
    was: Any
    mine: Any
    theirs: Any

    @property
    def where(self) -> str:
        """The path as one text, by which a choice is made."""
        return "/".join(self.path)


@dataclass(frozen=True)
class Merged:
    """A document with both changes; ``clashes`` wait for a choice, ``brought`` came from theirs."""

    document: Document
    clashes: Sequence[Meeting]
    brought: Sequence[Meeting]


def merge(
    was: Document,
    mine: Document,
    theirs: Document,
    choices: Mapping[str, Side] | None = None,
    root: str = "",
    derived: Callable[[Path], bool] = lambda _: False,
) -> Merged:
    """Mine and theirs, which both started from ``was``, as one document.

    ``choices``: for each clash by its ``where``, whose version is taken; ``root``: where the
    pointers of typed texts start; ``derived``: places that follow from others, and clash with none.
    """
    mine = _renamed(was, mine, theirs)
    a, b, c = (_Folded.of(d, root) for d in (was, mine, theirs))
    work = _Work(choices or {}, derived)
    made = work.node((a.tree, b.tree, c.tree), ())
    document = _Folded(made, _said(a.said, b.said, c.said)).unfolded(root)
    if not any("typed" in d for d in (was, mine, theirs)):
        del document["typed"]
    return Merged(document, work.clashes, work.brought)


# --- Documents whose typed texts and said pointers stand at their fields -------------------------


@dataclass(frozen=True)
class _Typed:
    """A field's value with the text that was typed for it."""

    value: Any
    text: str


@dataclass(frozen=True)
class _Folded:
    """A document without lists of pointers: texts at their fields, and what is said by ids."""

    tree: Any
    said: frozenset[Path] | None

    @classmethod
    def of(cls, document: Document, root: str) -> _Folded:
        tree = deepcopy(document)
        typed, said = tree.pop("typed", None) or {}, tree.pop("said", None)
        by_id = None if said is None else frozenset(_path(document, p) for p in said)
        for pointer, text in typed.items():
            parts = f"{root}{pointer}".strip("/").split("/")
            holder = _at(tree, parts[:-1])
            if isinstance(holder, dict):
                holder[parts[-1]] = _Typed(holder.get(parts[-1], NOTHING), text)
        return cls(tree, by_id)

    def unfolded(self, root: str) -> Document:
        document: Document = {}
        typed: dict[str, str] = {}
        for pointer, value in _placed(self.tree, ""):
            if isinstance(value, _Typed):
                typed[pointer.removeprefix(root)] = value.text
        document = _plain(self.tree)
        document["typed"] = typed
        if self.said is not None:
            pointers = (pointer_of(document, p) for p in sorted(self.said))
            document["said"] = [p for p in pointers if p is not None]
        return document


def _at(node: Any, parts: Sequence[str]) -> Any:
    for part in parts:
        if isinstance(node, list):
            node = node[int(part)] if part.isdigit() and int(part) < len(node) else None
        else:
            node = node.get(part) if isinstance(node, dict) else None
    return node


def _placed(node: Any, pointer: str) -> Iterator[tuple[str, Any]]:
    pairs = node.items() if isinstance(node, dict) else enumerate(node) \
        if isinstance(node, list) else ()  # fmt: skip
    for key, value in pairs:
        yield f"{pointer}/{key}", value
        yield from _placed(value, f"{pointer}/{key}")


def _plain(node: Any) -> Any:
    if isinstance(node, _Typed):
        return node.value
    if isinstance(node, dict):
        plain = {k: _plain(v) for k, v in node.items()}
        return {k: v for k, v in plain.items() if v is not NOTHING}
    return [_plain(v) for v in node] if isinstance(node, list) else node


def _path(document: Document, pointer: str) -> Path:
    """A pointer with ids in place of numbers, as far as things have any."""
    out: list[str] = []
    node: Any = document
    for part in pointer.strip("/").split("/"):
        ids = _ids(node) if isinstance(node, list) else None
        named = ids is not None and part.isdigit() and int(part) < len(ids)
        out.append(ids[int(part)] if ids is not None and named else part)
        node = _at(node, [part])
    return tuple(out)


def pointer_of(document: Document, path: Path) -> str | None:
    """A path by ids as a pointer by numbers; None where the thing is gone."""
    out: list[str] = []
    node: Any = document
    for part in path:
        ids = _ids(node) if isinstance(node, list) else None
        if ids is not None:
            if part not in ids:
                return None
            part = str(ids.index(part))
        out.append(part)
        node = _at(node, [part])
    return "/" + "/".join(out)


def _ids(things: Sequence[Any]) -> list[str] | None:
    """What the things of a list go by; None where they go by nothing, or two by the same."""
    found = [_id(t) for t in things]
    ids = [i for i in found if i is not None]
    return ids if len(ids) == len(found) == len(set(ids)) else None


def _id(thing: Any) -> str | None:
    if not isinstance(thing, dict):
        return None
    if "ref" in thing and "role" in thing:
        return f"{thing['role']} {thing['ref']}"
    for key in ("id", "name"):
        if isinstance(thing.get(key), str):
            return str(thing[key])
    return None


def _said(
    was: frozenset[Path] | None, mine: frozenset[Path] | None, theirs: frozenset[Path] | None
) -> frozenset[Path] | None:
    if mine is None or theirs is None:
        return None
    was = was or frozenset()
    return (mine | theirs) - (was - mine) - (was - theirs)


# --- Node by node ---------------------------------------------------------------------------------


def _same(a: Any, b: Any) -> bool:
    """Alike in what they hold, whatever was typed for it."""
    return bool(_plain(a) == _plain(b))


def _keep_text(mine: Any, theirs: Any) -> Any:
    """Two fields of one value: with a text, if either has one."""
    return mine if isinstance(mine, _Typed) or not isinstance(theirs, _Typed) else theirs


@dataclass
class _Work:
    choices: Mapping[str, Side]
    derived: Callable[[Path], bool]
    clashes: list[Meeting] = field(default_factory=list)
    brought: list[Meeting] = field(default_factory=list)

    def node(self, sides: Three, path: Path) -> Any:
        """One place of the merged document; NOTHING where it holds none."""
        was, mine, theirs = sides
        if isinstance(mine, dict) and isinstance(theirs, dict) and _kind(mine) == _kind(theirs):
            same = isinstance(was, dict) and _kind(was) == _kind(mine)
            return self._fields((was if same else {}, mine, theirs), path)
        if isinstance(mine, list) and isinstance(theirs, list):
            lists = (was if isinstance(was, list) else [], mine, theirs)
            if all(_ids(v) is not None for v in lists) and any(lists):
                return self._things(lists, path)
        if _same(mine, theirs):
            return _keep_text(mine, theirs)
        if _same(theirs, was):
            return mine
        meeting = Meeting(path, _plain(was), _plain(mine), _plain(theirs))
        if _same(mine, was):
            self.brought.append(meeting)
            return theirs
        return self._chosen(meeting, mine, theirs)

    def _chosen(self, meeting: Meeting, mine: Any, theirs: Any) -> Any:
        if self.derived(meeting.path):
            return mine
        chosen = self.choices.get(meeting.where)
        if chosen is None:
            self.clashes.append(meeting)
        return theirs if chosen == "theirs" else mine

    def _fields(self, sides: Three, path: Path) -> Document:
        _, mine, theirs = sides
        return self._each(sides, [*dict.fromkeys([*mine, *theirs])], path)

    def _each(self, sides: Three, keys: Sequence[str], path: Path) -> Document:
        made = {}
        for key in keys:
            was, mine, theirs = (d.get(key, NOTHING) for d in sides)
            value = self.node((was, mine, theirs), (*path, key))
            if value is not NOTHING:
                made[key] = value
        return made

    def _things(self, lists: Three, path: Path) -> list[Any]:
        was, mine, theirs = (dict(zip(_ids(v) or [], v, strict=True)) for v in lists)
        order = _in_order([*was], [*mine], [*theirs])
        made = self._each((was, mine, theirs), order, path)
        if not made:  # each took out what the other kept: a bath holds something
            return list(theirs.values())
        return list(made.values())


def _kind(node: Document) -> Any:
    return node.get("kind")


def _in_order(was: list[str], mine: list[str], theirs: list[str]) -> list[str]:
    """Everything in any list, in theirs' order unless only mine was put into another."""

    def moved(other: list[str]) -> bool:
        kept = set(was) & set(other)
        return [k for k in was if k in kept] != [k for k in other if k in kept]

    first, second = (mine, theirs) if moved(mine) and not moved(theirs) else (theirs, mine)
    order = list(first)
    for other in (second, was):
        for n, key in enumerate(other):
            if key not in order:
                before = [k for k in other[:n] if k in order]
                order.insert(order.index(before[-1]) + 1 if before else 0, key)
    return order


# --- Two new things that took the same id ---------------------------------------------------------


def _renamed(was: Document, mine: Document, theirs: Document) -> Document:
    """Mine with other ids for what was added on both sides under one id and is not the same."""
    for key, things in mine.items():
        sides = [d.get(key) for d in (was, theirs)]
        if not isinstance(things, list) or not all(isinstance(v, list) for v in sides):
            continue
        old, other = ({_id(t): t for t in side or []} for side in sides)
        taken = {*old, *other, *(_id(t) for t in things)}
        for thing in things:
            name = thing.get("id") if isinstance(thing, dict) else None
            if name is None or name in old or name not in other or thing == other[name]:
                continue
            fresh = next(n for n in _names(name) if n not in taken)
            taken.add(fresh)
            mine = _called(mine, key, name, fresh)
    return mine


def _names(like: str) -> Iterator[str]:
    stem = like.rstrip("0123456789") or like
    n = 1
    while True:
        yield f"{stem}{n}"
        n += 1


def _called(document: Document, key: str, name: str, fresh: str) -> Document:
    """A document in which a thing, what stands in it and what names it go by another id."""

    def put(node: Any) -> Any:
        if isinstance(node, dict):
            return {k: put(v) for k, v in node.items()}
        if isinstance(node, list):
            return [put(v) for v in node]
        if isinstance(node, str) and (node == name or node.startswith(f"{name}.")):
            return fresh + node.removeprefix(name)
        return node

    made = dict(document)
    made[key] = [put(t) if t.get("id") == name else t for t in document[key]]
    if key == "pieces":  # a rod names the piece whose bore it runs through
        made["anodes"] = [
            {**a, "piece": fresh} if a.get("piece") == name else a for a in document["anodes"]
        ]
    return made
