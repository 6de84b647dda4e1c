import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { Link, NavLink, Outlet, useLocation, useRouteError } from "react-router";
import { PracticeBar } from "@/features/practice/Bar";
import { api, ask, keys, onLocked, opened, rackAgain } from "@/shared/api/client";
import { flush, onSent, usePending } from "@/shared/api/outbox";
import { useDue } from "@/shared/due";
import { lineWords } from "@/shared/lineWords";
import { clockTime } from "@/shared/time";
import { Trouble } from "@/shared/ui/States";
import { useNow } from "@/shared/useNow";
import { word } from "@/shared/words";
import { Baths } from "./Baths";
import { Passcode } from "./Passcode";
import { NewPlan, Places } from "./Places";

/** The rack along the top (on a phone: along the bottom), and the page under it. */
export function Frame() {
  const { pathname } = useLocation();
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new page starts at its top
  useEffect(() => {
    window.scrollTo(0, 0);
  }, [pathname]);
  const queries = useQueryClient();
  useEffect(
    () =>
      onSent((run) => {
        queries.setQueryData(keys.run(run.id), run);
        void queries.invalidateQueries({ queryKey: keys.rack });
        if (run.closed) void queries.invalidateQueries({ queryKey: keys.book });
      }),
    [queries],
  );
  useEffect(() => {
    void flush();
    const timer = setInterval(() => void flush(), 15_000);
    return () => clearInterval(timer);
  }, []);
  const door = useDoor();
  return (
    <>
      {door.locked && <Passcode waiting={door.waiting} done={door.open} />}
      {/* the page stays as it is behind the door: what is half typed on it is not lost */}
      <div hidden={door.locked} className="flex min-h-dvh flex-col pb-[var(--foot)] sm:pb-0">
        <a href="#main" className="sr-only focus:not-sr-only">
          To the page
        </a>
        <Rack />
        <PracticeBar />
        <Away />
        <main id="main" className="flex-1">
          <Outlet />
        </main>
        <footer className="no-print border-t border-hair px-4 py-3 text-xs text-ink-2">
          Figures are estimates from the sizes and words typed in. Hydrogen, mains power and
          alkaline liquid can hurt: local codes and licensed practice come first.
        </footer>
      </div>
    </>
  );
}

/** Whether the shop asks this device for its passcode, and what is done once it was given. */
function useDoor() {
  const queries = useQueryClient();
  const [locked, setLocked] = useState(false);
  const waiting = usePending().filter((p) => !p.refused).length;
  useEffect(() => onLocked(() => setLocked(true)), []);
  const open = () => {
    opened();
    setLocked(false);
    void queries.invalidateQueries();
    void flush();
  };
  return { locked, waiting, open };
}

function Rack() {
  const rack = useQuery({
    queryKey: keys.rack,
    queryFn: () => ask(api.GET("/api/runs")),
    refetchInterval: rackAgain,
  });
  const now = useNow();
  const { danger, mute } = useDue(rack.data, now);
  const silent = danger !== undefined && mute;
  const baths = rack.data ?? [];
  const bar = useRef<HTMLElement>(null);
  useLayoutEffect(() => {
    const seen = bar.current;
    if (!seen) return;
    // what stands at the foot of a phone's page stands on this
    const watch = new ResizeObserver(() => {
      document.documentElement.style.setProperty("--foot", `${seen.offsetHeight}px`);
    });
    watch.observe(seen);
    return () => watch.disconnect();
  }, []);
  return (
    <>
      <header
        ref={bar}
        className="no-print fixed inset-x-0 bottom-0 z-[45] bg-iron text-on-iron sm:sticky sm:top-0 sm:bottom-auto"
        data-frame
      >
        <div className="flex min-w-0 flex-col sm:min-h-[86px] sm:flex-row sm:items-stretch sm:px-4">
          <NavLink
            to="/"
            className="sign hidden shrink-0 items-center gap-2 pr-4 text-2xl font-bold sm:flex"
          >
            <img src="/icon.svg" alt="" width={30} height={30} />
            <span className="max-xl:sr-only">Yellow Bath</span>
          </NavLink>
          <NewPlan className="max-sm:!hidden" name="New plan" />
          <Baths baths={baths} now={now} />
          <Places />
        </div>
        <div className="hidden h-[5px] bg-liquid sm:block" aria-hidden="true" />
      </header>
      {silent && (
        <p role="status" className="no-print bg-stop px-4 py-2 text-sm text-on-stop" data-mute>
          {word("due.mute")}
        </p>
      )}
    </>
  );
}

/** What is shown when the page itself fails; nothing typed is lost by it. */
export function Broken() {
  const error = useRouteError();
  return (
    <Trouble
      error={error instanceof Error ? error : new Error(String(error))}
      again={() => window.location.reload()}
    />
  );
}

/** What was entered here and is not in the shop: how much waits and what it is, what was not taken. */
function Away() {
  const pending = usePending();
  const waiting = pending.filter((p) => !p.refused);
  const stuck = pending.filter((p) => p.refused && !p.aside);
  if (!waiting.length && !stuck.length) return null;
  return (
    <div role="status" className="no-print bg-ink px-4 py-2 text-paper" data-outbox>
      {waiting.length > 0 && (
        <details>
          <summary className="min-h-11 cursor-pointer py-2">
            {word("outbox.waits", { count: waiting.length })} {word("outbox.goes")}
          </summary>
          <ol className="pb-2 text-sm">
            {waiting.slice(0, 50).map((p) => (
              <li key={p.entry.client_id}>
                <span className="inline-block w-24">{clockTime(new Date(p.entry.at))}</span>
                {lineWords({ kind: p.entry.detail.kind, detail: { ...p.entry.detail } })}
                {p.unkept && ` – ${word("outbox.no_room")}`}
              </li>
            ))}
          </ol>
        </details>
      )}
      {stuck.length > 0 && (
        <p className="py-1">
          {word("outbox.stuck", { count: stuck.length })}{" "}
          <Link className="underline" to={`/runs/${stuck[0]?.runId}`}>
            {word("outbox.see")}
          </Link>
        </p>
      )}
    </div>
  );
}
