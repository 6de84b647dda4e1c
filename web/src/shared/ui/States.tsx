import type { ReactNode } from "react";
import { Away, Later, Stopped } from "@/shared/api/client";
import { word } from "@/shared/words";

/** Loading, said only when it lasts. */
export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="p-6 text-ink-2">
      Fetching {what} …
    </p>
  );
}

/** An error with its remedy. */
export function Trouble({ error, again }: { error: Error; again?: () => void }) {
  return (
    <div role="alert" className="m-4 border-l-4 border-stop bg-sheet p-4">
      <h2 className="text-xl">{titleOf(error)}</h2>
      <p>{error.message}</p>
      {error instanceof Later && <p className="text-sm">{word("trouble.later")}</p>}
      {error instanceof Away && !(error instanceof Later) && (
        <p className="text-sm">
          What you type is kept on this device and sent when it answers again. Is it switched on,
          and are you on the same network?
        </p>
      )}
      {again && (
        <button type="button" className="btn mt-2" onClick={again}>
          Try again
        </button>
      )}
    </div>
  );
}

function titleOf(error: Error): string {
  if (error instanceof Later) return word("trouble.not_now");
  if (error instanceof Stopped) return word("solving.ended");
  return error instanceof Away ? "No connection" : "That did not work";
}

/** A place with nothing in it yet, and what to do about that. */
export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="border-2 border-dashed border-line p-6">
      <h2 className="text-2xl">{title}</h2>
      <div className="mt-2 max-w-prose space-y-3">{children}</div>
    </div>
  );
}
