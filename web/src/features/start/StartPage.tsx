import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { api, ask, keys } from "@/shared/api/client";
import { hasDraft } from "@/shared/api/drafts";
import { practiceId } from "@/shared/clock";
import { ShapeIcon, ShapePicture } from "@/shared/shapes/ShapePicture";
import { GradeIcon } from "@/shared/ui/GradePicture";
import { Loading, Trouble } from "@/shared/ui/States";
import { usePainted } from "@/shared/usePainted";
import { known, options, word } from "@/shared/words";
import { Answer } from "./Answer";
import { Pictures, Row, type Typed, Units, Words } from "./Asked";
import { Likely } from "./Likely";
import { Keep, Own, Scoops, supplyOf, without } from "./Own";
import { SupplyIcon } from "./Pictures";
import { type First, useFirst } from "./useFirst";
import { Vessel } from "./Vessel";

/** A few questions, and the answer beside them from the first one on. */
export function StartPage({ intro }: { intro?: ReactNode }) {
  const settings = useQuery({ queryKey: keys.settings, queryFn: () => ask(api.GET("/api/shop")) });
  const { first, say, forget, begun, behind } = useFirst(settings.data?.system);
  const told = begun.data;
  const painted = usePainted(); // the first questions stand before what lies below them is drawn
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
              sizes={told.asked}
              names={told.asked.map((n) => sizeWord(first.kind ?? "", n))}
            />
          )}
          <div className="grid gap-x-4 gap-y-3 sm:grid-cols-[3fr_2fr]">
            <Words {...ask1("sizes")} />
            <Words {...ask1(first.kind === "pile" ? "many" : "weighs")} />
            <Words {...ask1("name")} />
          </div>
          {painted && (
            <>
              <h2 className="text-xl">{word("begin.known")}</h2>
              <div className="grid gap-4 sm:grid-cols-2">
                {KNOWN.filter((name) => !told?.unlikely.includes(name)).map((name) => (
                  <Row key={name} name={name} first={first} say={say} />
                ))}
                {LIKELY.map((name) => (
                  <Likely key={name} name={name} told={told?.likely} first={first} say={say} />
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
              <Likely name="use" told={told?.likely} first={first} say={say} />
            </>
          )}
        </section>
        {painted && (
          <>
            <Vessel first={first} say={say} told={told} behind={behind} />
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
                <Keep key={first.label} thing={supplyOf(told)} behind={behind} />
              )}
            </section>
            <section className="sheet space-y-4" aria-label={word("begin.title.mix")}>
              <h2 className="text-xl">{word("begin.title.mix")}</h2>
              <Row name="product" part="mix" first={first} say={say} />
              <Words {...ask1("dose")} />
              <Scoops scoops={settings.data.scoops ?? []} first={first} say={say} />
              {(told?.scoop || first.scoop) && <Words {...ask1("scoop")} />}
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
          </>
        )}
      </div>
      <Answer first={first} told={told} behind={behind} error={begun.error} forget={forget} />
    </div>
  );
}

const KNOWN = ["metal", "hollow", "grease", "paint"] as const;
const LIKELY = ["side", "coats", "parts", "metals"] as const;

/** What this is, for who has never seen it. */
export function Intro() {
  return (
    <div className="max-w-prose">
      <p>
        Put a rusty piece in soda water, some scrap steel beside it, and a charger between: + to the
        scrap, − to the piece. Rust lets go and washes off. Tell us what you know. We guess the rest
        and mark every guess.
      </p>
      {!practiceId() && (
        <Link to="/practice" className="inline-flex min-h-11 items-center underline">
          {word("practice.start_link")}
        </Link>
      )}
    </div>
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
