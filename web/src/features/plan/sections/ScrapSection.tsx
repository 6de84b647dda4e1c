import { Num } from "@/shared/ui/Num";
import { usePlan } from "../context";
import { Amount, Choice, Toggle } from "../fields";
import { Row, Section } from "./Section";

export function ScrapSection() {
  const { doc, read } = usePlan();
  const gap = read?.answer?.figures["scrap.gap"];
  const ring = doc.placing?.arrangement === "ring";
  return (
    <Section
      id="scrap"
      title="Scrap"
      lead="The plus side (anodes): plain steel or iron, plenty of it."
    >
      <Choice
        at="/anodes/0/material"
        label="What are the rods?"
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
        ]}
      />
      <Choice
        at="/placing/arrangement"
        label="Where they stand"
        options={[
          ["one_side", "One, on one side"],
          ["opposite", "Two, on opposite sides"],
          ["corners", "Four corners"],
          ["ring", "A ring"],
        ]}
      />
      <Row>
        {ring && <Amount at="/placing/count" label="Rods in the ring" />}
        <Amount at="/anodes/0/diameter_m" label="Rod diameter" />
        <Amount at="/placing/wall_gap_m" label="Rod centre to wall" />
        <Amount at="/anodes/0/floor_gap_m" label="Gap to the floor" />
      </Row>
      {gap && (
        <p className="text-sm">
          Least gap between a rod and the piece: <Num f={gap} className="text-xl" />
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
