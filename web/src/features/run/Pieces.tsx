import { useState } from "react";
import { Link } from "react-router";
import type { Detail, RunOut, Schemas } from "@/shared/api/client";
import { pageOf } from "@/shared/pages";
import { clockTime } from "@/shared/time";
import { word } from "@/shared/words";
import { Finish } from "./Finish";
import { Lifted } from "./Lifted";
import { SimplePanel } from "./Panels";
import type { Enter } from "./useRun";

type Piece = Schemas["PieceAloneOut"];
type Props = { run: RunOut; enter: Enter; now: Date };

const OUT = ["lifted", "clean", "finishing"];
const BEFORE = ["planned", "ready", "closed", "abandoned"];

/** Whether hands are wanted at a piece that lies out by itself. */
export const someApart = (run: RunOut) => run.pieces.some((p) => p.allowed.length > 0);

/** Each of several pieces by itself: taken out, looked at, finished and booked in its own time. */
export function Pieces({ run, enter, now }: Props) {
  if (run.pieces.length < 2 || BEFORE.includes(run.state)) return null;
  return (
    <section className="sheet space-y-1" aria-label={word("alone.title")} data-pieces>
      <h2 className="text-xl">{word("alone.title")}</h2>
      <ul>
        {run.pieces.map((p) => (
          <OnePiece key={p.id} piece={p} run={run} enter={enter} now={now} />
        ))}
      </ul>
    </section>
  );
}

function OnePiece({ piece, run, enter, now }: Props & { piece: Piece }) {
  const [asks, setAsks] = useState(false);
  const since = piece.since && piece.state !== "closed" && clockTime(new Date(piece.since), now);
  return (
    <li className="space-y-2 border-t border-hair py-2" data-piece={piece.id}>
      <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
        <h3 className="text-lg">{piece.name}</h3>
        <span className="text-sm" data-state={piece.state}>
          {word(
            `alone.state.${piece.state === "in" && OUT.includes(run.state) ? "out" : piece.state}`,
          )}
          {since && `, ${since}`}
        </span>
        {run.stretches > 0 && piece.state !== "closed" && (
          <span className="sign ml-auto text-base">
            {word("alone.clean", { percent: Math.round(piece.share_clean * 100) })}
            {piece.left_text && `, ${word("alone.left", { left: piece.left_text })}`}
          </span>
        )}
      </div>
      {piece.state === "closed" && (
        <Link className="underline" to={pageOf(run.id, piece.id)}>
          {word("alone.open_page")}
        </Link>
      )}
      <Own piece={piece} run={run} enter={enter} now={now} />
      {asks ? (
        <SimplePanel
          run={run}
          enter={enter}
          done={() => setAsks(false)}
          title={`${piece.name}: ${word("alone.lift").toLowerCase()}`}
          text={word("alone.lift_why")}
          detail={{ kind: "lift", piece: piece.id }}
          button={word("alone.lift_done", { name: piece.name })}
        />
      ) : (
        <Ways piece={piece} run={run} enter={enter} ask={() => setAsks(true)} />
      )}
    </li>
  );
}

/** What can be done with it as it stands, one press each. */
function Ways({
  piece,
  run,
  enter,
  ask,
}: {
  piece: Piece;
  run: RunOut;
  enter: Enter;
  ask: () => void;
}) {
  const { name, id, state } = piece;
  const inside = run.pieces.filter((p) => p.state === "in").length;
  const others = inside > 1;
  const out = OUT.includes(run.state);
  const ways: [string, () => void][] = [];
  const put = (key: string, detail: Detail) =>
    ways.push([word(key, { name }), () => void enter(detail)]);
  if (state === "in" && others && (run.state === "running" || run.state === "paused"))
    ways.push([word("alone.lift"), ask]);
  if (state === "in" && others && run.state === "lifted")
    put("alone.keep_out", { kind: "lift", piece: id });
  if (state === "in" && others && out) put("alone.only_back", { kind: "back_in", piece: id });
  if (piece.allowed.includes("finish_start"))
    put("alone.finish", { kind: "finish_start", piece: id });
  if (piece.allowed.includes("back_in") && state !== "lifted")
    put(out ? "alone.only_back" : "alone.back_in", { kind: "back_in", piece: id });
  if (!ways.length) return null;
  return (
    <div className="flex flex-wrap gap-2">
      {ways.map(([label, press]) => (
        <button key={label} type="button" className="btn min-h-12 px-5" onClick={press}>
          {label}
        </button>
      ))}
    </div>
  );
}

/** The look and the finish of one that lies out: as the whole bath's, of this piece alone. */
function Own({ piece, run, enter, now }: Props & { piece: Piece }) {
  const mine: RunOut = {
    ...run,
    id: `${run.id}.${piece.id}`,
    state: piece.state,
    regions: piece.regions,
    steps: piece.steps,
    finish: piece.finish,
    share_clean: piece.share_clean,
    nothing_gained: piece.nothing_gained,
    delicate: piece.delicate,
    actions: run.actions.filter((a) => a.piece === piece.id),
    log: run.log.filter((l) => (l.detail.piece ?? "") === piece.id || !l.detail.piece),
  };
  const own: Enter = (detail, at) => enter({ ...detail, piece: piece.id } as Detail, at);
  if (piece.state === "lifted") return <Lifted run={mine} enter={own} />;
  if (piece.state === "finishing") return <Finish run={mine} enter={own} now={now} alone />;
  return null;
}
