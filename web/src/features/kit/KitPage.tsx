import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, ask, keys, sent, type ThingOut } from "@/shared/api/client";
import { once } from "@/shared/api/once";
import { usePaged } from "@/shared/api/paged";
import { dateOf } from "@/shared/time";
import { More, Undone, useFind } from "@/shared/ui/Long";
import { Empty, Loading, Trouble } from "@/shared/ui/States";
import { known, word } from "@/shared/words";
import { doneTo, KINDS, type Kind } from "./kinds";
import { Picture } from "./Picture";
import { ThingForm } from "./ThingForm";

/** The shop's own things on their board, by kind: free, in use, worn, running low. */
export function KitPage() {
  const { find, field } = useFind(word("field.kit.find"));
  const { rows, count, more, error, list } = usePaged(keys.kitOf("", find), (after) =>
    ask(api.GET("/api/kit", { params: { query: { find, after } } })),
  );
  const [adding, setAdding] = useState<Kind | null>(null);
  const [gone, setGone] = useState<{ id: string; name: string } | null>(null);
  const queries = useQueryClient();
  const fresh = () => queries.invalidateQueries({ queryKey: keys.kit });
  const back = useMutation({
    mutationFn: async (id: string) => {
      await sent(api.POST("/api/kit/{thing_id}/back", { params: { path: { thing_id: id } } }));
      setGone(null);
      await fresh();
    },
  });
  if (error) return <Trouble error={error} again={() => void list.refetch()} />;
  if (!rows) return <Loading what="the kit" />;
  const things = rows;
  return (
    <div className="mx-auto max-w-6xl p-3 sm:p-5">
      <h1 className="text-3xl">Kit</h1>
      <p className="mb-3 text-sm text-ink-2">
        Your tanks, chargers and supplies. A plan draws from it with one press; a run writes its
        hours and ampere-hours back. Nothing here is needed to plan.
      </p>
      {gone && <Undone name={gone.name} back={() => back.mutate(gone.id)} error={back.error} />}
      {field(count)}
      {things.length === 0 && !adding && !find && (
        <Empty title="The board is empty">
          <p>
            Measure a tank once, weigh the scrap once, and every plan after starts from them. Begin
            with the tank you use most.
          </p>
        </Empty>
      )}
      <div className="gap-x-8 pt-3 md:columns-2">
        {KINDS.map((kind) => {
          const mine = things.filter((t) => t.read.thing.detail.kind === kind);
          return (
            <section
              key={kind}
              aria-labelledby={`kit-${kind}`}
              className="mb-5 break-inside-avoid border-t-2 border-line pt-1"
            >
              <header className="flex flex-wrap items-baseline gap-x-3">
                <h2 id={`kit-${kind}`} className="text-2xl">
                  {word(`kit.kind.${kind}`)}
                </h2>
                <p className="flex-1 text-xs text-ink-2">{word(`kit.about.${kind}`)}</p>
                <button
                  type="button"
                  className="btn btn-small"
                  aria-expanded={adding === kind}
                  onClick={() => setAdding(adding === kind ? null : kind)}
                >
                  Add
                </button>
              </header>
              {adding === kind && (
                <ThingForm
                  kind={kind}
                  done={() => {
                    setAdding(null);
                    void fresh();
                  }}
                />
              )}
              <ul>
                {mine.map((t) => (
                  <Hung
                    key={t.id}
                    thing={t}
                    mixes={things.filter((x) => x.mix && x.id !== t.id)}
                    fresh={() => void fresh()}
                    putAway={() => setGone({ id: t.id, name: t.read.thing.name })}
                  />
                ))}
              </ul>
              {kind === "mix" && mine.length > 0 && <Queue />}
            </section>
          );
        })}
      </div>
      {things.length === 0 && find && <p className="text-ink-2">{word("list.none")}</p>}
      <More shown={things.length} count={count} more={more} />
    </div>
  );
}

