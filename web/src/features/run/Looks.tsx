import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { api, ask, type RunOut, type Schemas } from "@/shared/api/client";
import { decode, type Facets, unpack } from "@/shared/scene/facets";
import { fill, flatten, type Side } from "@/shared/scene/flat";
import { word } from "@/shared/words";

const SIDES: readonly Side[] = ["front", "back", "left", "end", "above", "below"];

/** The piece from six sides by each spot's chance of being clean: now, and as the hours go on. */
export function Looks({ run }: { run: RunOut }) {
  const [open, setOpen] = useState(false);
  const looks = useQuery({
    // what was entered or the quarter of an hour that has passed may have changed it
    queryKey: ["runs", run.id, "looks", run.log.length, Math.floor(Date.parse(run.now) / 900_000)],
    enabled: open,
    queryFn: () =>
      ask(api.GET("/api/runs/{run_id}/looks", { params: { path: { run_id: run.id } } })),
  });
  const [step, setStep] = useState(0);
  const found = looks.data;
  const facets = useMemo(() => (found ? decode(found.shown) : null), [found]);
  const frame = found?.frames[step];
  const drawn = useMemo(
    () => facets && frame && { ...facets, values: unpack(frame) },
    [facets, frame],
  );
  const hours = found?.hours[step] ?? 0;
  return (
    <details
      className="sheet"
      data-looks
      onToggle={(e) => setOpen((e.target as HTMLDetailsElement).open)}
    >
      <summary className="min-h-11 cursor-pointer text-xl font-semibold">
        {word("map.clean")}
      </summary>
      {found === null && <p className="text-sm">{word("looks.none")}</p>}
      {drawn && found && (
        <>
          <label className="flex items-center gap-3">
            <span className="sign w-24 shrink-0 text-lg">
              {step === 0
                ? word("looks.now")
                : word("looks.later", { hours: hours < 10 ? hours.toFixed(1) : Math.round(hours) })}
            </span>
            <input
              type="range"
              className="h-11 w-full accent-[var(--liquid-deep)]"
              min={0}
              max={found.frames.length - 1}
              value={step}
              aria-label={word("map.clean")}
              aria-valuetext={word("looks.later", { hours: hours.toFixed(1) })}
              onChange={(e) => setStep(Number(e.target.value))}
            />
          </label>
          <div className="grid grid-cols-3 gap-2">
            {SIDES.map((side) => (
              <Silhouette key={side} side={side} facets={drawn} />
            ))}
          </div>
          <p className="mt-1 text-xs text-ink-2">{word("looks.legend")}</p>
          {found.places.length > 0 && <Places places={found.places} />}
        </>
      )}
    </details>
  );
}

/** The same in figures, region by region: by now, and what each still wants as it hangs. */
function Places({ places }: { places: Schemas["RegionLeftOut"][] }) {
  return (
    <table className="mt-2 w-full text-sm" aria-label={word("looks.places")}>
      <thead>
        <tr className="text-left text-xs text-ink-2">
          <th className="font-normal">{word("looks.place")}</th>
          <th className="text-right font-normal">{word("looks.clean")}</th>
          <th className="text-right font-normal">{word("looks.left")}</th>
        </tr>
      </thead>
      <tbody>
        {places.map((p) => (
          <tr key={p.id} className="border-t border-hair" data-place={p.id}>
            <td className="py-1">{p.name}</td>
            <td className="sign text-right text-base">{p.percent} %</td>
            <td className="sign text-right text-base">{p.hours}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Silhouette({ side, facets }: { side: Side; facets: Facets }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const flat = useMemo(() => flatten(facets, side), [facets, side]);
  const mean = facets.values.length
    ? Math.round(facets.values.reduce((a, b) => a + b, 0) / facets.values.length)
    : 0;
  useEffect(() => {
    const c = canvas.current?.getContext("2d");
    if (!canvas.current || !c) return;
    const [w, h] = [canvas.current.clientWidth, canvas.current.clientHeight];
    const ratio = window.devicePixelRatio || 1;
    canvas.current.width = w * ratio;
    canvas.current.height = h * ratio;
    c.scale(ratio, ratio);
    const us = flat.points.filter((_, k) => k % 2 === 0);
    const vs = flat.points.filter((_, k) => k % 2 === 1);
    const [u0, u1] = [min(us), max(us)];
    const [v0, v1] = [min(vs), max(vs)];
    const k = Math.min((w - 8) / Math.max(u1 - u0, 1e-6), (h - 8) / Math.max(v1 - v0, 1e-6));
    fill(c, flat, facets, 100, (u, v) => [
      w / 2 + (u - (u0 + u1) / 2) * k,
      h / 2 - (v - (v0 + v1) / 2) * k,
    ]);
  }, [flat, facets]);
  return (
    <figure className="m-0 border border-hair">
      <canvas
        ref={canvas}
        className="block h-24 w-full"
        role="img"
        aria-label={word("looks.side", { side: word(`looks.from.${side}`), percent: mean })}
      />
      <figcaption className="sign bg-sheet text-center text-sm text-ink-2">
        {word(`looks.from.${side}`)}
      </figcaption>
    </figure>
  );
}

const min = (row: Float32Array) => row.reduce((a, b) => Math.min(a, b), Number.POSITIVE_INFINITY);
const max = (row: Float32Array) => row.reduce((a, b) => Math.max(a, b), Number.NEGATIVE_INFINITY);
