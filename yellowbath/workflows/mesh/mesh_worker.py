"""Reading mesh files in a process of its own, so that none of them can hold up or hurt the shop.

A process is kept ready. One that takes too long, too much memory, or whose page has gone, is ended,
and another is made ready in its place.
"""

from __future__ import annotations

import json
import queue
import subprocess
import sys
import threading
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from yellowbath.core.errors import CaseError
from yellowbath.workflows.mesh.mesh_upload import MeshFile

MOST_S = 20.0  # from the file's arrival to its answer
AT_ONCE = 2
_START_S = 60.0  # a first start compiles


@dataclass(frozen=True)
class Doing:
    """What is being done with a file."""

    words: str


class _Child:
    """A process and what it says, line by line."""

    def __init__(self) -> None:
        self._process = subprocess.Popen(
            [sys.executable, "-m", "yellowbath.workflows.mesh.mesh_child"],
            stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL,
            start_new_session=True,
        )  # fmt: skip
        self.lines: queue.Queue[dict[str, Any] | None] = queue.Queue()
        threading.Thread(target=self._listen, daemon=True).start()

    def _listen(self) -> None:
        assert self._process.stdout
        for line in self._process.stdout:
            self.lines.put(json.loads(line))
        self.lines.put(None)

    def send(self, job: dict[str, Any], data: bytes) -> None:
        assert self._process.stdin
        try:
            self._process.stdin.write(json.dumps({**job, "size": len(data)}).encode() + b"\n")
            self._process.stdin.write(data)
            self._process.stdin.flush()
        except BrokenPipeError:
            pass  # the missing answer says it

    @property
    def alive(self) -> bool:
        return self._process.poll() is None

    def end(self) -> None:
        """End the process; nothing of it is needed."""
        self._process.kill()
        self._process.wait()
        for pipe in (self._process.stdin, self._process.stdout):
            if pipe:
                pipe.close()


class MeshWorker:
    """The processes of a shop; ``ready`` makes one beforehand, ``close`` ends them."""

    def __init__(self, most_s: float = MOST_S) -> None:
        self._most_s = most_s
        self._idle: list[_Child] = []
        self._lock = threading.Lock()
        self._places = threading.BoundedSemaphore(AT_ONCE)
        self._closed = False

    def ready(self) -> None:
        """Start a process, if none waits."""
        with self._lock:
            if not self._idle and not self._closed:
                self._idle.append(_Child())

    def close(self) -> None:
        """End every process that waits."""
        with self._lock:
            self._closed = True
            for child in self._idle:
                child.end()
            self._idle.clear()

    def read(self, name: str, data: bytes, unit: str) -> Iterator[Doing | MeshFile]:
        """What is being done, and last what was brought. Whoever stops asking ends it.

        Raises CaseError for what is wrong with the file, and for one that takes too long.
        """
        if not self._places.acquire(timeout=self._most_s):
            raise CaseError("Other mesh files are being read.", remedy="Try again in a moment.")
        child = self._taken()
        well = False
        try:
            child.send({"name": name, "unit": unit}, data)
            while True:
                line = self._line(child, name)
                if "doing" in line:
                    yield Doing(line["doing"])
                    continue
                well = True
                if "made" in line:
                    yield MeshFile.from_json(line["made"])
                    return
                raise CaseError(line["problem"], allowed=line["allowed"], remedy=line["remedy"])
        finally:
            self._done(child, well)

    def _line(self, child: _Child, name: str) -> dict[str, Any]:
        try:
            line = child.lines.get(timeout=self._most_s)
        except queue.Empty:
            raise CaseError(
                f"{name} takes longer than {self._most_s:.0f} s to read.",
                remedy="Simplify it, or export the one piece alone, joined to one body.",
            ) from None
        if line is None:
            raise CaseError(
                f"{name} is too much for the memory that reading it may take, or broke the reader.",
                remedy="Simplify it before the export.",
            )
        return line

    def _taken(self) -> _Child:
        with self._lock:
            waiting = [self._idle.pop()] if self._idle else []
        child = waiting[0] if waiting and waiting[0].alive else _Child()
        try:
            if child.lines.get(timeout=_START_S) is None:
                raise CaseError("Mesh files cannot be read now.", remedy="Try again in a moment.")
        except queue.Empty:
            child.end()
            raise CaseError("The reader did not start.", remedy="Try again in a moment.") from None
        return child

    def _done(self, child: _Child, well: bool) -> None:
        """Keep one that ended well, else another is made ready in its place."""
        keeps = False
        if well and child.alive:
            child.lines.put({"ready": True})
            with self._lock:
                keeps = not self._idle and not self._closed
                if keeps:
                    self._idle.append(child)
        if not keeps:
            child.end()
            self.ready()
        self._places.release()
