import { useId } from "react";
import type { RunOut } from "@/shared/api/client";
import { word } from "@/shared/words";

/** What the clamp goes round: the whole bath, or one lead, and what that should then read. */
export function GoesRound({
  leads,
  lead,
  set,
}: {
  leads: RunOut["leads"];
  lead: string;
  set: (lead: string) => void;
}) {
  const id = useId();
  const chosen = leads.find((l) => l.id === lead);
  return (
    <div>
      <label htmlFor={id} className="block text-sm font-semibold">
        {word("lead.round")}
      </label>
      <select
        id={id}
        className="field mt-1 min-h-11"
        value={lead}
        onChange={(e) => set(e.target.value)}
        data-round
      >
        <option value="">{word("lead.whole")}</option>
        {leads.map((l) => (
          <option key={l.id} value={l.id}>
            {l.name}
          </option>
        ))}
      </select>
      {chosen && (
        <p className="mt-1 text-sm">
          {chosen.name} {word("lead.should", { should: chosen.should })}.
        </p>
      )}
    </div>
  );
}
