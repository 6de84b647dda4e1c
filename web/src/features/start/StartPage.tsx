import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { RadioGroup } from "radix-ui";
import { type ReactNode, useId } from "react";
import { Link, useNavigate } from "react-router";
import { api, ask, keys, type Schemas, type Thing, type ThingOut } from "@/shared/api/client";
import { hasDraft } from "@/shared/api/drafts";
import { Radios } from "@/shared/form/Radios";
import { ShapeIcon, ShapePicture } from "@/shared/shapes/ShapePicture";
import { letterOf } from "@/shared/shapes/sizes";
import { GradeIcon } from "@/shared/ui/GradePicture";
import { Loading, Trouble } from "@/shared/ui/States";
import { known, options, word } from "@/shared/words";
import { SupplyIcon, VesselIcon } from "./Pictures";
import { type First, useFirst } from "./useFirst";

type Begun = Schemas["BegunOut"];
type Typed = "sizes" | "weighs" | "holds" | "label" | "dose";

/** A few questions, and the answer beside them from the first one on. */
export function StartPage({ intro }: { intro?: ReactNode }) {
  const settings = useQuery({ queryKey: keys.settings, queryFn: () => ask(api.GET("/api/shop")) });
  const { first, say, forget, begun, behind } = useFirst(settings.data?.system);
  const told = begun.data;
  if (settings.error)
    return <Trouble error={settings.error} again={() => void settings.refetch()} />;
  if (!settings.data) return <Loading what="the shop" />;
  const ask1 = (name: Typed) => ({
    name,
    first,
    say,
    told,
    behind,
  });
  return (
    <div className="mx-auto grid max-w-[1280px] grid-cols-[minmax(0,1fr)] gap-x-8 p-3 sm:p-5 lg:grid-cols-[minmax(0,1fr)_23rem]">
      <div className="min-w-0 space-y-6 pb-40 lg:pb-8">
        {intro}
        <header className="flex items-baseline gap-x-4">
          <h1 className="mr-auto text-2xl sm:text-3xl">{word("begin.title.first")}</h1>
          <Units first={first} say={say} />
        </header>
        <section className="sheet space-y-4" aria-label={word("begin.title.piece")}>
          <Pictures
            label={word("begin.field.kind")}
            at="kind"
            value={first.kind ?? ""}
            options={options("shape.kind").filter(([kind]) => kind !== "mesh")}
            draw={(kind) => <ShapeIcon shape={kind} />}
            onPick={(kind) => say({ kind })}
          />
          {first.kind && told && told.asked.length > 0 && (
            <ShapePicture
              shape={first.kind}
              only={told.asked.map((n) => letterOf(first.kind ?? "", n))}
              letters={told.asked.map((n) => sizeWord(first.kind ?? "", n))}
            />
          )}
          <div className="grid gap-x-4 gap-y-3 sm:grid-cols-[3fr_2fr]">
            <Words {...ask1("sizes")} />
            <Words {...ask1("weighs")} />
          </div>
          <h2 className="text-xl">{word("begin.known")}</h2>
          <div className="grid gap-4 sm:grid-cols-2">
            {(["metal", "hollow", "grease", "paint"] as const).map((name) => (
              <Row key={name} name={name} first={first} say={say} />
            ))}
          </div>
          <Pictures
            label={word("field.piece.grade")}
            at="grade"
            value={first.grade ?? ""}
            options={options("piece.grade")}
            draw={(grade) => <GradeIcon grade={grade} />}
            onPick={(grade) => say({ grade: grade as First["grade"] })}
            wide
          />
          <Row name="aim" first={first} say={say} />
        </section>
        <section className="sheet space-y-4" aria-label={word("begin.title.vessel")}>
          <Own of="tank" first={first} say={say} />
          <Pictures
            label={word("begin.title.vessel")}
            at="vessel"
            value={first.tank ? "" : (first.vessel ?? "")}
            options={options("begin.vessel")}
            draw={(vessel) => <VesselIcon vessel={vessel} />}
            onPick={(vessel) => say({ vessel, ...without(first, "tank") })}
          />
          {!first.tank && <Words {...ask1("holds")} />}
          {told?.read && !first.tank && first.holds && !told.faults.holds && (
            <Keep key={first.holds} thing={tankOf(told)} />
          )}
        </section>
        <section className="sheet space-y-4" aria-label={word("begin.title.feeds")}>
          <Own of="supply" first={first} say={say} />
          <Pictures
            label={word("begin.title.feeds")}
            at="feeds"
            value={first.supply ? "" : (first.feeds ?? "")}
            options={options("supply.kind")}
            draw={(kind) => <SupplyIcon kind={kind} />}
            onPick={(feeds) => say({ feeds, ...without(first, "supply") })}
          />
          {first.feeds === "unknown" && <Unsure />}
          {!first.supply && <Words {...ask1("label")} />}
          {told?.read && !first.supply && first.label && !told.faults.label && (
            <Keep key={first.label} thing={supplyOf(told)} />
          )}
        </section>
        <section className="sheet space-y-4" aria-label={word("begin.title.mix")}>
          <h2 className="text-xl">{word("begin.title.mix")}</h2>
          <Row name="product" part="mix" first={first} say={say} />
          <Words {...ask1("dose")} />
          {told?.read?.answer?.amount && (
            <ul className="flex flex-wrap gap-x-4 text-sm">
              {told.read.answer.amount.ways.map((w) => (
                <li key={w}>{w}</li>
              ))}
            </ul>
          )}
        </section>
        <p className="flex flex-wrap gap-x-2 gap-y-1">
          {hasDraft("new") && (
            <Link to="/plans/whole" className="btn btn-small">
              {word("begin.draft")}
            </Link>
          )}
          <Link to="/plans/whole" className="btn btn-small btn-bare min-h-11 underline">
            {word("begin.whole")}
          </Link>
          <button
            type="button"
            className="btn btn-small btn-bare min-h-11 underline"
            onClick={forget}
          >
            {word("begin.again")}
          </button>
        </p>
      </div>
      <Answer first={first} told={told} behind={behind} error={begun.error} forget={forget} />
    </div>
  );
}

