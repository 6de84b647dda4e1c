import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import test from "node:test";
import { hear } from "@/shared/hear";

const { cases } = JSON.parse(readFileSync("../tests/core/heard.json", "utf-8")) as {
  cases: { text: string; unit: string; value: number | null }[];
};

test("a figure off a meter is read as the core reads it", () => {
  for (const { text, unit, value } of cases) {
    const found = hear(text, unit)?.value ?? null;
    if (value === null || found === null) assert.equal(found, value, text);
    else assert.ok(Math.abs(found - value) < 1e-9, `${text}: ${found}`);
  }
});
