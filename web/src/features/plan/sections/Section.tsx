import type { ReactNode } from "react";
import { usePlan } from "@/shared/form/context";
import { putAll } from "@/shared/form/put";
import { Finding } from "@/shared/ui/Finding";

export function Section({
  id,
  title,
  lead,
  children,
}: {
  id: string;
  title: string;
  lead: string;
  children: ReactNode;
}) {
  const { doc, read, replace } = usePlan();
  const mine = read?.answer?.findings.filter((f) => f.mark === id && f.severity === "stop") ?? [];
  return (
    <section id={id} aria-labelledby={`${id}-h`} className="sheet space-y-4">
      <header className="flex flex-wrap items-baseline gap-x-3">
        <h2 id={`${id}-h`} className="text-2xl">
          {title}
        </h2>
        <p className="text-sm text-ink-2">{lead}</p>
      </header>
      {mine.length > 0 && (
        <ul className="space-y-2">
          {mine.map((f) => (
            <Finding
              key={f.id + f.evidence}
              f={f}
              onChange={(c) => replace(putAll(read?.document ?? doc, c.sets))}
            />
          ))}
        </ul>
      )}
      {children}
    </section>
  );
}
