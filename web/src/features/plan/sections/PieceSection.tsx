import { useState } from "react";
import type { Plan } from "@/shared/api/client";
import { usePlan } from "@/shared/form/context";
import { Amount, Ask, Choice, type Option, Several, Text, Toggle } from "@/shared/form/fields";
import { More, Row } from "@/shared/form/layout";
import { Faces } from "../Faces";
import { GRADES } from "../grades";
import { MeshFile } from "../MeshFile";
import { ShapePicture } from "../ShapePicture";
import { Section } from "./Section";

const SHAPES: readonly Option[] = [
  ["plate", "Plate or flat"],
  ["bar", "Round bar"],
  ["tube", "Tube"],
  ["box", "Block"],
  ["angle", "Angle, bracket"],
  ["ring", "Ring"],
  ["wheel", "Wheel"],
  ["wrench", "Bar with two heads"],
  ["stepped", "Block on a block"],
  ["pile", "Pile in a basket"],
  ["mesh", "From a mesh file"],
];
/** What to measure of each shape; the label is what the tape goes along. */
const SIZES: Record<string, readonly Option[]> = {
  plate: [
    ["length_m", "Length"],
    ["width_m", "Width"],
    ["thickness_m", "Thickness"],
  ],
  bar: [
    ["length_m", "Length"],
    ["diameter_m", "Diameter"],
  ],
  tube: [
    ["length_m", "Length"],
    ["outer_diameter_m", "Outside diameter"],
    ["inner_diameter_m", "Inside diameter"],
  ],
  box: [
    ["length_m", "Length"],
    ["width_m", "Width"],
    ["height_m", "Height"],
  ],
  angle: [
    ["leg_m", "Longer leg, outside"],
    ["other_leg_m", "Other leg, outside"],
    ["width_m", "Width"],
    ["thickness_m", "Thickness"],
  ],
  ring: [
    ["outer_diameter_m", "Outside diameter"],
    ["bar_diameter_m", "Bar diameter"],
  ],
  wheel: [
    ["diameter_m", "Over the rim"],
    ["rim_width_m", "Rim width"],
    ["rim_thickness_m", "Rim thickness"],
    ["spokes", "Spokes"],
    ["spoke_diameter_m", "Spoke diameter"],
    ["hub_diameter_m", "Hub diameter"],
    ["hub_length_m", "Hub length"],
  ],
  wrench: [
    ["length_m", "Length over all"],
    ["width_m", "Shank width"],
    ["thickness_m", "Thickness"],
    ["head_diameter_m", "Head diameter"],
    ["eye_diameter_m", "Eye (0: none)"],
  ],
  stepped: [
    ["length_m", "Base length"],
    ["width_m", "Base width"],
    ["height_m", "Base height"],
    ["top_length_m", "Top length"],
    ["top_width_m", "Top width"],
    ["top_height_m", "Top height"],
  ],
  mesh: [["length_m", "Longest side, measured"]],
  pile: [
    ["count", "How many"],
    ["item_length_m", "Length of one"],
    ["item_diameter_m", "Thickness of one"],
    ["length_m", "Basket length"],
    ["width_m", "Basket width"],
    ["height_m", "Heap height"],
  ],
};
const AIMS: readonly Option[] = [
  ["paint_ready", "Ready for paint"],
  ["patina", "Patina kept"],
  ["black", "Black film left"],
  ["bright", "Bright metal"],
];
const FRAGILITY: readonly Option[] = [
  ["robust", "Heavy, robust"],
  ["sound", "Sound"],
  ["thin", "Thin"],
  ["relic", "Fragile relic"],
];
const METALS: readonly Option[] = [
  ["wrought", "Wrought iron"],
  ["mild", "Mild steel"],
  ["cast", "Cast iron"],
  ["tool", "Tool steel"],
  ["spring", "Spring steel"],
  ["hard", "High-strength"],
];

