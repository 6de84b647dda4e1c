"""Two people at one plan, in random order over random changes: nothing typed goes away unseen."""

from __future__ import annotations

import random
from collections.abc import Iterator
from typing import Any
from unittest.mock import patch

from tests.longer import of
from tests.shops import QUIET, ShopCase
from yellowbath.core.document.merge import pointer_of
from yellowbath.core.errors import StaleRevisionError
from yellowbath.core.plan.reading.entries import read_plan
from yellowbath.workflows.plans import plans
from yellowbath.workflows.plans.plans import Answered, SavedPlan, create_plan, get_plan, save_plan

Document = dict[str, Any]
MARK = "typed-"


def unworked(document: Document, *_: object, **__: object) -> Answered:
    """A plan read and not worked out: what is typed does not hang on what it comes to."""
    return Answered(read_plan(document), None, [])


class Editor:
    """Somebody's page: what it started from, and the draft on it."""

    def __init__(self, rng: random.Random, name: str) -> None:
        self.rng, self.name, self.typed = rng, name, 0
        self.base, self.was, self.doc = 0, {}, {}  # type: ignore[var-annotated]
        self.seen: set[str] = set()

    def open(self, saved: SavedPlan) -> None:
        self.base = saved.revision.number
        self.doc = self.was = saved.answered.read.plan.model_dump(mode="json")

    def word(self) -> str:
        self.typed += 1
        return f"{MARK}{self.name}{self.typed}"

    def change(self) -> None:
        """One change of any kind that a person makes."""
        doc = read_plan(self.doc).plan.model_dump(mode="json")
        rng, pieces, anodes = self.rng, doc["pieces"], doc["anodes"]
        match rng.randrange(9):
            case 0:
                rng.choice(pieces)["name"] = self.word()
            case 1:
                doc["notes"] = self.word()
            case 2:
                doc["name"] = self.word()
            case 3 if len(pieces) > 1:
                pieces.remove(rng.choice(pieces))
            case 4:
                free = next(f"p{k}" for k in range(1, 21)
                            if f"p{k}" not in {p["id"] for p in pieces})  # fmt: skip
                pieces.append({**rng.choice(pieces), "id": free, "name": self.word(),
                               "regions": [], "y_m": rng.uniform(-0.1, 0.1)})  # fmt: skip
            case 5:
                rng.shuffle(pieces)
            case 6:
                rng.choice(pieces)["shape"]["length_m"] = round(rng.uniform(0.05, 0.3), 6)
            case 7 if len(anodes) < 6:
                anodes.append({**anodes[-1], "id": f"a{len(anodes) + 1}",
                               "x_m": rng.uniform(-0.1, 0.1)})  # fmt: skip
            case _ if len(anodes) > 1:
                anodes.pop(rng.randrange(len(anodes)))
        self.doc = doc


def words_in(document: Document) -> set[str]:
    """Everything that was typed and stands in a document."""
    return {v for v in _texts(document) if isinstance(v, str) and v.startswith(MARK)}


def _texts(node: Any) -> Iterator[Any]:
    if isinstance(node, dict | list):
        for value in node.values() if isinstance(node, dict) else node:
            yield from _texts(value)
    else:
        yield node


def shown(document: Document, where: str) -> set[str]:
    """What is typed at or under a place that is shown to somebody."""
    pointer = pointer_of(document, tuple(where.split("/")))
    node: Any = document
    for part in (pointer or "/?").strip("/").split("/"):
        if isinstance(node, list):
            node = node[int(part)] if part.isdigit() and int(part) < len(node) else None
        else:
            node = node.get(part) if isinstance(node, dict) else None
    return words_in({"": node})


class TwoEditors(ShopCase):
    def test_nothing_typed_goes_away_unseen(self) -> None:
        with patch.object(plans, "answer_document", unworked):
            for seed in range(of(300, 25)):
                with self.subTest(seed=seed):
                    self.work(random.Random(seed))

    def work(self, rng: random.Random) -> None:
        start = {**QUIET, "layout": {"arrangement": "by_hand"},
                 "pieces": [{"id": f"p{k}", "name": f"{MARK}0{k}", "y_m": k / 50}
                            for k in range(1, 4)]}  # fmt: skip
        first = create_plan(self.shop, start)
        plan_id = first.revision.plan_id
        editors = [Editor(rng, "A"), Editor(rng, "B")]
        for e in editors:
            e.open(first)
        for _ in range(40):
            e = rng.choice(editors)
            if rng.random() < 0.7:
                e.change()
            else:
                self.save(plan_id, e, rng)
        for e in [*editors, editors[0]]:
            self.save(plan_id, e, rng)
        self.assertEqual(editors[0].doc, get_plan(self.shop, plan_id).revision.document)

    def save(self, plan_id: str, e: Editor, rng: random.Random) -> None:
        head = get_plan(self.shop, plan_id).revision
        told: set[str] = set()
        try:
            saved = save_plan(self.shop, plan_id, e.base, e.doc)
        except StaleRevisionError as stale:
            if stale.clashes:
                choices = {c["where"]: rng.choice(["mine", "theirs"]) for c in stale.clashes}
                saved = save_plan(self.shop, plan_id, e.base, e.doc, choices, stale.head)  # type: ignore[arg-type]
                for c in stale.clashes:
                    told |= shown(e.doc, c["where"]) | shown(head.document, c["where"])
            else:  # they do not go together: one or the other, both shown whole
                told = words_in(e.doc) | words_in(head.document)
                mine = rng.random() < 0.5
                saved = save_plan(self.shop, plan_id, stale.head,
                                  e.doc if mine else head.document)  # fmt: skip
        for both in saved.brought:
            told |= shown(e.doc, both.where)
        now = words_in(saved.revision.document)
        changed_by_hand = words_in(e.was) - words_in(e.doc)
        gone = (words_in(head.document) | words_in(e.doc)) - now - changed_by_hand - told
        self.assertEqual(gone, set(), f"{e.name} saved from {e.base} onto {head.number}")
        e.open(saved)
