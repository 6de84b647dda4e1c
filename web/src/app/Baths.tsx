import { OctagonX } from "lucide-react";
import { type RefObject, useLayoutEffect, useRef, useState } from "react";
import { Link, NavLink } from "react-router";
import type { RackItemOut } from "@/shared/api/client";
import { clockTime } from "@/shared/time";
import { TankShape } from "@/shared/ui/Tank";
import { word } from "@/shared/words";

/** What a bath takes of the strip, and what the number of the others does [rem]. */
const BATH = 4.75;
const OTHERS = 3;

/** How many rems wide something is, as that changes with the window and the letters. */
function useRems(of: RefObject<HTMLElement | null>): number {
  const [rems, setRems] = useState(20);
  useLayoutEffect(() => {
    const seen = of.current;
    if (!seen) return;
    const measure = () => {
      const rem = Number.parseFloat(getComputedStyle(document.documentElement).fontSize);
      setRems(seen.clientWidth / rem);
    };
    const watch = new ResizeObserver(measure);
    watch.observe(seen);
    // larger letters change the root's own box and not the strip's
    watch.observe(document.documentElement);
    measure();
    return () => watch.disconnect();
  }, [of]);
  return rems;
}

/** Baths in a strip of their own, the most urgent first, as many as are whole, the rest a number. */
export function Baths({ baths, now }: { baths: readonly RackItemOut[]; now: Date }) {
  const strip = useRef<HTMLElement>(null);
  const rems = useRems(strip);
  const all = Math.floor(rems / BATH);
  const shown = baths.length <= all ? all : Math.max(Math.floor((rems - OTHERS) / BATH), 1);
  const others = baths.length - shown;
  return (
    <nav
      ref={strip}
      aria-label={word("frame.rack")}
      className={`min-w-0 flex-1 items-stretch overflow-hidden max-sm:min-h-[58px] max-sm:border-b max-sm:border-on-iron-2 ${baths.length ? "flex" : "hidden sm:flex"}`}
    >
      {baths.slice(0, shown).map((item) => (
        <RackTank key={item.run_id} item={item} now={now} />
      ))}
      {others > 0 && (
        <Link
          to="/"
          className="rack-item min-w-[3rem] !justify-center"
          aria-label={word("frame.more_baths", { count: others })}
        >
          <span className="sign text-xl">+{others}</span>
        </Link>
      )}
    </nav>
  );
}

function RackTank({ item, now }: { item: RackItemOut; now: Date }) {
  const at = item.next?.at ? new Date(item.next.at) : null;
  // what merely waits for its keeper is not due
  const waits = item.state === "planned";
  const due = !waits && (item.state !== "running" || (at !== null && at <= now));
  const danger = item.next?.danger ?? false;
  const clock =
    item.state === "running" && at ? clockTime(at, now) : word(`run.rack.${item.state}`);
  const when = danger ? "now" : item.checking ? "…" : clock;
  const look = danger ? "bg-stop text-on-stop px-1" : due ? "bg-liquid px-1 text-on-liquid" : "";
  return (
    <NavLink
      to={`/runs/${item.run_id}`}
      className="rack-item min-w-0 max-sm:flex-1 sm:w-[4.75rem]"
      // what is seen comes first and whole, so that saying it aloud finds the link
      aria-label={`${when} ${item.name}, ${item.state}, next: ${item.next?.title ?? "nothing"}`}
      title={item.name}
    >
      <span className="hidden h-[34px] items-end sm:flex">
        <TankShape outline={item.outline} share={item.share_clean} size={34} />
      </span>
      <span className={`sign flex items-center gap-1 whitespace-nowrap frame-word ${look}`}>
        {danger && <OctagonX size={14} aria-hidden="true" />}
        {when}
      </span>{" "}
      <span className="block max-w-full truncate text-[0.6875rem] text-on-iron-2">{item.name}</span>
    </NavLink>
  );
}