/** What this is, for who has never seen it. */
export function Intro() {
  return (
    <p className="max-w-prose">
      Put a rusty piece in soda water, some scrap steel beside it, and a charger between: + to the
      scrap, − to the piece. Rust lets go and washes off. Say what you know; the rest is assumed,
      and said to be.
    </p>
  );
}

/** How to tell a plain charger from one that waits for a battery, by its face and by a lamp. */
function Unsure() {
  return (
    <div className="flex flex-wrap items-center gap-x-6 gap-y-2 text-sm" data-unsure>
      {(["transformer", "smart"] as const).map((kind) => (
        <figure key={kind} className="m-0 flex w-60 items-center gap-3">
          <span className="block w-20 shrink-0">
            <SupplyIcon kind={kind} />
          </span>
          <figcaption>{word(`begin.tell.${kind}`)}</figcaption>
        </figure>
      ))}
      <p className="max-w-prose">{word("begin.unsure")}</p>
    </div>
  );
}

const sizeWord = (kind: string, name: string) => {
  const own = `field.shape.${kind}.${name}`;
  return word(known(own) ? own : `field.shape.${name}`);
};

/** What is left of the kit once a thing of a role is typed instead. */
function without(first: First, role: "tank" | "supply"): Partial<First> {
  return { [role]: null, kit: (first.kit ?? []).filter((k) => k.role !== role) };
}

