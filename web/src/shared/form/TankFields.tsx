import { useState } from "react";
import type { Schemas, Tank } from "@/shared/api/client";
import { usePlan } from "@/shared/form/context";
import { Amount, Choice, Toggle } from "@/shared/form/fields";
import { More, Row } from "@/shared/form/layout";
import { options } from "@/shared/words";

type Mark = Schemas["Mark"];

/** What a tape and a jug tell of a tank; in a plan and in the kit alike. */
export function TankShapeFields() {
  const { doc, put } = usePlan();
  const kind = doc.tank?.shape?.kind ?? "bucket";
  const s = "/tank/shape";
  const alone = doc.pieces?.length === 1 && doc.pieces.every((p) => p.shape?.kind === "tube");
  // only a tube that is alone in its bath can hold the liquid itself
  const kinds = options("tank.kind").filter(([k]) => k !== "bore" || alone || kind === "bore");
  const pick = <Choice at={`${s}/kind`} options={kinds} onPick={(v) => put(s, { kind: v })} />;
  if (kind === "bore") return pick;
  return (
    <>
      {pick}
      <Row>
        {kind === "bucket" ? (
          <>
            <Amount at={`${s}/floor_diameter_m`} />
            <Amount at={`${s}/rim_diameter_m`} />
          </>
        ) : kind === "drum" ? (
          <>
            <Amount at={`${s}/length_m`} />
            <Amount at={`${s}/diameter_m`} />
          </>
        ) : (
          <>
            <Amount at={`${s}/length_m`} />
            <Amount at={`${s}/width_m`} />
          </>
        )}
        <Amount at={`${s}/height_m`} />
      </Row>
    </>
  );
}

/** Taper, holes, marks, what it is made of, and the bar across its rim. */
export function MoreOfTank({ title, children }: { title: string; children?: React.ReactNode }) {
  const { doc } = usePlan();
  const kind = doc.tank?.shape?.kind ?? "bucket";
  const s = "/tank/shape";
  return (
    <More title={title}>
      {kind === "box" && (
        <Row>
          <Amount at={`${s}/top_length_m`} />
          <Amount at={`${s}/top_width_m`} />
        </Row>
      )}
      <Row>
        {kind !== "bore" && <Amount at="/tank/hole_height_m" />}
        {children}
        <Amount at="/tank/limit_c" />
      </Row>
      {kind !== "bore" && (
        <>
          <Choice at="/tank/material" />
          <Choice at="/tank/bar" />
          <Row>
            <Amount at="/tank/bar_m" />
          </Row>
          <Toggle at="/tank/bar_carries" />
          <JugMarks />
        </>
      )}
    </More>
  );
}

function JugMarks() {
  const { doc, put } = usePlan();
  const [jug, setJug] = useState(5);
  const marks: Mark[] = doc.tank?.marks ?? [];
  return (
    <div className="space-y-2">
      <div className="text-sm font-semibold">Marks found with a jug</div>
      <p className="text-xs text-ink-2">
        Pour one jug after another, draw a line at each level and type how high it stands. Two or
        more marks replace the sizes when volume is worked out.
      </p>
      {marks.map((m, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: marks are known by their place
        <div key={k} className="grid grid-cols-[1fr_1fr_auto] items-start gap-2">
          <Amount at={`/tank/marks/${k}/height_m`} label={`Mark ${k + 1}: height`} />
          <Amount at={`/tank/marks/${k}/volume_m3`} />
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
          onClick={() => put("/tank/marks", [...marks, nextMark(doc.tank, jug)])}
        >
          One more jug in: add its mark
        </button>
        <label className="text-sm">
          My jug holds{" "}
          <select
            className="field min-h-8 !w-auto"
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
function nextMark(tank: Tank | undefined, jug: number) {
  const last = tank?.marks?.at(-1);
  return {
    height_m: (last?.height_m ?? 0) + 0.1,
    volume_m3: (last?.volume_m3 ?? 0) + jug / 1000,
  };
}
