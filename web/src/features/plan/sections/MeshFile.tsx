import { useMutation } from "@tanstack/react-query";
import { FileUp } from "lucide-react";
import { type DragEvent, useRef, useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { Refused } from "@/shared/api/client";
import { lines } from "@/shared/api/lines";
import { usePlan } from "@/shared/form/context";

type MeshFile = Schemas["MeshFileOut"];

/** A piece from a mesh file: dropped, its unit asked, its size held against a hand span. */
export function MeshFile({ at }: { at: string }) {
  const { doc, put } = usePlan();
  const input = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File | null>(null);
  const [over, setOver] = useState(false);
  const [doing, setDoing] = useState("");
  const control = useRef<AbortController | null>(null);
  const bring = useMutation({
    mutationFn: (job: { file: File; unit: string; signal: AbortSignal }) =>
      send(job, doc.system, setDoing),
    onSuccess: (made) => {
      if (made.shape) put(at, made.shape);
    },
  });
  const take = (chosen: File | undefined, unit = "") => {
    if (!chosen) return;
    control.current?.abort();
    control.current = new AbortController();
    setFile(chosen);
    setDoing("Sending it");
    bring.mutate({ file: chosen, unit, signal: control.current.signal });
  };
  const stop = () => {
    control.current?.abort();
    bring.reset();
  };
  const drop = (e: DragEvent) => {
    e.preventDefault();
    setOver(false);
    take(e.dataTransfer.files[0]);
  };
  const made = bring.data;
  return (
    <section
      aria-label="Mesh file"
      className={`space-y-2 border-2 border-dashed p-3 ${over ? "border-line bg-liquid text-on-liquid" : "border-hair"}`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      <div className="flex flex-wrap items-center gap-3">
        <button type="button" className="btn btn-small" onClick={() => input.current?.click()}>
          <FileUp size={18} aria-hidden="true" /> Mesh file
        </button>
        <p className="text-sm">
          or drop one here: STL, OBJ, PLY, 3MF or GLB, a scan or a drawing of the piece.
        </p>
        <input
          ref={input}
          type="file"
          accept=".stl,.obj,.ply,.3mf,.glb"
          aria-label="Mesh file"
          className="sr-only"
          tabIndex={-1}
          onChange={(e) => {
            take(e.target.files?.[0]);
            e.target.value = "";
          }}
        />
      </div>
      {bring.isPending && (
        <div className="flex flex-wrap items-center gap-3">
          <p role="status">
            {file?.name}: {doing} …
          </p>
          <button type="button" className="btn btn-small" onClick={stop}>
            Stop
          </button>
        </div>
      )}
      {bring.error && !control.current?.signal.aborted && (
        <p role="alert" className="border-l-4 border-stop pl-3 text-sm">
          {bring.error.message}
        </p>
      )}
      {made && !bring.isPending && file && made.units.length > 1 && (
        <Units made={made} pick={(unit) => take(file, unit)} />
      )}
      {made?.shape && !bring.isPending && (
        <div className="text-sm">
          <p>
            {made.size_text}; {made.area_text} of surface; {made.mass_text} if solid iron.
          </p>
          {(made.shape.notes ?? []).map((n) => (
            <p key={n} className="text-ink-2">
              {n}
            </p>
          ))}
        </div>
      )}
    </section>
  );
}

/** Files do not say their unit: each is shown by the size that it would make. */
function Units({ made, pick }: { made: MeshFile; pick: (unit: string) => void }) {
  return (
    <fieldset>
      <legend className="mb-1 text-sm font-semibold">
        {made.shape ? "Another size?" : "How long is it really? This file does not say its unit."}
      </legend>
      <div className="flex flex-wrap gap-1.5">
        {made.units.map((u) => (
          <button key={u.unit} type="button" className="choice" onClick={() => pick(u.unit)}>
            <span className="sign text-lg">{u.text}</span> drawn in {u.unit}
            <span className="block text-xs text-ink-2">{u.like}</span>
          </button>
        ))}
      </div>
    </fieldset>
  );
}

/** Read on the server in a process of its own, told as it goes, ended by stopping. */
async function send(
  { file, unit, signal }: { file: File; unit: string; signal: AbortSignal },
  system: string | undefined,
  tell: (doing: string) => void,
): Promise<MeshFile> {
  const query = new URLSearchParams({ name: file.name, unit, system: system ?? "metric" });
  let found: MeshFile | null = null;
  const kind = "application/octet-stream";
  await lines<Schemas["MeshLine"]>(
    `/api/plans/mesh?${query}`,
    { body: file, kind, signal },
    (line) => {
      if (line.problem) throw new Refused(line.problem);
      if (line.doing) tell(line.doing);
      found = line.made ?? found;
    },
  );
  if (!found) throw new Error("The file was not read to its end. Try again.");
  return found;
}
