import type { Plan } from "@/shared/api/client";
import { freshId } from "@/shared/api/outbox";
import { usePlan, valueAt } from "@/shared/form/context";
import { Amount, Ask, Choice } from "@/shared/form/fields";
import { More, Row } from "@/shared/form/layout";
import { Num } from "@/shared/ui/Num";
import { capital, options, said, word } from "@/shared/words";
import { FromKit } from "./FromKit";
import { ScrapJudge } from "./ScrapJudge";
import { Section } from "./Section";

export function ScrapSection() {
  const { doc, read, put } = usePlan();
  const f = read?.answer?.figures;
  const gap = f?.["scrap.gap"];
  const ring = doc.layout?.arrangement === "ring";
  const byHand = doc.layout?.arrangement === "by_hand";
  const kind = String(valueAt(doc, "/anodes/*/kind") ?? "");
  const placed = (doc.anodes ?? []).some((a) => a.kind === "rod" || a.kind === "plate");
  const is = (...kinds: string[]) => (doc.anodes ?? []).some((a) => kinds.includes(a.kind));
  const tubes = (doc.pieces ?? []).filter((p) => p.shape?.kind === "tube");
  return (
    <Section
      id="scrap"
      title="Scrap"
      lead="The plus side (anodes): plain steel or iron, plenty of it."
    >
      <FromKit of="anode" />
      <Choice at="/anodes/*/material" />
      <ScrapJudge />
      <Choice
        at="/anodes/*/kind"
        options={options("anode.kind").filter(([v]) => v !== "bore" || tubes.length > 0)}
        onPick={(v) => {
          const tube = tubes.at(-1)?.id ?? null;
          const piece = v === "bore" ? tube : null;
          put(
            "/anodes",
            (doc.anodes ?? []).map((a) => ({ ...a, kind: v, piece })),
          );
        }}
      />
      {kind === "bore" && tubes.length > 1 && (
        <Choice
          at="/anodes/*/piece"
          options={tubes.map((p, k) => [p.id, p.name || `Tube ${k + 1}`] as const)}
        />
      )}
      {placed && (
        <Choice
          at="/layout/arrangement"
          onPick={(v) => {
            if (v === "by_hand" && read?.document) put("/anodes", read.document.anodes);
            put("/layout/arrangement", v);
          }}
        />
      )}
      <Row>
        {ring && placed && <Amount at="/layout/count" />}
        {is("rod", "ring", "bore") && <Amount at="/anodes/*/diameter_m" />}
        {is("plate", "floor") && (
          <>
            <Amount at="/anodes/*/width_m" />
            {is("floor") && <Amount at="/anodes/*/depth_m" />}
            <Amount at="/anodes/*/thickness_m" />
          </>
        )}
        {((placed && !byHand) || is("ring")) && <Amount at="/layout/wall_gap_m" />}
        {kind !== "bore" && <Amount at="/anodes/*/floor_gap_m" />}
      </Row>
      {byHand && <Spots />}
      <AddScrap tube={tubes.at(-1)?.id ?? null} />
      <More title="More about the scrap: perforated sheet, sleeves, a poor clip">
        <Row>
          {is("plate", "floor") && <Amount at="/anodes/*/open_share" />}
          {is("rod", "plate") && <Amount at="/anodes/*/sleeve_m" />}
          <Amount at="/anodes/*/contact_ohm" />
        </Row>
      </More>
      {gap && (
        <p className="text-sm">
          Least gap between scrap and piece: <Num f={gap} className="text-xl" />
          {f?.["scrap.scrape"] && (
            <>
              ; scrape all of it after <Num f={f["scrap.scrape"]} className="text-lg" />
            </>
          )}
          {f?.["scrap.life"] && (
            <>
              ; half worn after <Num f={f["scrap.life"]} className="text-lg" />
            </>
          )}
        </p>
      )}
      <Ask at="/layout/joint_clear" />
    </Section>
  );
}

/** Where each anode stands, from the tank's middle; one can be added or taken away. */
function Spots() {
  const { doc, put } = usePlan();
  const anodes = doc.anodes ?? [];
  return (
    <div className="space-y-2">
      {anodes.map((anode, k) => (
        <div
          // biome-ignore lint/suspicious/noArrayIndexKey: its place in the list is its pointer
          key={k}
          className="grid grid-cols-[2rem_1fr_1fr] items-end gap-x-3 gap-y-1 border-t border-hair pt-1 sm:grid-cols-[2rem_1fr_1fr_1fr_auto]"
        >
          <span className="sign pb-2 text-lg" title={said("anode.kind", anode.kind)}>
            {k + 1}
          </span>
          <Metal k={k} />
          <Amount at={`/anodes/${k}/x_m`} />
          <Amount at={`/anodes/${k}/y_m`} />
          <button
            type="button"
            className="btn btn-small"
            disabled={anodes.length === 1}
            aria-label={`Remove number ${k + 1}`}
            onClick={() =>
              put(
                "/anodes",
                anodes.filter((_, i) => i !== k),
              )
            }
          >
            Remove
          </button>
        </div>
      ))}
    </div>
  );
}

/** One more piece of scrap, of any kind: sheets and a rod in the bore, rods and a plate below. */
function AddScrap({ tube }: { tube: string | null }) {
  const { doc, read, replace } = usePlan();
  const anodes = (read?.document?.anodes ?? doc.anodes ?? []) as AnodeDoc[];
  const kinds = options("anode.kind").filter(([v]) => v !== "ring" && (v !== "bore" || tube));
  const add = (kind: string) => {
    const like = beside(anodes);
    if (!like) return;
    const standing = kind === "rod" || kind === "plate";
    const at = standing ? {} : { x_m: 0, y_m: 0 };
    const piece = kind === "bore" ? tube : null;
    const layout = { ...doc.layout, arrangement: "by_hand" } as Plan["layout"];
    replace({ ...doc, layout, anodes: [...anodes, { ...like, ...at, kind, piece } as AnodeDoc] });
  };
  return (
    <fieldset className="flex flex-wrap items-center gap-1.5" data-add-scrap>
      <legend className="float-left mr-2 text-sm font-semibold">{word("scrap.add")}</legend>
      {kinds.map(([kind]) => (
        <button
          key={kind}
          type="button"
          className="btn btn-small"
          disabled={anodes.length >= 40}
          onClick={() => add(kind)}
        >
          {capital(said("anode.kind", kind))}
        </button>
      ))}
    </fieldset>
  );
}

/** What one of several is made of: each is judged by its own. */
function Metal({ k }: { k: number }) {
  const { doc, put } = usePlan();
  const at = `/anodes/${k}/material`;
  return (
    <label className="col-span-2 block text-sm font-semibold sm:col-span-1">
      Metal
      <select
        className="field"
        data-pointer={at}
        value={String(valueAt(doc, at) ?? "plain_steel")}
        onChange={(e) => put(at, e.target.value)}
      >
        {options("anode.material").map(([v, text]) => (
          <option key={v} value={v}>
            {text}
          </option>
        ))}
      </select>
    </label>
  );
}

type AnodeDoc = NonNullable<Plan["anodes"]>[number];

/** Another like the last, mirrored across the middle so that it stands free. */
function beside(anodes: readonly AnodeDoc[]): AnodeDoc | undefined {
  const last = anodes[anodes.length - 1];
  return (
    last && { ...last, id: `a${freshId().slice(0, 8)}`, x_m: -last.x_m, y_m: -last.y_m + 0.001 }
  );
}
