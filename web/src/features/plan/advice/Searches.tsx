import { type ReactNode, useEffect, useRef, useState } from "react";
import type { FigureOut, Schemas } from "@/shared/api/client";
import { useSearch } from "@/shared/api/search";
import { usePlan } from "@/shared/form/context";
import { putAt } from "@/shared/form/put";
import { Num } from "@/shared/ui/Num";
import { word } from "@/shared/words";
import type { Turn } from "../sheets/TakeAlong";

type Searching = ReturnType<typeof useSearch>;

/** Where the scrap would serve best: searched on the server, taken over by one press. */
export function PlaceForMe() {
  const { doc, replace } = usePlan();
  const search = useSearch("/api/plans/placement");
  useFresh(search);
  const found = search.line?.placed;
  return (
    <Search
      search={search}
      name="Place it for me"
      lead="Tries many places for this scrap, each solved, and keeps the one that cleans soonest, within the band and the supply."
    >
      {found && !found.better && (
        <p>
          It stands well as it is: the best of {found.solves} other layouts would not be a hundredth
          better.
        </p>
      )}
      {found?.better && (
        <>
          <Effects before={found.before} after={found.after} />
          <button
            type="button"
            className="btn btn-main"
            onClick={() =>
              replace(putAt(putAt(doc, "/anodes", found.anodes), "/layout/arrangement", "by_hand"))
            }
          >
            Use this layout
          </button>
          <p className="text-xs text-ink-2">Best of {found.solves} layouts solved.</p>
        </>
      )}
    </Search>
  );
}

function Effects({ before, after }: { before: Schemas["SideOut"]; after: Schemas["SideOut"] }) {
  const rows: [string, FigureOut | null | undefined, FigureOut | null | undefined][] = [
    ["Current", before.gives, after.gives],
    ["Slowest spots", before.p5, after.p5],
    ["Fastest spots", before.p95, after.p95],
  ];
  const kinds = [...new Set([...before.sides, ...after.sides].map((s) => s.kind))];
  return (
    <table className="w-full text-sm">
      <caption className="sr-only">What the new layout changes</caption>
      <thead>
        <tr className="text-right text-xs text-ink-2">
          <th scope="col">
            <span className="sr-only">What</span>
          </th>
          <th scope="col" className="font-normal">
            now
          </th>
          <th scope="col" className="font-normal">
            then
          </th>
        </tr>
      </thead>
      <tbody>
        {kinds.map((kind) => (
          <Row key={kind} name={word(kind === "main" ? "side.after" : `side.${kind}`)}>
            {sideText(before, kind)}
            {sideText(after, kind)}
          </Row>
        ))}
        {rows.map(
          ([name, a, b]) =>
            a &&
            b && (
              <Row key={name} name={name}>
                <Num f={a} />
                <Num f={b} className="text-lg" />
              </Row>
            ),
        )}
      </tbody>
    </table>
  );
}

function Row({ name, children }: { name: string; children: [ReactNode, ReactNode] }) {
  return (
    <tr className="border-t border-hair">
      <th scope="row" className="py-1 text-left font-normal">
        {name}
      </th>
      <td className="text-right">{children[0]}</td>
      <td className="text-right">{children[1]}</td>
    </tr>
  );
}

/** When one side of the surface is clean in a layout. */
function sideText(of: Schemas["SideOut"], kind: string): string {
  const side = of.sides.find((s) => s.kind === kind);
  return side ? (side.hours ?? word("side.not_here")) : word("side.as_soon");
}