/** One thing: how it stands, what it has been through, what can be done to it. */
function Hung({
  thing,
  mixes,
  fresh,
  putAway,
}: {
  thing: ThingOut;
  mixes: readonly ThingOut[];
  fresh: () => void;
  putAway: () => void;
}) {
  const [open, setOpen] = useState<"" | "change" | "log">("");
  const kind = thing.read.thing.detail.kind as Kind;
  const away = useMutation({
    mutationFn: async () => {
      await sent(api.DELETE("/api/kit/{thing_id}", { params: { path: { thing_id: thing.id } } }));
      putAway();
      fresh();
    },
  });
  const bad = !["free", "in use"].includes(thing.word);
  return (
    <li
      className="grid grid-cols-[56px_minmax(0,1fr)] gap-x-3 border-t border-hair py-2"
      data-thing={thing.read.thing.name}
    >
      <Picture thing={thing} />
      <div className="min-w-0">
        <div className="flex flex-wrap items-baseline gap-x-3">
          <span className="sign text-xl">{thing.read.thing.name}</span>
          <span
            className={`sign px-1.5 text-base ${
              thing.word === "in use"
                ? "bg-liquid text-on-liquid"
                : bad
                  ? "border-2 border-line"
                  : "text-ink-2"
            }`}
          >
            {thing.word}
          </span>
          <span className="flex-1 text-sm">{thing.why}</span>
        </div>
        {thing.lines.length > 0 && <p className="text-sm text-ink-2">{thing.lines.join("; ")}</p>}
        <div className="mt-1 flex flex-wrap gap-2">
          <button
            type="button"
            className="btn btn-small"
            aria-expanded={open === "change"}
            onClick={() => setOpen(open === "change" ? "" : "change")}
          >
            Change
          </button>
          {thing.log.length > 0 && (
            <button
              type="button"
              className="btn btn-small"
              aria-expanded={open === "log"}
              onClick={() => setOpen(open === "log" ? "" : "log")}
            >
              History
            </button>
          )}
          <button type="button" className="btn btn-small" onClick={() => away.mutate()}>
            {word("list.archive")}
          </button>
          {away.error && (
            <p role="alert" className="w-full text-sm font-semibold text-stop">
              {away.error.message}
            </p>
          )}
        </div>
        {doneTo(kind).length > 0 && <Done thing={thing} kind={kind} mixes={mixes} fresh={fresh} />}
        {kind === "mix" && <ToAdd id={thing.id} />}
        {open === "change" && (
          <ThingForm
            kind={kind}
            thing={thing}
            done={() => {
              setOpen("");
              fresh();
            }}
          />
        )}
        {open === "log" && (
          <ol className="mt-1 text-sm">
            {thing.log.map((e, k) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: two of one moment say the same
              <li key={`${e.at} ${k}`} className="flex gap-3 border-t border-hair py-0.5">
                <span className="w-28 text-ink-2">{dateOf(new Date(e.at))}</span>
                {e.words}
              </li>
            ))}
            {thing.events > thing.log.length && (
              <li className="border-t border-hair py-0.5 text-ink-2">
                {word("kit.older", { count: `${thing.events - thing.log.length}` })}
              </li>
            )}
          </ol>
        )}
      </div>
    </li>
  );
}

