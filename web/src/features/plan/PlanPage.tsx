import { useQuery } from "@tanstack/react-query";
import { Columns2, Redo2, Save, Undo2 } from "lucide-react";
import { useCallback, useMemo, useRef, useState } from "react";
import { useLocation, useParams } from "react-router";
import { type AnswerOut, api, ask, type Both, keys, type Plan, Refused } from "@/shared/api/client";
import { forgetDraft } from "@/shared/api/drafts";
import { stopSolving } from "@/shared/api/drag";
import { freshId } from "@/shared/api/outbox";
import { PlanContext, titleOf } from "@/shared/form/context";
import { Loading, Trouble } from "@/shared/ui/States";
import { Brought, Clashes, meetsOf } from "@/shared/ui/Together";
import { useLasting } from "@/shared/useLasting";
import { usePainted } from "@/shared/usePainted";
import { word } from "@/shared/words";
import { Changes, PlaceForMe, TurnPlan } from "./advice/Searches";
import { VariantStrip, Variants } from "./advice/Variants";
import { Dips } from "./answer/Dips";
import { Expect } from "./answer/Expect";
import { OneAnswer } from "./answer/OneAnswer";
import { Solving } from "./answer/Solving";
import { useField } from "./answer/useField";
import { Others } from "./draft/Others";
import { Revisions } from "./draft/Revisions";
import { Stale } from "./draft/Stale";
import { errorOf, isBusy } from "./draft/saving";
import { type Saved, usePlanDraft } from "./draft/usePlanDraft";
import { BEGIN, useSaving } from "./draft/useSaving";
import { useKeys, useLast } from "./hooks";
import { InBathBar } from "./InBathBar";
import { AirSection } from "./sections/AirSection";
import { CheckSection } from "./sections/CheckSection";
import { Dipstick } from "./sections/Dipstick";
import { MixSection } from "./sections/MixSection";
import { PieceSection } from "./sections/PieceSection";
import { PowerSection } from "./sections/PowerSection";
import { ScrapSection } from "./sections/ScrapSection";
import { TankSection } from "./sections/TankSection";
import { BenchCard } from "./sheets/BenchCard";
import { TakeAlong, type Turn } from "./sheets/TakeAlong";
import { Live, LiveContext } from "./stage/live";
import type { MapKind } from "./stage/map";
import { Stage } from "./stage/Stage";
import { UnitPicker } from "./UnitPicker";

/** Scrap that has other places to try. */
const PLACED = new Set(["rod", "plate", "floor"]);

export function PlanPage() {
  const { planId = "whole" } = useParams();
  const goesOn: unknown = useLocation().state?.goesOn;
  // a plan that is saved for the first time moves to an address of its own and stays open as it
  // is: what is being typed just then, the cursor and the way back go on
  const [open, setOpen] = useState(() => ({ planId, editor: freshId() }));
  if (open.planId !== planId)
    setOpen({ planId, editor: goesOn === open.editor ? open.editor : freshId() });
  return <Opened key={open.editor} planId={planId} editor={open.editor} />;
}

function useBlank(wanted: boolean) {
  const settings = useQuery({
    queryKey: keys.settings,
    enabled: wanted,
    queryFn: () => ask(api.GET("/api/shop")),
  });
  const system = settings.data?.system ?? "metric";
  const blank = useQuery({
    queryKey: ["blank", settings.data?.system],
    enabled: wanted && settings.isSuccess,
    queryFn: () =>
      ask(api.POST("/api/plans/answer", { body: { document: { system }, quality: "quick" } })),
  });
  return { read: blank.data, error: blank.error ?? settings.error, again: settings.refetch };
}

function Opened({ planId, editor }: { planId: string; editor: string }) {
  const fresh = planId === "whole";
  const blank = useBlank(fresh);
  const plan = useQuery({
    queryKey: keys.plan(planId),
    enabled: !fresh,
    queryFn: () => ask(api.GET("/api/plans/{plan_id}", { params: { path: { plan_id: planId } } })),
    staleTime: Number.POSITIVE_INFINITY,
    refetchOnMount: "always",
  });
  // once it is open it stays, whatever is asked again behind it: it holds what was typed, and undo
  const open = useRef<Saved>(undefined);
  const got = fresh ? blank.read : plan.isRefetching ? undefined : plan.data?.read;
  if (got) open.current = { doc: got.document as Plan, base: plan.data?.revision ?? 0, read: got };
  if (open.current)
    return <Editor opened={fresh ? "new" : planId} saved={open.current} editor={editor} />;
  const error = fresh ? blank.error : plan.error;
  if (error)
    return <Trouble error={error} again={() => void (fresh ? blank.again() : plan.refetch())} />;
  return <Loading what={fresh ? "an empty plan" : "the plan"} />;
}

