import { usePlan } from "@/shared/form/context";
import { Amount, Ask, Choice, Toggle } from "@/shared/form/fields";
import { More, Row } from "@/shared/form/layout";
import { SupplyFields } from "@/shared/form/SupplyFields";
import { Num } from "@/shared/ui/Num";
import { FromKit } from "./FromKit";
import { Section } from "./Section";

export function PowerSection() {
  const { doc, read } = usePlan();
  const f = read?.answer?.figures;
  const kind = doc.supply?.kind ?? "transformer";
  const battery = kind === "battery" || kind === "smart";
  const charger = ["transformer", "selector", "smart"].includes(kind);
  return (
    <Section id="power" title="Power" lead="+ to the scrap (anode), − to the piece (cathode).">
      <FromKit of="supply" />
      <SupplyFields>
        <Amount at="/supply/lead_length_m" />
        <Amount at="/supply/lead_area_m2" />
      </SupplyFields>
      <FromKit of="lead" />
      {f?.["power.load"] && f["power.drop"] && f["power.lead_heat"] && f["amps.gives"] && (
        <p className="text-sm">
          <Num f={f["amps.gives"]} className="text-lg" />, which is{" "}
          <Num f={f["power.load"]} className="text-lg" /> of its rating; leads take{" "}
          <Num f={f["power.drop"]} className="text-lg" /> and{" "}
          <Num f={f["power.lead_heat"]} className="text-lg" /> of heat.
          {f["battery.lasts"] && (
            <>
              {" "}
              Half of the battery is gone after <Num f={f["battery.lasts"]} className="text-lg" />.
            </>
          )}
        </p>
      )}
      {battery && (
        <div className="space-y-3">
          <Amount
            at="/supply/fuse_a"
            {...(f?.["power.fuse"] && { hint: `At least ${f["power.fuse"].text} A for this bath` })}
          />
          <Toggle at="/supply/line_switch" />
        </div>
      )}
      {charger && <Ask at="/supply/start_range" />}
      <div className="grid gap-3 sm:grid-cols-2">
        <Ask at="/supply/polarity_tested" />
        <Ask at="/supply/rcd" />
      </div>
      {(kind === "transformer" || kind === "selector") && (
        <More title="How it rectifies">
          <Choice at="/supply/rectifier" />
        </More>
      )}
      <More title="Other baths on the same supply">
        <Row>
          <Amount at="/supply/other_a" />
        </Row>
      </More>
    </Section>
  );
}
