import { usePlan } from "../context";
import { Amount, Choice, Toggle } from "../fields";
import { Row, Section } from "./Section";

export function PowerSection() {
  const { doc } = usePlan();
  const kind = doc.supply?.kind ?? "transformer";
  const battery = kind === "battery" || kind === "smart";
  return (
    <Section id="power" title="Power" lead="+ to the scrap (anode), − to the piece (cathode).">
      <Choice
        at="/supply/kind"
        label="What feeds it?"
        options={[
          ["transformer", "Plain transformer charger"],
          ["laboratory", "Laboratory supply"],
          ["smart", "Smart or automatic charger"],
          ["fixed", "Fixed supply"],
          ["battery", "Battery alone"],
        ]}
      />
      <Row>
        <Amount at="/supply/nominal_v" label="Volts" />
        <Amount
          at="/supply/rated_a"
          label={kind === "transformer" ? "Amps of the range in use" : "Rated amps"}
        />
        {kind === "laboratory" && <Amount at="/supply/limit_a" label="Current limit set" />}
        <Amount at="/supply/lead_length_m" label="Lead, one way" />
        <Amount at="/supply/lead_area_m2" label="Lead size" hint="2.5 mm² or 14 AWG" />
      </Row>
      {kind === "transformer" && <RangeButtons />}
      {battery && (
        <div className="space-y-3">
          {kind === "smart" && (
            <Toggle
              at="/supply/buffer_battery"
              label="A 12 V battery stands between charger and bath"
              hint="Then unplugging the charger does not stop the bath."
            />
          )}
          <Amount at="/supply/fuse_a" label="Fuse near the battery" placeholder="none" />
          <Toggle at="/supply/line_switch" label="A switch in the line" />
        </div>
      )}
      <div className="grid gap-3 sm:grid-cols-2">
        <Toggle
          at="/supply/polarity_tested"
          label="Polarity tested"
          hint="Two steel wires in soda water: the minus one gases about twice as much."
        />
        <Toggle
          at="/supply/rcd"
          label="Residual-current socket"
          hint="Also called ground-fault interrupter."
        />
      </div>
    </Section>
  );
}

function RangeButtons() {
  const { type } = usePlan();
  return (
    <div className="flex flex-wrap items-center gap-2 text-sm">
      Usual ranges:
      {["2 A", "6 A", "10 A"].map((r) => (
        <button
          key={r}
          type="button"
          className="btn btn-small"
          onClick={() => type("/supply/rated_a", r)}
        >
          {r}
        </button>
      ))}
    </div>
  );
}
