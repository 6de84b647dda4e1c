import { type ReactNode, useId } from "react";
import { usePlan } from "@/shared/form/context";
import { putAll } from "@/shared/form/put";
import { Finding } from "@/shared/ui/Finding";
import { word } from "@/shared/words";
import { Section } from "./Section";

/** What a person wants to remember of this plan; it goes along, and changes no figure. */
function Notes() {
  const { doc, put } = usePlan();
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className="block text-sm font-semibold">
        {word("field.plan.notes")}
      </label>
      <textarea
        id={id}
        className="field"
        rows={2}
        maxLength={4000}
        value={doc.notes ?? ""}
        data-pointer="/notes"
        onChange={(e) => put("/notes", e.target.value)}
      />
    </div>
  );
}

export function CheckSection({ footer }: { footer: ReactNode }) {
  const { doc, read, replace } = usePlan();
  const found = read?.answer?.findings ?? [];
  const stops = found.filter((f) => f.severity === "stop").length;
  const safe = read?.answer?.line.find((p) => p.part === "safe");
  return (
    <Section
      id="check"
      title="Check"
      // while the field is solved this says so, and nothing is ready before
      lead={stops ? word("check.stops") : (safe?.text ?? word("stage.working"))}
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
      <Notes />
      {footer}
    </Section>
  );
}
