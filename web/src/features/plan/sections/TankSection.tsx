import { useState } from "react";
import type { Plan, Schemas } from "@/shared/api/client";
import { Num } from "@/shared/ui/Num";
import { usePlan } from "../context";
import { Amount, Choice } from "../fields";
import { More, Row, Section } from "./Section";

type Mark = Schemas["Mark"];

export function TankSection() {
  const { doc, put, read } = usePlan();
  const kind = doc.tank?.shape?.kind ?? "bucket";
  const [jug, setJug] = useState(5);
  const marks: Mark[] = doc.tank?.marks ?? [];
  const s = "/tank/shape";
  const f = read?.answer?.figures;
  return (
    <Section id="tank" title="Tank" lead="Inside sizes; nominal sizes lie.">
      <Choice
        at={`${s}/kind`}
        label="Shape"
        options={[
          ["bucket", "Bucket or drum, standing"],
          ["box", "Box, crate, tub"],
          ["drum", "Drum, lying"],
        ]}
        onPick={(v) => put(s, { kind: v })}
      />
      <Row>
        {kind === "bucket" ? (
          <>
            <Amount at={`${s}/floor_diameter_m`} label="Across the floor" />
            <Amount at={`${s}/rim_diameter_m`} label="Across the rim" />
          </>
        ) : kind === "drum" ? (
          <>
            <Amount at={`${s}/length_m`} label="Length inside" />
            <Amount at={`${s}/diameter_m`} label="Diameter inside" />
          </>
        ) : (
          <>
            <Amount at={`${s}/length_m`} label="Length at the floor" />
            <Amount at={`${s}/width_m`} label="Width at the floor" />
          </>
        )}
        <Amount
          at={`${s}/height_m`}
          label={kind === "drum" ? "Cut open at a height of" : "Height inside"}
        />
      </Row>
      {f?.["tank.water"] && f["tank.level"] && f["tank.freeboard"] && (
        <p>
          <Num f={f["tank.water"]} className="text-xl" /> of water; it stands{" "}
          <Num f={f["tank.level"]} className="text-xl" /> high with everything in, and leaves{" "}
          <Num f={f["tank.freeboard"]} className="text-xl" /> up to the rim.
        </p>
      )}
      <More title="Taper, holes, jug marks, my own amount of water">
        {kind === "box" && (
          <Row>
            <Amount at={`${s}/top_length_m`} label="Length at the rim" placeholder="same" />
            <Amount at={`${s}/top_width_m`} label="Width at the rim" placeholder="same" />
          </Row>
        )}
        <Row>
          <Amount at="/tank/hole_height_m" label="Lowest hole above floor" placeholder="no hole" />
          <Amount at="/tank/water_m3" label="Water put in" placeholder="as the plan says" />
        </Row>
        <Choice
          at="/tank/material"
          label="Made of"
          options={[
            ["plastic", "Plastic, does not conduct"],
            ["metal", "Metal"],
          ]}
        />
        <div className="space-y-2">
          <div className="text-sm font-semibold">Marks found with a jug</div>
          <p className="text-xs text-ink-2">
            Pour one jug after another, draw a line at each level and type how high it stands. Two
            or more marks replace the sizes when volume is worked out.
          </p>
          {marks.map((m, k) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: marks are known by their place
            <div key={k} className="grid grid-cols-[1fr_1fr_auto] items-start gap-2">
              <Amount at={`/tank/marks/${k}/height_m`} label={`Mark ${k + 1}: height`} />
              <Amount at={`/tank/marks/${k}/volume_m3`} label="holds" />
              <button
                type="button"
                className="btn btn-small mt-6"
                onClick={() =>
                  put(
                    "/tank/marks",
                    marks.filter((x) => x !== m),
                  )
                }
              >
                Remove
              </button>
            </div>
          ))}
          <div className="flex flex-wrap items-center gap-2">
            <button
              type="button"
              className="btn btn-small"
              onClick={() => put("/tank/marks", [...marks, nextMark(doc, jug)])}
            >
              One more jug in: add its mark
            </button>
            <label className="text-sm">
              My jug holds{" "}
              <select
                className="field !min-h-8 !w-auto"
                value={jug}
                onChange={(e) => setJug(Number(e.target.value))}
              >
                {JUGS.map(([litres, name]) => (
                  <option key={litres} value={litres}>
                    {name}
                  </option>
                ))}
              </select>
            </label>
          </div>
        </div>
      </More>
    </Section>
  );
}

const JUGS: readonly (readonly [number, string])[] = [
  [1, "1 L"],
  [2, "2 L"],
  [5, "5 L"],
  [10, "10 L"],
  [3.785, "1 US gal"],
  [4.546, "1 imp. gal"],
];

/** The next mark goes above the last, one jug on; its height is to be measured. */
function nextMark(doc: Plan, jug: number) {
  const last = doc.tank?.marks?.at(-1);
  return {
    height_m: (last?.height_m ?? 0) + 0.1,
    volume_m3: (last?.volume_m3 ?? 0) + jug / 1000,
  };
}
