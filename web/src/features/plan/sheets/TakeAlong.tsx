import { useMutation } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { api, ask, deviceNow, failure, type Plan, problemIn } from "@/shared/api/client";
import { once } from "@/shared/api/once";
import { usePlan } from "@/shared/form/context";
import { Trouble } from "@/shared/ui/States";
import { word } from "@/shared/words";

const SHEETS: readonly (readonly [kind: string, name: string, what: string])[] = [
  ["card.pdf", "Bench card, PDF", "One page: mix, layout, wiring, check list, readings"],
  ["band.pdf", "Paper band, PDF", "Full size, laid inside the tank's wall to mark it"],
  ["band.pdf outside", "Paper band for outside, PDF", "The same round a wall of 3 mm"],
  ["layout.svg", "Layout, SVG", "Drawing in millimetres"],
  ["layout.dxf", "Layout, DXF", "For CAD, full size, by layers"],
  ["map.glb", "Mapped piece, GLB", "The piece with its colours"],
  ["map.ply", "Mapped piece, PLY", "The same with the density as a number"],
  ["plan.json", "Plan file, JSON", "Read back in by Open a plan file"],
];

/** Papers and files to take away, and a plan file to bring in. */
export function TakeAlong({ planId, turns }: { planId: string; turns?: Turn[] }) {
  const { doc, replace } = usePlan();
  const [busy, setBusy] = useState("");
  const [error, setError] = useState<Error | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const copy = useMutation({
    mutationFn: () =>
      once("copy", doc, (headers) =>
        ask(api.POST("/api/plans", { body: { document: { ...doc } }, headers })),
      ),
    onSuccess: (plan) => navigate(`/plans/${plan.id}`),
    onError: setError,
  });
  const take = async (kind: string) => {
    setBusy(kind);
    setError(null);
    try {
      await fetchSheet(kind, doc, planId, turns ?? []);
    } catch (e) {
      setError(e as Error);
    } finally {
      setBusy("");
    }
  };
  const open = async (chosen: File | undefined) => {
    if (!chosen) return;
    setError(null);
    try {
      replace(await readPlan(chosen));
    } catch (e) {
      setError(e as Error);
    }
  };
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="btn btn-small" disabled={busy !== ""}>
          <Download size={18} aria-hidden="true" /> {busy ? "Making it …" : "Print and export"}
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            sideOffset={4}
            className="z-50 max-w-[calc(100vw-24px)] border-2 border-line bg-sheet"
          >
            {SHEETS.map(([kind, name, what]) => (
              <DropdownMenu.Item key={kind} className="menu-item" onSelect={() => void take(kind)}>
                <span className="block font-semibold">{name}</span>
                <span className="block text-xs text-ink-2">{what}</span>
              </DropdownMenu.Item>
            ))}
            <DropdownMenu.Item className="menu-item" onSelect={() => window.print()}>
              <span className="block font-semibold">Print the card from here</span>
              <span className="block text-xs text-ink-2">By the browser, without a PDF</span>
            </DropdownMenu.Item>
            <DropdownMenu.Separator className="border-t border-line" />
            <DropdownMenu.Item className="menu-item" onSelect={() => copy.mutate()}>
              <span className="block font-semibold">{word("field.plan.copy")}</span>
              <span className="block text-xs text-ink-2">{word("field.plan.copied")}</span>
            </DropdownMenu.Item>
            <DropdownMenu.Item className="menu-item" onSelect={() => file.current?.click()}>
              <span className="block font-semibold">Open a plan file</span>
              <span className="block text-xs text-ink-2">
                Takes the place of this plan; undo brings it back
              </span>
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <input
        ref={file}
        type="file"
        accept=".json,application/json"
        aria-label="Plan file"
        className="sr-only"
        tabIndex={-1}
        onChange={(e) => {
          void open(e.target.files?.[0]);
          e.target.value = "";
        }}
      />
      {error && (
        <div className="w-full">
          <Trouble error={error} />
        </div>
      )}
    </>
  );
}

export interface Turn {
  words: string;
  seconds: number;
}

async function asked(path: string, body: unknown): Promise<Response> {
  const response = await fetch(path, {
    method: "POST",
    headers: { "Content-Type": "application/json", ...deviceNow() },
    body: JSON.stringify(body),
  });
  if (!response.ok) throw failure(response.status, await problemIn(response));
  return response;
}

async function fetchSheet(kind: string, doc: Plan, planId: string, turns: Turn[]) {
  const paper = doc.system === "us" ? "letter" : "a4";
  const plan_id = planId === "new" ? "" : planId;
  const [sheet, outside] = [kind.split(" ")[0] ?? kind, kind.endsWith(" outside")];
  const body = { document: doc, paper, plan_id, turns, outside };
  const made = await asked(`/api/plans/sheets/${sheet}`, body);
  const named = /filename="([^"]+)"/.exec(made.headers.get("content-disposition") ?? "");
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await made.blob());
  link.download = named?.[1] ?? kind;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

/** A plan file, looked through by the server before it takes the place of what is here. */
async function readPlan(file: File): Promise<Plan> {
  let document: unknown;
  try {
    document = JSON.parse(await file.text());
  } catch {
    throw new Error(`${file.name} is not JSON: it is no plan file, or only a part of one.`);
  }
  const answer = await asked("/api/plans/answer", { document, quality: "quick" });
  return ((await answer.json()) as { document: Plan }).document;
}