/** Something done to it by hand, with an amount where there is one. */
function Done({
  thing,
  kind,
  mixes,
  fresh,
}: {
  thing: ThingOut;
  kind: Kind;
  mixes: readonly ThingOut[];
  fresh: () => void;
}) {
  const choices = doneTo(kind).filter(([what]) => what !== "poured_in" || mixes.length);
  const [what, setWhat] = useState(choices[0]?.[0] ?? "");
  const [amount, setAmount] = useState("");
  const [other, setOther] = useState("");
  const unit = known(`kit.amount.${what}`) ? word(`kit.amount.${what}`) : "";
  const write = useMutation({
    mutationFn: () => {
      const body = { what, amount, other };
      const params = { path: { thing_id: thing.id } };
      return once(`done ${thing.id}`, body, (headers) =>
        ask(api.POST("/api/kit/{thing_id}/done", { params, body, headers })),
      );
    },
    onSuccess: () => {
      setAmount("");
      fresh();
    },
  });
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        write.mutate();
      }}
    >
      <label className="grid text-xs text-ink-2">
        Done to it
        <select
          className="field !w-auto text-base text-ink"
          value={what}
          onChange={(e) => setWhat(e.target.value)}
        >
          {choices.map(([w, words]) => (
            <option key={w} value={w}>
              {words}
            </option>
          ))}
        </select>
      </label>
      {unit && (
        <label className="w-28 text-xs text-ink-2">
          {unit}
          <input
            className="field text-base text-ink"
            value={amount}
            autoComplete="off"
            onChange={(e) => setAmount(e.target.value)}
          />
        </label>
      )}
      {what === "poured_in" && (
        <label className="grid text-xs text-ink-2">
          Which
          <select
            className="field !w-auto text-base text-ink"
            value={other}
            onChange={(e) => setOther(e.target.value)}
          >
            <option value="">…</option>
            {mixes.map((m) => (
              <option key={m.id} value={m.id}>
                {m.read.thing.name}
              </option>
            ))}
          </select>
        </label>
      )}
      <button
        type="submit"
        className="btn btn-small"
        disabled={(unit !== "" && !amount.trim()) || (what === "poured_in" && !other)}
      >
        Write it down
      </button>
      {write.error && (
        <p role="alert" className="w-full text-sm font-semibold text-stop">
          {write.error.message}
        </p>
      )}
    </form>
  );
}

/** What a mix wants now to stand at a dose. */
function ToAdd({ id }: { id: string }) {
  const [water, setWater] = useState("");
  const [dose, setDose] = useState("5 g/L");
  const asked = useMutation({
    mutationFn: () =>
      ask(
        api.POST("/api/kit/{thing_id}/to-add", {
          params: { path: { thing_id: id } },
          body: { water, dose },
        }),
      ),
  });
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        asked.mutate();
      }}
    >
      <label className="w-28 text-xs text-ink-2">
        I want liquid
        <input
          className="field text-base text-ink"
          value={water}
          placeholder="20 L"
          onChange={(e) => setWater(e.target.value)}
        />
      </label>
      <label className="w-28 text-xs text-ink-2">
        at a dose of
        <input
          className="field text-base text-ink"
          value={dose}
          onChange={(e) => setDose(e.target.value)}
        />
      </label>
      <button type="submit" className="btn btn-small" disabled={!water.trim() || !dose.trim()}>
        What to add?
      </button>
      {asked.error && (
        <p className="w-full text-sm font-semibold text-stop">{asked.error.message}</p>
      )}
      {asked.data && (
        <p className="w-full text-sm" role="status">
          {asked.data.water} of water and {asked.data.salts} of dry soda.
        </p>
      )}
    </form>
  );
}

/** Whose turn it is in one mix: delicate and cleanest first, foulest last. */
function Queue() {
  const queue = useQuery({
    queryKey: [...keys.kit, "queue"],
    queryFn: () => ask(api.GET("/api/kit/queue")),
  });
  if (!queue.data || queue.data.length < 2) return null;
  return (
    <div className="border-t border-hair pt-1 text-sm">
      <h3 className="text-lg">One mix for those that wait</h3>
      <p className="text-xs text-ink-2">
        Delicate and cleanest first, foulest last, then poured out.
      </p>
      <ol className="list-decimal pl-5">
        {queue.data.map((q) => (
          <li key={q.plan_id}>
            <Link className="underline" to={`/plans/${q.plan_id}`}>
              {q.name}
            </Link>
          </li>
        ))}
      </ol>
    </div>
  );
}
