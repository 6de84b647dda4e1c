import { useCallback, useState } from "react";

/** What is half typed outlives a reload of its tab; kept under a key until it was sent or left. */
const START = "yb.half.";

function kept<T>(key: string, first: T): T {
  try {
    const text = sessionStorage.getItem(START + key);
    return text === null ? first : (JSON.parse(text) as T);
  } catch {
    return first; // no room on the device, or something else wrote there
  }
}

export function useHalf<T>(key: string, first: T): [T, (value: T) => void, () => void] {
  const [value, setValue] = useState<T>(() => kept(key, first));
  const set = useCallback(
    (next: T) => {
      setValue(next);
      try {
        sessionStorage.setItem(START + key, JSON.stringify(next));
      } catch {
        // it stands on the page all the same
      }
    },
    [key],
  );
  const clear = useCallback(() => {
    try {
      sessionStorage.removeItem(START + key);
    } catch {
      // nothing is kept there then
    }
  }, [key]);
  return [value, set, clear];
}
