import { useEffect, useState } from "react";
import { timeNow } from "./clock";

/** The time, renewed every so often. */
export function useNow(everyMs = 10_000): Date {
  const [now, setNow] = useState(timeNow);
  useEffect(() => {
    const timer = setInterval(() => setNow(timeNow()), everyMs);
    return () => clearInterval(timer);
  }, [everyMs]);
  return now;
}