/** What follows from what was said so far: a question back, or the one answer and the way on. */
function Answer({
  first,
  told,
  behind,
  error,
  forget,
}: {
  first: First;
  told: Begun | undefined;
  behind: boolean;
  error: Error | null;
  forget: () => void;
}) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const open = useMutation({
    // what was typed last counts, though its answer may not be here yet
    mutationFn: async () => {
      const fresh = await ask(api.POST("/api/plans/begin", { body: first }));
      if (!fresh.read) throw new Error(fresh.question || Object.values(fresh.faults).join(" "));
      return ask(api.POST("/api/plans", { body: { document: { ...fresh.read.document } } }));
    },
    onSuccess: (plan) => {
      forget();
      void queries.invalidateQueries({ queryKey: keys.plans });
      navigate(`/plans/${plan.id}`);
    },
  });
  const answer = told?.read?.answer;
  const faulty = told ? Object.keys(told.faults).length > 0 : false;
  return (
    <aside
      aria-label="Answer"
      aria-busy={behind}
      data-answer
      className="fixed inset-x-0 bottom-[88px] z-30 max-h-[45dvh] overflow-y-auto border-t-4 border-liquid bg-sheet px-3 py-2 sm:bottom-0 lg:sticky lg:top-[108px] lg:bottom-auto lg:max-h-none lg:self-start lg:border-t-2 lg:border-t-line lg:p-4"
    >
      {error && !told && <Trouble error={error} />}
      {told?.question && (
        <p role="status" className="sign text-xl lg:text-2xl" data-question>
          {told.question}
        </p>
      )}
      {answer && (
        <dl className={`lg:mt-2 lg:space-y-2 ${behind ? "opacity-60" : ""}`} data-line>
          {answer.line.map((p) => (
            <div
              key={p.part}
              data-part={p.part}
              className={`flex items-baseline gap-2 lg:block ${
                LATER.has(p.part) && !p.stop ? "max-lg:hidden" : ""
              }`}
            >
              <dt className="w-16 shrink-0 text-sm text-ink-2 lg:w-auto">{p.name}</dt>
              <dd
                className={`sign text-lg lg:text-2xl ${p.stop ? "bg-stop px-1.5 text-on-stop" : ""}`}
              >
                {p.text}
              </dd>
            </div>
          ))}
        </dl>
      )}
      {told?.read && !answer && <p className="sign text-xl">{told.read.trouble}</p>}
      {told?.read && (
        <button
          type="button"
          className="btn btn-main mt-2 w-full text-lg lg:mt-4"
          disabled={(faulty && !behind) || open.isPending}
          onClick={() => open.mutate()}
        >
          {word("begin.go")}
        </button>
      )}
      {open.error && <Trouble error={open.error} />}
    </aside>
  );
}

// on a phone the rest is a press away
const LATER = new Set(["scrap", "look"]);

/** One of a few by its picture. */
function Pictures({
  label,
  at,
  value,
  options: offered,
  draw,
  onPick,
  wide = false,
}: {
  label: string;
  at: string;
  value: string;
  options: readonly (readonly [string, string])[];
  draw: (value: string) => ReactNode;
  onPick: (value: string) => void;
  wide?: boolean;
}) {
  const id = useId();
  return (
    <div>
      <h2 id={id} className="mb-1.5 text-xl">
        {label}
      </h2>
      <RadioGroup.Root
        aria-labelledby={id}
        data-first={at}
        value={value}
        onValueChange={onPick}
        className={`grid gap-1.5 ${wide ? "grid-cols-2 sm:grid-cols-4" : "grid-cols-4 sm:grid-cols-6"}`}
      >
        {offered.map(([v, text]) => (
          <RadioGroup.Item
            key={v}
            value={v}
            className="choice flex min-h-[5.25rem] flex-col items-center justify-between gap-1 px-0.5 text-center text-xs leading-tight sm:px-1 sm:text-sm"
          >
            <span className="block w-full bg-sheet px-0.5 py-0.5 text-ink">{draw(v)}</span>
            {text}
          </RadioGroup.Item>
        ))}
      </RadioGroup.Root>
    </div>
  );
}

/** One tap of what is known of the piece; none is "don't know". */
function Row({
  name,
  part = "piece",
  first,
  say,
}: {
  name: "metal" | "hollow" | "grease" | "paint" | "aim" | "product";
  part?: string;
  first: First;
  say: (more: Partial<First>) => void;
}) {
  const id = useId();
  return (
    <div>
      <h3 id={id} className={name === "aim" ? "mb-1.5 text-xl" : "mb-1 text-sm font-semibold"}>
        {word(`field.${part}.${name}`)}
      </h3>
      <Radios
        labelledby={id}
        at={name}
        value={first[name] ?? ""}
        options={options(`${part}.${name}`)}
        onPick={(value) => say({ [name]: value })}
      />
    </div>
  );
}

