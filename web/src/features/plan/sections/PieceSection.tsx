import { usePlan } from "../context";
import { Amount, Choice, type Option, Text } from "../fields";
import { More, Row, Section } from "./Section";

const SHAPES: readonly Option[] = [
  ["plate", "Plate or flat"],
  ["bar", "Round bar"],
  ["tube", "Tube"],
  ["box", "Block"],
];
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
        <Amount at={`${s}/length_m`} label="Length" />
        {(shape === "plate" || shape === "box") && <Amount at={`${s}/width_m`} label="Width" />}
        {shape === "plate" && <Amount at={`${s}/thickness_m`} label="Thickness" />}
        {shape === "box" && <Amount at={`${s}/height_m`} label="Height" />}
        {shape === "bar" && <Amount at={`${s}/diameter_m`} label="Diameter" />}
        {shape === "tube" && (
          <>
            <Amount at={`${s}/outer_diameter_m`} label="Outside diameter" />
            <Amount at={`${s}/inner_diameter_m`} label="Inside diameter" />
          </>
        )}
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
