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
      <Choice at="/supply/kind" />
      <Row>
        <Amount at="/supply/nominal_v" />
        <Amount at="/supply/rated_a" />
        {kind === "laboratory" && <Amount at="/supply/limit_a" />}
        {battery && <Amount at="/supply/battery_ah" />}
        {children}
      </Row>
      {kind === "selector" && (
        <Buttons lead="It stands at:" at="/supply/nominal_v" texts={["6 V", "12 V", "24 V"]} />
      )}
      {plain && (
        <Buttons lead="Usual ranges:" at="/supply/rated_a" texts={["2 A", "6 A", "10 A"]} />
      )}
      {kind === "fixed" && <Choice at="/supply/protection" />}
      {kind === "smart" && (
        <>
          <Toggle at="/supply/buffer_battery" />
          {!s?.buffer_battery && <Toggle at="/supply/manual_mode" />}
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