function Editor({ opened, saved, editor }: { opened: string; saved: Saved; editor: string }) {
  const [planId, setPlanId] = useState(opened); // its own from the first save on
  const { draft, dispatch, put, type, quick, answer, unread, restored, kept } = usePlanDraft(
    planId,
    saved,
  );
  const [brought, setBrought] = useState<Both[]>([]);
  const [live] = useState(() => new Live());
  const [kind, setKind] = useState<MapKind>("density");
  const [turns, setTurns] = useState<Turn[]>([]); // as last worked out, for the bench card
  const field = useField(
    draft.doc,
    Boolean(quick?.answer),
    kind === "sight",
    planId === "new" || draft.dirty ? "" : planId,
  );
  const solved = !field.busy && !field.error ? field.data?.read.answer : undefined;
  const solving = (field.busy || field.halted) && !solved;
  // an answer to what is no longer on the screen is none: no figure stands there as if it were
  const late = useLasting(unread || answer.isError, 1500);
  const why = (answer.error ?? answer.failureReason)?.message ?? word("stage.working");
  const read = useMemo(() => {
    if (!quick) return undefined;
    if (late) return { ...quick, answer: null, trouble: why };
    return { ...quick, answer: solved ?? (solving ? checking(quick.answer) : quick.answer) };
  }, [quick, late, why, solved, solving]);
  const { state, press, letBe } = useSaving({
    planId,
    draft,
    editor,
    saved: (plan, edits) => {
      setPlanId(plan.id);
      dispatch({
        do: "saved",
        doc: plan.read.document as Plan,
        base: plan.revision,
        edits,
        brought: plan.brought.length > 0,
      });
      setBrought(plan.brought);
    },
  });
  const wanted = state.at === "refused" ? state.wanted : { start: false };
  const replace = useCallback(
    (doc: Plan, join?: string) => dispatch({ do: "replace", doc, join, at: Date.now() }),
    [dispatch],
  );
  const edit = useMemo(
    () => ({ doc: draft.doc, read, put, type, replace }),
    [draft.doc, read, put, type, replace],
  );
  useKeys(dispatch, () => press({ start: false }));
  const notSaved = errorOf(state, "refused");
  const notStarted = errorOf(state, "not_started");
  const refused = notSaved instanceof Refused ? notSaved.problem : undefined;
  const meets = meetsOf(refused);
  const faults = Object.keys(read?.faults ?? {}).length;
  const stops = read?.answer?.findings.filter((f) => f.severity === "stop").length ?? 0;

  const painted = usePainted();
  const staged = useLast(read?.answer ? read : undefined);
  const trouble = read?.answer ? "" : (read?.trouble ?? why);
  const variant = {
    keepThis: () => dispatch({ do: "keep_this" }),
    goBack: () => dispatch({ do: "go_back" }),
  };
  const movable = draft.doc.anodes?.some((a) => PLACED.has(a.kind ?? "rod"));
  return (
    <LiveContext.Provider value={live}>
      <PlanContext.Provider value={edit}>
        <div className="no-print mx-auto max-w-[1500px] px-3 sm:px-5">
          <div className="flex flex-wrap items-center gap-2 py-3">
            <h1 className="mr-auto text-3xl">{titleOf(draft.doc) || "New plan"}</h1>
            <span className="text-sm text-ink-2" role="status" data-kept>
              {kept ? keptWords(draft.dirty, restored, planId, draft.base) : word("draft.no_room")}
            </span>
            <UnitPicker
              doc={draft.doc}
              faults={read?.faults}
              busy={unread}
              replace={(doc) => dispatch({ do: "replace", doc })}
            />
            <button
              type="button"
              className="btn btn-small"
              disabled={!draft.past.length}
              onClick={() => dispatch({ do: "undo" })}
              aria-label="Undo"
            >
              <Undo2 size={18} aria-hidden="true" />
            </button>
            <button
              type="button"
              className="btn btn-small"
              disabled={!draft.future.length}
              onClick={() => dispatch({ do: "redo" })}
              aria-label="Redo"
            >
              <Redo2 size={18} aria-hidden="true" />
            </button>
            {planId !== "new" && <Revisions planId={planId} base={draft.base} />}
            <button
              type="button"
              className="btn btn-small"
              disabled={draft.aside !== undefined}
              onClick={() => dispatch({ do: "set_aside" })}
            >
              <Columns2 size={18} aria-hidden="true" /> Try a variant
            </button>
            <TakeAlong planId={planId} turns={turns} />
            <button
              type="button"
              className="btn btn-small"
              disabled={state.at === "saving" || faults > 0}
              onClick={() => press({ start: false })}
            >
              <Save size={18} aria-hidden="true" />{" "}
              {draft.dirty || planId === "new" ? "Save plan" : "Saved"}
            </button>
          </div>
          <Others planId={planId} base={draft.base} replace={replace} />
          {planId !== "new" && <InBathBar planId={planId} base={draft.base} />}
          <Brought brought={brought} done={() => setBrought([])} />
          {meets && meets.clashes.length > 0 && (
            <Clashes
              key={meets.head}
              meets={meets}
              busy={state.at === "saving"}
              save={(choices, from) => press({ ...wanted, from, choices })}
            />
          )}
          {meets && refused && !meets.clashes.length && (
            <Stale
              mine={draft.doc}
              problem={refused}
              keepMine={(from) => press({ start: wanted.start, from })}
              takeTheirs={(doc, head) => {
                dispatch({ do: "replace", doc });
                dispatch({ do: "saved", doc, base: head, edits: draft.edits + 1 });
                forgetDraft(planId);
                letBe();
              }}
            />
          )}
          {notSaved !== undefined && !meets && <Trouble error={notSaved} />}
          {draft.aside && <VariantStrip aside={draft.aside} doc={draft.doc} {...variant} />}
          {read?.answer && (
            <OneAnswer
              answer={read.answer}
              quick={!solved}
              className="sticky top-[91px] z-40 mb-2 hidden lg:flex"
            />
          )}
          <div className="grid grid-cols-[minmax(0,1fr)] gap-x-4 pb-8 lg:grid-cols-[8.5rem_minmax(0,1fr)]">
            <div className="sticky top-0 z-30 bg-paper sm:top-[88px] lg:top-[142px] lg:self-start">
              <Dipstick />
              {read?.answer && (
                <OneAnswer answer={read.answer} quick={!solved} className="flex lg:hidden" />
              )}
            </div>
            <div className="min-w-0">
              {staged && (
                <Stage
                  read={staged}
                  field={field}
                  kind={kind}
                  setKind={setKind}
                  trouble={trouble}
                />
              )}
              {!staged && <p className="border-t-2 border-line bg-sheet p-4">{trouble}</p>}
              {read?.answer && <Dips answer={read.answer} />}
              {draft.aside && <Variants aside={draft.aside} doc={draft.doc} />}
              {painted && (
                <>
                  {read?.answer && (
                    <div className="grid gap-x-8 gap-y-4 border-t border-hair bg-sheet px-4 py-3 lg:grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)]">
                      <Changes rested={!field.busy} />
                      <div className="space-y-3">
                        <h2 className="text-2xl">Search further</h2>
                        {movable && <PlaceForMe />}
                        <TurnPlan tell={setTurns} />
                      </div>
                    </div>
                  )}
                  <div className="mt-4 grid grid-cols-[minmax(0,1fr)] gap-4 lg:grid-cols-[minmax(0,1fr)_minmax(21rem,25rem)]">
                    <div className="space-y-4">
                      <PieceSection />
                      <TankSection />
                      <MixSection />
                      <ScrapSection />
                      <PowerSection />
                      <AirSection />
                      <CheckSection
                        footer={
                          <GoButton
                            stops={stops}
                            faults={faults}
                            ready={Boolean(read?.answer)}
                            busy={isBusy(state)}
                            error={notStarted}
                            go={() => press({ start: true })}
                          />
                        }
                      />
                    </div>
                    <Expect read={read} field={field} answer={answer} faults={faults} />
                  </div>
                </>
              )}
            </div>
          </div>
        </div>
        {read?.answer && <BenchCard doc={draft.doc} answer={read.answer} />}
      </PlanContext.Provider>
    </LiveContext.Provider>
  );
}

