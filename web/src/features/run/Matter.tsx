import { useState } from "react";
import type { RunOut } from "@/shared/api/client";
import { usePractice } from "@/shared/api/practice";
import { practiceId } from "@/shared/clock";
import { Causes, type Mode } from "@/shared/ui/Causes";
import { Trouble } from "@/shared/ui/States";
import { TwoLevels } from "./TwoLevels";
import { useCauses } from "./useCauses";
import type { Enter } from "./useRun";

/** What is the matter with a running bath, by its own log; each answer is an entry of it. */
export function Matter({ run, enter, busy }: { run: RunOut; enter: Enter; busy: boolean }) {
  const [mode, setMode] = useState<Mode>("mend");
  const found = useCauses(run, mode);
  const practice = practiceId();
  const { doing } = usePractice(practice);
  if (found.error) return <Trouble error={found.error} again={() => void found.refetch()} />;
  if (!found.data) return null;
  return (
    <Causes
      found={found.data}
      mode={mode}
      setMode={setMode}
      busy={busy || found.isPlaceholderData || doing.isPending}
      off={run.state === "running" ? () => void enter({ kind: "switch_off" }) : undefined}
      look={practice ? (what) => doing.mutate({ observe: what }) : undefined}
      refused={doing.error?.message}
      way={(what) => (what === "two_levels" ? <TwoLevels run={run} busy={busy} /> : null)}
      answer={(what, outcome) => void enter({ kind: "asked", ask: what, outcome })}
      mended={(cause, helped, note = "") => void enter({ kind: "mended", cause, helped, note })}
    />
  );
}
