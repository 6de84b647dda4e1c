import { useQuery, useQueryClient } from "@tanstack/react-query";
import { BookOpen, CircleHelp, Hammer, OctagonX, Plus, Ruler, Settings } from "lucide-react";
import { useEffect, useState } from "react";
import { Link, NavLink, Outlet, useLocation, useRouteError } from "react-router";
import { PracticeBar } from "@/features/practice/Bar";
import { api, ask, keys, onLocked, opened, type RackItemOut, rackAgain } from "@/shared/api/client";
import { flush, onSent, usePending } from "@/shared/api/outbox";
import { useDue } from "@/shared/due";
import { lineWords } from "@/shared/lineWords";
import { clockTime } from "@/shared/time";
import { Trouble } from "@/shared/ui/States";
import { TankShape } from "@/shared/ui/Tank";
import { useNow } from "@/shared/useNow";
import { word } from "@/shared/words";
import { Passcode } from "./Passcode";

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
      <div hidden={door.locked} className="flex min-h-dvh flex-col pb-[88px] sm:pb-0">
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
  return (
    <>
      <header className="no-print fixed inset-x-0 bottom-0 z-40 bg-iron text-on-iron sm:sticky sm:top-0 sm:bottom-auto">
        <nav
          aria-label="The rack"
          className="flex min-h-[84px] items-stretch overflow-x-auto px-0.5 sm:min-h-[86px] sm:gap-1 sm:px-4"
        >
          <NavLink
            to="/"
            className="sign hidden shrink-0 items-center gap-2 pr-4 text-2xl font-bold sm:flex"
          >
            <img src="/icon.svg" alt="" width={30} height={30} />
            Yellow Bath
          </NavLink>
          <NavLink to="/" end className="rack-item sm:hidden" aria-label="Today">
            <img src="/icon.svg" alt="" width={30} height={30} />
            <span className="sign text-sm">Today</span>
          </NavLink>
          {rack.data?.map((item) => (
            <RackTank key={item.run_id} item={item} now={now} />
          ))}
          <NavLink to="/plans/new" className="rack-item" aria-label="New plan">
            <span className="flex h-[34px] items-center">
              <Plus
                size={28}
                aria-hidden="true"
                className="border-2 border-dashed border-on-iron-2 p-0.5"
              />
            </span>
            <span className="sign whitespace-nowrap text-sm">
              <span className="sm:hidden">New</span>
              <span className="max-sm:hidden">New plan</span>
            </span>
          </NavLink>
          <span className="flex-1" />
          <NavLink to="/book" className="rack-item" aria-label="Book">
            <span className="flex h-[34px] items-center">
              <BookOpen size={24} aria-hidden="true" />
            </span>
            <span className="sign text-sm">Book</span>
          </NavLink>
          <NavLink to="/kit" className="rack-item" aria-label="Kit">
            <span className="flex h-[34px] items-center">
              <Hammer size={24} aria-hidden="true" />
            </span>
            <span className="sign text-sm">Kit</span>
          </NavLink>
          <NavLink to="/tables" className="rack-item" aria-label="Tables">
            <span className="flex h-[34px] items-center">
              <Ruler size={24} aria-hidden="true" />
            </span>
            <span className="sign text-sm">Tables</span>
          </NavLink>
          <NavLink to="/guide" className="rack-item" aria-label="Trouble">
            <span className="flex h-[34px] items-center">
              <CircleHelp size={24} aria-hidden="true" />
            </span>
            <span className="sign text-sm">Trouble</span>
          </NavLink>
          <NavLink to="/settings" className="rack-item" aria-label="Shop">
            <span className="flex h-[34px] items-center">
              <Settings size={24} aria-hidden="true" />
            </span>
            <span className="sign text-sm">Shop</span>
          </NavLink>
        </nav>
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

function RackTank({ item, now }: { item: RackItemOut; now: Date }) {
  const at = item.next?.at ? new Date(item.next.at) : null;
  const due = item.state !== "running" || (at !== null && at <= now);
  const danger = item.next?.danger ?? false;
  const clock =
    item.state === "running" && at ? clockTime(at, now) : word(`run.rack.${item.state}`);
  const when = danger ? "now" : clock;
  const look = danger ? "bg-stop text-on-stop px-1" : due ? "bg-liquid px-1 text-on-liquid" : "";
  return (
    <NavLink
      to={`/runs/${item.run_id}`}
      className="rack-item"
      // what is seen comes first and whole, so that saying it aloud finds the link
      aria-label={`${when} ${item.name}, ${item.state}, next: ${item.next?.title ?? "nothing"}`}
      title={item.name}
    >
      <span className="flex h-[34px] items-end">
        <TankShape outline={item.outline} share={item.share_done} size={34} />
      </span>
      <span className={`sign flex items-center gap-1 whitespace-nowrap text-sm ${look}`}>
        {danger && <OctagonX size={14} aria-hidden="true" />}
        {when}
      </span>{" "}
      <span className="block max-w-16 truncate text-[0.6875rem] text-on-iron-2">{item.name}</span>
    </NavLink>
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