/** The quick answer while it is solved: what a solve may move is not called a stop yet. */
function checking(answer: AnswerOut | null): AnswerOut | null {
  const unsure = answer?.findings.filter((f) => f.by_amps) ?? [];
  if (!answer || !unsure.length) return answer;
  const findings = answer.findings.filter((f) => !(f.by_amps && f.severity === "stop"));
  const sure = findings.some((f) => f.severity === "stop");
  const what = word("setup.checking", { what: unsure[0]?.title ?? "" });
  return {
    ...answer,
    findings,
    line: answer.line.map((p) =>
      p.part === "safe" && !sure ? { ...p, text: what, stop: false } : p,
    ),
  };
}

function GoButton({
  stops,
  faults,
  ready,
  busy,
  error,
  go,
}: {
  stops: number;
  faults: number;
  ready: boolean;
  busy: boolean;
  error: Error | undefined;
  go: () => void;
}) {
  const held = stops > 0 || faults > 0 || !ready;
  return (
    <div className="space-y-1 border-t border-line pt-3">
      <button
        type="button"
        className="btn btn-main w-full text-lg sm:w-auto"
        disabled={held || busy}
        onClick={go}
      >
        {busy ? "One moment …" : "Set up this bath"}
      </button>
      {/* beside what was pressed, not at the head of a long page */}
      {error && <Trouble error={error} />}
      <p className="text-sm text-ink-2">
        {busy ? (
          <Solving row={BEGIN} busy={busy} stop={() => void stopSolving(BEGIN)} />
        ) : stops > 0 ? (
          `${stops === 1 ? "A stop is" : `${stops} stops are`} in force: mend ${stops === 1 ? "it" : "them"} above.`
        ) : faults > 0 ? (
          "Mend the marked fields first."
        ) : (
          "Saves the plan and opens its switch-on list. Nothing is switched on yet."
        )}
      </p>
    </div>
  );
}

/** Where the plan is kept, as it is. */
function keptWords(dirty: boolean, restored: boolean, planId: string, base: number): string {
  if (dirty)
    return restored
      ? "Your unsaved changes are back; kept on this device."
      : "Kept on this device, not saved in the shop yet.";
  return planId === "new"
    ? "Begin with Piece on the dipstick, or push things about right here."
    : `Saved, revision ${base}.`;
}
