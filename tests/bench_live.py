"""The live figures by a real browser: from a pointer event to the map's colours written.

A rod is dragged in a box tank at sixty moves a second, linear model, loopback; rendering paused,
then on (software rendering where there is no graphics card). Also page memory over many drags, and
what the plan page loads. ``python -m tests.bench_live``.
"""

from __future__ import annotations

import gzip
import statistics
import sys
import tempfile
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, sync_playwright

from tests.browser.pages import chromium
from tests.server import Server
from tests.shops import QUIET

GL = ("--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader")
# without a graphics card the page is put together by the processor that also solves
PLAIN = "--disable-gpu-compositing"
BOX: dict[str, Any] = {
    **QUIET,
    "tank": {"shape": {"kind": "box"}},
    "layout": {"arrangement": "by_hand"},
    "anodes": [{"id": "a1", "x_m": 0.0, "y_m": -0.12}, {"id": "a2", "x_m": 0.0, "y_m": 0.12}],
}
TUBE = {"shape": {"kind": "tube"}}
PIECES: dict[str, dict[str, Any]] = {
    "plate dragged in a bucket": dict(QUIET),
    "tube dragged in a box": {**BOX, "pieces": [TUBE]},
    "tube dragged in a bucket": {**QUIET, "pieces": [TUBE]},
    "wheel dragged in a box": {**BOX, "pieces": [{"shape": {"kind": "wheel"}}]},
}
MEASURED = """performance.getEntriesByName('yb.live').map(
  e => [e.duration, e.detail.waited, e.detail.answered])"""
# when things to take hold of, and the fields, are first in the page
STANDS = """globalThis.stands = {};
new MutationObserver(() => {
  for (const [name, at] of [["grips", "#stage [data-grip]"], ["fields", "#piece"]])
    if (!stands[name] && document.querySelector(at)) stands[name] = Math.round(performance.now());
}).observe(document, {childList: true, subtree: true});"""
HEAP = "(globalThis.gc?.(), performance.memory.usedJSHeapSize / 1e6)"


# the hand's moves are made in the page, sixty a second: a driver outside cannot keep that pace here
MOVES = """async ([grip, x, y, moves]) => {
  const held = document.querySelector(`[data-grip=${grip}]`);
  for (let k = 0; k < moves; k++) {
    const at = [x + 60 * Math.abs((k % 80) / 40 - 1) - 60, y - 8 * Math.abs((k % 60) / 30 - 1)];
    held.dispatchEvent(new PointerEvent("pointermove",
      {pointerId: 1, bubbles: true, buttons: 1, clientX: at[0], clientY: at[1]}));
    await new Promise((done) => setTimeout(done, 16));
  }
}"""


def drag(page: Page, grip: str, moves: int, rendering: str = "on") -> None:
    """Take something with the mouse, move it to and fro at sixty moves a second, let go.

    ``paused`` leaves out painting between pressing and letting go: the page would not be found by
    the mouse else.
    """
    box = page.locator(f"[data-grip={grip}]").first.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.evaluate(f"document.documentElement.dataset.rendering = '{rendering}'")
    if rendering == "paused":
        page.wait_for_timeout(500)  # the page is laid out anew by the pausing itself
        page.evaluate("performance.clearMeasures('yb.live')")
    page.evaluate(MOVES, [grip, x, y, moves])
    page.evaluate("document.documentElement.dataset.rendering = 'on'")
    page.mouse.up()


def told(name: str, entries: list[list[float]]) -> None:
    """Median and 95th percentile of the whole, and of its two parts: the wait for the answer under
    way, and the answer's own way there and back."""
    for what, taken in zip(
        (name, "  of it waiting", "  of it answering"), zip(*entries, strict=True), strict=True
    ):
        ranked = sorted(taken)
        p95 = ranked[int(0.95 * (len(ranked) - 1))]
        middle = statistics.median(ranked)
        print(f"{what:46} median {middle:6.1f} ms   p95 {p95:6.1f} ms   n {len(ranked)}")