/** A text with what was read of it under it, or why it cannot be read. */
function Words({
  name,
  first,
  say,
  told,
  behind,
}: {
  name: Typed;
  first: First;
  say: (more: Partial<First>) => void;
  told: Begun | undefined;
  behind: boolean;
}) {
  const id = useId();
  const text = first[name] ?? "";
  const fault = !behind && text ? told?.faults[name] : undefined;
  const heard = told?.heard[name];
  const bare = told?.bare[name === "weighs" ? "mass" : "length"] ?? "";
  return (
    <div>
      <label htmlFor={id} className="block text-sm font-semibold">
        {word(`begin.field.${name}`)}
      </label>
      <input
        id={id}
        className="field min-h-11"
        value={text}
        data-first={name}
        autoComplete="off"
        spellCheck={false}
        aria-invalid={fault ? true : undefined}
        aria-describedby={`${id}-d`}
        onChange={(e) => say({ [name]: e.target.value })}
      />
      <p
        id={`${id}-d`}
        className={`mt-1 text-sm ${fault ? "font-semibold text-stop" : "text-ink-2"}`}
        role={fault ? "status" : undefined}
      >
        {fault ??
          heard ??
          word(name === "dose" ? "hint.mix.concentration_kg_m3" : `begin.hint.${name}`, {
            unit: bare,
          })}
      </p>
    </div>
  );
}

function Units({ first, say }: { first: First; say: (more: Partial<First>) => void }) {
  return (
    <label className="flex items-center gap-1 text-sm">
      Units
      <select
        className="field min-h-9 !w-auto"
        value={first.system}
        onChange={(e) => say({ system: e.target.value as First["system"] })}
      >
        <option value="metric">metric</option>
        <option value="us">US</option>
        <option value="imperial">imperial</option>
      </select>
    </label>
  );
}

/** Things of the shop's own, where it has some. */
function Own({
  of: role,
  first,
  say,
}: {
  of: "tank" | "supply";
  first: First;
  say: (more: Partial<First>) => void;
}) {
  const kit = useQuery({ queryKey: keys.kit, queryFn: () => ask(api.GET("/api/kit")) });
  const things = (kit.data ?? []).filter((t) => t.read.thing.detail.kind === role);
  if (!things.length) return null;
  const taken = first.kit?.find((k) => k.role === role)?.ref;
  const take = (t: ThingOut) => {
    const d = t.read.thing.detail;
    if (taken === t.id) return say(without(first, role));
    const kept = (first.kit ?? []).filter((k) => k.role !== role);
    const ref = [...kept, { role, ref: t.id }];
    if (d.kind === "tank")
      say({ tank: { ...d.tank, name: t.read.thing.name } as Schemas["Tank"], kit: ref });
    if (d.kind === "supply") say({ supply: d.supply ?? null, kit: ref });
  };
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      <span className="text-sm font-semibold">{word("begin.own")}</span>
      {things.map((t) => (
        <button
          key={t.id}
          type="button"
          className="choice"
          aria-pressed={taken === t.id}
          data-state={taken === t.id ? "checked" : "unchecked"}
          onClick={() => take(t)}
        >
          {t.read.thing.name}
        </button>
      ))}
    </div>
  );
}

type Made = { name: string; detail: Thing["detail"] };

const tankOf = (told: Begun): Made => {
  const tank = told.read?.document.tank as Schemas["Tank"];
  return {
    name: `${tank.name} ${told.heard.holds?.split(",")[1]?.split(" to ")[0] ?? ""}`.trim(),
    detail: { kind: "tank", tank },
  };
};

const supplyOf = (told: Begun): Made => {
  const supply = told.read?.document.supply as NonNullable<Schemas["Plan"]["supply"]>;
  const name = `${word(`choice.supply.kind.${supply.kind}`)}, ${told.heard.label ?? ""}`;
  return { name: name.replace(/\.$/, "").slice(0, 60), detail: { kind: "supply", supply } };
};

/** What was named here goes into the kit with one press. */
function Keep({ thing }: { thing: Made }) {
  const queries = useQueryClient();
  const keep = useMutation({
    mutationFn: () => ask(api.POST("/api/kit", { body: { thing: { ...thing } } })),
    onSuccess: () => void queries.invalidateQueries({ queryKey: keys.kit }),
  });
  return (
    <p className="flex flex-wrap items-center gap-3 text-sm">
      <button
        type="button"
        className="btn btn-small"
        disabled={keep.isPending || keep.isSuccess}
        onClick={() => keep.mutate()}
      >
        {word(keep.isSuccess ? "begin.kept" : "begin.keep")}
      </button>
      {keep.error && <span className="font-semibold text-stop">{keep.error.message}</span>}
    </p>
  );
}
