import { useCallback, useEffect, useRef, useState } from "react";
import { Away, type Plan, type Schemas } from "./client";
import { lines } from "./lines";

export type SearchLine = Schemas["SearchLine"];

/** A search on the server, told line by line; stopping or leaving the page ends it there too. */
export function useSearch(path: `/api/plans/${"placement" | "turns" | "changes"}`) {
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
        await lines<SearchLine>(
          path,
          { body: JSON.stringify({ document: doc }), signal: mine.signal },
          setLine,
        );
      } catch (e) {
        if (!mine.signal.aborted)
          setError(e instanceof TypeError || !(e instanceof Error) ? new Away() : e);
      } finally {
        if (control.current === mine) setRunning(false);
      }
    },
    [path, stop],
  );
  return { line, error, running, start, stop };
}
