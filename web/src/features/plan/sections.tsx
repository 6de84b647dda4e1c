import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { api, ask, keys, type Plan, type Schemas } from "@/shared/api/client";
import { Finding } from "@/shared/ui/Finding";
import { Num } from "@/shared/ui/Num";
import { usePlan } from "./context";
import { Amount, Choice, type Option, Text, Toggle } from "./fields";

export const MARKS = [
  ["piece", "Piece"],
  ["tank", "Tank"],
  ["mix", "Mix"],
  ["scrap", "Scrap"],
  ["power", "Power"],
  ["air", "Air"],
  ["check", "Check"],
] as const;

function Section({
  id,
  title,
  lead,
  children,
}: {
  id: string;
  title: string;
  lead: string;
  children: ReactNode;
}) {
  const { read, put, type } = usePlan();
  const mine = read?.answer?.findings.filter((f) => f.mark === id && f.severity === "stop") ?? [];
  return (
    <section id={id} aria-labelledby={`${id}-h`} className="sheet space-y-4">
      <header className="flex flex-wrap items-baseline gap-x-3">
        <h2 id={`${id}-h`} className="text-2xl">
          {title}
        </h2>
        <p className="text-sm text-ink-2">{lead}</p>
      </header>
      {mine.length > 0 && (
        <ul className="space-y-2">
          {mine.map((f) => (
            <Finding
              key={f.id}
              f={f}
              onChange={(p, v) => (typeof v === "string" && isAmount(p) ? type(p, v) : put(p, v))}
            />
          ))}
        </ul>
      )}
      {children}
    </section>
  );
}

/** Fields that hold amounts end in their unit. */
export function isAmount(pointer: string): boolean {
  return /_(m|m2|m3|kg|kg_m3|a|v|c|kwh)$/.test(pointer);
}

function Row({ children, cols = "sm:grid-cols-3" }: { children: ReactNode; cols?: string }) {
  return <div className={`grid grid-cols-2 gap-3 ${cols}`}>{children}</div>;
}

function More({ title, children }: { title: string; children: ReactNode }) {
  return (
    <details className="border-t border-hair pt-2">
      <summary className="cursor-pointer text-sm font-semibold">{title}</summary>
      <div className="mt-3 space-y-4">{children}</div>
    </details>
  );
}

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

type Mark = Schemas["Mark"];

export function TankSection() {
  const { doc, put, read } = usePlan();
  const kind = doc.tank?.shape?.kind ?? "bucket";
  const marks: Mark[] = doc.tank?.marks ?? [];
  const s = "/tank/shape";
  const f = read?.answer?.figures;
  return (
    <Section id="tank" title="Tank" lead="Inside sizes; nominal sizes lie.">
      <Choice
        at={`${s}/kind`}
        label="Shape"
        options={[
          ["bucket", "Bucket or drum"],
          ["box", "Box, crate, tub"],
        ]}
        onPick={(v) => put(s, { kind: v })}
      />
      <Row>
        {kind === "bucket" ? (
          <>
            <Amount at={`${s}/floor_diameter_m`} label="Across the floor" />
            <Amount at={`${s}/rim_diameter_m`} label="Across the rim" />
          </>
        ) : (
          <>
            <Amount at={`${s}/length_m`} label="Length at the floor" />
            <Amount at={`${s}/width_m`} label="Width at the floor" />
          </>
        )}
        <Amount at={`${s}/height_m`} label="Height inside" />
      </Row>
      {f?.["tank.water"] && f["tank.level"] && f["tank.freeboard"] && (
        <p>
          <Num f={f["tank.water"]} className="text-xl" /> of water; it stands{" "}
          <Num f={f["tank.level"]} className="text-xl" /> high with everything in, and leaves{" "}
          <Num f={f["tank.freeboard"]} className="text-xl" /> up to the rim.
        </p>
      )}
      <More title="Taper, holes, jug marks, my own amount of water">
        {kind === "box" && (
          <Row>
            <Amount at={`${s}/top_length_m`} label="Length at the rim" placeholder="same" />
            <Amount at={`${s}/top_width_m`} label="Width at the rim" placeholder="same" />
          </Row>
        )}
        <Row>
          <Amount at="/tank/hole_height_m" label="Lowest hole above floor" placeholder="no hole" />
          <Amount at="/tank/water_m3" label="Water put in" placeholder="as the plan says" />
        </Row>
        <Choice
          at="/tank/material"
          label="Made of"
          options={[
            ["plastic", "Plastic, does not conduct"],
            ["metal", "Metal"],
          ]}
        />
        <div className="space-y-2">
          <div className="text-sm font-semibold">Marks found with a jug</div>
          <p className="text-xs text-ink-2">
            Two or more marks replace the sizes when volume is worked out.
          </p>
          {marks.map((m, k) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: marks are known by their place
            <div key={k} className="grid grid-cols-[1fr_1fr_auto] items-start gap-2">
              <Amount at={`/tank/marks/${k}/height_m`} label={`Mark ${k + 1}: height`} />
              <Amount at={`/tank/marks/${k}/volume_m3`} label="holds" />
              <button
                type="button"
                className="btn btn-small mt-6"
                onClick={() =>
                  put(
                    "/tank/marks",
                    marks.filter((x) => x !== m),
                  )
                }
              >
                Remove
              </button>
            </div>
          ))}
          <button
            type="button"
            className="btn btn-small"
            onClick={() => put("/tank/marks", [...marks, nextMark(doc)])}
          >
            Add a mark
          </button>
        </div>
      </More>
    </Section>
  );
}

