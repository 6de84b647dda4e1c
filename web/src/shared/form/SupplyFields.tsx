import { usePlan } from "@/shared/form/context";
import { Amount, Choice, Toggle } from "@/shared/form/fields";
import { Row } from "@/shared/form/layout";

/** What feeds the bath: kind, volts, amps and how it behaves; in a plan and in the kit alike. */
export function SupplyFields({ children }: { children?: React.ReactNode }) {
  const { doc } = usePlan();
  const s = doc.supply;
  const kind = s?.kind ?? "transformer";
  const battery = kind === "battery" || (kind === "smart" && s?.buffer_battery);
  const plain = kind === "transformer" || kind === "selector";
  return (
    <>
      <Choice
        at="/supply/kind"
        label="What feeds it?"
        options={[
          ["transformer", "Plain transformer charger"],
          ["selector", "Charger with a selector"],
          ["laboratory", "Laboratory supply"],
          ["smart", "Smart or automatic charger"],
          ["fixed", "Fixed or computer supply"],
          ["battery", "Battery alone"],
        ]}
      />
      <Row>
        <Amount at="/supply/nominal_v" label="Volts" />
        <Amount at="/supply/rated_a" label={plain ? "Amps of the range in use" : "Rated amps"} />
        {kind === "laboratory" && <Amount at="/supply/limit_a" label="Current limit set" />}
        {battery && (
          <Amount
            at="/supply/battery_ah"
            label="Battery"
            placeholder="read its label"
            hint="Ampere-hours"
          />
        )}
        {children}
      </Row>
      {kind === "selector" && (
        <Buttons lead="It stands at:" at="/supply/nominal_v" texts={["6 V", "12 V", "24 V"]} />
      )}
      {plain && (
        <Buttons lead="Usual ranges:" at="/supply/rated_a" texts={["2 A", "6 A", "10 A"]} />
      )}
      {kind === "fixed" && (
        <Choice
          at="/supply/protection"
          label="When more is drawn than it can give"
          options={[
            ["foldback", "It holds its amps"],
            ["hiccup", "It switches off and tries again"],
            ["fuse", "Its fuse blows"],
          ]}
        />
      )}
      {kind === "smart" && (
        <>
          <Toggle
            at="/supply/buffer_battery"
            label="A 12 V battery stands between charger and bath"
            hint="Then unplugging the charger does not stop the bath."
          />
          {!s?.buffer_battery && (
            <Toggle
              at="/supply/manual_mode"
              label="It has a manual mode that holds"
              hint="Else it finds no battery and stays off."
            />
          )}
        </>
      )}
    </>
  );
}

function Buttons({ lead, at, texts }: { lead: string; at: string; texts: string[] }) {
  const { type } = usePlan();
  return (
    <div className="flex flex-wrap items-center gap-2 text-sm">
      {lead}
      {texts.map((text) => (
        <button key={text} type="button" className="btn btn-small" onClick={() => type(at, text)}>
          {text}
        </button>
      ))}
    </div>
  );
}
