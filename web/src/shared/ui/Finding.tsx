import { Info, OctagonX, TriangleAlert } from "lucide-react";
import type { FindingOut } from "@/shared/api/client";

const LOOK = {
  stop: { Icon: OctagonX, word: "Stop", edge: "border-stop", ink: "text-stop" },
  caution: { Icon: TriangleAlert, word: "Caution", edge: "border-line", ink: "text-ink" },
  note: { Icon: Info, word: "Note", edge: "border-hair", ink: "text-ink-2" },
} as const;

export function SeverityIcon({
  severity,
  size = 20,
}: {
  severity: keyof typeof LOOK;
  size?: number;
}) {
  const { Icon, ink } = LOOK[severity];
  return <Icon size={size} className={`shrink-0 ${ink}`} aria-hidden="true" />;
}

/** A finding: what, why, how to mend it, and the mend as one click where there is one. */
export function Finding({
  f,
  onChange,
}: {
  f: FindingOut;
  onChange?: (change: FindingOut["changes"][number]) => void;
}) {
  const look = LOOK[f.severity];
  return (
    <li className={`border-l-4 ${look.edge} bg-sheet py-2 pl-3 pr-2`} data-finding={f.id}>
      <div className="flex items-start gap-2">
        <SeverityIcon severity={f.severity} />
        <div className="min-w-0 space-y-1">
          <h3 className="text-lg">
            <span className={look.ink}>{look.word}:</span> {f.title}
          </h3>
          <p className="text-sm">
            {f.evidence} {f.reason}
          </p>
          <p className="text-sm font-semibold">{f.fix}</p>
          {onChange && f.changes.length > 0 && (
            <div className="flex flex-wrap gap-2 py-0.5">
              {f.changes.map((c) => (
                <button
                  key={c.label}
                  type="button"
                  className="btn btn-small"
                  onClick={() => onChange(c)}
                >
                  {c.label}
                </button>
              ))}
            </div>
          )}
          {f.differ && <p className="text-xs">{f.differ}</p>}
          <p className="text-xs text-ink-2">Source: {f.source}</p>
        </div>
      </div>
    </li>
  );
}