export function PieceSection() {
  const { doc, put } = usePlan();
  const [chosen, setChosen] = useState(0);
  const [bringing, setBringing] = useState(false);
  const pieces = doc.pieces ?? [];
  const k = Math.min(chosen, Math.max(pieces.length - 1, 0));
  const shape = pieces[k]?.shape?.kind ?? "plate";
  const p = `/pieces/${k}`;
  const s = `${p}/shape`;
  const mesh = shape === "mesh" || bringing;
  const sizes = SIZES[shape] ?? [];
  const painted = (pieces[k]?.paint ?? "none") !== "none";
  return (
    <Section id="piece" title="Piece" lead="What a tape can tell.">
      <PieceTabs k={k} choose={setChosen} />
      <Text at={`${p}/name`} label="What is it?" placeholder="Hinge strap" />
      <Choice
        at={`${s}/kind`}
        label="Nearest shape"
        options={SHAPES}
        onPick={(kind) => {
          setBringing(kind === "mesh");
          if (kind !== "mesh") put(s, { kind });
        }}
      />
      {mesh && <MeshFile at={s} />}
      <ShapePicture shape={shape} letters={sizes.map(([, label]) => label)} />
      <Row>
        {sizes.map(([key, label], n) => (
          <Amount
            key={key}
            at={`${s}/${key}`}
            label={shape === "mesh" ? label : `${String.fromCharCode(65 + n)} ${label}`}
          />
        ))}
      </Row>
      <p className="text-xs text-ink-2">Any unit: 3/8 in, 1 ft 2 in, 9.5 mm.</p>
      <Choice at={`${p}/grade`} label="How rusty?" options={GRADES} />
      <Choice at={`${p}/aim`} label="What shall it be?" options={AIMS} />
      <Choice at={`${p}/fragility`} label="How sound is it?" options={FRAGILITY} />
      <Choice at={`${p}/metal`} label="Metal" options={METALS} />
      <More title="More about the piece: other metals, paint, grease, hollows, how it hangs">
        <Several
          at={`${p}/other_metals`}
          label="Other metals on it? Mark each"
          options={[
            ["copper", "Copper, brass, bronze"],
            ["zinc", "Zinc plating"],
            ["tin", "Tin"],
            ["cadmium", "Cadmium plating"],
            ["aluminium", "Aluminium"],
            ["magnesium", "Magnesium"],
            ["lead", "Lead"],
            ["chrome", "Chrome plating"],
          ]}
        />
        <Choice
          at={`${p}/paint`}
          label="Paint"
          options={[
            ["none", "None"],
            ["patches", "Patches"],
            ["most", "Mostly painted"],
          ]}
        />
        {painted && (
          <Ask
            at={`${p}/lead_paint`}
            label="Lead in the paint?"
            hint="Old paint may hold it; a test stick from the paint shop tells."
          />
        )}
        <Choice
          at={`${p}/grease`}
          label="Grease or oil"
          options={[
            ["none", "None"],
            ["some", "Some"],
          ]}
        />
        <Choice
          at={`${p}/hollow`}
          label="Hollow"
          options={[
            ["none", "No"],
            ["vented", "Open or vented"],
            ["sealed", "Sealed"],
          ]}
        />
        <Choice
          at={`${p}/parts`}
          label="Parts"
          options={[
            ["one", "One piece"],
            ["moving", "Moving or captive parts"],
            ["seized", "A seized pivot"],
            ["chain", "Chain"],
          ]}
        />
        <Choice
          at={`${p}/duty`}
          label="Will it carry anything?"
          options={[
            ["none", "No"],
            ["load", "A load"],
            ["pressure", "Pressure"],
            ["firearm", "Firearm part"],
            ["steering", "Steering, brakes"],
          ]}
        />
        <Row>
          <Amount
            at={`${p}/hardness_hrc`}
            label="Hardness"
            placeholder="as usual"
            hint="Rockwell C"
          />
          <Amount at={`${p}/tempered_c`} label="Tempered at" placeholder="not known" />
        </Row>
        <Choice
          at={`${p}/treatment`}
          label="Hardened?"
          options={[
            ["none", "Not that I know"],
            ["hardened", "Through and through"],
            ["case_hardened", "Case-hardened"],
          ]}
        />
        <Choice
          at={`${p}/contact`}
          label="Contact by"
          options={[
            ["clamp", "Clamp or wire on a bared spot"],
            ["drilled", "A drilled hole"],
          ]}
        />
        <Choice
          at={`${p}/ordnance`}
          label="From ammunition or a weapon's charge?"
          options={[
            ["none", "No"],
            ["fragment", "Solid fragment"],
            ["whole", "Whole, hollow or unsure"],
          ]}
        />
        <Choice
          at={`${p}/hang`}
          label="How it hangs"
          options={[
            ["long_across", "Long side across"],
            ["long_down", "Long side down"],
            ["flat", "Flat"],
          ]}
        />
        <Row>
          <Amount at={`${p}/turn_deg`} label="Turned, seen from above" />
          <Amount at={`${p}/tilt_deg`} label="Tilted about its length" />
          <Amount at={`${p}/contact_ohm`} label="Clip and hanger" hint="Ohms, where measured" />
        </Row>
        <Toggle at={`${p}/flipped`} label="Hung by its other end" />
        <Faces k={k} />
        <Choice
          at={`${p}/hanger`}
          label="Hanger"
          options={[
            ["soft_steel", "Soft steel wire"],
            ["hard_wire", "Hard wire"],
            ["chain", "Lifting chain"],
            ["galvanised", "Galvanised wire"],
            ["copper", "Copper wire"],
          ]}
        />
      </More>
    </Section>
  );
}

type PieceDoc = NonNullable<Plan["pieces"]>[number];

/** Which of several pieces in the bath the fields are about; one more, or one less. */
function PieceTabs({ k, choose }: { k: number; choose: (k: number) => void }) {
  const { doc, put, replace } = usePlan();
  const pieces = doc.pieces ?? [];
  const add = () => {
    const last = pieces[pieces.length - 1] as PieceDoc;
    const ids = new Set(pieces.map((p) => p.id));
    const id = [...Array(21).keys()].map((n) => `p${n + 1}`).find((n) => !ids.has(n)) ?? "p";
    const spread = [...pieces, { ...last, id, name: "", masked: [], regions: [] }];
    // apart from one another, as the plan hangs several
    put(
      "/pieces",
      spread.map((p) => ({ ...p, x_m: 0, y_m: 0 })),
    );
    choose(pieces.length);
  };
  const remove = () => {
    const left = pieces.filter((_, n) => n !== k);
    const typed = Object.fromEntries(
      Object.entries(doc.typed ?? {}).filter(([at]) => !at.startsWith("/pieces/")),
    );
    replace({ ...doc, pieces: left, typed });
    choose(Math.max(k - 1, 0));
  };
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      {pieces.length > 1 &&
        pieces.map((p, n) => (
          <button
            key={p.id}
            type="button"
            className="choice"
            aria-pressed={n === k}
            data-state={n === k ? "checked" : "unchecked"}
            onClick={() => choose(n)}
          >
            {n + 1} {p.name}
          </button>
        ))}
      <button type="button" className="btn btn-small" disabled={pieces.length >= 20} onClick={add}>
        Another piece in the same bath
      </button>
      {pieces.length > 1 && (
        <button type="button" className="btn btn-small" onClick={remove}>
          Take out {k + 1}
        </button>
      )}
    </div>
  );
}
