import {
  type KeyboardEvent,
  type PointerEvent,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
} from "react";
import { Anode } from "@/shared/scene/drawn";
import { type Flat, flatten, type Picture, picture, projected } from "@/shared/scene/flat";
import { type Paper, paper, wallPath } from "@/shared/scene/paper";
import { type Point, ruled } from "@/shared/scene/shape";
import { word } from "@/shared/words";
import { useHand } from "./hand";
import { fromEdges } from "./model";
import { type Grip, type Guide, sameGrip } from "./moves";
import { useNudge } from "./nudge";
import { Box, Dims, GuideLine, Tide, TurnKnob, Under } from "./parts";
import type { OrthoProps } from "./props";

const FIXED = new Set(["ring", "bore"]);
const STILL = 3; // px within which a press only picks
const PULL = 7; // px from which a line pulls

export function Ortho(props: OrthoProps) {
  const { side, scene, facets, shift, top } = props;
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const flat = useRef<Flat | null>(null);
  const filled = useRef<Picture | null>(null);
  const [size, setSize] = useState<Point>([0, 0]);
  useLayoutEffect(() => {
    const box = frame.current;
    if (!box) return;
    const measure = () => setSize([box.clientWidth, box.clientHeight]);
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(box);
    return () => watch.disconnect();
  }, []);
  const p = paper(scene, side, ...size);
  const { x, y, z } = shift;
  const [du, dv] = side === "above" ? [x, y] : [side === "front" ? x : y, z];
  const { w, h, k } = p;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the paper is its size and its scale
  useEffect(() => {
    const c = canvas.current?.getContext("2d");
    if (!canvas.current || !c || document.documentElement.dataset.rendering === "paused") return;
    const ratio = window.devicePixelRatio || 1;
    const [wide, high] = [Math.round(w * ratio), Math.round(h * ratio)];
    if (canvas.current.width !== wide) canvas.current.width = wide;
    if (canvas.current.height !== high) canvas.current.height = high;
    c.clearRect(0, 0, wide, high);
    if (!facets || !w) return;
    if (flat.current?.mesh !== facets.mesh || flat.current.side !== side)
      flat.current = flatten(facets, side);
    filled.current = picture(flat.current, facets, top, k * ratio, filled.current);
    const [px, py] = projected(side, ...facets.place, 0);
    const [u, v] = filled.current.corner;
    const at = [p.x(u + px + du), p.y(v + py + dv)].map((x) => Math.round(x * ratio));
    c.drawImage(filled.current.canvas, at[0] as number, at[1] as number);
  }, [facets, top, side, du, dv, w, h, k]);
  return (
    <figure className="m-0 flex min-h-0 min-w-0 flex-col">
      <div ref={frame} className="relative min-h-0 flex-1 touch-pan-y overflow-hidden bg-sheet">
        {size[0] > 0 && <Under {...props} p={p} />}
        <canvas ref={canvas} className="pointer-events-none absolute inset-0 h-full w-full" />
        {size[0] > 0 && <Over {...props} p={p} />}
      </div>
      <figcaption
        className={`sign bg-sheet pb-1 text-sm text-ink-2 ${side === "above" ? "text-center" : "pl-2"}`}
      >
        {word(`view.${side}`)}
      </figcaption>
    </figure>
  );
}

