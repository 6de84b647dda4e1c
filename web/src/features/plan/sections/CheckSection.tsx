import type { ReactNode } from "react";
import { usePlan } from "@/shared/form/context";
import { putAll } from "@/shared/form/put";
import { Finding } from "@/shared/ui/Finding";
import { Section } from "./Section";

export function CheckSection({ footer }: { footer: ReactNode }) {
  const { doc, read, replace } = usePlan();
  const found = read?.answer?.findings ?? [];
  const stops = found.filter((f) => f.severity === "stop").length;
  return (
    <Section
      id="check"
      title="Check"
      lead={stops ? "A stop must be mended before switching on." : "Nothing stops this bath."}
    >
      {read?.trouble && <p className="font-semibold text-stop">{read.trouble}</p>}
      <ul className="space-y-2">
        {found.map((f) => (
          <Finding
            key={f.id + f.evidence}
            f={f}
            onChange={(c) => replace(putAll(read?.document ?? doc, c.sets))}
          />
        ))}
      </ul>
      {read?.answer && (
        <div>
          <h3 className="text-lg">What will not come back</h3>
          <ul className="list-disc space-y-1 pl-5 text-sm">
            {read.answer.keeps.map((k) => (
              <li key={k}>{k}</li>
            ))}
          </ul>
        </div>
      )}
      {footer}
    </Section>
  );
}
