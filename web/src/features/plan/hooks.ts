import { useEffect, useRef } from "react";

/** The last that there was: a bath without a current stays on the stage, to be moved back. */
export function useLast<T>(value: T | undefined): T | undefined {
  const last = useRef(value);
  if (value !== undefined) last.current = value;
  return last.current;
}

/** Saving, undo and redo by keys. */
export function useKeys(dispatch: (s: { do: "undo" } | { do: "redo" }) => void, save: () => void) {
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey)) return;
      const key = e.key.toLowerCase();
      if (key === "s") save();
      else if (key === "z") dispatch({ do: e.shiftKey ? "redo" : "undo" });
      else if (key === "y") dispatch({ do: "redo" });
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  });
}
