import { Cable, CircleAlert } from "lucide-react";
import { useMemo, useState } from "react";
import type { RunOut } from "@/shared/api/client";
import { useNow } from "@/shared/useNow";
import { word } from "@/shared/words";
import { LinkPanel } from "./LinkPanel";
import { joined, Strip } from "./Strip";
import { type LineState, type Sample, useLink, useLive, useSamples } from "./useLive";

const SPANS: readonly [string, number | null][] = [
  ["10 min", 600],
  ["1 h", 3600],
  ["12 h", 43_200],
  ["All", null],
];
const CHANNELS = ["amps", "volts", "bath_c"] as const;

/** What the supply or meter on the line says: now in large figures, and over time. */
export function OnTheLine({ run }: { run: RunOut }) {
  const link = useLink(run.id);
  const over = run.state === "closed" || run.state === "abandoned";
  const [open, setOpen] = useState(false);
  const [span, setSpan] = useState<number | null>(600);
  const live = useLive(run.id, !over && Boolean(link.data));
  const history = useSamples(run.id, span, 700);
  const count = history.data?.count ?? 0;
  if (link.isPending || (over && !count)) return null;
  const some = count > 0 || live.samples.length > 0;
  return (
    <section className="sheet space-y-2" aria-label={word("listen.title")} data-line>
      <div className="flex items-baseline justify-between gap-3">
        <h2 className="text-xl">{word("listen.title")}</h2>
        {link.data && (
          <Standing line={live.line} away={live.away} pushed={!link.data.document.address} />
        )}
      </div>
      {live.line?.state === "lost" && (
        <p role="alert" className="flex gap-2 border-l-4 border-stop p-2">
          <CircleAlert className="shrink-0" aria-hidden="true" />
          <span>
            <strong>{word("listen.lost")}</strong> {live.line.why}
          </span>
        </p>
      )}
      {live.line?.state === "off" && run.state === "running" && (
        <p role="alert" className="border-l-4 border-stop p-2">
          <strong>{word("listen.off_here")}</strong> {live.line.why}
        </p>
      )}
      {(run.state === "paused" || run.state === "ready") &&
        (live.samples.at(-1)?.amps ?? 0) > 0.05 && (
          <p role="alert" className="border-l-4 border-stop p-2 font-semibold">
            {word("listen.on_here")}
          </p>
        )}
      {(link.data?.reacts_s ?? 0) > 5 && (
        <p className="text-sm font-semibold">
          {word("listen.slow", { s: Math.round(link.data?.reacts_s ?? 0) })}
        </p>
      )}
      {some && <Now sample={live.samples.at(-1)} units={units(history.data)} />}
      {some && history.data && (
        <>
          <Strips
            series={history.data.series}
            came={live.samples}
            span={span}
            first={history.data.first ?? null}
          />
          <fieldset className="flex gap-1" aria-label={word("listen.span")}>
            {SPANS.map(([name, seconds]) => (
              <button
                key={name}
                type="button"
                className={`btn btn-small flex-1 ${span === seconds ? "bg-liquid text-on-liquid" : ""}`}
                aria-pressed={span === seconds}
                onClick={() => setSpan(seconds)}
              >
                {name}
              </button>
            ))}
          </fieldset>
          <p className="flex flex-wrap justify-between gap-x-4 text-xs text-ink-2">
            <span>
              <i className="inline-block h-2.5 w-5 bg-liquid opacity-40" aria-hidden="true" />{" "}
              {word("listen.expected")}
              {history.data.width_s > 0 &&
                `; ${word("listen.rolled", { s: history.data.width_s })}`}
            </span>
            <span>
              {history.data.apart > 0 && `${word("listen.apart", { count: history.data.apart })} `}
              <a className="underline" href={`/api/runs/${run.id}/samples.csv`} download>
                {word("listen.export")}
              </a>
            </span>
          </p>
        </>
      )}
      {!link.data && !open && <p className="text-sm text-ink-2">{word("listen.none")}</p>}
      {!over && !open && (
        <button type="button" className="btn btn-small" onClick={() => setOpen(true)}>
          <Cable size={18} aria-hidden="true" />
          {word(link.data ? "listen.change" : "listen.hang")}
        </button>
      )}
      {open && <LinkPanel run={run} link={link.data ?? null} done={() => setOpen(false)} />}
    </section>
  );
}