function Over(props: OrthoProps & { p: Paper }) {
  const { side, scene, p, selected, select, system } = props;
  const svg = useRef<SVGSVGElement>(null);
  const hand = useHand();
  const nudge = useNudge(scene, select);
  const [guides, setGuides] = useState<Guide[]>([]);
  const held = useRef<{
    grip: Grip;
    off: Point;
    turning: boolean;
    at: Point;
    moved: boolean;
  } | null>(null);

  const box0 = useRef<DOMRect | null>(null); // asked for once a drag: it makes the browser lay out
  const at = (e: PointerEvent): Point => {
    box0.current ??= (svg.current as SVGSVGElement).getBoundingClientRect();
    const box = box0.current;
    return [(e.clientX - box.left - p.x(0)) / p.k, -(e.clientY - box.top - p.y(0)) / p.k];
  };
  const middle = (grip: Grip): Point => {
    if (grip.kind === "tide") return [0, scene.level_m];
    const list: readonly { id: string; x_m: number; y_m: number; bottom_m?: number }[] =
      grip.kind === "anode" ? scene.rods : scene.pieces;
    const it = list.find((x) => x.id === grip.id);
    if (!it) return [0, 0];
    if (side === "above") return [it.x_m, it.y_m];
    return [side === "front" ? it.x_m : it.y_m, it.bottom_m ?? 0];
  };
  const grab =
    (grip: Grip, turning = false) =>
    (e: PointerEvent<SVGGElement>) => {
      if (e.button > 0) return;
      e.stopPropagation();
      select(grip);
      if (grip.kind === "anode" && FIXED.has(scene.rods.find((r) => r.id === grip.id)?.kind ?? ""))
        return; // has one place only
      const [u, v] = at(e);
      const [mu, mv] = middle(grip);
      held.current = {
        grip,
        off: [u - mu, v - mv],
        turning,
        at: [e.clientX, e.clientY],
        moved: false,
      };
      e.currentTarget.setPointerCapture(e.pointerId);
      hand.grab(grip);
    };
  const drag = (e: PointerEvent) => {
    const h = held.current;
    if (!h) return;
    h.moved ||= Math.hypot(e.clientX - h.at[0], e.clientY - h.at[1]) > STILL;
    if (!h.moved) return;
    const [u, v] = at(e);
    const near = e.altKey ? 0 : PULL / p.k;
    const [a, b] = [u - h.off[0], v - h.off[1]];
    const { grip } = h;
    if (grip.kind === "tide") hand.pour(b, e.timeStamp);
    else if (h.turning) {
      const [mu, mv] = middle(grip);
      const deg = (Math.atan2(v - mv, u - mu) * 180) / Math.PI;
      hand.turn(grip.id, e.altKey ? deg : Math.round(deg / 15) * 15, e.timeStamp);
    } else if (side === "above") setGuides(hand.move(grip, [a, b], near, e.timeStamp));
    else {
      const it = [...scene.rods, ...scene.pieces].find((x) => x.id === grip.id);
      const spot: Point = side === "front" ? [a, it?.y_m ?? 0] : [it?.x_m ?? 0, a];
      setGuides(hand.move(grip, spot, near, e.timeStamp));
      if (grip.kind === "piece") hand.raise(grip.id, b, e.timeStamp);
    }
  };
  const drop = () => {
    if (!held.current) return;
    held.current = null;
    setGuides([]);
    hand.drop();
  };
  const gripProps = (grip: Grip, words: string) => ({
    tabIndex: 0,
    role: "button",
    "aria-label": words,
    "aria-pressed": sameGrip(selected, grip),
    "data-grip": "id" in grip ? grip.id : "tide",
    className: "cursor-grab touch-none outline-none [&:focus-visible>.ring]:opacity-100",
    onPointerDown: grab(grip),
    onPointerMove: drag,
    onPointerUp: drop,
    onPointerCancel: drop,
    onFocus: () => select(grip),
    onKeyDown: (e: KeyboardEvent) => nudge(e, grip, side),
  });
  const where = (x: number, y: number) => {
    const d = fromEdges(scene, x, y);
    return `${ruled(d.left, system)} from the left edge, ${ruled(d.front, system)} from the front edge`;
  };
  return (
    <svg ref={svg} className="absolute inset-0 h-full w-full" onPointerDown={() => select(null)}>
      <title>{word(`view.${side}`)}</title>
      <path
        d={wallPath(scene, side, p, scene.height_m)}
        fill="none"
        stroke="var(--line)"
        strokeWidth="2.5"
      />
      {side === "above" && (
        <path
          d={wallPath(scene, side, p, 0)}
          fill="none"
          stroke="var(--line)"
          strokeWidth="1"
          strokeDasharray="3 3"
          opacity="0.5"
        />
      )}
      {guides.map((g) => (
        <GuideLine key={g.axis} g={g} side={side} p={p} />
      ))}
      {scene.pieces.map((q, n) => {
        const grip: Grip = { kind: "piece", id: q.id };
        const on = sameGrip(selected, grip);
        const name = scene.pieces.length > 1 ? `Piece ${n + 1}` : "Piece";
        return (
          <g
            key={q.id}
            {...gripProps(
              grip,
              `${name}, ${where(q.x_m, q.y_m)}, lower edge ${ruled(q.bottom_m, system)} above the floor, turned ${Math.round(q.turn_deg)} degrees`,
            )}
          >
            <Box
              q={q}
              side={side}
              p={p}
              on={on}
              ink={props.alarm && on ? "var(--stop)" : "var(--ink)"}
            />
            {on && side === "above" && (
              <g onPointerDown={grab(grip, true)} className="cursor-alias">
                <TurnKnob q={q} p={p} />
              </g>
            )}
          </g>
        );
      })}
      {scene.rods.map((r, n) => {
        const grip: Grip = { kind: "anode", id: r.id };
        return (
          <g key={r.id} {...gripProps(grip, `+${n + 1}, scrap, ${where(r.x_m, r.y_m)}`)}>
            <Anode
              r={r}
              n={n + 1}
              scene={scene}
              side={side}
              p={p}
              on={sameGrip(selected, grip)}
              ink={props.alarm && sameGrip(selected, grip) ? "var(--stop)" : "var(--ink)"}
            />
          </g>
        );
      })}
      {side !== "above" && (
        <g
          {...gripProps(
            { kind: "tide" },
            `Water level, the liquid stands ${ruled(scene.level_m, system)} high`,
          )}
        >
          <Tide scene={scene} side={side} p={p} on={selected?.kind === "tide"} />
        </g>
      )}
      <Dims {...props} />
    </svg>
  );
}
