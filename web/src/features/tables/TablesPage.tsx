import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { api, ask, keys, type Schemas } from "@/shared/api/client";
import { Labelled } from "@/shared/form/Labelled";
import { Loading, Trouble } from "@/shared/ui/States";
import { word } from "@/shared/words";
import { ConductsChart } from "./ConductsChart";
import { GradePictures } from "./GradePictures";

type Sheet = Schemas["SheetOut"];
type Check = Schemas["CheckOut"];

/** Everything that is looked up, in one searched list: converters, tables, checks. */
export function TablesPage() {
  const settings = useQuery({ queryKey: keys.settings, queryFn: () => ask(api.GET("/api/shop")) });
  const system = settings.data?.system ?? "metric";
  const tables = useQuery({
    queryKey: keys.tables(system),
    queryFn: () => ask(api.GET("/api/tables", { params: { query: { system } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const checks = useQuery({
    queryKey: ["checks"],
    queryFn: () => ask(api.GET("/api/tables/checks")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const [text, setText] = useState("");
  const searched = useDeferredValue(text.trim());
  const error = tables.error ?? checks.error;
  if (error) return <Trouble error={error} again={() => void tables.refetch()} />;
  if (!tables.data || !checks.data) return <Loading what="the tables" />;
  const words = searched.toLowerCase().split(/\s+/).filter(Boolean);
  const has = (all: readonly string[]) => {
    const whole = all.join(" ").toLowerCase();
    return words.every((w) => whole.includes(w));
  };
  const shown = tables.data.filter((t) => has([t.title, t.lead, ...t.rows.flat()]));
  const found = checks.data.filter((c) => has([c.title, c.when, c.reason, c.differ, c.severity]));
  return (
    <div className="mx-auto max-w-6xl p-3 sm:p-5">
      <h1 className="text-3xl">Tables</h1>
      <div className="sticky top-0 z-20 -mx-3 bg-paper px-3 py-2 sm:top-[90px] sm:mx-0 sm:px-0">
        <Labelled
          label="Look up a word, or turn a size into other units"
          className="field max-w-xl text-lg"
          type="search"
          value={text}
          placeholder="3/8 in, 14 AWG, 2 1/2 gal, stainless, spring"
          onChange={(e) => setText(e.target.value)}
        />
        <Converted text={searched} system={system} />
      </div>
      <nav aria-label="Tables on this page" className="flex flex-wrap gap-x-4 gap-y-1 py-2 text-sm">
        {shown.map((t) => (
          <a key={t.id} href={`#t-${t.id}`} className="underline underline-offset-4">
            {t.title}
          </a>
        ))}
        {found.length > 0 && (
          <a href="#t-checks" className="underline underline-offset-4">
            What is checked
          </a>
        )}
      </nav>
      {!shown.length && !found.length && !isMeasure(searched) && (
        <p className="py-4">Nothing here holds all of “{searched}”. Try one word of it.</p>
      )}
      {shown.map((t) => (
        <SheetTable key={t.id} sheet={t} words={words} />
      ))}
      {found.length > 0 && <Checks checks={found} all={checks.data.length} />}
    </div>
  );
}

/** A number with a unit, to be converted. */
const isMeasure = (text: string) => /\d/.test(text) && /[a-z"'°]/i.test(text);

function Converted({ text, system }: { text: string; system: "metric" | "us" | "imperial" }) {
  const measure = isMeasure(text);
  const made = useQuery({
    queryKey: ["convert", text, system],
    enabled: measure,
    queryFn: () => ask(api.GET("/api/tables/convert", { params: { query: { text, system } } })),
  });
  if (!measure || !made.data?.length) return null;
  return (
    <div role="status" data-converted>
      <dl className="mt-1 max-w-xl bg-sheet px-2 py-1">
        {made.data.map((c) => (
          <div key={c.quantity} className="flex flex-wrap gap-x-4">
            <dt className="w-28 text-sm text-ink-2">{c.quantity}</dt>
            <dd className="sign flex flex-1 flex-wrap gap-x-4 text-lg">
              {c.texts.map((t) => (
                <span key={t}>{t}</span>
              ))}
            </dd>
          </div>
        ))}
      </dl>
    </div>
  );
}

function SheetTable({ sheet, words }: { sheet: Sheet; words: readonly string[] }) {
  const inTitle = words.every((w) => `${sheet.title} ${sheet.lead}`.toLowerCase().includes(w));
  const rows = inTitle
    ? sheet.rows
    : sheet.rows.filter((r) => {
        const whole = `${sheet.title} ${r.join(" ")}`.toLowerCase();
        return words.every((w) => whole.includes(w));
      });
  return (
    <section id={`t-${sheet.id}`} className="scroll-mt-40 border-t-2 border-line py-3">
      <h2 className="text-2xl">{sheet.title}</h2>
      <p className="max-w-prose text-sm text-ink-2">{sheet.lead}</p>
      {sheet.id === "grades" && <GradePictures />}
      {sheet.id === "conducts" && <ConductsChart sheet={sheet} />}
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a wide table is scrolled by the keys */}
      <section className="overflow-x-auto" tabIndex={0} aria-label={`${sheet.title}, table`}>
        <table className="mt-1 min-w-full text-sm">
          <thead>
            <tr className="text-left align-bottom text-xs text-ink-2">
              {sheet.columns.map((c) => (
                <th key={c} scope="col" className="py-1 pr-4">
                  {c}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.join("|")} className="border-t border-hair align-baseline">
                {r.map((cell, k) =>
                  k === 0 ? (
                    <th
                      key={sheet.columns[0]}
                      scope="row"
                      className="py-1 pr-4 text-left font-semibold"
                    >
                      {cell}
                    </th>
                  ) : (
                    <td
                      key={sheet.columns[k]}
                      className={`py-1 pr-4 ${/^[\d.,]/.test(cell) ? "sign whitespace-nowrap text-base" : ""}`}
                    >
                      {cell}
                    </td>
                  ),
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <p className="mt-1 text-xs text-ink-2">Source: {sheet.source}</p>
    </section>
  );
}

function Checks({ checks, all }: { checks: readonly Check[]; all: number }) {
  return (
    <section id="t-checks" className="scroll-mt-40 border-t-2 border-line py-3">
      <h2 className="text-2xl">What is checked</h2>
      <p className="max-w-prose text-sm text-ink-2">
        {all} checks look at every plan. A stop blocks switching on. None replaces local codes or a
        licensed person.
      </p>
      <ul>
        {checks.map((c) => (
          <li
            key={c.id}
            className={`grid gap-x-4 border-t border-hair py-2 text-sm sm:grid-cols-[6rem_16rem_minmax(0,1fr)] ${
              c.severity === "stop" ? "border-l-4 border-l-stop pl-2" : ""
            }`}
          >
            <span className={c.severity === "stop" ? "font-semibold text-stop" : "font-semibold"}>
              {word(`severity.${c.severity}`)}
              <span className="block text-xs font-normal text-ink-2">{word(`part.${c.mark}`)}</span>
            </span>
            <span>
              <span className="font-semibold">{c.title}</span>
              <span className="block text-ink-2">{c.when}</span>
            </span>
            <span>
              {c.reason}
              {c.differ && <span className="block text-ink-2">{c.differ}</span>}
              <span className="block text-xs text-ink-2">{c.source}</span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
