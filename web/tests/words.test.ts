import assert from "node:assert/strict";
import test from "node:test";
import "./browser";
import type { RunOut } from "@/shared/api/client";
import { lineWords, plain } from "@/shared/lineWords";
import { clockTime, localInput, spanText, untilText } from "@/shared/time";
import {
  capital,
  choicesOf,
  counted,
  fieldOf,
  fieldWord,
  options,
  said,
  small,
  takeWords,
  word,
} from "@/shared/words";
import { plan } from "./scene";

takeWords({
  "choice.piece.grade.light": "Light: rubs off",
  "choice.piece.grade.heavy": "Crust and pits",
  "said.piece.grade.light": "light rust",
  "field.any.x_m": "Right of the middle",
  "field.shape.length_m": "Length",
  "field.shape.wrench.length_m": "Length over all",
  "field.anode.floor_gap_m": "Gap to the floor",
  "field.anode.ring.floor_gap_m": "Height above the floor",
  "field.thing.lead.length_m": "Length, one way",
  "hint.any.contact_ohm": "Ohms, where measured",
  "count.stop.one": "stop",
  "count.stop.many": "stops",
  "kit.log.bath": "A bath: {charge}, {time}",
  "run.log.switch_on": "Switched on",
  "run.log.found_stopped": "Found off",
  "run.log.look": "Looked",
  "choice.run.change.scraped": "Scraped the scrap",
  "choice.run.sign.smoke": "Smoke",
  "said.run.bubbles.none": "no gas at all",
});

test("choices come in the order of the table, and are said in a sentence", () => {
  assert.deepEqual(options("piece.grade"), [
    ["light", "Light: rubs off"],
    ["heavy", "Crust and pits"],
  ]);
  assert.deepEqual(
    [said("piece.grade", "light"), said("piece.grade", "heavy")],
    ["light rust", "crust and pits"],
  );
  assert.deepEqual(choicesOf(plan(), "/pieces/0/grade"), options("piece.grade"));
});

test("slots are filled, numbers stand in singular or plural", () => {
  assert.equal(word("kit.log.bath", { charge: "3 Ah", time: "2 h" }), "A bath: 3 Ah, 2 h");
  assert.deepEqual([counted(1, "count.stop"), counted(0, "count.stop")], ["1 stop", "0 stops"]);
  assert.deepEqual([small("PDF"), small("Length"), capital("off")], ["PDF", "length", "Off"]);
});

test("a field is called by its place in the document, and by its kind where that differs", () => {
  const doc = { ...plan(), pieces: [{ shape: { kind: "wrench" } }] };
  assert.deepEqual(fieldOf(doc, "/pieces/0/shape/length_m"), ["shape", "wrench", "length_m"]);
  assert.equal(fieldWord("field", doc, "/pieces/0/shape/length_m"), "Length over all");
  assert.equal(fieldWord("field", plan(), "/pieces/0/shape/length_m"), "Length");
  assert.equal(fieldWord("field", plan(), "/anodes/*/floor_gap_m"), "Gap to the floor");
  const ring = { anodes: [{ kind: "ring" }] };
  assert.equal(fieldWord("field", ring, "/anodes/*/floor_gap_m"), "Height above the floor");
  assert.equal(fieldWord("field", plan(), "/pieces/0/x_m"), "Right of the middle");
  assert.equal(fieldWord("hint", plan(), "/anodes/1/contact_ohm"), "Ohms, where measured");
  assert.deepEqual(fieldOf(plan(), "/tank/marks/2/height_m"), ["mark", "", "height_m"]);
  assert.equal(fieldWord("field", { kind: "lead" }, "/length_m"), "Length, one way");
});

test("a log line reads as a person would say it", () => {
  const run = { steps: [{ id: "rinse", title: "Rinse" }], regions: [] } as unknown as RunOut;
  const said = (kind: string, detail: object) =>
    lineWords({ client_id: "x", at: "", kind, detail } as never, run);
  assert.equal(said("switch_on", {}), "Switched on");
  assert.equal(said("found_stopped", { cause: "tripped socket" }), "Found off: tripped socket");
  assert.equal(said("look", { bubbles: "none", signs: ["smoke"] }), "No gas at all; Smoke");
  assert.equal(said("look", { bubbles: null, signs: [] }), "Looked");
  assert.equal(said("finish_step", { step: "rinse", mark: "done" }), "Rinse: done");
  const read = { current_a: 0.1 + 0.2, tank_v: 11.25, supply_v: null, bath: "75 °F", bath_c: 23.9 };
  assert.equal(said("reading", read), "Read 0.3 A, 11.3 V at the tank, bath 75 °F");
  const change = { what: "scraped", before_a: 2.2, after_a: null, note: "crust" };
  assert.equal(said("change", change), "Scraped the scrap (2.2 → ? A): crust");
  // as it waits on this device: what was not typed is left out
  assert.equal(said("reading", { current_a: 2.5 }), "Read 2.5 A");
  assert.equal(said("change", { what: "scraped", note: "crust" }), "Scraped the scrap: crust");
  assert.equal(plain(null), "?");
});

test("spans and times are read at a glance", () => {
  assert.deepEqual([59, 3600, 5400, 172_800, 187_200].map(spanText), [
    "1 min",
    "1 h",
    "1 h 30 min",
    "2 d 0 h",
    "2 d 4 h",
  ]);
  const now = new Date("2026-03-01T18:00:00");
  const later = (minutes: number) => new Date(now.getTime() + minutes * 60_000);
  assert.deepEqual(
    [untilText(later(0.3), now), untilText(later(200), now)],
    ["now", "in 3 h 20 min"],
  );
  assert.equal(untilText(later(-12), now), "12 min ago");
  assert.match(clockTime(later(20), now), /^0?6:20 PM$|^18:20$/);
  assert.match(clockTime(later(60 * 30), now), /^\S+ /, "another day is named");
  assert.equal(localInput(now), "2026-03-01T18:00");
});