def measured(page: Page, what: str, grip: str, rendering: str, moves: int = 400) -> None:
    page.evaluate("performance.clearMeasures('yb.live')")
    drag(page, grip, moves, rendering)
    page.wait_for_timeout(400)
    told(f"{what}, rendering {rendering}", page.evaluate(MEASURED))
    page.wait_for_selector("[data-live=fine]")


def loaded(web: Path) -> None:
    """Compressed script that the page needs before its 3-D part."""
    sizes = {p.name: len(gzip.compress(p.read_bytes())) / 1e3 for p in web.glob("assets/*.js")}
    for name, size in sorted(sizes.items()):
        print(f"script {name:39} {size:8.1f} kB compressed")


# taken, moved three times and let go, over and over, by the page itself
DRAGS = """async ([grip, times]) => {
  Element.prototype.setPointerCapture = () => {};
  const rest = (ms) => new Promise((done) => setTimeout(done, ms));
  for (let k = 0; k < times; k++) {
    const held = document.querySelector(`[data-grip=${grip}]`);
    const box = held.getBoundingClientRect();
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    const tell = (kind, dx) => held.dispatchEvent(new PointerEvent(kind,
      {pointerId: 1, bubbles: true, button: 0, clientX: x + dx, clientY: y}));
    tell("pointerdown", 0);
    for (let m = 1; m < 4; m++) { tell("pointermove", (k % 2 ? -6 : 6) * m); await rest(16); }
    tell("pointerup", 0);
    await rest(60);
  }
}"""


def memory(page: Page) -> None:
    """Heap in use before and after five hundred drags, painting left out; some minutes."""
    before, after = page.evaluate(HEAP), []
    for _ in range(5):
        page.evaluate("document.documentElement.dataset.rendering = 'paused'")
        page.evaluate(DRAGS, ["a1", 100])
        page.evaluate("document.documentElement.dataset.rendering = 'on'")
        page.wait_for_selector("[data-live=fine]", timeout=60_000)
        page.wait_for_timeout(2000)
        after.append(page.evaluate(HEAP))
    told = "  ".join(f"{a:.1f}" for a in after)
    print(f"page memory before, and after each 100 drags  {before:.1f}  {told} MB", flush=True)


def main() -> None:
    loaded(Path(__file__).parents[1] / "yellowbath" / "web_dist")
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server(Path(folder)).start()
        browser = playwright.chromium.launch(
            executable_path=chromium(),
            args=[*GL, PLAIN, "--js-flags=--expose-gc", "--enable-precise-memory-info"],
        )
        try:
            plan = server.post("/plans", {"document": BOX})["id"]
            page = browser.new_page(viewport={"width": 1280, "height": 800}, locale="en-GB")
            page.goto(f"{server.base}/plans/{plan}")
            page.wait_for_selector("[data-live=fine]", timeout=120_000)
            for rendering in ("paused", "on"):
                page.locator("#stage").hover()
                page.wait_for_timeout(2000)
                measured(page, "rod dragged in a box", "a1", rendering)
            measured(page, "plate dragged in a box", "p1", "paused", 200)
            for what, document in PIECES.items():
                plan = server.post("/plans", {"document": document})["id"]
                page.goto(f"{server.base}/plans/{plan}")
                page.wait_for_selector("[data-live=fine]", timeout=120_000)
                page.locator("#stage").hover()
                page.wait_for_timeout(2000)
                measured(page, what, "p1", "paused", 200)
            cold = browser.new_page(viewport={"width": 1280, "height": 800}, locale="en-GB")
            cold.add_init_script(STANDS)
            cold.goto(f"{server.base}/plans/{plan}")
            cold.wait_for_selector("#piece")
            print("plan page from nothing, ms                    ", cold.evaluate("stands"))
            if "--memory" in sys.argv:
                memory(page)
        finally:
            browser.close()
            server.kill()


if __name__ == "__main__":
    main()
