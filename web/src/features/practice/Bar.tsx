import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import { api } from "@/shared/api/client";
import { usePending } from "@/shared/api/outbox";
import { usePractice } from "@/shared/api/practice";
import { practiceId, setPractice, timeNow } from "@/shared/clock";
import { clockTime } from "@/shared/time";
import { useNow } from "@/shared/useNow";
import { word } from "@/shared/words";

const PASS = [1, 10, 60, 240];

/** Over every page of a practice: that it is one, its time, and the bath at hand. */
export function PracticeBar() {
  const id = practiceId();
  return id ? <Bar id={id} /> : null;
}

function Bar({ id }: { id: string }) {
  const { practice, doing } = usePractice(id);
  const now = useNow(1_000);
  // what was just written down is done before anything is looked at
  const busy = usePending().length > 0 || doing.isPending;
  const [open, setOpen] = useState<"" | "look" | "hands">("");
  const p = practice.data;
  if (practice.error)
    return (
      <Band>
        <p role="alert" className="py-2 font-semibold">
          {practice.error.message}
        </p>
        <Leave id={id} />
      </Band>
    );
  if (!p) return null;
  const newest = p.met.at(0);
  return (
    <Band>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 py-1">
        <div className="flex flex-1 items-center gap-4 max-sm:basis-full">
          <p className="mr-auto font-semibold max-sm:text-sm max-sm:leading-tight">
            {word("practice.marked")}
          </p>
          <span className="sign whitespace-nowrap text-2xl" data-practice-now>
            {clockTime(now)}
          </span>
        </div>
        {p.run_id && (
          <span className="flex flex-wrap gap-1">
            {PASS.map((minutes) => (
              <Small key={minutes} disabled={busy} onClick={() => doing.mutate({ minutes })}>
                {minutes < 60 ? `+${minutes} min` : `+${minutes / 60} h`}
              </Small>
            ))}
          </span>
        )}
        {p.run_id && (
          <Link
            to="/practice/debrief"
            className="flex min-h-11 items-center px-1 font-semibold underline"
          >
            {word("practice.end")}
          </Link>
        )}
        <Leave id={id} />
      </div>
      {p.begun && (
        <div className="flex flex-wrap items-start gap-2 pb-2">
          <Small pressed={open === "look"} onClick={() => setOpen(open === "look" ? "" : "look")}>
            {word("practice.look")}
          </Small>
          <Small
            pressed={open === "hands"}
            onClick={() => setOpen(open === "hands" ? "" : "hands")}
          >
            {word("practice.hands")}
          </Small>
          <p className="min-w-60 flex-1 py-2" role="status" data-met>
            {newest ? (
              <>
                {clockTime(new Date(newest.at), timeNow())} {newest.question}{" "}
                <strong className="sign text-xl">{newest.text}</strong>
              </>
            ) : (
              word("practice.empty")
            )}
          </p>
        </div>
      )}
      {doing.error && (
        <p role="alert" className="pb-2 font-semibold">
          {doing.error.message}
        </p>
      )}
      {open === "look" && (
        <Things
          items={p.asks.map((a) => ({ id: a.id, text: a.text, minutes: a.minutes }))}
          busy={busy}
          pick={(what) => {
            setOpen("");
            doing.mutate({ observe: what });
          }}
        />
      )}
      {open === "hands" && (
        <Things
          items={p.mends}
          busy={busy}
          pick={(what) => {
            setOpen("");
            doing.mutate({ mend: what });
          }}
        />
      )}
    </Band>
  );
}

function Band({ children }: { children: ReactNode }) {
  return (
    <section
      aria-label={word("practice.title")}
      className="no-print border-y-4 border-dashed border-line bg-liquid px-3 text-on-liquid sm:px-5"
      data-practice
    >
      {children}
    </section>
  );
}

function Small({
  children,
  onClick,
  disabled,
  pressed,
}: {
  children: ReactNode;
  onClick: () => void;
  disabled?: boolean;
  pressed?: boolean;
}) {
  return (
    <button
      type="button"
      className="min-h-11 border-2 border-on-liquid px-3 font-semibold aria-pressed:bg-on-liquid aria-pressed:text-liquid"
      aria-pressed={pressed}
      disabled={disabled}
      onClick={onClick}
    >
      {children}
    </button>
  );
}

function Things({
  items,
  busy,
  pick,
}: {
  items: { id: string; text: string; minutes: number }[];
  busy: boolean;
  pick: (id: string) => void;
}) {
  return (
    <ul className="grid gap-1 pb-3 sm:grid-cols-2">
      {items.map((t) => (
        <li key={t.id}>
          <button
            type="button"
            className="min-h-11 w-full border border-on-liquid px-2 py-1 text-left"
            disabled={busy}
            data-thing={t.id}
            onClick={() => pick(t.id)}
          >
            {t.text}{" "}
            <span className="text-sm">({word("matter.cost", { minutes: t.minutes })})</span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** Back to the shop; the practice ends with everything in it. */
export function Leave({ id, to = "/", words }: { id: string; to?: string; words?: string }) {
  return (
    <button
      type="button"
      className="min-h-11 px-1 underline"
      onClick={async () => {
        await api
          .DELETE("/api/practice/{practice_id}", { params: { path: { practice_id: id } } })
          .catch(() => undefined);
        leave(to);
      }}
    >
      {words ?? word("practice.leave")}
    </button>
  );
}

/** The page begins anew, so that nothing of the one shop is taken for the other's. */
export function leave(to: string) {
  localStorage.removeItem(`yb.outbox.${practiceId()}`);
  setPractice("");
  window.location.assign(to);
}
