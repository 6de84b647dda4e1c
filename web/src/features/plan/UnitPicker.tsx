import type { Plan } from "@/shared/api/client";

/** What is typed is read first, in the units in which it was meant. */
export function UnitPicker({
  doc,
  faults,
  busy,
  replace,
}: {
  doc: Plan;
  faults: Record<string, string> | undefined;
  busy: boolean;
  replace: (doc: Plan) => void;
}) {
  return (
    <label className="flex items-center gap-1 text-sm">
      Units
      <select
        className="field min-h-8 !w-auto"
        value={doc.system}
        disabled={busy}
        onChange={(e) => {
          // what could not be read yet stays as it was typed
          const typed = Object.fromEntries(
            Object.entries(doc.typed ?? {}).filter(([at]) => faults && at in faults),
          );
          replace({ ...doc, system: e.target.value as Plan["system"], typed });
        }}
      >
        <option value="metric">metric</option>
        <option value="us">US</option>
        <option value="imperial">imperial</option>
      </select>
    </label>
  );
}