function Standing({
  line,
  away,
  pushed,
}: {
  line: LineState | null;
  away: boolean;
  pushed: boolean;
}) {
  const state = away ? "away" : pushed ? "pushed" : (line?.state ?? "waiting");
  return (
    <span
      className={`sign px-1.5 ${state === "linked" ? "bg-liquid text-on-liquid" : "border border-line"}`}
      data-line-state={state}
    >
      {word(`listen.state.${state}`)}
    </span>
  );
}

type Units = Partial<Record<(typeof CHANNELS)[number], string>>;

function units(drawn: { series: { key: string; unit: string }[] } | undefined): Units {
  return Object.fromEntries((drawn?.series ?? []).map((s) => [s.key, s.unit]));
}

/** The newest sample in large figures; a stale one says how old it is. */
function Now({ sample, units }: { sample: Sample | undefined; units: Units }) {
  const now = useNow(1000);
  if (!sample) return null;
  const old = Math.round((now.getTime() - sample.at_ms) / 1000);
  const shown: [string, number | null, string, number][] = [
    [word("listen.channel.amps"), sample.amps, units.amps ?? "A", 3],
    [word("listen.channel.volts"), sample.volts, units.volts ?? "V", 3],
    [word("listen.channel.bath_c"), sample.bath_c, units.bath_c ?? "°C", 3],
  ];
  return (
    <dl className={`flex flex-wrap gap-x-5 ${old > 10 ? "text-ink-2" : ""}`} data-now>
      {shown.map(([name, value, unit, digits]) =>
        value === null ? null : (
          <div key={name}>
            <dt className="text-xs text-ink-2">{name}</dt>
            <dd className="sign text-3xl">
              {value.toPrecision(digits)} <span className="text-lg">{unit}</span>
            </dd>
          </div>
        ),
      )}
      {old > 10 && (
        <p className="self-end text-sm font-semibold">{word("listen.old", { s: old })}</p>
      )}
      {sample.why && (
        <p role="alert" className="w-full text-sm font-semibold text-stop">
          {word(`sample.${sample.why}`)}. {word(`sample_mend.${sample.why}`)}
        </p>
      )}
    </dl>
  );
}

function Strips({
  series,
  came,
  span,
  first,
}: {
  series: Parameters<typeof joined>[0][];
  came: Sample[];
  span: number | null;
  first: string | null;
}) {
  const now = useNow(1000);
  const lines = useMemo(
    () =>
      CHANNELS.map((key) => {
        const one = series.find((s) => s.key === key);
        if (!one) return null;
        const since = came.filter((c) => !c.why).map((c) => ({ at_ms: c.at_ms, value: c[key] }));
        const line = joined(one, since);
        return line.values.some((v) => v !== null) ? { key, unit: one.unit, line } : null;
      }).filter((l) => l !== null),
    [series, came],
  );
  const to = now.getTime() / 1000;
  const oldest = first ? new Date(first).getTime() / 1000 : to - 600;
  const from = span === null ? oldest : to - span;
  return (
    <div className="space-y-1" data-strips>
      {lines.map(({ key, unit, line }, k) => (
        <div key={key}>
          <p className="text-xs text-ink-2">
            {word(`listen.channel.${key}`)}, {unit}
          </p>
          <Strip
            line={line}
            from={from}
            to={to}
            axis={k === lines.length - 1}
            name={word(`listen.channel.${key}`)}
            height={k === lines.length - 1 ? 96 : k === 0 ? 96 : 70}
          />
        </div>
      ))}
    </div>
  );
}
