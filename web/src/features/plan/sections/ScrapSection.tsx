import type { Plan } from "@/shared/api/client";
import { usePlan } from "@/shared/form/context";
import { Amount, Choice, Toggle } from "@/shared/form/fields";
import { More, Row } from "@/shared/form/layout";
import { Num } from "@/shared/ui/Num";
import { FromKit } from "../FromKit";
import { ScrapJudge } from "../ScrapJudge";
import { Section } from "./Section";

export function ScrapSection() {
  const { doc, read, put } = usePlan();
  const f = read?.answer?.figures;
  const gap = f?.["scrap.gap"];
  const ring = doc.placing?.arrangement === "ring";
  const byHand = doc.placing?.arrangement === "by_hand";
  const kind = doc.anodes?.[0]?.kind ?? "rod";
  const placed = kind === "rod" || kind === "plate";
  return (
    <Section
      id="scrap"
      title="Scrap"
      lead="The plus side (anodes): plain steel or iron, plenty of it."
    >
      <FromKit of="anode" />
      <Choice
        at="/anodes/0/material"
        label="What is it made of?"
        options={[
          ["plain_steel", "Plain bare steel"],
          ["cast_iron", "Cast iron"],
          ["painted", "Painted steel"],
          ["unknown", "Not sure"],
          ["stainless", "Stainless"],
          ["chromed", "Chromed"],
          ["galvanised", "Galvanised"],
          ["copper", "Copper"],
          ["brass", "Brass"],
          ["lead", "Lead"],
          ["aluminium", "Aluminium"],
          ["graphite", "Graphite"],
          ["coated_titanium", "Coated titanium"],
          ["titanium", "Bare titanium"],
        ]}
      />
      <ScrapJudge />
      <Choice
        at="/anodes/0/kind"
        label="What shape?"
        options={[
          ["rod", "Rods"],
          ["plate", "Flats, plates or sheets"],
          ["floor", "A plate on the floor"],
          ["ring", "A ring round the wall"],
          ...(doc.pieces?.[0]?.shape?.kind === "tube"
            ? ([["bore", "A rod through the bore"]] as const)
            : []),
        ]}
      />
      {placed && (
        <Choice
          at="/placing/arrangement"
          label="Where they stand"
          options={[
            ["one_side", "One, on one side"],
            ["opposite", "Two, on opposite sides"],
            ["corners", "Four corners"],
            ["ring", "All round"],
            ["by_hand", "One by one"],
          ]}
          onPick={(v) => {
            if (v === "by_hand" && read) put("/anodes", read.document.anodes);
            put("/placing/arrangement", v);
          }}
        />
      )}
      <Row>
        {ring && placed && <Amount at="/placing/count" label="How many round it" />}
        {(kind === "rod" || kind === "ring" || kind === "bore") && (
          <Amount at="/anodes/0/diameter_m" label="Rod diameter" />
        )}
        {(kind === "plate" || kind === "floor") && (
          <>
            <Amount at="/anodes/0/width_m" label="Width" />
            {kind === "floor" && <Amount at="/anodes/0/depth_m" label="Length" />}
            <Amount at="/anodes/0/thickness_m" label="Thickness" />
          </>
        )}
        {((placed && !byHand) || kind === "ring") && (
          <Amount at="/placing/wall_gap_m" label="Middle to the wall" />
        )}
        {kind !== "bore" && (
          <Amount
            at="/anodes/0/floor_gap_m"
            label={kind === "ring" ? "Height above the floor" : "Gap to the floor"}
          />
        )}
      </Row>
      {byHand && placed && <Spots />}
      <More title="More about the scrap: perforated sheet, sleeves, a poor clip">
        <Row>
          {(kind === "plate" || kind === "floor") && (
            <Amount at="/anodes/0/open_share" label="Holes in the sheet" />
          )}
          {(kind === "rod" || kind === "plate") && (
            <Amount at="/anodes/0/sleeve_m" label="Insulated from the surface down" />
          )}
          <Amount at="/anodes/0/contact_ohm" label="Clip and lead" hint="Ohms, where measured" />
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
      <Toggle
        at="/placing/joint_clear"
        label="The joint is clear of the liquid"
        hint="Also with the piece in, froth and top-up."
      />
    </Section>
  );
}

/** Where each anode stands, from the tank's middle; one can be added or taken away. */
function Spots() {
  const { doc, put } = usePlan();
  const anodes = doc.anodes ?? [];
  return (
    <div className="space-y-2">
      {anodes.map((_, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: its place in the list is its pointer
        <div key={k} className="grid grid-cols-[2rem_1fr_1fr_auto] items-end gap-3">
          <span className="sign pb-2 text-lg">{k + 1}</span>
          <Amount at={`/anodes/${k}/x_m`} label="Right of the middle" />
          <Amount at={`/anodes/${k}/y_m`} label="Behind the middle" />
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
      <button
        type="button"
        className="btn btn-small"
        disabled={anodes.length >= 40}
        onClick={() => put("/anodes", [...anodes, beside(anodes)])}
      >
        Add one
      </button>
    </div>
  );
}

type AnodeDoc = NonNullable<Plan["anodes"]>[number];

/** Another like the last, mirrored across the middle so that it stands free. */
function beside(anodes: readonly AnodeDoc[]): AnodeDoc | undefined {
  const last = anodes[anodes.length - 1];
  return last && { ...last, id: `a${anodes.length + 1}`, x_m: -last.x_m, y_m: -last.y_m + 0.001 };
}