/** Which poses for what shares of the time. */
export function TurnPlan({ tell }: { tell: (turns: Turn[]) => void }) {
  const { doc, replace } = usePlan();
  const search = useSearch("/api/plans/turns");
  useFresh(search);
  const found = search.line?.turns;
  useEffect(() => {
    tell(found?.poses.map((p) => ({ words: p.words, seconds: p.time.value_si })) ?? []);
  }, [found, tell]);
  const first = found?.poses[0];
  const turned = (doc.pieces ?? []).findIndex((p) => p.id === found?.piece_id);
  const planned = first?.words === "As planned";
  return (
    <Search
      search={search}
      name="Work out a turn plan"
      lead="Solves the bath in every pose that fits and shares the time out between them."
    >
      {found && found.poses.length === 1 && planned && (
        <p>
          Turning is not worth the hands here: no pose that fits, and no two or three of them, would
          save a twentieth of the <Num f={found.alone} />.
        </p>
      )}
      {found && (found.poses.length > 1 || !planned) && (
        <>
          <ol className="space-y-1">
            {found.poses.map((p, k) => (
              <li
                key={`${p.hang}${p.turn_deg}${p.tilt_deg}`}
                className="grid grid-cols-[1.5rem_3.5rem_1fr_auto] items-center border-t border-hair py-1"
              >
                <span className="sign text-lg">{k + 1}</span>
                <PoseMark pose={p} />
                <span>{p.words}</span>
                <Num f={p.time} className="text-lg" />
              </li>
            ))}
          </ol>
          <p className="text-sm">
            {(doc.pieces ?? []).length > 1 && `${found.piece} alone is turned. `}
            Together <Num f={found.time} /> instead of <Num f={found.alone} /> only as planned.
            {found.poses.length > 1 && " Turn with the power off."}
          </p>
          {!planned && first && turned >= 0 && (
            <button
              type="button"
              className="btn"
              onClick={() => {
                const { hang, turn_deg, tilt_deg } = first;
                replace(
                  Object.entries({ hang, turn_deg, tilt_deg }).reduce(
                    (d, [key, value]) => putAt(d, `/pieces/${turned}/${key}`, value),
                    doc,
                  ),
                );
              }}
            >
              Begin in pose 1
            </button>
          )}
        </>
      )}
      {found && found.unreached_percent >= 0.5 && (
        <p className="text-sm">
          {found.unreached_percent.toFixed(0)} % of the surface is reached in no pose. In a bore a
          rod through the middle on spacers would; elsewhere scrap of its own on that side.
        </p>
      )}
    </Search>
  );
}

type Advice = Schemas["ProposalOut"];

