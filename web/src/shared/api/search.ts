import { useCallback, useEffect, useRef, useState } from "react";
import { Away, type Plan, type Problem, Refused, type Schemas } from "./client";

export type SearchLine = Schemas["SearchLine"];

/** A search on the server, told line by line; stopping or leaving the page ends it there too. */
export function useSearch(path: `/api/plans/${"place" | "turns" | "counsel"}`) {
  const [line, setLine] = useState<SearchLine | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const [running, setRunning] = useState(false);
  const control = useRef<AbortController | null>(null);

  const stop = useCallback(() => {
    control.current?.abort();
    control.current = null;
    setRunning(false);
    setLine(null);
    setError(null);
  }, []);
  useEffect(() => () => control.current?.abort(), []);

  const start = useCallback(
    async (doc: Plan) => {
      stop();
      const mine = new AbortController();
      control.current = mine;
      setRunning(true);
      try {
        await told(path, doc, mine.signal, setLine);
      } catch (e) {
        if (!mine.signal.aborted) setError(e instanceof Refused ? e : new Away());
      } finally {
        if (control.current === mine) setRunning(false);
      }
    },
    [path, stop],
  );
  return { line, error, running, start, stop };
}

async function told(
  path: string,
  doc: Plan,
  signal: AbortSignal,
  each: (line: SearchLine) => void,
): Promise<void> {
  const response = await fetch(path, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ document: doc }),
    signal,
  });
  if (!response.ok || !response.body) throw new Refused((await response.json()) as Problem);
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    const parts = (rest + value).split("\n");
    rest = parts.pop() ?? "";
    for (const part of parts) each(JSON.parse(part) as SearchLine);
  }
}
