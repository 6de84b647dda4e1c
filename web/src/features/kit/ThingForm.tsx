import { useMutation, useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import {
  api,
  ask,
  type Both,
  type Choices,
  type Plan,
  Refused,
  type Schemas,
  type Thing,
  type ThingOut,
} from "@/shared/api/client";
import { once } from "@/shared/api/once";
import { PlanContext, type PlanEdit, usePlan, valueAt } from "@/shared/form/context";
import { Amount, Choice } from "@/shared/form/fields";
import { Labelled } from "@/shared/form/Labelled";
import { Row } from "@/shared/form/layout";
import { putAt } from "@/shared/form/put";
import { SupplyFields } from "@/shared/form/SupplyFields";
import { MoreOfTank, TankShapeFields } from "@/shared/form/TankFields";
import { Brought, Clashes, meetsOf } from "@/shared/ui/Together";
import { word } from "@/shared/words";
import type { Kind } from "./kinds";

const EMPTY: Record<Kind, Thing["detail"]> = {
  tank: { kind: "tank", tank: {} as Schemas["Tank"] },
  supply: { kind: "supply", supply: {} as Schemas["Transformer"] },
  lead: { kind: "lead" } as Thing["detail"],
  pump: { kind: "pump" } as Thing["detail"],
  anode: {
    kind: "anode",
    anode: { id: "a1", kind: "rod", material: "plain_steel" } as Schemas["RodAnode"],
  } as Thing["detail"],
  mix: { kind: "mix", product: "soda_anhydrous" } as Thing["detail"],
  chemical: { kind: "chemical", product: "soda_anhydrous" } as Thing["detail"],
};

/** A thing typed in as a plan's fields are: any unit, faults beside the field. */
export function ThingForm({
  kind,
  thing,
  done,
}: {
  kind: Kind;
  thing?: ThingOut;
  done: () => void;
}) {
  const [held, setHeld] = useState<Thing>(
    thing?.read.thing ?? { schema_version: 8, name: "", detail: EMPTY[kind], typed: {} },
  );
  // what this form started from, whatever is fetched behind it
  const [base, setBase] = useState(thing?.revision ?? 0);
  const [brought, setBrought] = useState<Both[]>([]);
  const read = useQuery({
    queryKey: ["kit", "read", held],
    queryFn: () => ask(api.POST("/api/kit/read", { body: { thing: { ...held } } })),
    placeholderData: (before) => before,
  });
  const edit = useMemo<PlanEdit>(() => {
    // the fields of a plan read and write a document by pointers; a thing's detail is one
    const doc = { ...(read.data?.thing.detail ?? {}), ...held.detail, typed: held.typed ?? {} };
    const put = (pointer: string, value: unknown) => {
      const next = putAt(doc as unknown as Plan, pointer, value) as unknown as Record<
        string,
        unknown
      >;
      const { typed, ...detail } = next;
      setHeld((h) => ({
        ...h,
        detail: detail as unknown as Thing["detail"],
        typed: typed as Record<string, string>,
      }));
    };
    return {
      doc: doc as unknown as Plan,
      ...(read.data && {
        read: { shown: read.data.shown, faults: read.data.faults, heard: read.data.heard },
      }),
      replace: () => {},
      put,
      type: (pointer, text) => setHeld((h) => ({ ...h, typed: { ...h.typed, [pointer]: text } })),
    };
  }, [held, read.data]);
  const save = useMutation({
    mutationFn: (more: { choices?: Choices; onto?: number }) => {
      const body = { thing: { ...held } };
      if (!thing)
        return once("kit", held, (headers) => ask(api.POST("/api/kit", { body, headers })));
      const params = { path: { thing_id: thing.id } };
      const from = { ...body, base_revision: base, ...more };
      return ask(api.PUT("/api/kit/{thing_id}", { params, body: from }));
    },
    onSuccess: (made) => {
      setBase(made.revision);
      if (!made.brought.length) return done();
      setHeld(made.read.thing);
      setBrought(made.brought);
    },
  });
  const meets = meetsOf(save.error instanceof Refused ? save.error.problem : undefined);
  return (
    <PlanContext.Provider value={edit}>
      <form
        className="my-2 space-y-3 border-l-4 border-liquid-deep bg-sheet p-3"
        aria-label={thing ? `Change ${thing.read.thing.name}` : "Add to the kit"}
        onSubmit={(e) => {
          e.preventDefault();
          save.mutate({});
        }}
      >
        <div>
          <Labelled
            label="What do you call it?"
            className="field"
            maxLength={60}
            value={held.name ?? ""}
            placeholder={word(`kit.example.${kind}`)}
            onChange={(e) => setHeld({ ...held, name: e.target.value })}
          />
        </div>
        <Fields kind={kind} />
        <Brought brought={brought} done={done} />
        {meets && (
          <Clashes
            key={meets.head}
            meets={meets}
            busy={save.isPending}
            save={(choices, onto) => save.mutate({ choices, onto })}
          />
        )}
        {save.error && !meets && (
          <p role="alert" className="text-sm font-semibold text-stop">
            {save.error.message}
          </p>
        )}
        <div className="flex gap-2">
          <button type="submit" className="btn btn-main" disabled={save.isPending}>
            {thing ? "Save" : "Add to the kit"}
          </button>
          <button type="button" className="btn" onClick={done}>
            Cancel
          </button>
        </div>
      </form>
    </PlanContext.Provider>
  );
}

function Fields({ kind }: { kind: Kind }) {
  switch (kind) {
    case "tank":
      return (
        <>
          <TankShapeFields />
          <MoreOfTank title="Taper, holes, jug marks, bar" />
        </>
      );
    case "supply":
      return <SupplyFields />;
    case "lead":
      return (
        <Row>
          <Amount at="/length_m" />
          <Amount at="/area_m2" />
        </Row>
      );
    case "pump":
      return (
        <Row>
          <Amount at="/hourly_m3" />
          <Amount at="/flush_s" />
        </Row>
      );
    case "anode":
      return <AnodeFields />;
    case "mix":
      return (
        <>
          <Choice at="/product" />
          <Row>
            <Amount at="/water_m3" />
            <Amount at="/salts_kg" />
            <Amount at="/bicarbonate_kg" />
          </Row>
        </>
      );
    case "chemical":
      return (
        <>
          <Choice at="/product" />
          <Row>
            <Amount at="/left_kg" />
            <Amount at="/low_kg" />
          </Row>
        </>
      );
  }
}

function AnodeFields() {
  const { doc } = usePlan();
  const flat = valueAt(doc, "/anode/kind") === "plate";
  return (
    <>
      <Choice at="/anode/kind" />
      <Choice at="/anode/material" />
      <Row>
        <Amount at="/count" />
        {flat ? <Amount at="/anode/width_m" /> : <Amount at="/anode/diameter_m" />}
        <Amount at="/new_kg" />
        <Amount at="/now_kg" />
      </Row>
    </>
  );
}
