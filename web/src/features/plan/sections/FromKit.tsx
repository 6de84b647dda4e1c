import type { Plan, ThingOut } from "@/shared/api/client";
import { usePlan } from "@/shared/form/context";
import { useKit } from "@/shared/form/useKit";

type Role = "tank" | "supply" | "lead" | "pump" | "anode" | "chemical" | "batch";
const KIND: Record<Role, string> = {
  tank: "tank",
  supply: "supply",
  lead: "lead",
  pump: "pump",
  anode: "anode",
  chemical: "chemical",
  batch: "mix",
};

/** Things of the shop's own to take up with one press; nothing where the kit has none. */
export function FromKit({ of: role }: { of: Role }) {
  const { doc, replace } = usePlan();
  const { things, find } = useKit(KIND[role]);
  if (!things.length && !find) return null;
  const taken = doc.kit?.find((k) => k.role === role)?.ref;
  return (
    <div className="flex flex-wrap items-center gap-1.5" data-from-kit={role}>
      <span className="text-sm font-semibold">From the kit:</span>
      {things.map((t) => (
        <button
          key={t.id}
          type="button"
          className="choice"
          aria-pressed={taken === t.id}
          data-state={taken === t.id ? "checked" : "unchecked"}
          title={[t.why, ...t.lines].filter(Boolean).join(". ")}
          onClick={() => replace(taken === t.id ? left(doc, role) : takenUp(doc, role, t))}
        >
          {t.read.thing.name}
          {t.word !== "free" && <span className="ml-1 text-xs">({t.word})</span>}
        </button>
      ))}
      {find}
    </div>
  );
}

/** The plan without its tie to a thing; what it brought stays. */
function left(doc: Plan, role: Role): Plan {
  return { ...doc, kit: (doc.kit ?? []).filter((k) => k.role !== role) };
}

/** The plan made with a thing: what is known of it goes in, and that it was drawn is kept. */
export function takenUp(doc: Plan, role: Role, thing: ThingOut): Plan {
  const d = thing.read.thing.detail;
  const kit = [...(doc.kit ?? []).filter((k) => k.role !== role), { role, ref: thing.id }];
  const under = { tank: "/tank/", supply: "/supply/", anode: "/anodes/" } as Record<string, string>;
  const gone = under[role];
  const typed = Object.fromEntries(
    Object.entries(doc.typed ?? {}).filter(([at]) => !gone || !at.startsWith(gone)),
  );
  const made: Plan = { ...doc, kit, typed };
  const merged = (part: object): Plan => ({ ...made, ...part });
  switch (d.kind) {
    case "tank":
      return merged({ tank: { ...d.tank, name: thing.read.thing.name } });
    case "supply": {
      const { lead_length_m, lead_area_m2 } = doc.supply ?? {};
      return merged({
        supply: {
          ...d.supply,
          ...(lead_length_m && { lead_length_m }),
          ...(lead_area_m2 && { lead_area_m2 }),
        },
      });
    }
    case "lead":
      return merged({
        supply: { ...doc.supply, lead_length_m: d.length_m, lead_area_m2: d.area_m2 },
        typed: Object.fromEntries(
          Object.entries(typed).filter(([at]) => !at.startsWith("/supply/lead_")),
        ),
      });
    case "pump":
      return merged({
        place: { ...doc.place, filter_loop: true, pump_m3: d.hourly_m3 },
        typed: Object.fromEntries(Object.entries(typed).filter(([at]) => at !== "/place/pump_m3")),
      });
    case "anode": {
      const { material, kind, diameter_m, width_m, depth_m, thickness_m, open_share } =
        d.anode ?? {};
      const like = { material, kind, diameter_m, width_m, depth_m, thickness_m, open_share };
      return merged({ anodes: (doc.anodes ?? []).map((a) => ({ ...a, ...like })) });
    }
    case "chemical":
      return merged({ mix: { ...doc.mix, product: d.product } });
    case "mix": {
      const m = thing.mix;
      if (!m) return made;
      const baking = d.product === "baking_soda";
      const salty = d.product === "table_salt" || d.product === "vinegar_salt";
      const kept = salty ? m.salt_kg : m.salts_kg;
      return merged({
        mix: {
          ...doc.mix,
          source: "reuse",
          batch_id: thing.id,
          product: d.product,
          kept_kg: baking ? m.salts_kg + m.bicarbonate_kg : kept,
          kept_salt_kg: m.salt_kg,
          kept_bicarbonate_kg: baking ? 0 : m.bicarbonate_kg,
          strip_ph: baking ? m.ph : null,
        },
        typed: Object.fromEntries(
          Object.entries(typed).filter(([at]) => !/^\/mix\/(kept|strip)/.test(at)),
        ),
      });
    }
  }
}