/** The changes that would help most, each solved; looked for by itself once the bath has rested. */
export function Changes({ rested }: { rested: boolean }) {
  const { doc, replace } = usePlan();
  const search = useSearch("/api/plans/changes");
  useFresh(search);
  const seen = useInSight();
  const { start } = search;
  const latest = useRef(doc);
  latest.current = doc;
  useEffect(() => {
    if (!rested || !seen.visible) return;
    const timer = setTimeout(() => void start(latest.current), 900);
    return () => clearTimeout(timer);
  }, [rested, seen.visible, start]);
  const { line, running, error } = search;
  const found = line?.changes;
  const apply = (a: Advice) =>
    replace(Object.entries(a.sets).reduce((d, [pointer, v]) => putAt(d, pointer, v), doc));
  return (
    <section ref={seen.ref} aria-label="What would help" className="min-w-0">
      <h2 className="text-2xl">What would help</h2>
      {error && (
        <p className="text-sm" role="status">
          {error.message}
        </p>
      )}
      {!found && !error && (
        <p className="text-sm text-ink-2" role="status">
          {running && line
            ? `Solving changes, ${line.done} of ${line.of} …`
            : "Suggestions appear when you stop moving things."}
        </p>
      )}
      {found && found.best.length === 0 && (
        <p>
          None of {found.others.length} changes that were solved would help enough to be worth it.
        </p>
      )}
      {found && found.best.length > 0 && (
        <ol>
          {found.best.map((a) => (
            <li
              key={a.id}
              data-advice={a.id}
              className="flex items-center gap-3 border-t border-hair py-2"
            >
              <p className="min-w-0 flex-1">
                <span className="block font-semibold">{a.words}</span>
                <span className="block text-sm" data-effect>
                  {a.effect}
                </span>
              </p>
              <button type="button" className="btn" onClick={() => apply(a)}>
                Do it
              </button>
            </li>
          ))}
        </ol>
      )}
      {found && found.others.length > 0 && (
        <details className="border-t border-hair pt-1 text-sm">
          <summary className="cursor-pointer font-semibold">
            Solved too, and not worth it ({found.others.length})
          </summary>
          <ul>
            {found.others.map((a) => (
              <li key={a.id} className="border-t border-hair py-1" data-other={a.id}>
                {a.words}: {a.why_not}. <span className="text-ink-2">{a.effect}.</span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}

/** Whether an element is on the screen. */
function useInSight() {
  const ref = useRef<HTMLElement>(null);
  const [visible, setVisible] = useState(false);
  useEffect(() => {
    const watch = new IntersectionObserver(([e]) => setVisible(Boolean(e?.isIntersecting)), {
      rootMargin: "200px",
    });
    if (ref.current) watch.observe(ref.current);
    return () => watch.disconnect();
  }, []);
  return { ref, visible };
}

/** One pose from above in its tank. */
function PoseMark({ pose }: { pose: Schemas["PoseOut"] }) {
  const { read } = usePlan();
  const scene = read?.answer?.scene;
  if (!scene) return null;
  const k = 40 / Math.max(scene.rim_x_m, scene.rim_y_m);
  const [w, h] = [scene.rim_x_m * k, scene.rim_y_m * k];
  return (
    <svg viewBox="0 0 48 48" className="h-12 w-12" aria-hidden="true">
      {scene.round ? (
        <circle
          cx={24}
          cy={24}
          r={w / 2}
          fill="var(--liquid)"
          stroke="var(--line)"
          strokeWidth="1.5"
        />
      ) : (
        <rect
          x={24 - w / 2}
          y={24 - h / 2}
          width={w}
          height={h}
          fill="var(--liquid)"
          stroke="var(--line)"
          strokeWidth="1.5"
        />
      )}
      <rect
        x={24 - (pose.foot_x_m * k) / 2}
        y={24 - Math.max(pose.foot_y_m * k, 2) / 2}
        width={pose.foot_x_m * k}
        height={Math.max(pose.foot_y_m * k, 2)}
        transform={`rotate(${-pose.turn_deg} 24 24)`}
        fill="var(--ink)"
      />
    </svg>
  );
}

/**
 * A finding belongs to the plan that it was made for: an edit puts it away. The plan as it was read
 * counts, since the draft is written out anew when its answer comes.
 */
function useFresh(search: Searching) {
  const { read } = usePlan();
  const { stop } = search;
  const d = read?.document;
  const made = JSON.stringify([d?.pieces, d?.tank, d?.mix, d?.anodes, d?.layout, d?.supply]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was made is the reason to stop
  useEffect(() => stop(), [made, stop]);
}

function Search({
  search,
  name,
  lead,
  children,
}: {
  search: Searching;
  name: string;
  lead: string;
  children: ReactNode;
}) {
  const { doc } = usePlan();
  const { line, running, error } = search;
  return (
    <div className="space-y-2">
      <div className="flex flex-wrap items-center gap-3">
        <button
          type="button"
          className="btn btn-small"
          disabled={running}
          onClick={() => void search.start(doc)}
        >
          {name}
        </button>
        {running && (
          <button type="button" className="btn btn-small" onClick={search.stop}>
            Stop
          </button>
        )}
        <p className="min-w-48 flex-1 text-xs text-ink-2">{lead}</p>
      </div>
      {running && (
        <div role="status" className="space-y-1 text-sm">
          <progress className="h-3 w-full" value={line?.done ?? 0} max={line?.of ?? 1} />
          <p>
            {line
              ? `${line.done} of at most ${line.of} solved`
              : "Putting tank, piece and scrap together …"}
          </p>
        </div>
      )}
      {error && (
        <p role="alert" className="border-l-4 border-stop pl-3 text-sm">
          {error.message}
        </p>
      )}
      {!running && children}
    </div>
  );
}
