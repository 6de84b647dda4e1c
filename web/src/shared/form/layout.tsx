import type { ReactNode } from "react";

export function Row({ children, cols = "sm:grid-cols-3" }: { children: ReactNode; cols?: string }) {
  return <div className={`grid grid-cols-2 gap-3 ${cols}`}>{children}</div>;
}

export function More({ title, children }: { title: string; children: ReactNode }) {
  return (
    <details className="border-t border-hair pt-2">
      <summary className="cursor-pointer text-sm font-semibold">{title}</summary>
      <div className="mt-3 space-y-4">{children}</div>
    </details>
  );
}