/** The next mark goes above the last, five litres on. */
function nextMark(doc: Plan) {
  const last = doc.tank?.marks?.at(-1);
  return {
    height_m: (last?.height_m ?? 0) + 0.1,
    volume_m3: (last?.volume_m3 ?? 0) + 0.005,
  };
}

export function MixSection() {
  const { doc, put, read } = usePlan();
  const batches = useQuery({
    queryKey: keys.batches,
    queryFn: () => ask(api.GET("/api/shop/batches")),
  });
  const settings = useQuery({ queryKey: keys.settings, queryFn: () => ask(api.GET("/api/shop")) });
  const f = read?.answer?.figures;
  const reuse = doc.mix?.source === "reuse";
  return (
    <Section id="mix" title="Mix" lead="Read the box: it should say sodium carbonate.">
      <Choice
        at="/mix/product"
        label="Which soda is in the box?"
        options={[
          ["unknown", "Not sure"],
          ["soda_anhydrous", "Washing soda, dry grains"],
          ["soda_monohydrate", "Monohydrate"],
          ["soda_decahydrate", "Clear crystals (decahydrate)"],
          ["soda_light_ash", "Light soda ash"],
          ["soda_baked", "Baked from baking soda"],
          ["baking_soda", "Baking soda"],
          ["table_salt", "Table salt"],
        ]}
      />
      <Row>
        <Amount at="/mix/dose_kg_m3" label="Dose, as dry soda" hint="2 to 15 g/L is usual" />
        <Amount at="/mix/temperature_c" label="Water temperature" />
      </Row>
      {f?.["mix.product"] && f["mix.spoons"] && (
        <p>
          Put in <Num f={f["mix.product"]} className="text-xl" />, which is{" "}
          <Num
            f={f["mix.spoons"]}
            className="text-xl"
            text={`${f["mix.spoons"].text} level tablespoons`}
          />
          {f["mix.spoons"].low_text &&
            ` (${f["mix.spoons"].low_text} to ${f["mix.spoons"].high_text})`}
          {f["mix.scoops"] && (
            <>
              , or{" "}
              <Num
                f={f["mix.scoops"]}
                className="text-xl"
                text={`${f["mix.scoops"].text} of ${doc.mix?.scoop_name || "my scoop"}`}
              />
            </>
          )}
          . Soda first, water on top: it mixes itself.
        </p>
      )}
      <More title="My own scoop, spoon set, a mix kept from before">
        {settings.data?.scoops && settings.data.scoops.length > 0 && (
          <div className="flex flex-wrap gap-2">
            {settings.data.scoops.map((s) => (
              <button
                key={s.name}
                type="button"
                className="btn btn-small"
                onClick={() =>
                  put("/mix", { ...doc.mix, scoop_name: s.name, scoop_kg: s.level_kg })
                }
              >
                Use {s.name}
              </button>
            ))}
          </div>
        )}
        <Row>
          <Text at="/mix/scoop_name" label="My scoop is" placeholder="Tea caddy lid" />
          <Amount at="/mix/scoop_kg" label="One level scoop weighs" placeholder="weigh it once" />
        </Row>
        <Choice
          at="/mix/spoon"
          label="Spoon set"
          options={[
            ["metric", "Metric (15 mL)"],
            ["us", "US (14.8 mL)"],
            ["imperial", "Imperial (17.8 mL)"],
          ]}
        />
        <Choice
          at="/mix/source"
          label="The liquid is"
          options={[
            ["fresh", "Mixed fresh"],
            ["reuse", "Kept from an earlier bath"],
          ]}
        />
        {reuse && (
          <>
            {batches.data?.map((b) => (
              <button
                key={b.batch_id}
                type="button"
                className="btn btn-small"
                aria-pressed={doc.mix?.batch_id === b.batch_id}
                onClick={() =>
                  put("/mix", {
                    ...doc.mix,
                    batch_id: b.batch_id,
                    kept_kg: b.kept_kg,
                    product: b.product,
                  })
                }
              >
                The mix kept {b.label} ({b.kept_text} dry soda)
              </button>
            ))}
            <Amount
              at="/mix/kept_kg"
              label="Soda already in it, as dry soda"
              hint="Water goes, soda stays: top up with water only."
            />
          </>
        )}
      </More>
    </Section>
  );
}

export function ScrapSection() {
  const { doc, read } = usePlan();
  const scene = read?.answer?.scene;
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
      {scene && (
        <p className="text-sm">
          Least gap between a rod and the piece:{" "}
          <span className="sign text-xl">{scene.gap_text}</span>
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

export function CheckSection({ footer }: { footer: ReactNode }) {
  const { read, put, type } = usePlan();
  const found = read?.answer?.findings ?? [];
  const stops = found.filter((f) => f.severity === "stop").length;
  return (
    <Section
      id="check"
      title="Check"
      lead={stops ? "A stop must be mended before switching on." : "Nothing stops this bath."}
    >
      {read?.trouble && <p className="font-semibold text-stop">{read.trouble}</p>}
      <ul className="space-y-2">
        {found.map((f) => (
          <Finding
            key={f.id + f.evidence}
            f={f}
            onChange={(p, v) => (typeof v === "string" && isAmount(p) ? type(p, v) : put(p, v))}
          />
        ))}
      </ul>
      {read?.answer && (
        <div>
          <h3 className="text-lg">What will not come back</h3>
          <ul className="list-disc space-y-1 pl-5 text-sm">
            {read.answer.keeps.map((k) => (
              <li key={k}>{k}</li>
            ))}
          </ul>
        </div>
      )}
      {footer}
    </Section>
  );
}
