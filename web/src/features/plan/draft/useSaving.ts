import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { api, ask, keys, type PlanOut, Stopped } from "@/shared/api/client";
import { forgetDraft } from "@/shared/api/drafts";
import { drag, superseded } from "@/shared/api/drag";
import { once } from "@/shared/api/once";
import { word } from "@/shared/words";
import type { Draft } from "./reducer";
import { type Happened, type Saving, saving, type ToDo, type Wanted } from "./saving";

/** The row of solves that a run waits for. */
export const BEGIN = "begin";

interface Told {
  planId: string;
  draft: Draft;
  editor: string;
  /** Told with how often the plan had been changed when it was sent. */
  saved: (plan: PlanOut, edits: number) => void;
}

/** Saving a plan and setting up its bath, as ``saving`` has it; always by the newest draft. */
export function useSaving(told: Told) {
  const [[state, todo], setStep] = useState<[Saving, ToDo[]]>([{ at: "rest" }, []]);
  const now = useRef<Saving>(state);
  const done = useRef(todo);
  const newest = useRef(told);
  newest.current = told;
  const navigate = useNavigate();
  const queries = useQueryClient();

  const happened = (e: Happened) => {
    const step = saving(now.current, e);
    now.current = step[0];
    setStep(step);
  };
  // once what happened is on the page: a save that follows another goes by the draft as it is then
  // biome-ignore lint/correctness/useExhaustiveDependencies: each list of things to do is done once
  useEffect(() => {
    if (done.current === todo) return;
    done.current = todo;
    for (const one of todo) void carryOut(one);
  }, [todo]);

  async function carryOut(one: ToDo) {
    try {
      if (one.do === "save") await save(one.wanted);
      else if (one.do === "start") {
        const body = { plan_id: one.plan.id, revision: one.plan.revision };
        const run = await once("run", body, (headers) =>
          ask(api.POST("/api/runs", { body: { ...body, drag: drag(BEGIN) }, headers })),
        );
        void queries.invalidateQueries({ queryKey: keys.rack });
        happened({ is: "started", run: run.id });
      } else {
        const { editor } = newest.current;
        navigate(one.path, one.stays ? { replace: true, state: { goesOn: editor } } : {});
      }
    } catch (error) {
      const why = superseded(error) ? new Stopped(word("solving.not_begun")) : error;
      happened({ is: "failed", error: why instanceof Error ? why : new Error(String(why)) });
    }
  }

  async function save(wanted: Wanted) {
    const { planId, draft, saved } = newest.current;
    const first = planId === "new";
    const plan = await send(planId, draft, wanted);
    forgetDraft(planId);
    saved(plan, draft.edits);
    void queries.invalidateQueries({ queryKey: keys.plans });
    const dirty = newest.current.draft.edits !== draft.edits;
    happened({ is: "saved", plan, dirty, first });
  }

  return {
    state,
    press: (wanted: Wanted) => happened({ is: "pressed", wanted }),
    letBe: () => happened({ is: "let_be" }),
  };
}

function send(planId: string, draft: Draft, { from, choices = {} }: Wanted): Promise<PlanOut> {
  const { doc, base } = draft;
  const document = { ...doc };
  if (planId === "new") {
    return once("plan", doc, (headers) =>
      ask(api.POST("/api/plans", { body: { document }, headers })),
    );
  }
  return ask(
    api.POST("/api/plans/{plan_id}/revisions", {
      params: { path: { plan_id: planId } },
      // chosen among both versions it still starts from where it started
      body: Object.keys(choices).length
        ? { document, base_revision: base, choices, onto: from ?? null }
        : { document, base_revision: from ?? base },
    }),
  );
}
