import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { api, ask, keys, type Schemas, type Thing, type ThingOut } from "@/shared/api/client";
import { once } from "@/shared/api/once";
import { useKit } from "@/shared/form/useKit";
import { word } from "@/shared/words";
import type { Begun, First } from "./useFirst";

/** Things of the shop's own, where it has some. */
export function Own({
  of: role,
  first,
  say,
}: {
  of: "tank" | "supply";
  first: First;
  say: (more: Partial<First>) => void;
}) {
  const { things, find } = useKit(role);
  if (!things.length && !find) return null;
  const taken = first.kit?.find((k) => k.role === role)?.ref;
  const take = (t: ThingOut) => {
    const d = t.read.thing.detail;
    if (taken === t.id) return say(without(first, role));
    const kept = (first.kit ?? []).filter((k) => k.role !== role);
    const ref = [...kept, { role, ref: t.id }];
    if (d.kind === "tank")
      say({ tank: { ...d.tank, name: t.read.thing.name } as Schemas["Tank"], kit: ref });
    if (d.kind === "supply") say({ supply: d.supply ?? null, kit: ref });
  };
  return (
    <Mine
      find={find}
      things={things.map((t) => ({
        key: t.id,
        name: t.read.thing.name,
        taken: taken === t.id,
        take: () => take(t),
      }))}
    />
  );
}

/** What is the shop's own, to be taken with one press and left with another. */
function Mine({
  things,
  find,
}: {
  find?: ReactNode;
  things: { key: string; name: string; taken: boolean; take: () => void }[];
}) {
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      <span className="text-sm font-semibold">{word("begin.own")}</span>
      {things.map((t) => (
        <button
          key={t.key}
          type="button"
          className="choice"
          aria-pressed={t.taken}
          data-state={t.taken ? "checked" : "unchecked"}
          onClick={t.take}
        >
          {t.name}
        </button>
      ))}
      {find}
    </div>
  );
}

/** The shop's own caps and scoops, each with its level weight. */
export function Scoops({
  scoops,
  first,
  say,
}: {
  scoops: readonly Schemas["Scoop"][];
  first: First;
  say: (more: Partial<First>) => void;
}) {
  if (!scoops.length) return null;
  return (
    <Mine
      things={scoops.map((s) => {
        const taken = first.scoop_name === s.name;
        const grams = `${+(1000 * s.level_kg).toPrecision(3)} g`;
        const to = taken ? { scoop: "", scoop_name: "" } : { scoop: grams, scoop_name: s.name };
        return { key: s.name, name: `${s.name}, ${grams}`, taken, take: () => say(to) };
      })}
    />
  );
}

/** What was named here as a thing of the kit. */
type Made = { name: string; detail: Thing["detail"] };

export const tankOf = (told: Begun): Made => {
  const tank = told.read?.document.tank as Schemas["Tank"];
  return {
    name: `${tank.name} ${told.heard.holds?.split(",")[1]?.split(" to ")[0] ?? ""}`.trim(),
    detail: { kind: "tank", tank },
  };
};

export const supplyOf = (told: Begun): Made => {
  const supply = told.read?.document.supply as NonNullable<Schemas["Plan"]["supply"]>;
  const name = `${word(`choice.supply.kind.${supply.kind}`)}, ${told.heard.label ?? ""}`;
  return { name: name.replace(/\.$/, "").slice(0, 60), detail: { kind: "supply", supply } };
};

/** What was named here goes into the kit with one press, once it was read. */
export function Keep({ thing, behind }: { thing: Made; behind: boolean }) {
  const queries = useQueryClient();
  const keep = useMutation({
    mutationFn: () =>
      once("kit", thing, (headers) =>
        ask(api.POST("/api/kit", { body: { thing: { ...thing } }, headers })),
      ),
    onSuccess: () => void queries.invalidateQueries({ queryKey: keys.kit }),
  });
  return (
    <p className="flex flex-wrap items-center gap-3 text-sm">
      <button
        type="button"
        className="btn btn-small"
        disabled={behind || keep.isPending || keep.isSuccess}
        onClick={() => keep.mutate()}
      >
        {word(keep.isSuccess ? "begin.kept" : "begin.keep")}
      </button>
      {keep.error && <span className="font-semibold text-stop">{keep.error.message}</span>}
    </p>
  );
}

/** What is left of the kit once a thing of a role is typed instead. */
export function without(first: First, role: "tank" | "supply"): Partial<First> {
  return { [role]: null, kit: (first.kit ?? []).filter((k) => k.role !== role) };
}
