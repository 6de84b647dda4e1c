import { usePlan } from "../context";
import { Amount, Choice, type Option, Text } from "../fields";
import { More, Row, Section } from "./Section";

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
  pile: [
    ["count", "How many"],
    ["item_length_m", "Length of one"],
    ["item_diameter_m", "Thickness of one"],
    ["length_m", "Basket length"],
    ["width_m", "Basket width"],
    ["height_m", "Heap height"],
  ],
};
const GRADES: readonly Option[] = [
  ["light", "Light: rubs off"],
  ["moderate", "Orange all over"],
  ["heavy", "Crust and pits"],
  ["scaled", "Flaking layers"],
];
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
  const shape = doc.pieces?.[0]?.shape?.kind ?? "plate";
  const p = "/pieces/0";
  const s = `${p}/shape`;
  return (
    <Section id="piece" title="Piece" lead="What a tape can tell.">
      <Text at={`${p}/name`} label="What is it?" placeholder="Hinge strap" />
      <Choice
        at={`${s}/kind`}
        label="Nearest shape"
        options={SHAPES}
        onPick={(kind) => put(s, { kind })}
      />
      <Row>
        {(SIZES[shape] ?? []).map(([key, label]) => (
          <Amount key={key} at={`${s}/${key}`} label={label} />
        ))}
      </Row>
      <p className="text-xs text-ink-2">Any unit: 3/8 in, 1 ft 2 in, 9.5 mm.</p>
      <Choice at={`${p}/grade`} label="How rusty?" options={GRADES} />
      <Choice at={`${p}/aim`} label="What shall it be?" options={AIMS} />
      <Choice at={`${p}/fragility`} label="How sound is it?" options={FRAGILITY} />
      <Choice at={`${p}/metal`} label="Metal" options={METALS} />
      <More title="More about the piece: other metals, paint, grease, hollows, how it hangs">
        <Choice
          at={`${p}/other_metal`}
          label="Another metal on it?"
          options={[
            ["none", "None"],
            ["copper", "Copper, brass, bronze"],
            ["zinc", "Zinc or tin"],
            ["aluminium", "Aluminium"],
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
        <Masks at={`${p}/masked`} />
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

/** Regions that are painted or taped over, so that no current reaches them. */
function Masks({ at }: { at: string }) {
  const { doc, read, put } = usePlan();
  const regions = read?.document.pieces?.[0]?.regions ?? [];
  const masked = doc.pieces?.[0]?.masked ?? [];
  if (!regions.length) return null;
  return (
    <fieldset>
      <legend className="mb-1 text-sm font-semibold">Painted or taped over on purpose</legend>
      <div className="flex flex-wrap gap-1.5">
        {regions.map((r) => {
          const on = masked.includes(r.id);
          return (
            <button
              key={r.id}
              type="button"
              className="choice"
              aria-pressed={on}
              data-state={on ? "checked" : "unchecked"}
              onClick={() => put(at, on ? masked.filter((m) => m !== r.id) : [...masked, r.id])}
            >
              {r.name}
            </button>
          );
        })}
      </div>
    </fieldset>
  );
}
