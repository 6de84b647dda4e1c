import { useEffect, useState } from "react";

/** Whether the page has been drawn once: the stage comes first, what lies below it follows. */
export function usePainted(): boolean {
  const [painted, setPainted] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setPainted(true), 30);
    return () => clearTimeout(timer);
  }, []);
  return painted;
}
