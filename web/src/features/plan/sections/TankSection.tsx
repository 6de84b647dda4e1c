import { usePlan } from "@/shared/form/context";
import { Amount } from "@/shared/form/fields";
import { MoreOfTank, TankShapeFields } from "@/shared/form/TankFields";
import { Num } from "@/shared/ui/Num";
import { word } from "@/shared/words";
import { FromKit } from "./FromKit";
import { Section } from "./Section";
import { WhichTank } from "./WhichTank";

export function TankSection() {
  const { doc, read } = usePlan();
  const f = read?.answer?.figures;
  const own = doc.tank?.shape?.kind === "bore";
  return (
    <Section
      id="tank"
      title="Tank"
      lead={own ? word("tank_section.own") : "Inside sizes; nominal sizes lie."}
    >
      {!own && <FromKit of="tank" />}
      <TankShapeFields />
      {f?.["tank.water"] && f["tank.level"] && f["tank.freeboard"] && (
        <p>
          <Num f={f["tank.water"]} className="text-xl" /> of water; it stands{" "}
          <Num f={f["tank.level"]} className="text-xl" /> high with everything in, and leaves{" "}
          <Num f={f["tank.freeboard"]} className="text-xl" /> up to the rim.
        </p>
      )}
      {!own && f?.["hang.carries"] && f["tank.mass"] && f["piece.mass"] && (
        <p className="text-sm">
          The piece weighs <Num f={f["piece.mass"]} className="text-lg" />, the bar carries{" "}
          <Num f={f["hang.carries"]} className="text-lg" />; liquid and piece together{" "}
          <Num f={f["tank.mass"]} className="text-lg" />.
        </p>
      )}
      {!own && <WhichTank />}
      <MoreOfTank
        title={
          own
            ? word("tank_section.more_own")
            : "Taper, holes, jug marks, bar, my own amount of water"
        }
      >
        <Amount at="/tank/water_m3" />
      </MoreOfTank>
    </Section>
  );
}
