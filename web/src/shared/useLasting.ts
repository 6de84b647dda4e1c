import { useEffect, useState } from "react";

/** Whether something has been so for a while [ms], and still is. */
export function useLasting(is: boolean, ms: number): boolean {
  const [lasts, setLasts] = useState(false);
  useEffect(() => {
    if (!is) return setLasts(false);
    const timer = setTimeout(() => setLasts(true), ms);
    return () => clearTimeout(timer);
  }, [is, ms]);
  return is && lasts;
}
