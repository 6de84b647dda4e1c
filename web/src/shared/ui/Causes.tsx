import { OctagonX } from "lucide-react";
import { type ReactNode, useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { word } from "@/shared/words";

type CausesOut = Schemas["CausesOut"];
type AskOut = Schemas["AskOut"];
type SuspectOut = Schemas["SuspectOut"];
export type Mode = "mend" | "know";

interface Doing {
  /** What was met when something was asked. */
  answer: (ask: string, outcome: string) => void;
  /** A cause was mended; whether that was it. */
  mended: (cause: string, helped: boolean, note?: string) => void;
  /** Where it is under power: switched off, as the words beside it say. */
  off?: () => void;
  /** Where the bath itself can be looked at, as in practice: what is met is the answer. */
  look?: (ask: string) => void;
  /** What stands above the outcomes of an ask that can be done in a way of its own. */
  way?: (ask: string) => ReactNode;
  /** Why it could not be looked at. */
  refused?: string;
  busy: boolean;
}

/** The causes with their chances, and the one thing to do next. Stands on iron. */
export function Causes({
  found,
  mode,
  setMode,
  ...doing
}: { found: CausesOut; mode: Mode; setMode: (mode: Mode) => void } & Doing) {
  return (
    <div className="mt-2 space-y-3" data-causes>
      {found.off_now.map((d) => (
        <p key={d} role="alert" className="bg-stop p-3 text-lg text-on-stop" data-off-now>
          <strong>{word("matter.off_now")}</strong> {d}
        </p>
      ))}
      {found.fits_nothing && <FitsNothing {...doing} />}
      {found.next && (
        <Next ask={found.next} danger={found.danger} dangers={found.dangers} {...doing} />
      )}
      {!found.next && found.mend && (
        <MendNext cause={found.mend} again={found.once_more} {...doing} />
      )}
      <section aria-label={word("matter.likely")}>
        <h3 className="text-lg">{word("matter.likely")}</h3>
        <ol>
          {found.suspects.map((s) => (
            <Suspect key={s.id} s={s} {...doing} />
          ))}
          {found.unknown >= 0.03 && (
            <li className="flex min-h-11 items-center gap-3 border-t border-on-iron-2 py-1 text-sm">
              <Chance of={found.unknown} />
              {word("matter.unknown")}
            </li>
          )}
        </ol>
      </section>
      <Evidence found={found} />
      <Others asks={found.others} {...doing} />
      <fieldset className="flex flex-wrap gap-2">
        <legend className="sr-only">{word("matter.whole")}</legend>
        {(["mend", "know"] as const).map((m) => (
          <button
            key={m}
            type="button"
            aria-pressed={mode === m}
            className={`min-h-11 border px-3 text-sm ${mode === m ? "border-liquid text-liquid" : "border-on-iron-2"}`}
            onClick={() => setMode(m)}
          >
            {word(`matter.mode_${m}`)}
          </button>
        ))}
      </fieldset>
    </div>
  );
}

const percent = (chance: number) => Math.round(100 * chance);

function chanceWords(chance: number): string {
  const p = percent(chance);
  return p < 1 ? word("matter.unlikely") : word("matter.chance", { percent: p });
}

/** A chance as a number and as a bar, which says the same. */
function Chance({ of }: { of: number }) {
  return (
    <span className="w-20 shrink-0">
      <span className="sign block text-lg leading-none">{chanceWords(of)}</span>
      <span className="mt-1 block h-1.5 bg-on-iron-2/40" aria-hidden="true">
        <span
          className="block h-full bg-liquid"
          style={{ width: `${Math.max(percent(of), 1)}%` }}
        />
      </span>
    </span>
  );
}

function Next({
  ask,
  danger,
  dangers,
  ...doing
}: { ask: AskOut; danger: boolean; dangers: string[] } & Doing) {
  return (
    <section aria-label={word("matter.next")} data-ask={ask.id}>
      {danger && (
        <p className="mb-2 flex items-center gap-2 bg-stop p-2 text-on-stop">
          <OctagonX size={28} className="shrink-0" aria-hidden="true" />
          <span>
            {word("matter.danger_first")}{" "}
            {dangers.length > 0 && word("matter.dangers", { titles: dangers.join("; ") })}
          </span>
        </p>
      )}
      <p className="text-sm text-on-iron-2">
        {word("matter.next")}, {word("matter.cost", { minutes: ask.minutes })}
      </p>
      <Question ask={ask} {...doing} />
      <Outcomes ask={ask} {...doing} />
    </section>
  );
}

function Question({ ask, ...doing }: { ask: AskOut } & Doing) {
  return (
    <>
      <h3 className="text-xl">{ask.text}</h3>
      {ask.power === "on" && <p className="text-sm">{word("matter.power_on")}</p>}
      {ask.power === "off" && <p className="text-sm font-semibold">{word("matter.power_off")}</p>}
      {ask.power === "off" && <Off {...doing} />}
    </>
  );
}

/** Power off before hands go in: the press for it, beside the words. */
function Off({ off, busy }: Doing) {
  if (!off) return null;
  return (
    <button
      type="button"
      className="mt-2 min-h-14 w-full border-2 border-liquid bg-liquid px-3 text-lg text-on-liquid"
      disabled={busy}
      onClick={off}
    >
      {word("matter.off_done")}
    </button>
  );
}

function Outcomes({ ask, answer, look, way, refused, busy }: { ask: AskOut } & Doing) {
  if (look)
    return (
      <>
        <button
          type="button"
          className="mt-2 min-h-14 w-full border-2 border-liquid bg-liquid px-3 text-lg text-on-liquid"
          disabled={busy}
          data-look={ask.id}
          onClick={() => look(ask.id)}
        >
          {word("matter.look_there")}
        </button>
        {refused && (
          <p role="alert" className="mt-1 font-semibold">
            {refused}
          </p>
        )}
        <ul className="mt-2 text-sm">
          {ask.outcomes.map((o) => (
            <li key={o.id} className="border-t border-on-iron-2 py-1">
              <Met outcome={o} />
            </li>
          ))}
        </ul>
      </>
    );
  return (
    <div className="mt-2 grid gap-2">
      {way?.(ask.id)}
      {ask.outcomes.map((o) => (
        <button
          key={o.id}
          type="button"
          data-outcome={o.id}
          className="min-h-14 border-2 border-on-iron-2 px-3 py-2 text-left hover:border-liquid focus-visible:border-liquid"
          disabled={busy}
          onClick={() => answer(ask.id, o.id)}
        >
          <Met outcome={o} />
        </button>
      ))}
      <button
        type="button"
        data-outcome="cannot"
        className="min-h-11 px-3 text-left underline"
        disabled={busy}
        onClick={() => answer(ask.id, "cannot")}
      >
        {word("matter.cannot")}
      </button>
    </div>
  );
}

/** What may be met, and what it would mean. */
function Met({ outcome }: { outcome: AskOut["outcomes"][number] }) {
  return (
    <>
      <span className="block text-lg">{outcome.text}</span>
      {outcome.points_to.length > 0 && (
        <span className="block text-sm text-on-iron-2">
          {word("matter.then")}{" "}
          {outcome.points_to.map((p) => `${p.title} (${percent(p.chance)} %)`).join("; ")}
        </span>
      )}
    </>
  );
}

function MendNext({ cause, again, ...doing }: { cause: SuspectOut; again: boolean } & Doing) {
  if (cause.sound) return <NothingWrong cause={cause} {...doing} />;
  return (
    <section aria-label={word("matter.mend_next")} data-mend={cause.id}>
      <p className="text-sm text-on-iron-2">
        {word(again ? "matter.once_more" : "matter.mend_next")},{" "}
        {word("matter.cost", { minutes: cause.minutes })}
      </p>
      <h3 className="text-xl">{cause.title}</h3>
      <p>{cause.mend}</p>
      {cause.power === "off" && <Off {...doing} />}
      <Did cause={cause.id} {...doing} />
    </section>
  );
}

/** An answer as much as any: it is let run. */
function NothingWrong({ cause, ...doing }: { cause: SuspectOut } & Doing) {
  return (
    <section
      className="border-l-4 border-liquid pl-3"
      aria-label={word("matter.nothing_wrong")}
      data-mend={cause.id}
    >
      <h3 className="text-xl">{word("matter.nothing_wrong")}</h3>
      <p>{cause.mend}</p>
      <Did cause={cause.id} well={word("matter.let_run")} {...doing} />
    </section>
  );
}

/** None of the causes, or all were tried: what to do, and what it turns out to have been. */
function FitsNothing({ mended, busy }: Doing) {
  const [was, setWas] = useState("");
  return (
    <section className="border-l-4 border-liquid pl-3" aria-label={word("matter.fits_nothing")}>
      <h3 className="text-xl">{word("matter.fits_nothing")}</h3>
      <p>{word("matter.unknown_why")}</p>
      <label className="mt-2 block text-sm">
        {word("field.entry.cause")}
        <input
          className="mt-1 block min-h-12 w-full border-2 border-on-iron-2 bg-iron px-3 text-lg"
          value={was}
          maxLength={1000}
          onChange={(e) => setWas(e.target.value)}
        />
      </label>
      <button
        type="button"
        className="mt-2 min-h-14 w-full border-2 border-liquid bg-liquid px-3 text-lg text-on-liquid"
        disabled={busy}
        onClick={() => mended("unknown", true, was.trim())}
      >
        {word("matter.unknown_was")}
      </button>
    </section>
  );
}

/** What became of a mend. */
function Did({ cause, well, mended, busy }: { cause: string; well?: string } & Doing) {
  return (
    <div className="mt-2 grid gap-2 sm:grid-cols-2">
      {([true, false] as const).map((helped) => (
        <button
          key={String(helped)}
          type="button"
          className={`min-h-14 border-2 px-3 text-lg ${helped ? "border-liquid bg-liquid text-on-liquid" : "border-on-iron-2"}`}
          disabled={busy}
          onClick={() => mended(cause, helped)}
        >
          {helped && well ? well : word(helped ? "matter.it_was" : "matter.not_that")}
        </button>
      ))}
    </div>
  );
}

function Suspect({ s, ...doing }: { s: SuspectOut } & Doing) {
  return (
    <li className="border-t border-on-iron-2" data-suspect={s.id}>
      <details>
        <summary className="flex min-h-12 cursor-pointer items-center gap-3 py-1">
          <Chance of={s.chance} />
          <span className="min-w-0 flex-1">
            {s.danger && (
              <OctagonX size={18} className="mr-1 inline text-liquid" aria-label="Danger" />
            )}
            {s.title}
          </span>
        </summary>
        <div className="space-y-2 pb-3 text-sm">
          <Speaks label={word("matter.for")} items={s.pro} />
          <Speaks label={word("matter.against")} items={s.con} />
          <p className="text-base">{s.mend}</p>
          <Did cause={s.id} {...doing} />
        </div>
      </details>
    </li>
  );
}

function Speaks({ label, items }: { label: string; items: string[] }) {
  if (!items.length) return null;
  return (
    <p>
      <strong>{label}:</strong> {items.join("; ")}
    </p>
  );
}

function Evidence({ found }: { found: CausesOut }) {
  return (
    <div className="text-sm text-on-iron-2">
      <p>{found.expects.join(", ")}.</p>
      {found.evidence.length > 0 && <p>{found.evidence.join(" · ")}</p>}
      {found.tried.length > 0 && (
        <p>
          {word("matter.tried")}: {found.tried.join("; ")}
        </p>
      )}
    </div>
  );
}

/** Everything else that can be asked, for whoever has it at hand already. */
function Others({ asks, ...doing }: { asks: AskOut[] } & Doing) {
  const [open, setOpen] = useState("");
  if (!asks.length) return null;
  const chosen = asks.find((a) => a.id === open);
  return (
    <Fold title={word("matter.else")}>
      <ul>
        {asks.map((a) => (
          <li key={a.id} className="border-t border-on-iron-2">
            <button
              type="button"
              className="min-h-11 w-full py-1 text-left"
              aria-expanded={a.id === open}
              onClick={() => setOpen(a.id === open ? "" : a.id)}
            >
              {a.text}
            </button>
            {a === chosen && (
              <div className="pb-3">
                {a.power === "off" && (
                  <p className="text-sm font-semibold">{word("matter.power_off")}</p>
                )}
                <Outcomes
                  {...doing}
                  ask={a}
                  answer={(id, outcome) => {
                    setOpen("");
                    doing.answer(id, outcome);
                  }}
                />
              </div>
            )}
          </li>
        ))}
      </ul>
    </Fold>
  );
}

function Fold({ title, children }: { title: string; children: ReactNode }) {
  return (
    <details>
      <summary className="min-h-11 cursor-pointer py-2">{title}</summary>
      {children}
    </details>
  );
}
