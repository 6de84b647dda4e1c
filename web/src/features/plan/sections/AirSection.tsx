import { Num } from "@/shared/ui/Num";
import { usePlan } from "../context";
import { Amount, Choice, Toggle } from "../fields";
import { Row, Section } from "./Section";

export function AirSection() {
  const { doc, read } = usePlan();
  const f = read?.answer?.figures;
  return (
    <Section id="air" title="Air" lead="Hydrogen and oxygen come off as long as current flows.">
      <Choice
        at="/place/where"
        label="Where does it stand?"
        options={[
          ["outdoors", "Outdoors"],
          ["open_door", "By an open door"],
          ["closed_room", "Closed room"],
        ]}
      />
      <Row>
        {doc.place?.where === "closed_room" && <Amount at="/place/room_m3" label="Room" />}
        <Amount at="/place/price_kwh" label="Price of a kWh" />
      </Row>
      {f?.["gas.hydrogen"] && f["air.flow"] && (
        <p className="text-sm">
          <Num f={f["gas.hydrogen"]} className="text-xl" /> of hydrogen; the standard asks for{" "}
          <Num f={f["air.flow"]} className="text-xl" /> of fresh air at what the supply can give.
        </p>
      )}
      <div className="grid gap-3 sm:grid-cols-3">
        <Toggle at="/place/lid" label="A lid or cover is on" />
        <Toggle
          at="/place/flames"
          label="Flames or sparks near"
          hint="Grinder, welder, pilot light, smoking."
        />
        <Toggle at="/place/visitors" label="Children or pets get near" />
      </div>
    </Section>
  );
}
